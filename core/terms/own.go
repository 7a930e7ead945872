package terms

import (
	"slices"
	"strings"

	"tabularis/core/fault"
	"tabularis/core/names"
)

// Own are terms to which a practice gave a name, in the words in which they are typed:
// "as for insurers" may be "two weeks, password, without download".
type Own struct {
	Name  string `json:"name"`
	Words string `json:"words"`
}

// In bytes, and how many there may be.
const maxOwnName, maxOwnWords, maxOwn = 60, 300, 20

// farOff is after how many days words have to mean something still.
const farOff = 400

// CheckOwn returns named terms in normal form, or refuses them: too many, a name that is
// empty, given twice or means something itself, and words that mean nothing or name
// a day that will go by.
func CheckOwn(field string, all []Own, v Voice) ([]Own, error) {
	if len(all) > maxOwn {
		return nil, errOwnCount.In(field, "at most %d terms have a name", maxOwn)
	}
	later := v
	later.Now = v.Now.AddDate(0, 0, farOff)
	out, seen := []Own{}, map[string]bool{}
	for _, o := range all {
		name, err := names.Line(field, o.Name, maxOwnName)
		if err != nil {
			return nil, err
		}
		words, err := names.Line(field, o.Words, maxOwnWords)
		if err != nil {
			return nil, err
		}
		key := ownKey(name)
		if key == "" || seen[key] || Read(name, v).Understood() {
			return nil, errOwnName.In(field, "%q is empty, there already, or means something itself", name)
		}
		now := Read(words, v)
		if said := slices.ContainsFunc(now.Pieces, func(p Piece) bool { return p.Term != "" }); !said || now.Name != "" || !now.Understood() || !Read(words, later).Understood() {
			return nil, errOwnWords.In(field, "%q are no terms that would mean the same next year", words)
		}
		seen[key] = true
		out = append(out, Own{name, words})
	}
	return out, nil
}

// ownKey is by which words a name is recognised.
func ownKey(name string) string {
	var keys []string
	for _, t := range tokens(name) {
		keys = append(keys, t.key)
	}
	return strings.Join(keys, " ")
}

// ReadOwn reads what was typed of a link's terms like Read; a name that the practice
// gave to terms means these, where nothing else is said.
func ReadOwn(text string, v Voice, own []Own) Typed {
	r := linkReader(text, v)
	r.own = vocabulary{said: map[string]said{}}
	for _, o := range own {
		key := ownKey(o.Name)
		r.own.said[key] = said{OwnName, func(*Typed) { r.base = Read(o.Words, v) }}
		r.own.longest = max(r.own.longest, 1+strings.Count(key, " "))
		r.ownNames = append(r.ownNames, o.Name)
	}
	r.rules = append([]rule{(*reader).named}, r.rules...)
	out := r.read()
	out.fill(r.base)
	return out
}

// named reads the names that the practice gave to terms.
func (r *reader) named(i int) (int, Term, func() Why) { return r.among(r.own, i) }

// fill takes from other terms what is not said.
func (t *Typed) fill(from Typed) {
	t.Until, t.NotBefore = or(t.Until, from.Until), or(t.NotBefore, from.NotBefore)
	t.Openings, t.Downloads, t.Files, t.Bytes = or(t.Openings, from.Openings), or(t.Downloads, from.Downloads), or(t.Files, from.Files), or(t.Bytes, from.Bytes)
	t.Password = t.Password || from.Password
	t.ViewOnly, t.Newest, t.Identify = or(t.ViewOnly, from.ViewOnly), or(t.Newest, from.Newest), or(t.Identify, from.Identify)
	t.Remarks = or(t.Remarks, from.Remarks)
	t.Kind = pick(t.Kind == "", from.Kind, t.Kind)
	t.Allowed, t.Endings = pick(t.Allowed == nil, from.Allowed, t.Allowed), pick(t.Endings == nil, from.Endings, t.Endings)
}

func or[T any](said, otherwise *T) *T {
	if said == nil {
		return otherwise
	}
	return said
}

// What is refused here.
var (
	errOwnCount = fault.Declare(fault.Invalid, "own-terms-count", "at most … terms have a name")
	errOwnName  = fault.Declare(fault.Invalid, "own-terms-name", "the name is empty, there already, or means something itself")
	errOwnWords = fault.Declare(fault.Invalid, "own-terms-words", "these are no terms that would mean the same next year")
)

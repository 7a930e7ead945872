package signing

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"tabularis/core/names"
)

// Flaw is what is wrong with a plan.
type Flaw string

// The flaws there are.
const (
	NoParties      Flaw = "no-parties"
	ManyParties    Flaw = "many-parties"
	ManyPlaces     Flaw = "many-places"
	NobodySigns    Flaw = "nobody-signs"
	NoName         Flaw = "no-name"
	NoAddress      Flaw = "no-address"
	SameAddress    Flaw = "same-address"
	LongWords      Flaw = "long-words"
	UnknownKnown   Flaw = "unknown-identity"
	WrongTurn      Flaw = "wrong-turn"
	NoSignature    Flaw = "no-signature"
	SignsNot       Flaw = "signs-not"
	NoSuchParty    Flaw = "no-such-party"
	NoSuchPage     Flaw = "no-such-page"
	OffThePage     Flaw = "off-the-page"
	TooSmall       Flaw = "too-small"
	Overlaps       Flaw = "overlaps"
	UnknownKind    Flaw = "unknown-kind"
	FewChoices     Flaw = "few-choices"
	NothingWritten Flaw = "nothing-written"
	WrongMost      Flaw = "wrong-most"
	SameNumber     Flaw = "same-number"
	ManyCopies     Flaw = "many-copies"
	WrongCopy      Flaw = "wrong-copy"
)

// Problem is a flaw, and where it stands: "parties/1", "places/3".
type Problem struct {
	At   string `json:"at"`
	Flaw Flaw   `json:"flaw"`
	// Other is the number of the other party or place that is meant, if there is one.
	Other int `json:"other"`
}

// Ordered are the places in the order in which they are walked.
func (p Plan) Ordered() []Place {
	all := slices.Clone(p.Places)
	slices.SortStableFunc(all, func(a, b Place) int {
		return cmp.Or(cmp.Compare(a.Page, b.Page), cmp.Compare(math.Round(a.Box.Y*50), math.Round(b.Box.Y*50)), cmp.Compare(a.Box.X, b.Box.X), cmp.Compare(a.ID, b.ID))
	})
	return all
}

// Check finds what is wrong with a plan for a paper of so many pages. A form, in which the parties
// are not yet known, need not name them.
func Check(p Plan, pages int, named bool) (all []Problem) {
	c := &checker{p: p}
	switch {
	case len(p.Parties) == 0:
		c.say("parties", NoParties, 0)
	case len(p.Parties) > MostParties:
		c.say("parties", ManyParties, 0)
	case len(p.Places) > MostPlaces:
		c.say("places", ManyPlaces, 0)
	case len(p.Copies) > MostCopies:
		c.say("copies", ManyCopies, 0)
	default:
		c.parties(named)
		c.places(pages)
		for i, to := range p.Copies {
			if !strings.Contains(to, "@") {
				c.say(fmt.Sprintf("copies/%d", i), WrongCopy, 0)
			}
		}
	}
	return c.all
}

type checker struct {
	p   Plan
	all []Problem
}

func (c *checker) say(at string, f Flaw, other int) {
	c.all = append(c.all, Problem{at, f, other})
}

func long(s string, most int) bool { return utf8.RuneCountInString(s) > most || !utf8.ValidString(s) }

func (c *checker) parties(named bool) {
	known, signs := map[string]int{}, false
	for i, party := range c.p.Parties {
		at := fmt.Sprintf("parties/%d", i)
		signs = signs || party.Signs
		if party.unsaid() {
			c.say(at, LongWords, 0)
		}
		if !slices.Contains(Knowns, party.Known) {
			c.say(at, UnknownKnown, 0)
		}
		if party.Turn < 1 || party.Turn > len(c.p.Parties) {
			c.say(at, WrongTurn, 0)
		}
		if named {
			c.names(at, i, party, known)
		}
		own := slices.ContainsFunc(c.p.Places, func(p Place) bool { return p.Party == i && p.Kind == Signature && p.Must })
		switch any := slices.ContainsFunc(c.p.Places, func(p Place) bool { return p.Party == i && p.Kind == Signature }); {
		case party.Signs && !own:
			c.say(at, NoSignature, 0)
		case !party.Signs && any:
			c.say(at, SignsNot, 0)
		}
	}
	if !signs {
		c.say("parties", NobodySigns, 0)
	}
}

// unsaid says that words of a party cannot stand on a paper: too long, or with letters that are not seen.
func (p Party) unsaid() bool {
	for _, words := range []string{p.Role, p.Name} {
		if _, err := names.Line("", words, 2*MostLabel); err != nil || long(words, MostLabel) {
			return true
		}
	}
	return long(p.Email, 320)
}

func (c *checker) names(at string, i int, party Party, known map[string]int) {
	key := keyOf(party)
	if party.Person == nil && !strings.Contains(party.Email, "@") {
		c.say(at, NoAddress, 0)
	}
	if strings.TrimSpace(party.Name) == "" && party.Person == nil {
		c.say(at, NoName, 0)
	}
	if other, twice := known[key]; twice && key != "" {
		c.say(at, SameAddress, other)
	}
	known[key] = i
}

func (c *checker) places(pages int) {
	ids := map[int]bool{}
	for i, p := range c.p.Places {
		at := fmt.Sprintf("places/%d", p.ID)
		if ids[p.ID] {
			c.say(at, SameNumber, 0)
		}
		ids[p.ID] = true
		if p.Kind != Fixed && (p.Party < 0 || p.Party >= len(c.p.Parties)) {
			c.say(at, NoSuchParty, 0)
		}
		if p.Page < 1 || p.Page > pages {
			c.say(at, NoSuchPage, 0)
		}
		c.box(at, p.Box)
		c.content(at, p)
		for _, o := range c.p.Places[:i] {
			if o.Page == p.Page && o.Box.overlaps(p.Box) {
				c.say(at, Overlaps, o.ID)
			}
		}
	}
}

func (c *checker) box(at string, b Box) {
	const edge = 1e-6
	switch {
	case !(b.X >= -edge && b.Y >= -edge && b.X+b.W <= 1+edge && b.Y+b.H <= 1+edge):
		c.say(at, OffThePage, 0)
	case !(b.W >= smallest && b.H >= smallest):
		c.say(at, TooSmall, 0)
	}
}

// overlaps leaves a hair's breadth, so that places can stand side by side.
func (b Box) overlaps(o Box) bool {
	const hair = 0.002
	return b.X+b.W > o.X+hair && o.X+o.W > b.X+hair && b.Y+b.H > o.Y+hair && o.Y+o.H > b.Y+hair
}

func (c *checker) content(at string, p Place) {
	switch {
	case !slices.Contains(Kinds, p.Kind):
		c.say(at, UnknownKind, 0)
	case p.Kind == Choice && (len(p.Choices) < 2 || len(p.Choices) > MostChoices || slices.ContainsFunc(p.Choices, func(s string) bool { return strings.TrimSpace(s) == "" || long(s, MostLabel) })):
		c.say(at, FewChoices, 0)
	case p.Kind == Fixed && strings.TrimSpace(p.Value) == "":
		c.say(at, NothingWritten, 0)
	case p.Most < 0 || p.Most > MostLetters:
		c.say(at, WrongMost, 0)
	case long(p.Label, MostLabel) || long(p.Value, MostLetters):
		c.say(at, LongWords, 0)
	}
}

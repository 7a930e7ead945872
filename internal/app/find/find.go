// Package find finds documents by what is written in them, of all that somebody may see.
package find

import (
	"context"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/find"
	"tabularis/core/names"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/decisions"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/recognition"
	"tabularis/internal/platform/secret"
)

// Service finds documents.
type Service struct {
	Acts     *act.Runner
	Access   *guard.Guard
	Contents *tree.Contents
	Keys     *secret.Keys
	// DB prepares its statements with generic plans.
	DB *postgres.DB
	// TagIsMine refuses a tag that is neither the practice's nor a person's own.
	TagIsMine func(ctx context.Context, q postgres.Q, person, tag uuid.UUID) error
	// Reached are the single documents, and the numbers of scopes, that open links give.
	Reached func(ctx context.Context, q postgres.Q, now time.Time) (documents []uuid.UUID, scopes []int, err error)
	// Recogniser reads scanned pages; nil where nothing does.
	Recogniser *recognition.Reader
	// Beside are the words that stand with a document.
	Beside []Words

	mu sync.Mutex
	// windows is the newest window that is known to be there.
	windows int
}

// Asked is a question with what it is narrowed down to.
type Asked struct {
	Text string
	// Tag is one that it bears; then the text may be empty.
	Tag uuid.UUID
	// Where is a particular in which Value stands; then the text may be empty, too.
	Where uuid.UUID
	Value string
	// Linked is what an open link reaches.
	Linked bool
	// State is what has become of it by decisions and signatures; then the text may be empty, too.
	State string
	// Typing says that the last word may go on.
	Typing  bool
	Dossier string
	Kinds   []string
	Person  uuid.UUID
	Since   time.Time
	Until   time.Time
	// Least and Most are sizes in bytes.
	Least, Most int64
	// Earlier says that versions that count no longer are meant, too.
	Earlier bool
	// Newest puts the newest first, instead of what fits best.
	Newest bool
	// After is the cursor of the page before.
	After string
	Limit int
}

// Hit is a document that answers a question.
type Hit struct {
	found
	// Snippet is where it stands in the content; there is none where it stands in the name
	// or beside it alone.
	Snippet *find.Snippet
	// Name are the words of the name that are meant.
	Name []find.Span
}

// Page is a page of answers.
type Page struct {
	Hits []Hit
	Next string
	// Instead is what was looked for instead of words with a typing error.
	Instead string
}

const (
	// ranked is among how many of the newest answers the best are looked for.
	ranked = 200
	// MostCounted is up to how many answers are counted.
	MostCounted = 1000
	// MostHits is the largest page.
	MostHits = 100
)

// Find answers a question. One of which no word is looked for, or that is too long, is refused.
func (s *Service) Find(ctx context.Context, q Asked) (Page, error) {
	question, err := read(q)
	if err != nil {
		return Page{}, err
	}
	p, err := s.find(ctx, q, question)
	if err != nil || len(p.Hits) > 0 || q.After != "" || q.Typing || q.Text == "" {
		return p, err
	}
	instead, ok, err := s.instead(ctx, q.Text)
	if err != nil || !ok {
		return p, err
	}
	other := q
	other.Text = instead
	if question, err = read(other); err != nil {
		return p, nil
	}
	// Said only where it leads to something that may be seen: no name is learnt by it.
	better, err := s.find(ctx, other, question)
	if err == nil && len(better.Hits) > 0 {
		better.Instead = instead
		return better, nil
	}
	return p, err
}

func read(q Asked) (find.Question, error) {
	if err := find.CheckKinds(q.Kinds); err != nil {
		return find.Question{}, err
	}
	if !names.Storable(q.Value) {
		return find.Question{}, fault.Parameter.In("value", "the value is no text")
	}
	if q.State != "" && !slices.Contains(decisions.States, q.State) {
		return find.Question{}, fault.Parameter.In("state", "a document is %v", decisions.States)
	}
	if (q.Tag != uuid.Nil || q.Where != uuid.Nil || q.State != "") && strings.TrimSpace(q.Text) == "" {
		return find.Question{}, nil
	}
	if q.Typing {
		return find.ReadTyped(q.Text)
	}
	return find.Read(q.Text)
}

func (s *Service) find(ctx context.Context, q Asked, question find.Question) (Page, error) {
	at, err := readCursor(q.After)
	if err != nil {
		return Page{}, err
	}
	among := ranked
	if q.Newest {
		among = q.Limit + 1
	}
	var all []found
	err = s.search(ctx, q, question, at.before, func(one search) (n int, err error) {
		all, err = one.page(ctx, s.DB, among, at.skip, q.Limit+1, !q.Newest)
		return len(all), err
	})
	if err != nil {
		return Page{}, err
	}
	p := Page{}
	more := len(all) > q.Limit
	if more {
		all = all[:q.Limit]
	}
	if more || !q.Newest && at.skip+len(all) == ranked {
		p.Next = at.after(all, q.Newest)
	}
	p.Hits, err = s.shown(question, all)
	return p, err
}

// search puts a question by what the acting person may see.
func (s *Service) search(ctx context.Context, q Asked, question find.Question, before int64, fn func(one search) (n int, err error)) error {
	return s.Access.View(ctx, s.Acts.Now(), func(v *guard.View) (int, error) {
		bits, err := s.Access.Bits(ctx, v)
		if err != nil {
			return 0, err
		}
		f, ok, err := s.filter(ctx, q, v)
		if err != nil || !ok {
			return 0, err
		}
		return fn(search{words: question.TSQuery(), filter: f, bits: bits, sum: v.Readable().Sum, before: before})
	})
}

// fewDossiers is up to how many dossiers they are named: words that stand nearly everywhere
// are found in them the sooner, others a little later.
const fewDossiers = 12

// filter is what a question is narrowed down to. ok is false where nothing is left.
func (s *Service) filter(ctx context.Context, q Asked, v *guard.View) (f filter, ok bool, err error) {
	f = filter{Kinds: q.Kinds, Person: q.Person, Since: q.Since, Until: q.Until, Least: q.Least, Most: q.Most, Earlier: q.Earlier, Tag: q.Tag, Where: q.Where, Value: q.Value, Linked: q.Linked, State: q.State}
	if q.Linked {
		if f.Documents, f.Scopes, err = s.Reached(ctx, s.Acts.DB, s.Acts.Now()); err != nil {
			return f, false, err
		}
	}
	if q.Tag != uuid.Nil {
		// Others' own tags answer like those that there are not.
		if err := s.TagIsMine(ctx, s.Acts.DB, v.Person, q.Tag); fault.Is(err, fault.NotFound) {
			return f, false, nil
		} else if err != nil {
			return f, false, err
		}
	}
	if q.Dossier != "" {
		d, err := guard.DossierByCode(ctx, s.Acts.DB, strings.ToUpper(q.Dossier))
		if fault.Is(err, fault.NotFound) || err == nil && !slices.Contains(v.Touched, d.ID) {
			return f, false, nil
		}
		f.Dossiers = []uuid.UUID{d.ID}
		return f, err == nil, err
	}
	if len(v.Touched) <= fewDossiers {
		f.Dossiers = v.Touched
	}
	return f, len(v.Touched) > 0, nil
}

// shown adds to documents where in them the answer stands.
func (s *Service) shown(question find.Question, all []found) ([]Hit, error) {
	markers := map[string]*find.Marker{}
	out := make([]Hit, 0, len(all))
	for _, h := range all {
		m := markers[h.Language]
		if m == nil {
			m = question.Marker(find.Language(h.Language))
			markers[h.Language] = m
		}
		pages, err := s.pages(body{SHA256: h.SHA, Sealed: h.Sealed})
		if err != nil {
			return nil, err
		}
		if !m.Stands(find.Text{Name: h.Item.Name, Pages: pages}) {
			continue
		}
		hit := Hit{found: h, Name: m.Marks(h.Item.Name)}
		if snippet, ok := m.Snippet(pages); ok {
			hit.Snippet = &snippet
		}
		out = append(out, hit)
	}
	return out, nil
}

// instead is a question with words of names in place of words that are in none, where they
// are told apart by a typing error.
func (s *Service) instead(ctx context.Context, text string) (string, bool, error) {
	if strings.ContainsAny(text, `"*|`) {
		return "", false, nil
	}
	changed := false
	words := strings.Fields(text)
	for i, w := range words {
		for _, plain := range find.NameWords(w) {
			others, err := wordsLike(ctx, s.Acts.DB, plain, 30)
			if err != nil {
				return "", false, err
			}
			if n, ok := find.Nearest(plain, others); ok && !slices.Contains(others, plain) {
				words[i], changed = n, true
			}
		}
	}
	return strings.Join(words, " "), changed, nil
}

// Counts says how many answers there are.
type Counts struct {
	Total int
	// More says that there are more than could be counted.
	More     bool
	Dossiers []DossierCount
	Kinds    []KindCount
}

// DossierCount is how many answers are in a dossier.
type DossierCount struct {
	Code, Name string
	N          int
}

// KindCount is how many of a kind.
type KindCount struct {
	Kind string
	N    int
}

// Count counts the answers to a question, up to MostCounted.
func (s *Service) Count(ctx context.Context, q Asked) (Counts, error) {
	question, err := read(q)
	if err != nil {
		return Counts{}, err
	}
	var all []counted
	if err := s.search(ctx, q, question, 0, func(one search) (n int, err error) {
		all, err = one.count(ctx, s.DB, MostCounted+1)
		return len(all), err
	}); err != nil {
		return Counts{}, err
	}
	return s.counts(ctx, all)
}

func (s *Service) counts(ctx context.Context, all []counted) (c Counts, err error) {
	byDossier, byKind := map[uuid.UUID]int{}, map[string]int{}
	for _, one := range all {
		c.Total += one.N
		byDossier[one.Dossier] += one.N
		byKind[one.Kind] += one.N
	}
	if c.More = c.Total > MostCounted; c.More {
		c.Total = MostCounted
	}
	ids := make([]uuid.UUID, 0, len(byDossier))
	for id := range byDossier {
		ids = append(ids, id)
	}
	named, err := namesOf(ctx, s.Acts.DB, ids)
	for _, d := range named {
		c.Dossiers = append(c.Dossiers, DossierCount{d.Code, d.Name, byDossier[d.ID]})
	}
	slices.SortFunc(c.Dossiers, func(a, b DossierCount) int {
		if a.N != b.N {
			return b.N - a.N
		}
		return strings.Compare(a.Code, b.Code)
	})
	for _, k := range find.Kinds {
		if byKind[k] > 0 {
			c.Kinds = append(c.Kinds, KindCount{k, byKind[k]})
		}
	}
	return c, err
}

// cursor is where a page of answers goes on: so many of the best among those before a
// number, or the newest before one.
type cursor struct {
	before int64
	skip   int
}

func readCursor(text string) (c cursor, err error) {
	if text == "" {
		return c, nil
	}
	before, skip, ok := strings.Cut(text, ".")
	if !ok {
		return c, fault.CursorUnknown.In("after", "the cursor is not one of this list")
	}
	var a, b error
	c.before, a = strconv.ParseInt(before, 10, 64)
	c.skip, b = strconv.Atoi(skip)
	if a != nil || b != nil || c.before < 0 || c.skip < 0 || c.skip > ranked {
		return c, fault.CursorUnknown.In("after", "the cursor is not one of this list")
	}
	return c, nil
}

// after is the cursor of the page after one.
func (c cursor) after(page []found, newest bool) string {
	last := page[len(page)-1]
	switch {
	case newest:
		c.before = last.Number
	case c.skip+len(page) < ranked:
		c.skip += len(page)
	default:
		c = cursor{before: last.Oldest}
	}
	return strconv.FormatInt(c.before, 10) + "." + strconv.Itoa(c.skip)
}

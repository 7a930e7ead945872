package api_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// model is what a dossier must look like after what was done to it: documents by
// id, with their name and the contents of their versions that count or can.
type model struct {
	names    map[uuid.UUID]string
	versions map[uuid.UUID][]string
	links    map[uuid.UUID]walked
}

// walked is a link of the model: what it gave when it was made.
type walked struct {
	token    string
	document uuid.UUID
	newest   bool
	content  string
	left     int
	ended    bool
}

// Whatever is done in whatever order, the dossier shows what a simple model
// expects, every link gives what it promised, and the store is whole.
func TestARandomWalk(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	for seed := range testkit.Soaking(1, 12) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) { walk(t, rand.New(rand.NewPCG(uint64(seed), 24))) })
	}
}

func walk(t *testing.T, r *rand.Rand) {
	w := newWorld(t)
	m := model{map[uuid.UUID]string{}, map[uuid.UUID][]string{}, map[uuid.UUID]walked{}}
	people := []*testkit.Client{w.luca, w.hanne}
	for step := range 120 {
		who := people[r.IntN(2)]
		switch r.IntN(7) {
		case 0, 1, 2:
			m.upload(t, w, who, fmt.Sprintf("paper %d.txt", r.IntN(12)), fmt.Sprintf("content %d", r.IntN(30)))
		case 3:
			m.separate(t, w, who, r)
		case 4:
			m.rename(t, w, who, r, step)
		case 5:
			m.give(w, r)
		case 6:
			m.visit(t, w, r)
		}
	}
	m.compare(t, w)
	if report := verified(t, w.App.Care); !report.Sound() || len(report.Orphans) > 0 {
		t.Errorf("the store is not whole: %+v", report)
	}
}

// any picks a document; there may be none.
func (m model) any(r *rand.Rand) (uuid.UUID, bool) {
	n := len(m.names)
	if n == 0 {
		return uuid.Nil, false
	}
	// Maps have no order: the smallest of some is picked the same each time.
	at, ids := r.IntN(n), make([]uuid.UUID, 0, n)
	for id := range m.names {
		ids = append(ids, id)
	}
	slices.SortFunc(ids, func(a, b uuid.UUID) int { return strings.Compare(a.String(), b.String()) })
	return ids[at], true
}

func (m model) named(name string) (uuid.UUID, bool) {
	for id, n := range m.names {
		if n == name {
			return id, true
		}
	}
	return uuid.Nil, false
}

func (m model) upload(t *testing.T, w *world, who *testkit.Client, name, content string) {
	out := who.Upload(w.top, "", name, []byte(content))
	id, there := m.named(name)
	switch {
	case !there:
		if out.Outcome != "document" {
			t.Errorf("%s was free and became %s", name, out.Outcome)
		}
		m.names[out.Document.Id], m.versions[out.Document.Id] = name, []string{content}
	case last(m.versions[id]) == content:
		if out.Outcome != "unchanged" || out.Document.Id != id {
			t.Errorf("%s had this content and became %s", name, out.Outcome)
		}
	default:
		if out.Outcome != "version" || out.Document.Id != id {
			t.Errorf("%s became %s", name, out.Outcome)
		}
		m.versions[id] = append(m.versions[id], content)
	}
}

func last(all []string) string { return all[len(all)-1] }

func (m model) separate(t *testing.T, w *world, who *testkit.Client, r *rand.Rand) {
	id, ok := m.any(r)
	if !ok {
		return
	}
	slip := testkit.Get[contract.Document](who, "/api/documents/"+id.String())
	for _, v := range slip.Versions {
		if !v.Counts {
			continue
		}
		if v.Separable != (len(m.versions[id]) > 1) {
			t.Errorf("%s with %d versions: separable %v", slip.Name, len(m.versions[id]), v.Separable)
		}
		if !v.Separable {
			return
		}
		made := testkit.Post[contract.Place](who, 201, fmt.Sprintf("/api/documents/%s/versions/%d/separation", id, v.Number), nil)
		n := len(m.versions[id])
		m.names[made.Id], m.versions[made.Id] = made.Name, []string{m.versions[id][n-1]}
		m.versions[id] = m.versions[id][:n-1]
		return
	}
	t.Errorf("no version of %s counts", slip.Name)
}

func (m model) rename(t *testing.T, w *world, who *testkit.Client, r *rand.Rand, step int) {
	id, ok := m.any(r)
	if !ok {
		return
	}
	name := fmt.Sprintf("renamed %d.txt", step%5)
	other, taken := m.named(name)
	a := who.Do("PUT", "/api/items/"+id.String()+"/name", contract.NewName{Name: name})
	if want := map[bool]int{true: 409, false: 204}[taken && other != id]; a.Status != want {
		t.Errorf("renaming to %s: %d, want %d", name, a.Status, want)
	}
	if a.Status == 204 {
		m.names[id] = name
	}
}

func (m model) give(w *world, r *rand.Rand) {
	id, ok := m.any(r)
	if !ok {
		return
	}
	limit := 1 + r.IntN(3)
	newest := r.IntN(2) == 0
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{id}, Openings: &limit, Newest: &newest})
	m.links[l.Id] = walked{token: token, document: id, newest: newest, content: last(m.versions[id]), left: limit}
}

func (m model) visit(t *testing.T, w *world, r *rand.Rand) {
	for id, l := range m.links {
		if r.IntN(5) == 0 && !l.ended {
			w.luca.Want(204, "POST", "/api/links/"+id.String()+"/end", nil)
			l.ended = true
		}
		v := w.Visitor()
		a := show(v, l.token, "")
		if want := map[bool]int{true: 204, false: 410}[!l.ended && l.left > 0]; a.Status != want {
			t.Errorf("a link with %d openings left, ended %v: %d", l.left, l.ended, a.Status)
		}
		if a.Status == 204 {
			l.left--
			want := l.content
			if l.newest {
				want = last(m.versions[l.document])
			}
			got := v.Do("GET", "/api/visits/"+l.token+"/documents/"+l.document.String()+"/content", nil)
			if got.Status != 200 || string(got.Body) != want {
				t.Errorf("a link gave %d %q, want %q", got.Status, got.Body, want)
			}
		}
		m.links[id] = l
		return
	}
}

func (m model) compare(t *testing.T, w *world) {
	page := testkit.Get[contract.RegisterPage](w.priya, fmt.Sprintf("/api/folders/%s/register?limit=500", w.top))
	if len(page.Rows) != len(m.names) || page.Total != len(m.names) {
		t.Errorf("%d rows, total %d, want %d", len(page.Rows), page.Total, len(m.names))
	}
	var bytes int64
	numbers := map[int]bool{}
	for _, row := range page.Rows {
		want := last(m.versions[row.Id])
		bytes += int64(len(want))
		if row.Name != m.names[row.Id] || row.Size != int64(len(want)) {
			t.Errorf("%s is shown as %s with %d bytes", m.names[row.Id], row.Name, row.Size)
		}
		if numbers[row.Number] {
			t.Errorf("the number %d was given twice", row.Number)
		}
		numbers[row.Number] = true
		if a := w.priya.Want(200, "GET", "/api/documents/"+row.Id.String()+"/content", nil); string(a.Body) != want {
			t.Errorf("%s holds %q, want %q", row.Name, a.Body, want)
		}
	}
	if page.Bytes != bytes {
		t.Errorf("%d bytes are counted, want %d", page.Bytes, bytes)
	}
}

package api_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// words makes a text of so many words.
func words(seed uint64, n int) []string {
	r := rand.New(rand.NewPCG(seed, 24))
	out := make([]string, n)
	for i := range out {
		out[i] = fmt.Sprint("frame", r.IntN(3000))
	}
	return out
}

// What was downloaded, worked on and comes back under another name is recognised, with the
// version from which it was made; of papers that one does not see nothing is said.
func TestACopyThatComesBackIsRecognised(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	text := words(1, 800)
	paper := o.hanne.Upload(o.reports, "", "findings.md", []byte(strings.Join(text, " "))).Document.Id
	worked := append(append([]string{}, text[:200]...), append(words(2, 60), text[220:]...)...)
	recognised := func(c *testkit.Client, name string, content []byte) contract.Likeness {
		t.Helper()
		// Those that are there are sketched by a job.
		waitFor(t, func() bool {
			var left int
			if err := o.App.DB.Get(&left, `SELECT count(*) FROM versions v WHERE v.sha256 IS NOT NULL AND NOT EXISTS (SELECT 1 FROM sketches s WHERE s.sha256 = v.sha256)`); err != nil {
				t.Fatal(err)
			}
			return left == 0
		})
		made := c.Upload(o.reports, "", name, content)
		if made.Outcome != contract.UploadOutcomeOutcomeDocument {
			t.Fatalf("%+v", made)
		}
		return testkit.Get[contract.Likeness](c, "/api/documents/"+made.Document.Id.String()+"/likeness")
	}
	if l := recognised(o.hanne, "from the yard.md", []byte(strings.Join(worked, " "))); l.Like == nil || l.Like.Id != paper || *l.Version != 1 || *l.Counts != 1 {
		t.Errorf("%+v", l)
	}
	if l := recognised(o.hanne, "another matter.md", []byte(strings.Join(words(3, 800), " "))); l.Like != nil {
		t.Errorf("another text is like %+v", l.Like)
	}
	// The paper moved on: the copy comes from the version before.
	o.hanne.Upload(o.reports, "", "findings.md", []byte(strings.Join(words(5, 800), " ")))
	if l := recognised(o.hanne, "from the class.md", []byte(strings.Join(append(words(8, 30), text...), " "))); l.Like == nil || l.Like.Id != paper && l.Like.Name != "from the yard.md" {
		t.Errorf("%+v", l)
	}
	raw := drawing(77, 300_000)
	binary := o.hanne.Upload(o.reports, "", "lines plan.bin", raw).Document.Id
	if l := recognised(o.hanne, "plan of the lines.bin", edited(raw, 3, 900)); l.Like == nil || l.Like.Id != binary {
		t.Errorf("what has no text: %+v", l)
	}

	// Luca brings a copy of what lies where he does not see it.
	closed := testkit.Post[contract.Folder](o.hanne, 201, "/api/folders/"+o.reports.String()+"/folders", contract.NewName{Name: "Closed"}).Id
	o.hanne.Want(204, "PUT", "/api/items/"+closed.String()+"/closed", contract.Closed{Closed: true})
	secret := words(11, 500)
	o.hanne.Upload(closed, "", "secret.md", []byte(strings.Join(secret, " ")))
	o.give(o.hanne, wish(contract.Level(access.LevelEdit), []uuid.UUID{o.reports}, to(o.People["luca"].ID)))
	if l := recognised(o.luca, "what I know.md", []byte(strings.Join(secret, " "))); l.Like != nil {
		t.Errorf("it is told of a paper that is not seen: %+v", l.Like)
	}
}

// What a copy changed and what was changed meanwhile are merged; what both changed is not
// chosen from, and nothing is lost.
func TestACopyIsMerged(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	up := func(c *testkit.Client, name, text string) uuid.UUID {
		t.Helper()
		return c.Upload(o.reports, "", name, []byte(text)).Document.Id
	}
	doc := up(o.hanne, "findings.md", "one\ntwo\nthree\nfour\nfive\n")
	up(o.hanne, "findings.md", "one\ntwo\nthree\nfour\nFIVE\n")
	apart, clash := up(o.hanne, "from the yard.md", "ONE\ntwo\nthree\nfour\nfive\n"), up(o.hanne, "from the class.md", "one\ntwo\nthree\nfour\n5\n")
	path := "/api/documents/" + doc.String() + "/merge"
	made := testkit.Post[contract.NewVersion](o.hanne, 201, path, contract.Merge{From: apart, Base: 1})
	if got := string(o.hanne.Want(200, "GET", "/api/documents/"+doc.String()+"/content", nil).Body); made.Number != 3 || got != "ONE\ntwo\nthree\nfour\nFIVE\n" {
		t.Errorf("version %d: %q", made.Number, got)
	}
	picture := up(o.hanne, "stamp.bin", "\x00\x01")
	for name, c := range map[string]struct {
		by     *testkit.Client
		wish   contract.Merge
		status int
		code   string
	}{
		"the same lines":               {o.hanne, contract.Merge{From: clash, Base: 1}, 409, "merge-conflicts"},
		"what is no text":              {o.hanne, contract.Merge{From: picture, Base: 1}, 400, "no-merge"},
		"a version that is not there":  {o.hanne, contract.Merge{From: apart, Base: 9}, 404, "not-found"},
		"a document that is not there": {o.hanne, contract.Merge{From: uuid.New(), Base: 1}, 404, "not-found"},
		"by who does not see it":       {o.SignIn("tomasz"), contract.Merge{From: apart, Base: 1}, 404, "not-found"},
	} {
		if a := c.by.Do("POST", path, c.wish); a.Status != c.status || a.Code() != c.code {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	takes(o.luca, 204, doc)
	if a := o.hanne.Do("POST", path, contract.Merge{From: apart, Base: 2}); a.Code() != "held" {
		t.Errorf("while it is in hand: %d %s", a.Status, a.Body)
	}
	if n := len(history(o.hanne, doc)); n != 3 {
		t.Errorf("%d versions", n)
	}
}

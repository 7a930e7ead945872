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

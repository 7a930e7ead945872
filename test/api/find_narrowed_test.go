package api_test

import (
	"testing"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// Answers are narrowed down to what stands in a particular, and to what an open link reaches; a
// particular is enough of a question.
func TestFindingByParticularsAndReach(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := administered(t)
	part := o.defines(contract.NewParticular{Name: "Part", Kind: contract.ParticularKindText})
	fee := o.defines(contract.NewParticular{Name: "Estimate", Kind: contract.ParticularKindNumber})
	up := func(folder uuid.UUID, name string) uuid.UUID {
		return o.luca.Upload(folder, "", name, []byte("plating of "+name)).Document.Id
	}
	one, two, three, four := up(o.reports, "one.txt"), up(o.reports, "two.txt"), up(o.inner, "three.txt"), up(o.yard, "four.txt")
	o.sets(o.luca, part, ptr("Side shell"), one, three)
	o.sets(o.luca, part, ptr("deck"), two)
	o.sets(o.luca, fee, ptr("12.50"), one, two)
	o.written()
	where := "&where=" + part.String() + "&value="
	for query, want := range map[string]string{
		where + "side%20shell": "one.txt, three.txt", where + "deck": "two.txt", where + "none": "", where + "": "",
		"&where=" + fee.String() + "&value=12.5": "one.txt, two.txt", "&where=" + fee.String() + "&value=%2712": "", "&where=" + uuid.NewString() + "&value=deck": "",
	} {
		o.answers(o.luca, want, "plating", query)
		if got := testkit.Get[contract.FoundCounts](o.luca, "/api/found/counts?q=plating"+query); got.Total != len(o.finds(o.luca, "plating", query)) {
			t.Errorf("%s: %d are counted", query, got.Total)
		}
	}
	o.answers(o.luca, "one.txt, three.txt", "", where+"SIDE%20SHELL")
	o.answers(o.luca, "one.txt", "", where+"side%20shell", "&kind=text", "&linked=false", "&dossier=MER-24", "&least=1", "&most=18")
	o.answers(o.tomasz, "", "", where+"side%20shell")

	// By a link to a folder with whatever lies there, but for what is closed in it; by one to a
	// document; and by none.
	o.answers(o.luca, "", "plating", "&linked=true")
	whole := testkit.Post[contract.Link](o.hanne, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{o.reports}, Newest: ptr(true)})
	o.answers(o.luca, "one.txt, three.txt, two.txt", "plating", "&linked=true")
	up(o.inner, "later.txt")
	o.written()
	o.answers(o.luca, "later.txt, one.txt, three.txt, two.txt", "plating", "&linked=true")
	o.hanne.Want(204, "PUT", "/api/items/"+o.inner.String()+"/closed", contract.Closed{Closed: true})
	o.answers(o.hanne, "one.txt, two.txt", "plating", "&linked=true")
	o.hanne.Want(201, "POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{four}})
	o.answers(o.hanne, "four.txt, one.txt, two.txt", "plating", "&linked=true")
	o.hanne.Want(204, "POST", "/api/links/"+whole.Id.String()+"/end", nil)
	o.answers(o.hanne, "four.txt", "plating", "&linked=true")
	o.hanne.Want(400, "POST", "/api/questions", contract.NewQuestion{Name: "odd", Question: contract.Question{Q: "x", Where: &part, Value: ptr("a\x00b")}})
	q := testkit.Post[contract.KeptQuestion](o.luca, 201, "/api/questions", contract.NewQuestion{Name: "side shell", Question: contract.Question{Where: &part, Value: ptr("side shell"), Linked: ptr(true)}})
	if *q.Question.Where != part || *q.Question.Value != "side shell" || !*q.Question.Linked {
		t.Errorf("kept is %+v", q.Question)
	}
}

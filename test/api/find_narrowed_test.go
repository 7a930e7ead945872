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

// Answers are narrowed down to what has become of documents, as their rows say it; nobody finds by it what they do not see.
func TestFindingByState(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	priya := o.People["priya"].ID
	up := func(name string) uuid.UUID {
		return o.hanne.Upload(o.reports, "", name, pdfOf(t, "plating of "+name)).Document.Id
	}
	up("draft.pdf")
	review, approved, superseded, parties, signed := up("review.pdf"), up("approved.pdf"), up("superseded.pdf"), up("parties.pdf"), up("signed.pdf")
	o.hanne.Upload(o.reports, "", "superseded.pdf", pdfOf(t, "other plating of superseded.pdf"))
	route := o.writes(o.hanne, o.reports, o.approval("luca"))
	o.switches(o.hanne, route, true)
	for _, doc := range []uuid.UUID{review, approved, superseded, parties, signed} {
		o.hanne.Want(204, "POST", "/api/routes/"+route.String()+"/runs", contract.RouteStartWish{Documents: []uuid.UUID{doc}})
		run := o.oneRun(doc)
		if doc != review {
			if a := o.decides(o.luca, run, "agrees", ""); a.Status >= 300 {
				t.Fatalf("%d %s", a.Status, a.Body)
			}
		}
	}
	o.hanne.Do("PUT", "/api/routes/"+route.String()+"/switch", map[string]bool{"on": false})
	send := func(doc uuid.UUID) uuid.UUID {
		return testkit.Post[contract.SigningLine](o.hanne, 201, "/api/signings", contract.SigningWish{Document: doc, Plan: contract.SigningPlan{Parties: []contract.SigningParty{{Turn: 1, Person: &priya, Known: contract.KnownBySignIn, Signs: true}},
			Places: []contract.SigningPlace{{Id: 1, Page: 1, Kind: contract.PlaceSignature, Must: true, Box: contract.SigningBox{X: 0.1, Y: 0.7, W: 0.3, H: 0.05}}}}}).Id
	}
	send(parties)
	done := send(signed)
	o.priya.Want(204, "POST", "/api/signings/"+done.String()+"/sheet", contract.SigningAct{Values: []contract.SigningValue{typed(1, "Priya Valdane")}, Pages: []int{1}, Agrees: true})
	o.finished(done)
	// What was approved and has other content now is a draft again.
	o.hanne.Want(201, "POST", "/api/documents/"+superseded.String()+"/versions/1/return", nil, "Supersede", "approved")
	o.written()
	for state, want := range map[string]string{"review": "review.pdf", "approved": "approved.pdf", "parties": "parties.pdf", "signed": "signed.pdf", "issued": ""} {
		o.answers(o.hanne, want, "plating", "&state="+state)
		o.answers(o.hanne, want, "", "&state="+state)
		if got := testkit.Get[contract.FoundCounts](o.hanne, "/api/found/counts?state="+state); got.Total != len(o.finds(o.hanne, "", "&state="+state)) {
			t.Errorf("%s: %d are counted", state, got.Total)
		}
		o.answers(o.tomasz, "", "", "&state="+state)
		// As its row says it.
		for _, hit := range o.finds(o.hanne, "", "&state="+state) {
			for _, r := range testkit.Get[contract.RegisterPage](o.hanne, "/api/folders/"+o.reports.String()+"/register").Rows {
				if r.Name == hit && (r.State == nil || string(r.State.State) != state) {
					t.Errorf("%s is found as %s, its row says %+v", hit, state, r.State)
				}
			}
		}
	}
	if a := o.hanne.Do("GET", "/api/found?state=gone", nil); a.Status != 400 {
		t.Errorf("no state: %d %s", a.Status, a.Body)
	}
	approvedOnes := contract.FoundApproved
	q := testkit.Post[contract.KeptQuestion](o.hanne, 201, "/api/questions", contract.NewQuestion{Name: "approved", Question: contract.Question{State: &approvedOnes}})
	if q.Question.State == nil || *q.Question.State != contract.FoundApproved {
		t.Errorf("kept is %+v", q.Question)
	}
}

package api_test

import (
	"fmt"
	"math/rand/v2"
	"net/url"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/find"
	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		return []endpoint{
			{"GET", "/found", "/found?q=plan", nil, self},
			{"GET", "/found/counts", "/found/counts?q=plan", nil, self},
			{"GET", "/documents/{id}/words", "/documents/" + o.plan.String() + "/words?q=plan", nil, paper(access.See)},
			{"GET", "/questions", "", nil, self},
			{"POST", "/questions", "", contract.NewQuestion{Name: "plans", Question: contract.Question{Q: "plan"}}, self},
		}
	})
	apart["DELETE /questions/{id}"] = "one's own alone: TestQuestionsAreKept"
}

// finds lists the names of what answers a question.
func (o *office) finds(c *testkit.Client, q string, more ...string) (names []string) {
	o.T.Helper()
	for _, h := range testkit.Get[contract.FoundPage](c, "/api/found?q="+url.QueryEscape(q)+strings.Join(more, "")).Hits {
		names = append(names, h.Place.Name)
	}
	slices.Sort(names)
	return names
}

// written waits until the words of everything are kept.
func (o *office) written() {
	o.T.Helper()
	waitFor(o.T.(*testing.T), func() bool {
		var left int
		err := o.App.DB.GetContext(o.T.Context(), &left, `SELECT (SELECT count(*) FROM items i WHERE kind = 'document' AND NOT EXISTS (SELECT 1 FROM text_places p WHERE p.item_id = i.id AND p.version = i.version))
			+ (SELECT count(*) FROM river_job WHERE kind = 'index' AND state NOT IN ('completed', 'discarded', 'cancelled'))`)
		return err == nil && left == 0
	})
}

func (o *office) answers(c *testkit.Client, want, q string, more ...string) {
	o.T.Helper()
	if got := strings.Join(o.finds(c, q, more...), ", "); got != want {
		o.T.Errorf("%q %v is answered by %q, wanted %q", q, more, got, want)
	}
}

// What is written in documents is found, by its forms, with where it stands; and so are
// names, what was said, and earlier versions where one asks for them.
func TestWhatIsWrittenIsFound(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	report := o.luca.Upload(o.reports, "", "Condition survey Corran Lass.txt", []byte("The plating of frame 24 was gauged. Certificate HR-2019/004512 was seen."))
	letter := o.luca.Upload(o.reports, "", "Brief an die Versicherung.md", []byte("Die Schäden an der Außenhaut wurden besichtigt und sind zu beheben."))
	o.luca.Upload(o.reports, "", "readings.csv", []byte("frame,original,measured\n24,12.5,10.1\n"))
	o.written()
	for q, want := range map[string]string{
		"plating": "Condition survey Corran Lass.txt", "HR-2019/004512": "Condition survey Corran Lass.txt", "004512": "Condition survey Corran Lass.txt", `"frame 24"`: "Condition survey Corran Lass.txt",
		"schaden": "Brief an die Versicherung.md", "frame measured": "readings.csv", "frame -measured": "Condition survey Corran Lass.txt", "surveys": "Condition survey Corran Lass.txt",
		"nothing of it": "", "versich*": "Brief an die Versicherung.md", "corran OR versicherung": "Brief an die Versicherung.md, Condition survey Corran Lass.txt",
	} {
		o.answers(o.hanne, want, q)
	}
	o.answers(o.hanne, "Condition survey Corran Lass.txt", "gaug", "&typing=true")
	o.answers(o.hanne, "readings.csv", "frame", "&kind=table")
	o.answers(o.hanne, "Condition survey Corran Lass.txt", "frame", "&kind=text")
	o.answers(o.hanne, "", "frame", "&dossier=nowhere")
	o.answers(o.hanne, "", "frame", "&since="+url.QueryEscape(o.Now().Add(time.Hour).Format(time.RFC3339)))
	o.answers(o.hanne, "readings.csv", "frame", "&most=40")
	o.answers(o.hanne, "", "frame", "&person="+o.People["hanne"].ID.String())
	o.answers(o.hanne, "Condition survey Corran Lass.txt, readings.csv", "frame", "&person="+o.People["luca"].ID.String())
	// A typing error in a name is forgiven, and said.
	page := testkit.Get[contract.FoundPage](o.hanne, "/api/found?q=coran+survey")
	if deref(page.Instead) != "corran survey" || len(page.Hits) != 1 {
		t.Errorf("instead %q, %d found", deref(page.Instead), len(page.Hits))
	}
	hit := testkit.Get[contract.FoundPage](o.hanne, "/api/found?q=plating").Hits[0]
	if hit.Snippet == nil || !slices.Contains(*hit.Snippet, contract.FoundPart{Text: "plating", Meant: true}) || !hit.Counts || hit.Kind != contract.FoundText || hit.By != "Luca Ferrante" || hit.Page != nil {
		t.Errorf("%+v", hit)
	}
	counts := testkit.Get[contract.FoundCounts](o.hanne, "/api/found/counts?q=frame")
	if counts.Total != 2 || counts.More || len(counts.Dossiers) != 1 || counts.Dossiers[0].N != 2 || len(counts.Kinds) != 2 {
		t.Errorf("%+v", counts)
	}
	within := testkit.Get[contract.WordsWithin](o.hanne, "/api/documents/"+letter.Document.Id.String()+"/words?q=schaeden")
	if fmt.Sprint(within.Pages, within.Words) != "[1] [Schäden]" {
		t.Errorf("%+v", within)
	}
	// Another name, what was said, another version.
	o.luca.Want(204, "PUT", "/api/items/"+letter.Document.Id.String()+"/name", contract.NewName{Name: "Letter to Dunlin.md"})
	o.says(o.hanne, report.Document.Id, contract.NewRemark{Text: "please weigh the anchor"})
	o.luca.Upload(o.reports, "", "Condition survey Corran Lass.txt", []byte("All of it was renewed."))
	o.written()
	o.answers(o.hanne, "Letter to Dunlin.md", "dunlin")
	o.answers(o.hanne, "", "versicherung")
	o.answers(o.hanne, "Condition survey Corran Lass.txt", "anchor")
	o.answers(o.hanne, "Condition survey Corran Lass.txt", "renewed")
	o.answers(o.hanne, "", "gauged")
	earlier := testkit.Get[contract.FoundPage](o.hanne, "/api/found?q=gauged&earlier=true").Hits
	if len(earlier) != 1 || earlier[0].Counts || earlier[0].Version != 1 {
		t.Fatalf("%+v", earlier)
	}
	// What is removed or deleted is found no more, at once; and again when it is back.
	o.luca.Want(204, "DELETE", fmt.Sprintf("/api/documents/%s/versions/1", report.Document.Id), nil)
	o.answers(o.hanne, "", "gauged", "&earlier=true")
	deletion := o.deletes(o.hanne, report.Document.Id)
	o.answers(o.hanne, "", "renewed")
	if n := testkit.Get[contract.FoundCounts](o.hanne, "/api/found/counts?q=renewed").Total; n != 0 {
		t.Errorf("%d of what is deleted are counted", n)
	}
	o.bringsBack(o.hanne, false, deletion)
	o.answers(o.hanne, "Condition survey Corran Lass.txt", "renewed")
}

// Whatever is asked, whoever asks finds what a slow look through all they may see finds, no
// more and no less, and counts the same; and what is taken away is away in the very next answer.
func TestFindingShowsWhatMayBeSeen(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	r := rand.New(rand.NewPCG(7, 15))
	words := strings.Fields("plating frame hull anchor survey weld keel rudder Schaden Kessel pump valve")
	texts := map[uuid.UUID]find.Text{}
	clientID, client := o.account("client", accounts.Guest)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	folders := []uuid.UUID{o.reports, o.yard, o.inner}
	for i := range 40 {
		var text []string
		for range 1 + r.IntN(6) {
			text = append(text, words[r.IntN(len(words))])
		}
		name := fmt.Sprintf("%s %d.txt", words[r.IntN(len(words))], i)
		body := strings.Join(text, " ")
		d := o.luca.Upload(folders[r.IntN(3)], "", name, []byte(body)).Document.Id
		texts[d] = find.Text{Name: name, Pages: []string{body}}
		if i%5 == 0 {
			o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{d}, to(clientID)))
		}
	}
	o.hanne.Want(204, "PUT", "/api/items/"+o.inner.String()+"/closed", contract.Closed{Closed: true})
	o.written()
	people := map[string]*testkit.Client{"hanne": o.hanne, "luca": o.luca, "priya": o.SignIn("priya"), "tomasz": o.SignIn("tomasz"), "client": client}
	compare := func() {
		t.Helper()
		sees := map[string][]find.Text{}
		for who, c := range people {
			for id, text := range texts {
				if a := c.Do("GET", "/api/documents/"+id.String(), nil); a.Status == 200 {
					sees[who] = append(sees[who], text)
				}
			}
		}
		for _, asked := range []string{"plating", "hull frame", "\"frame hull\"", "schaden", "anchor OR weld", "keel -pump", "rud*", "plating valve"} {
			question, err := find.Read(asked)
			if err != nil {
				t.Fatal(err)
			}
			for who, c := range people {
				var want []string
				for _, text := range sees[who] {
					if question.Marker(find.English).Holds(text) {
						want = append(want, text.Name)
					}
				}
				slices.Sort(want)
				if got := o.finds(c, asked, "&limit=100"); !slices.Equal(got, want) {
					t.Fatalf("%s asks %q: %v, want %v", who, asked, got, want)
				}
				if n := testkit.Get[contract.FoundCounts](c, "/api/found/counts?q="+url.QueryEscape(asked)).Total; n != len(want) {
					t.Fatalf("%s counts %d of %q, want %d", who, n, asked, len(want))
				}
			}
		}
	}
	compare()
	// Opened, closed, given, moved: found by what is true at that moment.
	o.hanne.Want(204, "PUT", "/api/items/"+o.inner.String()+"/closed", contract.Closed{Closed: false})
	o.hanne.Want(204, "PUT", "/api/items/"+o.reports.String()+"/closed", contract.Closed{Closed: true})
	compare()
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.yard}, to(clientID)))
	compare()
	// A folder that is made after somebody looked.
	late := testkit.Post[contract.Folder](o.luca, 201, fmt.Sprintf("/api/folders/%s/folders", o.yard), contract.NewName{Name: "Late"}).Id
	d := o.luca.Upload(late, "", "late keel.txt", []byte("keel")).Document.Id
	texts[d] = find.Text{Name: "late keel.txt", Pages: []string{"keel"}}
	o.written()
	compare()
	o.move(o.hanne, o.inner, late)
	compare()
}

// Questions are kept under a name; whoever keeps one is told when something new answers it
// that they may see and did not bring themselves.
func TestQuestionsAreKept(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.written()
	priya := o.SignIn("priya")
	keep := func(c *testkit.Client, name, q string) contract.KeptQuestion {
		t.Helper()
		return testkit.Post[contract.KeptQuestion](c, 201, "/api/questions", contract.NewQuestion{Name: name, Question: contract.Question{Q: q}})
	}
	k := keep(priya, "valuations", "valuation")
	keep(o.luca, "mine", "valuation")
	o.duty("tell of new answers")
	if n := o.noticesOf(priya, "found"); n != 0 {
		t.Fatalf("told %d times of nothing", n)
	}
	o.hanne.Want(204, "PUT", "/api/items/"+o.inner.String()+"/closed", contract.Closed{Closed: true})
	o.hanne.Upload(o.inner, "", "hidden.txt", []byte("a valuation"))
	o.written()
	o.duty("tell of new answers")
	if n := o.noticesOf(priya, "found"); n != 0 {
		t.Errorf("told of what is closed")
	}
	o.luca.Upload(o.reports, "", "shown.txt", []byte("another valuation"))
	o.written()
	var both sync.WaitGroup
	for range 4 {
		both.Go(func() { o.duty("tell of new answers") })
	}
	both.Wait()
	if n, own := o.noticesOf(priya, "found"), o.noticesOf(o.luca, "found"); n != 1 || own != 0 {
		t.Errorf("told %d times, and of what one brought oneself %d times", n, own)
	}
	if all := testkit.Get[[]contract.KeptQuestion](priya, "/api/questions"); len(all) != 1 || all[0].Name != "valuations" || all[0].Question.Q != "valuation" {
		t.Errorf("%+v", all)
	}
	keep(priya, "Valuations", "certificate")
	if all := testkit.Get[[]contract.KeptQuestion](priya, "/api/questions"); len(all) != 1 || all[0].Question.Q != "certificate" || all[0].Id != k.Id {
		t.Errorf("%+v", all)
	}
	o.luca.Want(404, "DELETE", "/api/questions/"+k.Id.String(), nil)
	for i := range 60 {
		a := priya.Do("POST", "/api/questions", contract.NewQuestion{Name: fmt.Sprint("n", i), Question: contract.Question{Q: "x"}})
		if want := 201; i >= 49 {
			want = 400
			if a.Status == 201 {
				t.Fatalf("question %d is kept, want %d", i, want)
			}
		}
	}
	priya.Want(204, "DELETE", "/api/questions/"+k.Id.String(), nil)
	priya.Want(404, "DELETE", "/api/questions/"+k.Id.String(), nil)
}

// Questions that mean nothing are refused and say why; such as look dangerous are questions.
func TestOddQuestions(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.written()
	for q, code := range map[string]string{"%20": "question-empty", "-plan": "question-empty", "%22%22": "question-empty", strings.Repeat("a", 10_000): "question-long", strings.Repeat("plan+", 40): "question-long", "!!": "question-empty"} {
		if a := o.hanne.Want(400, "GET", "/api/found?q="+q, nil); !strings.Contains(string(a.Body), code) {
			t.Errorf("%.20q: %s", q, a.Body)
		}
	}
	for _, q := range []string{`"plan`, `plan"`, `'plan`, `pl\an`, `plan' | !`, `plan:*`, `(plan`, `plan & | <->`, `$1`, `plan%`, `plan\`, "pl\u00adan", "a\u202eb", `((((((((`, "plan OR", "OR OR plan", "* plan", "plan*****", strings.Repeat("x", 900)} {
		if a := o.hanne.Do("GET", "/api/found?q="+url.QueryEscape(q), nil); a.Status != 200 && !strings.Contains(string(a.Body), "question-empty") {
			t.Errorf("%q: %d %s", q, a.Status, a.Body)
		}
	}
	o.answers(o.hanne, "plan.txt", `"plan`)
	for _, more := range []string{"&after=x", "&after=1", "&after=-1.0", "&after=1.999", "&after=99999999999999999999.0"} {
		o.hanne.Want(400, "GET", "/api/found?q=plan"+more, nil)
	}
	o.hanne.Want(400, "GET", "/api/found?q=plan&limit=0", nil)
	o.hanne.Want(400, "GET", "/api/found?q=plan&kind=spell", nil)
	o.hanne.Want(404, "GET", "/api/documents/"+uuid.NewString()+"/words?q=plan", nil)
}

// Page after page, each answer comes once, also behind those among which the best are.
func TestAnswersPageAfterPage(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	const all = 16 * 15
	readings := testkit.Post[contract.Folder](o.luca, 201, fmt.Sprintf("/api/folders/%s/folders", o.reports), contract.NewName{Name: "Readings"}).Id
	for i := range 15 {
		o.luca.Upload(readings, "", fmt.Sprintf("reading %d.txt", i), []byte("gauge"))
	}
	for range 15 {
		o.copies(o.luca, o.reports, readings)
	}
	o.written()
	for _, order := range []string{"best", "newest"} {
		seen := map[uuid.UUID]bool{}
		next := ""
		for range 20 {
			p := testkit.Get[contract.FoundPage](o.hanne, "/api/found?q=gauge&limit=40&order="+order+"&after="+next)
			for _, h := range p.Hits {
				if seen[h.Place.Id] {
					t.Fatalf("%s comes twice", h.Place.Name)
				}
				seen[h.Place.Id] = true
			}
			if next = deref(p.Next); next == "" {
				break
			}
		}
		if len(seen) != all {
			t.Errorf("%s: %d of %d", order, len(seen), all)
		}
	}
}

// What is destroyed leaves nothing of its words; a dossier that is deleted is in no count.
func TestWhatIsDestroyedLeavesNoWords(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	d := o.luca.Upload(o.reports, "", "secret.txt", []byte("the password is windlass")).Document.Id
	o.written()
	o.answers(o.hanne, "secret.txt", "windlass")
	deletion := o.deletes(o.hanne, d)
	o.hanne.Want(204, "POST", "/api/deletions/destruction", contract.Destroy{Ids: []uuid.UUID{deletion}, Code: "MER-24"})
	left := func() (n int) {
		t.Helper()
		if err := o.App.DB.GetContext(t.Context(), &n, `SELECT (SELECT count(*) FROM texts WHERE item_id = $1) + (SELECT count(*) FROM text_places WHERE item_id = $1)`, d); err != nil {
			t.Fatal(err)
		}
		return n
	}
	if n := left(); n != 0 {
		t.Errorf("%d rows of its words are left", n)
	}
	waitFor(t, func() bool {
		var n int
		err := o.App.DB.GetContext(t.Context(), &n, `SELECT count(*) FROM bodies b WHERE NOT EXISTS (SELECT 1 FROM versions v WHERE v.sha256 = b.sha256)`)
		return err == nil && n == 0
	})
	o.hanne.Want(200, "POST", "/api/deletions", contract.Delete{Items: []uuid.UUID{o.top}})
	o.answers(o.hanne, "", "plan")
	if n := testkit.Get[contract.FoundCounts](o.hanne, "/api/found/counts?q=plan").Total; n != 0 {
		t.Errorf("%d of a deleted dossier are counted", n)
	}
}

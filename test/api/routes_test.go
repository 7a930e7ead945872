package api_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		on := func(folder uuid.UUID) contract.RouteWish {
			return contract.RouteWish{Folder: &folder, Definition: o.approval("luca")}
		}
		return []endpoint{
			{"GET", "/routes", "", nil, rule{name: "inside, or nothing", open: true}},
			{"POST", "/routes", "", on(o.top), item(access.Manage)},
			{"GET", "/folders/{id}/routes", "/folders/" + o.top.String() + "/routes", nil, item(access.See)},
		}
	})
	apart["GET /routes"], apart["GET /folders/{id}/routes"], apart["POST /routes"] = "for colleagues: TestWhoWritesRoutes", "for colleagues: TestWhoWritesRoutes", "for those who manage the folder: TestWhoWritesRoutes"
	named = named[:len(named)-1]
	for _, way := range []string{"GET /routes/{id}", "PUT /routes/{id}", "DELETE /routes/{id}", "DELETE /routes/{id}/draft", "PUT /routes/{id}/switch", "POST /routes/{id}/trial", "GET /routes/{id}/runs", "POST /routes/{id}/runs"} {
		apart[way] = "for colleagues who see the folder, or manage it: TestWhoWritesRoutes"
	}
}

func toRoute(s string, v any) {
	if err := json.Unmarshal([]byte(s), v); err != nil {
		panic(err)
	}
}

// approval is a route of one stop.
func (o *office) approval(who string) (d contract.RouteDefinition) {
	toRoute(`{"name":"Release","starts":[{"on":"arrives"},{"on":"hand"}],"stops":[{"cases":[{"do":"approve","who":[{"person":"`+o.People[who].ID.String()+`"}],"within":{"n":2,"unit":"days"}}]}]}`, &d)
	return d
}

func (o *office) writes(c *testkit.Client, folder uuid.UUID, d contract.RouteDefinition) uuid.UUID {
	o.T.Helper()
	return testkit.Post[struct{ ID uuid.UUID }](c, 201, "/api/routes", contract.RouteWish{Folder: &folder, Definition: d}).ID
}

func (o *office) switches(c *testkit.Client, id uuid.UUID, on bool) testkit.Answer {
	return c.Do("PUT", "/api/routes/"+id.String()+"/switch", map[string]bool{"on": on})
}

// placed writes a route and switches it on.
func (o *office) placed(c *testkit.Client, folder uuid.UUID, d contract.RouteDefinition) uuid.UUID {
	o.T.Helper()
	id := o.writes(c, folder, d)
	if a := o.switches(c, id, true); a.Status != 204 {
		o.T.Fatalf("switched on: %d %s, %+v", a.Status, a.Body, testkit.Get[contract.RoutePage](c, "/api/routes/"+id.String()).Problems)
	}
	return id
}

func (o *office) runsOf(document uuid.UUID) []contract.RunLine {
	o.T.Helper()
	return testkit.Get[[]contract.RunLine](o.hanne, "/api/documents/"+document.String()+"/decisions")
}

// oneRun waits for the run of a document that a route starts by itself.
func (o *office) oneRun(document uuid.UUID) uuid.UUID {
	o.T.Helper()
	waitFor(o.T.(*testing.T), func() bool { return len(o.runsOf(document)) == 1 })
	return o.runsOf(document)[0].Id
}

func (o *office) folder(name string) uuid.UUID {
	o.T.Helper()
	return testkit.Post[contract.Folder](o.hanne, 201, "/api/folders/"+o.top.String()+"/folders", contract.NewName{Name: name}).Id
}

// A document that arrives travels by itself: reviewed, decided by whom its amount asks for, and moved,
// with what the route sets, by the rights of whoever placed it.
func TestARouteByAmount(t *testing.T) {
	t.Parallel()
	o := administered(t)
	priya := o.SignIn("priya")
	estimate := o.defines(contract.NewParticular{Name: "Repair estimate", Kind: "money", Unit: ptr("EUR")})
	release, issued := o.folder("04 For release"), o.folder("05 Issued")
	o.give(o.hanne, wish(contract.LevelEdit, []uuid.UUID{o.top}, to(o.People["luca"].ID)))
	person := func(name string) string { return o.People[name].ID.String() }
	var d contract.RouteDefinition
	toRoute(fmt.Sprintf(`{"name":"Report release","purpose":"For survey reports","starts":[{"on":"arrives"},{"on":"hand"}],"stops":[
		{"cases":[{"do":"review","who":[{"person":%q}],"notAuthor":true,"within":{"n":2,"unit":"days"}}]},
		{"cases":[{"when":{"test":{"of":"particular","particular":%q,"is":"at-least","value":"250000"}},"do":"approve","who":[{"person":%q}]},
			{"when":{"test":{"of":"particular","particular":%q,"is":"under","value":"250000"}},"do":"approve","who":[{"person":%q}]},
			{"when":{"test":{"of":"particular","particular":%q,"is":"not-set"}},"do":"hold","who":[{"role":"author"}]}]},
		{"cases":[{"do":"move","folder":%q,"issues":true}]},
		{"cases":[{"do":"tell","who":[{"person":%q}],"instructions":"It is issued."}]}]}`,
		person("priya"), estimate, person("hanne"), estimate, person("priya"), estimate, issued, person("luca")), &d)
	o.placed(o.hanne, release, d)
	doc := o.luca.Upload(release, "", "Condition survey report.txt", []byte("Frame 31")).Document.Id
	run := o.oneRun(doc)
	if p := o.run(o.hanne, run); deref(p.Line.Route) != "Report release" || len(p.Line.Stops) != 4 || p.Line.WaitsFor[0].Name != "Priya Valdane" {
		t.Fatalf("%+v", p.Line)
	}
	o.decides(priya, run, "agrees", "Frame 31 is gauged.")
	o.inReview(doc, "review Luca Ferrante")
	if a := o.sets(o.luca, estimate, ptr("312400"), doc); a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	o.inReview(doc, "review Hanne Solvik")
	// Less before anybody decided: it goes to the other one.
	o.sets(o.luca, estimate, ptr("200000"), doc)
	o.inReview(doc, "review Priya Valdane")
	o.decides(priya, run, "agrees", "")
	waitFor(t, func() bool { return o.run(o.hanne, run).Line.Status == contract.RunIsDone })
	got := testkit.Get[contract.Document](o.hanne, "/api/documents/"+doc.String())
	if got.FolderId != issued || got.State == nil || got.State.State != contract.StateIssued {
		t.Errorf("it lies in %s, %+v", got.FolderName, got.State)
	}
	i := slices.IndexFunc(got.Events, func(e contract.Event) bool { return e.Kind == "document.moved" })
	if e := got.Events[i]; e.Actor != "Report release" || e.ActorKind != "route" {
		t.Errorf("moved by %+v", e)
	}
	if n := o.noticesOf(o.luca, "route-told"); n != 1 {
		t.Errorf("Luca is told %d times", n)
	}
	route := testkit.Get[contract.RouteRuns](o.hanne, "/api/routes/"+o.run(o.hanne, run).Line.RouteId.String()+"/runs")
	if len(route.Runs) != 1 || route.Times[0].N != 1 || route.Route.Done != 1 || len(route.Load) == 0 {
		t.Errorf("%+v", route)
	}
	csv := o.hanne.Want(200, "GET", "/api/decisions/"+run.String()+"/trail.csv", nil)
	pdf := o.hanne.Want(200, "GET", "/api/decisions/"+run.String()+"/trail.pdf", nil)
	if !strings.Contains(string(csv.Body), "Frame 31 is gauged.") || !strings.HasPrefix(string(pdf.Body), "%PDF") {
		t.Errorf("%s", csv.Body)
	}
	o.SignIn("tomasz").Want(404, "GET", "/api/decisions/"+run.String()+"/trail.csv", nil)
}

// Routes are written by those who manage a folder; what does not hold is said at its word, and is not
// switched on.
func TestWhoWritesRoutes(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	tomasz := o.SignIn("tomasz")
	guestID, guest := o.account("odile", accounts.Guest)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.top}, to(guestID)))
	d := o.approval("priya")
	id := o.writes(o.hanne, o.reports, d)
	path := "/api/routes/" + id.String()
	for name, c := range map[string]struct {
		by   *testkit.Client
		want int
	}{"who may only edit": {o.luca, 403}, "a stranger": {tomasz, 404}, "a guest": {guest, 404}, "nobody": {o.Visitor(), 401}} {
		for _, a := range []testkit.Answer{
			c.by.Do("POST", "/api/routes", contract.RouteWish{Folder: &o.reports, Definition: d}), c.by.Do("PUT", path, contract.RouteWriting{Definition: d, Since: o.Now()}),
			c.by.Do("DELETE", path, nil), c.by.Do("DELETE", path+"/draft", nil), o.switches(c.by, id, true),
		} {
			if a.Status != c.want {
				t.Errorf("%s: %d %s", name, a.Status, a.Body)
			}
		}
		if a := c.by.Do("GET", path, nil); a.Status == 200 {
			t.Errorf("%s reads what is being written: %s", name, a.Body)
		}
		if a := c.by.Do("POST", path+"/trial", nil); a.Status == 200 {
			t.Errorf("%s tries it: %s", name, a.Body)
		}
		if a := c.by.Do("GET", "/api/routes", nil); strings.Contains(string(a.Body), id.String()) {
			t.Errorf("%s is listed it: %s", name, a.Body)
		}
	}
	guest.Want(404, "GET", "/api/folders/"+o.reports.String()+"/routes", nil)
	guest.Want(404, "GET", "/api/routes", nil)
	o.luca.Want(403, "POST", "/api/routes", contract.RouteWish{Definition: d})
	page := testkit.Get[contract.RoutePage](o.hanne, path)
	if len(page.Problems) != 0 || page.Line.On || !page.Line.Writing {
		t.Fatalf("%+v", page)
	}
	stranger := uuid.New()
	bad := o.approval("tomasz")
	bad.Stops[0].Cases[0].Who = &[]contract.Who{{Person: ptr(o.People["tomasz"].ID)}, {Person: &stranger}}
	page = testkit.Get[contract.RoutePage](o.hanne, path)
	written := o.hanne.Want(200, "PUT", path, contract.RouteWriting{Definition: bad, Since: page.Line.ChangedAt})
	if !strings.Contains(string(written.Body), "cannot-open") || !strings.Contains(string(written.Body), "unknown") {
		t.Errorf("%s", written.Body)
	}
	if a := o.switches(o.hanne, id, true); a.Code() != "route-flawed" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	if a := o.hanne.Do("PUT", path, contract.RouteWriting{Definition: d, Since: page.Line.ChangedAt}); a.Code() != "route-changed" {
		t.Errorf("over somebody's words: %d %s", a.Status, a.Body)
	}
	page = testkit.Get[contract.RoutePage](o.hanne, path)
	o.hanne.Want(200, "PUT", path, contract.RouteWriting{Definition: d, Since: page.Line.ChangedAt})
	if a := o.switches(o.hanne, id, true); a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	if a := o.switches(o.hanne, id, true); a.Code() != "route-unwritten" {
		t.Errorf("on again: %d %s", a.Status, a.Body)
	}
	if got := testkit.Get[contract.RoutePage](o.luca, path); got.Line.Edition != 1 || got.Line.Manages || deref(got.Line.PlacedBy) != "Hanne Solvik" || len(got.Problems) > 0 {
		t.Errorf("a colleague reads %+v", got.Line)
	}
	guest.Want(404, "GET", path, nil)
	tomasz.Want(404, "GET", path+"/runs", nil)
	if a := tomasz.Do("POST", path+"/runs", contract.RouteStartWish{Documents: []uuid.UUID{o.plan}}); a.Status != 404 {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	many := o.approval("priya")
	many.Stops = slices.Repeat(many.Stops, 500)
	big := o.writes(o.hanne, o.reports, many)
	if p := testkit.Get[contract.RoutePage](o.hanne, "/api/routes/"+big.String()); len(p.Problems) != 1 || p.Problems[0].Code != contract.FlawTooLong {
		t.Errorf("500 stops: %+v", p.Problems)
	}
	o.hanne.Want(204, "DELETE", "/api/routes/"+big.String(), nil)
}

// What starts a route starts it once; what it may not do any more holds it up with a word for it, and is
// repeated by hand, once.
func TestHeldUpAndRepeated(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	filed := o.folder("05 Issued")
	var d contract.RouteDefinition
	toRoute(fmt.Sprintf(`{"name":"Filing","starts":[{"on":"arrives"}],"stops":[{"cases":[{"do":"approve","who":[{"person":%q}]}]},{"cases":[{"do":"move","folder":%q}]}]}`, o.People["hanne"].ID, filed), &d)
	id := o.placed(o.hanne, o.reports, d)
	doc := o.paper("Filed.txt")
	run := o.oneRun(doc)
	// Somebody has it in hand when it is to be moved.
	o.luca.Want(204, "POST", "/api/checkouts", contract.CheckOut{Items: []uuid.UUID{doc}})
	o.decides(o.hanne, run, "agrees", "")
	waitFor(t, func() bool { return o.run(o.hanne, run).Line.Status == contract.RunIsHeld })
	if l := o.run(o.hanne, run).Line; *l.Held != contract.HeldFailed || deref(l.HeldBy) != "held" {
		t.Errorf("%+v", l)
	}
	o.luca.Want(204, "DELETE", "/api/documents/"+doc.String()+"/checkout", nil)
	var wg sync.WaitGroup
	var mu sync.Mutex
	done := 0
	for range 6 {
		wg.Go(func() {
			if a := o.hanne.Do("POST", "/api/decisions/"+run.String()+"/repetition", nil); a.Status == 204 {
				mu.Lock()
				done++
				mu.Unlock()
			}
		})
	}
	wg.Wait()
	waitFor(t, func() bool { return o.run(o.hanne, run).Line.Status == contract.RunIsDone })
	moved := 0
	for _, e := range testkit.Get[contract.Document](o.hanne, "/api/documents/"+doc.String()).Events {
		if e.Kind == "document.moved" {
			moved++
		}
	}
	if done != 1 || moved != 1 {
		t.Errorf("repeated %d times, moved %d times", done, moved)
	}
	// Whoever placed it no longer manages the folder: what comes starts nothing, and it is said.
	o.Appoint("luca", accounts.Administrator)
	o.luca = o.SignIn("luca")
	if _, err := o.App.DB.Exec(`UPDATE routes SET placed_by = $2 WHERE id = $1`, id, o.People["tomasz"].ID); err != nil {
		t.Fatal(err)
	}
	o.paper("Next.txt")
	waitFor(t, func() bool {
		l := testkit.Get[contract.RoutePage](o.hanne, "/api/routes/"+id.String()).Line
		return !l.On && l.Stopped != nil && *l.Stopped == contract.StoppedUnplaced
	})
	if n := o.noticesOf(o.hanne, "route-stopped"); n != 1 {
		t.Errorf("%d notices", n)
	}
}

// What is closed is on no count of a route: neither how many are on their way, nor for whom they wait, nor
// how long they take.
func TestRunsOfWhatIsClosed(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	var d contract.RouteDefinition
	toRoute(fmt.Sprintf(`{"name":"Reading","starts":[{"on":"arrives"}],"stops":[{"cases":[{"do":"review","who":[{"person":%q}]}]},{"cases":[{"do":"approve","who":[{"person":%q}]}]}]}`, o.People["hanne"].ID, o.People["hanne"].ID), &d)
	id := o.placed(o.hanne, o.reports, d)
	doc := o.paper("Settlement.txt")
	run := o.oneRun(doc)
	o.decides(o.hanne, run, "agrees", "")
	seen := func(c *testkit.Client) [3]int {
		r := testkit.Get[contract.RouteRuns](c, "/api/routes/"+id.String()+"/runs")
		return [3]int{r.Route.Going, r.Times[0].N, len(r.Load)}
	}
	if got := seen(o.luca); got != [3]int{1, 1, 1} {
		t.Fatalf("before it is closed: %v", got)
	}
	o.hanne.Want(204, "PUT", "/api/items/"+doc.String()+"/closed", contract.Closed{Closed: true})
	if got := seen(o.luca); got != [3]int{} {
		t.Errorf("who does not see it learns of %v", got)
	}
	if got := seen(o.hanne); got != [3]int{1, 1, 1} {
		t.Errorf("who sees it learns of %v", got)
	}
	for _, l := range testkit.Get[[]contract.RouteLine](o.luca, "/api/folders/"+o.reports.String()+"/routes") {
		if l.Going != 0 {
			t.Errorf("listed with %d", l.Going)
		}
	}
}

// Two routes that move a document to and fro are stopped, however they were written.
func TestRoutesThatGoRound(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	here, there := o.folder("Here"), o.folder("There")
	way := func(from, to uuid.UUID) (d contract.RouteDefinition) {
		toRoute(fmt.Sprintf(`{"name":"From %s","starts":[{"on":"arrives","folder":%q}],"stops":[{"cases":[{"do":"move","folder":%q}]}]}`, from, from, to), &d)
		return d
	}
	itself := o.writes(o.hanne, here, way(here, here))
	if p := testkit.Get[contract.RoutePage](o.hanne, "/api/routes/"+itself.String()).Problems; len(p) != 1 || p[0].Code != contract.FlawLoop {
		t.Errorf("into its own folder: %+v", p)
	}
	a, b := o.placed(o.hanne, here, way(here, there)), o.placed(o.hanne, there, way(there, here))
	o.luca.Upload(here, "", "round.txt", []byte("x"))
	waitFor(t, func() bool {
		for _, id := range []uuid.UUID{a, b} {
			if l := testkit.Get[contract.RoutePage](o.hanne, "/api/routes/"+id.String()).Line; l.Stopped != nil && *l.Stopped == contract.StoppedLoops {
				return true
			}
		}
		return false
	})
}

// A route is tried on what there is: nothing is told, nothing changes.
func TestTriedOnThePast(t *testing.T) {
	t.Parallel()
	o := administered(t)
	estimate := o.defines(contract.NewParticular{Name: "Repair estimate", Kind: "money", Unit: ptr("EUR")})
	docs := []uuid.UUID{o.paper("a.txt"), o.paper("b.txt"), o.paper("c.txt")}
	o.sets(o.luca, estimate, ptr("300000"), docs[0])
	o.sets(o.luca, estimate, ptr("220000"), docs[1])
	var d contract.RouteDefinition
	toRoute(fmt.Sprintf(`{"name":"By amount","starts":[{"on":"arrives"}],"stops":[{"cases":[
		{"when":{"test":{"of":"particular","particular":%q,"is":"at-least","value":"250000"}},"do":"approve","who":[{"person":%q}],"within":{"n":2,"unit":"days"}},
		{"when":{"test":{"of":"particular","particular":%q,"is":"under","value":"200000"}},"do":"approve","who":[{"person":%q}]}]}]}`, estimate, o.People["hanne"].ID, estimate, o.People["priya"].ID), &d)
	id := o.writes(o.hanne, o.reports, d)
	got := testkit.Post[contract.Trial](o.hanne, 200, "/api/routes/"+id.String()+"/trial", nil)
	at := func(held contract.HeldReason, n int) int {
		for _, l := range got.Tally {
			if l.Stop == 1 && (l.Held != nil && *l.Held == held || held == "" && l.Held == nil && l.Case != nil && *l.Case == n) {
				return l.Now
			}
		}
		return 0
	}
	if at("", 1) != 1 || at("no-case", 0) < 2 || len(got.Asked) != 1 || got.Asked[0].Name != "Hanne Solvik" {
		t.Errorf("%+v", got)
	}
	for _, doc := range docs {
		if n := len(o.runsOf(doc)); n != 0 {
			t.Errorf("%d runs began", n)
		}
	}
	if n := o.noticesOf(o.hanne, "decision-asked"); n != 0 {
		t.Errorf("%d were told", n)
	}
}

// What a mail leads to decides once, for whom it was sent, by a press and not by looking.
func TestDecidedByMail(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	doc := o.paper("Findings.txt")
	run := o.asks(o.luca, contract.AskWish{Documents: []uuid.UUID{doc}, Do: "approve", Who: o.who("hanne", "priya"), Rule: ptr(contract.AskInTurn)})
	way := func(who string) (token string) {
		waitFor(t, func() bool {
			for _, m := range o.Mail.Messages(o.People[who].Email) {
				if at := strings.Index(m.Text, o.URL+"/decide/"); at >= 0 {
					token = strings.TrimPrefix(strings.Fields(m.Text[at:])[0], o.URL+"/decide/")
				}
			}
			return token != ""
		})
		return token
	}
	v := o.Visitor()
	token := way("hanne")
	path := "/api/decide/" + token
	for range 5 {
		v.Do("HEAD", path, nil)
		if p := testkit.Get[contract.ByMail](v, path); p.Person != "Hanne Solvik" || p.Line.Version != 1 || p.Line.Id != run {
			t.Fatalf("%+v", p)
		}
	}
	if got := o.stateOf(doc); got != "review Hanne Solvik" {
		t.Errorf("looking decided: %s", got)
	}
	is := contract.Verdict{Verdict: "agrees", Version: 1, Sha256: o.run(o.luca, run).Line.Sha256}
	if a := v.Do("POST", path, contract.Verdict{Verdict: "agrees", Version: 1, Sha256: strings.Repeat("0", 64)}); a.Code() != "content-changed" {
		t.Errorf("other content: %d %s", a.Status, a.Body)
	}
	var wg sync.WaitGroup
	var mu sync.Mutex
	codes := map[string]int{}
	for range 8 {
		wg.Go(func() {
			a := v.Do("POST", path, is)
			mu.Lock()
			defer mu.Unlock()
			codes[fmt.Sprint(a.Status)]++
		})
	}
	wg.Wait()
	if codes["204"] != 1 || codes["410"] != 7 {
		t.Errorf("%v", codes)
	}
	v.Want(410, "GET", path, nil)
	v.Want(404, "GET", "/api/decide/"+strings.Repeat("x", 43), nil)
	// The next one's way does not work once the practice forbids it, nor after it is over.
	next := "/api/decide/" + way("priya")
	testkit.Get[contract.ByMail](v, next)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	rules := *testkit.Get[contract.Directory](o.hanne, "/api/people").Rules
	rules.DecidesByMail = ptr(false)
	o.hanne.Want(204, "PUT", "/api/practice/rules", rules)
	v.Want(410, "GET", next, nil)
	v.Want(410, "POST", next, is)
	rules.DecidesByMail = ptr(true)
	o.hanne.Want(204, "PUT", "/api/practice/rules", rules)
	o.Later(15 * 24 * time.Hour)
	v.Want(410, "POST", next, is)
}

// Reminders, what is late, and whom that brings in come when they are due; after a time in which nothing
// ran, in the order in which they were.
func TestDecisionsThatAreDue(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	doc := o.paper("Findings.txt")
	late := []contract.Who{{Role: ptr(contract.WhoStarter)}}
	run := o.asks(o.luca, contract.AskWish{Documents: []uuid.UUID{doc}, Do: "approve", Who: o.who("priya"), Within: &contract.Span{N: 2, Unit: "days"}, Remind: &contract.Span{N: 1, Unit: "days"}, LateTell: &late})
	o.duty("do what is due of decisions")
	if n := o.noticesOf(o.priya, "decision-reminded"); n != 0 {
		t.Errorf("reminded at once: %d", n)
	}
	o.Later(8 * 24 * time.Hour)
	o.hanne, o.luca, o.priya = o.SignIn("hanne"), o.SignIn("luca"), o.SignIn("priya")
	o.duty("do what is due of decisions")
	o.duty("do what is due of decisions")
	if n, told := o.noticesOf(o.priya, "decision-late"), o.noticesOf(o.luca, "decision-late-other"); n != 1 || told != 1 {
		t.Errorf("late: %d, told: %d", n, told)
	}
	p := o.run(o.hanne, run)
	if !p.Line.WaitsFor[0].Late || p.Line.Status != contract.RunIsGoing {
		t.Errorf("%+v", p.Line)
	}
}

// A route has a document approved and then signed: it waits until all have signed, whose signatures ask nobody to decide
// again, and another route begins with that. One that is signed on paper goes on by what is said of it.
func TestARouteHasADocumentSigned(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	var d, after contract.RouteDefinition
	toRoute(`{"name":"Engagement","starts":[{"on":"hand"}],"stops":[{"cases":[{"do":"approve","who":[{"person":"`+o.People["luca"].ID.String()+`"}]}]},{"cases":[{"do":"sign","who":[{"person":"`+o.People["hanne"].ID.String()+`"}]}]}]}`, &d)
	toRoute(`{"name":"Filed","starts":[{"on":"signed"}],"stops":[{"cases":[{"do":"work","who":[{"person":"`+o.People["luca"].ID.String()+`"}]}]}]}`, &after)
	id := o.placed(o.hanne, o.reports, d)
	o.placed(o.hanne, o.reports, after)
	decides := func(c *testkit.Client, run uuid.UUID, note string) testkit.Answer {
		return o.decides(c, run, "agrees", note)
	}
	begins := func(doc uuid.UUID) uuid.UUID {
		o.hanne.Want(204, "POST", "/api/routes/"+id.String()+"/runs", map[string]any{"documents": []uuid.UUID{doc}})
		return o.oneRun(doc)
	}
	doc := o.letter()
	run := begins(doc)
	if a := decides(o.luca, run, ""); a.Status >= 300 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	if a := decides(o.hanne, run, ""); a.Code() != "reason-missing-for-run" {
		t.Errorf("it is said to be signed, and not how: %d %s", a.Status, a.Body)
	}
	line, token := o.sent(contract.SigningWish{Document: doc, Plan: o.aPlan(contract.KnownByLink)})
	if page := testkit.Get[contract.RunPage](o.hanne, "/api/decisions/"+run.String()); page.Signing == nil || *page.Signing != line.Id {
		t.Errorf("the run knows of no request: %+v", page.Signing)
	}
	client := o.Visitor()
	client.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{})
	client.Want(204, "POST", "/api/to-sign/"+token, clientActs())
	waitFor(t, func() bool {
		return o.priya.Do("GET", "/api/signings/"+line.Id.String()+"/sheet", nil).Status == 200
	})
	if l := o.runsOf(doc)[0]; l.At != 2 || l.Status != contract.RunIsGoing || len(l.WaitsFor) != 1 {
		t.Errorf("after the first signature it stands as %+v", l)
	}
	o.priya.Want(204, "POST", "/api/signings/"+line.Id.String()+"/sheet", contract.SigningAct{Values: []contract.SigningValue{typed(4, "Priya Valdane")}, Pages: []int{1}, Agrees: true})
	o.finished(line.Id)
	waitFor(t, func() bool {
		all := o.runsOf(doc)
		return len(all) == 2 && slices.ContainsFunc(all, func(l contract.RunLine) bool { return l.Id == run && l.Status == contract.RunIsDone }) &&
			slices.ContainsFunc(all, func(l contract.RunLine) bool { return l.Id != run && l.Status == contract.RunIsGoing })
	})

	paper := o.hanne.Upload(o.reports, "", "terms.pdf", pdfOf(t, "Terms")).Document.Id
	run = begins(paper)
	decides(o.luca, run, "")
	if a := decides(o.hanne, run, "On paper, filed as 031."); a.Status >= 300 {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	if l := o.runsOf(paper)[0]; l.Status != contract.RunIsDone {
		t.Errorf("signed on paper it stands as %+v", l)
	}
	if trail := string(o.hanne.Want(200, "GET", "/api/decisions/"+run.String()+"/trail.csv", nil).Body); !strings.Contains(trail, "On paper, filed as 031.") {
		t.Errorf("the trail says %s", trail)
	}
}

package api_test

import (
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		return []endpoint{
			{"GET", "/particulars", "", nil, self},
			{"GET", "/documents/{id}/particulars", "/documents/" + o.plan.String() + "/particulars", nil, paper(access.See)},
			{"POST", "/particulars/together", "", contract.GetParticularsTogetherJSONBody{Documents: []uuid.UUID{o.plan}}, paper(access.See)},
			{"GET", "/folders/{id}/register.csv", "/folders/" + o.yard.String() + "/register.csv", nil, item(0)},
			{"POST", "/particulars/values", "", contract.ParticularSettings{Documents: []uuid.UUID{o.plan}, Values: []contract.ParticularSetting{}}, paper(access.See | access.Change)},
		}
	})
	apart["POST /dossiers/{code}/particulars"] = "row by row: TestParticularsAsATable"
	for _, way := range []string{"POST /particulars", "PUT /particulars/{id}", "DELETE /particulars/{id}"} {
		apart[way] = "for administrators: TestParticularsAreDefined"
	}
}

func (o *office) defines(n contract.NewParticular) uuid.UUID {
	o.T.Helper()
	return testkit.Post[contract.Particular](o.hanne, 201, "/api/particulars", n).Id
}

// sets writes a value into documents, and returns the status.
func (o *office) sets(c *testkit.Client, particular uuid.UUID, value *string, documents ...uuid.UUID) testkit.Answer {
	o.T.Helper()
	return c.Do("POST", "/api/particulars/values", contract.ParticularSettings{Documents: documents, Values: []contract.ParticularSetting{{Particular: particular, Value: value}}})
}

func (o *office) particularsOf(c *testkit.Client, document uuid.UUID) string {
	o.T.Helper()
	var all []string
	for _, v := range testkit.Get[[]contract.ParticularValue](c, "/api/documents/"+document.String()+"/particulars") {
		all = append(all, v.Particular.Name+"="+deref(v.Value)+deref(v.Person))
	}
	return strings.Join(all, " ")
}

// administered is an office whose manager administers.
func administered(t *testing.T) *office {
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	return o
}

// Administrators define what is kept about documents; nobody else does, and nothing odd is defined.
func TestParticularsAreDefined(t *testing.T) {
	t.Parallel()
	o := administered(t)
	choices := []string{"afloat", "in dock"}
	state := o.defines(contract.NewParticular{Name: " State ", Kind: "choice", Choices: &choices})
	fee := o.defines(contract.NewParticular{Name: "Fee", Kind: "money", Unit: ptr("eur")})
	for _, c := range []*testkit.Client{o.luca, o.SignIn("priya")} {
		c.Want(403, "POST", "/api/particulars", contract.NewParticular{Name: "Mine", Kind: "text"})
		c.Want(403, "PUT", "/api/particulars/"+fee.String(), contract.NewParticular{Name: "Mine", Kind: "text"})
		c.Want(403, "DELETE", "/api/particulars/"+fee.String(), nil)
		if n := len(testkit.Get[[]contract.Particular](c, "/api/particulars")); n != 2 {
			t.Errorf("a colleague sees %d", n)
		}
	}
	_, guest := o.account("client", accounts.Guest)
	if n := len(testkit.Get[[]contract.Particular](guest, "/api/particulars")); n != 0 {
		t.Errorf("a guest learns of %d", n)
	}
	guest.Want(403, "POST", "/api/particulars", contract.NewParticular{Name: "Mine", Kind: "text"})
	for code, n := range map[string]contract.NewParticular{
		"particular-taken": {Name: "FEE", Kind: "text"}, "particular-currency": {Name: "A", Kind: "money"}, "particular-choices": {Name: "A", Kind: "choice"},
		"name-empty": {Name: "  ", Kind: "text"}, "particular-unneeded": {Name: "A", Kind: "date", Unit: ptr("m")}, "name-length": {Name: "a\x00b", Kind: "text"},
	} {
		if a := o.hanne.Do("POST", "/api/particulars", n); a.Status/100 != 4 || a.Code() != code {
			t.Errorf("%+v: %d %s, want %s", n, a.Status, a.Body, code)
		}
	}
	// A kind stays where values stand, the name does not.
	if a := o.sets(o.luca, fee, ptr("1.200,50"), o.plan); a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	o.hanne.Want(409, "PUT", "/api/particulars/"+fee.String(), contract.NewParticular{Name: "Fee", Kind: "number"})
	o.hanne.Want(409, "PUT", "/api/particulars/"+fee.String(), contract.NewParticular{Name: "Fee", Kind: "money", Unit: ptr("USD")})
	o.hanne.Want(204, "PUT", "/api/particulars/"+fee.String(), contract.NewParticular{Name: "Honorarium", Kind: "money", Unit: ptr("EUR")})
	o.hanne.Want(204, "PUT", "/api/particulars/"+state.String(), contract.NewParticular{Name: "State", Kind: "text"})
	if got := o.particularsOf(o.luca, o.plan); got != "State= Honorarium=1200.5" {
		t.Errorf("%q", got)
	}
	o.hanne.Want(204, "DELETE", "/api/particulars/"+fee.String(), nil)
	o.hanne.Want(404, "DELETE", "/api/particulars/"+fee.String(), nil)
	o.hanne.Want(404, "PUT", "/api/particulars/"+fee.String(), contract.NewParticular{Name: "Fee", Kind: "text"})
	if got := o.particularsOf(o.luca, o.plan); got != "State=" {
		t.Errorf("%q", got)
	}
	for i := range 62 {
		a := o.hanne.Do("POST", "/api/particulars", contract.NewParticular{Name: fmt.Sprint("n", i), Kind: "text"})
		if want := map[bool]int{true: 201, false: 400}[i < 59]; a.Status != want {
			t.Fatalf("particular %d: %d", i, a.Status)
		}
	}
}

// Values are set by who may change a document, for many at once, all of it or nothing, and
// seen by who sees it.
func TestParticulars(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := administered(t)
	fee, due := o.defines(contract.NewParticular{Name: "Fee", Kind: "money", Unit: ptr("EUR")}), o.defines(contract.NewParticular{Name: "Due", Kind: "date", Required: ptr(true)})
	by := o.defines(contract.NewParticular{Name: "By", Kind: "person"})
	inner := o.defines(contract.NewParticular{Name: "Inner", Kind: "text", DossierKinds: &[]contract.DossierKind{"internal"}})
	clientID, client := o.account("client", accounts.Guest)
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.plan}, to(clientID)))
	set := func(want int, c *testkit.Client, p uuid.UUID, value string, documents ...uuid.UUID) {
		t.Helper()
		if a := o.sets(c, p, &value, documents...); a.Status != want {
			t.Errorf("%q: %d %s, want %d", value, a.Status, a.Body, want)
		}
	}
	if got := o.particularsOf(o.luca, o.plan) + "|" + o.particularsOf(client, o.plan); got != "Fee= Due= By=|" {
		t.Errorf("%q", got)
	}
	priya := o.SignIn("priya")
	set(204, o.luca, fee, "1,200.50", o.plan, o.draft)
	set(204, o.luca, fee, "99.5", o.draft)
	set(204, o.luca, due, "31.12.2026", o.plan)
	set(204, o.luca, by, o.People["priya"].ID.String(), o.plan)
	if got := o.particularsOf(priya, o.plan); got != "Fee=1200.5 Due=2026-12-31 By="+o.People["priya"].ID.String()+"Priya Valdane" {
		t.Errorf("%q", got)
	}
	if got := o.particularsOf(client, o.plan); !strings.HasPrefix(got, "Fee=1200.5 Due=") {
		t.Errorf("a guest sees %q of what is given to them", got)
	}
	// What does not fit changes nothing, in none of the documents.
	set(400, o.luca, fee, "1.005", o.plan, o.draft)
	set(400, o.luca, due, "2026-02-30", o.plan)
	set(400, o.luca, by, clientID.String(), o.plan)
	set(400, o.luca, by, uuid.NewString(), o.plan)
	set(400, o.luca, inner, "x", o.plan)
	set(400, o.luca, uuid.New(), "x", o.plan)
	set(404, o.luca, fee, "1", o.plan, uuid.New())
	set(403, priya, fee, "1", o.plan)
	set(404, o.SignIn("tomasz"), fee, "1", o.plan)
	set(404, client, fee, "1", o.draft)
	set(404, o.luca, fee, "1", o.reports)
	if a := o.sets(o.luca, due, nil, o.plan); a.Status != 400 || a.Code() != "particular-required" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	o.luca.Want(400, "POST", "/api/particulars/values", contract.ParticularSettings{Documents: []uuid.UUID{}, Values: []contract.ParticularSetting{}})
	two := contract.ParticularSettings{Documents: []uuid.UUID{o.plan}, Values: []contract.ParticularSetting{{Particular: fee, Value: ptr("7")}, {Particular: due, Value: ptr("never")}}}
	o.luca.Want(400, "POST", "/api/particulars/values", two)
	together := testkit.Post[[]contract.ParticularTogether](o.luca, 200, "/api/particulars/together", contract.GetParticularsTogetherJSONBody{Documents: []uuid.UUID{o.plan, o.draft}})
	if f := together[0]; deref(f.Sum) != "1300" || f.Filled != 2 || f.Same != nil {
		t.Errorf("%+v", f)
	}
	// Setting the same again is no act; an act says what stands there now.
	set(204, o.luca, fee, "99.50", o.draft)
	var said []string
	if err := o.App.DB.SelectContext(t.Context(), &said, `SELECT data->>'values' FROM events WHERE kind = 'document.particulars'`); err != nil {
		t.Fatal(err)
	}
	if len(said) != 5 || !slices.ContainsFunc(said, func(s string) bool { return strings.Contains(s, "Fee: 99.5 EUR") }) || strings.Contains(strings.Join(said, "\n"), "Fee: 7") {
		t.Errorf("%q", said)
	}
	// They go along to another folder and to a copy, and are gone with their document.
	o.move(o.luca, o.yard, o.plan)
	o.copies(o.luca, o.reports, o.plan)
	rows := testkit.Get[contract.RegisterPage](o.luca, "/api/folders/"+o.reports.String()+"/register?order=particular&particular="+fee.String()).Rows
	if len(rows) < 2 || deref((*rows[len(rows)-1].Particulars)[0].Value) != "1200.5" {
		t.Errorf("%+v", rows)
	}
}

// A register is read by values, up and down, page after page, each document once; what has no
// value comes last; nobody's order tells of what they do not see.
func TestRegisterByValues(t *testing.T) {
	t.Parallel()
	o := administered(t)
	folder := testkit.Post[contract.Folder](o.hanne, 201, fmt.Sprintf("/api/folders/%s/folders", o.reports), contract.NewName{Name: "Fees"}).Id
	fee, word := o.defines(contract.NewParticular{Name: "Fee", Kind: "number"}), o.defines(contract.NewParticular{Name: "Word", Kind: "text"})
	values := []string{"10", "9", "-3", "9", "100.5", "0", "", "", "1000000"}
	for i, v := range values {
		d := o.luca.Upload(folder, "", fmt.Sprintf("%d.txt", i), fmt.Appendf(nil, "%d", i)).Document.Id
		if v == "" {
			continue
		}
		o.sets(o.luca, fee, &v, d)
		o.sets(o.luca, word, ptr(v+" \U0001F6A2 z"), d)
		if v == "0" {
			o.hanne.Want(204, "PUT", "/api/items/"+d.String()+"/closed", contract.Closed{Closed: true})
		}
	}
	read := func(c *testkit.Client, particular uuid.UUID, down bool, limit int) string {
		t.Helper()
		var all []string
		next := ""
		for range 20 {
			p := testkit.Get[contract.RegisterPage](c, fmt.Sprintf("/api/folders/%s/register?order=particular&particular=%s&down=%v&limit=%d&after=%s", folder, particular, down, limit, url.QueryEscape(next)))
			for _, r := range p.Rows {
				v := "-"
				if r.Particulars == nil {
					r.Particulars = &[]contract.ParticularValue{}
				}
				for _, x := range *r.Particulars {
					if x.Particular.Id == particular {
						v = deref(x.Value)
					}
				}
				all = append(all, strings.TrimSuffix(v, " \U0001F6A2 z"))
			}
			if next = deref(p.Next); next == "" {
				break
			}
		}
		return strings.Join(all, " ")
	}
	for _, limit := range []int{1, 2, 4, 200} {
		for _, c := range []struct {
			c          *testkit.Client
			particular uuid.UUID
			down       bool
			want       string
		}{
			{o.hanne, fee, false, "-3 0 9 9 10 100.5 1000000 - -"}, {o.hanne, fee, true, "1000000 100.5 10 9 9 0 -3 - -"},
			{o.SignIn("priya"), fee, false, "-3 9 9 10 100.5 1000000 - -"}, {o.hanne, word, false, "-3 0 10 100.5 1000000 9 9 - -"},
			{o.hanne, uuid.New(), false, "- - - - - - - - -"},
		} {
			if got := read(c.c, c.particular, c.down, limit); got != c.want {
				t.Errorf("%d at once, down %v: %q, want %q", limit, c.down, got, c.want)
			}
		}
	}
	at := "/api/folders/" + folder.String() + "/register?order=particular"
	o.hanne.Want(400, "GET", at, nil)
	o.hanne.Want(400, "GET", at+"&particular=x", nil)
	for _, after := range []string{"x", "e30", "eyJPcmRlciI6Im5hbWUiLCJLZXkiOiJhIn0"} {
		o.hanne.Want(400, "GET", at+"&particular="+fee.String()+"&after="+after, nil)
	}
}

// However many set and define at once, a value fits its particular and is one.
func TestParticularsAtOnce(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := administered(t)
	fee := o.defines(contract.NewParticular{Name: "Fee", Kind: "text"})
	var all sync.WaitGroup
	for i := range 16 {
		all.Go(func() {
			if i%4 == 0 {
				kind := []contract.ParticularKind{"text", "number"}[i/4%2]
				if a := o.hanne.Do("PUT", "/api/particulars/"+fee.String(), contract.NewParticular{Name: "Fee", Kind: kind}); a.Status != 204 && a.Status != 409 {
					t.Errorf("%d %s", a.Status, a.Body)
				}
				return
			}
			v := []string{"12", "twelve"}[i%2]
			if a := o.sets(o.luca, fee, &v, o.plan, o.draft); a.Status != 204 && a.Status != 400 {
				t.Errorf("%d %s", a.Status, a.Body)
			}
		})
	}
	all.Wait()
	kind := testkit.Get[[]contract.Particular](o.luca, "/api/particulars")[0].Kind
	if got := o.particularsOf(o.luca, o.plan); kind == "number" && strings.Contains(got, "twelve") || got != o.particularsOf(o.luca, o.draft) {
		t.Errorf("a %s is %q, and %q", kind, got, o.particularsOf(o.luca, o.draft))
	}
}

// A register is given out as a table, which is taken back in, changed, all of it or nothing;
// rows that do not fit are named, and what one does not see is like what there is not.
func TestParticularsAsATable(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := administered(t)
	fee, by := o.defines(contract.NewParticular{Name: "Fee", Kind: "number"}), o.defines(contract.NewParticular{Name: "By", Kind: "person"})
	formula := o.luca.Upload(o.reports, "", "=2+5.txt", []byte("x")).Document
	hidden := o.hanne.Upload(o.reports, "", "hidden.txt", []byte("y")).Document
	o.hanne.Want(204, "PUT", "/api/items/"+hidden.Id.String()+"/closed", contract.Closed{Closed: true})
	take := func(c *testkit.Client, try bool, rows ...contract.ParticularRow) contract.ParticularOutcome {
		t.Helper()
		return testkit.Post[contract.ParticularOutcome](c, 200, "/api/dossiers/MER-24/particulars", contract.ParticularTable{Try: &try, Columns: []uuid.UUID{fee, by}, Rows: rows})
	}
	numberOf := func(id uuid.UUID) int {
		t.Helper()
		_, number, _ := strings.Cut(testkit.Get[contract.Document](o.hanne, "/api/documents/"+id.String()).Ref, "/")
		n, err := strconv.Atoi(number)
		if err != nil {
			t.Fatal(err)
		}
		return n
	}
	plan, secret := numberOf(o.plan), numberOf(hidden.Id)
	good := []contract.ParticularRow{{Number: plan, Cells: []string{"-1.200,5", "luca.ferrante@halyard-rook.example"}}, {Number: numberOf(formula.Id), Cells: []string{"", "PRIYA  valdane"}}}
	if got := take(o.luca, true, good...); got.Documents != 2 || got.Values != 3 || len(got.Wrong) != 0 || o.particularsOf(o.luca, o.plan) != "Fee= By=" {
		t.Errorf("tried: %+v, %s", got, o.particularsOf(o.luca, o.plan))
	}
	bad := append([]contract.ParticularRow{}, good...)
	bad = append(bad, contract.ParticularRow{Number: secret, Cells: []string{"1", ""}}, contract.ParticularRow{Number: 999_999, Cells: []string{"1", ""}}, contract.ParticularRow{Number: plan, Cells: []string{"1", ""}}, contract.ParticularRow{Number: numberOf(o.draft), Cells: []string{"many", "Nobody Known"}})
	got := take(o.luca, false, bad...)
	var said []string
	for _, w := range got.Wrong {
		said = append(said, fmt.Sprint(w.Row, " ", w.Problem))
	}
	if s := strings.Join(said, ", "); s != "2 not-found, 3 not-found, 4 particulars-twice, 5 particular-value, 5 particular-nobody" && s != "2 not-found, 3 not-found, 4 particulars-twice, 5 particular-value, 5 particular-value" || o.particularsOf(o.luca, o.plan) != "Fee= By=" {
		t.Errorf("%s; the plan has %s", s, o.particularsOf(o.luca, o.plan))
	}
	if got := take(o.luca, false, good...); got.Values != 3 {
		t.Errorf("%+v", got)
	}
	raw := string(o.luca.Want(200, "GET", "/api/folders/"+o.reports.String()+"/register.csv", nil).Body)
	if !strings.HasPrefix(raw, "number,document,name,version,bytes,type,changed,Fee,By\r\n") && !strings.HasPrefix(raw, "number,document,name,version,bytes,type,changed,By,Fee\r\n") || !strings.Contains(raw, "'=2+5.txt") || !strings.Contains(raw, "-1200.5") || !strings.Contains(raw, "Luca Ferrante") || strings.Contains(raw, "hidden") {
		t.Error(raw)
	}
	if !strings.Contains(string(o.hanne.Want(200, "GET", "/api/folders/"+o.reports.String()+"/register.csv", nil).Body), "hidden.txt") {
		t.Error("who sees it does not find it in the table")
	}
	priya := o.SignIn("priya")
	if got := take(priya, false, good...); len(got.Wrong) != 2 || got.Wrong[0].Problem != "not-allowed" {
		t.Errorf("%+v", got)
	}
	path := "/api/dossiers/MER-24/particulars"
	o.SignIn("tomasz").Want(404, "POST", path, contract.ParticularTable{Columns: []uuid.UUID{fee}, Rows: []contract.ParticularRow{{Number: plan, Cells: []string{"1"}}}})
	for _, table := range []contract.ParticularTable{
		{Columns: []uuid.UUID{fee}, Rows: []contract.ParticularRow{}}, {Columns: []uuid.UUID{}, Rows: []contract.ParticularRow{{Number: plan, Cells: []string{}}}},
		{Columns: []uuid.UUID{fee}, Rows: []contract.ParticularRow{{Number: plan, Cells: []string{"1", "2"}}}}, {Columns: []uuid.UUID{uuid.New()}, Rows: []contract.ParticularRow{{Number: plan, Cells: []string{"1"}}}},
		{Columns: []uuid.UUID{fee}, Rows: make([]contract.ParticularRow, 1001)},
	} {
		o.luca.Want(400, "POST", path, table)
	}
}

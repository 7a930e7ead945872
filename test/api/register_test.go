package api_test

import (
	"cmp"
	"fmt"
	"net/url"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		return []endpoint{{"PUT", "/folders/{id}/arrangement", "/folders/" + o.yard.String() + "/arrangement", contract.Arrangement{}, item(access.See)}}
	})
	apart["PUT /folders/{id}/place"] = "whoever may change what it lies in: TestFoldersArePlaced"
}

// rowsOf reads a register to its end in pages of so many rows.
func rowsOf(t *testing.T, c *testkit.Client, folder uuid.UUID, query string, limit int) (rows []contract.DocumentRow, first contract.RegisterPage) {
	t.Helper()
	for after, n := "", 0; ; n++ {
		p := testkit.Get[contract.RegisterPage](c, fmt.Sprintf("/api/folders/%s/register?%s&limit=%d&after=%s", folder, query, limit, url.QueryEscape(after)))
		if n == 0 {
			first = p
		}
		rows = append(rows, p.Rows...)
		if p.Next == nil {
			return rows, first
		}
		if after = *p.Next; n > 200 {
			t.Fatalf("%s does not end", query)
		}
	}
}

// However a register is read, page after page: each document once, in the order, in groups
// that stand together and are counted.
func TestRegisterInEveryReading(t *testing.T) {
	t.Parallel()
	o := administered(t)
	fee := o.defines(contract.NewParticular{Name: "Estimate", Kind: contract.ParticularKindNumber})
	part := o.defines(contract.NewParticular{Name: "Part", Kind: contract.ParticularKindText})
	folder := testkit.Post[contract.Folder](o.hanne, 201, "/api/folders/"+o.top.String()+"/folders", contract.NewName{Name: "All sorts"}).Id
	kinds := []string{"a.txt", "b.pdf", "c.png", "d.txt", "e.csv"}
	for i := range 17 {
		c := o.hanne
		if i%3 == 0 {
			c = o.luca
		}
		d := c.Upload(folder, "", fmt.Sprintf("paper %02d%s", (i*7)%17, kinds[i%5]), fmt.Appendf(nil, "%s%d", strings.Repeat("x", 1+(i*11)%17), i)).Document.Id
		if i%4 != 0 {
			o.sets(o.hanne, fee, ptr(fmt.Sprint((i*5)%6)), d)
			o.sets(o.hanne, part, ptr([]string{"hull", "Deck", "HULL"}[i%3]), d)
		}
		if i%5 == 0 {
			o.luca.Upload(folder, "", fmt.Sprintf("paper %02d%s", (i*7)%17, kinds[i%5]), fmt.Appendf(nil, "again %d", i))
		}
	}
	value := func(r contract.DocumentRow, of uuid.UUID) string {
		for _, v := range all(r.Particulars) {
			if v.Particular.Id == of {
				return deref(v.Value)
			}
		}
		return ""
	}
	// last is what comes last whatever the direction: nothing.
	number := func(a, b contract.DocumentRow, down bool) int {
		x, y := value(a, fee), value(b, fee)
		if x == "" || y == "" {
			return cmp.Compare(boolInt(x == ""), boolInt(y == ""))
		}
		if down {
			x, y = y, x
		}
		return cmp.Compare(x, y)
	}
	orders := map[string]func(a, b contract.DocumentRow) int{
		"order=event":   func(a, b contract.DocumentRow) int { return cmp.Compare(b.LastEvent.Id, a.LastEvent.Id) },
		"order=number":  func(a, b contract.DocumentRow) int { return cmp.Compare(a.Number, b.Number) },
		"order=name":    func(a, b contract.DocumentRow) int { return cmp.Compare(a.Name, b.Name) },
		"order=size":    func(a, b contract.DocumentRow) int { return cmp.Compare(b.Size, a.Size) },
		"order=version": func(a, b contract.DocumentRow) int { return cmp.Compare(b.Version, a.Version) },
		"order=kind": func(a, b contract.DocumentRow) int {
			at := func(k contract.FoundKind) int {
				return slices.Index([]string{"pdf", "writing", "table", "slides", "mail", "picture", "text", "recording", "other"}, string(k))
			}
			return cmp.Compare(at(a.Kind), at(b.Kind))
		},
	}
	groups := map[string]func(r contract.DocumentRow) string{
		"":             func(contract.DocumentRow) string { return "" },
		"group=kind":   func(r contract.DocumentRow) string { return string(r.Kind) },
		"group=person": func(r contract.DocumentRow) string { return r.By },
		"group=particular&grouped=" + part.String(): func(r contract.DocumentRow) string { return strings.ToLower(value(r, part)) },
	}
	check := func(query string, down bool, compare func(a, b contract.DocumentRow) int, together func(r contract.DocumentRow) string) {
		for _, limit := range []int{1, 4, 200} {
			rows, first := rowsOf(t, o.hanne, folder, query, limit)
			seen, groupsSeen, n := map[uuid.UUID]bool{}, []string{}, map[string]int{}
			for i, r := range rows {
				seen[r.Id] = true
				g := together(r)
				if n[g]++; i == 0 || together(rows[i-1]) != g {
					groupsSeen = append(groupsSeen, g)
				} else if c := compare(rows[i-1], r); c > 0 && !down || c < 0 && down {
					t.Errorf("%s, %d at once: %s stands before %s", query, limit, rows[i-1].Name, r.Name)
				}
			}
			if len(rows) != 17 || len(seen) != 17 || first.Total != 17 {
				t.Fatalf("%s, %d at once: %d rows, %d different, %d counted", query, limit, len(rows), len(seen), first.Total)
			}
			if len(n) != len(groupsSeen) {
				t.Errorf("%s, %d at once: the groups are not together: %v", query, limit, groupsSeen)
			}
			for i, g := range groupsSeen {
				if counted := all(first.Groups); len(n) > 1 && (len(counted) != len(n) || counted[i].N != n[g]) {
					t.Errorf("%s, %d at once: %+v is said of %v", query, limit, counted, n)
					break
				}
			}
		}
	}
	for group, together := range groups {
		for order, compare := range orders {
			for _, down := range []bool{false, true} {
				check(fmt.Sprintf("%s&down=%v&%s", order, down, group), down, compare, together)
			}
		}
		for _, down := range []bool{false, true} {
			check(fmt.Sprintf("order=particular&particular=%s&down=%v&%s", fee, down, group), false,
				func(a, b contract.DocumentRow) int { return number(a, b, down) }, together)
		}
	}

	t.Run("narrowed", func(t *testing.T) {
		papers, _ := rowsOf(t, o.hanne, folder, "", 200)
		o.tags(o.luca, false, "urgent", papers[3].Id, papers[5].Id)
		tag := o.tag(o.luca, "urgent").Id
		o.hanne.Want(201, "POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{papers[7].Id}})
		count := func(keep func(r contract.DocumentRow) bool) (n int) {
			for _, r := range papers {
				if keep(r) {
					n++
				}
			}
			return n
		}
		luca := o.People["luca"].ID
		for query, want := range map[string]int{
			"kind=picture":                           count(func(r contract.DocumentRow) bool { return r.Kind == "picture" }),
			"kind=mail":                              0,
			"person=" + luca.String():                count(func(r contract.DocumentRow) bool { return r.ById != nil && *r.ById == luca }),
			"person=" + luca.String() + "&kind=text": count(func(r contract.DocumentRow) bool { return *r.ById == luca && r.Kind == "text" }),
			"tag=" + tag.String():                    2,
			"linked=true":                            1,
			"where=" + part.String() + "&value=hull": count(func(r contract.DocumentRow) bool { return strings.EqualFold(value(r, part), "hull") }),
			"where=" + part.String():                 count(func(r contract.DocumentRow) bool { return value(r, part) == "" }),
			"where=" + fee.String() + "&value=5":     count(func(r contract.DocumentRow) bool { return value(r, fee) == "5" }),
			"where=" + fee.String() + "&value=%27":   0,
		} {
			for _, more := range []string{"", "&order=name&group=kind", "&order=particular&particular=" + fee.String()} {
				rows, first := rowsOf(t, o.hanne, folder, query+more, 3)
				if len(rows) != want || first.Total != want {
					t.Errorf("%s%s: %d rows, %d counted, want %d", query, more, len(rows), first.Total, want)
				}
			}
		}
		o.hanne.Want(201, "POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{folder}})
		if rows, _ := rowsOf(t, o.priya, folder, "linked=true", 5); len(rows) != 17 {
			t.Errorf("a link to the folder reaches %d of 17", len(rows))
		}
		again, _ := rowsOf(t, o.hanne, folder, "order=number", 200)
		if got := all(again[slices.IndexFunc(again, func(r contract.DocumentRow) bool { return r.Id == papers[3].Id })].Tags); len(got) != 1 || got[0].Name != "urgent" {
			t.Errorf("its tags are %v", got)
		}
	})

	t.Run("refused", func(t *testing.T) {
		_, first := rowsOf(t, o.hanne, folder, "order=name", 3)
		o.tags(o.hanne, true, "mine alone", first.Rows[0].Id)
		own := o.tag(o.hanne, "mine alone").Id
		at := "/api/folders/" + folder.String() + "/register?"
		for query, code := range map[string]string{
			"kind=treasure": "found-kind-unknown", "order=door": "order-unknown", "order=particular": "order-unknown", "group=door": "order-unknown", "group=particular": "order-unknown",
			"order=size&after=" + *first.Next: "cursor-unknown", "order=name&down=true&after=" + *first.Next: "cursor-unknown", "order=name&group=kind&after=" + *first.Next: "cursor-unknown",
			"order=name&kind=text&after=" + *first.Next: "cursor-unknown", "after=e30": "cursor-unknown",
		} {
			if p := o.hanne.Do("GET", at+query, nil); p.Status != 400 || p.Code() != code {
				t.Errorf("%s: %d %s, want %s", query, p.Status, p.Code(), code)
			}
		}
		o.luca.Want(404, "GET", at+"tag="+own.String(), nil)
		o.hanne.Want(404, "GET", at+"tag="+uuid.NewString(), nil)
	})

	t.Run("of what one sees", func(t *testing.T) {
		rows, _ := rowsOf(t, o.hanne, folder, "group=kind", 200)
		o.hanne.Want(204, "PUT", "/api/items/"+rows[0].Id.String()+"/closed", contract.Closed{Closed: true})
		got, first := rowsOf(t, o.priya, folder, "group=kind", 2)
		n := 0
		for _, g := range all(first.Groups) {
			n += g.N
		}
		if len(got) != 16 || n != 16 || first.Total != 16 {
			t.Errorf("who does not see one has %d rows, %d in groups, %d counted", len(got), n, first.Total)
		}
	})
}

// How one reads a register is kept for oneself, by folder.
func TestArrangements(t *testing.T) {
	t.Parallel()
	o := administered(t)
	fee := o.defines(contract.NewParticular{Name: "Estimate", Kind: contract.ParticularKindNumber})
	at := "/api/folders/" + o.reports.String() + "/arrangement"
	kept := func(c *testkit.Client) *contract.Arrangement {
		for _, f := range testkit.Get[contract.Dossier](c, "/api/dossiers/MER-24").Folders {
			if f.Id == o.reports {
				return f.Arrangement
			}
		}
		return nil
	}
	a := contract.Arrangement{Columns: &[]string{fee.String(), "tags", "event"}, Order: ptr(contract.OrderParticular), Particular: &fee, Down: ptr(true), Group: ptr(contract.GroupKind), Pictures: ptr(true)}
	o.luca.Want(204, "PUT", at, a)
	if got := kept(o.luca); got == nil || !slices.Equal(*got.Columns, *a.Columns) || *got.Order != *a.Order || *got.Particular != fee || !*got.Down || *got.Group != *a.Group || !*got.Pictures {
		t.Errorf("kept is %+v", got)
	}
	if kept(o.hanne) != nil {
		t.Error("somebody else reads it like that, too")
	}
	o.luca.Want(204, "PUT", at, contract.Arrangement{})
	if got := kept(o.luca); got.Group != nil || got.Pictures != nil || *got.Order != contract.OrderEvent {
		t.Errorf("as usual is %+v", got)
	}
	for _, bad := range []contract.Arrangement{
		{Columns: &[]string{"door"}}, {Columns: &[]string{"size", "size"}}, {Columns: &[]string{strings.ToUpper(fee.String())}}, {Columns: &[]string{""}},
		{Order: ptr(contract.OrderParticular)}, {Group: ptr(contract.GroupParticular)},
		{Columns: ptr(strings.Split("size kind person tags version event "+strings.Repeat(uuid.NewString()+" ", 8), " "))},
	} {
		o.luca.Want(400, "PUT", at, bad)
	}
	o.tomasz.Want(404, "PUT", at, contract.Arrangement{})
	doc := o.luca.Upload(o.reports, "", "a.txt", []byte("x")).Document.Id
	o.luca.Want(404, "PUT", "/api/folders/"+doc.String()+"/arrangement", contract.Arrangement{})
}

// Folders stand in the order in which they are put; what one does not see among them keeps its place.
func TestFoldersArePlaced(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	in := testkit.Post[contract.Folder](o.hanne, 201, "/api/folders/"+o.top.String()+"/folders", contract.NewName{Name: "in order"}).Id
	ids := map[string]uuid.UUID{}
	for _, n := range strings.Split("abcde", "") {
		ids[n] = testkit.Post[contract.Folder](o.hanne, 201, "/api/folders/"+in.String()+"/folders", contract.NewName{Name: n}).Id
	}
	order := func(c *testkit.Client) (names string) {
		for _, f := range testkit.Get[contract.Dossier](c, "/api/dossiers/MER-24").Folders {
			if f.ParentId != nil && *f.ParentId == in {
				names += f.Name
			}
		}
		return names
	}
	place := func(c *testkit.Client, status int, folder string, before *uuid.UUID) {
		t.Helper()
		c.Want(status, "PUT", "/api/folders/"+ids[folder].String()+"/place", contract.PlaceFolderJSONBody{Before: before})
	}
	place(o.hanne, 204, "d", ptr(ids["b"]))
	if got := order(o.hanne); got != "adbce" {
		t.Errorf("d before b: %s", got)
	}
	place(o.luca, 204, "a", nil)
	if got := order(o.priya); got != "dbcea" {
		t.Errorf("a behind all: %s", got)
	}
	events := o.placings()
	place(o.luca, 204, "a", nil)
	place(o.luca, 204, "e", ptr(ids["a"]))
	if n := o.placings(); n != events {
		t.Errorf("what stands where it stood is %d more events", n-events)
	}
	o.hanne.Want(204, "PUT", "/api/items/"+ids["c"].String()+"/closed", contract.Closed{Closed: true})
	place(o.luca, 404, "e", ptr(ids["c"]))
	place(o.luca, 404, "c", ptr(ids["e"]))
	place(o.luca, 204, "e", ptr(ids["b"]))
	if got := order(o.hanne); got != "debca" {
		t.Errorf("with one that is not seen: %s", got)
	}
	place(o.priya, 403, "a", ptr(ids["b"]))
	place(o.hanne, 400, "a", ptr(ids["a"]))
	place(o.hanne, 400, "a", &in)
	o.hanne.Want(404, "PUT", "/api/folders/"+o.top.String()+"/place", map[string]any{})
}

// placings are how often a folder was put elsewhere in the contents.
func (o *office) placings() (n int) {
	for _, k := range o.stream(o.hanne, "kind=folder.placed") {
		if k != "" {
			n++
		}
	}
	return n
}

// all are those of an answer that may have none.
func all[T any](some *[]T) []T {
	if some == nil {
		return nil
	}
	return *some
}

func boolInt(b bool) int {
	if b {
		return 1
	}
	return 0
}

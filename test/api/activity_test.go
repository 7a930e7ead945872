package api_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"tabularis/core/events"
	"tabularis/core/following"
	"tabularis/internal/app/activity"
	"tabularis/internal/testkit"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
)

// The stream finds the newest events that may be seen, however rare they are
// among all, and the same ones as going through all of them.
func TestStreamAgreesWithTheSlowWay(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	ctx, db := t.Context(), o.App.DB
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.quote}, to(o.People["priya"].ID)))
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.plan}, to(o.People["tomasz"].ID)))
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.yard}, to(o.People["ines"].ID)))
	// One in two thousand is about the quote, one in eighty about the plan.
	if _, err := db.Exec(`WITH made AS (INSERT INTO events (at, kind, person_id, dossier_id, item_id, outside, data)
		SELECT now(), CASE WHEN n % 5 = 0 THEN 'link.opened' ELSE 'version.added' END, CASE WHEN n % 3 = 0 THEN $4::uuid END, i.dossier_id, i.id, n % 11 = 0, '{}'
		FROM generate_series(1, 7000) n JOIN items i ON i.id = CASE WHEN n % 2000 = 7 THEN $1::uuid WHEN n % 80 = 3 THEN $2 ELSE $3 END ORDER BY n RETURNING *)
		INSERT INTO event_scopes (event_id, scope_id, kind, person_id, outside) SELECT made.id, i.scope_id, made.kind, made.person_id, made.outside FROM made JOIN items i ON i.id = made.item_id`, o.quote, o.plan, o.draft, o.People["luca"].ID); err != nil {
		t.Fatal(err)
	}
	if _, err := db.Exec(`UPDATE scopes s SET last_event_id = w.last FROM (SELECT scope_id, max(event_id) AS last FROM event_scopes GROUP BY 1) w WHERE w.scope_id = s.id`); err != nil {
		t.Fatal(err)
	}
	least := map[string]int{"hanne": 7000, "luca": 7000, "priya": 4, "tomasz": 80}
	filters := map[string]activity.EventFilter{"everything": {}, "of Luca": {Person: o.People["luca"].ID}, "of links": {Group: "link"}, "openings and endings": {Kinds: []string{"link.opened", "link.ended"}}, "from outside": {Outside: true}, "of a document": {Item: o.quote}, "of the dossier": {Dossier: o.top},
		"openings": {Kind: "link.opened"}, "openings, not by Luca": {Kind: "link.opened", But: o.People["luca"].ID}, "of Luca from outside": {Person: o.People["luca"].ID, Outside: true},
		"since an hour": {Since: o.Now().Add(-time.Hour)}, "since tomorrow": {Since: o.Now().Add(24 * time.Hour)}, "until now": {Until: o.Now()}, "Luca's since an hour": {Since: o.Now().Add(-time.Hour), Person: o.People["luca"].ID},
		"only the quote, followed":             {Heeding: following.Heeding{Only: true, Followed: following.Things{Documents: []uuid.UUID{o.quote}}}},
		"the dossier, followed, but the draft": {Heeding: following.Heeding{Only: true, Followed: following.Things{Documents: []uuid.UUID{o.quote}, Dossiers: []uuid.UUID{o.top}}, Muted: following.Things{Documents: []uuid.UUID{o.draft}}}},
		"the dossier muted, but the plan":      {Heeding: following.Heeding{Followed: following.Things{Documents: []uuid.UUID{o.plan}}, Muted: following.Things{Dossiers: []uuid.UUID{o.top}}}},
		"the draft muted":                      {Heeding: following.Heeding{Muted: following.Things{Documents: []uuid.UUID{o.draft}}}}}
	slowly := map[string][]events.Named{}
	for what, f := range filters {
		f.Limit, f.Before, f.Heeding = 100_000, 1<<62, following.Heeding{}
		all, err := activity.Events(ctx, db, f)
		if err != nil {
			t.Fatal(err)
		}
		slowly[what] = all
	}
	for _, name := range []string{"hanne", "luca", "priya", "tomasz", "ines"} {
		r, bits, err := o.App.Access.Of(ctx, o.People[name].ID, o.Now())
		if err != nil {
			t.Fatal(err)
		}
		for what, f := range filters {
			for _, limit := range []int{3, 50} {
				var want []int64
				for _, e := range slowly[what] {
					if e.Root != nil && r.Holds(*e.Zone, *e.Root) && f.Heeding.Shows(e.ItemID, e.DossierID) {
						want = append(want, e.ID)
					}
				}
				if what == "everything" && len(want) < least[name] {
					t.Fatalf("%s sees %d events, want at least %d", name, len(want), least[name])
				}
				f.Limit, f.Before = limit, 0
				// Page after page, to the end of the first few.
				for page := range 3 {
					got, err := activity.Newest(ctx, db, f, r, bits)
					if err != nil {
						t.Fatal(err)
					}
					var ids []int64
					for _, e := range got {
						ids = append(ids, e.ID)
					}
					expected := want[min(page*limit, len(want)):min((page+1)*limit, len(want))]
					if fmt.Sprint(ids) != fmt.Sprint(expected) {
						t.Fatalf("%s, %s, %d at once, page %d: %v, want %v", name, what, limit, page, ids, expected)
					}
					if len(ids) == 0 {
						break
					}
					f.Before = ids[len(ids)-1]
				}
			}
		}
		r.Sum--
		if got, err := activity.Newest(ctx, db, activity.EventFilter{Limit: 10}, r, bits); err != nil || len(got) > 0 {
			t.Errorf("%s: %d events by what was true before, %v", name, len(got), err)
		}
	}
}

// What an event says stays as it was written, whoever tries to change it; what of it
// somebody may see moves with access all the same.
func TestEventsStayAsTheyWereWritten(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	doc := w.paper("plan.txt", "plan")
	told := func() (all string) {
		t.Helper()
		if err := w.App.DB.Get(&all, `SELECT string_agg(e::text, '|' ORDER BY id) FROM events e WHERE item_id = $1`, doc); err != nil {
			t.Fatal(err)
		}
		return all
	}
	before := told()
	for _, statement := range []string{`UPDATE events SET kind = 'document.apart'`, `UPDATE events SET data = '{}', at = now()`, `DELETE FROM events`} {
		if _, err := w.App.DB.Exec(statement); err == nil {
			t.Errorf("%s went through", statement)
		}
	}
	w.hanne.Want(204, "PUT", "/api/items/"+doc.String()+"/closed", contract.Closed{Closed: true})
	if after := told(); !strings.HasPrefix(after, before) {
		t.Errorf("%s\nwas\n%s", after, before)
	}
	if n := len(testkit.Get[contract.Stream](w.priya, "/api/activity?about=documents").Events); n != 0 {
		t.Errorf("who no longer sees the document sees %d of its events", n)
	}
}

// The stream is narrowed to any kind of event there is, and to no other.
func TestEventsOfOneKind(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	doc := w.paper("a.txt", "one")
	w.paper("a.txt", "two")
	w.luca.Want(204, "PUT", "/api/items/"+doc.String()+"/name", contract.NewName{Name: "b.txt"})
	for kind, n := range map[string]int{"document.renamed": 1, "version.added": 1, "document.added": 1, "link.made": 0} {
		all := testkit.Get[contract.Stream](w.luca, "/api/activity?kind="+kind).Events
		if len(all) != n {
			t.Errorf("%d of %s", len(all), kind)
		}
		for _, e := range all {
			if string(e.Kind) != kind {
				t.Errorf("among %s is %s", kind, e.Kind)
			}
		}
	}
	if n := len(testkit.Get[contract.Stream](w.tomasz, "/api/activity?kind=document.renamed").Events); n != 0 {
		t.Errorf("who sees nothing sees %d", n)
	}
	for _, bad := range []string{"document", "document.%25", "x'"} {
		if a := w.luca.Do("GET", "/api/activity?kind="+bad, nil); a.Status != 400 {
			t.Errorf("the kind %s: %d %s", bad, a.Status, a.Body)
		}
	}
}

package api_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/testkit"
)

// What stands on an item stops every change of it, by whatever door it is tried, with
// the same reason, and nothing is left of the try.
func TestABarStopsEveryChange(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	folder := func(in uuid.UUID, name string) uuid.UUID {
		return testkit.Post[contract.Folder](w.luca, 201, fmt.Sprintf("/api/folders/%s/folders", in), contract.NewName{Name: name}).Id
	}
	yard, other := folder(w.top, "The yard"), folder(w.top, "Other")
	doc := w.luca.Upload(yard, "", "plan.txt", []byte("one")).Document.Id
	w.luca.Upload(yard, "", "plan.txt", []byte("two"))
	loose := w.luca.Upload(other, "", "loose.txt", []byte("loose")).Document.Id
	kind, intake := contract.LinkKindWorking, contract.LinkKindIntake
	_, working := w.link(contract.LinkTerms{Items: []uuid.UUID{yard}, Kind: &kind})
	_, takes := w.link(contract.LinkTerms{Items: []uuid.UUID{yard}, Kind: &intake})
	inside, deposits := w.enter(working, contract.OpenLink{}), w.enter(takes, contract.OpenLink{})
	waiting := w.luca.Begin(yard, "", "late.txt", 4).Header.Get("Location")

	barred := map[uuid.UUID]bool{yard: true, doc: true}
	w.App.Items.Bars = append(w.App.Items.Bars, func(_ context.Context, _ postgres.Q, i items.Item) ([]items.Bar, error) {
		if !barred[i.ID] {
			return nil, nil
		}
		return []items.Bar{{Refused: &fault.Error{Kind: fault.Conflict, Code: "kept-as-it-is"}}}, nil
	})
	count := func() (n int) {
		if err := w.App.DB.Get(&n, `SELECT (SELECT count(*) FROM items) + (SELECT count(*) FROM versions) + (SELECT count(*) FROM events WHERE kind NOT LIKE 'link.%') + (SELECT sum(twin) FROM items)`); err != nil {
			t.Fatal(err)
		}
		return n
	}
	before := count()
	upload := func(name, text string) testkit.Answer {
		at := w.luca.Begin(yard, "", name, len(text)).Header.Get("Location")
		return w.luca.Do("PATCH", at, strings.NewReader(text), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
	}
	for way, a := range map[string]testkit.Answer{
		"adding":                 upload("fresh.txt", "fresh"),
		"revising":               upload("plan.txt", "three"),
		"what was begun before":  w.luca.Do("PATCH", waiting, strings.NewReader("late"), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream"),
		"a folder":               w.luca.Do("POST", fmt.Sprintf("/api/folders/%s/folders", yard), contract.NewName{Name: "Deeper"}),
		"a folder by its path":   w.luca.Do("PATCH", w.luca.Begin(yard, "Deeper/still", "deep.txt", 4).Header.Get("Location"), strings.NewReader("deep"), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream"),
		"renaming":               w.luca.Do("PUT", fmt.Sprintf("/api/items/%s/name", doc), contract.NewName{Name: "drawing.txt"}),
		"renaming the folder":    w.luca.Do("PUT", fmt.Sprintf("/api/items/%s/name", yard), contract.NewName{Name: "Wharf"}),
		"moving out":             w.hanne.Do("POST", "/api/items/move", contract.Move{Items: []uuid.UUID{doc}, To: other}),
		"moving the folder":      w.hanne.Do("POST", "/api/items/move", contract.Move{Items: []uuid.UUID{yard}, To: other}),
		"moving in":              w.hanne.Do("POST", "/api/items/move", contract.Move{Items: []uuid.UUID{loose}, To: yard}),
		"separating":             w.luca.Do("POST", fmt.Sprintf("/api/documents/%s/versions/2/separation", doc), nil),
		"a visitor who deposits": put(deposits, takes, "papers.txt", []byte("papers")),
		"a visitor who works":    put(inside, working, "notes.txt", []byte("notes")),
		"a visitor who revises":  put(inside, working, "plan.txt", []byte("four")),
	} {
		if a.Status != 409 || a.Code() != "kept-as-it-is" {
			t.Errorf("%s: %d %s", way, a.Status, a.Body)
		}
	}
	if after := count(); after != before {
		t.Errorf("%d rows before, %d after", before, after)
	}
	// What nothing stands on goes on as ever.
	clear(barred)
	if a := upload("plan.txt", "three"); a.Status != 204 {
		t.Errorf("afterwards: %d %s", a.Status, a.Body)
	}
}

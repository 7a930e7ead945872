package demo

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/google/uuid"

	"tabularis/core/route"
	"tabularis/core/working"
	"tabularis/internal/app/decisions"
)

// deed is something that somebody does about a decision on a document.
type deed struct {
	ago       int
	clock, by string
	// item is the document; all are of MER-24.
	item string
	// asks are whom they ask by hand; without anybody and without a verdict they start the route.
	asks    []string
	do      route.Doing
	rule    route.Rule
	verdict route.Verdict
	note    string
}

// deeds are what the practice asked and decided lately.
var deeds = []deed{
	{19, "09:40", "luca", "Survey plan.pdf", []string{"tomasz"}, route.Approve, "", "", "The plan for the docking, as we spoke."},
	{18, "11:05", "tomasz", "Survey plan.pdf", nil, "", "", route.Agrees, "Begin at frame 12."},
	{10, "09:30", "priya", "Interim report.pdf", []string{"tomasz", "hanne"}, route.Review, route.All, "", ""},
	{10, "14:20", "tomasz", "Interim report.pdf", nil, "", "", route.Agrees, ""},
	{9, "10:15", "hanne", "Interim report.pdf", nil, "", "", route.Agrees, "Figures agree with the fee note."},
	{4, "15:30", "hanne", "Fee note, first stage.pdf", []string{"ines"}, route.Approve, "", "", ""},
	{4, "16:50", "ines", "Fee note, first stage.pdf", nil, "", "", route.Agrees, ""},
	{4, "15:10", "priya", "Condition survey report.pdf", nil, "", "", "", ""},
	{3, "16:42", "luca", "Condition survey report.pdf", nil, "", "", route.Returns, "Frame 31 is missing, and the cost with it."},
	{0, "17:50", "tomasz", "Condition survey report.pdf", nil, "", "", route.Agrees, "Frame 31 is gauged; all agrees."},
	{3, "16:50", "ines", "Thickness, frames 12–44.csv", []string{"tomasz"}, route.Review, "", "", "Frames 29 to 33 above all."},
	{2, "10:05", "luca", "Preliminary findings.pdf", nil, "", "", "", ""},
	{1, "09:20", "tomasz", "Preliminary findings.pdf", nil, "", "", route.Agrees, ""},
	{1, "14:49", "luca", "Repair estimate, deck.xlsx", []string{"ines", "priya"}, route.Approve, route.InTurn, "", "Staging has doubled since spring. Please look there first."},
}

// decide lets the practice have its routes, and its documents decided on.
func (l *loader) decide() {
	var id uuid.UUID
	l.plan(when(l.now, 21, "09:00"), func(ctx context.Context) error {
		for _, model := range []route.Definition{l.release(l.folders["MER-24 Issued"]), l.model(secondLook, l.groups["Survey team"]), l.model(feeNote, l.people["hanne"].ID)} {
			if _, err := l.Routes.Make(l.as(ctx, "hanne"), nil, model); err != nil {
				return err
			}
		}
		made, err := l.Routes.Make(l.as(ctx, "ines"), ptrTo(l.folders["MER-24 Reports"]), l.release(l.folders["MER-24 Issued"]))
		if err == nil {
			err = l.Routes.Switch(l.as(ctx, "ines"), made, true)
		}
		id = made
		return err
	})
	l.plan(when(l.now, 2, "12:00"), func(ctx context.Context) error {
		away := func(days int) string { return l.now.AddDate(0, 0, days).Format(time.DateOnly) }
		return l.Decisions.BeAway(l.as(ctx, "priya"), away(2), away(4), &[]uuid.UUID{l.people["tomasz"].ID}[0])
	})
	for _, d := range deeds {
		at := when(l.now, d.ago, d.clock)
		if d.ago == 0 {
			// After whatever else there was today.
			at = l.now.Add(-time.Minute)
		}
		l.plan(at, func(ctx context.Context) error {
			if err := l.deed(l.as(ctx, d.by), d, id); err != nil {
				return fmt.Errorf("%s about %s: %w", d.by, d.item, err)
			}
			return nil
		})
	}
}

func ptrTo[T any](v T) *T { return &v }

func (l *loader) deed(ctx context.Context, d deed, of uuid.UUID) error {
	document := l.item("MER-24", d.item)
	switch {
	case d.verdict != "":
		all, err := l.Decisions.Of(ctx, document)
		if err != nil {
			return err
		}
		// What came in since is decided on, not what was there when it was asked.
		i, err := l.Documents.Open(ctx, document)
		if err != nil {
			return err
		}
		c := route.Content{Version: i.Version, SHA256: fmt.Sprintf("%x", i.SHA256)}
		pages := []int{1, 2, 3, 4, 5, 6}
		return l.Decisions.Decide(ctx, all[0].ID, decisions.Decision{Verdict: d.verdict, Content: c, Note: d.note, Pages: pages, Of: len(pages)})
	case len(d.asks) == 0:
		return l.Routes.StartHere(ctx, of, []uuid.UUID{document}, d.note)
	}
	w := decisions.Wish{Documents: []uuid.UUID{document}, Do: d.do, Rule: d.rule, Within: &working.Span{N: 2, Unit: working.InDays}, Message: d.note}
	for _, who := range d.asks {
		w.Who = append(w.Who, route.Who{Person: ptrTo(l.people[who].ID)})
	}
	_, err := l.Decisions.Ask(ctx, w)
	return err
}

// release is the practice's usual route.
func (l *loader) release(issued uuid.UUID) route.Definition {
	person := func(key string) string { return l.people[key].ID.String() }
	estimate := l.particular("Estimate")
	raw := fmt.Sprintf(`{"name": "Report release", "purpose": "For survey reports that leave the practice.", "starts": [{"on": "hand"}, {"on": "arrives", "folder": %q}], "stops": [
		{"cases": [{"do": "review", "who": [{"group": %q}], "notAuthor": true, "within": {"n": 2, "unit": "days"}}]},
		{"cases": [
			{"when": {"test": {"of": "particular", "particular": %q, "is": "at-least", "value": "250000"}}, "do": "approve", "who": [{"person": %q}], "within": {"n": 2, "unit": "days"}},
			{"when": {"test": {"of": "particular", "particular": %q, "is": "under", "value": "250000"}}, "do": "approve", "who": [{"person": %q}], "within": {"n": 2, "unit": "days"}},
			{"when": {"test": {"of": "particular", "particular": %q, "is": "not-set"}}, "do": "hold", "who": [{"role": "author"}]}]},
		{"cases": [{"do": "move", "folder": %q, "issues": true}]},
		{"cases": [{"do": "tell", "who": [{"person": %q}, {"person": %q}], "instructions": "It is issued."}]}]}`,
		l.folders["MER-24 For release"], l.groups["Survey team"], estimate, person("ines"), estimate, person("priya"), estimate, issued, person("hanne"), person("luca"))
	return l.model(raw)
}

// Models that any dossier can take: readings are looked at by somebody else each time they change, and a
// fee note goes out on the word of whoever keeps the books.
const (
	secondLook = `{"name": "Second look", "purpose": "For readings and estimates that somebody else should see each time they change.", "starts": [{"on": "arrives"}, {"on": "version"}], "content": "again", "stops": [
		{"cases": [{"do": "review", "who": [{"group": %q}], "notAuthor": true, "within": {"n": 1, "unit": "days"}, "remind": {"n": 4, "unit": "hours"}}]}]}`
	feeNote = `{"name": "Fee note", "purpose": "For fee notes, before they go to a client.", "starts": [{"on": "hand"}], "content": "lapse", "stops": [
		{"cases": [{"do": "approve", "who": [{"person": %q}], "within": {"n": 1, "unit": "days"}, "returned": {"to": "author", "again": "here"}}]},
		{"cases": [{"do": "tell", "who": [{"role": "author"}], "instructions": "It may go out."}]}]}`
)

// model reads a definition, with ids in it.
func (l *loader) model(raw string, ids ...any) (d route.Definition) {
	if len(ids) > 0 {
		raw = fmt.Sprintf(raw, ids...)
	}
	if err := json.Unmarshal([]byte(raw), &d); err != nil {
		panic(err)
	}
	return d
}

// particular is the id of one that the practice defined.
func (l *loader) particular(name string) uuid.UUID {
	for _, d := range kept {
		if d.Name == name {
			return d.ID
		}
	}
	return uuid.Nil
}

package demo

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	rules "tabularis/core/access"
	"tabularis/core/richtext"
	"tabularis/internal/app/sharing"
	"tabularis/internal/app/uploads"
)

// written is a letter that is still being written.
const written = `Marit Juhl\
Pelham Dry Dock, Tessaly

## Ferry Corran Lass: side shell, port

We gauged the port side shell between frames 18 and 44 on 9, 10 and 20 November. At frame 31 we measured **6.9 mm** of 10.0 mm, a diminution of 31.0 %; for this strake class allows 25 %.

Please renew the plates over frames 24 to 32, and crop the doubler at frame 31 before the new plate is offered up.

The work is to be finished before the vessel returns to service.

We attend when the plates are fitted and before they are coated. Please give us two working days’ notice of each.

| Frame | Was, mm | Is, mm |
| --- | --: | --: |
| 24 | 10.0 | 7.4 |
| 31 | 10.0 | 6.9 |

- [x] Gauging report sent
- [ ] Plate list from the yard

Yours sincerely
`

// together lets a letter be written: the owners' manager proposes a date in it.
func (l *loader) together() {
	const name = "Survey letter to the yard.md"
	l.plan(when(l.now, 1, "16:05"), func(ctx context.Context) error {
		ctx = l.as(ctx, "ines")
		u, err := l.Uploads.Put(ctx, uploads.Wish{Folder: l.item("MER-24", "Repair/The yard"), Name: name, Size: int64(len(written))}, strings.NewReader(written))
		if err != nil {
			return fmt.Errorf("beginning a letter: %w", err)
		}
		l.documents["MER-24 "+name] = *u.ItemID
		return l.let(ctx, *u.ItemID, rules.LevelPropose, nil, sharing.Recipient{ID: l.people["odile"].ID})
	})
	l.plan(when(l.now, 0, "00:20"), func(ctx context.Context) error {
		mark := func(kind string) map[string]any {
			return map[string]any{"type": kind, "attrs": map[string]any{"id": "date", "by": l.people["odile"].ID.String(), "at": l.clock.at.UnixMilli()}}
		}
		ctx = l.as(ctx, "odile")
		seat, o, err := l.Writing.Join(ctx, l.item("MER-24", name), "the owners' desk", 0, 0)
		if err != nil {
			return fmt.Errorf("opening a letter: %w", err)
		}
		defer seat.Leave()
		const goes, comes = "before the vessel returns to service", "by Friday 18 December; the crew comes aboard on Monday 21 December"
		from := find(o.Text(), goes)
		if from < 0 {
			return errors.New("the letter says something else")
		}
		to := from + len(goes)
		var steps []json.RawMessage
		for _, s := range []any{
			map[string]any{"stepType": "addMark", "from": from, "to": to, "mark": mark("deleted")},
			map[string]any{"stepType": "replace", "from": to, "to": to, "slice": map[string]any{"content": []any{map[string]any{"type": "text", "text": comes, "marks": []any{mark("inserted")}}}}},
		} {
			raw, err := json.Marshal(s)
			if err != nil {
				return err
			}
			steps = append(steps, raw)
		}
		_, err = seat.Send(ctx, o.Version, steps)
		return err
	})
}

// find is where words begin that stand in plain letters in one piece of text.
func find(doc *richtext.Node, words string) int {
	at := -1
	doc.Walk(func(n *richtext.Node, pos int) bool {
		if i := strings.Index(n.Text, words); at < 0 && i >= 0 {
			at = pos + i
		}
		return true
	})
	return at
}

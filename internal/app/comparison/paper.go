package comparison

import (
	"context"
	"fmt"
	"strings"

	"tabularis/core/diff"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/paper"
)

// Paper writes what differs on pages: removed words struck out, added ones underlined,
// cells as they were and are.
func (s *Service) Paper(ctx context.Context, p Pair) (raw []byte, name string, err error) {
	c, err := s.Compare(ctx, p)
	if err != nil {
		return nil, "", err
	}
	if c.Text == nil && c.Table == nil && !c.Same {
		return nil, "", errNoPaper.New("there are no words and no cells to be printed; both can be downloaded")
	}
	_, zone, err := practice.PracticeZone(ctx, s.acts.DB)
	if err != nil {
		return nil, "", err
	}
	sheet := paper.Sheet{Title: c.B.Item.Name}
	for i, side := range []Side{c.A, c.B} {
		mark := []string{"–", "+"}[i]
		sheet.Lines = append(sheet.Lines, fmt.Sprintf("%s %s, %s, v. %d, %s, SHA-256 %x", mark, side.Ref(), side.Item.Name, side.VNumber, side.VAt.In(zone).Format("2006-01-02 15:04 MST"), side.VSHA256))
	}
	switch {
	case c.Text != nil:
		sheet.Runs = textRuns(c.Text.Pieces)
	case c.Table != nil:
		sheet.Runs = tableRuns(*c.Table)
	}
	err = s.inTurn(ctx, func() { raw, err = sheet.PDF() })
	return raw, c.B.Item.Name, err
}

// kept is how many characters of a long part that is the same stand before and after a
// change.
const kept = 320

func textRuns(pieces []diff.Piece) (runs []paper.Run) {
	for i, p := range pieces {
		text := []rune(p.Text)
		switch {
		case p.Kind == diff.Removed:
			runs = append(runs, paper.Run{Text: p.Text, Style: paper.Struck})
		case p.Kind == diff.Added:
			runs = append(runs, paper.Run{Text: p.Text, Style: paper.Underlined})
		case len(text) <= 2*kept+100:
			runs = append(runs, paper.Run{Text: p.Text})
		default:
			before, after := string(text[:kept]), string(text[len(text)-kept:])
			if i == 0 {
				before = ""
			}
			if i == len(pieces)-1 {
				after = ""
			}
			runs = append(runs, paper.Run{Text: before + "\n[…]\n" + after})
		}
	}
	return runs
}

func tableRuns(t Table) (runs []paper.Run) {
	add := func(style paper.Style, format string, args ...any) {
		runs = append(runs, paper.Run{Text: fmt.Sprintf(format, args...), Style: style})
	}
	for _, row := range t.Rows {
		switch {
		case row.Kind() == diff.Removed:
			add(paper.Struck, "%d: %s", row.A+1, strings.Join(t.A[row.A], " | "))
		case row.Kind() == diff.Added:
			add(paper.Underlined, "%d: %s", row.B+1, strings.Join(t.B[row.B], " | "))
		case len(row.Changed) > 0:
			add(paper.Plain, "%d:", row.B+1)
			for _, n := range row.Changed {
				column := t.Columns[n]
				add(paper.Plain, "  %s: ", column.Name)
				add(paper.Struck, "%s", diff.Cell(t.A, row.A, column.A))
				add(paper.Plain, " ")
				add(paper.Underlined, "%s", diff.Cell(t.B, row.B, column.B))
			}
		default:
			continue
		}
		add(paper.Plain, "\n")
	}
	return runs
}

// Package comparison says how versions and documents differ.
package comparison

import (
	"bytes"
	"context"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/diff"
	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/uploads"
	"tabularis/internal/platform/pages"
	"tabularis/internal/platform/preview"
	"tabularis/internal/platform/reading"
	"tabularis/internal/platform/turns"
)

// Service compares.
type Service struct {
	acts     *act.Runner
	access   *guard.Guard
	contents *tree.Contents
	pages    *pages.Maker
	uploads  *uploads.Service
	turns    *turns.Queue
}

// atOnce is how many comparisons run at once: each keeps a processor for a moment.
const atOnce = 2

// New makes a service whose comparisons wait their turn, fairly by who asks.
func New(acts *act.Runner, access *guard.Guard, contents *tree.Contents, drawer *pages.Maker, incoming *uploads.Service) *Service {
	return &Service{acts, access, contents, drawer, incoming, turns.New(atOnce, turns.Limits{All: 60, Each: 8, Patience: 30 * time.Second})}
}

// inTurn does what takes a processor's time when it is the asker's turn.
func (s *Service) inTurn(ctx context.Context, do func()) error {
	asker := act.Who(ctx).Person.ID.String()
	if err := s.turns.Enter(ctx, asker); err != nil {
		return err
	}
	defer s.turns.Leave(asker)
	do()
	return nil
}

// Pair is what is compared: a version of a document with another one, or with one of
// another document. Number 0 means the counting version.
type Pair struct {
	Document uuid.UUID
	From     int
	With     uuid.UUID
	To       int
}

// Side is one of the two.
type Side struct {
	guard.ContentSight
}

// maxText is how much text is compared, in bytes.
const maxText = 8 << 20

// Compared is how the one differs from the other. One of Text and Table is set, or
// neither, where the content cannot be compared but as a whole.
type Compared struct {
	A, B Side
	// Same says that they hold the same, byte by byte.
	Same bool
	Text *diff.Text
	// Pages are those of the other on which something changed, where it has pages, of so
	// many.
	Pages  []int
	PagesA int
	PagesB int
	Table  *Table
}

// Table is a difference by cells with the rows themselves.
type Table struct {
	diff.Table
	A, B [][]string
	// Sheet is the name of the sheet, where there are several: it is the first one that
	// differs. Cut says that only the beginning was compared.
	Sheet  string
	Others []string
	Cut    bool
}

// Compare says how a pair differs. Whoever compares may download both: what stands in
// them leaves with it.
func (s *Service) Compare(ctx context.Context, p Pair) (Compared, error) {
	c, err := s.sides(ctx, p)
	if err != nil || c.Same {
		return c, err
	}
	la, lb := preview.LookOf(c.A.VType), preview.LookOf(c.B.VType)
	if la == preview.Table && lb == preview.Table {
		c.Table, err = s.tables(ctx, c)
		return c, err
	}
	return c, s.texts(ctx, &c)
}

func (s *Service) sides(ctx context.Context, p Pair) (c Compared, err error) {
	now := s.acts.Now()
	if c.A.ContentSight, err = s.access.Content(ctx, s.acts.DB, p.Document, p.From, access.Download, now); err != nil {
		return c, err
	}
	if p.With == uuid.Nil {
		p.With = p.Document
	}
	c.B.ContentSight, err = s.access.Content(ctx, s.acts.DB, p.With, p.To, access.Download, now)
	c.Same = bytes.Equal(c.A.VSHA256, c.B.VSHA256)
	return c, err
}

func (s *Service) source(ctx context.Context, v items.Version) reading.Source {
	return s.contents.Source(ctx, v, act.Who(ctx).Person.ID.String())
}

func (s *Service) texts(ctx context.Context, c *Compared) error {
	if !preview.HasText(c.A.VType, c.A.VSize) || !preview.HasText(c.B.VType, c.B.VSize) {
		return nil
	}
	a, readable, err := s.contents.Reader.Text(ctx, s.source(ctx, c.A.Version()))
	if err != nil || !readable {
		return err
	}
	b, readable, err := s.contents.Reader.Text(ctx, s.source(ctx, c.B.Version()))
	if err != nil || !readable {
		return err
	}
	ta, tb := joined(a), joined(b)
	if len(ta) > maxText || len(tb) > maxText {
		return errTooLarge.New("they are too large to be compared; both can be downloaded")
	}
	var t diff.Text
	if err := s.inTurn(ctx, func() { t = diff.Words(ta, tb) }); err != nil {
		return err
	}
	c.Text = &t
	if b.Paged {
		c.Pages, c.PagesA, c.PagesB = changedPages(t), len(a.Parts), len(b.Parts)
	}
	return nil
}

// pageEnd stands between the texts of two pages.
const pageEnd = "\f\n"

func joined(p preview.Plain) string {
	var out strings.Builder
	for i, part := range p.Parts {
		if i > 0 {
			out.WriteString(pageEnd)
		}
		out.WriteString(strings.ReplaceAll(part, "\r\n", "\n"))
		if !strings.HasSuffix(part, "\n") && i+1 < len(p.Parts) {
			out.WriteString("\n")
		}
	}
	return out.String()
}

// changedPages lists the pages of the other, counted from 1, on which something changed.
func changedPages(t diff.Text) (pages []int) {
	page := 1
	note := func() {
		if len(pages) == 0 || pages[len(pages)-1] != page {
			pages = append(pages, page)
		}
	}
	for _, p := range t.Pieces {
		if p.Kind == diff.Removed {
			note()
			continue
		}
		for i, part := range strings.Split(p.Text, "\f") {
			if i > 0 {
				page++
			}
			if p.Kind == diff.Added && strings.TrimSpace(part) != "" {
				note()
			}
		}
	}
	return pages
}

func (s *Service) tables(ctx context.Context, c Compared) (*Table, error) {
	a, err := s.contents.Reader.Prepare(ctx, s.source(ctx, c.A.Version()))
	if err != nil {
		return nil, err
	}
	b, err := s.contents.Reader.Prepare(ctx, s.source(ctx, c.B.Version()))
	if err != nil {
		return nil, err
	}
	var out *Table
	err = s.inTurn(ctx, func() { out = differing(a, b) })
	return out, err
}

// differing compares sheet by sheet, and keeps the first that differs.
func differing(a, b preview.Prepared) (out *Table) {
	for _, pair := range sheets(a.Sheets, b.Sheets) {
		t := Table{Table: diff.Tables(pair[0].Rows, pair[1].Rows), A: pair[0].Rows, B: pair[1].Rows, Cut: pair[0].Cut || pair[1].Cut || a.Cut || b.Cut, Sheet: pair[1].Name}
		if t.Sheet == "" {
			t.Sheet = pair[0].Name
		}
		switch {
		case out == nil:
			out = &t
		case !t.Differs():
		case !out.Differs():
			out = &t
		default:
			out.Others = append(out.Others, t.Sheet)
		}
	}
	return out
}

// sheets pairs the sheets of two tables by their names; one that only one of them has is
// compared with nothing.
func sheets(a, b []preview.Sheet) (pairs [][2]preview.Sheet) {
	used := map[int]bool{}
	for i, x := range a {
		y := preview.Sheet{}
		for j, other := range b {
			if !used[j] && (other.Name == x.Name || len(a) == 1 && len(b) == 1) {
				y, used[j] = other, true
				break
			}
		}
		pairs = append(pairs, [2]preview.Sheet{a[i], y})
	}
	for j, y := range b {
		if !used[j] {
			pairs = append(pairs, [2]preview.Sheet{{}, y})
		}
	}
	return pairs
}

// Lines reports whether both are texts, which differ line by line, too.
func (c Compared) Lines() bool {
	for _, side := range []Side{c.A, c.B} {
		look := preview.LookOf(side.VType)
		if look != preview.Text && look != preview.Markdown && (look != preview.Table || !strings.HasPrefix(side.VType, "text/")) {
			return false
		}
	}
	return true
}

// Patch writes how texts differ, in the unified format. Refused is what is no text.
func (s *Service) Patch(ctx context.Context, p Pair) (patch, name string, err error) {
	c, err := s.sides(ctx, p)
	if err != nil {
		return "", "", err
	}
	if !c.Lines() {
		return "", "", errNoPatch.New("only texts have differences line by line")
	}
	a, _, err := s.contents.Reader.Text(ctx, s.source(ctx, c.A.Version()))
	if err != nil {
		return "", "", err
	}
	b, _, err := s.contents.Reader.Text(ctx, s.source(ctx, c.B.Version()))
	if err != nil {
		return "", "", err
	}
	ta, tb := strings.Join(a.Parts, ""), strings.Join(b.Parts, "")
	if len(ta) > maxText || len(tb) > maxText {
		return "", "", errTooLarge.New("they are too large to be compared; both can be downloaded")
	}
	err = s.inTurn(ctx, func() { patch, _ = diff.Unified(ta, tb, c.A.Item.Name, c.B.Item.Name) })
	return patch, c.B.Item.Name, err
}

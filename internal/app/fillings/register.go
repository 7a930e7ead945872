package fillings

import (
	"context"
	"slices"
	"strconv"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/fillings"
	"tabularis/core/items"
	"tabularis/core/names"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
)

// Column is a field of the register: what was asked under that name last.
type Column struct {
	ID, Label string
	Kind      fillings.Kind
	// Gone says that the form does not ask it any more.
	Gone bool
}

// Row is what somebody handed in.
type Row struct {
	ID          uuid.UUID
	Number      int
	Name, Email string
	Known       string
	// Link is the name of the link through which they came; empty for people.
	Link     string
	Version  int
	HandedAt time.Time
	TakenAt  *time.Time
	TakenBy  string
	// Paper is what was filed, as far as it is seen.
	Paper   *guard.Sight
	Answers fillings.Answers
	paper   *uuid.UUID
}

// Begun is somebody who has not handed in yet: that they have begun is all that is known.
type Begun struct {
	Name, Email string
	At          time.Time
}

// Register is what was handed in with a form.
type Register struct {
	At      guard.Sight
	Version int
	Columns []Column
	Rows    []Row
	// More says that there are rows below the last one.
	More  bool
	Begun []Begun
}

// MostRows is how many rows come at once, mostTabled how many a file holds.
const (
	MostRows   = 200
	mostTabled = 20_000
	mostShown  = 50
)

// Handed is what was handed in, below a number where one is given. Only whoever may change the form reads it.
func (s *Service) Handed(ctx context.Context, document uuid.UUID, below int) (Register, error) {
	out, err := s.handed(ctx, document, below, MostRows)
	for i := range out.Rows {
		if err == nil {
			err = s.findPaper(ctx, &out.Rows[i])
		}
	}
	return out, err
}

func (s *Service) handed(ctx context.Context, document uuid.UUID, below, most int) (out Register, err error) {
	if below < 0 {
		return out, fault.Parameter.New("a number is at least 1")
	}
	if out.At, err = s.Access.Kind(ctx, s.Acts.DB, document, items.Document, access.Change, s.Acts.Now()); err != nil {
		return out, err
	}
	known, form, err := s.ask(ctx, out.At.Item)
	if err != nil {
		return out, err
	}
	out.Version = known.Version
	for _, f := range form.Fields() {
		out.Columns = append(out.Columns, Column{ID: f.ID, Label: f.Label, Kind: f.Kind})
	}
	rows, err := handedIn(ctx, s.Acts.DB, document, below, most+1)
	if err != nil {
		return out, err
	}
	if out.More = len(rows) > most; out.More {
		rows = rows[:most]
	}
	for _, r := range rows {
		if err := s.row(&out, r); err != nil {
			return out, err
		}
	}
	if below == 0 {
		started, err := underWay(ctx, s.Acts.DB, document, mostShown)
		if err != nil {
			return out, err
		}
		for _, r := range started {
			out.Begun = append(out.Begun, Begun{r.Name, r.Email, r.KeptAt})
		}
	}
	return out, nil
}

func (s *Service) row(out *Register, r shown) error {
	answered, err := s.handedOf(r.row)
	if err != nil {
		return err
	}
	made := Row{ID: r.ID, Number: *r.Number, Name: r.Name, Email: r.Email, Known: r.Known, Version: *r.Version, HandedAt: *r.HandedAt, TakenAt: r.TakenAt, Answers: fillings.Answers{}, paper: r.PaperID}
	if r.TakenName != nil {
		made.TakenBy = *r.TakenName
	}
	if r.Link != nil {
		made.Link = *r.Link
	}
	for _, a := range answered {
		if !slices.ContainsFunc(out.Columns, func(c Column) bool { return c.ID == a.ID }) {
			out.Columns = append(out.Columns, Column{a.ID, a.Label, a.Kind, true})
		}
		made.Answers[a.ID] = a.Value
	}
	out.Rows = append(out.Rows, made)
	return nil
}

// findPaper finds the paper of a row, as far as the acting person sees it.
func (s *Service) findPaper(ctx context.Context, r *Row) error {
	if r.paper == nil {
		return nil
	}
	at, err := s.Access.Kind(ctx, s.Acts.DB, *r.paper, items.Document, access.See, s.Acts.Now())
	if fault.Is(err, fault.NotFound) {
		return nil
	}
	r.Paper = &at
	return err
}

// Table is the register as rows of cells, safe to be opened by a spreadsheet program.
func (s *Service) Table(ctx context.Context, document uuid.UUID) (table [][]string, at guard.Sight, err error) {
	r, err := s.handed(ctx, document, 0, mostTabled)
	if err != nil {
		return nil, at, err
	}
	head := []string{"number", "handed in", "by", "email", "version"}
	for _, c := range r.Columns {
		head = append(head, c.Label)
	}
	table = append(table, names.Cells(head))
	for _, row := range r.Rows {
		cells := []string{strconv.Itoa(row.Number), row.HandedAt.Format(time.RFC3339), row.Name, row.Email, strconv.Itoa(row.Version)}
		for _, c := range r.Columns {
			cells = append(cells, row.Answers[c.ID])
		}
		table = append(table, names.Cells(cells))
	}
	return table, r.At, nil
}

// TakeUp says that the acting person has begun to work on what was handed in: from then on it stays as it is.
func (s *Service) TakeUp(ctx context.Context, document, filling uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		at, err := s.Access.Kind(ctx, tx, document, items.Document, access.Change, tx.Now)
		if err != nil {
			return err
		}
		if err := tree.LockDossier(ctx, tx, at.DossierID); err != nil {
			return err
		}
		taken, err := takeUp(ctx, tx, document, filling, tx.Actor.Person.ID, tx.Now)
		if err == nil && !taken {
			err = fault.Missing()
		}
		return err
	})
}

package fillings

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/address"
	"tabularis/core/fault"
	"tabularis/core/fillings"
	"tabularis/core/items"
	"tabularis/core/terms"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/links"
	"tabularis/internal/app/visits"
	"tabularis/internal/platform/postgres"
)

// Who is whoever fills in: somebody signed in, a document; a visitor, what their link gives.
type Who struct {
	Document uuid.UUID
	Visitor  *visits.Visitor
}

// filler is who was found, and what they fill in.
type filler struct {
	item items.Item
	// key is by what they come back to what they have begun.
	key string
	// resumes says that they can do so on another day, and elsewhere.
	resumes     bool
	person      *uuid.UUID
	link        *links.Link
	visitor     visits.Visitor
	visit       visits.Visit
	name, email string
	known       string
}

// find finds who fills in. Whoever may not finds nothing.
func (s *Service) find(ctx context.Context, q postgres.Q, w Who) (f filler, err error) {
	if w.Visitor != nil {
		return s.findVisitor(ctx, q, *w.Visitor)
	}
	who := act.Who(ctx).Person
	if who == nil {
		return f, fault.SignedOut()
	}
	at, err := s.Access.Kind(ctx, q, w.Document, items.Document, access.See|access.Fill, s.Acts.Now())
	return filler{item: at.Item, key: "person:" + who.ID.String(), resumes: true, person: &who.ID, name: who.Name, email: who.Email, known: "account"}, err
}

func (s *Service) findVisitor(ctx context.Context, q postgres.Q, v visits.Visitor) (f filler, err error) {
	l, visit, form, err := s.Visits.Filling(ctx, q, v)
	if err != nil {
		return f, err
	}
	f = filler{item: form, link: &l, visitor: v, visit: visit, name: visit.Name, email: visit.Email, known: visit.Known}
	key := "link:" + l.ID.String() + " "
	// An address that was merely stated is anybody's.
	switch {
	case visit.Sure():
		f.key, f.resumes = key+"mail:"+address.Key(visit.Email), true
	case visit.SentTo != "":
		f.key, f.resumes = key+"copy:"+address.Key(visit.SentTo), true
	default:
		f.key = key + "visit:" + visit.ID.String()
	}
	return f, nil
}

// Filling is a form as somebody fills it in.
type Filling struct {
	Item     items.Item
	Version  int
	Form     fillings.Form
	Clock    fillings.Clock
	Answers  fillings.Answers
	Standing fillings.Standing
	// KeptAt is when something was kept last; nil where nothing was.
	KeptAt *time.Time
	// Resumes says that it can be gone on with on another day.
	Resumes bool
	// Number and HandedAt are those of what was handed in; Changed says that something was answered otherwise since, and
	// TakenAt when it was taken up, from when on it stays as it is.
	Number   *int
	HandedAt *time.Time
	SHA256   []byte
	Changed  bool
	TakenAt  *time.Time
	Name     string
	Email    string
	// Letter is what stands beside it for visitors.
	Letter *Letter
}

// Letter is who lets a form be filled in, and under which terms.
type Letter struct {
	Sender   accounts.Person
	Message  string
	Sentence terms.Sentence
}

// Get gives a form as whoever asks fills it in.
func (s *Service) Get(ctx context.Context, w Who) (out Filling, err error) {
	f, err := s.find(ctx, s.Acts.DB, w)
	if err != nil {
		return out, err
	}
	return s.filling(ctx, f)
}

func (s *Service) filling(ctx context.Context, f filler) (out Filling, err error) {
	known, form, err := s.ask(ctx, f.item)
	if err != nil || known.Fields == 0 {
		return out, orNone(err)
	}
	out = Filling{Item: f.item, Version: known.Version, Form: form, Resumes: f.resumes, Name: f.name, Email: f.email}
	if f.link != nil {
		l := Letter{Message: f.link.Message}
		if l.Sender, l.Sentence, err = s.Visits.Terms(ctx, s.Acts.DB, *f.link); err != nil {
			return out, err
		}
		out.Letter = &l
	}
	if out.Clock, err = s.clock(ctx); err != nil {
		return out, err
	}
	r, err := latest(ctx, s.Acts.DB, f.item.ID, f.key)
	switch {
	case fault.Is(err, fault.NotFound):
		out.Answers = fillings.Answers{}
	case err != nil:
		return out, err
	default:
		out.KeptAt, out.Number, out.HandedAt, out.SHA256, out.TakenAt = &r.KeptAt, r.Number, r.HandedAt, r.PaperSHA256, r.TakenAt
		if r.Name != "" {
			out.Name = r.Name
		}
		if out.Answers, err = s.answersOf(r); err != nil {
			return out, err
		}
		out.Changed = r.HandedAt != nil && r.TakenAt == nil && r.KeptAt.After(*r.HandedAt)
	}
	out.Standing = form.Standing(out.Answers, out.Clock)
	return out, nil
}

// answersOf are what somebody answers now; once it was taken up, what they handed in.
func (s *Service) answersOf(r row) (a fillings.Answers, err error) {
	if r.TakenAt == nil {
		return a, unsealed(s.Keys, r.Answers, answersPurpose, &a)
	}
	handed, err := s.handedOf(r)
	a = fillings.Answers{}
	for _, one := range handed {
		a[one.ID] = one.Value
	}
	return a, err
}

func (s *Service) handedOf(r row) (all []fillings.Answered, err error) {
	return all, unsealed(s.Keys, r.Handed, answersPurpose, &all)
}

// Limits of what is kept before it is handed in.
const (
	mostBegun = 2000
	mostBytes = 256 << 10
)

var (
	errFull  = fault.Declare(fault.RateLimited, "form-full", "as many have begun to fill it in as can at once")
	errLarge = fault.Declare(fault.TooLarge, "answers-large", "the answers are larger than is taken")
	// ErrTaken is refused where what was handed in is being worked on.
	ErrTaken = fault.Declare(fault.Conflict, "filling-taken", "it is being worked on, and stays as it was handed in")
)

// Keep keeps answers to some fields, as one goes. Again begins anew after what was handed in was taken up.
func (s *Service) Keep(ctx context.Context, w Who, answers fillings.Answers, again bool) (out Filling, err error) {
	f, err := s.find(ctx, s.Acts.DB, w)
	if err != nil {
		return out, err
	}
	known, form, err := s.ask(ctx, f.item)
	if err != nil || known.Fields == 0 {
		return out, orNone(err)
	}
	err = s.Acts.Do(ctx, func(tx *act.Tx) error {
		r, err := s.opened(ctx, tx, f, again)
		if err != nil {
			return err
		}
		have, err := s.answersOf(r)
		if err != nil {
			return err
		}
		next, err := form.Put(have, answers)
		if err != nil {
			return err
		}
		raw, err := json.Marshal(next)
		if err != nil {
			return err
		}
		if len(raw) > mostBytes {
			return errLarge.New("at most %d bytes are taken", mostBytes)
		}
		return putAnswers(ctx, tx, r.ID, s.Keys.Seal(raw, answersPurpose), tx.Now)
	})
	if err != nil {
		return out, err
	}
	return s.filling(ctx, f)
}

// opened is what somebody fills in, begun now if need be.
func (s *Service) opened(ctx context.Context, tx *act.Tx, f filler, again bool) (r row, err error) {
	r, err = open(ctx, tx, f.item.ID, f.key)
	if !fault.Is(err, fault.NotFound) {
		return r, err
	}
	if before, err := latest(ctx, tx, f.item.ID, f.key); err == nil && !again {
		return before, ErrTaken.New("what was handed in is being worked on")
	}
	// Only one at a time counts those who have begun.
	if _, err := fillableOf(ctx, tx, f.item.ID, true); err != nil {
		return r, err
	}
	n, err := begun(ctx, tx, f.item.ID)
	if err != nil {
		return r, err
	}
	if n >= mostBegun {
		return r, errFull.New("%d have begun", n).Later(time.Hour)
	}
	empty, err := sealed(s.Keys, answersPurpose, fillings.Answers{})
	if err != nil {
		return r, err
	}
	r = row{ID: uuid.Must(uuid.NewV7()), DocumentID: f.item.ID, Who: f.key, PersonID: f.person, Email: f.email, Known: f.known, Name: f.name, Answers: empty, BegunAt: tx.Now}
	if f.link != nil {
		r.LinkID = &f.link.ID
	}
	if err := addRow(ctx, tx, r); err != nil {
		return r, err
	}
	return open(ctx, tx, f.item.ID, f.key)
}

// Package notices tells people inside the application what concerns them. A
// notice needs no answer and leads straight to what it is about.
package notices

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/app/act"
)

// Kind says what a notice tells.
type Kind string

const (
	// Given tells that somebody gave access.
	Given Kind = "given"
	// Asked tells that somebody asks to be let in.
	Asked Kind = "asked"
	// Used tells that somebody outside used a link.
	Used Kind = "used"
	// HandedIn tells that papers were handed in.
	HandedIn Kind = "handed-in"
	// Sensitive tells that a link gives something out that holds sensitive content;
	// KeptBack, that it would if the practice did not forbid it.
	Sensitive Kind = "sensitive"
	KeptBack  Kind = "kept-back"
	// Admitted tells who manages a dossier that somebody came in by a group that they
	// changed themselves.
	Admitted Kind = "admitted"
	// WantedBack asks whoever can to bring back something that was deleted.
	WantedBack Kind = "wanted-back"
	// Wanted asks a holder for a document, Free tells that one is free, TakenBack that
	// one was taken out of somebody's hand, and HeldLong reminds whoever still has one.
	Wanted    Kind = "wanted"
	Free      Kind = "free"
	TakenBack Kind = "taken-back"
	HeldLong  Kind = "held-long"
	// Mentioned tells that a remark names them, Answered that somebody answered where they
	// said something.
	Mentioned Kind = "mentioned"
	Answered  Kind = "answered"
	// SaidOutside tells that a visitor of a link said something.
	SaidOutside Kind = "said-outside"
	// Followed tells that others did something with what they follow.
	Followed Kind = "followed"
	// Found tells that something new answers a question that they keep.
	Found Kind = "found"
	// Missed tells that somebody has not fetched what was sent to them.
	Missed Kind = "missed"
	// Fetched tells that somebody has fetched everything that was sent to them.
	Fetched Kind = "fetched"
	// Delivered tells that somebody outside sent files to their address.
	Delivered Kind = "delivered"
	// MailHeld tells that a mail waits to be confirmed, MailUntouched that a signed one went on with its
	// attachments, MailFailed that one cannot be delivered to somebody.
	MailHeld      Kind = "mail-held"
	MailUntouched Kind = "mail-untouched"
	MailFailed    Kind = "mail-failed"
	// DecisionAsked asks for a decision, DecisionReminded and DecisionLate remind of it, and
	// DecisionLateOther tells that somebody else is late.
	DecisionAsked     Kind = "decision-asked"
	DecisionReminded  Kind = "decision-reminded"
	DecisionLate      Kind = "decision-late"
	DecisionLateOther Kind = "decision-late-other"
	// DecisionReturned tells that a document came back, DecisionQuestion that somebody asks something
	// before they decide.
	DecisionReturned Kind = "decision-returned"
	DecisionQuestion Kind = "decision-question"
	// DecisionDone tells that a run has come through, DecisionOver that it ended otherwise, RunHeld that
	// it does not go on, RouteTold what a route says, and RouteStopped that one was stopped.
	DecisionDone Kind = "decision-done"
	DecisionOver Kind = "decision-over"
	RunHeld      Kind = "run-held"
	RouteTold    Kind = "route-told"
	RouteStopped Kind = "route-stopped"
	// SigningAsked asks to sign, SigningReminded reminds of it; SigningDone tells that all have signed,
	// SigningOver that it ended otherwise, and SigningHeld that the signed paper does not come about.
	SigningAsked    Kind = "signing-asked"
	SigningReminded Kind = "signing-reminded"
	SigningDone     Kind = "signing-done"
	SigningOver     Kind = "signing-over"
	SigningHeld     Kind = "signing-held"
	// NotLetIn tells whoever asked that the answer was no.
	NotLetIn Kind = "not-let-in"
)

// Service shows the acting person's notices.
type Service struct {
	Acts *act.Runner
}

// newest is how many are shown; a year is how long they are kept. What they tell
// of stays on record in the events.
const (
	newest = 50
	year   = 365 * 24 * time.Hour
)

// Add leaves a notice for somebody, within the act that it tells of. What is the
// name of the thing and path the page on which it stands.
func Add(ctx context.Context, tx *act.Tx, to uuid.UUID, kind Kind, what, path string) error {
	n := Notice{ID: uuid.Must(uuid.NewV7()), PersonID: to, At: tx.Now, Kind: string(kind), What: what, Path: path}
	if tx.Actor.Person != nil {
		n.By = tx.Actor.Person.Name
	}
	return AddNotice(ctx, tx, n)
}

// Once is Add, but for a notice that says the same and was not looked at yet.
func Once(ctx context.Context, tx *act.Tx, to uuid.UUID, kind Kind, what, path string) error {
	said, err := unseenLike(ctx, tx, to, kind, what, path)
	if err != nil || said {
		return err
	}
	return Add(ctx, tx, to, kind, what, path)
}

// Anew adds a notice in place of one that tells of the same page and was not looked at yet.
func Anew(ctx context.Context, tx *act.Tx, n Notice) error {
	if err := forgetUnseen(ctx, tx, n.PersonID, n.Kind, n.Path); err != nil {
		return err
	}
	n.ID, n.At = uuid.Must(uuid.NewV7()), tx.Now
	return AddNotice(ctx, tx, n)
}

// Mine lists the newest.
func (s *Service) Mine(ctx context.Context) ([]Notice, error) {
	return NoticesOf(ctx, s.Acts.DB, act.Who(ctx).Person.ID, newest)
}

// CountUnseen counts those that the acting person has not looked at.
func (s *Service) CountUnseen(ctx context.Context) (int, error) {
	return CountUnseen(ctx, s.Acts.DB, act.Who(ctx).Person.ID)
}

// Seen notes that the acting person has looked at all of them.
func (s *Service) Seen(ctx context.Context) error {
	return MarkSeen(ctx, s.Acts.DB, act.Who(ctx).Person.ID, s.Acts.Now())
}

// Forget removes what is over a year old.
func (s *Service) Forget(ctx context.Context) error {
	return ForgetNotices(ctx, s.Acts.DB, s.Acts.Now().Add(-year))
}

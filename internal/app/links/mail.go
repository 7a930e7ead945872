package links

import (
	"context"
	"net/mail"
	"strings"

	"tabularis/core/events"
	"tabularis/core/items"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/letters"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/linkgate"
	"tabularis/core/terms"
	"tabularis/internal/app/act"
	postal "tabularis/internal/platform/mail"
	"tabularis/internal/platform/secret"
)

// MostAddresses is to how many a link is sent at once.
const MostAddresses = 20

// Mail sends the link with a message, one mail to each address, each with a copy
// of the link of its own, so that openings are told apart. The password is never
// in it.
func (s *Service) Mail(ctx context.Context, id uuid.UUID, to []string, message string) error {
	addresses, err := parse(to)
	if err != nil {
		return err
	}
	return s.change(ctx, id, func(tx *act.Tx, l Link, items []items.Item) error {
		return s.send(ctx, tx, l, items, addresses, message, len(items), false)
	})
}

// SendTransfer is Mail for a transfer of so many files, the first time or again, within an act of whoever may give it out.
func (s *Service) SendTransfer(ctx context.Context, tx *act.Tx, id uuid.UUID, to []string, message string, files int, again bool) error {
	addresses, err := parse(to)
	if err != nil {
		return err
	}
	l, items, err := s.find(ctx, tx, id, access.Share, tx.Now)
	if err != nil {
		return err
	}
	return s.send(ctx, tx, l, items, addresses, message, files, again)
}

func (s *Service) send(ctx context.Context, tx *act.Tx, l Link, items []items.Item, addresses []*mail.Address, message string, files int, again bool) error {
	if state(l, tx.Now) != "open" {
		return fault.LinkOver.New("the link is no longer open")
	}
	if err := SetMessage(ctx, tx, l.ID, strings.TrimSpace(message)); err != nil {
		return err
	}
	practice, zone, err := practice.PracticeZone(ctx, tx)
	if err != nil {
		return err
	}
	papers, err := ExpectedPapers(ctx, tx, []uuid.UUID{l.ID})
	if err != nil {
		return err
	}
	letter := letters.Link{Sender: signed(*tx.Actor.Person), Message: strings.TrimSpace(message), Password: l.PasswordHash != "", Sealed: string(l.Sealed), Name: l.Name, Again: again, Asks: l.Kind == linkgate.Fill,
		Terms: terms.Link{Files: files, Folder: onlyFolder(items), Terms: l.Terms}.ForVisitor(terms.Voice{Language: l.Language, Zone: zone, Now: tx.Now}, nil).String()}
	for _, a := range addresses {
		if !practice.Outward().Reaches(a.Address) {
			return fault.RuleDomain.In("to", "the practice lets nothing out to %s", a.Address)
		}
		if err := practice.Outward().RefuseOpen(l.Terms, []string{a.Address}); err != nil {
			return err
		}
		if letter.Address, err = s.copyFor(ctx, tx, l, a.Address); err != nil {
			return err
		}
		var what letters.Letter = letter
		if l.Kind == linkgate.Intake {
			what = letters.Request{Link: letter, Missing: missing(papers)}
		}
		m := letters.Mail{To: a.Address, ToName: a.Name, Language: l.Language, Practice: practice.Name, ReplyTo: tx.Actor.Person.Email, Letter: what}
		if err := tx.Send(ctx, m); err != nil {
			return err
		}
		if err := s.tell(ctx, tx, l, items, events.LinkSentTo.With(events.LinkSent{LinkNamed: named(l), To: a.Address})); err != nil {
			return err
		}
	}
	return nil
}

// TellTransfer gives recipients each a copy of a transfer's link of their own, within an act, that reaches
// them by a mail of its sender's.
func (s *Service) TellTransfer(ctx context.Context, tx *act.Tx, id uuid.UUID, to []string) error {
	l, items, err := s.find(ctx, tx, id, access.Share, tx.Now)
	if err != nil {
		return err
	}
	for _, one := range to {
		if _, err := s.copyFor(ctx, tx, l, one); err != nil {
			return err
		}
		if err := s.tell(ctx, tx, l, items, events.LinkSentTo.With(events.LinkSent{LinkNamed: named(l), To: one})); err != nil {
			return err
		}
	}
	return nil
}

// copyFor returns the address under which somebody reaches their copy of a link.
func (s *Service) copyFor(ctx context.Context, tx *act.Tx, l Link, address string) (string, error) {
	token := secret.Token()
	kept, err := AddLinkMail(ctx, tx, LinkMail{LinkID: l.ID, Address: address, At: tx.Now, TokenSHA256: secret.Hash(token), TokenSealed: s.Keys.Seal([]byte(token), tokenPurpose)})
	if err != nil {
		return "", err
	}
	return s.CopyAddress(kept)
}

// CopyAddress is where somebody reaches their copy of a link.
func (s *Service) CopyAddress(m LinkMail) (string, error) {
	opened, err := s.Keys.Open(m.TokenSealed, tokenPurpose)
	return s.BaseURL + "/l/" + string(opened), err
}

// missing names the papers that are waited for and not here.
func missing(papers []ExpectedPaper) (names []string) {
	for _, p := range papers {
		if !p.Here {
			names = append(names, p.Name)
		}
	}
	return names
}

func parse(to []string) ([]*mail.Address, error) {
	if len(to) == 0 || len(to) > MostAddresses {
		return nil, errAddressesCount.In("to", "give between 1 and %d addresses", MostAddresses)
	}
	var out []*mail.Address
	for _, raw := range to {
		a, err := postal.Address("to", raw)
		if err != nil {
			return nil, err
		}
		out = append(out, a)
	}
	return out, nil
}

// signed is whoever signs a letter.
func signed(p accounts.Person) letters.Sender {
	return letters.Sender{Name: p.Name, Role: p.Role, Email: p.Email}
}

package visits

import (
	"context"
	"crypto/subtle"

	"tabularis/internal/app/links"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/letters"
	"tabularis/internal/platform/limits"

	"github.com/google/uuid"

	"tabularis/core/address"
	"tabularis/core/fault"
	"tabularis/core/linkgate"
	"tabularis/internal/app/act"
	"tabularis/internal/app/sessions"
	"tabularis/internal/platform/mail"
	"tabularis/internal/platform/secret"
)

// Claim is what a visitor says of themselves when they come in.
type Claim struct {
	Password string
	Email    string
	Code     string
}

// known is a visitor as far as they are known.
type known struct {
	email string
	how   linkgate.Identity
	// code is used up by coming in.
	code []byte
}

// SendCode sends a code to the address, if the link asks for a confirmed one
// and lets it in. The answer is the same if not, and asking again and again has
// to wait, for all addresses alike.
func (s *Service) SendCode(ctx context.Context, v Visitor, email string) error {
	a, err := mail.Address("email", email)
	if err != nil {
		return err
	}
	l, _, verdict, err := s.gate(ctx, s.Acts.DB, v, linkgate.Arrive, attempt{}, false)
	if err != nil {
		return err
	}
	if !verdict.Allowed {
		return refusal(verdict.Reason)
	}
	now, tries := s.Acts.Now(), "link-code "+l.ID.String()+" "+act.Who(ctx).From()
	if err := sessions.Try(ctx, s.Acts.DB, tries, now); err != nil {
		return err
	}
	if l.Kind == linkgate.Address {
		// Everybody can find an address: nobody's mailbox is filled by it, from wherever and through
		// whomever's it is tried.
		if err := sessions.Try(ctx, s.Acts.DB, "address-code "+address.Key(a.Address), now); err != nil {
			return err
		}
	}
	t, _ := l.Gate()
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if t.Identify != linkgate.Confirmed || !linkgate.Admits(t.Allowed, a.Address) || s.reaches(ctx, a.Address) != nil {
			return nil
		}
		code := secret.Digits()
		if err := PutLinkCode(ctx, tx, LinkCode{LinkID: l.ID, EmailKey: address.Key(a.Address), SHA256: s.codeHash(l.ID, code), MadeAt: tx.Now}); err != nil {
			return err
		}
		practice, err := practice.ThePractice(ctx, tx)
		if err != nil {
			return err
		}
		return tx.Send(ctx, letters.Mail{To: a.Address, Language: l.Language, Practice: practice.Name, Letter: letters.LinkCode{Code: code}})
	})
}

// reaches refuses addresses to which the practice lets nothing out.
func (s *Service) reaches(ctx context.Context, email string) error {
	practice, err := practice.ThePractice(ctx, s.Acts.DB)
	if err == nil && email != "" && !practice.Outward().Reaches(email) {
		err = refusal(linkgate.AddressNotAllowed)
	}
	return err
}

func (s *Service) codeHash(link uuid.UUID, code string) []byte {
	return s.Keys.MAC(link.String()+" "+code, "code")
}

// who finds out who comes in: whoever is signed in is known by that, a code is
// compared with the one that was sent, and else an address is only stated.
func (s *Service) who(ctx context.Context, l links.Link, c Claim) (known, error) {
	t, _ := l.Gate()
	if p := act.Who(ctx).Person; p != nil {
		return known{email: p.Email, how: linkgate.SignedIn}, nil
	}
	if t.Identify == linkgate.Anyone || c.Email == "" {
		return known{}, nil
	}
	a, err := mail.Address("email", c.Email)
	if err != nil {
		return known{}, err
	}
	k := known{email: a.Address, how: linkgate.Stated}
	if t.Identify != linkgate.Confirmed || c.Code == "" {
		return k, nil
	}
	now, tries := s.Acts.Now(), "link-code-try "+l.ID.String()+" "+act.Who(ctx).From()
	if err := sessions.Try(ctx, s.Acts.DB, tries, now); err != nil {
		return k, err
	}
	sent, err := TryLinkCode(ctx, s.Acts.DB, l.ID, address.Key(a.Address))
	if err != nil && !fault.Is(err, fault.NotFound) {
		return k, err
	}
	hash := s.codeHash(l.ID, secret.OnlyDigits(c.Code))
	if sent.Tries >= sessions.CodeTries || now.Sub(sent.MadeAt) > sessions.CodeLength || subtle.ConstantTimeCompare(sent.SHA256, hash) != 1 {
		return k, fault.WrongCode.New("the code is wrong or has run out")
	}
	k.how, k.code = linkgate.Confirmed, hash
	return k, limits.ForgetTries(ctx, s.Acts.DB, tries)
}

// use uses the code up by which somebody is known, within the act of coming in.
func (k known) use(ctx context.Context, tx *act.Tx, link uuid.UUID) error {
	if k.code == nil {
		return nil
	}
	used, err := UseLinkCode(ctx, tx, link, address.Key(k.email), k.code)
	if err == nil && !used {
		err = fault.WrongCode.New("the code is wrong or has run out")
	}
	return err
}

package sharing

import (
	"context"
	"fmt"
	"net/url"
	"strings"

	"tabularis/core/items"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/letters"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/terms"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/notices"
)

// PathOf is the page on which an item stands.
func PathOf(s guard.Sight) string {
	switch {
	case s.Item.Kind == items.Document:
		return "/d/" + s.Ref()
	case s.ParentID == nil:
		return "/dossiers/" + s.Code
	}
	return fmt.Sprintf("/dossiers/%s/%s", s.Code, s.ID)
}

// tell sends everybody a mail that leads straight to what they were given and
// needs no answer. Who has not come in yet gets a one-time link; a guest without
// a password a page that sends a code. Everyone in the practice is not mailed.
func (s *Service) tell(ctx context.Context, tx *act.Tx, p plan) error {
	practice, zone, err := practice.PracticeZone(ctx, tx)
	if err != nil {
		return err
	}
	c, err := s.Access.Circles(ctx, tx)
	if err != nil {
		return err
	}
	path := PathOf(p.items[0])
	if len(p.items) > 1 {
		path = "/desk"
	}
	voice := terms.Voice{Language: tx.Actor.Language, Zone: zone, Now: tx.Now}
	told := map[uuid.UUID]bool{tx.Actor.Person.ID: true}
	for _, r := range p.to {
		if r.subject.Kind == access.Everyone {
			continue
		}
		one := p
		one.to = []recipient{r}
		sentence := one.sentence(voice, practice.Name).String()
		for _, id := range c.People(r.subject) {
			person, err := accounts.PersonByID(ctx, tx, uuid.UUID(id))
			if err != nil {
				return err
			}
			if told[person.ID] {
				continue
			}
			told[person.ID] = true
			if err := notices.Add(ctx, tx, person.ID, notices.Given, nameOf(p.items), path); err != nil {
				return err
			}
			if err := s.mail(ctx, tx, person, practice, path, sentence, p.wish.Message); err != nil {
				return err
			}
		}
	}
	return nil
}

// nameOf names what was given: the first thing, and how many more there are.
func nameOf(items []guard.Sight) string {
	if more := len(items) - 1; more > 0 {
		return fmt.Sprintf("%s + %d", items[0].Name, more)
	}
	return items[0].Name
}

func (s *Service) mail(ctx context.Context, tx *act.Tx, to accounts.Person, practice practice.Practice, path, sentence, message string) error {
	message = strings.TrimSpace(message)
	if to.PasswordHash == "" && to.SeenAt == nil {
		return s.People.Welcome(ctx, tx, to, path, sentence, message)
	}
	address := s.BaseURL + path
	if to.PasswordHash == "" {
		address = s.BaseURL + "/sign-in?" + url.Values{"email": {to.Email}, "next": {path}}.Encode()
	}
	me := tx.Actor.Person
	letter := letters.Access{Sender: letters.Sender{Name: me.Name, Role: me.Role, Email: me.Email}, Message: message, Sentence: sentence, Address: address}
	return tx.Send(ctx, letters.Mail{To: to.Email, ToName: to.Name, Language: tx.Actor.Language, Practice: practice.Name, ReplyTo: me.Email, Letter: letter})
}

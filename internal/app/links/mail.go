package links

import (
	"context"
	"fmt"
	"net/mail"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/terms"
	"tabularis/internal/app/act"
	"tabularis/internal/jobs"
	postal "tabularis/internal/mail"
	"tabularis/internal/store"
)

// Mail sends the link with a message, one mail to each address. The password is
// never in it.
func (s *Service) Mail(ctx context.Context, id uuid.UUID, to []string, message string) error {
	addresses, err := parse(to)
	if err != nil {
		return err
	}
	shown, err := s.One(ctx, id)
	if err != nil {
		return err
	}
	return s.change(ctx, id, func(tx *act.Tx, l store.Link, items []store.Item) error {
		if shown.Address == "" {
			return fault.New(fault.Conflict, "link-over", "the link is no longer open")
		}
		if _, err := tx.ExecContext(ctx, `UPDATE links SET message = $2 WHERE id = $1`, id, strings.TrimSpace(message)); err != nil {
			return err
		}
		practice, zone, err := store.PracticeZone(ctx, tx)
		if err != nil {
			return err
		}
		letter := letter{language: l.Language, practice: practice.Name, sender: *tx.Actor.Person, message: strings.TrimSpace(message), address: shown.Address, password: l.PasswordHash != "", name: l.Name,
			terms: terms.Link{Files: len(items), Folder: onlyFolder(items), Download: l.MayDownload, Until: l.Until}.ForVisitor(terms.Voice{Language: l.Language, Zone: zone, Now: tx.Now}, nil).String()}
		for _, a := range addresses {
			if err := store.AddLinkMail(ctx, tx, id, a.Address, tx.Now); err != nil {
				return err
			}
			subject, text := letter.write()
			job := jobs.SendMail{To: a.Address, ToName: a.Name, From: practice.Name, ReplyTo: tx.Actor.Person.Email, Subject: subject, Text: text}
			if err := tx.Enqueue(ctx, job); err != nil {
				return err
			}
			if err := s.tell(ctx, tx, l, items, "link.sent", map[string]string{"to": a.Address}); err != nil {
				return err
			}
		}
		return nil
	})
}

func parse(to []string) ([]*mail.Address, error) {
	if len(to) == 0 || len(to) > 20 {
		return nil, fault.Field("to", "addresses-count", "give between 1 and 20 addresses")
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

// letter is the mail that carries a link.
type letter struct {
	language, practice, name, message, address, terms string
	sender                                            store.Person
	password                                          bool
}

func (l letter) write() (subject, text string) {
	var b strings.Builder
	if l.message != "" {
		b.WriteString(l.message + "\n\n")
	}
	if l.language == "de" {
		subject = fmt.Sprintf("%s von %s", l.name, l.practice)
		fmt.Fprintf(&b, "%s, %s, gibt Ihnen „%s“:\n\n%s\n\n%s\n", l.sender.Name, l.practice, l.name, l.address, l.terms)
		if l.password {
			b.WriteString("Sie brauchen dazu ein Passwort. Es kommt auf einem anderen Weg.\n")
		}
		fmt.Fprintf(&b, "\nSie brauchen kein Konto. %s sieht, wann Sie die Seite öffnen und was Sie herunterladen.\n", l.sender.Name)
	} else {
		subject = fmt.Sprintf("%s from %s", l.name, l.practice)
		fmt.Fprintf(&b, "%s of %s gives you “%s”:\n\n%s\n\n%s\n", l.sender.Name, l.practice, l.name, l.address, l.terms)
		if l.password {
			b.WriteString("You need a password for it. It comes to you by another way.\n")
		}
		fmt.Fprintf(&b, "\nYou need no account. %s sees when you open the page and what you download.\n", l.sender.Name)
	}
	fmt.Fprintf(&b, "\n-- \n%s\n%s, %s\n%s\n", l.sender.Name, l.sender.Role, l.practice, l.sender.Email)
	return subject, b.String()
}

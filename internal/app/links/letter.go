package links

import (
	"fmt"
	"strings"

	"tabularis/internal/store"
)

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

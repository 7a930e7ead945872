// Package terms writes the terms of what is given out as one sentence. The same
// sentence is shown on the writing sheet, in lists, in mails and in exports; an
// interface may make its marked parts controls.
package terms

import (
	"fmt"
	"strings"
	"time"

	"tabularis/core/linkgate"
)

// Term names the part of a sentence that a person can change.
type Term string

const (
	Plain    Term = ""
	Holder   Term = "holder"
	Password Term = "password"
	May      Term = "may"
	What     Term = "what"
	Version  Term = "version"
	Until    Term = "until"
	Openings Term = "openings"
	// NotBefore is from when, Downloads how often it may be fetched, Identify how
	// a visitor has to be known, and Allowed who may come in.
	NotBefore Term = "notBefore"
	Downloads Term = "downloads"
	Identify  Term = "identify"
	Allowed   Term = "allowed"
	// Remarks says that visitors may say something to it.
	Remarks Term = "remarks"
	// Sealed says by what a sealed transfer opens.
	Sealed Term = "sealed"
	// IntakeFiles, IntakeBytes and IntakeEndings limit what is put in.
	IntakeFiles   Term = "intakeFiles"
	IntakeBytes   Term = "intakeBytes"
	IntakeEndings Term = "intakeEndings"
)

// Part is a piece of the sentence; Term says which term it speaks of.
type Part struct {
	Text string
	Term Term
}

// Sentence is a list of parts which, joined, read as plain text.
type Sentence []Part

// String joins the parts.
func (s Sentence) String() string {
	var b strings.Builder
	for _, p := range s {
		b.WriteString(p.Text)
	}
	return b.String()
}

// Link is what a link's sentence speaks of: its terms, and what is given. Folder is the
// folder's name when one folder is given, otherwise empty.
type Link struct {
	Files  int
	Folder string
	linkgate.Terms
}

// Voice is the language ("en", "de"), the practice's time zone and the present
// moment, to which near dates refer.
type Voice struct {
	Language string
	Zone     *time.Location
	Now      time.Time
}

// Sentence writes the link's terms for its sender.
func (l Link) Sentence(v Voice) Sentence {
	switch l.Kind {
	case linkgate.Intake:
		return l.intake(v)
	case linkgate.Transfer:
		return l.transfer(v)
	case linkgate.Address:
		return addressed(v)
	}
	if v.Language == "de" {
		return l.german(v)
	}
	return l.english(v)
}

func (l Link) english(v Voice) Sentence {
	s := Sentence{{"Whoever has this link", Holder}}
	if l.Password {
		s = append(s, Part{" ", Plain}, Part{"and the password", Password})
	}
	s = append(s, Part{" may ", Plain}, Part{l.may("view and download", "only view", "view, add and change papers in", "fill in"), May}, Part{" ", Plain}, Part{l.what(v), What})
	version := pick(l.Newest, "in the newest version", "in this version")
	if l.Folder != "" {
		version = pick(l.Newest, "with whatever is in it", "with what is in it now")
	}
	if l.Kind != linkgate.Fill {
		s = append(s, Part{" ", Plain}, Part{version, Version})
	}
	if l.NotBefore != nil {
		s = append(s, Part{" from ", Plain}, Part{v.Moment(*l.NotBefore), NotBefore})
	}
	if l.Until != nil {
		s = append(s, Part{" until ", Plain}, Part{v.Moment(*l.Until), Until})
	} else {
		s = append(s, Part{", ", Plain}, Part{"without an end", Until})
	}
	if l.Openings != nil {
		s = append(s, Part{", at most ", Plain}, Part{times(v, *l.Openings), Openings})
	}
	if l.Downloads != nil {
		s = append(s, Part{", downloading at most ", Plain}, Part{times(v, *l.Downloads), Downloads})
	}
	if words := identifyEN[l.Identify.String()]; words != "" {
		s = append(s, Part{", after ", Plain}, Part{words, Identify})
	}
	s = append(s, l.onlyFor(false)...)
	if l.Remarks {
		s = append(s, Part{", ", Plain}, Part{"with remarks", Remarks})
	}
	return append(s, Part{".", Plain})
}

var (
	identifyEN = map[string]string{"stated": "stating their e-mail", "confirmed": "confirming their e-mail", "signed-in": "signing in"}
	identifyDE = map[string]string{"stated": "nach Angabe der E-Mail", "confirmed": "nach Bestätigung der E-Mail", "signed-in": "nach der Anmeldung"}
)

// onlyFor says who alone is let in.
func (l Link) onlyFor(de bool) Sentence {
	switch {
	case len(l.Allowed) == 0:
		return nil
	case de:
		return Sentence{{", wenn es ", Plain}, {l.allowed("oder", "jemand bei"), Allowed}, {" ist", Plain}}
	}
	return Sentence{{", if they are ", Plain}, {l.allowed("or", "at"), Allowed}}
}

// manyAllowed is up to how many addresses and domains a sentence names.
const manyAllowed = 3

func (l Link) allowed(or, at string) string {
	var named []string
	for _, a := range l.Allowed[:min(len(l.Allowed), manyAllowed)] {
		if !strings.Contains(a, "@") {
			a = at + " " + a
		}
		named = append(named, a)
	}
	text := strings.Join(named, ", ")
	if more := len(l.Allowed) - len(named); more > 0 {
		return fmt.Sprintf("%s +%d", text, more)
	}
	if last := strings.LastIndex(text, ", "); last >= 0 {
		text = text[:last] + " " + or + " " + text[last+2:]
	}
	return text
}

func (l Link) german(v Voice) Sentence {
	s := Sentence{{"Wer diesen Link hat", Holder}}
	if l.Password {
		s = append(s, Part{" ", Plain}, Part{"und das Passwort", Password})
	}
	s = append(s, Part{", darf ", Plain}, Part{l.what(v), What})
	version := pick(l.Newest, "in der neuesten Fassung", "in dieser Fassung")
	if l.Folder != "" {
		version = pick(l.Newest, "mit allem, was darin liegt,", "mit dem, was jetzt darin liegt,")
	}
	if l.Kind != linkgate.Fill {
		s = append(s, Part{" ", Plain}, Part{version, Version})
	}
	if l.NotBefore != nil {
		s = append(s, Part{" ab ", Plain}, Part{v.Moment(*l.NotBefore), NotBefore})
	}
	if l.Until != nil {
		s = append(s, Part{" bis ", Plain}, Part{v.Moment(*l.Until), Until})
	} else {
		s = append(s, Part{" ", Plain}, Part{"ohne Ende", Until})
	}
	if l.Openings != nil {
		s = append(s, Part{" höchstens ", Plain}, Part{times(v, *l.Openings), Openings})
	}
	if words := identifyDE[l.Identify.String()]; words != "" {
		s = append(s, Part{" ", Plain}, Part{words, Identify})
	}
	s = append(s, Part{" ", Plain}, Part{l.may("ansehen und herunterladen", "nur ansehen", "ansehen, ergänzen und ändern", "ausfüllen"), May})
	if l.Downloads != nil {
		s = append(s, Part{", heruntergeladen höchstens ", Plain}, Part{times(v, *l.Downloads), Downloads})
	}
	s = append(s, l.onlyFor(true)...)
	if l.Remarks {
		s = append(s, Part{", ", Plain}, Part{"mit Bemerkungen", Remarks})
	}
	return append(s, Part{".", Plain})
}

// ForVisitor writes the terms for whoever came in: left is the number of
// further visits, nil where they are not limited.
func (l Link) ForVisitor(v Voice, left *int) Sentence {
	switch l.Kind {
	case linkgate.Intake:
		return l.intakeForVisitor(v)
	case linkgate.Transfer:
		return l.transferForVisitor(v)
	case linkgate.Address:
		return addressForVisitor(v)
	}
	de := v.Language == "de"
	var s Sentence
	may := l.may("view and download", "only view", "view, add and change papers in", "fill in")
	if de {
		may = l.may("ansehen und herunterladen", "nur ansehen", "ansehen, ergänzen und ändern", "ausfüllen")
		s = Sentence{{"Sie dürfen ", Plain}, {l.these(v), What}}
		if l.Until != nil {
			s = append(s, Part{" bis ", Plain}, Part{v.Moment(*l.Until), Until})
		}
		s = append(s, Part{" ", Plain}, Part{may, May})
	} else {
		s = Sentence{{"You may ", Plain}, {may, May}, {" ", Plain}, {l.these(v), What}}
		if l.Until != nil {
			s = append(s, Part{" until ", Plain}, Part{v.Moment(*l.Until), Until})
		}
	}
	if l.Remarks {
		s = append(s, Part{", ", Plain}, Part{pick(de, "und etwas dazu sagen", "and say something about it"), Remarks})
	}
	if left != nil {
		s = append(s, comeBack(de, *left)...)
	}
	return append(s, Part{".", Plain})
}

func comeBack(de bool, left int) Sentence {
	switch {
	case left == 0 && de:
		return Sentence{{"; ", Plain}, {"danach ist der Link verbraucht", Openings}}
	case left == 0:
		return Sentence{{"; ", Plain}, {"after this visit the link is used up", Openings}}
	case de:
		return Sentence{{" und noch ", Plain}, {fmt.Sprintf("%d-mal", left), Openings}, {" wiederkommen", Plain}}
	case left == 1:
		return Sentence{{", and come back ", Plain}, {"once more", Openings}}
	}
	return Sentence{{", and come back ", Plain}, {fmt.Sprintf("%d more times", left), Openings}}
}

// may says what a visitor may do.
func (l Link) may(download, view, work, fill string) string {
	switch {
	case l.Kind == linkgate.Fill:
		return fill
	case l.Kind == linkgate.Working:
		return work
	case l.MayDownload:
		return download
	}
	return view
}

func (l Link) what(v Voice) string {
	switch {
	case l.Kind == linkgate.Fill:
		return pick(v.Language == "de", "dieses Formular", "this form")
	case l.Folder != "" && v.Language == "de":
		return "den Ordner " + l.Folder
	case l.Folder != "":
		return "the folder " + l.Folder
	}
	return files(v, l.Files)
}

func (l Link) these(v Voice) string {
	if l.Folder != "" || l.Kind == linkgate.Fill {
		return l.what(v)
	}
	if v.Language == "de" {
		return pick(l.Files == 1, "diese Datei", "diese "+files(v, l.Files))
	}
	return pick(l.Files == 1, "this file", "these "+files(v, l.Files))
}

func files(v Voice, n int) string {
	if v.Language == "de" {
		return pick(n == 1, "1 Datei", fmt.Sprintf("%d Dateien", n))
	}
	return pick(n == 1, "1 file", fmt.Sprintf("%d files", n))
}

func times(v Voice, n int) string {
	switch {
	case v.Language == "de":
		return fmt.Sprintf("%d-mal", n)
	case n == 1:
		return "once"
	case n == 2:
		return "twice"
	}
	return fmt.Sprintf("%d times", n)
}

func pick[T any](which bool, yes, no T) T {
	if which {
		return yes
	}
	return no
}

var (
	daysEN   = [...]string{"Sun", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat"}
	daysDE   = [...]string{"So", "Mo", "Di", "Mi", "Do", "Fr", "Sa"}
	monthsDE = [...]string{"Jan.", "Feb.", "März", "Apr.", "Mai", "Juni", "Juli", "Aug.", "Sep.", "Okt.", "Nov.", "Dez."}
)

// Moment writes a moment in the practice's zone: "today 18:00", "tomorrow
// 12:00", "Fri 4 Dec, 18:00"; with the year when it is another one.
func (v Voice) Moment(t time.Time) string {
	t, now := t.In(v.Zone), v.Now.In(v.Zone)
	clock := t.Format("15:04")
	de := v.Language == "de"
	switch DaysBetween(now, t) {
	case 0:
		return pick(de, "heute ", "today ") + clock
	case 1:
		return pick(de, "morgen ", "tomorrow ") + clock
	}
	var day string
	if de {
		day = fmt.Sprintf("%s, %d. %s", daysDE[t.Weekday()], t.Day(), monthsDE[t.Month()-1])
	} else {
		day = fmt.Sprintf("%s %d %s", daysEN[t.Weekday()], t.Day(), t.Month().String()[:3])
	}
	if t.Year() != now.Year() {
		day += fmt.Sprintf(" %d", t.Year())
	}
	return day + ", " + clock
}

// DaysBetween counts calendar days from a to b, both in one zone.
func DaysBetween(a, b time.Time) int {
	midnight := func(t time.Time) time.Time {
		y, m, d := t.Date()
		return time.Date(y, m, d, 0, 0, 0, 0, time.UTC)
	}
	return int(midnight(b).Sub(midnight(a)) / (24 * time.Hour))
}

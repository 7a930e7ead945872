package letters

import (
	"strings"
	"testing"

	"tabularis/core/events"
)

// samples are one of each letter, with everything in it that can be.
func samples() []Letter {
	ines := Sender{"Ines Okafor", "principal surveyor", "ines.okafor@halyard-rook.example"}
	link := Link{Sender: ines, Name: "Draft for yard", Message: "Dear Marit", Address: "https://papers.example/l/token", Terms: "You may view.", Password: true}
	var happens []Happening
	for _, kind := range []string{"link.opened", "link.fetched", "link.fetched-all", "link.received", "link.withdrawn", "link.revised", "link.handed-in", "link.refused"} {
		happens = append(happens, Happening{Kind: kind, N: 1, Who: "marit@pelham-dock.example", File: "Draft.pdf"}, Happening{Kind: kind, N: 3})
	}
	decision := Decision{Number: "MER-24/029", Name: "Condition survey report", Version: 4, SHA256: "9f2c41d8", Route: "Report release", By: "Ines Okafor", For: "Tomasz Rehn", Doing: "approve", Instructions: "Look at frame 31.", Due: "2026-11-25 10:20", Note: "Frame 31 is missing.",
		Address: "https://papers.example/decisions/1", Way: "https://papers.example/decide/token"}
	all := []Letter{}
	for _, what := range []DecisionWhat{DecisionAsks, DecisionReminds, DecisionLate, DecisionLateOther, DecisionReturned, DecisionQuestion, DecisionDone, DecisionOver, DecisionHeld, DecisionTold} {
		decision.What = what
		for _, reason := range []string{"lapsed", "off", "ended"} {
			if decision.Reason = reason; what == DecisionOver || reason == "off" {
				all = append(all, decision)
			}
		}
	}
	for _, what := range []SigningWhat{SigningAsks, SigningReminds, SigningPassed, SigningDeclined, SigningCalledOff, SigningExpired, SigningDone} {
		one := Signing{What: what, Sender: ines, Number: "MER-24/041", Name: "Valuation certificate", Until: "27 Nov, 18:00", Message: "As we said.", Password: true, Reason: "clause 4", Other: "Bram Teague", Address: "https://papers.example/signing/1"}
		outside := one
		outside.Outside, outside.Fills, outside.Other = true, true, ""
		all = append(all, one, outside)
	}
	return append(all, []Letter{
		link, Link{Sender: ines, Name: "Draft for yard", Address: "https://papers.example/l/token", Terms: "You may view.", Again: true}, Missed{"Docking drawings", "marit@pelham-dock.example", 3, "https://papers.example/outward"}, Missed{"Docking drawings", "marit@pelham-dock.example", 1, "https://papers.example/outward"}, MailHeld{"Docking drawings", "https://papers.example/outward/mail/1"}, MailFailed{"Docking drawings", "marit@pelham-dock.example", "550 no such mailbox"}, Request{Link: link, Missing: []string{"Class certificate"}}, Request{Link: link, Reminds: true},
		Access{ines, "Dear Priya", "Priya Valdane may view plan.pdf.", "https://papers.example/d/MER-24/017"},
		Invitation{ines, "Welcome", "https://papers.example/enter/token", "You may view plan.pdf."}, AccountThere{"https://papers.example/sign-in"},
		SignInCode{"123456"}, LinkCode{"123456"}, NewPassword{"https://papers.example/enter/token"},
		Receipt{ines, "Papers", []ReceivedFile{{"certificate.pdf", 4096, "2026-11-28 10:00 UTC", "00ff"}}}, Mentions{2, []Mention{{"Luca Ferrante", "plan.pdf", "Which frames?", "https://papers.example/d/MER-24/017"}}},
		Digest{Weekly: true, Day: "30 Nov", Number: 25, Dossiers: []DigestPart{{"MER-24 Corran Lass", []string{"29 Nov 14:02  Luca Ferrante added Plan (MER-24/003)"}, 24}}, Address: "https://papers.example/activity", Change: "https://papers.example/me"},
		Digest{Day: "30.11.", Number: 1, Dossiers: []DigestPart{{"", []string{"29.11. 14:02  x"}, 0}}, Address: "https://papers.example/activity", Change: "https://papers.example/me"}, Digest{Day: "1 Dec", Number: 1000, AndMore: true, Address: "https://papers.example/activity", Change: "https://papers.example/me"},
		Checkpoint{"48213", "papers.example/evidence/1f\n48213\nroot=\n\n— papers.example signature\n", "papers.example+1f+key"}, Tidings{"Draft for yard", happens, "https://papers.example/outward"},
	}...)
}

// Every letter can be written in every language: it has a subject of one line and a
// text, no place is left open, and no language stands in another.
func TestEveryLetterInEveryLanguage(t *testing.T) {
	t.Parallel()
	foreign := map[string][]string{"en": {" Sie ", "wird", "Passwort"}, "de": {" you ", "You ", "password"}}
	for _, language := range Languages {
		written := map[string]bool{}
		for _, l := range samples() {
			subject, text, err := Write(language, "Halyard & Rook", l)
			if err != nil {
				t.Fatal(err)
			}
			written[l.name()] = true
			if strings.TrimSpace(subject) == "" || strings.TrimSpace(text) == "" || strings.HasPrefix(text, "\n") || !strings.HasSuffix(text, "\n") || strings.Contains(text, "\n\n\n") {
				t.Errorf("%s %s: %q\n%s", language, l.name(), subject, text)
			}
			for _, word := range append(foreign[language], "<no value>", "{{", "}}", "&amp;", ": \n") {
				// What people write themselves is theirs.
				if own := strings.NewReplacer("You may view plan.pdf.", "", "You may view.", "").Replace(text); strings.Contains(subject+"\n"+own, word) {
					t.Errorf("%s %s holds %q:\n%s", language, l.name(), word, text)
				}
			}
		}
		files, err := files.ReadDir(language)
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range files {
			if name := strings.TrimSuffix(f.Name(), ".txt"); !written[name] {
				t.Errorf("nothing writes %s in %s", name, language)
			}
		}
	}
}

func TestTheLetterThatCarriesALink(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		language string
		password bool
		subject  string
		holds    []string
		lacks    string
	}{
		{"en", false, "Draft for yard from Halyard & Rook", []string{"Dear Marit", "https://papers.example/l/token", "You may view", "You need no account", "Ines Okafor\nprincipal surveyor"}, "password"},
		{"en", true, "Draft for yard from Halyard & Rook", []string{"You need a password for it. It comes to you by another way."}, "Passwort"},
		{"de", true, "Draft for yard von Halyard & Rook", []string{"Sie brauchen dazu ein Passwort", "Sie brauchen kein Konto"}, "You"},
	} {
		terms := "You may view."
		if c.language == "de" {
			terms = "Sie dürfen ansehen."
		}
		subject, text, err := Write(c.language, "Halyard & Rook", Link{Name: "Draft for yard", Message: "Dear Marit", Address: "https://papers.example/l/token", Terms: terms, Password: c.password,
			Sender: Sender{Name: "Ines Okafor", Role: "principal surveyor", Email: "ines.okafor@halyard-rook.example"}})
		if err != nil || subject != c.subject {
			t.Errorf("subject %q, %v", subject, err)
		}
		for _, want := range c.holds {
			if !strings.Contains(text, want) {
				t.Errorf("%s, password %v: lacks %q in\n%s", c.language, c.password, want, text)
			}
		}
		if strings.Contains(text, c.lacks) {
			t.Errorf("%s, password %v: holds %q", c.language, c.password, c.lacks)
		}
	}
}

// Whatever a sender may be told of has words in a letter.
func TestTidingsHaveWords(t *testing.T) {
	t.Parallel()
	for _, k := range events.All() {
		if !k.TellsSender {
			continue
		}
		for _, language := range Languages {
			for _, n := range []int{1, 2} {
				subject, _, err := Write(language, "x", Tidings{Name: "x", Happens: []Happening{{Kind: k.Name, N: n}}, Address: "x"})
				if err != nil || strings.TrimSpace(strings.TrimPrefix(subject, "x:")) == "" {
					t.Errorf("%s, %d: %q %v", k.Name, n, subject, err)
				}
			}
		}
	}
}

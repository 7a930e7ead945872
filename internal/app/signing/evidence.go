package signing

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"time"
	"unicode/utf8"

	"tabularis/core/fault"
	"tabularis/core/looks"
	"tabularis/core/names"
	"tabularis/core/signing"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/ink"

	"github.com/google/uuid"
)

// Evidence are the evidence pages of a request by themselves, for whoever looks after it: a paper that had been signed before
// has none in it.
func (s *Service) Evidence(ctx context.Context, id uuid.UUID) (raw []byte, name string, err error) {
	l, err := s.One(ctx, id)
	if err != nil {
		return nil, "", err
	}
	if !l.Manages || l.Events == nil {
		return nil, "", fault.Refused("see the evidence of a request")
	}
	p := &paperwork{Service: s, row: l.row, request: l.Request, acts: actsOf(l.Events), at: l.At}
	if p.practice, p.zone, err = practice.PracticeZone(ctx, s.Acts.DB); err != nil {
		return nil, "", err
	}
	title, head, err := p.heading(ctx)
	if err != nil {
		return nil, "", err
	}
	if l.SealedSHA256 != nil {
		head = append(head, "SHA-256 "+hex.EncodeToString(l.SealedSHA256))
	}
	sheets := ink.New()
	sheets.Evidence(title, head, max(1, len(p.acts)), p.entries())
	raw, err = sheets.Bytes()
	return raw, names.Stem(l.At.Name) + ", evidence.pdf", err
}

// heading is what stands on top of evidence pages.
func (p *paperwork) heading(ctx context.Context) (title string, head []string, err error) {
	sender, err := accounts.PersonByID(ctx, p.Acts.DB, p.SentBy)
	when := p.moment(p.SentAt)
	if p.Language == "de" {
		return "Nachweis der Unterschriften", []string{p.at.Ref() + " · " + p.at.Name, fmt.Sprintf("Version %d, %d Seiten, SHA-256 %s", p.Version, p.row.Pages, hex.EncodeToString(p.SHA256)),
			fmt.Sprintf("Versandt von %s, %s, am %s", sender.Name, p.practice.Name, when), "Vorgang " + p.ID.String(), "Was die Parteien gegeben haben, steht auf den Seiten davor; wie sicher sie bekannt waren, hier."}, err
	}
	return "Evidence of the signatures", []string{p.at.Ref() + " · " + p.at.Name, fmt.Sprintf("Version %d, %d pages, SHA-256 %s", p.Version, p.row.Pages, hex.EncodeToString(p.SHA256)),
		fmt.Sprintf("Sent by %s, %s, %s", sender.Name, p.practice.Name, when), "Request " + p.ID.String(), "What the parties gave stands on the pages before this one; how surely they were known, here."}, err
}

func (p *paperwork) moment(t time.Time) string {
	return t.In(p.zone).Format("2006-01-02 15:04:05 MST")
}

// how says how surely a party was known.
func (p *paperwork) how(e signing.Event) string {
	en := map[signing.Known]string{signing.ByLink: "came by a link sent to " + p.request.Plan.Parties[e.Party].Email, signing.ByCode: "confirmed " + e.Signing.Email + " by a one-time code", signing.BySignIn: "signed in as " + e.Signing.Email, signing.InPerson: "in person, before " + e.Signing.Before}
	de := map[signing.Known]string{signing.ByLink: "kam über einen Link an " + p.request.Plan.Parties[e.Party].Email, signing.ByCode: "bestätigte " + e.Signing.Email + " durch einen Einmalcode", signing.BySignIn: "angemeldet als " + e.Signing.Email, signing.InPerson: "persönlich, vor " + e.Signing.Before}
	if p.Language == "de" {
		return de[e.Signing.Known]
	}
	return en[e.Signing.Known]
}

// entries are what is known of all acts.
func (p *paperwork) entries() []ink.Entry {
	all := make([]ink.Entry, len(p.acts))
	for i, e := range p.acts {
		all[i] = p.entry(e)
	}
	return all
}

// entry is what is known of a party's act.
func (p *paperwork) entry(e signing.Event) ink.Entry {
	party, s := p.request.Plan.Parties[e.Party], e.Signing
	words := struct{ signed, known, read, from string }{"Signed %s", "Known: %s", "Pages before their eyes: %s of %d", "From %s, %s"}
	if !party.Signs {
		words.signed = "Filled in %s"
	}
	if p.Language == "de" {
		words = struct{ signed, known, read, from string }{"Unterschrieben %s", "Bekannt: %s", "Seiten vor Augen: %s von %d", "Von %s, %s"}
		if !party.Signs {
			words.signed = "Ausgefüllt %s"
		}
	}
	lines := []string{fmt.Sprintf(words.signed, p.moment(s.At)), fmt.Sprintf(words.known, p.how(e)), fmt.Sprintf(words.read, looks.Pages(s.Pages).String(), p.row.Pages), fmt.Sprintf(words.from, s.Network, s.Agent)}
	lines = append(lines, p.broughtBy(s)...)
	name := signing.Letter(e.Party) + " · " + party.Name
	if party.Role != "" {
		name += ", " + party.Role
	}
	return ink.Entry{Name: name, Lines: lines}
}

// mostBrought is how many lines of an entry say what was brought, longBrought how many letters of a file's name.
const mostBrought, longBrought = 3, 26

// broughtBy says what a party brought: each file by its hash. Those for which there is no line of their own are said together,
// by the hash of their hashes.
func (p *paperwork) broughtBy(s *signing.Signing) (lines []string) {
	word, more := "Brought", "Brought: %d more, SHA-256 of their SHA-256 %s"
	if p.Language == "de" {
		word, more = "Beigebracht", "Beigebracht: %d weitere, SHA-256 ihrer SHA-256 %s"
	}
	var all []signing.Value
	for _, v := range s.Values {
		if v.SHA256 != "" {
			all = append(all, v)
		}
	}
	for i, v := range all {
		if i == mostBrought-1 && len(all) > mostBrought {
			rest := sha256.New()
			for _, v := range all[i:] {
				_, _ = rest.Write([]byte(v.SHA256))
			}
			return append(lines, fmt.Sprintf(more, len(all)-i, hex.EncodeToString(rest.Sum(nil))))
		}
		name := signing.Shortened(v.Text, func(words string) bool { return utf8.RuneCountInString(words) <= longBrought })
		lines = append(lines, fmt.Sprintf("%s: %s, SHA-256 %s", word, name, v.SHA256))
	}
	return lines
}

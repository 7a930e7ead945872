package demo

import (
	"context"
	"io"
	"slices"
	"strings"
	"time"

	"tabularis/core/linkgate"
	"tabularis/internal/app/act"
	"tabularis/internal/app/links"
	"tabularis/internal/app/transfers"
	"tabularis/internal/app/visits"
)

// sent is a transfer, how many days ago it was made and for how long, and who fetched how many
// of its files, how many days ago.
type sent struct {
	dossier string
	items   []string
	name    string
	message string
	ago     int
	days    int
	to      []string
	fetched []fetched
}

type fetched struct {
	by    string
	files int
	ago   int
	clock string
}

var sendings = []sent{
	{dossier: "MER-24", items: []string{"Preliminary findings.pdf", "Docking plan.pdf"}, name: "Survey plan and drawings", ago: 8, days: 4, to: []string{"odile.charron@brackwater.example"},
		message: "Dear Odile, the plan of the survey and the drawings.", fetched: []fetched{{"odile.charron@brackwater.example", 2, 7, "08:50"}}},
	{dossier: "PEL-11", items: []string{"Docking plan.pdf"}, name: "Docking drawings", ago: 4, days: 11, to: []string{"marit.juhl@pelham-dock.example", "berth.office@pelham-dock.example"},
		message: "Dear Marit, the docking plan of the Pellew as it stands. Please fetch it before Monday.", fetched: []fetched{{"berth.office@pelham-dock.example", 0, 3, "09:15"}}},
	{dossier: "MER-24", items: []string{"Readings/Photographs"}, name: "Photographs, tank 4, full size", ago: 3, days: 12, to: []string{"odile.charron@brackwater.example", "bram.teague@brackwater.example"},
		message: "Dear Odile, dear Bram, all photographs of tank 4 as they were taken.", fetched: []fetched{{"odile.charron@brackwater.example", 3, 1, "16:14"}, {"bram.teague@brackwater.example", 99, 2, "09:02"}}},
}

// send plans a transfer and what became of it.
func (l *loader) send(s sent) {
	var made transfers.Transfer
	at := when(l.now, s.ago, "15:20")
	l.plan(at, func(ctx context.Context) (err error) {
		until := time.Date(at.Year(), at.Month(), at.Day()+s.days, 18, 0, 0, 0, time.UTC)
		w := transfers.Wish{Wish: links.Wish{Name: s.name, UntilSet: true, Language: "en", Terms: linkgate.Terms{Until: &until, MayDownload: true}}, To: s.to, Message: s.message}
		for _, item := range s.items {
			w.Items = append(w.Items, l.item(s.dossier, item))
		}
		made, err = l.Transfers.Make(l.as(ctx, "ines"), w)
		return err
	})
	for _, f := range s.fetched {
		l.plan(when(l.now, f.ago, f.clock), func(ctx context.Context) error { return l.fetch(ctx, made, f) })
	}
}

// fetch lets a recipient open their copy of the link, and fetch so many files.
func (l *loader) fetch(ctx context.Context, made transfers.Transfer, f fetched) error {
	ctx = act.As(ctx, act.Actor{Network: "203.0.113.88", Agent: onWindows})
	mails, err := links.MailsOf(ctx, l.Acts.DB, made.LinkID)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(mails, func(m links.LinkMail) bool { return m.Address == f.by })
	address, err := l.Links.CopyAddress(mails[at])
	if err != nil {
		return err
	}
	who := visits.Visitor{Link: address[strings.LastIndex(address, "/")+1:]}
	token, link, err := l.Visits.Open(ctx, who, visits.Claim{})
	if err != nil {
		return err
	}
	who.Visits = map[string]string{link.ID.String(): token}
	given, err := l.Transfers.Given(ctx, who)
	if err != nil {
		return err
	}
	for _, file := range given.Files[:min(f.files, len(given.Files))] {
		opened, err := l.Transfers.Open(ctx, who, file.ID)
		if err != nil {
			return err
		}
		n, err := io.Copy(io.Discard, opened)
		if err != nil {
			return err
		}
		if err := l.Transfers.Fetched(ctx, opened, 0, n); err != nil {
			return err
		}
		if err := opened.Close(); err != nil {
			return err
		}
	}
	return nil
}

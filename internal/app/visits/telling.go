package visits

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"tabularis/internal/app/accounts"
	"tabularis/internal/app/links"
	"tabularis/internal/app/practice"

	"tabularis/core/events"
	"tabularis/core/linkgate"
	"tabularis/internal/app/act"
	"tabularis/internal/app/notices"
	"tabularis/internal/platform/jobs"
)

// happenings are what a sender is told of, each in one and in several.
var happenings = map[string]map[string][2]string{
	"link.opened":      {"en": {"opened", "opened %d times"}, "de": {"geöffnet", "%d-mal geöffnet"}},
	"link.fetched":     {"en": {"one file downloaded", "%d files downloaded"}, "de": {"eine Datei heruntergeladen", "%d Dateien heruntergeladen"}},
	"link.fetched-all": {"en": {"all downloaded", "all downloaded %d times"}, "de": {"alles heruntergeladen", "%d-mal alles heruntergeladen"}},
	"link.received":    {"en": {"one file came in", "%d files came in"}, "de": {"eine Datei kam herein", "%d Dateien kamen herein"}},
	"link.revised":     {"en": {"one file changed", "%d files changed"}, "de": {"eine Datei geändert", "%d Dateien geändert"}},
	"link.handed-in":   {"en": {"papers handed in", "papers handed in %d times"}, "de": {"Papiere abgegeben", "%d-mal Papiere abgegeben"}},
	"link.refused":     {"en": {"one try refused", "%d tries refused"}, "de": {"ein Versuch abgewiesen", "%d Versuche abgewiesen"}},
}

// tellSender tells the sender by mail and notice of one act, if they want to be
// told each time.
func (s *Service) tellSender(ctx context.Context, tx *act.Tx, l links.Link, what events.Said) error {
	kind, data := what.Kind(), what.Map()
	// A file that an intake takes is told of with the others when they are handed in.
	if !kind.Tidings || l.Tell != string(linkgate.TellEach) || kind.Name == events.LinkReceived.Name && l.Kind == linkgate.Intake {
		return nil
	}
	if err := notices.Add(ctx, tx, l.CreatedBy, notices.Used, l.Name, "/outward?link="+l.ID.String()); err != nil {
		return err
	}
	who := data["email"]
	if who == "" {
		who = data["copy"]
	}
	line := happenings[kind.Name][l.Language][0]
	if who != "" {
		line += ", " + who
	}
	if name := data["name"]; name != "" {
		line += ": " + name
	}
	return s.report(ctx, tx, l, []string{line})
}

// report mails lines about a link to its sender.
func (s *Service) report(ctx context.Context, tx *act.Tx, l links.Link, lines []string) error {
	sender, err := accounts.PersonByID(ctx, tx, l.CreatedBy)
	if err != nil || sender.DeactivatedAt != nil {
		return err
	}
	practice, err := practice.ThePractice(ctx, tx)
	if err != nil {
		return err
	}
	text := strings.Join(lines, "\n") + "\n\n" + s.BaseURL + "/outward?link=" + l.ID.String() + "\n"
	return tx.Enqueue(ctx, jobs.SendMail{To: sender.Email, ToName: sender.Name, From: practice.Name, Subject: fmt.Sprintf("%s: %s", l.Name, lines[0]), Text: text})
}

// TellDays tells the senders who want so of the day that is over: once, in the
// morning of the next.
func (s *Service) TellDays(ctx context.Context) error {
	_, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	y, m, d := s.Acts.Now().In(zone).Date()
	midnight := time.Date(y, m, d, 0, 0, 0, 0, zone)
	all, err := DailyLinks(ctx, s.Acts.DB, midnight)
	if err != nil {
		return err
	}
	var failed []error
	for _, l := range all {
		failed = append(failed, s.Acts.Do(ctx, func(tx *act.Tx) error { return s.tellDay(ctx, tx, l, midnight) }))
	}
	return errors.Join(failed...)
}

func (s *Service) tellDay(ctx context.Context, tx *act.Tx, l links.Link, midnight time.Time) error {
	l, err := links.LockLink(ctx, tx, l.ID)
	since := l.CreatedAt
	if l.ToldAt != nil {
		since = *l.ToldAt
	}
	if err != nil || !since.Before(midnight) {
		return err
	}
	happened, err := HappenedSince(ctx, tx, l.ID, since)
	if err != nil {
		return err
	}
	var lines []string
	for _, h := range happened {
		switch words, ok := happenings[h.Kind]; {
		case !ok:
		case h.N == 1:
			lines = append(lines, words[l.Language][0])
		default:
			lines = append(lines, fmt.Sprintf(words[l.Language][1], h.N))
		}
	}
	if err := ToldOf(ctx, tx, l.ID, tx.Now); err != nil || len(lines) == 0 {
		return err
	}
	return s.report(ctx, tx, l, lines)
}

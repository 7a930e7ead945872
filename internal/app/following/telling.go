package following

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/events/words"
	"tabularis/core/fault"
	"tabularis/core/following"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/activity"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/letters"
)

const (
	// earliest is how far back followers are told of what happened, where none could be
	// told for a while.
	earliest = 24 * time.Hour
	// mostTold is how many events a follower is told of at once, mostRead how many a digest
	// counts, and mostLines how many lines it has of a dossier.
	mostTold, mostRead, mostLines = 200, 1000, 20
	// mostNames is how many people a notice names.
	mostNames = 3
)

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("tell who follows", time.Minute, s.TellFollowers)
	r.Every("send digests", time.Minute, s.SendDigests)
}

// TellFollowers leaves a notice for each thing that somebody follows, where others did
// something meanwhile: one until they have looked.
func (s *Service) TellFollowers(ctx context.Context) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		since, err := told(ctx, tx)
		if fault.Is(err, fault.NotFound) {
			return nil
		}
		until := tx.Now.Add(-following.Settled)
		if err != nil || !until.After(since) {
			return err
		}
		if err := setTold(ctx, tx, until); err != nil {
			return err
		}
		if first := until.Add(-earliest); since.Before(first) {
			since = first
		}
		all, err := concerned(ctx, tx, since, until)
		for _, person := range all {
			if err == nil {
				err = s.tell(ctx, tx, person, since, until)
			}
		}
		return err
	})
}

// tell tells one follower.
func (s *Service) tell(ctx context.Context, tx *act.Tx, id uuid.UUID, since, until time.Time) error {
	person, err := accounts.PersonByID(ctx, tx, id)
	if err != nil || person.DeactivatedAt != nil {
		return err
	}
	all, err := s.happened(ctx, person, activity.EventFilter{Since: since, Until: until, Limit: mostTold}, true)
	if err != nil || len(all) == 0 {
		return err
	}
	mine, err := s.Mine(as(ctx, person))
	if err != nil {
		return err
	}
	for _, thing := range mine {
		if by, n := byWhom(all, thing, mine); n > 0 {
			note := notices.Notice{PersonID: id, Kind: string(notices.Followed), By: strings.Join(by, ", "), What: title(thing), Path: thing.Path()}
			if err := notices.Anew(ctx, tx, note); err != nil {
				return err
			}
		}
	}
	return nil
}

// as lets somebody look, as far as they may.
func as(ctx context.Context, person accounts.Person) context.Context {
	return act.As(ctx, act.Actor{Person: &person, Language: person.Language})
}

// happened lists what others did, newest first, as far as somebody may know it and has not
// muted it.
func (s *Service) happened(ctx context.Context, person accounts.Person, f activity.EventFilter, only bool) (all []events.Named, err error) {
	if f.Heeding, err = Heeded(ctx, s.Acts.DB, person.ID); err != nil {
		return nil, err
	}
	f.But, f.Heeding.Only = person.ID, only
	return s.Activity.Shown(as(ctx, person), f)
}

func title(t Thing) string {
	if t.Dossier() {
		return t.Code + " " + t.Name
	}
	return t.Name
}

// byWhom counts the events of which a follower is told by a thing, and names who did them.
// What concerns a document that is followed itself is told by that alone.
func byWhom(all []events.Named, thing Thing, followed []Thing) (people []string, n int) {
	for _, e := range all {
		if telling(e, followed) != thing.ID {
			continue
		}
		if n++; e.Actor == "" || slices.Contains(people, e.Actor) {
			continue
		}
		if len(people) == mostNames {
			return append(people, "…"), n
		}
		people = append(people, e.Actor)
	}
	return people, n
}

// telling is the followed thing by which an event is told.
func telling(e events.Named, followed []Thing) (thing uuid.UUID) {
	for _, t := range followed {
		switch {
		case t.Muted:
		case e.ItemID != nil && *e.ItemID == t.ID:
			return t.ID
		case e.DossierID != nil && *e.DossierID == t.ID:
			thing = t.ID
		}
	}
	return thing
}

// reader is somebody who wants digests, and up to when they had one.
type reader struct {
	ID uuid.UUID `db:"id"`
	Digest
	Last time.Time `db:"digest_at"`
}

// SendDigests sends everybody the digest that is due.
func (s *Service) SendDigests(ctx context.Context) error {
	now := s.Acts.Now()
	all, err := waiting(ctx, s.Acts.DB, now.Add(-following.Settled))
	if err != nil || len(all) == 0 {
		return err
	}
	p, own, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	var failed []error
	for _, r := range all {
		zone, err := zoneOf(r.Zone)
		if err != nil || zone == nil {
			zone = own
		}
		if since, until := r.Every.Due(r.Last, now, zone); until.After(since) {
			failed = append(failed, s.send(ctx, r, p.Name, since, until, zone))
		}
	}
	return errors.Join(failed...)
}

// send sends one digest, once; where nothing happened none is sent.
func (s *Service) send(ctx context.Context, r reader, practice string, since, until time.Time, zone *time.Location) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := claim(ctx, tx, r, until); err != nil {
			if fault.Is(err, fault.NotFound) {
				err = nil
			}
			return err
		}
		person, err := accounts.PersonByID(ctx, tx, r.ID)
		if err != nil {
			return err
		}
		all, err := s.happened(ctx, person, activity.EventFilter{Since: since, Until: until, Limit: mostRead}, r.Followed)
		if err != nil || len(all) == 0 {
			return err
		}
		letter := letters.Digest{Weekly: r.Every == following.Weekly, Day: day(person.Language, until.In(zone)), Number: len(all), AndMore: len(all) == mostRead, Address: s.BaseURL + "/activity", Change: s.BaseURL + "/me"}
		for _, p := range following.Digest(all) {
			letter.Dossiers = append(letter.Dossiers, inWords(p, person.Language, zone))
		}
		return tx.Send(ctx, letters.Mail{To: person.Email, ToName: person.Name, Language: person.Language, Practice: practice, Letter: letter})
	})
}

func inWords(p following.Part, language string, zone *time.Location) letters.DigestPart {
	out := letters.DigestPart{Dossier: p.Code + " " + p.Name}
	if p.Code == "" {
		out.Dossier = ""
	}
	for i, l := range p.Lines {
		if i == mostLines {
			out.More = len(p.Lines) - mostLines
			break
		}
		said := words.Sentence(language, l[0])
		if len(l) > 1 {
			said = words.Folded(language, l[0], len(l))
		}
		at := l[0].At.In(zone)
		out.Lines = append(out.Lines, fmt.Sprintf("%s %s  %s", day(language, at), at.Format("15:04"), said))
	}
	return out
}

// day is a day in short.
func day(language string, t time.Time) string {
	if language == "de" {
		return t.Format("2.1.")
	}
	return t.Format("2 Jan")
}

package evidence

import (
	"context"
	"encoding/hex"
	"encoding/json"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/evidence"
	"tabularis/core/fault"
	"tabularis/core/register"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/activity"
	"tabularis/internal/platform/postgres"
)

// Subject is of what something is proven: one of a document or folder, a link, a dossier
// by its code, or nothing of these and a time alone.
type Subject struct {
	Item, Link   *uuid.UUID
	Dossier      string
	Since, Until time.Time
}

// inside refuses guests: the log is the practice's.
func inside(ctx context.Context) (*accounts.Person, error) {
	me := act.Who(ctx).Person
	if me == nil || !me.Inside() {
		return nil, fault.Refused("look at the log")
	}
	return me, nil
}

// filter is what the acting person asks for, once they may know of it, with what it is
// called.
func (s *Service) filter(ctx context.Context, q postgres.Q, of Subject) (f activity.EventFilter, name string, err error) {
	now := s.Acts.Now()
	if !of.Until.IsZero() && !of.Until.After(of.Since) {
		return f, "", errSpan.In("until", "the end comes after the beginning")
	}
	f.Since, f.Until = of.Since, of.Until
	named := 0
	for _, yes := range []bool{of.Item != nil, of.Link != nil, of.Dossier != ""} {
		if yes {
			named++
		}
	}
	switch {
	case named > 1, named == 0 && of.Since.IsZero():
		err = errSubject.New("say of what: a document, a link or a dossier, or of which time")
	case of.Item != nil:
		item, e := s.Access.Item(ctx, q, *of.Item, access.See, now)
		f.Item, name, err = item.ID, item.Name, e
		if e == nil && item.Number != nil {
			name = register.Ref{Code: item.Code, Number: *item.Number}.String() + " " + item.Name
		}
	case of.Link != nil:
		if err = s.Access.Link(ctx, q, *of.Link, access.See, now); err == nil {
			f.Link, name = *of.Link, "link"
		}
	case of.Dossier != "":
		d, e := s.Access.ByCode(ctx, q, of.Dossier, now)
		f.Dossier, name, err = d.ID, d.Code+" "+d.Name, e
	default:
		name = "practice"
	}
	return f, name, err
}

// Seal is where an event stands in the log, and since when a checkpoint holds it.
type Seal struct {
	Place int64
	// Size and At are of the first checkpoint that holds it.
	Size int64
	At   time.Time
}

// Trail is a page of events, newest first, with their seals by the events' ids.
type Trail struct {
	Events []events.Named
	Seals  map[int64]Seal
	More   bool
}

// Trail shows what happened to a subject, with what is sealed of it.
func (s *Service) Trail(ctx context.Context, of Subject, before int64, limit int) (t Trail, err error) {
	if _, err := inside(ctx); err != nil {
		return t, err
	}
	f, _, err := s.filter(ctx, s.Acts.DB, of)
	if err != nil {
		return t, err
	}
	f.Before, f.Limit = before, limit+1
	if t.Events, err = s.Activity.Shown(ctx, f); err != nil {
		return t, err
	}
	if len(t.Events) > limit {
		t.Events, t.More = t.Events[:limit], true
	}
	t.Seals, err = s.seals(ctx, t.Events)
	return t, err
}

func (s *Service) seals(ctx context.Context, of []events.Named) (map[int64]Seal, error) {
	sealed, err := sealedOf(ctx, s.Acts.DB, idsOf(of))
	if err != nil {
		return nil, err
	}
	seals, at := map[int64]Seal{}, map[int64]int64{}
	var places []int64
	for id, e := range sealed {
		places, at[e.Place] = append(places, e.Place), id
	}
	held, err := holding(ctx, s.Acts.DB, places)
	for _, h := range held {
		seals[at[h.Place]] = Seal{h.Place, h.Size, h.At}
	}
	return seals, err
}

func idsOf(all []events.Named) []int64 {
	ids := make([]int64, len(all))
	for i, e := range all {
		ids[i] = e.ID
	}
	return ids
}

// Shown is one event with what proves it.
type Shown struct {
	Seal
	Hash       string
	Checkpoint Checkpoint
	Root       string
	// Steps are the hashes that lead from the event to the checkpoint.
	Steps []string
}

// Prove shows how an event that the acting person may know of is proven.
func (s *Service) Prove(ctx context.Context, id int64) (out Shown, err error) {
	if _, err := inside(ctx); err != nil {
		return out, err
	}
	seen, err := s.Activity.Shown(ctx, activity.EventFilter{Before: id + 1, Limit: 1})
	if err != nil {
		return out, err
	}
	if len(seen) == 0 || seen[0].ID != id {
		return out, fault.Missing()
	}
	seals, err := s.seals(ctx, seen)
	if err != nil {
		return out, err
	}
	var there bool
	if out.Seal, there = seals[id]; !there {
		return out, fault.Missing()
	}
	stored, sealed, err := s.one(ctx, s.Acts.DB, id)
	if err != nil {
		return out, err
	}
	text, err := entry(stored, sealed)
	if err != nil {
		return out, err
	}
	hash := evidence.HashOf(text)
	out.Hash = hex.EncodeToString(hash[:])
	if out.Checkpoint, err = newest(ctx, s.Acts.DB); err != nil {
		return out, err
	}
	c, _, err := evidence.OpenCheckpoint(out.Checkpoint.Signed, []string{out.Checkpoint.Verifier})
	if err != nil {
		return out, err
	}
	out.Root = hex.EncodeToString(c.Root[:])
	proof, err := tilesIn(ctx, s.Acts.DB).Included(c.Size, out.Place)
	for _, h := range proof {
		out.Steps = append(out.Steps, hex.EncodeToString(h[:]))
	}
	return out, err
}

// State is how the log stands.
type State struct {
	Origin  string
	Size    int64
	Waiting int
	Newest  *Checkpoint
	Root    string
	// Check is the last comparison, and nil where there was none.
	Check    *Check
	Findings evidence.Findings
	// Witnesses are whom checkpoints are sent, for whoever looks after the practice.
	Witnesses  []string
	Administer bool
}

// State says how the log stands.
func (s *Service) State(ctx context.Context) (out State, err error) {
	me, err := inside(ctx)
	if err != nil {
		return out, err
	}
	q := s.Acts.DB
	if out.Waiting, err = countUnsealed(ctx, q); err != nil {
		return out, err
	}
	l, err := theLog(ctx, q)
	if fault.Is(err, fault.NotFound) {
		return out, nil
	}
	if err != nil {
		return out, err
	}
	out.Origin, out.Size, out.Administer = l.Origin, l.Size, me.Administers()
	if c, err := newest(ctx, q); err == nil {
		out.Newest = &c
		if open, _, err := evidence.OpenCheckpoint(c.Signed, []string{c.Verifier}); err == nil {
			out.Root = hex.EncodeToString(open.Root[:])
		}
	}
	checks, err := lastCheck(ctx, q)
	if err != nil {
		return out, err
	}
	if len(checks) > 0 {
		out.Check = &checks[0]
		if err := json.Unmarshal(checks[0].Findings, &out.Findings); err != nil {
			return out, err
		}
	}
	all, err := witnesses(ctx, q)
	for _, w := range all {
		if out.Administer {
			out.Witnesses = append(out.Witnesses, w.Email)
		}
	}
	return out, err
}

// Seal seals at once what waits.
func (s *Service) Seal(ctx context.Context) error {
	if _, err := inside(ctx); err != nil {
		return err
	}
	return s.SealAll(ctx)
}

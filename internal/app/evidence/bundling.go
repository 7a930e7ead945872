package evidence

import (
	"bytes"
	"context"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"regexp"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/events/words"
	"tabularis/core/evidence"
	"tabularis/internal/app/act"
	"tabularis/internal/app/activity"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/archive"
)

const (
	// mostEvents is how many events a bundle holds.
	mostEvents = 20000
	// mostEarlier is how many earlier checkpoints, one a day, it brings along.
	mostEarlier = 400
	// The names of what a bundle's archive holds.
	pageFile  = "evidence.html"
	paperFile = "evidence.pdf"
	readFile  = "read-me.txt"
)

// Bundle writes the events of a subject with their proofs as an archive; with contents,
// for a document, that of its versions, too. What is not sealed yet is sealed first.
// Every event is as the acting person may know it: what they may not stays sealed.
func (s *Service) Bundle(ctx context.Context, of Subject, contents bool) (out tree.Chosen, err error) {
	return out, s.inTurn(ctx, func() error {
		out, err = s.bundled(ctx, of, contents)
		return err
	})
}

// inTurn waits until it is the acting person's turn.
func (s *Service) inTurn(ctx context.Context, do func() error) error {
	me, err := inside(ctx)
	if err != nil {
		return err
	}
	asker := me.ID.String()
	if err := s.Turns.Enter(ctx, asker); err != nil {
		return err
	}
	defer s.Turns.Leave(asker)
	return do()
}

func (s *Service) bundled(ctx context.Context, of Subject, contents bool) (tree.Chosen, error) {
	b, err := s.gather(ctx, of, nil)
	if err != nil {
		return tree.Chosen{}, err
	}
	out := tree.Chosen{Name: "evidence " + b.Subject}
	var more []archive.Entry
	if contents && of.Item != nil {
		if more, err = s.addContents(ctx, *of.Item, &b.Bundle); err != nil {
			return out, err
		}
	}
	out.Entries, err = s.written(b)
	for _, e := range more {
		out.Add(e, *of.Item)
	}
	return out, err
}

// Permitted refuses when the acting person may no longer download the documents whose
// contents are part of a bundle.
func (s *Service) Permitted(ctx context.Context, documents []uuid.UUID) error {
	return s.Access.All(ctx, s.Acts.DB, documents, access.Download, s.Acts.Now())
}

// gathered is a bundle with the events as they are shown, newest first, and the practice's
// zone.
type gathered struct {
	evidence.Bundle
	shown []events.Named
	zone  *time.Location
}

// gather gathers events and proofs; only says which of the events, nil all of them.
func (s *Service) gather(ctx context.Context, of Subject, only func(e events.Named) bool) (b gathered, err error) {
	q := s.Acts.DB
	f, name, err := s.filter(ctx, q, of)
	if err != nil {
		return b, err
	}
	if err := s.SealAll(ctx); err != nil {
		return b, err
	}
	f.Limit = mostEvents + 1
	all, err := s.Activity.Shown(ctx, f)
	if err != nil {
		return b, err
	}
	if len(all) > mostEvents {
		return b, errTooMany.In("since", "there are more than %d events; narrow it by a time", mostEvents)
	}
	for _, e := range all {
		if only == nil || only(e) {
			b.shown = append(b.shown, e)
		}
	}
	if len(b.shown) == 0 {
		return b, errNothing.New("nothing happened there that can be proven")
	}
	p, zone, err := practice.PracticeZone(ctx, q)
	if err != nil {
		return b, err
	}
	b.zone = zone
	b.Bundle = evidence.Bundle{Format: evidence.Format, Practice: p.Name, Subject: name, Written: s.Acts.Now().Format(time.RFC3339), By: act.Who(ctx).Person.Name, FormerKeys: []string{}, Earlier: []evidence.Growth{}, Versions: []evidence.Version{}}
	last, err := newest(ctx, q)
	if err != nil {
		return b, err
	}
	b.Checkpoint, b.Key = last.Signed, last.Verifier
	if err := s.prove(ctx, &b.Bundle, last, b.shown); err != nil {
		return b, err
	}
	if err := s.addEarlier(ctx, &b.Bundle, last, zone.String()); err != nil {
		return b, err
	}
	return b, s.addVersions(ctx, &b.Bundle, b.shown)
}

// prove adds each event with its proof, oldest first.
func (s *Service) prove(ctx context.Context, b *evidence.Bundle, last Checkpoint, shown []events.Named) error {
	q := s.Acts.DB
	stored, err := activity.EventsByID(ctx, q, idsOf(shown))
	if err != nil {
		return err
	}
	sealed, err := sealedOf(ctx, q, idsOf(shown))
	if err != nil {
		return err
	}
	tiles := tilesIn(ctx, q).Kept()
	for i := len(shown) - 1; i >= 0; i-- {
		seen, at := shown[i], sealed[shown[i].ID]
		if _, there := sealed[seen.ID]; !there || at.Place >= last.Size {
			continue // It happened just now.
		}
		e := stored[seen.ID].Event
		text, err := entry(e, at)
		if err != nil {
			return err
		}
		proof, err := tiles.Included(last.Size, at.Place)
		if err != nil {
			return err
		}
		opened, err := openedTo(seen.Event, e, at)
		if err != nil {
			return err
		}
		b.Events = append(b.Events, evidence.Proven{Index: at.Place, Entry: string(text), Proof: evidence.Proof(proof), Opened: opened, Says: says(seen)})
	}
	return nil
}

// openedTo opens those fields of an event that whoever asks sees whole.
func openedTo(seen, stored events.Event, at sealedEvent) (map[string]evidence.Opening, error) {
	opened := map[string]evidence.Opening{}
	if at.Secret == nil {
		return opened, nil
	}
	for _, field := range evidence.Fields {
		theirs, err := evidence.Open(seen, at.Secret, field)
		if err != nil {
			continue // It was hidden from them as a whole.
		}
		whole, err := evidence.Open(stored, at.Secret, field)
		if err != nil {
			return nil, err
		}
		if theirs.Value == whole.Value {
			opened[field] = whole
		}
	}
	return opened, nil
}

// says is an event in words, for whoever reads the bundle: with the address that a visitor
// gave, and the version.
func says(e events.Named) string {
	if email := events.MapOf(e.Data)["email"]; email != "" {
		e.Actor = email
	}
	said := words.Sentence("en", e)
	if version := "version " + words.Number(e.Version); e.Version != nil && !strings.Contains(said, version) {
		said += ", " + version
	}
	return said
}

// addEarlier brings along the last checkpoint of each day, with what proves that the log
// has grown out of it.
func (s *Service) addEarlier(ctx context.Context, b *evidence.Bundle, last Checkpoint, zone string) error {
	earlier, err := dailyBefore(ctx, s.Acts.DB, last.Size, zone, mostEarlier)
	if err != nil {
		return err
	}
	tiles := tilesIn(ctx, s.Acts.DB).Kept()
	for _, c := range earlier {
		proof, err := tiles.Grown(last.Size, c.Size)
		if err != nil {
			return err
		}
		b.Earlier = append(b.Earlier, evidence.Growth{Checkpoint: c.Signed, Proof: evidence.Proof(proof)})
	}
	keys, err := signings(ctx, s.Acts.DB)
	for _, k := range keys {
		if k.Verifier != b.Key {
			b.FormerKeys = append(b.FormerKeys, k.Verifier)
		}
	}
	return err
}

func (s *Service) addVersions(ctx context.Context, b *evidence.Bundle, shown []events.Named) error {
	all, err := versionsIn(ctx, s.Acts.DB, idsOf(shown))
	for _, v := range all {
		b.Versions = append(b.Versions, evidence.Version{Document: v.ItemID.String(), Number: v.Number, Name: v.Name, SHA256: hex.EncodeToString(v.SHA256), Size: v.Size})
	}
	return err
}

// addContents adds the contents of a document's versions, for whoever may download it.
func (s *Service) addContents(ctx context.Context, document uuid.UUID, b *evidence.Bundle) ([]archive.Entry, error) {
	sight, err := s.Access.Item(ctx, s.Acts.DB, document, access.Download, s.Acts.Now())
	if err != nil {
		return nil, err
	}
	var all []archive.Entry
	placed, err := tree.PlacedByID(ctx, s.Acts.DB, sight.ID)
	if err != nil {
		return nil, err
	}
	for i, v := range b.Versions {
		sum, err := hex.DecodeString(v.SHA256)
		if err != nil || v.Document != document.String() {
			continue
		}
		e := s.Contents.Entry(ctx, placed, sum, v.Size)
		e.Way, e.Name = "versions/", fmt.Sprint(v.Number)+plainEnding.FindString(placed.Name)
		all, b.Versions[i].File = append(all, e), e.Way+e.Name
	}
	return all, nil
}

// plainEnding is the ending of a name that stays the same on any system.
var plainEnding = regexp.MustCompile(`\.[A-Za-z0-9]{1,8}$`)

// written is the bundle as it is read by programs and by people.
func (s *Service) written(b gathered) ([]archive.Entry, error) {
	raw, err := json.MarshalIndent(b.Bundle, "", " ")
	if err != nil {
		return nil, fmt.Errorf("writing evidence: %w", err)
	}
	page, paper, err := sheets(b.Bundle, b.zone)
	if err != nil {
		return nil, err
	}
	files := []archive.Entry{s.text(evidence.BundleFile, raw), s.text(pageFile, page), s.text(paperFile, paper), s.text("checkpoint.txt", []byte(b.Checkpoint)), s.text(readFile, []byte(readMe))}
	return files, nil
}

// text is an archive's entry of what is at hand.
func (s *Service) text(name string, raw []byte) archive.Entry {
	return archive.Entry{Name: name, Modified: s.Acts.Now(), Size: int64(len(raw)), Open: func() (io.ReadCloser, error) { return io.NopCloser(bytes.NewReader(raw)), nil }}
}

// Package writing is where several people write one document at once. The text is
// a state and the steps since, which the database holds; each process that somebody
// writes by has the document open in a room, and tells the others of what it added.
// A batch is acknowledged once it is durable. What was written becomes a version of
// the document, an ordinary file of its kind, when everybody has left.
package writing

import (
	"bytes"
	"context"
	"encoding/json"
	"path"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/richtext"
	"tabularis/core/table"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/uploads"
	"tabularis/internal/app/visits"
	"tabularis/internal/platform/office"
	"tabularis/internal/platform/preview"
	"tabularis/internal/platform/reading"
	"tabularis/internal/platform/secret"
	"tabularis/internal/platform/together"
)

// Service lets documents be written.
type Service struct {
	Acts     *act.Runner
	Access   *guard.Guard
	Contents *tree.Contents
	Items    *tree.Service
	Uploads  *uploads.Service
	Keys     *secret.Keys
	Visits   *visits.Service
	// Relay is by which servers the pages of a call find each other.
	Relay Relay

	process string
	life    context.Context
	end     context.CancelFunc

	opening together.Group[*room]

	mu    sync.Mutex
	rooms map[uuid.UUID]*room
}

// New makes the service; Close ends its rooms.
func New(s *Service) *Service {
	s.process, s.rooms = uuid.NewString(), map[uuid.UUID]*room{}
	s.life, s.end = context.WithCancel(context.Background())
	return s
}

// Close ends all rooms. What was written is durable already.
func (s *Service) Close() { s.end() }

// mostBytes is how large a file may be that is opened for writing: pictures need room that texts do not.
func mostBytes(mediaType string) int64 {
	if mediaType == office.Word {
		return 40 << 20
	}
	return 8 << 20
}

var (
	errNotWritten = fault.Declare(fault.Invalid, "not-written", "a document of this kind is not written here")
	errTooLarge   = fault.Declare(fault.TooLarge, "text-file-too-large", "the file is too large to be written here")
)

// standing is what somebody may do with a document that is written.
type standing struct {
	guard.Sight
	pen  pen
	Mode richtext.Mode
	// supersedes says that the person has said that what is decided on it is superseded.
	supersedes bool
	// Barred is why nobody may write now, for whoever could.
	Barred error
	// speaks says that they may take part in the call beside it.
	speaks bool
}

// allowed says what whoever asks may do with a document's text.
func (s *Service) allowed(ctx context.Context, document uuid.UUID) (standing, error) {
	if v, is := visitorOf(ctx); is {
		return s.visiting(ctx, v, document)
	}
	return s.account(ctx, document)
}

func modeOf(caps access.Caps) richtext.Mode {
	switch {
	case caps.Has(access.Change):
		return richtext.Write
	case caps.Has(access.Propose):
		return richtext.Propose
	case caps.Has(access.Fill):
		return richtext.Fill
	case caps.Has(access.Remark):
		return richtext.Remark
	}
	return richtext.Look
}

// Opening is a text as somebody finds it.
type Opening struct {
	At guard.Sight
	// Me is by what whoever opened it is known there.
	Me uuid.UUID
	// Outside says that a visitor opened it, who knows of no dossier.
	Outside bool
	Mode    richtext.Mode
	Barred  error
	Version int
	// Doc is the whole text or table, unless Batches are all that was missed.
	Doc body
	// Sums are what a table's formulas come to, where that is not known to the page; nil says nothing.
	Sums    []table.Reckoned
	Batches []Batch
	People  []Present
	Base    int
	// Ice is by which servers a call finds its pages; nil for those who may not take part in one.
	Ice *Ice
	// Authors are those of proposals in the text, or of what is in doubt in a table.
	Authors []Author
}

// Join opens a document's text for a page, which may have it up to a version already. With a socket, patience
// is zero; a page that asks again and again is taken to have gone when it has not asked for so long.
func (s *Service) Join(ctx context.Context, document uuid.UUID, client string, since int, patience time.Duration) (*Seat, Opening, error) {
	if len(client) < 8 || len(client) > 40 || since < 0 {
		return nil, Opening{}, fault.Parameter.New("a page has a name of 8 to 40 letters, and a version of the text")
	}
	at, err := s.allowed(ctx, document)
	if err != nil {
		return nil, Opening{}, err
	}
	if v, visits := visitorOf(ctx); visits && !s.sits(document, client) {
		// That they read it is recorded before they do.
		if err := s.Visits.Begin(ctx, v, document); err != nil {
			return nil, Opening{}, err
		}
	}
	var until time.Time
	if patience > 0 {
		until = s.Acts.Now().Add(patience)
	}
	seat, o, err := s.enter(ctx, at, client, until, since)
	if err != nil {
		return nil, o, err
	}
	kept, err := rowOf(ctx, s.Acts.DB, document, false)
	if err != nil {
		seat.Leave()
		return nil, o, err
	}
	o.Base = kept.Base
	if o.Doc != nil {
		if o.Authors, err = authorsOf(ctx, s.Acts.DB, document, o.Doc.people()); err != nil {
			seat.Leave()
		}
	}
	return seat, o, err
}

// enter takes a seat in the document's room, which may be closing just then.
func (s *Service) enter(ctx context.Context, at standing, client string, until time.Time, since int) (seat *Seat, o Opening, err error) {
	for range 3 {
		r, err := s.open(ctx, at)
		if err != nil {
			return nil, o, err
		}
		older, err := r.before(ctx, since)
		if err != nil {
			return nil, o, err
		}
		if seat, o, err = r.welcome(client, at, until, since, older); seat != nil || err != nil {
			return seat, o, err
		}
	}
	return nil, o, errSlow.New("the text is being closed")
}

// welcome gives a seat, with what is new since a version; none where the room is closed.
func (r *room) welcome(client string, at standing, until time.Time, since int, older []Batch) (*Seat, Opening, error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.closed {
		return nil, Opening{}, nil
	}
	seat, err := r.sit(client, at, until)
	if err != nil {
		return nil, Opening{}, err
	}
	seat.supersedes = at.supersedes
	batches, anew := r.since(since)
	if anew && len(older) > 0 {
		last := older[len(older)-1]
		batches, anew = r.since(last.end())
		batches = append(older, batches...)
	}
	o := Opening{At: at.Sight, Me: at.pen.id, Outside: at.pen.link != nil, Mode: at.Mode, Barred: at.Barred, Version: r.version, Batches: batches, People: r.here()}
	if at.speaks {
		o.Ice = r.Relay.ice(at.pen.id, r.Acts.Now())
	}
	if anew {
		o.Doc, o.Batches = r.doc, nil
	}
	if _, isTable := r.doc.(grid); isTable && (anew || seat.told != r.sums.count) {
		seat.told, o.Sums = r.sums.count, r.sums.all()
	}
	return seat, o, nil
}

// before are the batches since a version that lie before those which the room holds: for a page that was away for long.
func (r *room) before(ctx context.Context, since int) ([]Batch, error) {
	r.mu.Lock()
	began := r.began
	r.mu.Unlock()
	if since < 1 || since >= began {
		return nil, nil
	}
	all, err := batchesFrom(ctx, r.Acts.DB, r.Keys, r.document, since)
	at := since
	for i, b := range all {
		if b.Version != at {
			return nil, err // Some are forgotten: the text is read anew.
		}
		if at >= began {
			return all[:i], err
		}
		at = b.end()
	}
	return all, err
}

// open finds the room of a document, or opens it; whoever comes meanwhile waits for the same.
func (s *Service) open(ctx context.Context, at standing) (*room, error) {
	if r := s.roomOf(at.Item.ID); r != nil {
		return r, nil
	}
	return s.opening.Do(at.Item.ID.String(), func() (*room, error) {
		if r := s.roomOf(at.Item.ID); r != nil {
			return r, nil
		}
		return s.openAnew(context.WithoutCancel(ctx), at)
	})
}

// roomOf is the room of a document that is open by this process; nil for others.
func (s *Service) roomOf(document uuid.UUID) *room {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.rooms[document]
}

// sits says that a page is there already.
func (s *Service) sits(document uuid.UUID, client string) bool {
	r := s.roomOf(document)
	if r == nil {
		return false
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	for seat := range r.seats {
		if seat.Client == client {
			return true
		}
	}
	return false
}

func (s *Service) openAnew(ctx context.Context, at standing) (*room, error) {
	document := at.Item.ID
	if err := s.ready(ctx, at); err != nil {
		return nil, err
	}
	fresh := &room{Service: s, document: document, inbox: make(chan turn), behind: make(chan struct{}, 1), done: make(chan struct{}),
		seats: map[*Seat]struct{}{}, elsewhere: map[string]distant{}, emptied: s.Acts.Now()}
	if err := fresh.load(ctx); err != nil {
		return nil, err
	}
	s.mu.Lock()
	s.rooms[document] = fresh
	s.mu.Unlock()
	go fresh.run(s.life)
	// What others added while it was read.
	fresh.hurry()
	return fresh, nil
}

// ready sees to it that there is a text: that of the counting version, unless what was written is in
// none yet.
func (s *Service) ready(ctx context.Context, at standing) error {
	kept, err := rowOf(ctx, s.Acts.DB, at.Item.ID, false)
	switch {
	case err != nil && !fault.Is(err, fault.NotFound):
		return err
	case err == nil && !kept.clean() && kept.MediaType != at.Item.MediaType:
		// It became another kind of document while it was written: what was written is a version first.
		return s.Keep(ctx, at.Item.ID)
	case err == nil && (kept.Base == at.Item.Version && kept.MediaType == at.Item.MediaType || !kept.clean()):
		return nil
	}
	state, err := stateBeside(ctx, s.Acts.DB, s.Keys, at.Item.ID, at.Item.Version)
	if err == nil && state == nil {
		if at.Item.Size > mostBytes(at.Item.MediaType) {
			return errTooLarge.New("it has %d bytes", at.Item.Size)
		}
		state, err = s.fromFile(ctx, at.Item.ID, at.Item.Version, at.pen.id)
	}
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return begin(ctx, tx, s.Keys, at.Item, state) })
}

// fromFile is what is kept of a version, read from its file for somebody.
func (s *Service) fromFile(ctx context.Context, document uuid.UUID, number int, asker uuid.UUID) ([]byte, error) {
	source, err := s.sourceOf(ctx, document, number, asker)
	if err != nil {
		return nil, err
	}
	kind, err := craftOf(source.MediaType)
	if err != nil {
		return nil, err
	}
	return kind.fromFile(ctx, s.Contents.Reader, source)
}

// sourceOf is the file of a version.
func (s *Service) sourceOf(ctx context.Context, document uuid.UUID, number int, asker uuid.UUID) (source reading.Source, err error) {
	all, err := tree.VersionsOf(ctx, s.Acts.DB, document)
	if err != nil {
		return source, err
	}
	at := slices.IndexFunc(all, func(v tree.NamedVersion) bool { return v.Number == number && v.SHA256 != nil })
	if at < 0 {
		return source, fault.Missing()
	}
	return s.Contents.Source(ctx, all[at].Version, asker.String()), nil
}

// longestPoll is how long a page without a socket waits for something new.
const longestPoll = 25 * time.Second

// Poll is what a page without a socket is told: what it missed, at once or as soon as there is something.
func (s *Service) Poll(ctx context.Context, document uuid.UUID, client string, since int, wait time.Duration) (Opening, error) {
	if wait < 0 || wait > longestPoll {
		return Opening{}, fault.Parameter.New("a page waits %v at most", longestPoll)
	}
	seat, o, err := s.Join(ctx, document, client, since, believed)
	if err != nil || wait == 0 || o.Doc != nil || len(o.Batches) > 0 {
		return o, err
	}
	enough := time.NewTimer(wait)
	defer enough.Stop()
	select {
	case m, ok := <-seat.out:
		if !ok || m.Ended != nil {
			return o, errSlow.New("the page is to connect again")
		}
		// What comes at the same moment comes along.
		_, o, err = s.Join(ctx, document, client, since, believed)
	case <-enough.C:
	case <-ctx.Done():
	}
	return o, err
}

// drain forgets what a page that asks is told otherwise.
func (s *Seat) drain() {
	for {
		select {
		case _, ok := <-s.out:
			if !ok {
				return
			}
		default:
			return
		}
	}
}

// Send is Seat.Send for a page without a socket.
func (s *Service) Send(ctx context.Context, document uuid.UUID, client string, version int, steps []json.RawMessage, caret *Caret) (Taken, error) {
	seat, _, err := s.Join(ctx, document, client, version, believed)
	if err != nil {
		return Taken{}, err
	}
	if caret != nil {
		seat.Move(*caret)
	}
	if len(steps) == 0 {
		return Taken{Version: version}, nil
	}
	return seat.Send(ctx, version, steps)
}

// endings are those of the names of documents that are written, and what they are.
var endings = map[string]string{".md": markdownType, ".docx": office.Word, ".csv": commasType, ".xlsx": preview.Spreadsheet}

// Make makes an empty document to be written, in a folder: a "text" or a "table" as its name ends, or a
// "form". A text whose name says nothing is Markdown, a table whose name says nothing a spreadsheet.
func (s *Service) Make(ctx context.Context, folder uuid.UUID, name, kind string) (guard.Sight, error) {
	if _, err := s.Access.Kind(ctx, s.Acts.DB, folder, items.Folder, access.Add, s.Acts.Now()); err != nil {
		return guard.Sight{}, err
	}
	ending, isTable := strings.ToLower(path.Ext(name)), kind == "table"
	if _, table := crafts[endings[ending]].(tables); endings[ending] == "" || isTable != table || kind == "form" && ending != ".md" {
		ending = map[bool]string{true: ".xlsx", false: ".md"}[isTable]
		name = strings.TrimRight(name, " .") + ending
	}
	raw, state, err := crafts[endings[ending]].fresh(ctx, s)
	if kind == "form" {
		raw, state, err = freshForm(strings.TrimSuffix(name, ending))
	}
	if err != nil {
		return guard.Sight{}, err
	}
	u, err := s.Uploads.Put(ctx, uploads.Wish{Folder: folder, Name: name, Size: int64(len(raw)), Apart: true}, bytes.NewReader(raw))
	if err != nil {
		return guard.Sight{}, err
	}
	at, err := s.Access.Item(ctx, s.Acts.DB, *u.ItemID, access.See, s.Acts.Now())
	if err != nil {
		return at, err
	}
	// What is in it is known: nothing has to be read for it.
	return at, s.Acts.Do(ctx, func(tx *act.Tx) error { return begin(ctx, tx, s.Keys, at.Item, state) })
}

// IsTable says that the whole of a table came along.
func (o Opening) IsTable() bool {
	_, is := o.Doc.(grid)
	return is
}

// Text is the whole text; nil where only batches came along, or it is a table.
func (o Opening) Text() *richtext.Node {
	t, is := o.Doc.(text)
	if !is {
		return nil
	}
	return t.Node
}

// Package uploads takes documents in: resumable, encrypted from the first byte,
// and a document only once complete.
package uploads

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding"
	"encoding/hex"
	"errors"
	"fmt"
	"hash"
	"io"
	"time"

	"tabularis/core/access"
	"tabularis/core/items"
	"tabularis/internal/app/checkout"
	"tabularis/internal/app/documents"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/lease"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/names"
	"tabularis/core/versions"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/content"
	"tabularis/internal/platform/preview"
	"tabularis/internal/platform/secret"
)

const (
	// MaxDepth is how deep a folder tree that is brought in may be.
	MaxDepth = 60
	// Patience is how long an upload that stands still is kept.
	Patience = 7 * 24 * time.Hour
)

// Service takes uploads in.
type Service struct {
	Acts      *act.Runner
	Access    *guard.Guard
	Items     *tree.Service
	Documents *documents.Service
	Content   *content.Store
	Keys      *secret.Keys
	Locks     *lease.Locks
	// MaxBytes is the largest document.
	MaxBytes  int64
	Announced Announced
	// Arrivals wakes those who read what is arriving.
	Arrivals Arrivals
}

// Announced knows which files of transfers were announced.
type Announced interface {
	// Expects refuses what is no announced file of a transfer in a folder, or is here already.
	Expects(ctx context.Context, q postgres.Q, file, folder uuid.UUID, size int64) error
	// Became notes, within the act, which document one became.
	Became(ctx context.Context, tx *act.Tx, file, document uuid.UUID) error
}

// Wish is what somebody wants to upload. Path is the slash-separated way below
// the folder; its folders are made if need be.
type Wish struct {
	Folder uuid.UUID
	Path   string
	Name   string
	Size   int64
	Apart  bool
	// SHA256 in hexadecimal is what the content must have, if it is not empty.
	SHA256 string
	// Paper is which of the expected papers it is, where some are.
	Paper *int
	// Saved says that a program stored it by itself, while somebody worked.
	Saved bool
	// InTurn says that it becomes what it becomes when whoever brings it asks for that:
	// several files brought in together are to get their numbers in order.
	InTurn bool
	// Document is a document of which it is to be a version, whatever it is called; the
	// folder is then its own. Note is what whoever brings it says of it.
	Document *uuid.UUID
	Note     string
	// Announced is which of a transfer's files it is.
	Announced *uuid.UUID
}

// Begin opens an upload. Refused before any byte travels are unsound names and
// paths, sizes over the limit, and folders where the person may not add.
func (s *Service) Begin(ctx context.Context, w Wish) (Upload, error) {
	name, err := names.Check("name", w.Name)
	if err != nil {
		return Upload{}, err
	}
	if _, err := names.Path("path", w.Path, MaxDepth); err != nil {
		return Upload{}, err
	}
	if w.Size < 0 {
		return Upload{}, fault.SizeUnknown.In("size", "the size must be known from the start")
	}
	if w.Size > s.MaxBytes {
		return Upload{}, fault.TooLargeFile.In("size", "a document has at most %d bytes", s.MaxBytes)
	}
	expected, err := hex.DecodeString(w.SHA256)
	if err != nil || len(expected) != 0 && len(expected) != sha256.Size {
		return Upload{}, errHashForm.In("sha256", "the hash has 64 hexadecimal digits")
	}
	now := s.Acts.Now()
	by, err := s.bringer(ctx)
	if err != nil {
		return Upload{}, err
	}
	note, err := versions.Note("note", w.Note)
	if err != nil {
		return Upload{}, err
	}
	folder, to, err := s.goal(ctx, s.Acts.DB, by, w.Folder, w.Document)
	if err != nil {
		return Upload{}, err
	}
	if to != nil {
		apart, err := s.keptApart(ctx, s.Acts.DB, by, *to)
		if err == nil && !apart {
			err = s.Items.MayRevise(ctx, s.Acts.DB, *to)
		}
		if err != nil {
			return Upload{}, err
		}
	}
	u := Upload{ID: uuid.Must(uuid.NewV7()), FolderID: folder.ID, DocumentID: w.Document, Note: note, Announced: w.Announced, Paper: w.Paper, InTurn: w.InTurn, Saved: w.Saved, Path: w.Path, Name: name, Size: w.Size, Apart: w.Apart, Expected: expected,
		SealedKey: s.Keys.Seal(secret.Random(32), tree.KeyPurpose), Nonce: secret.Random(12), CreatedAt: now, TouchedAt: now}
	by.Sign(&u)
	if u.Readable, err = s.expected(ctx, folder, w); err != nil {
		return u, err
	}
	if err := s.replace(ctx, w.Announced); err != nil {
		return u, err
	}
	return u, s.Acts.Do(ctx, func(tx *act.Tx) error {
		// One after the other: what is announced at once counts together.
		if err := by.Takes(ctx, tx, w); err != nil {
			return err
		}
		if err := s.storage(ctx, tx, u, folder.DossierID); err != nil {
			return err
		}
		return AddUpload(ctx, tx, u)
	})
}

// expected reports whether an upload goes into a transfer, where only announced files do.
func (s *Service) expected(ctx context.Context, folder items.Item, w Wish) (bool, error) {
	goes, err := outgoing(ctx, s.Acts.DB, folder.DossierID)
	switch {
	case err != nil || !goes && w.Announced == nil:
		return goes, err
	case w.Announced == nil || !goes || w.Path != "" || w.Document != nil:
		return goes, fault.Missing()
	}
	return goes, s.Announced.Expects(ctx, s.Acts.DB, *w.Announced, folder.ID, w.Size)
}

// replace gives up what is on its way as the same file of a transfer: whoever reads it is told at
// once that it will not come, and goes on with the new one.
func (s *Service) replace(ctx context.Context, announced *uuid.UUID) error {
	if announced == nil {
		return nil
	}
	before, err := uploadsAs(ctx, s.Acts.DB, *announced)
	if err != nil {
		return err
	}
	for _, u := range before {
		if err := s.Drop(ctx, u); err != nil {
			return err
		}
	}
	return nil
}

// storage refuses what there is no storage for, together with what others have
// announced already.
func (s *Service) storage(ctx context.Context, tx *act.Tx, u Upload, dossier uuid.UUID) error {
	if limited, err := tree.StorageLimited(ctx, tx); err != nil || !limited {
		return err
	}
	if err := tree.LockStorage(ctx, tx); err != nil {
		return err
	}
	shares, err := tree.Storage(ctx, tx, dossier, u.PersonID)
	if err != nil {
		return err
	}
	return shares.Take(u.Size)
}

// bounded reads no more of a visitor's bytes than there is storage for: what visitors
// announce keeps nobody out.
func (s *Service) bounded(ctx context.Context, u Upload, dossier uuid.UUID, src io.Reader) (io.Reader, error) {
	if u.VisitID == nil {
		return src, nil
	}
	if limited, err := tree.StorageLimited(ctx, s.Acts.DB); err != nil || !limited {
		return src, err
	}
	shares, err := tree.Storage(ctx, s.Acts.DB, dossier, nil)
	if err != nil || !shares.Limited() {
		return src, err
	}
	if left := *shares.Left(); left > 0 || u.Received == u.Size {
		return io.LimitReader(src, left), nil
	}
	return nil, shares.Take(u.Size - u.Received)
}

// Find returns an upload of whoever asks.
func (s *Service) Find(ctx context.Context, id uuid.UUID) (Upload, error) {
	u, err := UploadByID(ctx, s.Acts.DB, id, false)
	if err != nil {
		return u, err
	}
	if by, err := s.bringer(ctx); err != nil || !by.Owns(ctx, u) {
		return u, fault.Missing()
	}
	return u, nil
}

// Receive takes what src gives, from what was received so far on, and returns
// how many bytes of it are durably stored.
func (s *Service) Receive(ctx context.Context, u *Upload, src io.Reader) (int64, error) {
	by, err := s.bringer(ctx)
	if err != nil {
		return 0, err
	}
	folder, _, err := s.goal(ctx, s.Acts.DB, by, u.FolderID, u.DocumentID)
	if err != nil {
		return 0, err
	}
	secretKey, err := s.Keys.Open(u.SealedKey, tree.KeyPurpose)
	if err != nil {
		return 0, err
	}
	sum, err := s.resumeHash(*u)
	if err != nil {
		return 0, err
	}
	if src, err = s.bounded(ctx, *u, folder.DossierID, src); err != nil {
		return 0, err
	}
	key := content.Key{Secret: [32]byte(secretKey), Nonce: [12]byte(u.Nonce)}
	noted, first := u.Received, func(head []byte) { u.MediaType = preview.MediaType(u.Name, head) }
	var taken int64
	if u.Readable {
		m := s.mark(ctx, u, sum)
		taken, err = s.Content.Receive(u.ID, key, u.Received, u.Size, newPaced(src), sum, first, m.at)
		var failed error
		if noted, failed = m.end(); err == nil {
			err = failed
		}
	} else {
		taken, err = s.Content.Receive(u.ID, key, u.Received, u.Size, newPaced(src), sum, first, nil)
	}
	if err != nil || taken == 0 {
		return 0, err
	}
	state, err := sum.(encoding.BinaryMarshaler).MarshalBinary()
	if err != nil {
		return 0, err
	}
	u.HashState = s.Keys.Seal(state, hashPurpose)
	u.Received += taken
	u.TouchedAt = s.Acts.Now()
	// What is stored is noted even when the connection that brought it is gone.
	return taken, ReceiveUpload(context.WithoutCancel(ctx), s.Acts.DB, *u, noted)
}

// hashPurpose is what the state of a hash is sealed for: it holds the last bytes of
// what has arrived.
const hashPurpose = "upload hash"

// resumeHash goes on with the hash of what has arrived so far.
func (s *Service) resumeHash(u Upload) (hash.Hash, error) {
	sum := sha256.New()
	if len(u.HashState) == 0 {
		return sum, nil
	}
	state := u.HashState
	// What was on its way before states were sealed begins with their mark.
	if !bytes.HasPrefix(state, []byte("sha\x03")) {
		var err error
		if state, err = s.Keys.Open(state, hashPurpose); err != nil {
			return nil, fmt.Errorf("going on with an upload: %w", err)
		}
	}
	return sum, sum.(encoding.BinaryUnmarshaler).UnmarshalBinary(state)
}

// Finish makes a complete upload what it becomes: a document, a version, or
// nothing where the content is there already. Finishing again changes nothing.
func (s *Service) Finish(ctx context.Context, id uuid.UUID) (Upload, error) {
	u, err := s.Find(ctx, id)
	if err != nil {
		return u, err
	}
	if u.Outcome == "" && u.Received == u.Size {
		// This may take long, and is done before any row is held.
		if err := s.Content.Settle(ctx, u.ID); err != nil {
			return u, err
		}
	}
	spare := false
	err = s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		if u, err = UploadByID(ctx, tx, id, true); err != nil {
			return err
		}
		if u.Outcome != "" {
			return nil
		}
		if u.Received != u.Size {
			return errIncomplete.New("%d of %d bytes have arrived", u.Received, u.Size)
		}
		spare, err = s.place(ctx, tx, &u)
		return err
	})
	switch {
	case err != nil && u.VisitID != nil && final(err):
		// A visitor's that is refused for good takes nothing away from the others.
		return u, errors.Join(err, s.Drop(context.WithoutCancel(ctx), u))
	case err == nil && spare:
		// The same content was stored before; this copy is not needed.
		err = s.Content.Drop(ctx, u.ID)
	case err == nil:
		err = s.Content.Settled(u.ID)
	}
	return u, err
}

// final reports whether a refusal will be the same when it is tried again.
func final(err error) bool {
	f := fault.Of(err)
	switch f.Kind {
	case fault.Conflict, fault.Invalid, fault.TooLarge, fault.Forbidden, fault.Gone, fault.NotFound:
		return f.Code != "incomplete"
	}
	return false
}

func (s *Service) place(ctx context.Context, tx *act.Tx, u *Upload) (spare bool, err error) {
	by, err := s.bringer(ctx)
	if err != nil {
		return false, err
	}
	folder, to, err := s.goal(ctx, tx, by, u.FolderID, u.DocumentID)
	if err != nil {
		return false, err
	}
	if err := tree.LockDossier(ctx, tx, folder.DossierID); err != nil {
		return false, err
	}
	if to == nil {
		folder, err = s.folder(ctx, tx, by, folder, u.Path)
	} else {
		// As it is now that nobody else changes it.
		_, to, err = s.goal(ctx, tx, by, u.FolderID, u.DocumentID)
	}
	if err != nil {
		return false, err
	}
	sum, err := s.resumeHash(*u)
	if err != nil {
		return false, err
	}
	if len(u.Expected) > 0 && !bytes.Equal(u.Expected, sum.Sum(nil)) {
		return false, errHashDiffers.In("sha256", "what arrived is not what was sent; send it again")
	}
	if u.MediaType == "" {
		u.MediaType = preview.MediaType(u.Name, nil)
	}
	v := items.Version{SHA256: sum.Sum(nil), Size: u.Size, MediaType: u.MediaType, CreatedAt: tx.Now, Note: u.Note}
	isNew, err := tree.AddBlob(ctx, tx, items.Blob{SHA256: v.SHA256, Size: u.Size, Place: u.ID, SealedKey: u.SealedKey, CreatedAt: tx.Now})
	if err != nil {
		return false, err
	}
	if err := s.settle(ctx, tx, by, u, folder, to, v); err != nil {
		return false, err
	}
	if u.Announced != nil {
		if err := s.Announced.Became(ctx, tx, *u.Announced, *u.ItemID); err != nil {
			return false, err
		}
	}
	u.TouchedAt = tx.Now
	return !isNew, FinishUpload(ctx, tx, *u)
}

// folder finds or makes the folders of a path. Each is decided like the first: what
// is not seen is not there, and into what is seen must be allowed to be brought.
func (s *Service) folder(ctx context.Context, tx *act.Tx, by Bringer, at items.Item, path string) (items.Item, error) {
	parts, err := names.Path("path", path, MaxDepth)
	if err != nil {
		return at, err
	}
	for _, name := range parts {
		there, _, err := by.Sees().Named(ctx, tx, at.ID, name)
		switch {
		case err != nil:
		case there == nil:
			at, err = s.Items.AddFolder(ctx, tx, by, at.ID, name)
		case there.Kind != items.Folder:
			err = errNameIsDocument.In("path", "%q is a document, not a folder", name)
		default:
			at, err = by.Into(ctx, tx, there.ID)
		}
		if err != nil {
			return at, err
		}
	}
	return at, nil
}

func (s *Service) settle(ctx context.Context, tx *act.Tx, by Bringer, u *Upload, folder items.Item, to *items.Item, v items.Version) error {
	there, standing, err := s.before(ctx, tx, by, u, folder, to)
	if err != nil {
		return err
	}
	apart := u.Apart
	if standing != nil {
		if apart, err = s.claims(ctx, tx, by, there, folder, apart); err != nil {
			return err
		}
	}
	outcome := versions.Place(standing, string(v.SHA256), apart)
	u.Outcome, u.ItemID, u.Version = string(outcome), &there.ID, there.Version
	switch outcome {
	case versions.NewDocument, versions.Apart:
		made, err := s.Items.AddDocument(ctx, tx, by, folder, tree.Arrival{Name: u.Name, Content: v, Origin: versions.Uploaded, Apart: outcome == versions.Apart, Hidden: by.Apart()})
		if err != nil {
			return err
		}
		u.ItemID, u.Version = &made.ID, 1
		return by.Placed(ctx, tx, *u, made)
	case versions.NewVersion:
		v, err := s.Items.Revise(ctx, tx, by, there, v, u.origin())
		u.Version = v.Number
		return err
	}
	return nil
}

// keptApart reports whether what somebody brings of a document is kept apart, since they
// had it in hand, that was broken, and it has moved on.
func (s *Service) keptApart(ctx context.Context, q postgres.Q, by Bringer, there items.Item) (bool, error) {
	p, ok := by.(person)
	if !ok {
		return false, nil
	}
	return checkout.KeptApart(ctx, q, there, p.id, s.Acts.Now())
}

// claims is keptApart, beside what was wished; their work has come with it. For a document
// of its own one has to be allowed to add.
func (s *Service) claims(ctx context.Context, tx *act.Tx, by Bringer, there, folder items.Item, wished bool) (bool, error) {
	apart, err := s.keptApart(ctx, tx, by, there)
	if err != nil || !apart {
		return wished, err
	}
	if _, err := by.Into(ctx, tx, folder.ID); err != nil {
		return wished, err
	}
	return true, checkout.Settle(ctx, tx, there.ID, by.Owner())
}

// goal is the folder into which something is brought, and the document of which it is to
// be a version, where it is meant for one. That is for people by their access: whoever
// comes through a link brings into folders.
func (s *Service) goal(ctx context.Context, q postgres.Q, by Bringer, folder uuid.UUID, document *uuid.UUID) (items.Item, *items.Item, error) {
	if document == nil {
		into, err := by.Into(ctx, q, folder)
		return into, nil, err
	}
	if Visiting(ctx) {
		return items.Item{}, nil, fault.Missing()
	}
	sight, err := s.Access.Kind(ctx, q, *document, items.Document, access.Change, s.Acts.Now())
	if err != nil {
		return items.Item{}, nil, err
	}
	into, err := tree.ItemByID(ctx, q, *sight.ParentID)
	return into, &sight.Item, err
}

// before finds what stands in the folder under the name, as far as it is seen, and
// what it means for a new one.
func (s *Service) before(ctx context.Context, tx *act.Tx, by Bringer, u *Upload, folder items.Item, to *items.Item) (there items.Item, standing *versions.Standing, err error) {
	if to != nil {
		return *to, &versions.Standing{SHA256: string(to.SHA256)}, nil
	}
	if by.Apart() {
		return there, nil, nil
	}
	found, _, err := by.Sees().Named(ctx, tx, folder.ID, u.Name)
	switch {
	case err != nil || found == nil:
		return there, nil, err
	case found.Kind == items.Folder:
		return there, nil, errNameIsFolder.In("name", "%q is a folder here", u.Name)
	}
	return *found, &versions.Standing{SHA256: string(found.SHA256)}, nil
}

// Drop gives an upload up. One that has become a document stays.
func (s *Service) Drop(ctx context.Context, u Upload) error {
	if u.Outcome == "" {
		if err := s.Content.Drop(ctx, u.ID); err != nil {
			return err
		}
	}
	return DropUpload(ctx, s.Acts.DB, u.ID)
}

// Clean gives up uploads that have stood still for longer than Patience, and
// forgets what became of the others.
func (s *Service) Clean(ctx context.Context) error {
	ids, err := StaleUploads(ctx, s.Acts.DB, s.Acts.Now().Add(-Patience), s.Acts.Now(), 1000)
	if err != nil {
		return err
	}
	for _, id := range ids {
		u, err := UploadByID(ctx, s.Acts.DB, id, false)
		if err == nil {
			err = s.Drop(ctx, u)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// Put takes a whole document in at once, by the same way as an upload.
func (s *Service) Put(ctx context.Context, w Wish, r io.Reader) (Upload, error) {
	u, err := s.Begin(ctx, w)
	if err != nil {
		return u, err
	}
	if _, err := s.Receive(ctx, &u, r); err != nil {
		return u, err
	}
	return s.Finish(ctx, u.ID)
}

// PutDocument brings content in as a document of its own.
func (s *Service) PutDocument(ctx context.Context, folder uuid.UUID, name string, size int64, r io.Reader) (uuid.UUID, error) {
	u, err := s.Put(ctx, Wish{Folder: folder, Name: name, Size: size, Apart: true}, r)
	if err != nil {
		return uuid.Nil, err
	}
	return *u.ItemID, nil
}

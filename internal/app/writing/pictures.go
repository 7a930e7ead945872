package writing

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"io"
	"path"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/names"
	"tabularis/core/richtext"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/uploads"
	"tabularis/internal/app/visits"
	"tabularis/internal/platform/office"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/preview"
	"tabularis/internal/platform/reading"
)

// mostPicture is how large a picture may be that is put into a text, in bytes.
const mostPicture = 20 << 20

// pictureEndings are those of the pictures that stand in texts, by their media type.
var pictureEndings = map[string]string{"image/png": ".png", "image/jpeg": ".jpg", "image/gif": ".gif", "image/webp": ".webp"}

// errNoPicture is refused where something is no picture that a text can hold.
var errNoPicture = fault.Declare(fault.Invalid, "no-picture", "this is no picture in PNG, JPEG, GIF or WebP")

// The pictures that are put into a word-processing document may be so large, each and together.
const mostPutIn, mostPutInAll = 5 << 20, 24 << 20

var errPutInLarge = fault.Declare(fault.TooLarge, "pictures-put-in-large", "pictures put into a document have at most 5 MB each, and 24 MB together")

// PutPicture lays a picture beside a text, as a document of its own in the text's folder, or puts it into a
// word-processing document, and says under which name.
func (s *Service) PutPicture(ctx context.Context, document uuid.UUID, name string, body io.Reader) (string, error) {
	at, err := s.allowed(ctx, document)
	switch {
	case err != nil:
		return "", err
	case at.Barred != nil:
		return "", at.Barred
	case at.Mode != richtext.Write && at.Mode != richtext.Propose:
		return "", fault.Refused("put pictures into this")
	}
	inWord := at.Item.MediaType == office.Word
	if !inWord && (at.Item.MediaType != markdownType || at.pen.link != nil) {
		return "", errNotWritten.New("pictures stand in texts")
	}
	// Nothing is read from whoever may not.
	raw, err := io.ReadAll(io.LimitReader(body, mostPicture+1))
	if err != nil || len(raw) > mostPicture {
		return "", fault.TooLargeFile.As(fault.TooLarge).New("a picture has at most %d bytes", mostPicture)
	}
	mediaType := preview.MediaType("", raw)
	ending, known := pictureEndings[mediaType]
	switch {
	case !known || inWord && mediaType == "image/webp":
		return "", errNoPicture.New("it is %.60s", mediaType)
	case inWord:
		return s.putIn(ctx, at, mediaType, ending, raw)
	}
	stem := strings.TrimSpace(names.Stem(path.Base(name)))
	if stem == "" || stem == "." || stem == "image" {
		stem = names.Stem(at.Item.Name)
	}
	u, err := s.Uploads.Put(ctx, uploads.Wish{Folder: *at.Item.ParentID, Name: stem + ending, Size: int64(len(raw)), Apart: true}, bytes.NewReader(raw))
	if err != nil {
		return "", err
	}
	made, err := tree.ItemByID(ctx, s.Acts.DB, *u.ItemID)
	return made.Name, err
}

// putIn puts a picture into a document whose file will hold it.
func (s *Service) putIn(ctx context.Context, at standing, mediaType, ending string, raw []byte) (name string, err error) {
	if len(raw) > mostPutIn {
		return "", errPutInLarge.New("it has %d bytes", len(raw))
	}
	sum := sha256.Sum256(raw)
	source := reading.Source{SHA256: sum[:], MediaType: mediaType, Size: int64(len(raw)), For: at.pen.id.String(), Open: func() (io.ReadCloser, error) { return inMemory{bytes.NewReader(raw)}, nil }}
	if _, err := s.Contents.Reader.PictureSize(ctx, source); err != nil {
		return "", errNoPicture.New("it cannot be read")
	}
	if err := s.ready(ctx, at); err != nil {
		return "", err
	}
	name = "put-" + hex.EncodeToString(sum[:10]) + ending
	most := mostPutInAll
	if at.pen.link != nil {
		most /= 2 // Whoever comes by a link leaves room for the practice.
	}
	return name, s.Acts.Do(ctx, func(tx *act.Tx) error {
		return addPicture(ctx, tx, s.Keys, pictureRow{DocumentID: at.Item.ID, Name: name, MediaType: mediaType, Size: len(raw), PutAt: tx.Now}, raw, most)
	})
}

// putInto are the pictures that were put into a document and stand in its text.
func (s *Service) putInto(ctx context.Context, document uuid.UUID, doc *richtext.Node) (reading.Pictures, error) {
	names := richtext.PicturesBeside(doc)
	if len(names) == 0 {
		return nil, nil
	}
	rows, err := picturesNamed(ctx, s.Acts.DB, document, names)
	put := reading.Pictures{}
	for _, r := range rows {
		if put[r.Name], err = s.Keys.Open(r.Picture, picturePurpose); err != nil {
			return nil, err
		}
	}
	return put, err
}

// Picture opens a picture that lies beside a text, by its name, or stands in a word-processing document, by what it is
// known as there. What is none, or is not seen, is not there.
func (s *Service) Picture(ctx context.Context, document uuid.UUID, name string) (f tree.File, err error) {
	at, err := s.allowed(ctx, document)
	if err != nil {
		return f, err
	}
	if at.Item.MediaType == office.Word {
		return s.pictured(ctx, at, name)
	}
	if v, visits := visitorOf(ctx); visits {
		return s.besideFor(ctx, v, at.Item, name)
	}
	return s.beside(ctx, at.Item, name)
}

// inMemory is a file that is held whole.
type inMemory struct{ *bytes.Reader }

func (inMemory) Close() error { return nil }

// pictured is a picture that was put into a document, or stands in the version with which its text began.
func (s *Service) pictured(ctx context.Context, at standing, known string) (f tree.File, err error) {
	put, err := picturesNamed(ctx, s.Acts.DB, at.Item.ID, []string{known})
	if err != nil {
		return f, err
	}
	if len(put) > 0 {
		raw, err := s.Keys.Open(put[0].Picture, picturePurpose)
		return shown(known, put[0].MediaType, raw, put[0].PutAt), err
	}
	number := at.Item.Version
	if kept, err := rowOf(ctx, s.Acts.DB, at.Item.ID, false); err == nil {
		number = kept.Base
	}
	source, err := s.sourceOf(ctx, at.Item.ID, number, at.pen.id)
	if err != nil {
		return f, err
	}
	mediaType, raw, err := s.Contents.Reader.Pictured(ctx, source, known)
	if err != nil {
		return f, err
	}
	if pictureEndings[mediaType] == "" {
		return f, fault.Missing()
	}
	return shown(known+pictureEndings[mediaType], mediaType, raw, s.Acts.Now()), nil
}

// shown is a picture as a file.
func shown(name, mediaType string, raw []byte, at time.Time) tree.File {
	sum := sha256.Sum256(raw)
	v := items.Version{MediaType: mediaType, SHA256: sum[:], Size: int64(len(raw)), CreatedAt: at}
	return tree.File{Item: items.Item{Name: name}, Version: v, ReadSeekCloser: inMemory{bytes.NewReader(raw)}}
}

// mostBeside is how many pictures are set on pages with a text.
const mostBeside = 200

// Beside are the pictures that lie beside a text and stand in it, as far as whoever asks may have them; none for a document
// of another kind. Callers have checked that they may have the text.
func (s *Service) Beside(ctx context.Context, of items.Item, text reading.Source) (all []reading.Beside, err error) {
	if of.MediaType != markdownType || of.Size > mostBytes(markdownType) || of.ParentID == nil || act.Who(ctx).Person == nil {
		return nil, nil
	}
	raw, err := s.Contents.Reader.Writing(ctx, text)
	if err != nil {
		return nil, nil // What cannot be read has none.
	}
	doc, err := richtext.Written.Read(raw)
	if err != nil {
		return nil, nil
	}
	for _, name := range richtext.PicturesBeside(doc) {
		at, err := s.sightedBeside(ctx, of, name)
		if fault.Is(err, fault.NotFound) || fault.Is(err, fault.Forbidden) {
			continue
		}
		if err != nil {
			return nil, err
		}
		source := s.Contents.Source(ctx, at.Version(), text.For)
		if all = append(all, reading.Beside{Name: name, SHA256: source.SHA256, Size: source.Size, Open: source.Open}); len(all) == mostBeside {
			break
		}
	}
	return all, nil
}

// beside is a picture that lies in the folder of a text.
func (s *Service) beside(ctx context.Context, of items.Item, name string) (f tree.File, err error) {
	sighted, err := s.sightedBeside(ctx, of, name)
	if err != nil {
		return f, err
	}
	return s.Contents.FileOf(ctx, sighted.Item, sighted.Version())
}

// besideFor is a picture that lies beside a text and is given by the visitor's link, as if they looked at it there.
func (s *Service) besideFor(ctx context.Context, v visits.Visitor, of items.Item, name string) (f tree.File, err error) {
	given := guard.Seer(func(ctx context.Context, q postgres.Q, i items.Item) (bool, error) {
		_, _, _, err := s.Visits.Writing(ctx, q, v, i.ID)
		if fault.Is(err, fault.NotFound) {
			return false, nil
		}
		return err == nil, err
	})
	there, _, err := given.Named(ctx, s.Acts.DB, *of.ParentID, name)
	if err != nil {
		return f, err
	}
	if there == nil || pictureEndings[there.MediaType] == "" {
		return f, fault.Missing()
	}
	return s.Visits.File(ctx, v, there.ID, false)
}

// sightedBeside is a picture that lies in the folder of a text, for whoever may have it.
func (s *Service) sightedBeside(ctx context.Context, of items.Item, name string) (at guard.ContentSight, err error) {
	now := s.Acts.Now()
	there, _, err := s.Access.Sees(now).Named(ctx, s.Acts.DB, *of.ParentID, name)
	if err != nil {
		return at, err
	}
	if there == nil || pictureEndings[there.MediaType] == "" {
		return at, fault.Missing()
	}
	return s.Access.Content(ctx, s.Acts.DB, there.ID, 0, access.Download, now)
}

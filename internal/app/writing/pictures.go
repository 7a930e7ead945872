package writing

import (
	"bytes"
	"context"
	"crypto/sha256"
	"path"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/names"
	"tabularis/core/richtext"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/uploads"
	"tabularis/internal/platform/office"
)

// MostPicture is how large a picture may be that is put into a text, in bytes.
const MostPicture = 20 << 20

// pictureEndings are those of the pictures that stand in texts, by their media type.
var pictureEndings = map[string]string{"image/png": ".png", "image/jpeg": ".jpg", "image/gif": ".gif", "image/webp": ".webp"}

// ErrPicture is refused where something is no picture that a text can hold.
var ErrPicture = fault.Declare(fault.Invalid, "no-picture", "this is no picture in PNG, JPEG, GIF or WebP")

// PutPicture lays a picture beside a text, as a document of its own in the text's folder, and says under which name.
func (s *Service) PutPicture(ctx context.Context, document uuid.UUID, name, mediaType string, raw []byte) (string, error) {
	at, err := s.allowed(ctx, document)
	switch {
	case err != nil:
		return "", err
	case at.Barred != nil:
		return "", at.Barred
	case at.Mode != richtext.Write && at.Mode != richtext.Propose:
		return "", fault.Refused("put pictures into this")
	case at.Item.MediaType != markdownType:
		return "", errNotWritten.New("pictures stand in texts")
	}
	ending, known := pictureEndings[mediaType]
	if !known {
		return "", ErrPicture.New("it is %.60s", mediaType)
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
	if at.pen.link != nil {
		return f, fault.Missing() // What lies beside a text is the folder's, and looked at there.
	}
	return s.beside(ctx, at.Item, name)
}

// inMemory is a file that is held whole.
type inMemory struct{ *bytes.Reader }

func (inMemory) Close() error { return nil }

// pictured is a picture that stands in the version with which the text began.
func (s *Service) pictured(ctx context.Context, at standing, known string) (f tree.File, err error) {
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
	sum := sha256.Sum256(raw)
	v := items.Version{MediaType: mediaType, SHA256: sum[:], Size: int64(len(raw)), CreatedAt: s.Acts.Now()}
	return tree.File{Item: items.Item{Name: known + pictureEndings[mediaType]}, Version: v, ReadSeekCloser: inMemory{bytes.NewReader(raw)}}, nil
}

// beside is a picture that lies in the folder of a text.
func (s *Service) beside(ctx context.Context, of items.Item, name string) (f tree.File, err error) {
	now := s.Acts.Now()
	there, _, err := s.Access.Sees(now).Named(ctx, s.Acts.DB, *of.ParentID, name)
	if err != nil {
		return f, err
	}
	if there == nil || pictureEndings[there.MediaType] == "" {
		return f, fault.Missing()
	}
	sighted, err := s.Access.Content(ctx, s.Acts.DB, there.ID, 0, access.Download, now)
	if err != nil {
		return f, err
	}
	return s.Contents.FileOf(ctx, sighted.Item, sighted.Version())
}

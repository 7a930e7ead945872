// Package content stores documents' bytes: addressed by SHA-256, each blob
// encrypted under a key of its own in the DARE 2.0 format (authenticated and
// seekable), in a local folder or a bucket.
//
// A blob's file grows while its upload runs, encrypted from the first byte, and
// stays where it is: which content it holds, and that it is complete, is said by
// the database alone. A file that the database does not know is rubbish.
package content

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"hash"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"sync"

	"github.com/google/uuid"
	"github.com/minio/sio"
	"gocloud.dev/blob"
)

const (
	// packageSize is the plaintext of one DARE package, sealedSize what it takes
	// on disk with header and tag.
	packageSize = 64 << 10
	sealedSize  = packageSize + 32
	bufferSize  = 1 << 20
)

// Key encrypts one blob.
type Key struct {
	Secret [32]byte
	Nonce  [12]byte
}

func (k Key) config(sequence uint32) sio.Config {
	return sio.Config{MinVersion: sio.Version20, MaxVersion: sio.Version20, Key: k.Secret[:], Nonce: &k.Nonce, SequenceNumber: sequence}
}

// Store is a folder of encrypted files, each in its place, and perhaps a bucket
// to which they go once complete.
type Store struct {
	dir    string
	bucket *blob.Bucket
}

// Open uses the folder, which it makes if need be.
func Open(dir string) (*Store, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("making the content folder: %w", err)
	}
	return &Store{dir: dir}, nil
}

// file spreads places over folders by their last two characters, the random
// end of a version 7 UUID.
func (s *Store) file(place uuid.UUID) string {
	name := place.String()
	return filepath.Join(s.dir, name[len(name)-2:], name)
}

var buffers = sync.Pool{New: func() any { b := make([]byte, bufferSize); return &b }}

// onlyWriter hides Close, which the encrypting writer would call.
type onlyWriter struct{ io.Writer }

// Receive appends to the file in a place what src gives, beginning at offset of a
// content of the given size, and makes it durable. It returns how many bytes were taken:
// whole packages only, unless the content is complete with them; the rest has
// to be sent again. sum is fed with exactly what was taken. first, if not nil,
// is called with the first bytes of the content; mark, if not nil, with how much
// was taken so far, which Sync then makes durable while more comes.
func (s *Store) Receive(place uuid.UUID, key Key, offset, size int64, src io.Reader, sum hash.Hash, first func([]byte), mark func(taken int64)) (taken int64, err error) {
	if offset%packageSize != 0 {
		return 0, fmt.Errorf("%s continues in the middle of a package, at %d", place, offset)
	}
	name := s.file(place)
	if err := os.MkdirAll(filepath.Dir(name), 0o700); err != nil {
		return 0, fmt.Errorf("making a place: %w", err)
	}
	f, err := os.OpenFile(name, os.O_CREATE|os.O_WRONLY, 0o600)
	if err != nil {
		return 0, fmt.Errorf("opening a place: %w", err)
	}
	defer func() { err = errors.Join(err, f.Close()) }()
	// What a broken connection or process left behind the durable end is cut off.
	at := offset / packageSize * sealedSize
	if err := f.Truncate(at); err != nil {
		return 0, fmt.Errorf("preparing a place: %w", err)
	}
	if _, err := f.Seek(at, io.SeekStart); err != nil {
		return 0, err
	}
	w, err := sio.EncryptWriter(onlyWriter{f}, key.config(uint32(offset/packageSize)))
	if err != nil {
		return 0, err
	}
	buffer := buffers.Get().(*[]byte)
	defer buffers.Put(buffer)
	least := bufferSize
	if mark != nil {
		// What is there is taken at once: somebody may wait for it.
		least = packageSize
	}
	for have := 0; ; {
		n, readErr := io.ReadAtLeast(src, (*buffer)[have:], least-have)
		have += n
		whole := have
		if offset+taken+int64(have) < size {
			whole -= have % packageSize
		}
		chunk := (*buffer)[:whole]
		if first != nil && offset+taken == 0 && whole > 0 {
			first(chunk)
		}
		if _, err := w.Write(chunk); err != nil {
			return 0, fmt.Errorf("writing content: %w", err)
		}
		sum.Write(chunk)
		taken += int64(whole)
		have = copy(*buffer, (*buffer)[whole:have])
		if readErr != nil {
			break
		}
		if mark != nil && whole > 0 && offset+taken < size {
			// The writer holds back its last package, see below; another one goes on after it.
			if _, err := w.Write([]byte{0}); err != nil {
				return 0, fmt.Errorf("writing content: %w", err)
			}
			if w, err = sio.EncryptWriter(onlyWriter{f}, key.config(uint32((offset+taken)/packageSize))); err != nil {
				return 0, err
			}
			mark(taken)
		}
	}
	if offset+taken == size {
		err = w.Close()
	} else if taken > 0 {
		// The writer holds back the last package, which could be the final one;
		// one more byte makes it write it. That byte itself is never written.
		_, err = w.Write([]byte{0})
	}
	if err == nil {
		err = f.Sync()
	}
	if err == nil && offset == 0 {
		err = errors.Join(syncDir(filepath.Dir(name)), syncDir(s.dir))
	}
	if err != nil {
		return 0, fmt.Errorf("writing content: %w", err)
	}
	return taken, nil
}

// Sync makes durable what has been written into a place so far.
func (s *Store) Sync(place uuid.UUID) error {
	f, err := os.Open(s.file(place))
	if err != nil {
		return fmt.Errorf("opening a place: %w", err)
	}
	defer f.Close()
	return errors.Join(f.Sync(), syncDir(filepath.Dir(f.Name())), syncDir(s.dir))
}

func syncDir(dir string) error {
	d, err := os.Open(dir)
	if err != nil {
		return err
	}
	defer d.Close()
	return d.Sync()
}

// Drop removes what is in a place; that there is nothing is no error.
func (s *Store) Drop(ctx context.Context, place uuid.UUID) error {
	if s.bucket != nil {
		if err := s.dropObject(ctx, place); err != nil {
			return err
		}
	}
	return s.dropFile(place)
}

func (s *Store) dropFile(place uuid.UUID) error {
	if err := os.Remove(s.file(place)); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return fmt.Errorf("removing content: %w", err)
	}
	return nil
}

// Reader reads a blob, from any place in it.
type Reader struct {
	file   sealedContent
	plain  *io.SectionReader
	buffer *[]byte
	ahead  []byte
}

// Read opens the content of the given size in a place. Damage is found while
// reading. Nothing is stored of empty content.
func (s *Store) Read(place uuid.UUID, key [32]byte, size int64) (*Reader, error) {
	if size == 0 {
		return &Reader{plain: io.NewSectionReader(bytes.NewReader(nil), 0, 0)}, nil
	}
	f, err := s.sealed(place)
	if err != nil {
		return nil, fmt.Errorf("opening a blob: %w", err)
	}
	return decrypting(f, key, size)
}

// ReadArriving opens content of the given size that is still on its way in: only what was
// made durable of it may be read.
func (s *Store) ReadArriving(place uuid.UUID, key [32]byte, size int64) (*Reader, error) {
	f, err := os.Open(s.file(place))
	if err != nil {
		return nil, fmt.Errorf("opening a place: %w", err)
	}
	return decrypting(f, key, size)
}

func decrypting(f sealedContent, key [32]byte, size int64) (*Reader, error) {
	at, err := sio.DecryptReaderAt(f, sio.Config{MinVersion: sio.Version20, MaxVersion: sio.Version20, Key: key[:]})
	if err != nil {
		return nil, errors.Join(err, f.Close())
	}
	return &Reader{file: f, plain: io.NewSectionReader(at, 0, size)}, nil
}

// sealedContent is content as it lies.
type sealedContent interface {
	io.ReaderAt
	io.Closer
}

func (s *Store) sealed(place uuid.UUID) (sealedContent, error) {
	if s.bucket != nil {
		return &stream{bucket: s.bucket, key: bucketKey(place)}, nil
	}
	return os.Open(s.file(place))
}

// ReadAt reads from any place, as io.ReaderAt wants.
func (r *Reader) ReadAt(p []byte, at int64) (int, error) { return r.plain.ReadAt(p, at) }

// Read reads ahead by up to a buffer, so that each package is decrypted once
// however small the pieces are that are asked for.
func (r *Reader) Read(p []byte) (int, error) {
	if len(r.ahead) == 0 {
		if len(p) >= 4*packageSize {
			return r.plain.Read(p)
		}
		if r.buffer == nil {
			r.buffer = buffers.Get().(*[]byte)
		}
		n, err := r.plain.Read(*r.buffer)
		if n == 0 {
			return 0, err
		}
		r.ahead = (*r.buffer)[:n]
	}
	n := copy(p, r.ahead)
	r.ahead = r.ahead[n:]
	return n, nil
}

// Seek sets where the next Read begins.
func (r *Reader) Seek(offset int64, whence int) (int64, error) {
	if whence == io.SeekCurrent {
		offset -= int64(len(r.ahead))
	}
	r.ahead = nil
	return r.plain.Seek(offset, whence)
}

// Close ends reading.
func (r *Reader) Close() error {
	if r.buffer != nil {
		buffers.Put(r.buffer)
		r.buffer, r.ahead = nil, nil
	}
	if r.file == nil {
		return nil
	}
	return r.file.Close()
}

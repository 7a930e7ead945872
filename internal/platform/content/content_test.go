package content

import (
	"bytes"
	"crypto/sha256"
	"errors"
	"io"
	"io/fs"
	"math/rand/v2"
	"net/http/httptest"
	"os"
	"testing"
	"testing/iotest"
	"time"

	"github.com/google/uuid"
	"github.com/johannesboyne/gofakes3"
	"github.com/johannesboyne/gofakes3/backend/s3mem"
)

var place = uuid.MustParse("019aa000-0000-7000-8000-000000000024")

func newKey() (k Key) {
	for i := range k.Secret {
		k.Secret[i] = byte(rand.Int())
	}
	for i := range k.Nonce {
		k.Nonce[i] = byte(rand.Int())
	}
	return k
}

func noise(n int) []byte {
	b := make([]byte, n)
	r := rand.New(rand.NewPCG(uint64(n), 1))
	for i := range b {
		b[i] = byte(r.Uint32())
	}
	return b
}

// stores are a folder and a bucket: whatever holds of one holds of the other.
func stores(t *testing.T) map[string]*Store {
	t.Helper()
	fake := httptest.NewServer(gofakes3.New(s3mem.New(), gofakes3.WithAutoBucket(true)).Server())
	t.Cleanup(fake.Close)
	t.Setenv("AWS_ACCESS_KEY_ID", "test")
	t.Setenv("AWS_SECRET_ACCESS_KEY", "test")
	bucket, err := OpenBucket(t.Context(), t.TempDir(), "s3://papers?region=tessaly&use_path_style=true&endpoint="+fake.URL)
	if err != nil {
		t.Fatal(err)
	}
	return map[string]*Store{"folder": open(t), "bucket": bucket}
}

func open(t *testing.T) *Store {
	t.Helper()
	s, err := Open(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	return s
}

// store takes content in pieces, breaking off after cut bytes each time, and
// resumes where the store says.
func store(t *testing.T, s *Store, key Key, data []byte, cut int) []byte {
	t.Helper()
	sum, offset := sha256.New(), int64(0)
	for tries := 0; ; tries++ {
		end := min(int(offset)+cut, len(data))
		var src io.Reader = bytes.NewReader(data[offset:end])
		if end < len(data) {
			src = io.MultiReader(src, iotest.ErrReader(errors.New("connection lost")))
		}
		from := offset
		n, err := s.Receive(place, key, offset, int64(len(data)), src, sum, nil, func(taken int64) { readable(t, s, key, data, from+taken) })
		if err != nil {
			t.Fatal(err)
		}
		if offset += n; offset == int64(len(data)) {
			break
		}
		if n == 0 || tries > 100 {
			t.Fatalf("no progress at %d", offset)
		}
	}
	if err := errors.Join(s.Settle(t.Context(), place), s.Settle(t.Context(), place), s.Settled(place)); err != nil {
		t.Fatal(err)
	}
	return sum.Sum(nil)
}

// readable reads what is marked to be there while the rest is on its way.
func readable(t *testing.T, s *Store, key Key, data []byte, there int64) {
	t.Helper()
	if err := s.Sync(place); err != nil {
		t.Fatal(err)
	}
	r, err := s.ReadArriving(place, key.Secret, int64(len(data)))
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	for _, at := range []int64{0, there / 2, there - 1} {
		got := make([]byte, there-at)
		if n, err := r.ReadAt(got, at); n != len(got) || !bytes.Equal(got, data[at:there]) {
			t.Fatalf("%d of %d bytes from %d on are not what was written: %v", n, len(got), at, err)
		}
	}
}

func TestContentSurvivesBrokenConnections(t *testing.T) {
	both := stores(t)
	for _, size := range []int{0, 1, packageSize - 1, packageSize, packageSize + 1, 3*bufferSize + 17, 2 * bufferSize} {
		for _, cut := range []int{packageSize, packageSize + 1, 5*packageSize + 100, bufferSize, 10 * bufferSize} {
			key, data := newKey(), noise(size)
			s := both[[]string{"folder", "bucket"}[(size+cut)%2]]
			hash := store(t, s, key, data, cut)
			if want := sha256.Sum256(data); !bytes.Equal(hash, want[:]) {
				t.Fatalf("size %d, cut %d: hash differs", size, cut)
			}
			r, err := s.Read(place, key.Secret, int64(size))
			if err != nil {
				t.Fatal(err)
			}
			got, err := io.ReadAll(iotest.OneByteReader(io.LimitReader(r, 1000)))
			if err != nil || !bytes.Equal(got, data[:min(size, 1000)]) {
				t.Fatalf("size %d, cut %d: the beginning differs, %v", size, cut, err)
			}
			rest, err := io.ReadAll(r)
			if err != nil || !bytes.Equal(append(got, rest...), data) {
				t.Fatalf("size %d, cut %d: content differs, %v", size, cut, err)
			}
			if err := r.Close(); err != nil {
				t.Fatal(err)
			}
		}
	}
}

func TestReadingFromAnyPlace(t *testing.T) {
	for name, s := range stores(t) {
		t.Run(name, func(t *testing.T) { readAnywhere(t, s) })
	}
}

func readAnywhere(t *testing.T, s *Store) {
	key, data := newKey(), noise(2*bufferSize+12345)
	store(t, s, key, data, len(data))
	r, err := s.Read(place, key.Secret, int64(len(data)))
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	jumps(t, r, data, 200)
}

// jumps reads pieces from anywhere in content, and looks where it stands after each.
func jumps(t *testing.T, r io.ReadSeeker, want []byte, times int) {
	t.Helper()
	random := rand.New(rand.NewPCG(1, 2))
	for range times {
		at := random.IntN(len(want))
		n := random.IntN(min(len(want)-at, 200_000) + 1)
		if _, err := r.Seek(int64(at), io.SeekStart); err != nil {
			t.Fatal(err)
		}
		got := make([]byte, n)
		if _, err := io.ReadFull(r, got); err != nil || !bytes.Equal(got, want[at:at+n]) {
			t.Fatalf("%d bytes at %d: %v", n, at, err)
		}
		if pos, err := r.Seek(0, io.SeekCurrent); err != nil || pos != int64(at+n) {
			t.Fatalf("stands at %d, %v; want %d", pos, err, at+n)
		}
	}
}

func TestNothingReadableLiesOnDiskAndDamageIsFound(t *testing.T) {
	s, key := open(t), newKey()
	data := bytes.Repeat([]byte("Corran Lass, frame 31. "), 10_000)
	store(t, s, key, data, len(data))
	raw, err := os.ReadFile(s.file(place))
	if err != nil || bytes.Contains(raw, []byte("Corran")) {
		t.Fatalf("the blob is readable: %v", err)
	}
	raw[len(raw)/2] ^= 1
	if err := os.WriteFile(s.file(place), raw, 0o600); err != nil {
		t.Fatal(err)
	}
	r, err := s.Read(place, key.Secret, int64(len(data)))
	if err != nil {
		t.Fatal(err)
	}
	defer r.Close()
	if _, err := io.ReadAll(r); err == nil {
		t.Error("a damaged blob was read")
	}
}

func TestUnfinishedPartsAreDropped(t *testing.T) {
	s := open(t)
	if n, err := s.Receive(place, newKey(), 0, 10, bytes.NewReader([]byte("abc")), sha256.New(), nil, nil); err != nil || n != 0 {
		t.Errorf("three of ten bytes: took %d, %v", n, err)
	}
	for range 2 {
		if err := s.Drop(t.Context(), place); err != nil {
			t.Error(err)
		}
	}
	if _, err := s.Receive(place, newKey(), 5, 10, bytes.NewReader(nil), sha256.New(), nil, nil); err == nil {
		t.Error("continued in the middle of a package")
	}
}

func TestPlacesAreListedAndDroppedInBoth(t *testing.T) {
	for name, s := range stores(t) {
		store(t, s, newKey(), noise(100_000), 100_000)
		if err := s.Writable(t.Context()); err != nil {
			t.Errorf("%s: %v", name, err)
		}
		for _, want := range []int{1, 0} {
			n := 0
			if err := s.Places(func(uuid.UUID, time.Time) error { n++; return nil }); err != nil || n != want {
				t.Errorf("%s: %d places, want %d, %v", name, n, want, err)
			}
			if err := s.Drop(t.Context(), place); err != nil {
				t.Errorf("%s: %v", name, err)
			}
		}
		r, err := s.Read(place, [32]byte{}, 10)
		if err == nil {
			_, err = io.ReadAll(r)
		}
		if !errors.Is(err, fs.ErrNotExist) {
			t.Errorf("%s: reading what is gone: %v", name, err)
		}
	}
}

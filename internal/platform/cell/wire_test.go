package cell

import (
	"bytes"
	"encoding/json"
	"io"
	"testing"
)

// What a cell answers is not believed: whatever it sends, no more is taken, and no
// more memory, than is left for answers.
func FuzzHear(f *testing.F) {
	var sound bytes.Buffer
	if err := say(&sound, 1, map[string]int{"page": 3}, []byte("pixels")); err != nil {
		f.Fatal(err)
	}
	f.Add(sound.Bytes(), int64(1000))
	f.Add(sound.Bytes()[:9], int64(1000))
	f.Add(bytes.Repeat([]byte{0xff}, 40), int64(1<<20))
	f.Add([]byte("\x01\x00\x00\x00\x00\x7f\xff\xff\xff\xff\xff\xff\xff"), int64(1<<20))
	f.Fuzz(func(t *testing.T, raw []byte, left int64) {
		if left < 0 || left > 1<<20 {
			return
		}
		before, r := left, bytes.NewReader(raw)
		for {
			_, header, body, err := hear(r, &left)
			if left < 0 || int64(cap(header)+cap(body)) > before {
				t.Fatalf("%d of %d are left, after %d and %d bytes", left, before, cap(header), cap(body))
			}
			if err != nil {
				return
			}
		}
	})
}

// What one side says the other hears.
func TestSaidIsHeard(t *testing.T) {
	var wire bytes.Buffer
	left := int64(1 << 10)
	if err := say(&wire, 7, []int{1, 2}, []byte("body")); err != nil {
		t.Fatal(err)
	}
	kind, header, body, err := hear(&wire, &left)
	var got []int
	if err != nil || kind != 7 || json.Unmarshal(header, &got) != nil || len(got) != 2 || string(body) != "body" {
		t.Errorf("%d %s %q %v", kind, header, body, err)
	}
	if left != 1<<10-int64(len(header)+len(body)) {
		t.Errorf("%d are left", left)
	}
	if _, _, _, err := hear(&wire, &left); err != io.EOF {
		t.Errorf("after the end: %v", err)
	}
}

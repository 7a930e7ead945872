package chunk

import (
	"cmp"
	"encoding/binary"
	"io"
	"slices"
	"strings"
	"unicode"
)

// Sketch stands for what content holds, so that two can be told to be alike without either:
// the smallest of the hashes of its parts (bottom-k MinHash, Broder 1997).
type Sketch []uint64

const (
	// parts is how many hashes are kept.
	parts = 96
	// together is how many words make a part of a text.
	together = 4
	// fewest is how many parts content must have for being told alike to mean something.
	fewest = 12
)

// SketchText makes the sketch of a text, by its words in fours.
func SketchText(text string) Sketch {
	words := strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	var k keeper
	for i := 0; i+together <= len(words); i++ {
		k.take(hash([]byte(strings.Join(words[i:i+together], " "))))
	}
	return k.sketch()
}

// SketchContent makes the sketch of bytes, by the chunks into which they cut themselves.
func SketchContent(r io.Reader) (Sketch, error) {
	var k keeper
	err := each(r, func(_ int64, data []byte) error {
		k.take(hash(data))
		return nil
	})
	return k.sketch(), err
}

// Alike is how large a part of what both hold they have in common, from 0 to 1. Of very
// little nothing is said.
func (s Sketch) Alike(other Sketch) float64 {
	if len(s) < fewest || len(other) < fewest {
		return 0
	}
	i, j, seen, common := 0, 0, 0, 0
	for seen < parts && (i < len(s) || j < len(other)) {
		switch {
		case j == len(other) || i < len(s) && s[i] < other[j]:
			i++
		case i == len(s) || other[j] < s[i]:
			j++
		default:
			i, j, common = i+1, j+1, common+1
		}
		seen++
	}
	return float64(common) / float64(seen)
}

// Encode writes a sketch, eight bytes for each hash, the first byte first.
func (s Sketch) Encode() []byte {
	out := make([]byte, 0, 8*len(s))
	for _, h := range s {
		out = binary.BigEndian.AppendUint64(out, h)
	}
	return out
}

// DecodeSketch reads what Encode wrote.
func DecodeSketch(raw []byte) Sketch {
	var s Sketch
	for ; len(raw) >= 8; raw = raw[8:] {
		s = append(s, binary.BigEndian.Uint64(raw))
	}
	return s
}

// keeper keeps the smallest hashes.
type keeper struct{ all []uint64 }

func (k *keeper) take(h uint64) {
	k.all = append(k.all, h)
	if len(k.all) >= 64*parts {
		k.all = k.sketch()
	}
}

func (k *keeper) sketch() Sketch {
	slices.SortFunc(k.all, cmp.Compare[uint64])
	k.all = slices.Compact(k.all)
	return slices.Clone(k.all[:min(len(k.all), parts)])
}

// hash is FNV-1a over 64 bits, with its bits mixed once more: the smallest must be a fair
// choice.
func hash(data []byte) uint64 {
	h := uint64(14695981039346656037)
	for _, b := range data {
		h = (h ^ uint64(b)) * 1099511628211
	}
	h ^= h >> 33
	h *= 0xff51afd7ed558ccd
	h ^= h >> 33
	return h
}

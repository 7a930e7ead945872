package bench_test

import (
	"fmt"
	mathrand "math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"testing"
	"time"
)

// A hundred versions of a file of 20 MB, each a small edit of the one before: what is
// stored beside what was changed, and how long the first and the newest take to read
// beside a file that is kept whole.
func BenchmarkVersionsOfALargeFile(b *testing.B) {
	const versions, change = 100, 4 << 10
	p := newPractice(b)
	dir := b.TempDir()
	file := filepath.Join(dir, "drawing.bin")
	noise(b, file, 20<<20)
	now, err := os.ReadFile(file)
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		doc := p.upload(b, file, "drawing.bin", int64(len(now)))
		r := mathrand.New(mathrand.NewPCG(31, 24))
		for range versions - 1 {
			at := r.IntN(len(now) - change)
			piece := make([]byte, change)
			for i := range piece {
				piece[i] = byte(r.Uint32())
			}
			// Something is written anew, and what follows it moves.
			now = slices.Concat(now[:at], piece, now[at+r.IntN(change):])
			if err := os.WriteFile(file, now, 0o600); err != nil {
				b.Fatal(err)
			}
			p.upload(b, file, "drawing.bin", int64(len(now)))
		}
		begun := time.Now()
		if err := p.App.Chunks.Weigh(b.Context(), doc); err != nil {
			b.Fatal(err)
		}
		weighing := time.Since(begun)
		var stored struct {
			Bytes, Recipes, Whole int64
		}
		if err := p.App.DB.Get(&stored, `SELECT sum(own)::bigint AS bytes, coalesce(sum(length(recipe)), 0) AS recipes, count(*) FILTER (WHERE own = size) AS whole FROM blobs
			WHERE sha256 IN (SELECT sha256 FROM versions WHERE item_id = $1)`, doc); err != nil {
			b.Fatal(err)
		}
		grown, changed := stored.Bytes+stored.Recipes-20<<20, int64((versions-1)*change)
		row("100 versions of 20 MB, 4 KiB changed in each | bytes changed", fmt.Sprintf("%d kB", grown/1000), fmt.Sprintf("%d kB", changed/1000), float64(grown)/float64(changed), "at most 3")
		line(fmt.Sprintf("  %d kept whole, looking at the rest took %v", stored.Whole, weighing.Round(time.Millisecond)))
		own := filepath.Join(dir, "other.bin")
		noise(b, own, 20<<20)
		whole := p.upload(b, own, "kept whole.bin", 20<<20)
		for _, n := range []int{1, 50, versions} {
			ours, beside := median(b, 25, func() { p.fetch(b, fmt.Sprintf(p.URL+"/api/documents/%s/content?version=%d", doc, n)) }, func() { p.fetch(b, fmt.Sprintf(p.URL+"/api/documents/%s/content", whole)) })
			row(fmt.Sprintf("reading version %d | a file kept whole", n), rate(20<<20, ours), rate(20<<20, beside), float64(ours)/float64(beside), "at most 1.3")
		}
	}
}

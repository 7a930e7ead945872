package bench_test

import (
	"fmt"
	"net/url"
	"strings"
	"testing"
	"time"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// What keeping words costs whoever brings documents in, and how long it takes until a
// document is found by what stands in it.
func BenchmarkIndexing(b *testing.B) {
	p := newPractice(b)
	for b.Loop() {
		var with, without float64
		// In turns, so that neither has the quieter moments.
		for round := range 6 {
			p.indexes(b, false)
			without += p.brings(2*round, 3*time.Second)
			p.indexes(b, true)
			p.indexed(b)
			with += p.brings(2*round+1, 3*time.Second)
			p.indexed(b)
		}
		row("documents brought in a second, words kept at once | words not kept", fmt.Sprintf("%.1f", with/6), fmt.Sprintf("%.1f", without/6), with/without, "at least 0.90")
		n := 0
		_, found := percentile(b, 20, func() error {
			n++
			word := fmt.Sprintf("soundingword%c%c", 'a'+n/26, 'a'+n%26)
			p.c.Upload(p.top, "", word+".txt", []byte(strings.Repeat("Thickness of the shell plating. ", 200)+word+"inside"))
			return p.finds(word + "inside")
		})
		alone("a new document is found by what stands in it (p95)", found, "2 s")
	}
}

// brings uploads letters of some pages for a while, and returns how many a second.
func (p practice) brings(round int, during time.Duration) float64 {
	begun, n := time.Now(), 0
	for ; time.Since(begun) < during; n++ {
		p.c.Upload(p.top, "", fmt.Sprintf("letter %d %d.txt", round, n), []byte(strings.Repeat(fmt.Sprintf("Letter %d of %d on the plating. ", n, round), 600)))
	}
	return float64(n) / time.Since(begun).Seconds()
}

// indexes lets the queue in which words are kept run, or stand.
func (p practice) indexes(b *testing.B, yes bool) {
	b.Helper()
	if _, err := p.App.DB.Exec(`UPDATE river_queue SET paused_at = CASE WHEN $1 THEN NULL ELSE now() END WHERE name = 'finding'`, yes); err != nil {
		b.Fatal(err)
	}
	action := "pause"
	if yes {
		action = "resume"
	}
	if _, err := p.App.DB.Exec(`SELECT pg_notify(current_schema() || '.river_control', json_build_object('action', $1::text, 'queue', 'finding')::text)`, action); err != nil {
		b.Fatal(err)
	}
	time.Sleep(time.Second)
}

// indexed waits until the words of everything are kept.
func (p practice) indexed(b *testing.B) {
	b.Helper()
	for {
		var left int
		if err := p.App.DB.Get(&left, `SELECT count(*) FROM river_job WHERE queue = 'finding' AND state IN ('available', 'running')`); err != nil {
			b.Fatal(err)
		}
		if left == 0 {
			return
		}
		time.Sleep(50 * time.Millisecond)
	}
}

// finds waits until a word is found.
func (p practice) finds(word string) error {
	for begun := time.Now(); time.Since(begun) < time.Minute; time.Sleep(10 * time.Millisecond) {
		if len(testkit.Get[contract.FoundPage](p.c, "/api/found?q="+url.QueryEscape(word)).Hits) > 0 {
			return nil
		}
	}
	return fmt.Errorf("%s is not found", word)
}

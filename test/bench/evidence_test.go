package bench_test

import (
	"fmt"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// What sealing costs whoever acts: acts in a second while everything is sealed as it
// happens, beside acts while nothing is sealed.
func BenchmarkActsWhileSealing(b *testing.B) {
	p := newPractice(b)
	doc := testkit.Post[contract.Folder](p.c, 201, fmt.Sprintf("/api/folders/%s/folders", p.top), contract.NewName{Name: "0"}).Id
	for b.Loop() {
		var with, without float64
		// In turns, so that neither has the quieter moments.
		for round := range 6 {
			without += p.acts(b, doc, 2*round, false)
			with += p.acts(b, doc, 2*round+1, true)
		}
		row("acts in a second, sealed at once | not sealed", fmt.Sprintf("%.0f", with/6), fmt.Sprintf("%.0f", without/6), with/without, "at least 0.95")
	}
}

// acts renames a folder for some seconds, and returns how often a second.
func (p practice) acts(b *testing.B, folder uuid.UUID, round int, sealed bool) float64 {
	b.Helper()
	var ended atomic.Bool
	done := make(chan error, 1)
	go func() {
		for sealed && !ended.Load() {
			if err := p.App.Evidence.SealAll(b.Context()); err != nil {
				done <- err
				return
			}
			time.Sleep(time.Second)
		}
		done <- nil
	}()
	begun, n := time.Now(), 0
	for ; time.Since(begun) < 3*time.Second; n++ {
		p.c.Want(204, "PUT", "/api/items/"+folder.String()+"/name", contract.NewName{Name: fmt.Sprintf("%d-%d", round, n)})
	}
	took := time.Since(begun)
	ended.Store(true)
	if err := <-done; err != nil {
		b.Fatal(err)
	}
	return float64(n) / took.Seconds()
}

// Ten million events: how long they take to be sealed, and the proof of any of them.
func BenchmarkTenMillionSealedEvents(b *testing.B) {
	const all = 10_000_000
	p := newPractice(b)
	for b.Loop() {
		for from := 0; from < all; from += all / 10 {
			if _, err := p.App.DB.Exec(`WITH made AS (INSERT INTO events (at, kind, person_id, dossier_id, item_id, network, agent, data)
				SELECT now() - interval '1 year' + n * interval '3 seconds', 'folder.renamed', (SELECT id FROM people LIMIT 1), $1, $1, '192.0.2.' || n % 250, 'Firefox', jsonb_build_object('from', n::text, 'to', (n + 1)::text)
				FROM generate_series($2::int, $3::int) n RETURNING *),
				scoped AS (INSERT INTO event_scopes (event_id, scope_id, kind, person_id, outside) SELECT id, $1, kind, person_id, outside FROM made)
				INSERT INTO unsealed_events SELECT id FROM made`, p.top, from+1, from+all/10); err != nil {
				b.Fatal(err)
			}
		}
		if _, err := p.App.DB.Exec(`ANALYZE events, event_scopes, unsealed_events`); err != nil {
			b.Fatal(err)
		}
		begun := time.Now()
		if err := p.App.Evidence.SealAll(b.Context()); err != nil {
			b.Fatal(err)
		}
		took := time.Since(begun)
		line(fmt.Sprintf("  10,000,000 events sealed in %v, %.0f in a second", took.Round(time.Second), all/took.Seconds()))
		var ids []int64
		if err := p.App.DB.Select(&ids, `SELECT event_id FROM sealed_events WHERE place = ANY($1) ORDER BY place`, []int64{0, 1, 255, 256, 65536, all / 3, all / 2, all - 70000, all - 300, all - 1}); err != nil {
			b.Fatal(err)
		}
		var slowest time.Duration
		for _, id := range ids {
			begun := time.Now()
			p.c.Want(200, "GET", fmt.Sprintf("/api/evidence/events/%d", id), nil)
			slowest = max(slowest, time.Since(begun))
		}
		row("proof of any of 10,000,000 events, the slowest of ten | 50 ms", slowest.Round(time.Millisecond).String(), "50ms", slowest.Seconds()/0.05, "at most 1")
	}
}

package bench_test

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"strconv"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/route"
	"tabularis/internal/app/decisions"
)

// manyRuns is how many documents are on their way (BENCH_RUNS).
func manyRuns() int {
	if n, err := strconv.Atoi(os.Getenv("BENCH_RUNS")); err == nil && n > 0 {
		return n
	}
	return 100_000
}

// twoStops is a route on which one person reviews, and then approves.
const twoStops = `{"name":"Release","starts":[{"on":"hand"}],"stops":[
	{"cases":[{"do":"review","who":[{"person":%[1]q}],"within":{"n":2,"unit":"days"}}]},
	{"cases":[{"do":"approve","who":[{"person":%[1]q}],"within":{"n":2,"unit":"days"}}]}]}`

// travel lets documents of a folder go along a route: one by the application, and
// the others are copies of what it left.
func (p practice) travel(b *testing.B, ctx context.Context, folder uuid.UUID, n int) (along uuid.UUID, runs []uuid.UUID) {
	b.Helper()
	var d route.Definition
	if err := json.Unmarshal(fmt.Appendf(nil, twoStops, p.People["ines"].ID), &d); err != nil {
		b.Fatal(err)
	}
	db := p.App.DB
	var first uuid.UUID
	along, err := p.App.Web.Routes.Make(ctx, &folder, d)
	for _, step := range []func() error{
		func() error { return err },
		func() error { return p.App.Web.Routes.Switch(ctx, along, true) },
		func() error {
			return db.GetContext(ctx, &first, `SELECT id FROM items WHERE parent_id = $1 AND kind = 'document' ORDER BY number LIMIT 1`, folder)
		},
		func() error { return p.App.Web.Routes.StartHere(ctx, along, []uuid.UUID{first}, "") },
	} {
		if err := step(); err != nil {
			b.Fatal(err)
		}
	}
	copied := func(table, columns, values string) {
		b.Helper()
		if _, err := db.ExecContext(ctx, `INSERT INTO `+table+` (`+columns+`) SELECT `+values+` FROM `+table+` x JOIN runs r ON r.item_id = $2
			CROSS JOIN (SELECT id, dossier_id FROM items WHERE parent_id = $1 AND kind = 'document' AND id <> $2 ORDER BY number LIMIT $3) i
			WHERE x.`+map[bool]string{true: "id", false: "run_id"}[table == "runs"]+` = r.id`, folder, first, n-1); err != nil {
			b.Fatal(err)
		}
	}
	const run = `md5('r' || i.id)::uuid`
	copied("runs", "id, edition_id, item_id, dossier_id, acts_for, starter_id, status, stop, version, sha256, started_at, since, seq, wake_at",
		run+", x.edition_id, i.id, i.dossier_id, x.acts_for, x.starter_id, x.status, x.stop, x.version, x.sha256, x.started_at, x.since, x.seq, x.wake_at")
	copied("run_events", "run_id, seq, at, body", run+", x.seq, x.at, x.body")
	copied("run_asked", "run_id, person_id, waits, since, due, late", run+", x.person_id, x.waits, x.since, x.due, x.late")
	copied("item_states", "item_id, run_id, state, sha256, at", "i.id, "+run+", x.state, x.sha256, x.at")
	if _, err := db.ExecContext(ctx, `VACUUM ANALYZE runs, run_events, run_asked, item_states`); err != nil {
		b.Fatal(err)
	}
	if err := db.SelectContext(ctx, &runs, `SELECT id FROM runs ORDER BY md5(id::text)`); err != nil || len(runs) != n {
		b.Fatalf("%d runs, %v", len(runs), err)
	}
	return along, runs
}

// A decision takes a run to its next stop while very many are on their way, beside one transaction that
// writes as much; what was due while nothing ran is caught up with.
func BenchmarkDecisions(b *testing.B) {
	p := newPractice(b)
	p.fill(b, manyRuns())
	ctx := p.As("ines")
	along, runs := p.travel(b, ctx, p.top, manyRuns())
	deciding := p.App.Web.Decisions
	next := func() uuid.UUID {
		one := runs[0]
		runs = runs[1:]
		return one
	}
	for b.Loop() {
		one, err := deciding.One(ctx, runs[0])
		if err != nil {
			b.Fatal(err)
		}
		agrees := decisions.Decision{Verdict: route.Agrees, Content: one.Run.Content}
		middle, most := percentile(b, 200, func() error { return deciding.Decide(ctx, next(), agrees) })
		plainMiddle, plain := percentile(b, 200, func() error { return p.oneTransaction(ctx, next()) })
		of := fmt.Sprintf("%d runs", len(runs))
		row(of+": decided and at the next stop (p95) | one transaction", ms(most), ms(plain), most.Seconds()/plain.Seconds(), "")
		row(of+": the same in the middle", ms(middle), ms(plainMiddle), middle.Seconds()/plainMiddle.Seconds(), "")
		alone(of+": what waits for somebody, their first 200", warm(b, func() error { _, err := deciding.List(ctx); return err }), "")
		alone(of+": those of a route, with how long its stops take", warm(b, func() error {
			if _, _, err := p.App.Web.Routes.Runs(ctx, along, p.Now().Add(-90*24*time.Hour)); err != nil {
				return err
			}
			_, _, err := deciding.TimesAlong(ctx, along, p.Now().Add(-90*24*time.Hour))
			return err
		}), "")
		p.catchesUp(b, 2000)
	}
}

// oneTransaction writes what an act of a decision writes, without knowing what it means.
func (p practice) oneTransaction(ctx context.Context, run uuid.UUID) error {
	tx, err := p.App.DB.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }()
	for _, statement := range []string{
		`SELECT 1 FROM runs WHERE id = $1 FOR UPDATE`,
		`INSERT INTO run_events (run_id, seq, at, body) SELECT run_id, seq + 100, at, body FROM run_events WHERE run_id = $1`,
		`UPDATE run_asked SET since = now() WHERE run_id = $1`,
		`INSERT INTO events (at, kind, person_id, dossier_id, item_id, data) SELECT now(), 'document.added', acts_for, dossier_id, item_id, '{}' FROM runs WHERE id = $1`,
		`UPDATE runs SET since = now() WHERE id = $1`,
	} {
		if _, err := tx.ExecContext(ctx, statement, run); err != nil {
			return err
		}
	}
	return tx.Commit()
}

// catchesUp lets some days go by in which nothing runs, and does what was due.
func (p practice) catchesUp(b *testing.B, n int) {
	db := p.App.DB
	if _, err := db.ExecContext(b.Context(), `UPDATE runs SET wake_at = NULL WHERE id NOT IN (SELECT id FROM runs WHERE wake_at IS NOT NULL ORDER BY md5(id::text) LIMIT $1)`, n); err != nil {
		b.Fatal(err)
	}
	p.Later(7 * 24 * time.Hour)
	begun := time.Now()
	if err := p.App.Web.Decisions.Due(context.Background()); err != nil {
		b.Fatal(err)
	}
	took := time.Since(begun)
	left := 0
	if err := db.GetContext(b.Context(), &left, `SELECT count(*) FROM runs WHERE wake_at <= $1`, p.Now()); err != nil || left > 0 {
		b.Fatalf("%d are still due, %v", left, err)
	}
	line(fmt.Sprintf("%-64s %12s %12s %8s  %s", fmt.Sprintf("what was due for %d of them after a week, caught up with", n), fmt.Sprintf("%.0f/s", float64(n)/took.Seconds()), "", "", ""))
}

// A route's condition is evaluated for one document.
func BenchmarkConditions(b *testing.B) {
	const rounds = 100_000
	of, other := uuid.New(), uuid.New()
	c := route.Condition{All: []route.Condition{
		{Test: &route.Test{Of: route.OfParticular, Particular: &of, Is: route.AtLeast, Value: "250000"}},
		{Not: &route.Condition{Any: []route.Condition{
			{Test: &route.Test{Of: route.OfParticular, Particular: &other, Is: route.Is, Value: "internal"}},
			{Test: &route.Test{Of: route.OfSize, Is: route.AtLeast, Value: "1000000"}},
		}}},
	}}
	facts := route.Facts{Particulars: map[uuid.UUID]string{of: "312400.50", other: "client"}}
	for b.Loop() {
		begun := time.Now()
		for range rounds {
			if !c.Holds(facts) {
				b.Fatal("it does not hold")
			}
		}
		line(fmt.Sprintf("%-64s %12s %12s %8s  %s", "conditions of three tests evaluated on one core", fmt.Sprintf("%.0f/s", rounds/time.Since(begun).Seconds()), "", "", "at least 1000/s"))
	}
}

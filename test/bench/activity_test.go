package bench_test

import (
	"fmt"
	"os"
	"strconv"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/following"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/activity"
)

// manyEvents is how many events there are: ten million, unless BENCH_EVENTS says otherwise.
func manyEvents() int {
	if n, err := strconv.Atoi(os.Getenv("BENCH_EVENTS")); err == nil && n > 0 {
		return n
	}
	return 10_000_000
}

// happen fills the large practice with events of three years: over all documents, by all
// people, of common and of rare kinds. Indexes are made afterwards, as a restored backup's.
func (w large) happen(b *testing.B, events int) {
	conn, err := w.App.DB.Connx(b.Context())
	if err != nil {
		b.Fatal(err)
	}
	defer conn.Close()
	do := func(statement string, args ...any) {
		b.Helper()
		if _, err := conn.ExecContext(b.Context(), statement, args...); err != nil {
			b.Fatalf("%v in %.120s", err, statement)
		}
	}
	var indexes []struct{ Name, Made string }
	if err := conn.SelectContext(b.Context(), &indexes, `SELECT indexname AS name, indexdef AS made FROM pg_indexes WHERE tablename IN ('events', 'event_scopes') AND indexname NOT LIKE '%pkey'`); err != nil {
		b.Fatal(err)
	}
	do(`SET session_replication_role = replica`)
	do(`SET synchronous_commit = off`)
	do(`SET maintenance_work_mem = '512MB'`)
	for _, i := range indexes {
		do(`DROP INDEX ` + i.Name)
	}
	// What is there already happened before.
	do(`UPDATE events SET at = at - interval '4 years'`)
	do(`CREATE TEMP TABLE papers AS SELECT row_number() OVER () AS n, id, dossier_id, scope_id FROM items WHERE kind = 'document'`)
	do(`WITH made AS (INSERT INTO events (at, kind, person_id, dossier_id, item_id, outside, data)
		SELECT now() - interval '3 years' + k * interval '1 second' * (94608000.0 / $1), CASE WHEN k % 20000 = 0 THEN 'version.restored' WHEN k % 100 = 0 THEN 'document.renamed' WHEN k % 10 = 3 THEN 'link.viewed' ELSE 'version.added' END,
			CASE WHEN k % 10 <> 3 THEN md5('p' || (1 + k * 7919 % 2000))::uuid END, p.dossier_id, p.id, k % 10 = 3, '{}'
		FROM generate_series(1, $1::bigint) k JOIN papers p ON p.n = 1 + (k * 104729) % (SELECT count(*) FROM papers) ORDER BY k RETURNING id, item_id, kind, person_id, outside)
		INSERT INTO event_scopes (event_id, scope_id, kind, person_id, outside) SELECT made.id, p.scope_id, made.kind, made.person_id, made.outside FROM made JOIN papers p ON p.id = made.item_id`, events)
	for _, i := range indexes {
		do(i.Made)
	}
	do(`UPDATE scopes s SET last_event_id = e.last FROM (SELECT scope_id, max(event_id) AS last FROM event_scopes GROUP BY 1) e WHERE e.scope_id = s.id`)
	do(`RESET session_replication_role`)
	do(`RESET synchronous_commit`)
	do(`VACUUM ANALYZE`)
}

// The newest page of the activity of ten million events, by any filter and for anybody,
// beside the same filter without asking who may see what.
func BenchmarkActivity(b *testing.B) {
	w := newLarge(b)
	w.happen(b, manyEvents())
	db, ctx := w.App.DB, b.Context()
	var total int
	if err := db.GetContext(ctx, &total, `SELECT sum(n_documents) FROM scopes`); err != nil {
		b.Fatal(err)
	}
	rare := activity.EventFilter{Kind: "version.restored"}
	filters := []struct {
		what string
		f    activity.EventFilter
	}{
		{"everything", activity.EventFilter{}}, {"a common kind", activity.EventFilter{Kind: "version.added"}}, {"a kind of 1 %", activity.EventFilter{Kind: "document.renamed"}}, {"a rare kind", rare},
		{"a person", activity.EventFilter{Person: id("p77")}}, {"from outside", activity.EventFilter{Outside: true}}, {"of links", activity.EventFilter{Group: "link"}},
		{"a dossier", activity.EventFilter{Dossier: id("d200")}}, {"a dossier, a kind of 1 %", activity.EventFilter{Dossier: id("d200"), Kind: "document.renamed"}},
		{"the last week", activity.EventFilter{Since: w.Now().Add(-7 * 24 * time.Hour)}}, {"the last week, a rare kind", activity.EventFilter{Since: w.Now().Add(-7 * 24 * time.Hour), Kind: rare.Kind}},
		{"a dossier is muted", activity.EventFilter{Heeding: following.Heeding{Muted: following.Things{Dossiers: []uuid.UUID{id("d300")}}}}},
		{"what is followed: two dossiers", activity.EventFilter{Heeding: following.Heeding{Only: true, Followed: following.Things{Dossiers: []uuid.UUID{id("d200"), id("d201")}}}}},
	}
	for b.Loop() {
		for _, n := range []int{1, 4, 2, 5, 10} {
			readable, bits, err := w.App.Access.Of(ctx, id(fmt.Sprint("p", n)), w.Now())
			if err != nil {
				b.Fatal(err)
			}
			seen, err := guard.CountReadable(ctx, db, readable)
			if err != nil {
				b.Fatal(err)
			}
			for _, c := range filters {
				c.f.Limit = 51
				ours := func() error { _, err := activity.Newest(ctx, db, c.f, readable, bits); return err }
				bare := func() error { _, err := activity.Events(ctx, db, c.f); return err }
				d, beside := median(b, 9, must(b, ours), must(b, bare))
				row(fmt.Sprintf("activity: %s, who sees %.2f %% | nobody asked for", c.what, 100*float64(seen)/float64(total)), ms(d), ms(beside), d.Seconds()/beside.Seconds(), "at most 1.5")
			}
			folder := activity.EventFilter{Folder: id("f200.1"), Limit: 51}
			alone("activity: a folder with those within", warm(b, func() error { _, err := activity.Newest(ctx, db, folder, readable, bits); return err }), "")
		}
	}
}

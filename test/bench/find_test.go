package bench_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	rules "tabularis/core/find"
	"tabularis/internal/app/find"
	"tabularis/internal/platform/postgres"
)

// manyTexts is how many documents have text: a million, unless BENCH_TEXTS says otherwise.
func manyTexts() int {
	if n, err := strconv.Atoi(os.Getenv("BENCH_TEXTS")); err == nil && n > 0 {
		return n
	}
	return 1_000_000
}

// often are words and how often they stand in a document: in so many of a million.
var often = []struct {
	word string
	n    int
}{{"seldomly7", 7}, {"promille", 1_000}, {"twentieth", 50_000}, {"fortieth", 400_000}}

// sentence makes a text: words of a vocabulary of 50,000 by Zipf's law, those of which it is
// known how often they stand somewhere, and two numbers of its own.
func sentence(r *rand.Rand, zipf *rand.Zipf, n, words int) string {
	var b strings.Builder
	for range words {
		b.WriteString("w" + strconv.FormatUint(zipf.Uint64(), 36) + " ")
	}
	for _, o := range often {
		if r.IntN(1_000_000) < o.n {
			b.WriteString(o.word + " ")
		}
	}
	if r.IntN(20) == 0 {
		b.WriteString("damaged stringer ")
	}
	fmt.Fprintf(&b, "HR-%d/%06d %d", 2000+n%25, n, n*7919)
	return b.String()
}

// write gives the documents of the large practice their texts, in the order in which they
// came; indexes are made afterwards, as a restored backup's.
func (w large) write(b *testing.B, texts int) {
	b.Helper()
	ctx := b.Context()
	pool, err := w.App.DB.Pool.Acquire(ctx)
	if err != nil {
		b.Fatal(err)
	}
	defer pool.Release()
	do := func(statement string, args ...any) {
		b.Helper()
		if _, err := pool.Exec(ctx, statement, args...); err != nil {
			b.Fatalf("%v in %.120s", err, statement)
		}
	}
	do(`CREATE UNLOGGED TABLE said (n bigint, words text)`)
	do(`CREATE UNLOGGED TABLE papers AS SELECT row_number() OVER (ORDER BY number, id) AS n, id, dossier_id, scope_id FROM items WHERE kind = 'document' LIMIT ` + strconv.Itoa(texts))
	do(`SET session_replication_role = replica`)
	do(`SET synchronous_commit = off`)
	do(`SET maintenance_work_mem = '512MB'`)
	do(`INSERT INTO text_places (item_id, version, win, seq, beside) SELECT id, 1, (n - 1) / 50000, n - 1, '' FROM papers ON CONFLICT (item_id, version) DO UPDATE SET win = excluded.win, seq = excluded.seq`)
	do(`TRUNCATE texts`)
	do(`DROP INDEX texts_words`)
	for win := range texts/50_000 + 2 {
		do(`SELECT text_window($1)`, win)
	}
	r := rand.New(rand.NewPCG(15, 1))
	zipf := rand.NewZipf(r, 1.1, 8, 50_000)
	const batch = 50_000
	for from := 0; from < texts; from += batch {
		rows := make([][]any, 0, batch)
		for n := from; n < min(from+batch, texts); n++ {
			words := 30 + r.IntN(200)
			if n%5000 == 0 {
				words = 50_000
			}
			v := rules.Index(rules.Text{Name: fmt.Sprintf("Paper %d.txt", n), Pages: []string{sentence(r, zipf, n, words)}})
			rows = append(rows, []any{int64(n), v.Literal})
		}
		do(`TRUNCATE said`)
		if _, err := pool.Conn().CopyFrom(ctx, pgx.Identifier{"said"}, []string{"n", "words"}, pgx.CopyFromRows(rows)); err != nil {
			b.Fatal(err)
		}
		do(`INSERT INTO texts (win, seq, item_id, version, scope_no, dossier_id, kind, language, by_id, at, size, words)
			SELECT said.n / 50000, said.n, p.id, 1, s.no, p.dossier_id, 'text', 'en', md5('p' || (1 + said.n % 2000))::uuid, now() - interval '1 second' * ($1::bigint - said.n), 1000, said.words::tsvector
			FROM said JOIN papers p ON p.n = said.n + 1 JOIN scopes s ON s.id = p.scope_id`, int64(texts))
	}
	do(`SELECT setval('text_numbers', $1)`, int64(texts))
	do(`DELETE FROM bodies`)
	do(`INSERT INTO versions (item_id, number, sha256, size, media_type, origin, actor_id, created_at) SELECT i.id, 1, i.sha256, 1000, 'text/plain', 'uploaded', md5('p1')::uuid, now() FROM items i WHERE i.kind = 'document' ON CONFLICT DO NOTHING`)
	do(`CREATE INDEX texts_words ON texts USING gin (dossier_id, words) WITH (gin_pending_list_limit = 512)`)
	do(`DROP TABLE said, papers`)
	do(`RESET session_replication_role`)
	do(`RESET synchronous_commit`)
	do(`VACUUM ANALYZE`)
}

// plainly answers a question without asking who may see what: the same statement, bare.
func plainly(ctx context.Context, db *postgres.DB, words string) error {
	rows, err := db.Pool.Query(ctx, `WITH hit AS MATERIALIZED (SELECT x.* FROM (SELECT g FROM generate_series((SELECT last_value / 50000 FROM text_numbers)::int, 0, -1) g OFFSET 0) w(win)
			CROSS JOIN LATERAL (SELECT t.win, t.seq, t.dossier_id, t.kind FROM texts t WHERE t.win = w.win AND t.words @@ $1::tsquery AND NOT t.gone AND t.counts ORDER BY t.seq + 0 DESC LIMIT 200) x LIMIT 200),
		best AS MATERIALIZED (SELECT t.* FROM hit h CROSS JOIN LATERAL (SELECT t.seq, t.item_id, t.version, t.words FROM texts t WHERE t.win = h.win AND t.seq = h.seq) t ORDER BY ts_rank(t.words, $1::tsquery) DESC, t.seq DESC LIMIT 26)
		SELECT i.*, v.sha256, v.media_type, v.created_at, v.size, p.name FROM best t JOIN items i ON i.id = t.item_id JOIN versions v ON v.item_id = t.item_id AND v.number = t.version LEFT JOIN people p ON p.id = v.actor_id
			ORDER BY ts_rank(t.words, $1::tsquery) DESC, t.seq DESC`, words)
	if err != nil {
		return err
	}
	for rows.Next() {
	}
	return rows.Err()
}

// percentile runs something some times and returns what it takes in the middle and at most in
// 95 of 100 cases.
func percentile(b *testing.B, rounds int, fn func() error) (middle, most time.Duration) {
	b.Helper()
	var all []time.Duration
	for i := range rounds + 3 {
		begun := time.Now()
		if err := fn(); err != nil {
			b.Fatal(err)
		}
		if i >= 3 {
			all = append(all, time.Since(begun))
		}
	}
	slices.Sort(all)
	return all[len(all)/2], all[len(all)*95/100]
}

// Documents are found by what is written in a million of them, whoever asks, beside the same
// statement without asking who may see what.
func BenchmarkFind(b *testing.B) {
	w := newLarge(b)
	begun := time.Now()
	w.write(b, manyTexts())
	alone("find: keeping the words of all documents", time.Since(begun), "")
	db, err := postgres.OpenGeneric(b.Context(), w.App.Config.DatabaseURL, 8)
	if err != nil {
		b.Fatal(err)
	}
	defer db.Close()
	if held := os.Getenv("BENCH_HOLD"); held != "" {
		fmt.Fprintln(os.Stderr, w.App.Config.DatabaseURL)
		for {
			if _, err := os.Stat(held); err == nil {
				break
			}
			time.Sleep(time.Second)
		}
	}
	questions := []struct{ what, q string }{{"in 7 documents", "seldomly7"}, {"a number", "HR-2007/000007"}, {"0.1 %", "promille"}, {"5 %", "twentieth"}, {"40 %", "fortieth"},
		{"two words", "twentieth promille"}, {"a phrase", `"damaged stringer"`}, {"a beginning", "twent*"}, {"nothing", "nowhereatall"}}
	for b.Loop() {
		for _, n := range []int{1, 2001, 4, 2, 5, 10} {
			_, bits, err := w.App.Access.Of(b.Context(), id(fmt.Sprint("p", n)), w.Now())
			if err != nil {
				b.Fatal(err)
			}
			share := fmt.Sprintf("%.2f %%", 100*float64(bits.Documents)/float64(manyTexts()))
			ctx := w.as(n)
			for _, q := range questions {
				question, err := rules.Read(q.q)
				if err != nil {
					b.Fatal(err)
				}
				asked := find.Asked{Text: q.q, Limit: 25}
				_, ours := percentile(b, 25, func() error { _, err := w.App.Web.Find.Find(ctx, asked); return err })
				_, bare := percentile(b, 25, func() error { return plainly(b.Context(), db, question.TSQuery()) })
				row(fmt.Sprintf("find: %s, who sees %s | the bare statement (p95)", q.what, share), ms(ours), ms(bare), ours.Seconds()/bare.Seconds(), "1.5, or 25 ms")
				_, counted := percentile(b, 25, func() error { _, err := w.App.Web.Find.Count(ctx, asked); return err })
				alone(fmt.Sprintf("find: counts of %s, who sees %s (p95)", q.what, share), counted, "150 ms")
			}
			asked := find.Asked{Text: "twen", Typing: true, Limit: 6}
			_, typing := percentile(b, 25, func() error { _, err := w.App.Web.Find.Find(ctx, asked); return err })
			alone(fmt.Sprintf("find: while typing four letters, who sees %s (p95)", share), typing, "150 ms")
		}
		w.askers(b)
	}
}

// askers are eight people who ask at once.
func (w large) askers(b *testing.B) {
	var mu sync.Mutex
	var all []time.Duration
	var group sync.WaitGroup
	for i, n := range []int{1, 2001, 4, 2, 5, 10, 2, 4} {
		group.Go(func() {
			ctx := w.as(n)
			for _, q := range []string{"twentieth", "promille", "fortieth", "seldomly7", "twentieth promille", "HR-2007/000007"} {
				for range 10 {
					begun := time.Now()
					if _, err := w.App.Web.Find.Find(ctx, find.Asked{Text: q, Limit: 25}); err != nil {
						b.Error(i, err)
						return
					}
					mu.Lock()
					all = append(all, time.Since(begun))
					mu.Unlock()
				}
			}
		})
	}
	group.Wait()
	slices.Sort(all)
	alone("find: eight askers at once (p95)", all[len(all)*95/100], "")
}

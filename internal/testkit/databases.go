package testkit

import (
	"context"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"tabularis/internal/platform/postgres"
)

var (
	databases atomic.Int64
	spare     spares
)

// spares are databases that a test has left: emptying one costs a tenth of making one,
// which copies a thousand files.
type spares struct {
	mu   sync.Mutex
	urls []string
	// made is what the migrations leave: its tables, and the rows of those that are not empty.
	made map[string]string
}

// Database lends a migrated database, which nobody else has, and returns its address.
func Database(t testing.TB) string {
	t.Helper()
	url := spare.take()
	if url == "" {
		url = makeDatabase(t, "template_tabularis")
	}
	t.Cleanup(func() {
		if t.Failed() {
			return
		}
		if err := spare.giveBack(url); err != nil {
			t.Logf("a database is not used again: %v", err)
		}
	})
	return url
}

// EmptyDatabase makes a database with nothing in it.
func EmptyDatabase(t testing.TB) string {
	t.Helper()
	return makeDatabase(t, "template0")
}

func makeDatabase(t testing.TB, template string) string {
	t.Helper()
	name := fmt.Sprintf("test_%d", databases.Add(1))
	admin, err := postgres.Open(t.Context(), cluster.URL("postgres"), 1)
	if err != nil {
		t.Fatal(err)
	}
	defer admin.Close()
	if _, err := admin.ExecContext(t.Context(), `CREATE DATABASE `+name+` TEMPLATE `+template); err != nil {
		t.Fatal(err)
	}
	return cluster.URL(name)
}

func (s *spares) take() string {
	s.mu.Lock()
	defer s.mu.Unlock()
	if len(s.urls) == 0 {
		return ""
	}
	url := s.urls[len(s.urls)-1]
	s.urls = s.urls[:len(s.urls)-1]
	return url
}

// giveBack empties a database that stayed small; a large one is left as it is.
func (s *spares) giveBack(url string) error {
	ctx := context.Background()
	db, err := postgres.Open(ctx, url, 1)
	if err != nil {
		return err
	}
	defer db.Close()
	var bytes int64
	if err := db.GetContext(ctx, &bytes, `SELECT pg_database_size(current_database())`); err != nil {
		return err
	}
	if bytes > 24<<20 {
		return nil
	}
	tables, err := filled(ctx, db)
	if err != nil {
		return err
	}
	var b strings.Builder
	b.WriteString("BEGIN; SET LOCAL session_replication_role = replica;\n")
	for table := range tables {
		if rows, made := s.made[table]; !made {
			fmt.Fprintf(&b, "DROP TABLE %s;\n", table)
		} else if rows != tables[table] {
			fmt.Fprintf(&b, "DELETE FROM %[1]s; INSERT INTO %[1]s OVERRIDING SYSTEM VALUE SELECT * FROM json_populate_recordset(NULL::%[1]s, $rows$%[2]s$rows$);\n", table, rows)
		}
	}
	b.WriteString(`DO $$ BEGIN PERFORM setval(s.oid, q.seqstart, false) FROM pg_class s JOIN pg_sequence q ON q.seqrelid = s.oid WHERE s.relname <> 'goose_db_version_id_seq'; END $$; COMMIT`)
	if _, err := db.ExecContext(ctx, b.String()); err != nil {
		return err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	s.urls = append(s.urls, url)
	return nil
}

// remember notes what the migrations leave.
func (s *spares) remember(ctx context.Context, db *postgres.DB) (err error) {
	s.made, err = filled(ctx, db)
	return err
}

// filled are the tables of a database, each with its rows as JSON; tables of many rows,
// which only tests fill, are told from others by how many.
func filled(ctx context.Context, db *postgres.DB) (map[string]string, error) {
	var tables []string
	if err := db.SelectContext(ctx, &tables, `SELECT relname FROM pg_class WHERE relkind = 'r' AND relnamespace = 'public'::regnamespace ORDER BY relname`); err != nil {
		return nil, err
	}
	var each []string
	for _, t := range tables {
		each = append(each, fmt.Sprintf(`SELECT '%[1]s' AS name, (SELECT coalesce(CASE WHEN count(*) > 64 THEN count(*)::text ELSE json_agg(t)::text END, '[]') FROM (SELECT * FROM %[1]s LIMIT 65) t) AS rows`, t))
	}
	var found []struct{ Name, Rows string }
	if err := db.SelectContext(ctx, &found, strings.Join(each, " UNION ALL ")); err != nil {
		return nil, err
	}
	rows := map[string]string{}
	for _, f := range found {
		rows[f.Name] = f.Rows
	}
	return rows, nil
}

package testkit

import (
	"context"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"tabularis/internal/platform/postgres"
	"tabularis/internal/server"
)

var (
	databases atomic.Int64
	spare     spares
)

// lent is a database that one test has for itself, with connections to it: they know its
// tables and their statements, which costs more than what most tests then ask.
type lent struct {
	url  string
	open []*server.Connections
}

// spares are databases that tests have left: emptying one costs a tenth of making one,
// which copies a thousand files.
type spares struct {
	mu  sync.Mutex
	all []*lent
	// made is what the migrations leave: tables with their rows, as JSON.
	made map[string]string
}

// Database lends a migrated database, which nobody else has, and returns its address.
func Database(t testing.TB) string {
	t.Helper()
	return lend(t).url
}

func lend(t testing.TB) *lent {
	t.Helper()
	l := spare.take()
	if l == nil {
		l = &lent{url: makeDatabase(t, "template_tabularis")}
	}
	t.Cleanup(func() {
		if !t.Failed() {
			again, err := spare.emptied(l)
			if again {
				return
			}
			if err != nil {
				t.Logf("a database is not used again: %v", err)
			}
		}
		for _, c := range l.open {
			c.Close()
		}
	})
	return l
}

// connections are those for the nth server on the database.
func (l *lent) connections(n int) (*server.Connections, error) {
	for len(l.open) <= n {
		c, err := server.Connect(context.Background(), l.url)
		if err != nil {
			return nil, err
		}
		l.open = append(l.open, c)
	}
	return l.open[n], nil
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

func (s *spares) take() *lent {
	s.mu.Lock()
	defer s.mu.Unlock()
	if len(s.all) == 0 {
		return nil
	}
	l := s.all[len(s.all)-1]
	s.all = s.all[:len(s.all)-1]
	return l
}

// emptied makes a database like new for whoever is next; one that grew large is not.
func (s *spares) emptied(l *lent) (bool, error) {
	ctx := context.Background()
	c, err := l.connections(0)
	if err != nil {
		return false, err
	}
	db := c.DB
	var bytes int64
	if err := db.GetContext(ctx, &bytes, `SELECT pg_database_size(current_database())`); err != nil {
		return false, err
	}
	if bytes > 24<<20 {
		return false, nil
	}
	used, err := s.used(ctx, db)
	if err != nil {
		return false, err
	}
	var b strings.Builder
	b.WriteString("BEGIN; SET LOCAL session_replication_role = replica; SET LOCAL lock_timeout = '10s';\n")
	for _, table := range used {
		if rows, made := s.made[table]; made {
			fmt.Fprintf(&b, "DELETE FROM %[1]s; INSERT INTO %[1]s OVERRIDING SYSTEM VALUE SELECT * FROM json_populate_recordset(NULL::%[1]s, $rows$%[2]s$rows$);\n", table, rows)
		} else {
			fmt.Fprintf(&b, "DROP TABLE %s;\n", table)
		}
	}
	b.WriteString(`DO $$ BEGIN PERFORM setval(s.oid, q.seqstart, false) FROM pg_class s JOIN pg_sequence q ON q.seqrelid = s.oid WHERE s.relname <> 'goose_db_version_id_seq'; END $$; COMMIT`)
	if _, err := db.ExecContext(ctx, b.String()); err != nil {
		return false, err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	s.all = append(s.all, l)
	return true, nil
}

// remember notes what the migrations leave.
func (s *spares) remember(ctx context.Context, db *postgres.DB) error {
	var tables []string
	if err := db.SelectContext(ctx, &tables, `SELECT relname FROM pg_class WHERE relkind = 'r' AND relnamespace = 'public'::regnamespace`); err != nil {
		return err
	}
	s.made = map[string]string{}
	for _, table := range tables {
		var rows string
		if err := db.GetContext(ctx, &rows, `SELECT coalesce(json_agg(t), '[]') FROM `+table+` t`); err != nil {
			return err
		}
		s.made[table] = rows
	}
	return nil
}

// used are the tables in which something stands, or stood, or should stand: a test may have truncated one.
func (s *spares) used(ctx context.Context, db *postgres.DB) ([]string, error) {
	var tables, filled []string
	for table, rows := range s.made {
		if rows != "[]" {
			filled = append(filled, table)
		}
	}
	err := db.SelectContext(ctx, &tables, `SELECT relname FROM pg_class WHERE relkind = 'r' AND relnamespace = 'public'::regnamespace AND relname <> ALL ('{goose_db_version,river_migration}')
		AND (relispartition OR pg_relation_size(oid) > 0 OR relname = ANY($1))`, filled)
	return tables, err
}

package postgres_test

import (
	"compress/gzip"
	"crypto/sha256"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"

	guard "tabularis/internal/app/access"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

// What has landed somewhere is never changed: a database that was migrated by it
// would be another one than it says. A change is a migration of its own.
func TestLandedMigrationsAreFrozen(t *testing.T) {
	t.Parallel()
	raw, err := os.ReadFile("migrations/landed.sha256")
	if err != nil {
		t.Fatal(err)
	}
	landed := map[string]string{}
	var last string
	for _, line := range strings.Split(strings.TrimSpace(string(raw)), "\n") {
		sum, name, ok := strings.Cut(line, "  ")
		if !ok {
			t.Fatalf("%q", line)
		}
		landed[name], last = sum, max(last, name)
	}
	files, err := filepath.Glob("migrations/*.sql")
	if err != nil || len(files) < len(landed) {
		t.Fatalf("%d files, %d landed, %v", len(files), len(landed), err)
	}
	for _, file := range files {
		name := filepath.Base(file)
		content, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		switch sum, ok := landed[name]; {
		case ok && sum != fmt.Sprintf("%x", sha256.Sum256(content)):
			t.Errorf("%s has landed and was changed", name)
		case !ok && name < last:
			t.Errorf("%s comes before %s, which has landed", name, last)
		}
		delete(landed, name)
	}
	for name := range landed {
		t.Errorf("%s has landed and is gone", name)
	}
}

func open(t *testing.T, url string) *postgres.DB {
	t.Helper()
	db, err := postgres.Open(t.Context(), url, 4)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(db.Close)
	return db
}

// filled is a database in an older shape with everything in it that a practice had
// by then.
func filled(t *testing.T, shape int64) *postgres.DB {
	t.Helper()
	db := open(t, testkit.EmptyDatabase(t))
	if err := postgres.MigrateTo(t.Context(), db, shape); err != nil {
		t.Fatal(err)
	}
	packed, err := os.Open(fmt.Sprintf("testdata/filled_%04d.sql.gz", shape))
	if err != nil {
		t.Fatal(err)
	}
	defer packed.Close()
	unpacked, err := gzip.NewReader(packed)
	if err != nil {
		t.Fatal(err)
	}
	rows, err := io.ReadAll(unpacked)
	if err != nil {
		t.Fatal(err)
	}
	conn, err := db.Pool.Acquire(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	// What was read in leaves its settings on the connection.
	raw := conn.Hijack()
	defer raw.Close(t.Context())
	for _, statements := range []string{`TRUNCATE practice, room_used, access_stamps`, string(rows)} {
		if _, err := raw.PgConn().Exec(t.Context(), statements).ReadAll(); err != nil {
			t.Fatal(err)
		}
	}
	return db
}

// A filled older database comes to the newest shape with nothing lost, and with what
// it says still true.
func TestAFilledDatabaseIsMigrated(t *testing.T) {
	t.Parallel()
	db := filled(t, 10)
	count := func(query string) (n int) {
		t.Helper()
		if err := db.GetContext(t.Context(), &n, query); err != nil {
			t.Fatalf("%s: %v", query, err)
		}
		return n
	}
	const rows = `SELECT (SELECT count(*) FROM items) + (SELECT count(*) FROM versions) + (SELECT count(*) FROM events) + (SELECT count(*) FROM links) + (SELECT count(*) FROM grants) + (SELECT count(*) FROM blobs)`
	before, received := count(rows), count(`SELECT count(*) FROM link_received`)
	if before < 500 || received == 0 {
		t.Fatalf("%d rows and %d received are too few to say anything", before, received)
	}
	if err := postgres.Fits(t.Context(), db); !errors.Is(err, postgres.ErrOldShape) {
		t.Errorf("the old shape fits: %v", err)
	}
	if err := postgres.Migrate(t.Context(), db); err != nil {
		t.Fatal(err)
	}
	if err := postgres.Fits(t.Context(), db); err != nil {
		t.Error(err)
	}
	if after := count(rows); after != before {
		t.Errorf("%d rows before, %d after", before, after)
	}
	// Whoever gave a link out is no longer said to have made what came in through it.
	if n := count(`SELECT count(*) FROM versions v JOIN link_received r ON r.item_id = v.item_id WHERE v.number = 1 AND v.actor_kind = 'visitor' AND v.actor_id IS NULL AND v.actor_link = r.link_id`); n != received {
		t.Errorf("%d of %d received are visitors'", n, received)
	}
	if n := count(`SELECT count(*) FROM events WHERE outside <> (actor_kind = 'visitor') OR actor_kind = 'person' AND person_id IS NULL`); n != 0 {
		t.Errorf("%d events have the wrong actor", n)
	}
	wrong, err := guard.WrongScopes(t.Context(), db)
	if err != nil || len(wrong) > 0 {
		t.Errorf("wrong scopes: %v %v", wrong, err)
	}
	items, err := tree.WrongItems(t.Context(), db)
	if err != nil || len(items) > 0 {
		t.Errorf("wrong items: %v %v", items, err)
	}
}

// However many begin to migrate at once, it is done once, and all find it done.
func TestManyMigrateAtOnce(t *testing.T) {
	t.Parallel()
	url := testkit.EmptyDatabase(t)
	failed := make([]error, 5)
	var all sync.WaitGroup
	for i := range failed {
		all.Go(func() {
			db, err := postgres.Open(t.Context(), url, 4)
			if err != nil {
				failed[i] = err
				return
			}
			defer db.Close()
			failed[i] = postgres.Migrate(t.Context(), db)
		})
	}
	all.Wait()
	if i := slices.IndexFunc(failed, func(err error) bool { return err != nil }); i >= 0 {
		t.Errorf("%d: %v", i, failed[i])
	}
	if err := postgres.Fits(t.Context(), open(t, url)); err != nil {
		t.Error(err)
	}
}

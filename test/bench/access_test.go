package bench_test

import (
	"context"
	"crypto/md5"
	"fmt"
	"math/rand/v2"
	"slices"
	"sort"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/activity"
	"tabularis/internal/app/dossiers"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/sharing"
)

// world makes a large practice: 400 dossiers, 60,000 folders up to 12 deep,
// 940,000 documents, some folders with 100,000 of them, 2,000 people, 300 groups
// nested four deep, 50,000 grants, 2,000 closed items.
var world = []string{
	// References are not checked row by row while it is made; WrongScopes looks at
	// the whole afterwards.
	`SET session_replication_role = replica`, `SET synchronous_commit = off`,
	`INSERT INTO people (id, email, email_key, name, standing, created_at) SELECT md5('p' || n)::uuid, 'p' || n || '@halyard-rook.example', 'p' || n || '@halyard-rook.example', 'Person ' || n, CASE WHEN n % 10 = 0 THEN 'guest' ELSE 'colleague' END, now()
		FROM generate_series(1, 2000) n`,
	`INSERT INTO groups (id, name, name_key, created_at) SELECT md5('g' || n)::uuid, 'Group ' || n, 'group ' || n, now()
		FROM generate_series(1, 300) n`,
	`INSERT INTO group_members (group_id, person_id, created_at) SELECT md5('g' || (1 + n % 300))::uuid, md5('p' || (1 + (n * 7919) % 2000))::uuid, now()
		FROM generate_series(1, 6000) n ON CONFLICT DO NOTHING`,
	`INSERT INTO group_members (group_id, subgroup_id, created_at) SELECT md5('g' || n)::uuid, md5('g' || (n + 75))::uuid, now()
		FROM generate_series(1, 225) n`,
	`INSERT INTO dossiers (id, code, name, kind, created_by, created_at, last_number) SELECT md5('d' || n)::uuid, 'BIG-' || n, 'Dossier ' || n, 'internal', md5('p1')::uuid, now(), 200000
		FROM generate_series(1, 400) n`,
	`INSERT INTO items (id, dossier_id, scope_id, parent_id, kind, name, name_key, created_by, created_at) SELECT md5('d' || n)::uuid, md5('d' || n)::uuid, md5('d' || n)::uuid, NULL, 'folder', 'Dossier ' || n, 'dossier ' || n, md5('p1')::uuid, now()
		FROM generate_series(1, 400) n`,
	`CREATE TEMP TABLE places AS SELECT d, k, md5('f' || d || '.' || k)::uuid AS id,
		CASE WHEN k = 1 THEN md5('d' || d)::uuid WHEN d = 4 THEN md5('f4.' || (1 + k % 11))::uuid WHEN k <= 12 THEN md5('f' || d || '.' || (k - 1))::uuid ELSE md5('f' || d || '.' || (1 + (k * 7919) % (k - 1)))::uuid END AS parent
		FROM generate_series(1, 400) d, generate_series(1, CASE WHEN d = 4 THEN 8000 ELSE 130 END) k`,
	`INSERT INTO items (id, dossier_id, scope_id, parent_id, kind, name, name_key, position, created_by, created_at) SELECT id, md5('d' || d)::uuid, id, parent, 'folder', 'Folder ' || k, 'folder ' || k, k, md5('p1')::uuid, now()
		FROM places ORDER BY d, k`,
	`INSERT INTO items (id, dossier_id, scope_id, parent_id, kind, name, name_key, number, version, sha256, size, media_type, last_event_id, created_by, created_at)
		SELECT md5('i' || n)::uuid, md5('d' || d)::uuid, f, f, 'document', 'Paper ' || n, 'paper ' || n, n, 1, (SELECT sha256 FROM blobs
		LIMIT 1), n % 1000, 'text/plain', 0, md5('p1')::uuid, now() - n * interval '1 second'
		FROM (SELECT n, CASE WHEN n <= 300000 THEN 1 + n / 100001 ELSE 5 + (n * 31) % 396 END AS d, CASE WHEN n <= 300000 THEN md5('f' || (1 + n / 100001) || '.1')::uuid ELSE md5('f' || (5 + (n * 31) % 396) || '.' || (1 + (n * 17) % 130))::uuid END AS f
		FROM generate_series(1, 940000) n) x`,
	`CREATE TEMP TABLE chosen AS SELECT id, ('x' || left(md5(id::text), 6))::bit(24)::int % 30 = 0 AND d <> 4 AS closed FROM places WHERE k > 1
		AND (('x' || left(md5(id::text), 6))::bit(24)::int % 3 = 0 OR ('x' || left(md5(id::text), 6))::bit(24)::int % 30 = 0) AND d <> 4`,
	`CREATE TEMP TABLE walk AS WITH RECURSIVE w AS (
		SELECT id, parent_id, dossier_id, id AS root, NULL::uuid AS above, id AS zone FROM items WHERE parent_id IS NULL AND id <> (SELECT id
		FROM dossiers WHERE code = 'MER-24')
		UNION ALL SELECT i.id, i.parent_id, i.dossier_id, CASE WHEN c.id IS NOT NULL THEN i.id ELSE w.root END, CASE WHEN c.id IS NOT NULL THEN w.root ELSE w.above END, CASE WHEN c.closed THEN i.id ELSE w.zone END
		FROM w JOIN items i ON i.parent_id = w.id AND i.kind = 'folder' LEFT JOIN chosen c ON c.id = i.id) SELECT * FROM w`,
	`INSERT INTO access_roots (id, parent_root_id, dossier_id, closed) SELECT w.id, w.above, w.dossier_id, coalesce(c.closed, false) FROM walk w LEFT
		JOIN chosen c ON c.id = w.id WHERE w.root = w.id`,
	`INSERT INTO scopes (id, parent_id, dossier_id, root_id, zone_id, is_folder) SELECT id, parent_id, dossier_id, root, zone, true FROM walk`,
	`CREATE TEMP TABLE singles AS SELECT i.id, i.parent_id, i.dossier_id, s.root_id, s.zone_id FROM items i JOIN scopes s ON s.id = i.parent_id
		WHERE i.kind = 'document' AND i.number % 41 = 7 AND i.name LIKE 'Paper %'`,
	`INSERT INTO access_roots (id, parent_root_id, dossier_id) SELECT id, root_id, dossier_id FROM singles`,
	`INSERT INTO scopes (id, parent_id, dossier_id, root_id, zone_id, is_folder) SELECT id, parent_id, dossier_id, id, zone_id, false FROM singles`,
	`UPDATE items SET scope_id = items.id FROM singles WHERE items.id = singles.id`,
	`INSERT INTO access_stamps (scope) SELECT id FROM dossiers ON CONFLICT DO NOTHING`,
	`INSERT INTO grants (id, item_id, subject_kind, subject_id, level, created_by, created_at) SELECT md5('t' || n)::uuid, md5('d' || n)::uuid, 0, md5('p1')::uuid, 'manage', NULL, now()
		FROM generate_series(1, 400) n`,
	`INSERT INTO grants (id, item_id, subject_kind, subject_id, level, created_by, created_at)
		SELECT gen_random_uuid(), id, kind, CASE kind WHEN 0 THEN md5('p' || (10 + (h * 7) % 1990))::uuid WHEN 1 THEN md5('g' || (1 + h % 300))::uuid ELSE '00000000-0000-0000-0000-000000000000'::uuid END, (ARRAY['view', 'remark', 'edit', 'look'])[1 + h % 4], md5('p1')::uuid, now() - h * interval '1 second'
		FROM (SELECT r.id, h, CASE WHEN h % 100 < 64 THEN 0 WHEN h % 100 < 99 THEN 1 ELSE 2 END AS kind FROM access_roots r CROSS
		JOIN generate_series(1, 2) k, LATERAL (SELECT ('x' || left(md5(r.id::text || k), 6))::bit(24)::int AS h) x WHERE r.parent_root_id IS NOT NULL
		ORDER BY k, md5(r.id::text) LIMIT 49600) y ON CONFLICT DO NOTHING`,
	`UPDATE items f SET n_documents = c.n, n_bytes = c.size FROM (SELECT parent_id, count(*) AS n, sum(size) AS size FROM items
		WHERE kind = 'document' GROUP BY 1) c WHERE c.parent_id = f.id`,
	`UPDATE scopes s SET n_documents = c.n, n_bytes = c.size FROM (SELECT scope_id, count(*) AS n, sum(size) AS size FROM items
		WHERE kind = 'document' GROUP BY 1) c WHERE c.scope_id = s.id`,
	`INSERT INTO events (at, kind, person_id, dossier_id, item_id, data) SELECT created_at, 'document.added', created_by, dossier_id, id, '{}'
		FROM items WHERE kind = 'document' AND name LIKE 'Paper %' ORDER BY md5(id::text)`,
	`INSERT INTO event_scopes (event_id, scope_id, kind, person_id, outside) SELECT e.id, i.scope_id, e.kind, e.person_id, e.outside FROM events e JOIN items i ON i.id = e.item_id ON CONFLICT DO NOTHING`,
	`UPDATE items i SET last_event_id = e.id, last_at = e.at, last_kind = e.kind, last_by = 'Person 1' FROM events e WHERE e.item_id = i.id`,
	`UPDATE scopes s SET last_event_id = e.last FROM (SELECT scope_id, max(event_id) AS last FROM event_scopes GROUP BY 1) e WHERE e.scope_id = s.id`,
	`RESET session_replication_role`, `RESET synchronous_commit`, `VACUUM ANALYZE`,
}

// readers are people of the large practice who see all, some and hardly
// anything of it.
var readers = []string{
	// Somebody in no group, who sees a third of everything in the three largest dossiers.
	`INSERT INTO people (id, email, email_key, name, standing, created_at)
		VALUES (md5('p2001')::uuid, 'p2001@halyard-rook.example', 'p2001@halyard-rook.example', 'Person 2001', 'guest', now())`,
	`INSERT INTO grants (id, item_id, subject_kind, subject_id, level, created_at) SELECT gen_random_uuid(), md5('d' || n)::uuid, 0, md5('p2001')::uuid, 'view', now()
		FROM generate_series(1, 3) n`,
	// The ordinary reader: about a fiftieth, and the three large folders.
	`INSERT INTO grants (id, item_id, subject_kind, subject_id, level, created_at) SELECT gen_random_uuid(), md5('d' || n)::uuid, 0, md5('p2')::uuid, 'view', now()
		FROM generate_series(100, 108) n`,
	`INSERT INTO grants (id, item_id, subject_kind, subject_id, level, created_at) SELECT gen_random_uuid(), md5('d' || n)::uuid, 0, md5('p4')::uuid, 'view', now()
		FROM generate_series(100, 224) n`,
	`INSERT INTO grants (id, item_id, subject_kind, subject_id, level, created_at) SELECT gen_random_uuid(), md5('d1')::uuid, 0, md5('p3')::uuid, 'view', now()`,
	`INSERT INTO grants (id, item_id, subject_kind, subject_id, level, created_at) SELECT gen_random_uuid(), id, 0, md5('p10')::uuid, 'view', now()
		FROM singles WHERE parent_id = md5('f1.1')::uuid ORDER BY id LIMIT 1`,
	`INSERT INTO grants (id, item_id, subject_kind, subject_id, level, created_at) SELECT gen_random_uuid(), md5('d200')::uuid, 0, md5('p5')::uuid, 'view', now()`,
}

// id is the one that the statements above give to a name.
func id(name string) uuid.UUID { return uuid.UUID(md5.Sum([]byte(name))) }

func containsAny(s string, parts ...string) bool {
	return slices.ContainsFunc(parts, func(p string) bool { return strings.Contains(s, p) })
}

// large is a practice with the world in it.
type large struct {
	practice
	as func(n int) context.Context
}

func newLarge(b *testing.B) large {
	p := newPractice(b)
	p.c.Upload(p.top, "", "first.txt", []byte("content"))
	conn, err := p.App.DB.Connx(b.Context())
	if err != nil {
		b.Fatal(err)
	}
	defer conn.Close()
	// One connection, for the temporary tables; constraints are checked as always.
	for _, q := range append(world, readers...) {
		if _, err := conn.ExecContext(b.Context(), q); err != nil {
			b.Fatalf("%v in %.120s", err, q)
		}
	}
	if err := guard.Bump(b.Context(), p.App.DB, guard.PeopleStamp); err != nil {
		b.Fatal(err)
	}
	if wrong, err := guard.WrongScopes(b.Context(), p.App.DB); err != nil || len(wrong) > 0 {
		b.Fatalf("%d wrong scopes, %v", len(wrong), err)
	}
	return large{p, func(n int) context.Context {
		person, err := accounts.PersonByID(b.Context(), p.App.DB, id(fmt.Sprint("p", n)))
		if err != nil {
			b.Fatal(err)
		}
		return act.As(context.Background(), act.Actor{Person: &person, Language: "en"})
	}}
}

// warm runs something until it is warm, and returns the median of further runs.
func warm(b *testing.B, fn func() error) time.Duration {
	b.Helper()
	var all []time.Duration
	for i := range 25 {
		begun := time.Now()
		if err := fn(); err != nil {
			b.Fatal(err)
		}
		if i >= 4 {
			all = append(all, time.Since(begun))
		}
	}
	sort.Slice(all, func(i, j int) bool { return all[i] < all[j] })
	return all[len(all)/2]
}

// must fails the benchmark where something fails.
func must(b *testing.B, fn func() error) func() {
	return func() {
		if err := fn(); err != nil {
			b.Fatal(err)
		}
	}
}

func ms(d time.Duration) string { return fmt.Sprintf("%.2f ms", float64(d.Microseconds())/1000) }

// alone adds a row that stands beside nothing.
func alone(what string, d time.Duration, wanted string) {
	line(fmt.Sprintf("%-64s %12s %12s %8s  %s", what, ms(d), "", "", wanted))
}

func BenchmarkAccess(b *testing.B) {
	w := newLarge(b)
	db, ctx := w.App.DB, b.Context()
	folder := id("f1.1")
	// The plain page goes by its index, as the application's does: now and then the
	// planner would sort a hundred thousand rows instead, which compares with nothing.
	plain, err := db.Connx(ctx)
	if err != nil {
		b.Fatal(err)
	}
	defer plain.Close()
	if _, err := plain.ExecContext(ctx, `SET enable_sort = off`); err != nil {
		b.Fatal(err)
	}
	bare := func() error {
		var all []items.Item
		return plain.SelectContext(ctx, &all, `SELECT * FROM items WHERE parent_id = $1 AND kind = 'document' AND deleted_at IS NULL
			ORDER BY number, id LIMIT 200`, folder)
	}
	register := func(n int) func() error {
		as := w.as(n)
		return func() error {
			_, err := w.App.Web.Dossiers.Register(as, folder, dossiers.Seen{}, byNumber, "", 200)
			return err
		}
	}
	for _, r := range []struct {
		who string
		n   int
	}{{"an ordinary person", 3}, {"an all-seeing one", 1}, {"a guest with one file", 10}} {
		d, beside := median(b, 30, must(b, register(r.n)), must(b, bare))
		row("register of a folder of 100,000 for "+r.who+" | bare page", ms(d), ms(beside), d.Seconds()/beside.Seconds(), "at most 1.5")
	}
	counting := func() error {
		var n int
		return db.GetContext(ctx, &n, `SELECT count(*) FROM items WHERE kind = 'document' AND deleted_at IS NULL`)
	}
	for _, r := range []struct {
		who string
		n   int
	}{{"100 %", 1}, {"18 % in a hundred zones and 1,500 single roots", 4}, {"a third in a few zones", 2001}} {
		readable, _, err := w.App.Access.Of(ctx, id(fmt.Sprint("p", r.n)), w.Now())
		if err != nil {
			b.Fatal(err)
		}
		d, beside := median(b, 15, must(b, func() error { _, err := guard.CountReadable(ctx, db, readable); return err }), must(b, counting))
		row("count of what may be read: "+r.who+" | counting rows", ms(d), ms(beside), d.Seconds()/beside.Seconds(), "at most 0.3")
	}
	all := 0
	if err := db.GetContext(ctx, &all, `SELECT sum(n_documents) FROM scopes`); err != nil {
		b.Fatal(err)
	}
	for _, n := range []int{1, 2001, 4, 2, 5, 10} {
		readable, bits, err := w.App.Access.Of(ctx, id(fmt.Sprint("p", n)), w.Now())
		if err != nil {
			b.Fatal(err)
		}
		seen, err := guard.CountReadable(ctx, db, readable)
		if err != nil {
			b.Fatal(err)
		}
		alone(fmt.Sprintf("newest 50 events of %.2f %%, with names", 100*float64(seen)/float64(all)), warm(b, func() error {
			all, err := activity.Newest(ctx, db, activity.EventFilter{Limit: 50}, readable, bits)
			if err == nil && len(all) == 0 {
				err = fmt.Errorf("nothing is shown")
			}
			return err
		}), "")
	}
	many := w.as(20)
	alone("given to me, newest page, with names", warm(b, func() error { _, err := w.App.Web.Sharing.ToMe(many, "", false); return err }), "")
	w.changes(b)
	w.questions(b)
}

// changes measures giving, closing and moving over 100,000 items.
func (w large) changes(b *testing.B) {
	manager, folder := w.as(1), id("f2.1")
	once := func(fn func() error) time.Duration {
		begun := time.Now()
		if err := fn(); err != nil {
			b.Fatal(err)
		}
		return time.Since(begun)
	}
	give := func(item uuid.UUID) func() error {
		return func() error {
			return w.App.Web.Sharing.Give(manager, sharing.Wish{Items: []uuid.UUID{item}, To: []sharing.Recipient{{ID: id("p7")}}, Terms: sharing.Terms{Level: access.LevelView}})
		}
	}
	alone("give access to a folder of 100,000", once(give(folder)), "under 300 ms")
	over := once(give(id("f4.1")))
	// Beside it the same rows are written in bare SQL, found beforehand, there and back.
	bare := once(w.rewrite(b, id("f4.1"), "root_id", id("d4")))
	bare = (bare + once(w.rewrite(b, id("d4"), "root_id", id("f4.1")))) / 2
	row("give access over 8,000 folders | writing 8,000 rows", ms(over), ms(bare), over.Seconds()/bare.Seconds(), "")
	alone("close a folder of 100,000", once(func() error { return w.App.Web.Sharing.SetClosed(manager, folder, true) }), "under 300 ms")
	alone("open it again", once(func() error { return w.App.Web.Sharing.SetClosed(manager, folder, false) }), "under 300 ms")
	beside, err := w.App.Web.Dossiers.MakeFolder(manager, id("d3"), "Elsewhere")
	if err != nil {
		b.Fatal(err)
	}
	move := func(to uuid.UUID) func() error {
		return func() error {
			return w.App.Web.Acts.Do(manager, func(tx *act.Tx) error {
				item, err := w.App.Access.Item(manager, tx, id("f3.1"), 0, tx.Now)
				if err != nil {
					return err
				}
				into, err := w.App.Access.Item(manager, tx, to, 0, tx.Now)
				if err != nil {
					return err
				}
				return w.App.Items.Move(manager, tx, item, into)
			})
		}
	}
	alone("move a folder of 100,000 within its dossier", once(move(beside.ID)), "under 300 ms")
	alone("move it to another dossier, with 100,000 new register numbers", once(move(id("f5.2"))), "")
}

// rewrite sets a column of all folders' scopes of a root in bare SQL.
func (w large) rewrite(b *testing.B, root uuid.UUID, column string, to uuid.UUID) func() error {
	ctx := b.Context()
	var rows []string
	if err := w.App.DB.SelectContext(ctx, &rows, `SELECT ctid::text FROM scopes WHERE root_id = $1 AND id <> $2`, root, id("d4")); err != nil {
		b.Fatal(err)
	}
	return func() error {
		_, err := w.App.DB.ExecContext(ctx, `UPDATE scopes SET `+column+` = $1 WHERE ctid = ANY($2::tid[])`, to, rows)
		return err
	}
}

// questions measures why, reach and what if: by the rules alone, and as they are
// answered, with names and sentences.
func (w large) questions(b *testing.B) {
	ctx, manager := b.Context(), w.as(1)
	s, folder, group := w.App.Web.Sharing, id("f1.1"), id("g1")
	f, c, err := w.App.Access.Dossier(ctx, w.App.DB, id("d1"))
	if err != nil {
		b.Fatal(err)
	}
	sight, err := guard.SightOf(ctx, w.App.DB, folder, w.Now())
	if err != nil {
		b.Fatal(err)
	}
	root := access.ID(sight.Root)
	alone("why, by the rules alone", warm(b, func() error { f.Explain(root, access.ID(id("p3")), c, w.Now()); return nil }), "")
	alone("why", warm(b, func() error { _, err := s.Why(manager, folder, id("p3")); return err }), "")
	alone("who can open a folder, by the rules alone", warm(b, func() error { f.Reach(root, c, w.Now()); return nil }), "")
	alone("who can open a folder", warm(b, func() error { _, err := s.Reach(manager, folder); return err }), "")
	alone("what if a folder of 100,000 were closed", warm(b, func() error { _, err := s.WhatIf(manager, sharing.What{Close: &folder}); return err }), "")
	alone("likely people", warm(b, func() error { _, err := s.Suggest(manager, []uuid.UUID{folder}, "per"); return err }), "")
	if _, err := w.App.DB.ExecContext(ctx, `UPDATE people SET standing = 'administrator' WHERE id = $1`, id("p1")); err != nil {
		b.Fatal(err)
	}
	admin := w.as(1)
	alone("what if a group were removed", warm(b, func() error { _, err := s.WhatIf(admin, sharing.What{RemoveGroup: &group}); return err }), "")
	alone("the page of 2,000 people, with what each can open", warm(b, func() error { _, err := w.App.Web.People.Directory(admin); return err }), "")
	alone("today", warm(b, func() error { _, err := w.App.Web.Today.Today(manager); return err }), "")
}

// BenchmarkRevocation counts lists that a second process made after a
// revocation was answered, and that still showed what was gone.
func BenchmarkRevocation(b *testing.B) {
	b.Setenv("TABULARIS_PROCESSES", "2")
	p := newPractice(b)
	p.c.Upload(p.top, "", "first.txt", []byte("content"))
	other := p.SignIn("tomasz")
	var wrong, tries atomic.Int64
	var wg sync.WaitGroup
	for range 150 {
		p.Give("ines", p.top, "tomasz", access.LevelView)
		other.Want(200, "GET", "/api/dossiers/MER-24", nil)
		reach, err := p.App.Web.Sharing.Reach(p.As("ines"), p.top)
		if err != nil {
			b.Fatal(err)
		}
		for _, e := range reach.Entries {
			if e.Subject == "Tomasz Rehn" {
				p.c.Want(204, "DELETE", "/api/access/"+e.ID.String(), nil)
			}
		}
		for range 6 {
			wg.Go(func() {
				path := []string{"/api/dossiers", "/api/find?q=first", "/api/folders/" + p.top.String() + "/register", "/api/activity"}[rand.IntN(4)]
				a := other.Do("GET", path, nil)
				tries.Add(1)
				if a.Status == 200 && string(a.Body) != "" && containsAny(string(a.Body), "first.txt", "MER-24") {
					wrong.Add(1)
				}
			})
		}
		wg.Wait()
	}
	line(fmt.Sprintf("%-64s %12s %12s %8s  %s", "lists by two processes after a revocation, showing what is gone", fmt.Sprintf("%d of %d", wrong.Load(), tries.Load()), "", "", "none"))
}

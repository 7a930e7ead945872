package find

import (
	"context"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/decisions"
	"tabularis/internal/app/particulars"
	"tabularis/internal/platform/postgres"
)

// search is a question as it is put to the database: its words, what it is narrowed down to,
// and what whoever asks may see.
//
// The statement goes from window to window, the newest first, and stops when it has enough.
// It is written so that there is one way to run it: estimates of how often a word stands
// somewhere are never right enough. "seq + 0" keeps it from walking the windows' keys, fences
// (OFFSET 0, MATERIALIZED) from joining before it has found something, and it is prepared with
// a generic plan.
type search struct {
	words  string
	filter filter
	bits   *guard.Bits
	sum    int64
	// before is before which number it stands, where a list goes on.
	before int64
	// since leaves out what stands up to a number.
	since int64
}

// filter narrows a question down.
type filter struct {
	// Dossiers are those in which one looks; nil are all.
	Dossiers []uuid.UUID
	Kinds    []string
	// Tag is one that it bears.
	Tag uuid.UUID
	// Where is a particular in which Value stands.
	Where uuid.UUID
	Value string
	// State is what has become of it.
	State string
	// Linked says that it is one of the Documents, or in one of the Scopes.
	Linked    bool
	Documents []uuid.UUID
	Scopes    []int
	Person    uuid.UUID
	// NotBy leaves out what somebody brought.
	NotBy uuid.UUID
	Since time.Time
	Until time.Time
	Least int64
	Most  int64
	// Earlier says that versions are meant, too, that count no longer.
	Earlier bool
}

type arguments []any

func (a *arguments) add(v any) string {
	*a = append(*a, v)
	return "$" + strconv.Itoa(len(*a))
}

// conditions are those under which a text t is found.
func (s search) conditions(a *arguments) string {
	all := []string{"NOT t.gone"}
	add := func(c string) { all = append(all, c) }
	if s.words != "" {
		add("t.words @@ " + a.add(s.words) + "::tsquery")
	}
	f := s.filter
	if !f.Earlier {
		add("t.counts")
	}
	if !s.bits.All && !s.few() {
		set := a.add(s.bits.Set)
		// Beyond the last bit there is nothing to see; get_bit would be an error.
		add("CASE WHEN t.scope_no < " + a.add(8*len(s.bits.Set)) + "::int THEN get_bit(" + set + "::bytea, t.scope_no) = 1 ELSE false END")
	}
	if f.Dossiers != nil {
		add("t.dossier_id = ANY(" + a.add(postgres.IDs(f.Dossiers)) + "::uuid[])")
	}
	if len(f.Kinds) > 0 {
		add("t.kind = ANY(" + a.add(f.Kinds) + "::text[])")
	}
	if f.Person != uuid.Nil {
		add("t.by_id = " + a.add(f.Person))
	}
	if f.NotBy != uuid.Nil {
		add("t.by_id IS DISTINCT FROM " + a.add(f.NotBy) + "::uuid")
	}
	if !f.Since.IsZero() {
		add("t.at >= " + a.add(f.Since))
	}
	if !f.Until.IsZero() {
		add("t.at < " + a.add(f.Until))
	}
	if f.Least > 0 {
		add("t.size >= " + a.add(f.Least))
	}
	if f.Most > 0 {
		add("t.size <= " + a.add(f.Most))
	}
	if f.Where != uuid.Nil {
		add("EXISTS (SELECT 1 FROM item_particulars x WHERE x.item_id = t.item_id AND " + particulars.Stands("x", a.add, f.Where, f.Value) + ")")
	}
	if f.State != "" {
		add("t.item_id IN (" + decisions.InState(f.State) + ")")
	}
	if f.Linked {
		add("(t.item_id = ANY(" + a.add(postgres.IDs(f.Documents)) + "::uuid[]) OR t.scope_no = ANY(" + a.add(f.Scopes) + "::int[]))")
	}
	if s.before > 0 {
		add("t.seq < " + a.add(s.before))
	}
	if s.since > 0 {
		add("t.seq > " + a.add(s.since))
	}
	return strings.Join(all, " AND ")
}

// few reports whether what may be seen is so little that each of it is looked at.
func (s search) few() bool {
	return !s.bits.All && s.bits.Numbers != nil && s.bits.Documents <= fewDocuments
}

const fewDocuments = 3000

// seenOneByOne is the condition of what may be seen where that is little.
func (s search) seenOneByOne(a *arguments) string {
	if !s.few() {
		return "true"
	}
	return "t.scope_no = ANY(" + a.add(s.bits.Numbers) + "::int[])"
}

// itsTexts joins documents x with their texts t.
const itsTexts = ` JOIN text_places p ON p.item_id = x.item_id CROSS JOIN LATERAL (SELECT * FROM texts t WHERE t.win = p.win AND t.seq = p.seq) t WHERE `

// hits is the part of a statement that finds up to so many texts, the newest first.
func (s search) hits(a *arguments, limit int) string {
	n := strconv.Itoa(limit)
	const row = "t.win, t.seq, t.dossier_id, t.kind"
	sum := "(" + guard.SumOfStamps + ") = " + a.add(s.sum)
	// What is little is looked at one by one.
	few := ""
	switch {
	case s.filter.Tag != uuid.Nil:
		few = "SELECT t.* FROM item_tags x" + itsTexts + "x.tag_id = " + a.add(s.filter.Tag) +
			" AND " + s.seenOneByOne(a)
	case s.filter.Where != uuid.Nil:
		few = "SELECT t.* FROM item_particulars x" + itsTexts + particulars.Stands("x", a.add, s.filter.Where, s.filter.Value) +
			" AND " + s.seenOneByOne(a)
	case s.filter.State != "":
		few = "SELECT t.* FROM (" + decisions.InState(s.filter.State) + ") x" + itsTexts + s.seenOneByOne(a)
	case s.few():
		few = "SELECT t.* FROM texts t WHERE " + s.seenOneByOne(a)
	}
	if few != "" {
		return "hit AS MATERIALIZED (SELECT " + row + " FROM (" + few + " OFFSET 0) t WHERE " + sum + " AND " + s.conditions(a) +
			" ORDER BY t.seq DESC LIMIT " + n + ")"
	}
	last := "(SELECT last_value / " + strconv.Itoa(perWindow) + " FROM text_numbers)::int"
	if s.before > 0 {
		last = a.add(int(s.before/perWindow)) + "::int"
	}
	windows := "(SELECT g FROM generate_series(" + last + ", " + a.add(int(s.since/perWindow)) + "::int, -1) g WHERE " + sum + " OFFSET 0) w(win)"
	return "hit AS MATERIALIZED (SELECT x.* FROM " + windows + " CROSS JOIN LATERAL (SELECT " + row + " FROM texts t WHERE t.win = w.win AND " + s.conditions(a) +
		" ORDER BY t.seq + 0 DESC LIMIT " + n + ") x LIMIT " + n + ")"
}

// found is a document that answers a question.
type found struct {
	items.Item
	Number    int64     `db:"seq"`
	Hit       int       `db:"hit_version"`
	Language  string    `db:"language"`
	SHA       []byte    `db:"hit_sha256"`
	MediaHit  string    `db:"hit_media_type"`
	At        time.Time `db:"hit_at"`
	SizeHit   int64     `db:"hit_size"`
	BroughtBy string    `db:"brought_by"`
	Code      string    `db:"code"`
	// What is known of its text; nothing where that was not read yet.
	State  *string `db:"state"`
	Paged  *bool   `db:"paged"`
	Sealed []byte  `db:"sealed"`
	// Oldest is the last number among those of which the best were looked for.
	Oldest int64 `db:"oldest"`
}

// page finds a page of documents: of the newest so many those that fit best, or the newest.
func (s search) page(ctx context.Context, db *postgres.DB, among, skip, limit int, best bool) (all []found, err error) {
	var a arguments
	order := "t.seq DESC"
	hits := s.hits(&a, among)
	if best && s.words != "" {
		order = "ts_rank(t.words, " + a.add(s.words) + "::tsquery) DESC, t.seq DESC"
	}
	return all, db.SelectContext(ctx, &all, `WITH `+hits+`, best AS MATERIALIZED (
			SELECT t.* FROM hit h CROSS JOIN LATERAL (SELECT t.seq, t.item_id, t.version, t.language, t.words FROM texts t WHERE t.win = h.win AND t.seq = h.seq) t ORDER BY `+order+` LIMIT `+a.add(limit)+` OFFSET `+a.add(skip)+`)
		SELECT i.*, t.seq, t.version AS hit_version, t.language, v.sha256 AS hit_sha256, v.media_type AS hit_media_type, v.created_at AS hit_at, v.size AS hit_size, coalesce(p.name, '') AS brought_by, d.code, b.state, b.paged, b.sealed, (SELECT min(seq) FROM hit) AS oldest
		FROM best t JOIN items i ON i.id = t.item_id JOIN versions v ON v.item_id = t.item_id AND v.number = t.version LEFT JOIN people p ON p.id = v.actor_id
		JOIN dossiers d ON d.id = i.dossier_id LEFT JOIN bodies b ON b.sha256 = v.sha256 ORDER BY `+order, a...)
}

// counted is how many answers there are of a kind in a dossier.
type counted struct {
	Dossier uuid.UUID `db:"dossier_id"`
	Kind    string    `db:"kind"`
	N       int       `db:"n"`
}

// count counts answers by dossier and kind, up to so many.
func (s search) count(ctx context.Context, db *postgres.DB, most int) (all []counted, err error) {
	var a arguments
	return all, db.SelectContext(ctx, &all, `WITH `+s.hits(&a, most)+` SELECT dossier_id, kind, count(*)::int AS n FROM hit GROUP BY 1, 2`, a...)
}

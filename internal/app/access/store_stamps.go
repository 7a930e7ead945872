package access

import (
	"context"
	"fmt"

	"github.com/google/uuid"

	"tabularis/internal/app/act"
	"tabularis/internal/platform/postgres"
)

// Part says which of a folder's documents are meant: all but some, or only
// some, at the stamps at which that was decided.
type Part struct {
	Stamps
	Dossier uuid.UUID
	// Only is nil where all but Except are meant.
	Only, Except []uuid.UUID
	// By is set where only what somebody added themselves is meant.
	By *uuid.UUID
}

// PeopleStamp is the scope of the stamp of people and groups.
var PeopleStamp = uuid.Nil

// Bump says that who may see what has changed in a scope: a dossier, or
// PeopleStamp. It comes last in a transaction, so that no list is made by what
// was true before.
func Bump(ctx context.Context, q postgres.Q, scope uuid.UUID) error {
	if err := postgres.Exec(ctx, q, `SELECT pg_notify('`+act.NewsChannel+`', $1)`, `{"access":true,"dossier":"`+scope.String()+`"}`); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `INSERT INTO access_stamps (scope) VALUES ($1) ON CONFLICT (scope) DO UPDATE SET version = access_stamps.version + 1`, scope)
}

// Stamp is a scope's stamp.
type Stamp struct {
	Scope   uuid.UUID `db:"scope"`
	Version int64     `db:"version"`
	// Unlisted says that it is a dossier which is in no list.
	Unlisted bool `db:"unlisted"`
}

// AllStamps reads the stamps of all scopes.
func AllStamps(ctx context.Context, q postgres.Q) (all []Stamp, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT scope, version, unlisted FROM access_stamps`)
}

// Unlist keeps a dossier out of what is gathered of what somebody sees: whoever has access
// reaches it by its address alone.
func Unlist(ctx context.Context, q postgres.Q, dossier uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `UPDATE access_stamps SET unlisted = true WHERE scope = $1`, dossier)
}

// StampsOf reads one dossier's stamps.
func StampsOf(ctx context.Context, q postgres.Q, dossier uuid.UUID) (s Stamps, err error) {
	return s, postgres.Found(q.GetContext(ctx, &s, `SELECT d.version AS dossier_stamp, p.version AS people_stamp FROM access_stamps d, access_stamps p
		WHERE d.scope = $1 AND p.scope = $2`, dossier, PeopleStamp))
}

// StampSum adds all stamps up: it changes with each of them.
func StampSum(ctx context.Context, q postgres.Q) (n int64, err error) {
	return n, q.GetContext(ctx, &n, SumOfStamps)
}

const SumOfStamps = `SELECT coalesce(sum(version), 0)::bigint FROM access_stamps`

// Readable is all that a person may see, at the stamp at which it was computed.
type Readable struct {
	Zones, Roots []string
	// Others says that all zones are meant but those named.
	Others bool
	// Dossiers are those in which there is something to see.
	Dossiers []string
	Sum      int64
	// Holds says the same of one item, by its zone and root.
	Holds func(zone, root uuid.UUID) bool
}

// Current is the condition under which the items of a scope s may be seen, and
// the stamp is still the one at which that was computed. A statement with a
// stale stamp finds nothing. The parameters begin at number n.
func (r Readable) Current(s string, n int) string {
	return fmt.Sprintf(`(`+SumOfStamps+`) = $%d AND `, n) + r.Within(s, n+1)
}

// fewIDs is up to how many zones and roots are looked up by an index; more are
// hashed once for all rows.
const fewIDs = 60

// Within is the part of holds that looks at the scope.
func (r Readable) Within(s string, n int) string {
	if len(r.Zones)+len(r.Roots) > fewIDs {
		return r.among("%s IN (SELECT unnest($%d::uuid[]))", s, n)
	}
	return r.WithinSummed(s, n)
}

// WithinSummed is held for sums over many scopes: it goes by the indexes, however many
// zones and roots there are.
func (r Readable) WithinSummed(s string, n int) string { return r.among("%s = ANY($%d::uuid[])", s, n) }

// among looks zone and root of a scope s up in the parameters number n and n+1.
func (r Readable) among(lookUp, s string, n int) string {
	zone := fmt.Sprintf(lookUp, s+".zone_id", n)
	if r.Others {
		zone = "NOT " + zone
	}
	return "(" + zone + " OR " + fmt.Sprintf(lookUp, s+".root_id", n+1) + ")"
}

// LinkWithin is the condition under which a link l may be seen: everything that
// was chosen for it may, whether or not it is still there. The parameters begin at number n.
func (r Readable) LinkWithin(l string, n int) string {
	return fmt.Sprintf(`NOT EXISTS (SELECT 1 FROM link_items c JOIN all_items ci ON ci.id = c.item_id JOIN scopes cs ON cs.id = ci.scope_id
		WHERE c.link_id = %s.id AND NOT `, l) + r.Within("cs", n) + `)`
}

func (r Readable) Args() []any { return []any{r.Sum, r.Zones, r.Roots} }

// Stamps tell whether what is known of a dossier's access is still true.
type Stamps struct {
	Dossier int64 `db:"dossier_stamp"`
	People  int64 `db:"people_stamp"`
}

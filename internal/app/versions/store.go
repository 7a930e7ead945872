package versions

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"github.com/google/uuid"

	"tabularis/core/versions"
	"tabularis/internal/platform/postgres"
)

// RuleOf is the rule that holds in a dossier, or for the practice where of is nil, and
// whether it is the dossier's own.
func RuleOf(ctx context.Context, q postgres.Q, of *uuid.UUID) (r versions.Rule, own bool, err error) {
	var row ruleRow
	err = q.GetContext(ctx, &row, `SELECT * FROM version_rules WHERE dossier_id IS NULL OR dossier_id = $1 ORDER BY dossier_id NULLS LAST LIMIT 1`, of)
	if errors.Is(err, sql.ErrNoRows) {
		return versions.Rule{Then: versions.None}, false, nil
	}
	return row.Rule, row.DossierID != nil, err
}

// ruleRow is a rule, and the dossier whose own it is.
type ruleRow struct {
	DossierID *uuid.UUID `db:"dossier_id"`
	versions.Rule
}

// allRules are the rules by which something can be removed.
func allRules(ctx context.Context, q postgres.Q) (all []ruleRow, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM version_rules WHERE months > 0 ORDER BY dossier_id`)
}

// setRule sets a dossier's rule, or the practice's, or takes a dossier's away.
func setRule(ctx context.Context, q postgres.Q, of *uuid.UUID, r *versions.Rule) error {
	if r == nil {
		return postgres.Exec(ctx, q, `DELETE FROM version_rules WHERE dossier_id = $1`, of)
	}
	return postgres.Exec(ctx, q, `INSERT INTO version_rules (dossier_id, months, after, last) VALUES ($1, $2, $3, $4)
		ON CONFLICT (dossier_id) DO UPDATE SET months = $2, after = $3, last = $4`, of, r.Months, r.Then, r.Last)
}

// agedDocuments lists documents of a dossier, or of all that have no rule of their own,
// that have a version from before a moment which does not count and nothing keeps.
func agedDocuments(ctx context.Context, q postgres.Q, of *uuid.UUID, before time.Time, after uuid.UUID, limit int) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT i.id FROM items i WHERE i.kind = 'document' AND i.version > 1 AND i.id > $3
		AND ($1::uuid IS NULL AND NOT EXISTS (SELECT 1 FROM version_rules r WHERE r.dossier_id = i.dossier_id) OR i.dossier_id = $1)
		AND EXISTS (SELECT 1 FROM versions v WHERE v.item_id = i.id AND v.number < i.version AND v.removed_at IS NULL AND v.created_at < $2 AND v.title = '' AND v.note = '' AND NOT v.held)
		ORDER BY i.id LIMIT $4`, of, before, after, limit)
}

package postgres_test

import (
	"testing"

	"tabularis/internal/testkit"
)

// Whatever refers to something that can be deleted for good is found by an index:
// otherwise each deletion would read whole tables.
func TestEveryReferenceHasAnIndex(t *testing.T) {
	t.Parallel()
	db := open(t, testkit.Database(t))
	var bare []string
	if err := db.SelectContext(t.Context(), &bare, `SELECT c.conrelid::regclass || '.' || a.attname FROM pg_constraint c
		JOIN pg_attribute a ON a.attrelid = c.conrelid AND a.attnum = c.conkey[1]
		WHERE c.contype = 'f' AND c.connamespace = current_schema()::regnamespace AND c.conrelid::regclass::text NOT LIKE 'river%'
		-- Accounts stay: what somebody did is theirs for ever.
		AND c.confrelid <> 'people'::regclass
		AND NOT EXISTS (SELECT 1 FROM pg_index i WHERE i.indrelid = c.conrelid AND i.indkey[0] = a.attnum
			AND (i.indpred IS NULL OR pg_get_expr(i.indpred, i.indrelid) = '(' || a.attname || ' IS NOT NULL)')) ORDER BY 1`); err != nil {
		t.Fatal(err)
	}
	for _, column := range bare {
		t.Errorf("%s refers to something and has no index", column)
	}
}

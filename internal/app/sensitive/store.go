package sensitive

import (
	"context"
	"encoding/hex"
	"time"

	"tabularis/internal/platform/postgres"
)

// Scan says that content was looked through for what is sensitive, with the
// patterns of a number.
type Scan struct {
	SHA256    []byte    `db:"sha256"`
	Patterns  int       `db:"patterns_number"`
	Readable  bool      `db:"readable"`
	ScannedAt time.Time `db:"scanned_at"`
}

// ScanFinding is what was found, how often, and where the first one stands.
type ScanFinding struct {
	SHA256 []byte `db:"sha256"`
	Kind   string `db:"kind"`
	Name   string `db:"name"`
	N      int    `db:"n"`
	Page   *int   `db:"page"`
	Line   *int   `db:"line"`
	Shown  string `db:"shown"`
}

// PutScan notes what was found in content, in place of what was found before.
func PutScan(ctx context.Context, q postgres.Q, s Scan, found []ScanFinding) error {
	// The row is held first: the same content may be looked through twice at once.
	if err := postgres.Exec(ctx, q, `INSERT INTO scans (sha256, patterns_number, readable, scanned_at) VALUES ($1, $2, $3, $4)
		ON CONFLICT (sha256) DO UPDATE SET patterns_number = $2, readable = $3, scanned_at = $4`, s.SHA256, s.Patterns, s.Readable, s.ScannedAt); err != nil {
		return err
	}
	if err := postgres.Exec(ctx, q, `DELETE FROM scan_findings WHERE sha256 = $1`, s.SHA256); err != nil {
		return err
	}
	for _, f := range found {
		if err := postgres.Exec(ctx, q, `INSERT INTO scan_findings (sha256, kind, name, n, page, line, shown) VALUES ($1, $2, $3, $4, $5, $6, $7)`,
			s.SHA256, f.Kind, f.Name, f.N, f.Page, f.Line, f.Shown); err != nil {
			return err
		}
	}
	return nil
}

// ScansOf returns the scans of contents with the patterns of a number, by hash
// in hexadecimal.
func ScansOf(ctx context.Context, q postgres.Q, hashes []string, patterns int) (map[string]Scan, error) {
	var all []Scan
	err := q.SelectContext(ctx, &all, `SELECT * FROM scans WHERE sha256 IN (SELECT decode(h, 'hex') FROM unnest($1::text[]) AS h)
		AND patterns_number = $2`, hashes, patterns)
	by := make(map[string]Scan, len(all))
	for _, s := range all {
		by[hex.EncodeToString(s.SHA256)] = s
	}
	return by, err
}

// ScanFindings returns what was found in contents.
func ScanFindings(ctx context.Context, q postgres.Q, hashes []string) (all []ScanFinding, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM scan_findings WHERE sha256 IN (SELECT decode(h, 'hex') FROM unnest($1::text[]) AS h)
		ORDER BY kind, name`, hashes)
}

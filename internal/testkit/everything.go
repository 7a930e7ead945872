package testkit

import (
	"context"
	"io/fs"
	"os"
	"path/filepath"
)

// Everything is all that the servers of a test keep: the rows of every table, with bytes as they are,
// and every file, the mails among them. A test can look in it for what must not be known.
func (k *Kit) Everything(ctx context.Context) map[string][]byte {
	k.T.Helper()
	out := map[string][]byte{}
	var tables []string
	if err := k.App.DB.SelectContext(ctx, &tables, `SELECT relname FROM pg_class WHERE relkind = 'r' AND relnamespace = 'public'::regnamespace`); err != nil {
		k.T.Fatal(err)
	}
	tx, err := k.App.DB.BeginTxx(ctx, nil)
	if err != nil {
		k.T.Fatal(err)
	}
	defer tx.Rollback() //nolint:errcheck // It only reads.
	if _, err := tx.ExecContext(ctx, `SET LOCAL bytea_output = 'escape'`); err != nil {
		k.T.Fatal(err)
	}
	for _, table := range tables {
		var rows []string
		if err := tx.SelectContext(ctx, &rows, `SELECT t::text FROM "`+table+`" t`); err != nil {
			k.T.Fatal(err)
		}
		for _, r := range rows {
			out[table] = append(out[table], r+"\n"...)
		}
	}
	err = filepath.WalkDir(k.DataDir, func(path string, e fs.DirEntry, err error) error {
		if err != nil || !e.Type().IsRegular() {
			return nil // It is gone meanwhile.
		}
		if content, err := os.ReadFile(path); err == nil {
			out[path] = content
		}
		return nil
	})
	if err != nil {
		k.T.Fatal(err)
	}
	return out
}

// Package backup copies a practice to a folder and brings it back: the
// database, and the content as it lies, encrypted. The key file is not part of
// it; without it the copy cannot be read, and it is kept apart for that reason.
package backup

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"

	"tabularis/internal/platform/postgres"

	"github.com/jackc/pgx/v5/pgconn"

	"tabularis/internal/devdb"
)

const (
	databaseFile  = "database.dump"
	contentFolder = "content"
)

// Write copies database and content to a folder. A folder that holds an earlier
// copy is brought up to date: content never changes, so only what is new travels.
// The database is dumped first: all content that it refers to is there then.
func Write(ctx context.Context, databaseURL, dataDir, to string) error {
	if err := os.MkdirAll(to, 0o700); err != nil {
		return fmt.Errorf("making the backup's folder: %w", err)
	}
	dump := filepath.Join(to, databaseFile)
	// The dump is its owner's alone to read, from its first byte on.
	if f, err := os.OpenFile(dump+".new", os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600); err != nil {
		return fmt.Errorf("making the dump: %w", err)
	} else if err := errors.Join(f.Chmod(0o600), f.Close()); err != nil {
		return fmt.Errorf("making the dump: %w", err)
	}
	if err := tool(ctx, databaseURL, "pg_dump", "--format=custom", "--no-owner", "--file="+dump+".new"); err != nil {
		return err
	}
	if err := copyTree(ctx, filepath.Join(dataDir, contentFolder), filepath.Join(to, contentFolder)); err != nil {
		return fmt.Errorf("copying the content: %w", err)
	}
	// Only a whole backup takes the place of the one before.
	return os.Rename(dump+".new", dump)
}

// Restore brings a backup back into an empty database and an empty data folder.
// Anything that is there already is refused and stays as it is.
func Restore(ctx context.Context, databaseURL, dataDir, from string) error {
	dump := filepath.Join(from, databaseFile)
	if _, err := os.Stat(dump); err != nil {
		return fmt.Errorf("there is no backup in %s: %w", from, err)
	}
	to := filepath.Join(dataDir, contentFolder)
	if there, err := os.ReadDir(to); err == nil && len(there) > 0 {
		return fmt.Errorf("%s is not empty; restore into an empty place", to)
	}
	if err := empty(ctx, databaseURL); err != nil {
		return err
	}
	if err := copyTree(ctx, filepath.Join(from, contentFolder), to); err != nil {
		return fmt.Errorf("copying the content: %w", err)
	}
	name, err := databaseName(databaseURL)
	if err != nil {
		return err
	}
	return tool(ctx, databaseURL, "pg_restore", "--no-owner", "--exit-on-error", "--single-transaction", "--dbname="+name, dump)
}

func empty(ctx context.Context, url string) error {
	db, err := postgres.Open(ctx, url, 1)
	if err != nil {
		return err
	}
	defer db.Close()
	var n int
	if err := db.GetContext(ctx, &n, `SELECT count(*) FROM information_schema.tables WHERE table_schema = 'public'`); err != nil {
		return fmt.Errorf("looking at the database: %w", err)
	}
	if n > 0 {
		return errors.New("the database is not empty; restore into an empty one")
	}
	return nil
}

// tool runs one of PostgreSQL's programs on a database. How to reach it, with the
// password, is told by the environment: a command line can be read by everybody on
// the machine.
func tool(ctx context.Context, databaseURL, name string, args ...string) error {
	bin, err := devdb.Binaries()
	if err != nil {
		return err
	}
	env, err := environment(databaseURL)
	if err != nil {
		return err
	}
	cmd := exec.CommandContext(ctx, filepath.Join(bin, name), args...)
	cmd.Env = append(os.Environ(), env...)
	if out, err := cmd.CombinedOutput(); err != nil {
		return fmt.Errorf("%s: %w: %s", name, err, out)
	}
	return nil
}

func databaseName(databaseURL string) (string, error) {
	c, err := pgconn.ParseConfig(databaseURL)
	if err != nil {
		return "", errors.New("the database's address cannot be read")
	}
	return c.Database, nil
}

// environment is how PostgreSQL's programs are told of a database (libpq,
// environment variables). What else stands in the address, such as how TLS is
// checked, is passed on.
func environment(databaseURL string) ([]string, error) {
	c, err := pgconn.ParseConfig(databaseURL)
	if err != nil {
		// Its text would repeat the password.
		return nil, errors.New("the database's address cannot be read")
	}
	env := []string{"PGHOST=" + c.Host, "PGPORT=" + strconv.Itoa(int(c.Port)), "PGUSER=" + c.User, "PGPASSWORD=" + c.Password, "PGDATABASE=" + c.Database}
	if u, err := url.Parse(databaseURL); err == nil {
		for parameter, variable := range map[string]string{"sslmode": "PGSSLMODE", "sslrootcert": "PGSSLROOTCERT", "sslcert": "PGSSLCERT", "sslkey": "PGSSLKEY"} {
			if v := u.Query().Get(parameter); v != "" {
				env = append(env, variable+"="+v)
			}
		}
	}
	return env, nil
}

// copyTree copies files that are not there yet in the same size.
func copyTree(ctx context.Context, from, to string) error {
	return filepath.WalkDir(from, func(path string, d fs.DirEntry, err error) error {
		if errors.Is(err, fs.ErrNotExist) && path == from {
			return os.MkdirAll(to, 0o700)
		}
		if err != nil {
			return err
		}
		if err := ctx.Err(); err != nil {
			return err
		}
		rel, err := filepath.Rel(from, path)
		if err != nil {
			return err
		}
		target := filepath.Join(to, rel)
		if d.IsDir() {
			return os.MkdirAll(target, 0o700)
		}
		err = copyFile(path, target)
		if errors.Is(err, fs.ErrNotExist) {
			return nil // given up or cleaned meanwhile; nothing refers to it
		}
		return err
	})
}

func copyFile(from, to string) (err error) {
	src, err := os.Open(from)
	if err != nil {
		return err
	}
	defer src.Close()
	info, err := src.Stat()
	if err != nil {
		return err
	}
	if there, err := os.Stat(to); err == nil && there.Size() == info.Size() {
		return nil
	}
	dst, err := os.OpenFile(to+".new", os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(dst, src)
	if err := errors.Join(err, dst.Sync(), dst.Close()); err != nil {
		return err
	}
	return os.Rename(to+".new", to)
}

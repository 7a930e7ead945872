package server

import (
	"context"
	"errors"
	"fmt"
	"io/fs"

	tree "tabularis/internal/app/items"

	"tabularis/internal/platform/postgres"

	"tabularis/internal/platform/secret"
)

// checkPurpose is what the value is sealed for by which the key file is checked.
const checkPurpose = "key check"

// ErrWrongKey means that the key file is not the one under which the practice's
// content is sealed.
var ErrWrongKey = errors.New("the key file is not the one under which this practice's content is sealed; put the right one in its place. Nothing was changed")

// openKeys reads the key file and makes sure that it is the right one. A new one is
// made for a practice only in which nothing was sealed yet: under another key what
// is there could not be read, and what came in would be lost when the right key
// came back.
func openKeys(ctx context.Context, db *postgres.DB, path string) (*secret.Keys, error) {
	check, err := KeyCheck(ctx, db)
	if err != nil {
		return nil, fmt.Errorf("looking up how the key file is checked (tabularis migrate makes what is needed): %w", err)
	}
	fresh := false
	if check == nil {
		if fresh, err = NothingSealed(ctx, db); err != nil {
			return nil, err
		}
	}
	keys, err := secret.LoadKeys(path, fresh)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, fmt.Errorf("the key file %s is missing; without it the practice's content cannot be read. Put it back. Nothing was changed: %w", path, err)
	}
	if err != nil {
		return nil, err
	}
	if check == nil && !fresh {
		sealed, err := AnySealedKey(ctx, db)
		if err != nil {
			return nil, err
		}
		if _, err := keys.Open(sealed, tree.KeyPurpose); sealed != nil && err != nil {
			return nil, ErrWrongKey
		}
	}
	if check == nil {
		if err := PutKeyCheck(ctx, db, keys.Seal([]byte("tabularis"), checkPurpose)); err != nil {
			return nil, err
		}
	}
	return keys, checkKeys(ctx, db, keys)
}

// checkKeys refuses keys that are not those of the database.
func checkKeys(ctx context.Context, db *postgres.DB, keys *secret.Keys) error {
	check, err := KeyCheck(ctx, db)
	if err != nil {
		return err
	}
	if _, err := keys.Open(check, checkPurpose); err != nil {
		return ErrWrongKey
	}
	return nil
}

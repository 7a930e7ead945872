package api_test

import (
	"context"
	"sync"
	"testing"
	"time"

	"tabularis/internal/app/act"
	"tabularis/internal/testkit"
)

// However many act at once and read beside what they change, none waits for the others for ever.
func TestActsAtOnceReadBeside(t *testing.T) {
	t.Parallel()
	k := testkit.New(t)
	acts := &act.Runner{DB: k.App.DB, Clock: k.Now}
	ctx, cancel := context.WithTimeout(t.Context(), 30*time.Second)
	defer cancel()
	var all sync.WaitGroup
	many := 4 * int(k.App.DB.Pool.Config().MaxConns)
	failed := make([]error, many)
	for i := range many {
		all.Go(func() {
			failed[i] = acts.Do(ctx, func(tx *act.Tx) error {
				var n int
				if err := tx.GetContext(ctx, &n, `SELECT 1 FROM pg_sleep(0.02)`); err != nil {
					return err
				}
				return k.App.DB.GetContext(ctx, &n, `SELECT 1 FROM pg_sleep(0.02)`)
			})
		})
	}
	all.Wait()
	for _, err := range failed {
		if err != nil {
			t.Fatal(err)
		}
	}
}

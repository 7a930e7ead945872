package api_test

import (
	"context"
	"errors"
	"sync"
	"testing"

	"tabularis/core/events"

	tree "tabularis/internal/app/items"

	"github.com/google/uuid"

	"tabularis/internal/app/act"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/testkit"
)

// The change, its event and its jobs happen together or not at all.
func TestAnActIsWholeOrNothing(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	count := func(query string) (n int) {
		if err := w.App.DB.Get(&n, query); err != nil {
			t.Fatal(err)
		}
		return n
	}
	// The mails of what was done to set this up are gone when they are sent.
	waitFor(t, func() bool { return count(`SELECT count(*) FROM river_job WHERE kind = 'send_mail'`) == 0 })
	told, queued := count(`SELECT count(*) FROM events`), count(`SELECT count(*) FROM river_job WHERE kind = 'send_mail'`)
	runner := w.App.Web.Acts
	failing := errors.New("changed my mind")
	do := func(end error) error {
		return runner.Do(w.As("luca"), func(tx *act.Tx) error {
			if err := tx.Enqueue(t.Context(), jobs.SendMail{To: "a@b.example", Subject: "x", Text: "x", From: "x"}); err != nil {
				return err
			}
			if err := tx.Record(t.Context(), act.Event{What: events.DossierMade.With(events.Name{Name: "x"}), Dossier: w.top}); err != nil {
				return err
			}
			return end
		})
	}
	if err := do(failing); !errors.Is(err, failing) {
		t.Errorf("ended with %v", err)
	}
	if e, q := count(`SELECT count(*) FROM events`), count(`SELECT count(*) FROM river_job WHERE kind = 'send_mail'`); e != told || q != queued {
		t.Errorf("%d told and %d jobs were left", e-told, q-queued)
	}
	if err := do(nil); err != nil {
		t.Fatal(err)
	}
	waitFor(t, func() bool { return len(w.Mail.Messages("a@b.example")) == 1 })
	if e := count(`SELECT count(*) FROM events`); e != told+1 {
		t.Errorf("%d events", e-told)
	}
}

// Two acts that take two rows in opposite orders both come through: the one
// that the database gives up is done again.
func TestActsThatDeadlockAreDoneAgain(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	other := testkit.Post[contract.DossierRow](w.luca, 201, "/api/dossiers", contract.NewDossier{Code: "AUR-03", Name: "Aurelie", Kind: "internal"}).Id
	var wg, both sync.WaitGroup
	both.Add(2)
	tries := [2]int{}
	for i, order := range [][2]uuid.UUID{{w.top, other}, {other, w.top}} {
		wg.Go(func() {
			err := w.App.Web.Acts.Do(context.Background(), func(tx *act.Tx) error {
				tries[i]++
				if err := tree.LockDossier(t.Context(), tx, order[0]); err != nil {
					return err
				}
				if tries[i] == 1 {
					both.Done()
					both.Wait()
				}
				return tree.LockDossier(t.Context(), tx, order[1])
			})
			if err != nil {
				t.Errorf("act %d: %v", i, err)
			}
		})
	}
	wg.Wait()
	// The one that is done again may meet the other once more before that goes on.
	if tries[0]+tries[1] < 3 {
		t.Errorf("tries %v: one of them should have been done twice", tries)
	}
}

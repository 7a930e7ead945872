package together

import (
	"errors"
	"sync"
	"sync/atomic"
	"testing"
	"testing/synctest"
)

// Of many who ask at once, few ask in truth; nobody is told what was true before.
func TestNoAnswerIsOlderThanItsQuestion(t *testing.T) {
	var g Group[int64]
	var truth, asked atomic.Int64
	var all sync.WaitGroup
	for range 64 {
		all.Go(func() {
			for range 200 {
				before := truth.Add(1)
				got, err := g.Do("link", func() (int64, error) {
					asked.Add(1)
					return truth.Load(), nil
				})
				if err != nil || got < before {
					t.Errorf("asked when it was %d, told %d, %v", before, got, err)
				}
			}
		})
	}
	all.Wait()
	if len(g.running) != 0 {
		t.Errorf("%d are kept", len(g.running))
	}
}

// Those who come while somebody asks wait for one asking more, all for the same.
func TestThoseWhoComeMeanwhileShareOne(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		var g Group[int64]
		var asked atomic.Int64
		release := make(chan struct{})
		ask := func() (int64, error) {
			n := asked.Add(1)
			if n == 1 {
				<-release
				return n, errors.New("away")
			}
			return n, nil
		}
		go func() {
			if _, err := g.Do("link", ask); err == nil {
				t.Error("its failure is not told")
			}
		}()
		synctest.Wait()
		for range 50 {
			go func() {
				if got, err := g.Do("link", ask); err != nil || got != 2 {
					t.Errorf("%d %v", got, err)
				}
			}()
		}
		synctest.Wait()
		if other, err := g.Do("another link", func() (int64, error) { return 7, nil }); err != nil || other != 7 {
			t.Errorf("another waits: %d %v", other, err)
		}
		close(release)
		synctest.Wait()
		if n := asked.Load(); n != 2 || len(g.running) != 0 {
			t.Errorf("asked %d times; %d are kept", n, len(g.running))
		}
	})
}

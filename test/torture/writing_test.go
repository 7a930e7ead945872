package torture_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
)

// Sixteen write one text by two processes, while processes and the database are killed: what was acknowledged stands, once;
// everybody goes on by themselves, and both processes have the same text.
func TestWritingOutlastsKills(t *testing.T) {
	writers, kills := 16, 2
	if rounds() > 20 {
		kills = 20
	}
	x := begin(t)
	y := &torture{t: t, dir: x.dir, bin: x.bin, smtp: x.smtp, cluster: x.cluster, listen: free(t)}
	x.start()
	y.start()
	c := x.client()
	var d contract.DossierRow
	x.ask(c, "POST", "/api/dossiers", contract.NewDossier{Code: "MER-24", Name: "Corran Lass", Kind: "client"}, &d)
	var made contract.Place
	x.ask(c, "POST", "/api/folders/"+d.Id.String()+"/written", contract.WrittenWish{Name: "Letter"}, &made)
	stop := make(chan struct{})
	var all sync.WaitGroup
	var mu sync.Mutex
	stands, maybe := map[string]bool{}, map[string]bool{}
	for i := range writers {
		all.Go(func() {
			w := scribe{c: c, at: "http://" + []*torture{x, y}[i%2].listen + "/api/documents/" + made.Id.String() + "/writing?page=" + uuid.NewString()}
			for n := 0; ; n++ {
				select {
				case <-stop:
					return
				default:
				}
				word := fmt.Sprintf("<%d.%d>", i, n)
				taken := w.write(word)
				mu.Lock()
				stands[word], maybe[word] = taken, true
				mu.Unlock()
			}
		})
	}
	for n := range kills {
		time.Sleep(time.Duration(300+rand.IntN(700)) * time.Millisecond)
		if n%3 == 2 {
			x.cluster.Kill()
			x.startDatabase()
			// It listens elsewhere now.
			y.cluster = x.cluster
			for _, one := range []*torture{x, y} {
				one.kill()
				one.start()
			}
			continue
		}
		one := []*torture{x, y}[n%2]
		one.kill()
		one.start()
	}
	time.Sleep(500 * time.Millisecond)
	close(stop)
	all.Wait()
	texts := map[string]bool{}
	for _, one := range []*torture{x, y} {
		w := scribe{c: c, at: "http://" + one.listen + "/api/documents/" + made.Id.String() + "/writing?page=" + uuid.NewString()}
		for until := time.Now().Add(20 * time.Second); time.Now().Before(until); time.Sleep(200 * time.Millisecond) {
			if w.read() {
				break
			}
		}
		texts[w.text] = true
		acknowledged := 0
		for word, taken := range stands {
			n := strings.Count(w.text, word)
			if taken {
				acknowledged++
			}
			if n > 1 || taken && n == 0 {
				t.Errorf("%s was acknowledged: %v; it stands %d times", word, taken, n)
			}
		}
		if left := strings.Count(w.text, "<"); acknowledged < writers*kills || left > len(maybe) {
			t.Errorf("%d of %d words were acknowledged, %d stand", acknowledged, len(maybe), left)
		}
		t.Logf("%d words sent, %d acknowledged, %d killed", len(stands), acknowledged, kills)
	}
	if len(texts) != 1 {
		t.Error("the processes have different texts")
	}
	x.kill()
	y.kill()
}

// scribe is somebody who writes without a socket, on the version they were told last.
type scribe struct {
	c       *http.Client
	at      string
	version int
	text    string
}

// read takes the text anew, and says whether it was there to be read.
func (s *scribe) read() bool {
	status, raw, err := call(s.c, "GET", s.at, nil)
	var m contract.WritingMessage
	if err != nil || status != 200 || json.Unmarshal(raw, &m) != nil || m.Opening.Text == nil {
		return false
	}
	text, _ := json.Marshal(m.Opening.Text)
	s.version, s.text = m.Opening.Version, strings.NewReplacer(`\u003c`, "<", `\u003e`, ">").Replace(string(text))
	return true
}

// write writes a word at the beginning, and says whether that was acknowledged.
func (s *scribe) write(word string) bool {
	if s.version == 0 && !s.read() {
		time.Sleep(20 * time.Millisecond)
		return false
	}
	step, err := json.Marshal(map[string]any{"stepType": "replace", "from": 1, "to": 1, "slice": map[string]any{"content": []any{map[string]any{"type": "text", "text": word}}}})
	if err != nil {
		return false
	}
	status, raw, err := call(s.c, "POST", s.at, contract.WritingSent{Turn: 1, Version: s.version, Steps: []json.RawMessage{step}})
	var m contract.WritingMessage
	if err != nil || status != 200 || json.Unmarshal(raw, &m) != nil || m.Taken == nil || m.Taken.Count != 1 {
		s.version = 0
		return false
	}
	s.version = m.Taken.Version
	return true
}

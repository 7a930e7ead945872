package api_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/server"
	"tabularis/internal/testkit"
)

func TestTheDatabaseIsAwayForAWhile(t *testing.T) {
	t.Parallel()
	url, line := testkit.DatabaseLine(t)
	w := newWorld(t, func(c *server.Config) { c.DatabaseURL = url })
	id := w.paper("a.txt", "text")
	where := w.luca.Begin(w.top, "", "later.txt", 4).Header.Get("Location")
	tus := []string{"Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream"}
	line.Break()
	for range 20 {
		for _, a := range []testkit.Answer{
			w.luca.Do("GET", "/api/documents/"+id.String(), nil), w.luca.Do("GET", "/api/documents/"+id.String()+"/content", nil),
			w.luca.Do("POST", "/api/dossiers", contract.NewDossier{Code: "PEL-11", Name: "Pellew", Kind: "client"}),
			w.luca.Do("PATCH", where, strings.NewReader("text"), tus...), w.Visitor().Do("GET", "/api/visits/x", nil),
		} {
			if a.Status != 503 || a.Code() != "database-away" || a.Header.Get("Retry-After") == "" {
				t.Fatalf("meanwhile: %d %s", a.Status, a.Body)
			}
		}
	}
	if a := w.luca.Do("GET", "/readyz", nil); a.Status != 503 || !strings.Contains(string(a.Body), "database") {
		t.Errorf("ready? %d %s", a.Status, a.Body)
	}
	w.luca.Want(200, "GET", "/healthz", nil)
	line.Mend()
	waitFor(t, func() bool { return w.luca.Do("GET", "/readyz", nil).Status == 200 })
	if a := w.luca.Want(200, "GET", "/api/documents/"+id.String()+"/content", nil); string(a.Body) != "text" {
		t.Errorf("afterwards: %s", a.Body)
	}
	w.luca.Want(204, "PATCH", where, strings.NewReader("text"), tus...)
	w.luca.Want(404, "GET", "/api/dossiers/PEL-11", nil) // nothing half-done
	// News are heard again, too.
	heard := streamOf(t, w.hanne, "/api/live")
	waitFor(t, func() bool {
		w.paper(uuid.NewString(), "x")
		select {
		case <-heard:
			return true
		case <-time.After(200 * time.Millisecond):
			return false
		}
	})
}

func TestTheDiskIsFull(t *testing.T) {
	t.Parallel()
	if os.Geteuid() != 0 {
		t.Skip("mounting a small disk needs root")
	}
	disk := t.TempDir()
	if err := syscall.Mount("tmpfs", disk, "tmpfs", 0, "size=2m"); err != nil {
		t.Skipf("a small disk cannot be mounted here: %v", err)
	}
	t.Cleanup(func() { _ = syscall.Unmount(disk, 0) })
	w := newWorld(t, func(c *server.Config) { c.ContentURL = ""; c.DataDir = disk; c.KeyFile = t.TempDir() + "/key" })
	small := w.paper("small.txt", "there is space for this")
	big := noise(4 << 20)
	where := w.luca.Begin(w.top, "", "big.bin", len(big)).Header.Get("Location")
	send := func() testkit.Answer {
		head := w.luca.Want(200, "HEAD", where, nil, "Tus-Resumable", "1.0.0")
		var offset int
		_, _ = fmt.Sscan(head.Header.Get("Upload-Offset"), &offset)
		return w.luca.Do("PATCH", where, bytes.NewReader(big[offset:]), "Tus-Resumable", "1.0.0", "Upload-Offset", fmt.Sprint(offset), "Content-Type", "application/offset+octet-stream")
	}
	for range 3 {
		if a := send(); a.Status != 507 || a.Code() != "no-space" {
			t.Fatalf("full: %d %s", a.Status, a.Body)
		}
	}
	if n := w.register().Total; n != 1 {
		t.Errorf("%d documents are listed", n)
	}
	if a := w.luca.Want(200, "GET", "/api/documents/"+small.String()+"/content", nil); len(a.Body) != 23 {
		t.Errorf("what was there holds %d bytes", len(a.Body))
	}
	// Somebody makes space: it goes on, without a restart.
	if err := syscall.Mount("tmpfs", disk, "tmpfs", syscall.MS_REMOUNT, "size=16m"); err != nil {
		t.Fatal(err)
	}
	if a := send(); a.Status != 204 {
		t.Fatalf("with space: %d %s", a.Status, a.Body)
	}
	if r := verified(t, w.App.Care); !r.Sound() || r.Blobs != 2 {
		t.Errorf("%+v", r)
	}
	// A disk that has become read-only.
	if err := syscall.Mount("tmpfs", disk, "tmpfs", syscall.MS_REMOUNT|syscall.MS_RDONLY, "size=16m"); err != nil {
		t.Fatal(err)
	}
	begun := w.luca.Begin(w.top, "", "more.txt", 4)
	if a := w.luca.Do("PATCH", begun.Header.Get("Location"), strings.NewReader("text"), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream"); a.Status != 503 || a.Code() != "store-away" {
		t.Errorf("read-only: %d %s", a.Status, a.Body)
	}
	if a := w.luca.Do("GET", "/readyz", nil); a.Status != 503 || !strings.Contains(string(a.Body), "content") {
		t.Errorf("ready? %d %s", a.Status, a.Body)
	}
	w.luca.Want(200, "GET", "/api/documents/"+small.String()+"/content", nil)
}

// A store that takes half a second for everything loses nothing: whoever does not
// wait for the end finds the upload as it was, and the rest of the practice does
// not wait with it.
func TestTheStoreIsSlow(t *testing.T) {
	t.Parallel()
	w := newWorld(t, func(c *server.Config) { c.ContentURL = testkit.SlowBucket(t, 500*time.Millisecond) })
	var ids []uuid.UUID
	for i := range 4 {
		begun := w.luca.Begin(w.top, "", fmt.Sprintf("slow %d.txt", i), 5)
		where := begun.Header.Get("Location")
		w.luca.Want(204, "PATCH", where, strings.NewReader("bytes"), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
		ids = append(ids, uuid.MustParse(where[strings.LastIndex(where, "/")+1:]))
	}
	var wg sync.WaitGroup
	for _, id := range ids {
		// The first who asks gives up at once, the second waits.
		wg.Go(func() {
			ctx, cancel := context.WithTimeout(t.Context(), 50*time.Millisecond)
			defer cancel()
			req, err := http.NewRequestWithContext(ctx, "GET", w.URL+"/api/uploads/"+id.String()+"/outcome", nil)
			if err != nil {
				t.Error(err)
				return
			}
			if resp, err := w.luca.HTTP.Do(req); err == nil {
				resp.Body.Close()
			}
			if o := testkit.Get[contract.UploadOutcome](w.luca, "/api/uploads/"+id.String()+"/outcome"); o.Outcome != "document" && o.Outcome != "unchanged" {
				t.Errorf("it became %+v", o)
			}
		})
	}
	// Meanwhile lists answer; they do not ask the store.
	w.hanne.Want(200, "GET", "/api/dossiers/MER-24", nil)
	wg.Wait()
	rows := w.register().Rows
	if len(rows) != 4 {
		t.Fatalf("%d documents are there", len(rows))
	}
	for _, r := range rows {
		if a := w.hanne.Want(200, "GET", "/api/documents/"+r.Id.String()+"/content", nil); string(a.Body) != "bytes" {
			t.Errorf("%s holds %q", r.Name, a.Body)
		}
	}
	if r := verified(t, w.App.Care); !r.Sound() {
		t.Errorf("afterwards: %+v", r)
	}
}

func TestConcurrentWritersOfOneUpload(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	data := noise(2 << 20)
	where := w.luca.Begin(w.top, "", "one.bin", len(data)).Header.Get("Location")
	var wg sync.WaitGroup
	for range 6 {
		wg.Go(func() {
			for range 40 {
				head, err := w.luca.Try("HEAD", where, nil, "Tus-Resumable", "1.0.0")
				if err != nil || head.Status != 200 {
					continue
				}
				var offset int
				_, _ = fmt.Sscan(head.Header.Get("Upload-Offset"), &offset)
				if offset == len(data) {
					return
				}
				_, _ = w.luca.Try("PATCH", where, bytes.NewReader(data[offset:min(len(data), offset+200_000)]), "Tus-Resumable", "1.0.0", "Upload-Offset", fmt.Sprint(offset), "Content-Type", "application/offset+octet-stream")
			}
		})
	}
	wg.Wait()
	out := testkit.Get[contract.UploadOutcome](w.luca, "/api/uploads/"+where[strings.LastIndex(where, "/")+1:]+"/outcome")
	if a := w.luca.Want(200, "GET", "/api/documents/"+out.Document.Id.String()+"/content", nil); !bytes.Equal(a.Body, data) {
		t.Error("six writers made something else of it")
	}
}

func TestHeadersWithoutEndAndSlowSenders(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	host := strings.TrimPrefix(w.URL, "http://")
	flood, err := net.Dial("tcp", host)
	if err != nil {
		t.Fatal(err)
	}
	defer flood.Close()
	_, _ = io.WriteString(flood, "GET /api/practice HTTP/1.1\r\nHost: "+host+"\r\n")
	for i := range 4000 {
		if _, err := fmt.Fprintf(flood, "X-Header-%d: %s\r\n", i, strings.Repeat("x", 100)); err != nil {
			break
		}
	}
	_ = flood.SetReadDeadline(time.Now().Add(15 * time.Second))
	answer, _ := io.ReadAll(flood)
	if len(answer) > 0 && !bytes.Contains(answer, []byte(" 431 ")) {
		t.Errorf("a flood of headers: %.80s", answer)
	}
	// Many who send their headers drop by drop hold nobody up.
	for range 50 {
		c, err := net.Dial("tcp", host)
		if err != nil {
			t.Fatal(err)
		}
		defer c.Close()
		_, _ = io.WriteString(c, "GET /api/practice HTTP/1.1\r\nHo")
	}
	w.luca.Want(200, "GET", "/api/session", nil)
}

func TestWhoComesThroughATrustedProxy(t *testing.T) {
	t.Parallel()
	for name, c := range map[string]struct {
		trusted []string
		want    string
	}{"believed": {[]string{"127.0.0.0/8"}, "203.0.113.24"}, "not believed": {nil, "127.0.0.1"}} {
		t.Run(name, func(t *testing.T) {
			w := newWorld(t, func(cfg *server.Config) { cfg.TrustedProxies = c.trusted })
			l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{w.paper("a.txt", "x")}})
			w.Visitor().Want(204, "POST", "/api/visits/"+token, contract.OpenLink{}, "X-Forwarded-For", "198.51.100.7, 203.0.113.24")
			r := testkit.Get[contract.LinkRecord](w.luca, "/api/links/"+l.Id.String())
			if got := *r.Events[0].Network; got != c.want {
				t.Errorf("recorded from %s, want %s", got, c.want)
			}
		})
	}
}

func TestLogsAndMetricsHoldNoSecrets(t *testing.T) {
	t.Parallel()
	var log lockedBuffer
	testkit.LogTo(t, &log)
	w := newWorld(t)
	id := w.paper("Condition survey report.txt", "x")
	_, token := w.link(contract.LinkTerms{Items: []uuid.UUID{id}, Password: ptr("quay-lantern-47")})
	show(w.Visitor(), token, "wrong-password")
	show(w.Visitor(), token, "quay-lantern-47")
	a := w.luca.Want(200, "GET", "/api/find?q=survey", nil)
	text := log.String()
	for _, secret := range []string{token, "quay-lantern", "wrong-password", "survey", testkit.Password, "tabularis_session"} {
		if strings.Contains(text, secret) {
			t.Errorf("the log holds %q", secret)
		}
	}
	if id := a.Header.Get("X-Request-Id"); id == "" || !strings.Contains(text, id) {
		t.Errorf("the request %q is not in the log", id)
	}
	var line map[string]any
	if err := json.Unmarshal([]byte(strings.SplitN(text, "\n", 2)[0]), &line); err != nil || line["route"] == nil {
		t.Errorf("a line of the log: %v %v", line, err)
	}
	rec := httptest.NewRecorder()
	w.App.Web.Metrics.Handler().ServeHTTP(rec, httptest.NewRequest("GET", "/metrics", nil))
	if metrics := rec.Body.String(); w.Processes() == 1 && !strings.Contains(metrics, `tabularis_request_seconds_count{method="POST",route="/api/visits/:token",status="204"} 1`) || strings.Contains(metrics, token) {
		t.Errorf("metrics: %s", metrics)
	}
}

type lockedBuffer struct {
	mu sync.Mutex
	b  bytes.Buffer
}

func (l *lockedBuffer) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.b.Write(p)
}

func (l *lockedBuffer) String() string {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.b.String()
}

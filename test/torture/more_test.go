package torture_test

import (
	"context"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/mail/standin"
	"tabularis/internal/platform/secret"
)

// soak leaves what takes minutes to make torture.
func soak(t *testing.T) {
	t.Helper()
	if os.Getenv("TORTURE_ROUNDS") == "" {
		t.Skip("runs with make torture")
	}
}

// Ten thousand jobs wait while the server is killed again and again: each is done,
// and none is done twice but what was under way at a kill.
func TestPendingJobsOutlastKills(t *testing.T) {
	soak(t)
	x := begin(t)
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	post, err := standin.Start(ctx, filepath.Join(x.dir, "mail"), "127.0.0.1:0", "127.0.0.1:0")
	x.must(err)
	x.start()
	x.kill()
	const pending, kills = 10_000, 12
	keys, err := secret.LoadKeys(x.config().KeyFile, false)
	x.must(err)
	db, err := postgres.Open(ctx, x.cluster.URL(databaseURL), 4)
	x.must(err)
	defer db.Close()
	queue, err := jobs.NewQueue(db, keys)
	x.must(err)
	tx, err := db.Pool.Begin(ctx)
	x.must(err)
	for n := range pending {
		x.must(queue.InsertTx(ctx, tx, jobs.SendMail{To: fmt.Sprintf("n%d@calder.example", n), From: "Halyard & Rook", Subject: "Your papers", Text: "They are here."}, nil))
	}
	x.must(tx.Commit(ctx))
	x.smtp = post.SMTP
	left := func() (n int) {
		x.must(db.GetContext(ctx, &n, `SELECT count(*) FROM river_job WHERE kind = 'send_mail'`))
		return n
	}
	for kill := range kills {
		x.start()
		for until := time.Now().Add(time.Minute); left() > pending*(kills-kill)/(kills+1) && time.Now().Before(until); {
			time.Sleep(5 * time.Millisecond)
		}
		x.kill()
	}
	x.start()
	// What was under way at a kill is taken up again an hour later; here at once.
	for until := time.Now().Add(5 * time.Minute); left() > 0 && time.Now().Before(until); time.Sleep(200 * time.Millisecond) {
		_, err := db.ExecContext(ctx, `UPDATE river_job SET state = 'available', scheduled_at = now() WHERE state = 'running' AND attempted_at < now() - interval '20 seconds' OR state = 'retryable'`)
		x.must(err)
	}
	x.kill()
	missing, twice := 0, 0
	for n := range pending {
		switch len(post.Messages(fmt.Sprintf("n%d@calder.example", n))) {
		case 0:
			missing++
		case 1:
		default:
			twice++
		}
	}
	t.Logf("%d jobs, %d kills: %d not done, %d done twice", pending, kills, missing, twice)
	if missing > 0 || left() > 0 || twice > 8*(kills+1) {
		t.Error("jobs were lost, or done more often than was under way")
	}
}

// The disk fills up in the middle of work, again and again: what was acknowledged is
// there, what was not can be gone on with.
func TestTheDiskFillsUp(t *testing.T) {
	soak(t)
	x := begin(t)
	data := filepath.Join(x.dir, "data")
	x.must(os.MkdirAll(data, 0o755))
	if err := syscall.Mount("tabularis", data, "tmpfs", 0, "size=160m"); err != nil {
		t.Skipf("a small disk cannot be made: %v", err)
	}
	t.Cleanup(func() { _ = syscall.Unmount(data, syscall.MNT_DETACH) })
	x.start()
	x.furnish()
	ballast := filepath.Join(data, "ballast")
	full := 0
	for round := range 20 {
		c := x.client()
		var all sync.WaitGroup
		for w := range workers {
			all.Go(func() {
				for n := range 12 {
					content := make([]byte, 200_000)
					copy(content, fmt.Sprint(round, w, n))
					if !x.bring(c, content, fmt.Sprintf("paper %d-%d-%d.bin", round, w, n)) {
						x.mu.Lock()
						full++
						x.mu.Unlock()
					}
				}
			})
		}
		time.Sleep(20 * time.Millisecond)
		fillUp(ballast)
		time.Sleep(100 * time.Millisecond)
		x.must(os.Remove(ballast))
		all.Wait()
		// What came in makes way, so that the next round has space.
		if round%3 == 2 {
			x.must(syscall.Mount("tabularis", data, "tmpfs", syscall.MS_REMOUNT, fmt.Sprintf("size=%dm", 160+120*(round+1)/3)))
		}
	}
	t.Logf("%d uploads found the disk full, %d were acknowledged", full, len(x.kept))
	if full == 0 || len(x.kept) == 0 {
		t.Error("too little happened for this to prove anything")
	}
	x.finish()
}

// bring brings a document in; false when there was no space for it.
func (x *torture) bring(c *http.Client, content []byte, name string) bool {
	base := "http://" + x.listen
	meta := "folder " + b64(x.top.String()) + ",name " + b64(name)
	status, raw, head, err := exchange(c, "POST", base+"/api/uploads", nil, "Tus-Resumable", "1.0.0", "Upload-Length", strconv.Itoa(len(content)), "Upload-Metadata", meta)
	if err != nil || status != 201 {
		if status != 507 {
			x.t.Errorf("beginning: %d %s %v", status, raw, err)
		}
		return false
	}
	p := &pending{where: "/api/uploads/" + filepath.Base(head.Get("Location")), data: content}
	status, raw, err = call(c, "PATCH", base+p.where, content, "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
	if err != nil || status != 204 {
		if status != 507 {
			x.t.Errorf("sending: %d %s %v", status, raw, err)
		}
		x.mu.Lock()
		x.half = append(x.half, *p)
		x.mu.Unlock()
		return false
	}
	_, ok := x.upload(c, p, "")
	return ok
}

// fillUp takes all space that is left.
func fillUp(name string) {
	f, err := os.Create(name)
	if err != nil {
		return
	}
	defer f.Close()
	for size := 1 << 20; size > 0; size /= 2 {
		for {
			if _, err := f.Write(make([]byte, size)); err != nil {
				break
			}
		}
	}
}

// After 173 awkward files were looked at page by page the server's own process has
// kept to its memory.
func TestMemoryAfterAwkwardFiles(t *testing.T) {
	soak(t)
	x := begin(t)
	x.start()
	x.furnish()
	c := x.client()
	most, looked := int64(0), 0
	for n, content := range awkward(t) {
		doc, ok := x.upload(c, &pending{data: content}, n)
		if !ok {
			t.Fatalf("%s did not come in", n)
		}
		var l contract.Link
		view := true
		status, raw, err := call(c, "POST", "http://"+x.listen+"/api/links", contract.LinkTerms{Items: []uuid.UUID{doc}, ViewOnly: &view})
		if err != nil || status != 201 {
			continue // it cannot be shown in pages
		}
		x.read(raw, &l)
		token := filepath.Base(*l.Address)
		v := x.visitor(token)
		for page := 1; page < 200; page++ {
			status, _, err := call(v, "GET", fmt.Sprintf("http://%s/api/visits/%s/documents/%s/pages/%d?width=1700", x.listen, token, doc, page), nil)
			if err != nil {
				t.Fatal(err)
			}
			if status != 200 {
				break
			}
			looked++
		}
		most = max(most, x.memory())
	}
	t.Logf("%d pages were looked at; the server took at most %d MB", looked, most>>20)
	if most > 400<<20 || looked < 300 {
		t.Errorf("%d MB after %d pages", most>>20, looked)
	}
	x.kill()
}

// memory is what the server's own process has of memory.
func (x *torture) memory() int64 {
	raw, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", x.server.Process.Pid))
	x.must(err)
	for line := range strings.SplitSeq(string(raw), "\n") {
		if rest, ok := strings.CutPrefix(line, "VmRSS:"); ok {
			n, err := strconv.ParseInt(strings.Fields(rest)[0], 10, 64)
			x.must(err)
			return n << 10
		}
	}
	return 0
}

package torture_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net"
	"net/http"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/route"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/platform/postgres"
)

// filing asks one person, and then does two things by itself, which would show if they were done twice.
const filing = `{"name":"Filing","starts":[{"on":"arrives"}],"stops":[{"cases":[{"do":"approve","who":[{"role":"managers"}]}]},
	{"cases":[{"do":"copy","folder":%q}]},{"cases":[{"do":"move","folder":%q,"issues":true}]}]}`

// Documents travel along a route while two processes are killed in turn, in whatever state their runs
// are: each gets to its end, what is done without anybody is done once, and each run is still what its
// events say.
func TestRunsOutlastKills(t *testing.T) {
	soak(t)
	const papers, kills = 60, 24
	x := begin(t)
	y := &torture{t: t, dir: x.dir, bin: x.bin, smtp: x.smtp, cluster: x.cluster, listen: free(t)}
	x.start()
	y.start()
	copies := x.placeFiling()
	c := x.client()
	for n := range papers {
		if _, ok := x.upload(c, &pending{data: fmt.Appendf(nil, "paper %d", n)}, fmt.Sprintf("paper %d.txt", n)); !ok {
			t.Fatal("an upload failed")
		}
	}
	stop := make(chan struct{})
	var wg sync.WaitGroup
	for _, one := range []*torture{x, y} {
		wg.Go(func() { one.decideAll(c.Jar, stop) })
	}
	for range kills {
		one := []*torture{x, y}[rand.IntN(2)]
		time.Sleep(time.Duration(100+rand.IntN(900)) * time.Millisecond)
		one.kill()
		one.start()
	}
	ctx := t.Context()
	db, err := postgres.Open(ctx, x.cluster.URL(databaseURL), 4)
	x.must(err)
	defer db.Close()
	done := 0
	// What was under way at a kill is taken up again an hour later; here at once.
	for until := time.Now().Add(3 * time.Minute); done < papers && time.Now().Before(until); time.Sleep(200 * time.Millisecond) {
		_, err := db.ExecContext(ctx, `UPDATE river_job SET state = 'available', scheduled_at = now() WHERE state = 'running' AND attempted_at < now() - interval '10 seconds' OR state = 'retryable'`)
		x.must(err)
		x.must(db.GetContext(ctx, &done, `SELECT count(*) FROM runs WHERE status = 'done'`))
	}
	close(stop)
	wg.Wait()
	x.kill()
	y.kill()
	var runs, copied, moved int
	for into, statement := range map[*int]string{
		&runs:   `SELECT count(*) FROM runs`,
		&copied: `SELECT count(*) FROM items WHERE kind = 'document' AND parent_id = '` + copies.String() + `'`,
		&moved:  `SELECT count(*) FROM events WHERE kind = 'document.moved'`,
	} {
		x.must(db.GetContext(ctx, into, statement))
	}
	t.Logf("%d papers, %d kills: %d runs, %d of them through, %d copied, %d moved", papers, kills, runs, done, copied, moved)
	for what, n := range map[string]int{"runs": runs, "runs that are through": done, "copies": copied, "moves": moved} {
		if n != papers {
			t.Errorf("%d %s of %d papers", n, what, papers)
		}
	}
	x.replayed(db)
}

// free is an address at which nothing listens.
func free(t *testing.T) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	return l.Addr().String()
}

// placeFiling makes a dossier in which what arrives is filed, and returns where copies go.
func (x *torture) placeFiling() (copies uuid.UUID) {
	c := x.client()
	var d contract.DossierRow
	x.ask(c, "POST", "/api/dossiers", contract.NewDossier{Code: "MER-24", Name: "Corran Lass", Kind: "client"}, &d)
	folder := func(name string) (f contract.Folder) {
		x.ask(c, "POST", "/api/folders/"+d.Id.String()+"/folders", contract.NewName{Name: name}, &f)
		return f
	}
	x.top = folder("Arrived").Id
	copies = folder("Copies").Id
	var definition contract.RouteDefinition
	x.must(json.Unmarshal(fmt.Appendf(nil, filing, copies, folder("Filed").Id), &definition))
	var made struct{ ID uuid.UUID }
	x.ask(c, "POST", "/api/routes", contract.RouteWish{Folder: &x.top, Definition: definition}, &made)
	x.ask(c, "PUT", "/api/routes/"+made.ID.String()+"/switch", map[string]bool{"on": true}, nil)
	return copies
}

// decideAll agrees to whatever waits, again and again; a process that is gone answers nothing.
func (x *torture) decideAll(jar http.CookieJar, stop chan struct{}) {
	c := &http.Client{Jar: jar, Timeout: 10 * time.Second}
	for {
		select {
		case <-stop:
			return
		case <-time.After(20 * time.Millisecond):
		}
		var all struct{ OnMe []contract.RunLine }
		if status, raw, err := call(c, "GET", "http://"+x.listen+"/api/decisions", nil); err != nil || status != 200 || json.Unmarshal(raw, &all) != nil || len(all.OnMe) == 0 {
			continue
		}
		// A few at a time, so that there is something in every state.
		for range 2 {
			l := all.OnMe[rand.IntN(len(all.OnMe))]
			_, _, _ = call(c, "POST", "http://"+x.listen+"/api/decisions/"+l.Id.String()+"/decision", contract.Verdict{Verdict: contract.VerdictVerdict(route.Agrees), Version: l.Version, Sha256: l.Sha256})
		}
	}
}

// replayed plays every run from its events again, and compares it with what stands of it.
func (x *torture) replayed(db *postgres.DB) {
	x.t.Helper()
	var rows []struct {
		ID     uuid.UUID    `db:"id"`
		Status route.Status `db:"status"`
		Stop   int          `db:"stop"`
		Raw    []byte       `db:"raw"`
	}
	x.must(db.SelectContext(x.t.Context(), &rows, `SELECT r.id, r.status, r.stop, (SELECT jsonb_agg(e.body ORDER BY e.seq) FROM run_events e WHERE e.run_id = r.id) AS raw FROM runs r`))
	for _, r := range rows {
		var events []route.Event
		x.must(json.Unmarshal(r.Raw, &events))
		if run := route.Replay(events); run.Status != r.Status || run.At.Stop != r.Stop {
			x.t.Errorf("run %s stands at %d (%s), its events lead to %d (%s)", r.ID, r.Stop, r.Status, run.At.Stop, run.Status)
		}
	}
}

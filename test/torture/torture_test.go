// Package torture_test kills the real server, and sometimes its database, again
// and again in the middle of work, and then looks for what was lost.
package torture_test

import (
	"archive/zip"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"tabularis/internal/app/accounts"
	"tabularis/internal/app/people"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/testkit"

	"github.com/google/uuid"

	"tabularis/internal/app/sessions"
	"tabularis/internal/devdb"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/platform/mail"
	"tabularis/internal/platform/secret"
	"tabularis/internal/server"
	front "tabularis/web"
)

// rounds is how often the server is killed: TORTURE_ROUNDS, usually 20.
func rounds() int {
	if n, err := strconv.Atoi(os.Getenv("TORTURE_ROUNDS")); err == nil && n > 0 {
		return n
	}
	return 20
}

const (
	workers     = 6
	databaseURL = "tabularis"
	password    = "tessaly-harbour"
)

// pending is an upload that was begun and not yet acknowledged as a document.
type pending struct {
	where string
	data  []byte
}

// kept is what the server has acknowledged: it must be there for ever.
type kept struct {
	document uuid.UUID
	version  int
	sum      [32]byte
}

type torture struct {
	t      *testing.T
	dir    string
	bin    string
	listen string
	// smtp is where mails go; usually nowhere.
	smtp    string
	cluster *devdb.Cluster
	server  *exec.Cmd
	died    chan struct{}
	top     uuid.UUID
	links   []*limited

	mu                                      sync.Mutex
	kept                                    []kept
	half                                    []pending
	uploads, resumed, opened, zips, refused int
}

// limited is a link and how many openings it has acknowledged.
type limited struct {
	token        string
	limit, shown int
}

func TestNothingAcknowledgedIsLost(t *testing.T) {
	x := begin(t)
	for round := range rounds() {
		x.start()
		if round == 0 {
			x.furnish()
		}
		x.work(round)
		if round%10 == 9 {
			// The machine's database goes, too.
			x.cluster.Kill()
			x.startDatabase()
		}
	}
	x.start()
	x.finish()
	t.Logf("%d rounds: %d documents and versions acknowledged, %d of them after resuming, %d openings, %d archives, %d requests broke off", rounds(), len(x.kept), x.resumed, x.opened, x.zips, x.refused)
	if x.uploads < rounds() || x.resumed == 0 || x.opened == 0 || x.zips == 0 {
		t.Error("too little happened for this to prove anything")
	}
}

// begin prepares a practice in a database of its own; its server is not started yet.
func begin(t *testing.T) *torture {
	t.Helper()
	x := &torture{t: t, dir: t.TempDir(), bin: testkit.Program(t), smtp: "127.0.0.1:1"}
	// PostgreSQL runs as a user of its own, who has to get to its folder.
	for d := x.dir; d != os.TempDir() && d != "/"; d = filepath.Dir(d) {
		x.must(os.Chmod(d, 0o755))
	}
	x.startDatabase()
	t.Cleanup(func() { _ = x.cluster.Stop() })
	l, err := net.Listen("tcp", "127.0.0.1:0")
	x.must(err)
	x.listen = l.Addr().String()
	l.Close()
	x.prepare()
	return x
}

func (x *torture) startDatabase() {
	x.t.Helper()
	var err error
	// What is left of a killed server's processes needs a moment to go.
	for range 100 {
		if x.cluster, err = devdb.Start(x.t.Context(), filepath.Join(x.dir, "postgres")); err == nil {
			return
		}
		time.Sleep(100 * time.Millisecond)
	}
	x.t.Fatal(err)
}

func (x *torture) config() server.Config {
	return server.Config{BaseURL: "http://" + x.listen, DatabaseURL: x.cluster.URL(databaseURL), DataDir: filepath.Join(x.dir, "data"), KeyFile: filepath.Join(x.dir, "data", "keys", "master.key"), MaxUpload: 1 << 30, Mail: mail.Settings{Address: x.smtp, From: "a@b.example", Plain: true}}
}

// prepare makes the database, the practice and one account.
func (x *torture) prepare() {
	ctx := x.t.Context()
	admin, err := postgres.Open(ctx, x.cluster.URL("postgres"), 1)
	x.must(err)
	_, err = admin.ExecContext(ctx, `CREATE DATABASE `+databaseURL)
	x.must(err)
	admin.Close()
	db, err := postgres.Open(ctx, x.cluster.URL(databaseURL), 2)
	x.must(err)
	defer db.Close()
	x.must(postgres.Migrate(ctx, db))
	x.must(practice.PutPractice(ctx, db, practice.Practice{Name: "Halyard & Rook", Timezone: "UTC", LongestLinkDays: 90}))
	hash, err := secret.NewPasswords(1).Cheap().Hash(ctx, password)
	x.must(err)
	email := "ines.okafor@halyard-rook.example"
	x.must(people.AddPerson(ctx, db, accounts.Person{ID: uuid.Must(uuid.NewV7()), Email: email, EmailKey: sessions.Key(email), Name: "Ines Okafor", Standing: "colleague", PasswordHash: hash, CreatedAt: time.Now()}))
}

func (x *torture) must(err error) {
	x.t.Helper()
	if err != nil {
		x.t.Fatal(err)
	}
}

// start starts the server and waits until it answers.
func (x *torture) start() {
	x.t.Helper()
	c := x.config()
	x.server = exec.Command(x.bin, "serve")
	x.server.Env = append(os.Environ(), "TABULARIS_LISTEN="+x.listen, "TABULARIS_BASE_URL="+c.BaseURL, "TABULARIS_DATABASE_URL="+c.DatabaseURL, "TABULARIS_DATA_DIR="+c.DataDir, "TABULARIS_SMTP_ADDRESS="+c.Mail.Address, "TABULARIS_MAIL_FROM="+c.Mail.From, "TABULARIS_SMTP_PLAIN=yes")
	log, err := os.OpenFile(filepath.Join(x.dir, "server.log"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	x.must(err)
	x.server.Stdout, x.server.Stderr = log, log
	x.must(x.server.Start())
	log.Close()
	x.died = make(chan struct{})
	go func(cmd *exec.Cmd, died chan struct{}) { _ = cmd.Wait(); close(died) }(x.server, x.died)
	for range 1000 {
		if resp, err := http.Get("http://" + x.listen + "/api/practice"); err == nil {
			resp.Body.Close()
			return
		}
		select {
		case <-x.died:
			raw, _ := os.ReadFile(filepath.Join(x.dir, "server.log"))
			x.t.Fatalf("the server ended: %s", raw[max(0, len(raw)-2000):])
		case <-time.After(10 * time.Millisecond):
		}
	}
	x.t.Fatal("the server does not answer")
}

func (x *torture) kill() {
	_ = x.server.Process.Kill()
	<-x.died
}

// furnish makes the dossier, a document, and links with few openings.
func (x *torture) furnish() {
	c := x.client()
	var d contract.DossierRow
	x.ask(c, "POST", "/api/dossiers", contract.NewDossier{Code: "MER-24", Name: "Corran Lass", Kind: "client"}, &d)
	x.top = d.Id
	doc, ok := x.upload(c, &pending{data: []byte("given out")}, "given.txt")
	if !ok {
		x.t.Fatal("the first upload failed")
	}
	for i := range 10 {
		limit := 1 + i*3
		var l contract.Link
		x.ask(c, "POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{doc}, Openings: &limit}, &l)
		x.links = append(x.links, &limited{token: path.Base(*l.Address), limit: limit})
	}
}

func (x *torture) ask(c *http.Client, method, path string, body, into any) {
	x.t.Helper()
	status, raw, err := call(c, method, "http://"+x.listen+path, body)
	if err != nil || status >= 300 {
		x.t.Fatalf("%s %s: %d %s %v", method, path, status, raw, err)
	}
	if into != nil {
		x.must(json.Unmarshal(raw, into))
	}
}

func call(c *http.Client, method, url string, body any, header ...string) (int, []byte, error) {
	status, raw, _, err := exchange(c, method, url, body, header...)
	return status, raw, err
}

func exchange(c *http.Client, method, url string, body any, header ...string) (int, []byte, http.Header, error) {
	var r io.Reader
	switch b := body.(type) {
	case nil:
	case []byte:
		r = bytes.NewReader(b)
	default:
		raw, err := json.Marshal(b)
		if err != nil {
			return 0, nil, nil, err
		}
		r = bytes.NewReader(raw)
	}
	req, err := http.NewRequest(method, url, r)
	if err != nil {
		return 0, nil, nil, err
	}
	req.Header.Set("Content-Type", "application/json")
	for i := 0; i+1 < len(header); i += 2 {
		req.Header.Set(header[i], header[i+1])
	}
	resp, err := c.Do(req)
	if err != nil {
		return 0, nil, nil, err
	}
	defer resp.Body.Close()
	raw, err := io.ReadAll(resp.Body)
	return resp.StatusCode, raw, resp.Header, err
}

func (x *torture) client() *http.Client {
	jar, err := cookiejar.New(nil)
	x.must(err)
	c := &http.Client{Jar: jar, Timeout: 30 * time.Second}
	x.ask(c, "POST", "/api/session", contract.SignIn{Email: "ines.okafor@halyard-rook.example", Password: password}, nil)
	return c
}

// work lets everybody work for a while and then kills the server.
func (x *torture) work(round int) {
	c := x.client()
	stop := make(chan struct{})
	var wg sync.WaitGroup
	for w := range workers {
		wg.Go(func() {
			r := rand.New(rand.NewPCG(uint64(round), uint64(w)))
			for {
				select {
				case <-stop:
					return
				default:
				}
				if !x.act(c, r) {
					return
				}
			}
		})
	}
	time.Sleep(time.Duration(30+rand.IntN(350)) * time.Millisecond)
	x.kill()
	close(stop)
	wg.Wait()
}

// act does one thing; false means that the server is gone.
func (x *torture) act(c *http.Client, r *rand.Rand) bool {
	switch r.IntN(9) {
	case 8:
		// What happened is sealed again and again, and so also in the middle of it.
		_, _, err := call(c, "POST", "http://"+x.listen+"/api/evidence/seal", nil)
		return err == nil
	case 0:
		return x.open(r)
	case 1:
		return x.zip(c)
	case 2, 3:
		x.mu.Lock()
		var p *pending
		if n := len(x.half); n > 0 {
			i := r.IntN(n)
			one := x.half[i]
			x.half = append(x.half[:i], x.half[i+1:]...)
			p = &one
		}
		x.mu.Unlock()
		if p == nil {
			return true
		}
		_, ok := x.upload(c, p, "")
		if ok {
			x.mu.Lock()
			x.resumed++
			x.mu.Unlock()
		}
		return ok
	}
	data := make([]byte, r.IntN(400_000))
	for i := range data {
		data[i] = byte(r.Uint32())
	}
	// A third of the names come again: versions.
	_, ok := x.upload(c, &pending{data: data}, fmt.Sprintf("paper %d.bin", r.IntN(300)))
	return ok
}

// upload begins or resumes an upload and brings it to its end. What breaks off
// is remembered for later.
func (x *torture) upload(c *http.Client, p *pending, name string) (uuid.UUID, bool) {
	base := "http://" + x.listen
	fail := func() (uuid.UUID, bool) {
		x.mu.Lock()
		defer x.mu.Unlock()
		x.refused++
		if p.where != "" {
			x.half = append(x.half, *p)
		}
		return uuid.Nil, false
	}
	if p.where == "" {
		b64 := base64.StdEncoding.EncodeToString
		meta := "folder " + b64([]byte(x.top.String())) + ",name " + b64([]byte(name))
		status, raw, head, err := exchange(c, "POST", base+"/api/uploads", nil, "Tus-Resumable", "1.0.0", "Upload-Length", strconv.Itoa(len(p.data)), "Upload-Metadata", meta)
		if err != nil {
			return fail()
		}
		if status != 201 {
			x.t.Errorf("beginning: %d %s", status, raw)
			return fail()
		}
		p.where = "/api/uploads/" + path.Base(head.Get("Location"))
	}
	for {
		status, raw, head, err := exchange(c, "HEAD", base+p.where, nil, "Tus-Resumable", "1.0.0")
		if err != nil {
			return fail()
		}
		offset, convErr := strconv.Atoi(head.Get("Upload-Offset"))
		if status != 200 || convErr != nil || offset > len(p.data) {
			x.t.Errorf("%s stands at %q: %d %s", p.where, head.Get("Upload-Offset"), status, raw)
			return fail()
		}
		if offset == len(p.data) {
			break
		}
		end := min(len(p.data), offset+150_000)
		status, raw, err = call(c, "PATCH", base+p.where, p.data[offset:end], "Tus-Resumable", "1.0.0", "Upload-Offset", strconv.Itoa(offset), "Content-Type", "application/offset+octet-stream")
		if err != nil {
			return fail()
		}
		if status != 204 {
			x.t.Errorf("sending: %d %s", status, raw)
			return fail()
		}
	}
	status, raw, err := call(c, "GET", base+p.where+"/outcome", nil)
	if err != nil {
		return fail()
	}
	var out contract.UploadOutcome
	if status != 200 || json.Unmarshal(raw, &out) != nil {
		x.t.Errorf("the outcome: %d %s", status, raw)
		return fail()
	}
	x.mu.Lock()
	defer x.mu.Unlock()
	x.uploads++
	x.kept = append(x.kept, kept{out.Document.Id, out.Version, sha256.Sum256(p.data)})
	return out.Document.Id, true
}

func (x *torture) open(r *rand.Rand) bool {
	if len(x.links) == 0 {
		return true
	}
	l := x.links[r.IntN(len(x.links))]
	status, raw, err := call(&http.Client{Timeout: 30 * time.Second}, "POST", "http://"+x.listen+"/api/visits/"+l.token, contract.OpenLink{})
	if err != nil {
		return false
	}
	x.mu.Lock()
	defer x.mu.Unlock()
	switch status {
	case 204:
		l.shown++
		x.opened++
	case 410:
	default:
		x.t.Errorf("opening: %d %s", status, raw)
	}
	return true
}

func (x *torture) zip(c *http.Client) bool {
	x.mu.Lock()
	var some []string
	for _, k := range x.kept[max(0, len(x.kept)-5):] {
		some = append(some, "item="+k.document.String())
	}
	x.mu.Unlock()
	if len(some) == 0 {
		return true
	}
	status, raw, err := call(c, "GET", "http://"+x.listen+"/api/archive?"+strings.Join(some, "&"), nil)
	if err != nil {
		return false
	}
	if _, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw))); status != 200 || err != nil {
		x.t.Errorf("an archive that came to its end is torn: %d %v", status, err)
	}
	x.mu.Lock()
	x.zips++
	x.mu.Unlock()
	return true
}

// finish resumes what broke off and looks for what was lost.
func (x *torture) finish() {
	c := x.client()
	half := x.half
	x.half = nil
	for i := range half {
		if _, ok := x.upload(c, &half[i], ""); ok {
			x.resumed++
		}
	}
	if len(x.half) > 0 {
		x.t.Errorf("%d uploads cannot be resumed", len(x.half))
	}
	for _, k := range x.kept {
		status, raw, err := call(c, "GET", fmt.Sprintf("http://%s/api/documents/%s/content?version=%d", x.listen, k.document, k.version), nil)
		if err != nil || status != 200 || sha256.Sum256(raw) != k.sum {
			x.t.Errorf("version %d of %s was acknowledged and is not there: %d %v", k.version, k.document, status, err)
		}
	}
	for _, l := range x.links {
		if l.shown > l.limit {
			x.t.Errorf("a link with %d openings let %d in", l.limit, l.shown)
		}
	}
	x.kill()
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	app, err := server.New(ctx, x.config(), front.Files(), time.Now, secret.NewPasswords(1).Cheap(), slog.New(slog.DiscardHandler))
	x.must(err)
	defer app.Close()
	r, err := app.Care.Verify(ctx)
	x.must(err)
	if !r.Sound() {
		var text strings.Builder
		r.Write(&text)
		x.t.Errorf("the store is not whole:\n%s", text.String())
	}
	var counted int
	x.must(app.DB.Get(&counted, `SELECT sum(openings) FROM links`))
	if counted < x.opened {
		x.t.Errorf("%d openings were acknowledged, %d are counted", x.opened, counted)
	}
	x.must(app.Evidence.SealAll(ctx))
	f, err := app.Evidence.Compare(ctx, app.DB)
	x.must(err)
	if !f.Sound() {
		x.t.Errorf("the log and what happened differ: %+v", f)
	}
	app.Care.Rest = 0
	removed, err := app.Care.Clean(ctx)
	x.must(err)
	after, err := app.Care.Verify(ctx)
	x.must(err)
	if removed != len(r.Orphans) || len(after.Orphans) > 0 || !after.Sound() {
		x.t.Errorf("%d orphans were found, %d removed, %d are left", len(r.Orphans), removed, len(after.Orphans))
	}
	x.t.Logf("%d blobs are whole, %d orphans were removed, %d events are sealed", r.Blobs, removed, f.Size)
}

// Asked to stop, the server lets what is running finish or be resumed, and ends
// by itself.
func TestOrderlyShutdown(t *testing.T) {
	x := begin(t)
	x.start()
	x.furnish()
	c := x.client()
	data := make([]byte, 900_000)
	for i := range data {
		data[i] = byte(i * i >> 9)
	}
	b64 := base64.StdEncoding.EncodeToString
	meta := "folder " + b64([]byte(x.top.String())) + ",name " + b64([]byte("long.bin"))
	status, _, head, err := exchange(c, "POST", "http://"+x.listen+"/api/uploads", nil, "Tus-Resumable", "1.0.0", "Upload-Length", strconv.Itoa(len(data)), "Upload-Metadata", meta)
	if err != nil || status != 201 {
		t.Fatalf("beginning: %d %v", status, err)
	}
	p := &pending{where: "/api/uploads/" + path.Base(head.Get("Location")), data: data}
	// Half of it is on its way when the server is asked to stop, the other half
	// never comes.
	r, w := io.Pipe()
	req, err := http.NewRequest("PATCH", "http://"+x.listen+p.where, r)
	x.must(err)
	for name, value := range map[string]string{"Tus-Resumable": "1.0.0", "Upload-Offset": "0", "Content-Type": "application/offset+octet-stream", "Expect": "100-continue"} {
		req.Header.Set(name, value)
	}
	// Nothing is sent before the server has said that it is reading.
	c.Transport = &http.Transport{ExpectContinueTimeout: time.Minute}
	sent := make(chan struct{})
	go func() {
		if resp, err := c.Do(req); err == nil {
			resp.Body.Close()
		}
		close(sent)
	}()
	_, err = w.Write(data[:450_000])
	x.must(err)
	x.must(x.server.Process.Signal(syscall.SIGTERM))
	select {
	case <-x.died:
	case <-time.After(time.Minute):
		t.Fatal("the server did not stop")
	}
	w.CloseWithError(io.ErrUnexpectedEOF)
	<-sent
	if !x.server.ProcessState.Success() {
		t.Errorf("it ended with %v", x.server.ProcessState)
	}
	x.start()
	head2, _, h, err := exchange(c, "HEAD", "http://"+x.listen+p.where, nil, "Tus-Resumable", "1.0.0")
	if offset, _ := strconv.Atoi(h.Get("Upload-Offset")); err != nil || head2 != 200 || offset < 300_000 {
		t.Errorf("of 450,000 bytes that arrived %d were kept: %d %v", offset, head2, err)
	}
	if _, ok := x.upload(c, p, ""); !ok {
		t.Error("the upload cannot be resumed")
	}
	x.kill()
}

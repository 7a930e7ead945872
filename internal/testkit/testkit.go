// Package testkit runs the real server on a real PostgreSQL for tests.
package testkit

import (
	"bytes"
	"context"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"testing/fstest"
	"time"

	"tabularis/api"

	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/people"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/postgres"

	"github.com/coder/websocket"
	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/internal/app/act"
	"tabularis/internal/app/sessions"
	"tabularis/internal/app/sharing"
	"tabularis/internal/devdb"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/platform/cell"
	"tabularis/internal/platform/mail"
	"tabularis/internal/platform/mail/standin"
	"tabularis/internal/platform/reading"
	"tabularis/internal/platform/secret"
	"tabularis/internal/server"
	front "tabularis/web"
)

var (
	cluster *devdb.Cluster
	// cells read content for all servers of a package's tests.
	cells *cell.Pool
)

// compiled is the folder for compiled code, which all packages' tests share.
func compiled() string { return filepath.Join(os.TempDir(), "tabularis-compiled") }

// Main starts a database for all tests of a package and calls after when they
// have run. Call it from TestMain.
func Main(m *testing.M, after ...func()) {
	// What a test loses in a crash of the machine is not missed.
	status := run(m, "fsync=off", "synchronous_commit=off", "full_page_writes=off", "max_connections=400")
	end(status, after)
}

// Durable is Main with a database that keeps what it has acknowledged, as in
// real use: for measurements.
func Durable(m *testing.M, after ...func()) { end(run(m, "shared_buffers=512MB"), after) }

func end(status int, after []func()) {
	for _, fn := range after {
		fn()
	}
	os.Exit(status)
}

func run(m *testing.M, settings ...string) int {
	reading.Enter()
	cells = cell.New(0, compiled())
	defer cells.Close()
	dir, err := os.MkdirTemp("", "tabularis-test-")
	if err != nil {
		return failed(err)
	}
	defer os.RemoveAll(dir)
	if err := os.Chmod(dir, 0o755); err != nil {
		return failed(err)
	}
	ctx := context.Background()
	if cluster, err = devdb.Start(ctx, filepath.Join(dir, "postgres"), settings...); err != nil {
		return failed(err)
	}
	defer cluster.Stop()
	if err := template(ctx); err != nil {
		return failed(err)
	}
	return m.Run()
}

// Cells are such as no other test has.
func Cells(t testing.TB) *cell.Pool {
	p := cell.New(0, compiled())
	t.Cleanup(p.Close)
	return p
}

func failed(err error) int {
	fmt.Fprintln(os.Stderr, "testkit:", err)
	return 1
}

// template migrates once what every test copies.
func template(ctx context.Context) error {
	admin, err := postgres.Open(ctx, cluster.URL("postgres"), 1)
	if err != nil {
		return err
	}
	defer admin.Close()
	if _, err := admin.ExecContext(ctx, `CREATE DATABASE template_tabularis`); err != nil {
		return err
	}
	db, err := postgres.Open(ctx, cluster.URL("template_tabularis"), 4)
	if err != nil {
		return err
	}
	defer db.Close()
	if err := postgres.Migrate(ctx, db); err != nil {
		return err
	}
	return spare.remember(ctx, db)
}

// Password is everybody's in tests.
const Password = "tessaly-harbour"

// Kit is a running server with the demo's people.
type Kit struct {
	T       testing.TB
	App     *server.App
	URL     string
	DataDir string
	Mail    *standin.Server
	People  map[string]accounts.Person
	offset  atomic.Int64
	// urls are the addresses of all server processes; requests take turns.
	urls []string
	turn atomic.Int64
}

// processes is how many servers run side by side on one database and one
// store: TABULARIS_PROCESSES, usually one.
func processes() int {
	n, err := strconv.Atoi(os.Getenv("TABULARIS_PROCESSES"))
	if err != nil || n < 1 {
		return 1
	}
	return n
}

// New starts a server of one's own. It ends with the test. Each change is made
// to its settings first.
func New(t testing.TB, changes ...func(c *server.Config)) *Kit {
	t.Helper()
	leaveOut(t)
	k := &Kit{T: t, People: map[string]accounts.Person{}, DataDir: t.TempDir()}
	// Cleanups run last in, first out: the server stops before its folder goes.
	ctx, cancel := context.WithCancel(context.Background())
	var listeners []net.Listener
	for range processes() {
		listener, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		listeners = append(listeners, listener)
		k.urls = append(k.urls, "http://"+listener.Addr().String())
	}
	var err error
	if k.Mail, err = standin.Start(ctx, filepath.Join(k.DataDir, "mail"), "127.0.0.1:0", "127.0.0.1:0"); err != nil {
		t.Fatal(err)
	}
	k.URL = k.urls[0]
	passwords := secret.NewPasswords(4).Cheap()
	database := lend(t)
	config := server.Config{BaseURL: k.URL, DatabaseURL: database.url, DataDir: k.DataDir, KeyFile: filepath.Join(k.DataDir, "key"),
		CompiledDir: compiled(), Cells: cells, MaxUpload: 64 << 20, Mail: mail.Settings{Address: k.Mail.SMTP, From: "papers@halyard-rook.example", Plain: true}}
	if os.Getenv("TABULARIS_BUCKET") == "yes" {
		config.ContentURL = Bucket(t)
	}
	if config.Signing, err = trust(); err != nil {
		t.Fatal(err)
	}
	for _, change := range changes {
		change(&config)
	}
	var apps []*server.App
	for i := range listeners {
		log := slog.New(slog.NewTextHandler(testWriter{t}, &slog.HandlerOptions{Level: slog.LevelWarn}))
		if to, ok := logs.Load(t); ok {
			log = slog.New(slog.NewJSONHandler(to.(io.Writer), nil))
		}
		if config.DatabaseURL == database.url {
			c, err := database.connections(i)
			if err != nil {
				t.Fatal(err)
			}
			config.Connections = c
		}
		app, err := server.New(ctx, config, files(), k.Now, passwords, log)
		if err != nil {
			t.Fatal(err)
		}
		apps = append(apps, app)
	}
	k.App = apps[0]
	k.practice(passwords)
	done := make(chan error, len(apps))
	for i, app := range apps {
		go func() { done <- app.Run(ctx, listeners[i]) }()
	}
	t.Cleanup(func() {
		cancel()
		for range apps {
			if err := <-done; err != nil {
				t.Errorf("a server ended with %v", err)
			}
		}
		for _, app := range apps {
			app.Close()
		}
	})
	return k
}

// files is the built front end, or pages in its place where it is not built:
// tests of the API do not need it.
func files() fs.FS {
	if _, err := fs.Stat(front.Files(), "index.html"); err == nil {
		return front.Files()
	}
	return fstest.MapFS{"index.html": {Data: []byte("<!doctype html>")}, "visitor.html": {Data: []byte("<!doctype html>")}}
}

// logs are where the servers of some tests write their log.
var logs sync.Map

// LogTo lets the servers that a test starts from now on write their log there.
func LogTo(t testing.TB, w io.Writer) {
	logs.Store(t, w)
	t.Cleanup(func() { logs.Delete(t) })
}

// shared are the tests that run a second time, by their names.
var shared sync.Map

// Shared marks a test of what several servers have in common: rows that count and
// lock, events that travel, content that both serve. It runs a second time against
// two processes with a bucket; a test without the mark is left out there.
func Shared(t testing.TB) { shared.Store(t.Name(), true) }

// leaveOut skips a test that has nothing to show about several servers.
func leaveOut(t testing.TB) {
	name, _, _ := strings.Cut(t.Name(), "/")
	if _, marked := shared.Load(name); processes() > 1 && !marked {
		t.Skip("runs once, against one server")
	}
}

// Soaking is the usual measure of a test that would take long at its full one; the
// full one is tried by make torture.
func Soaking(usual, full int) int {
	if os.Getenv("TORTURE_ROUNDS") != "" {
		return full
	}
	return usual
}

// Processes is how many servers run side by side.
func (k *Kit) Processes() int { return len(k.urls) }

type testWriter struct{ t testing.TB }

func (w testWriter) Write(p []byte) (int, error) {
	w.t.Helper()
	w.t.Logf("server: %s", bytes.TrimSpace(p))
	return len(p), nil
}

// Now is the server's clock: the present, moved by Later.
func (k *Kit) Now() time.Time { return time.Now().Add(time.Duration(k.offset.Load())) }

// Later moves the server's clock forward.
func (k *Kit) Later(d time.Duration) { k.offset.Add(int64(d)) }

func (k *Kit) practice(passwords *secret.Passwords) {
	k.T.Helper()
	ctx := context.Background()
	if err := practice.PutPractice(ctx, k.App.DB, practice.Practice{Name: "Halyard & Rook", Tagline: "marine surveyors, Tessaly", Timezone: "UTC", Helper: "Hanne Solvik", LongestLinkDays: 90}); err != nil {
		k.T.Fatal(err)
	}
	hash, err := passwords.Hash(ctx, Password)
	if err != nil {
		k.T.Fatal(err)
	}
	for key, name := range map[string]string{"ines": "Ines Okafor", "tomasz": "Tomasz Rehn", "priya": "Priya Valdane", "luca": "Luca Ferrante", "hanne": "Hanne Solvik"} {
		email := strings.ToLower(strings.ReplaceAll(name, " ", ".")) + "@halyard-rook.example"
		p := accounts.Person{ID: uuid.Must(uuid.NewV7()), Email: email, EmailKey: sessions.Key(email), Name: name, Standing: "colleague", PasswordHash: hash, CreatedAt: time.Now()}
		if err := people.AddPerson(ctx, k.App.DB, p); err != nil {
			k.T.Fatal(err)
		}
		k.People[key] = p
	}
}

// As is a context in which a colleague acts within the server.
func (k *Kit) As(who string) context.Context {
	p := k.People[who]
	return act.As(context.Background(), act.Actor{Person: &p, Network: "127.0.0.1"})
}

// Give lets somebody give access to a person on an item, to be passed on.
func (k *Kit) Give(by string, item uuid.UUID, to string, level access.Level) {
	k.T.Helper()
	w := sharing.Wish{Items: []uuid.UUID{item}, To: []sharing.Recipient{{ID: k.People[to].ID}}, Terms: sharing.Terms{Level: level, Onward: level == access.LevelEdit}}
	if err := k.App.Web.Sharing.Give(k.As(by), w); err != nil {
		k.T.Fatal(err)
	}
}

// Appoint gives somebody a standing behind the back of the rules.
func (k *Kit) Appoint(who, standing string) {
	k.T.Helper()
	if _, err := k.App.DB.Exec(`UPDATE people SET standing = $2 WHERE id = $1`, k.People[who].ID, standing); err != nil {
		k.T.Fatal(err)
	}
	if err := guard.Bump(k.T.Context(), k.App.DB, guard.PeopleStamp); err != nil {
		k.T.Fatal(err)
	}
	p := k.People[who]
	p.Standing = standing
	k.People[who] = p
}

// Client is one browser: its own cookies.
type Client struct {
	Kit  *Kit
	HTTP *http.Client
}

// Visitor is a client that is not signed in.
func (k *Kit) Visitor() *Client {
	jar, err := cookiejar.New(nil)
	if err != nil {
		k.T.Fatal(err)
	}
	return &Client{Kit: k, HTTP: &http.Client{Jar: jar, Timeout: time.Minute}}
}

// SignIn is a client signed in as a colleague.
func (k *Kit) SignIn(who string) *Client {
	k.T.Helper()
	c := k.Visitor()
	c.Want(200, "POST", "/api/session", contract.SignIn{Email: k.People[who].Email, Password: Password})
	return c
}

// Socket opens a socket, at one of the processes.
func (c *Client) Socket(ctx context.Context, path string) (*websocket.Conn, *http.Response, error) {
	at := c.Kit.urls[int(c.Kit.turn.Add(1))%len(c.Kit.urls)]
	return websocket.Dial(ctx, at+path, &websocket.DialOptions{HTTPClient: &http.Client{Jar: c.HTTP.Jar}, HTTPHeader: http.Header{"Origin": {at}}})
}

// Answer is what came back.
type Answer struct {
	Status int
	Header http.Header
	Body   []byte
}

// Code is the code of a refusal.
func (a Answer) Code() string {
	var p contract.Problem
	if json.Unmarshal(a.Body, &p) != nil {
		return ""
	}
	return strings.TrimPrefix(p.Type, "/problems/")
}

// Do sends a request; body is JSON unless it is a reader.
func (c *Client) Do(method, path string, body any, header ...string) Answer {
	c.Kit.T.Helper()
	a, err := c.Try(method, path, body, header...)
	if err != nil {
		c.Kit.T.Fatalf("%s %s: %v", method, path, err)
	}
	return a
}

// Try is Do for requests that may fail on the way.
func (c *Client) Try(method, path string, body any, header ...string) (Answer, error) {
	var r io.Reader
	switch b := body.(type) {
	case nil:
	case io.Reader:
		r = b
	default:
		raw, err := json.Marshal(b)
		if err != nil {
			return Answer{}, err
		}
		r = bytes.NewReader(raw)
	}
	if strings.HasPrefix(path, "/") {
		path = c.Kit.urls[int(c.Kit.turn.Add(1))%len(c.Kit.urls)] + path
	}
	req, err := http.NewRequest(method, path, r)
	if err != nil {
		return Answer{}, err
	}
	if r != nil {
		req.Header.Set("Content-Type", "application/json")
	}
	for i := 0; i+1 < len(header); i += 2 {
		req.Header.Set(header[i], header[i+1])
	}
	resp, err := c.HTTP.Do(req)
	if err != nil {
		return Answer{}, err
	}
	defer resp.Body.Close()
	raw, err := io.ReadAll(resp.Body)
	answer := Answer{resp.StatusCode, resp.Header, raw}
	if err == nil {
		c.Kit.declared(method, req.URL.Path, answer)
	}
	return answer, err
}

// declared fails the test when an operation refuses with a code that the contract
// does not name for it.
func (k *Kit) declared(method, path string, a Answer) {
	isOurs := func(c fault.Code) bool { return c.Name() == a.Code() }
	if a.Header.Get("Content-Type") != "application/problem+json" || !slices.ContainsFunc(fault.Declared(), isOurs) {
		// What a test makes up itself is no word of the contract's.
		return
	}
	operations, err := api.Operations()
	if err != nil {
		k.T.Error(err)
		return
	}
	for key, op := range operations {
		if of, route, _ := strings.Cut(key, " "); of == method && fits(route, path) && !slices.Contains(op.Errors, a.Code()) {
			k.T.Errorf("%s refuses with %s, which the contract does not name: %s", key, a.Code(), a.Body)
		}
	}
}

// fits reports whether a path is one of a route with parameters.
func fits(route, path string) bool {
	want, have := strings.Split(route, "/"), strings.Split(path, "/")
	return len(want) == len(have) && slices.EqualFunc(want, have, func(w, h string) bool { return strings.HasPrefix(w, ":") || w == h })
}

// Want sends a request and fails the test unless the status is as wanted.
func (c *Client) Want(status int, method, path string, body any, header ...string) Answer {
	c.Kit.T.Helper()
	a := c.Do(method, path, body, header...)
	if a.Status != status {
		c.Kit.T.Fatalf("%s %s: status %d, want %d: %s", method, path, a.Status, status, a.Body)
	}
	return a
}

// Get reads JSON.
func Get[T any](c *Client, path string) T {
	c.Kit.T.Helper()
	return read[T](c, c.Want(200, "GET", path, nil))
}

// Post sends JSON and reads the answer.
func Post[T any](c *Client, status int, path string, body any) T {
	c.Kit.T.Helper()
	return read[T](c, c.Want(status, "POST", path, body))
}

func read[T any](c *Client, a Answer) (v T) {
	c.Kit.T.Helper()
	if err := json.Unmarshal(a.Body, &v); err != nil {
		c.Kit.T.Fatalf("reading %s: %v", a.Body, err)
	}
	return v
}

// Begin opens an upload and returns its address.
func (c *Client) Begin(folder uuid.UUID, path, name string, size int, more ...string) Answer {
	c.Kit.T.Helper()
	meta := fmt.Sprintf("folder %s,name %s,path %s", b64(folder.String()), b64(name), b64(path))
	for i := 0; i+1 < len(more); i += 2 {
		meta += "," + more[i] + " " + b64(more[i+1])
	}
	a := c.Do("POST", "/api/uploads", nil, "Tus-Resumable", "1.0.0", "Upload-Length", strconv.Itoa(size), "Upload-Metadata", meta)
	// Whichever process began it, any continues it.
	if at := strings.Index(a.Header.Get("Location"), "/api/"); at >= 0 {
		a.Header.Set("Location", a.Header.Get("Location")[at:])
	}
	return a
}

func b64(s string) string { return base64.StdEncoding.EncodeToString([]byte(s)) }

// Upload brings a whole document in and returns what became of it.
func (c *Client) Upload(folder uuid.UUID, path, name string, data []byte, more ...string) contract.UploadOutcome {
	c.Kit.T.Helper()
	begun := c.Begin(folder, path, name, len(data), more...)
	if begun.Status != 201 {
		c.Kit.T.Fatalf("beginning %q: %d %s", name, begun.Status, begun.Body)
	}
	where := begun.Header.Get("Location")
	if len(data) > 0 {
		c.Want(204, "PATCH", where, bytes.NewReader(data), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
	}
	return Get[contract.UploadOutcome](c, "/api/uploads/"+where[strings.LastIndex(where, "/")+1:]+"/outcome")
}

// Steps are changes of a document that is written, as they are sent.
func Steps(all ...map[string]any) []json.RawMessage {
	steps := make([]json.RawMessage, len(all))
	for i, one := range all {
		raw, err := json.Marshal(one)
		if err != nil {
			panic(err)
		}
		steps[i] = raw
	}
	return steps
}

// Object is the object that some JSON is.
func Object(raw []byte) (o map[string]any) {
	if err := json.Unmarshal(raw, &o); err != nil {
		panic(err)
	}
	return o
}

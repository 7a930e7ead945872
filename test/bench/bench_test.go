// Package bench_test measures the server beside plain tools that do the same,
// in one run, and prints one table of ratios. BENCH_MB sets the size of the
// large content (1024).
package bench_test

import (
	"bytes"
	"compress/gzip"
	"crypto/rand"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"regexp"
	"runtime"
	"slices"
	"sort"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"tabularis/core/items"
	"tabularis/internal/app/dossiers"

	"codeberg.org/go-pdf/fpdf"
	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/server"
	"tabularis/internal/testkit"
	front "tabularis/web"
)

var table []string

func TestMain(m *testing.M) {
	testkit.Durable(m, func() {
		fmt.Printf("\n%-64s %12s %12s %8s  %s\n", "what", "ours", "beside", "ratio", "wanted")
		fmt.Println(strings.Join(table, "\n"))
	})
}

// line adds a line to the table, and shows at once how far it has come.
func line(text string) {
	table = append(table, text)
	fmt.Fprintln(os.Stderr, text)
}

func row(what, ours, beside string, ratio float64, wanted string) {
	line(fmt.Sprintf("%-64s %12s %12s %8.2f  %s", what, ours, beside, ratio, wanted))
}

func megabytes() int64 {
	if n, err := strconv.ParseInt(os.Getenv("BENCH_MB"), 10, 64); err == nil && n > 0 {
		return n
	}
	return 1024
}

// median runs two things in turn, some rounds, and returns their medians.
func median(b *testing.B, rounds int, ours, beside func()) (time.Duration, time.Duration) {
	b.Helper()
	var x, y []time.Duration
	for range rounds {
		for _, s := range []struct {
			fn   func()
			into *[]time.Duration
		}{{ours, &x}, {beside, &y}} {
			begun := time.Now()
			s.fn()
			*s.into = append(*s.into, time.Since(begun))
		}
	}
	slices.Sort(x)
	slices.Sort(y)
	return x[rounds/2], y[rounds/2]
}

func rate(bytes int64, d time.Duration) string {
	return fmt.Sprintf("%.0f MB/s", float64(bytes)/1e6/d.Seconds())
}

type practice struct {
	*testkit.Kit
	c   *testkit.Client
	top uuid.UUID
}

func newPractice(b *testing.B) practice {
	k := testkit.New(b, func(c *server.Config) { c.MaxUpload = 64 << 30 })
	c := k.SignIn("ines")
	c.HTTP.Timeout = 10 * time.Minute
	top := testkit.Post[contract.DossierRow](c, 201, "/api/dossiers", contract.NewDossier{Code: "MER-24", Name: "Corran Lass", Kind: "client"}).Id
	return practice{k, c, top}
}

// noise writes a file that nothing can compress.
func noise(b *testing.B, name string, size int64) {
	f, err := os.Create(name)
	if err != nil {
		b.Fatal(err)
	}
	if _, err := io.CopyN(f, rand.Reader, size); err != nil {
		b.Fatal(err)
	}
	if err := f.Close(); err != nil {
		b.Fatal(err)
	}
}

func run(b *testing.B, name string, args ...string) {
	b.Helper()
	if out, err := exec.Command(name, args...).CombinedOutput(); err != nil {
		b.Fatalf("%s: %v\n%s", name, err, out)
	}
}

// upload sends a file through the protocol of resumable uploads.
func (p practice) upload(b *testing.B, file, name string, size int64) uuid.UUID {
	begun := p.c.Begin(p.top, "", name, int(size))
	where := begun.Header.Get("Location")
	f, err := os.Open(file)
	if err != nil {
		b.Fatal(err)
	}
	defer f.Close()
	p.c.Want(204, "PATCH", where, f, "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
	return testkit.Get[contract.UploadOutcome](p.c, "/api/uploads/"+path.Base(where)+"/outcome").Document.Id
}

func (p practice) fetch(b *testing.B, url string) {
	resp, err := p.c.HTTP.Get(url)
	if err != nil {
		b.Fatal(err)
	}
	defer resp.Body.Close()
	if _, err := io.Copy(io.Discard, resp.Body); err != nil || resp.StatusCode != 200 {
		b.Fatalf("%s: %d %v", url, resp.StatusCode, err)
	}
}

// nginx serves a folder with plain files.
func nginx(b *testing.B, dir string) string {
	bin, err := exec.LookPath("nginx")
	if err != nil {
		if bin = "/usr/sbin/nginx"; errors.Is(exec.Command(bin, "-v").Run(), fs.ErrNotExist) {
			b.Skip("nginx is not installed")
		}
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		b.Fatal(err)
	}
	address := l.Addr().String()
	l.Close()
	home := b.TempDir()
	for d := home; d != "/tmp" && d != "/"; d = filepath.Dir(d) {
		if err := os.Chmod(d, 0o755); err != nil {
			b.Fatal(err)
		}
	}
	conf := fmt.Sprintf("daemon off; master_process off; pid %[1]s/pid; error_log %[1]s/error.log; events { worker_connections 1024; }\nhttp { access_log off; sendfile on; client_body_temp_path %[1]s/b; proxy_temp_path %[1]s/p; fastcgi_temp_path %[1]s/f; uwsgi_temp_path %[1]s/u; scgi_temp_path %[1]s/s; server { listen %[2]s; root %[3]s; location / { dav_methods PUT; client_max_body_size 0; } } }", home, address, dir)
	if err := os.WriteFile(home+"/conf", []byte(conf), 0o600); err != nil {
		b.Fatal(err)
	}
	cmd := exec.Command(bin, "-p", home, "-c", home+"/conf")
	if err := cmd.Start(); err != nil {
		b.Fatal(err)
	}
	b.Cleanup(func() {
		_ = cmd.Process.Kill()
		_ = cmd.Wait()
	})
	for range 200 {
		if c, err := net.Dial("tcp", address); err == nil {
			c.Close()
			break
		}
		time.Sleep(10 * time.Millisecond)
	}
	return "http://" + address
}

func BenchmarkLargeContent(b *testing.B) {
	p, dir, size := newPractice(b), b.TempDir(), megabytes()<<20
	plain := filepath.Join(dir, "big.bin")
	noise(b, plain, size)
	n := 0
	var id uuid.UUID
	ours, beside := median(b, 3, func() {
		n++
		// A changed byte makes content of its own each time.
		f, err := os.OpenFile(plain, os.O_WRONLY, 0)
		if err != nil {
			b.Fatal(err)
		}
		if _, err := f.WriteAt([]byte{byte(n)}, 0); err != nil {
			b.Fatal(err)
		}
		f.Close()
		id = p.upload(b, plain, fmt.Sprintf("big %d.bin", n), size)
	}, func() {
		run(b, "dd", "if="+plain, "of="+plain+".copy", "bs=1M", "conv=fsync")
		run(b, "sha256sum", plain+".copy")
	})
	row(fmt.Sprintf("upload %d MiB, hashed, encrypted, durable | dd fsync + sha256sum", size>>20), rate(size, ours), rate(size, beside), beside.Seconds()/ours.Seconds(), "at least 0.7")
	web := nginx(b, dir)
	ours, beside = median(b, 3, func() { p.fetch(b, p.URL+"/api/documents/"+id.String()+"/content") }, func() { p.fetch(b, web+"/big.bin") })
	row(fmt.Sprintf("download %d MiB, decrypted | nginx, plain file", size>>20), rate(size, ours), rate(size, beside), beside.Seconds()/ours.Seconds(), "at least 0.5")
	var mem runtime.MemStats
	runtime.ReadMemStats(&mem)
	line(fmt.Sprintf("%-64s %12s", "memory taken from the system by then, server and client together", fmt.Sprintf("%d MB", mem.Sys>>20)))
}

func BenchmarkSmallDownloads(b *testing.B) {
	p, dir := newPractice(b), b.TempDir()
	small := filepath.Join(dir, "small.bin")
	noise(b, small, 20_000)
	id := p.upload(b, small, "small.bin", 20_000)
	web := nginx(b, dir)
	many := func(url string) {
		var wg sync.WaitGroup
		for range 8 {
			wg.Go(func() {
				for range 250 {
					p.fetch(b, url)
				}
			})
		}
		wg.Wait()
	}
	p.c.HTTP.Transport = &http.Transport{MaxIdleConnsPerHost: 16}
	ours, beside := median(b, 3, func() { many(p.URL + "/api/documents/" + id.String() + "/content") }, func() { many(web + "/small.bin") })
	per := func(d time.Duration) string { return fmt.Sprintf("%.0f/s", 2000/d.Seconds()) }
	row("2,000 downloads of 20 kB with access decision | nginx", per(ours), per(beside), beside.Seconds()/ours.Seconds(), "at least 0.2")
}

func BenchmarkArchive(b *testing.B) {
	p, dir, size := newPractice(b), b.TempDir(), megabytes()<<20
	const files = 32
	var names []string
	for i := range files {
		name := filepath.Join(dir, fmt.Sprintf("%02d.bin", i))
		noise(b, name, size/files)
		p.upload(b, name, filepath.Base(name), size/files)
		names = append(names, filepath.Base(name))
	}
	ours, beside := median(b, 3, func() { p.fetch(b, p.URL+"/api/archive?item="+p.top.String()) }, func() {
		cmd := exec.Command("zip", append([]string{"-q", "-0", "-"}, names...)...)
		cmd.Dir = dir
		out, err := cmd.StdoutPipe()
		if err != nil {
			b.Fatal(err)
		}
		if err := cmd.Start(); err != nil {
			b.Skip("zip is not installed")
		}
		if _, err := io.Copy(io.Discard, out); err != nil {
			b.Fatal(err)
		}
		if err := cmd.Wait(); err != nil {
			b.Fatal(err)
		}
	})
	row(fmt.Sprintf("archive of a folder of %d MiB, streamed | zip -0 -", size>>20), rate(size, ours), rate(size, beside), beside.Seconds()/ours.Seconds(), "at least 0.7")
}

// fill puts n documents of one content into a folder, without their events.
func (p practice) fill(b *testing.B, n int) {
	p.c.Upload(p.top, "", "first.txt", []byte("content"))
	if _, err := p.App.DB.Exec(`INSERT INTO items (id, dossier_id, scope_id, parent_id, kind, name, name_key, number, version, sha256, size, media_type, last_event_id, last_at, last_kind, last_by, created_by, created_at)
		SELECT gen_random_uuid(), dossier_id, parent_id, parent_id, 'document', 'paper ' || n, 'paper ' || n, 1000 + n, 1, sha256, n, media_type, last_event_id, last_at, last_kind, last_by, created_by, created_at
		FROM items, generate_series(1, $2::int) n WHERE parent_id = $1 AND kind = 'document'`, p.top, n); err != nil {
		b.Fatal(err)
	}
	if _, err := p.App.DB.Exec(`UPDATE items SET n_documents = n_documents + $2 WHERE id = $1`, p.top, n); err != nil {
		b.Fatal(err)
	}
	if _, err := p.App.DB.Exec(`ANALYZE`); err != nil {
		b.Fatal(err)
	}
}

var byNumber = dossiers.Reading{Order: dossiers.Order{Name: "number"}}

func BenchmarkRegister(b *testing.B) {
	p := newPractice(b)
	p.fill(b, 100_000)
	after := ""
	bare := func(after int) (rows []items.Item) {
		err := p.App.DB.SelectContext(b.Context(), &rows, `SELECT * FROM items WHERE parent_id = $1 AND kind = 'document' AND number > $2 ORDER BY number LIMIT 200`, p.top, after)
		if err != nil {
			b.Fatal(err)
		}
		return rows
	}
	ours := func(pages int) func() {
		return func() {
			after = ""
			for range pages {
				page, err := p.App.Web.Dossiers.Register(p.As("ines"), p.top, dossiers.Seen{}, byNumber, after, 200)
				if err != nil {
					b.Fatal(err)
				}
				after = page.Next
			}
		}
	}
	beside := func(pages int) func() {
		return func() {
			last := 0
			for range pages {
				rows := bare(last)
				last = *rows[len(rows)-1].Number
			}
		}
	}
	x, y := median(b, 60, ours(1), beside(1))
	row("register's first page in a folder of 100,000 | bare SQL", ms(x), ms(y), x.Seconds()/y.Seconds(), "at most 1.5")
	x, y = median(b, 9, ours(50), beside(50))
	row("50 pages on | bare SQL", ms(x), ms(y), x.Seconds()/y.Seconds(), "at most 1.5")
	first := func(r dossiers.Reading) func() {
		return func() {
			if _, err := p.App.Web.Dossiers.Register(p.As("ines"), p.top, dossiers.Seen{}, r, "", 200); err != nil {
				b.Fatal(err)
			}
		}
	}
	sorted := func() {
		var rows []items.Item
		if err := p.App.DB.SelectContext(b.Context(), &rows, `SELECT * FROM items WHERE parent_id = $1 AND kind = 'document' ORDER BY version DESC, id DESC LIMIT 200`, p.top); err != nil {
			b.Fatal(err)
		}
	}
	for what, r := range map[string]dossiers.Reading{
		"by version, for which there is no index":  {Order: dossiers.Order{Name: "version"}},
		"in groups by kind, counted":               {Order: dossiers.Order{Name: "event"}, Group: dossiers.Group{Name: dossiers.ByKind}},
		"in groups by who brought it, counted":     {Order: dossiers.Order{Name: "event"}, Group: dossiers.Group{Name: dossiers.ByPerson}},
		"narrowed down to a kind, and measured":    {Order: dossiers.Order{Name: "number"}, Only: dossiers.Only{Kind: "text"}},
		"narrowed down to what one person brought": {Order: dossiers.Order{Name: "name"}, Only: dossiers.Only{Person: p.People["ines"].ID}},
	} {
		x, y = median(b, 15, first(r), sorted)
		row("register of 100,000 "+what+" | all of it sorted by bare SQL", ms(x), ms(y), x.Seconds()/y.Seconds(), "")
	}
}

func BenchmarkVisitors(b *testing.B) {
	p := newPractice(b)
	doc := p.c.Upload(p.top, "", "a.txt", []byte("text")).Document.Id
	l := testkit.Post[contract.Link](p.c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{doc}})
	token := path.Base(*l.Address)
	p95 := func(url string) time.Duration {
		client := &http.Client{Transport: &http.Transport{MaxIdleConnsPerHost: 200}}
		var mu sync.Mutex
		var all []time.Duration
		var wg sync.WaitGroup
		for range 200 {
			wg.Go(func() {
				for range 10 {
					begun := time.Now()
					resp, err := client.Get(url)
					if err != nil {
						b.Error(err)
						return
					}
					_, _ = io.Copy(io.Discard, resp.Body)
					resp.Body.Close()
					mu.Lock()
					all = append(all, time.Since(begun))
					mu.Unlock()
				}
			})
		}
		wg.Wait()
		sort.Slice(all, func(i, j int) bool { return all[i] < all[j] })
		return all[len(all)*95/100]
	}
	p95(p.URL + "/l/" + token)
	front, page := p95(p.URL+"/api/visits/"+token), p95(p.URL+"/l/"+token)
	row("a link's front, 200 visitors at once, p95 | the static page", front.Round(time.Millisecond).String(), page.Round(time.Millisecond).String(), front.Seconds()/page.Seconds(), "at most 3")
}

// BenchmarkMarkedPages times pages that may only be viewed: the first one of a
// report of 40 pages, the one after it, and the first one for another viewer.
func BenchmarkMarkedPages(b *testing.B) {
	p := newPractice(b)
	report := fpdf.New("P", "mm", "A4", "")
	report.SetFont("Helvetica", "", 10)
	for n := range 40 {
		report.AddPage()
		for line := range 55 {
			report.Text(20, 20+float64(line)*4.6, fmt.Sprintf("Page %d, line %d: frame %d measured 8.1 mm, a diminution of 19 per cent of the original", n, line, line+12))
		}
	}
	var raw bytes.Buffer
	if err := report.Output(&raw); err != nil {
		b.Fatal(err)
	}
	only := true
	doc := p.c.Upload(p.top, "", "report.pdf", raw.Bytes()).Document.Id
	l := testkit.Post[contract.Link](p.c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{doc}, ViewOnly: &only})
	visit := "/api/visits/" + path.Base(*l.Address)
	enter := func() *testkit.Client {
		v := p.Visitor()
		v.Want(204, "POST", visit, contract.OpenLink{})
		return v
	}
	one, other := enter(), enter()
	page := func(v *testkit.Client, n int) time.Duration {
		begun := time.Now()
		v.Want(200, "GET", fmt.Sprintf("%s/documents/%s/pages/%d?width=1100", visit, doc, n), nil)
		return time.Since(begun)
	}
	// The reader is compiled once, when the first document comes.
	page(one, 40)
	first, next, again := page(one, 1), page(one, 2), page(other, 1)
	alone("first marked page of a report of 40 pages", first, "under 1 s")
	alone("the page after it", next, "")
	alone("the first page for another viewer", again, "")
}

var loads = regexp.MustCompile(`(?:src|href)="(/assets/[^"]+\.(?:js|css))"`)

// BenchmarkFirstLoad adds up what a page asks for before it can be used,
// compressed as it is sent.
func BenchmarkFirstLoad(b *testing.B) {
	for page, wanted := range map[string]int{"index.html": 300, "visitor.html": 120} {
		html, err := fs.ReadFile(front.Files(), page)
		if err != nil {
			b.Skip("the front end is not built")
		}
		var packed bytes.Buffer
		z := gzip.NewWriter(&packed)
		_, _ = z.Write(html)
		z.Close()
		total := packed.Len()
		for _, m := range loads.FindAllSubmatch(html, -1) {
			file, err := fs.ReadFile(front.Files(), strings.TrimPrefix(string(m[1]), "/")+".gz")
			if err != nil {
				b.Fatal(err)
			}
			total += len(file)
		}
		row("first load of "+page+", scripts and styles, compressed | limit", fmt.Sprintf("%d kB", total/1000), fmt.Sprintf("%d kB", wanted), float64(total)/1000/float64(wanted), "at most 1")
	}
}

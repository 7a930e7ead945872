package api_test

import (
	"archive/zip"
	"bytes"
	"crypto/sha256"
	"fmt"
	"math/rand/v2"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"tabularis/internal/app/accounts"

	"github.com/google/uuid"

	"tabularis/internal/app/sessions"
	"tabularis/internal/app/uploads"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func noise(n int) []byte {
	b := make([]byte, n)
	r := rand.NewChaCha8([32]byte{24})
	_, _ = r.Read(b)
	return b
}

func TestUploadBecomesDocumentThenVersionThenApart(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	first := w.luca.Upload(w.top, "", "Survey.txt", []byte("one"))
	if first.Outcome != "document" || first.Document.Ref != "MER-24/001" || first.Version != 1 {
		t.Errorf("first: %+v", first)
	}
	second := w.hanne.Upload(w.top, "", "SURVEY.txt", []byte("two"))
	if second.Outcome != "version" || second.Document.Id != first.Document.Id || second.Version != 2 || !*second.Separable {
		t.Errorf("the same name: %+v", second)
	}
	same := w.luca.Upload(w.top, "", "Survey.txt", []byte("two"))
	if same.Outcome != "unchanged" || same.Version != 2 {
		t.Errorf("the same content: %+v", same)
	}
	apart := w.luca.Upload(w.top, "", "Survey.txt", []byte("three"), "apart", "true")
	if apart.Outcome != "apart" || apart.Document.Name != "Survey (2).txt" || apart.Document.Ref != "MER-24/002" {
		t.Errorf("kept apart: %+v", apart)
	}
	// Keeping apart afterwards: version 2 becomes a document, version 1 counts again.
	moved := testkit.Post[contract.Place](w.luca, 201, "/api/documents/"+first.Document.Id.String()+"/versions/2/separation", nil)
	if moved.Name != "Survey (3).txt" {
		t.Errorf("separated as %+v", moved)
	}
	content := func(id fmt.Stringer, want string) {
		t.Helper()
		if a := w.luca.Want(200, "GET", "/api/documents/"+id.String()+"/content", nil); string(a.Body) != want {
			t.Errorf("content %q, want %q", a.Body, want)
		}
	}
	content(first.Document.Id, "one")
	content(moved.Id, "two")
	slip := testkit.Get[contract.Document](w.luca, "/api/documents/"+first.Document.Id.String())
	if len(slip.Versions) != 2 || slip.Versions[0].MovedTo == nil || *slip.Versions[0].MovedTo != moved.Ref || !slip.Versions[1].Counts {
		t.Errorf("versions %+v", slip.Versions)
	}
	// A number is never given again: the next version is the third.
	if third := w.luca.Upload(w.top, "", "Survey.txt", []byte("four")); third.Version != 3 {
		t.Errorf("the next version is %d", third.Version)
	}
	if a := w.luca.Do("POST", "/api/documents/"+moved.Id.String()+"/versions/1/separation", nil); a.Code() != "not-separable" {
		t.Errorf("separating the only version: %d %s", a.Status, a.Body)
	}
}

func TestInterruptedUploadResumes(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	data := noise(700_001)
	begun := w.luca.Begin(w.top, "Photos/Tank 4", "big.bin", len(data))
	where := begun.Header.Get("Location")
	offset, rounds := 0, 0
	for offset < len(data) {
		rounds++
		end := min(offset+150_000, len(data))
		a := w.luca.Do("PATCH", where, bytes.NewReader(data[offset:end]), "Tus-Resumable", "1.0.0", "Upload-Offset", strconv.Itoa(offset), "Content-Type", "application/offset+octet-stream")
		if a.Status != 204 {
			t.Fatalf("at %d: %d %s", offset, a.Status, a.Body)
		}
		// Whatever was said, what counts is what the server says it has.
		head := w.luca.Want(200, "HEAD", where, nil, "Tus-Resumable", "1.0.0")
		next, err := strconv.Atoi(head.Header.Get("Upload-Offset"))
		if err != nil || next <= offset && end < len(data) {
			t.Fatalf("no progress at %d: %v", offset, err)
		}
		if offset = next; offset < len(data) {
			if a := w.luca.Do("GET", "/api/uploads/"+where[strings.LastIndex(where, "/")+1:]+"/outcome", nil); a.Code() != "incomplete" {
				t.Errorf("an incomplete upload: %d %s", a.Status, a.Body)
			}
		}
	}
	if rounds < 4 {
		t.Errorf("only %d rounds", rounds)
	}
	out := testkit.Get[contract.UploadOutcome](w.luca, "/api/uploads/"+where[strings.LastIndex(where, "/")+1:]+"/outcome")
	a := w.luca.Want(200, "GET", "/api/documents/"+out.Document.Id.String()+"/content", nil)
	if !bytes.Equal(a.Body, data) {
		t.Error("content differs")
	}
	slip := testkit.Get[contract.Document](w.luca, "/api/documents/"+out.Document.Id.String())
	if sum := fmt.Sprintf("%x", sha256.Sum256(data)); slip.Versions[0].Sha256 != sum {
		t.Errorf("hash %s, want %s", slip.Versions[0].Sha256, sum)
	}
	if slip.FolderName != "Tank 4" {
		t.Errorf("it lies in %s", slip.FolderName)
	}
}

func TestBadUploads(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	w.paper("taken", "a document")
	for _, c := range []struct {
		path, name string
		size       int
		status     int
		code       string
	}{
		{"", "a/b.txt", 1, 400, "name-slash"}, {"", "a\\b.txt", 1, 400, "name-slash"}, {"", "a\x00.txt", 1, 400, "name-control"}, {"", "a\r\nb", 1, 400, "name-control"},
		{"", strings.Repeat("x", 256), 1, 400, "name-too-long"}, {"", "fdp\u202e.exe", 1, 400, "name-direction"}, {"", "", 1, 400, "name-empty"}, {"", "..", 1, 400, "name-reserved"},
		{"../up", "a.txt", 1, 400, "name-reserved"}, {"a//b", "a.txt", 1, 400, "name-empty"}, {strings.Repeat("d/", 200) + "d", "a.txt", 1, 400, "path-too-deep"},
		{"", "huge.bin", 65 << 20, 413, ""},
	} {
		a := w.luca.Begin(w.top, c.path, c.name, c.size)
		if a.Status != c.status || c.code != "" && a.Code() != c.code {
			t.Errorf("%q in %.20q: %d %s", c.name, c.path, a.Status, a.Body)
		}
	}
	if a := w.priya.Begin(w.top, "", "x.txt", 1); a.Status != 403 || a.Code() != "not-allowed" {
		t.Errorf("by who may only view: %d %s", a.Status, a.Body)
	}
	if a := w.Visitor().Begin(w.top, "", "x.txt", 1); a.Status != 401 {
		t.Errorf("signed out: %d", a.Status)
	}
	if a := w.luca.Begin(w.top, "", "a\xffb", 1); a.Status != 400 {
		t.Errorf("not UTF-8: %d %s", a.Status, a.Body)
	}
	// A document where the path needs a folder, a folder where the document would stand.
	begun := w.luca.Begin(w.top, "taken", "x.txt", 0)
	if begun.Code() != "name-is-document" {
		t.Errorf("a document in the path: %d %s", begun.Status, begun.Body)
	}
	w.luca.Upload(w.top, "Folder", "x.txt", []byte("x"))
	if a := w.luca.Begin(w.top, "", "folder", 0); a.Code() != "name-is-folder" {
		t.Errorf("a folder of that name: %d %s", a.Status, a.Body)
	}
	if n := w.register().Total; n != 1 {
		t.Errorf("%d documents came of it", n)
	}
}

func TestUploadsBelongToWhoBeganThem(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	where := w.luca.Begin(w.top, "", "mine.txt", 4).Header.Get("Location")
	tus := []string{"Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream"}
	w.hanne.Want(404, "HEAD", where, nil, tus...)
	w.hanne.Want(404, "PATCH", where, strings.NewReader("evil"), tus...)
	w.hanne.Want(404, "DELETE", where, nil, tus...)
	w.luca.Want(409, "PATCH", where, strings.NewReader("text"), "Tus-Resumable", "1.0.0", "Upload-Offset", "2", "Content-Type", "application/offset+octet-stream")
	w.luca.Want(204, "PATCH", where, strings.NewReader("text"), tus...)
	// An upload given up leaves nothing behind; a document stays.
	gone := w.luca.Begin(w.top, "", "gone.txt", 4).Header.Get("Location")
	w.luca.Want(204, "DELETE", gone, nil, tus...)
	w.luca.Want(404, "HEAD", gone, nil, tus...)
	w.Later(uploads.Patience + time.Hour)
	w.luca.Begin(w.top, "", "fresh.txt", 4)
}

func TestStaleUploadsAreCleaned(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	doc := w.paper("stays.txt", "stays")
	w.luca.Begin(w.top, "", "never finished.bin", 1000)
	w.Later(uploads.Patience + time.Hour)
	if err := w.App.Web.Uploads.Clean(t.Context()); err != nil {
		t.Fatal(err)
	}
	var n int
	if err := w.App.DB.Get(&n, `SELECT count(*) FROM uploads`); err != nil || n != 0 {
		t.Errorf("%d uploads are left, %v", n, err)
	}
	w.luca.Want(200, "POST", "/api/session", contract.SignIn{Email: w.People["luca"].Email, Password: testkit.Password})
	if a := w.luca.Want(200, "GET", "/api/documents/"+doc.String()+"/content", nil); string(a.Body) != "stays" {
		t.Errorf("the document holds %q", a.Body)
	}
}

func TestOneNameUploadedByManyAtOnce(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	var wg sync.WaitGroup
	for i := range 16 {
		wg.Go(func() {
			who := []*testkit.Client{w.luca, w.hanne}[i%2]
			who.Upload(w.top, "A/B", "report.txt", fmt.Appendf(nil, "version %d", i))
		})
	}
	wg.Wait()
	d := w.dossier()
	if d.Documents != 1 || len(d.Folders) != 3 {
		t.Fatalf("%d documents in %d folders", d.Documents, len(d.Folders))
	}
	p := testkit.Get[contract.RegisterPage](w.hanne, "/api/folders/"+d.Folders[2].Id.String()+"/register")
	if p.Rows[0].Version != 16 {
		t.Errorf("16 uploads made %d versions", p.Rows[0].Version)
	}
}

func TestEmptyAndHostileContent(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	empty := w.luca.Upload(w.top, "", "empty.pdf", nil)
	if a := w.luca.Want(200, "GET", "/api/documents/"+empty.Document.Id.String()+"/content", nil); len(a.Body) != 0 {
		t.Errorf("an empty file has %d bytes", len(a.Body))
	}
	for name, text := range map[string]string{"page.html": "<html><script>alert(1)</script>", "drawing.svg": `<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>`, "lie.pdf": "<html><body onload=alert(1)>", "lie.png": "<!doctype html><script>1</script>"} {
		id := w.paper(name, text)
		a := w.luca.Want(200, "GET", "/api/documents/"+id.String()+"/content", nil)
		h := a.Header
		if !strings.Contains(h.Get("Content-Security-Policy"), "sandbox") || !strings.Contains(h.Get("Content-Security-Policy"), "default-src 'none'") || h.Get("X-Content-Type-Options") != "nosniff" {
			t.Errorf("%s could act as us: %v", name, h)
		}
		if name != "drawing.svg" && !strings.HasPrefix(h.Get("Content-Disposition"), "attachment") {
			t.Errorf("%s is shown inline: %s", name, h.Get("Content-Disposition"))
		}
		slip := testkit.Get[contract.Document](w.luca, "/api/documents/"+id.String())
		if name == "page.html" {
			p := testkit.Get[contract.Preview](w.luca, "/api/documents/"+id.String()+"/preview")
			if slip.Look != "text" || p.Html != nil || p.Text == nil || *p.Text != text {
				t.Errorf("HTML is looked at as %+v", p)
			}
		}
		if strings.HasPrefix(name, "lie") && slip.Look != "text" {
			t.Errorf("%s is taken for %s", name, slip.Look)
		}
	}
}

func TestDownloads(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	data := noise(200_000)
	id := w.luca.Upload(w.top, "", "Übersicht.bin", data).Document.Id
	path := "/api/documents/" + id.String() + "/content"
	for r, want := range map[string][]byte{"bytes=0-9": data[:10], "bytes=65530-65550": data[65530:65551], "bytes=-5": data[len(data)-5:], "bytes=199990-": data[199990:]} {
		if a := w.luca.Want(206, "GET", path, nil, "Range", r); !bytes.Equal(a.Body, want) {
			t.Errorf("range %s gives %d bytes", r, len(a.Body))
		}
	}
	w.luca.Want(416, "GET", path, nil, "Range", "bytes=200000-")
	a := w.luca.Want(200, "GET", path+"?download", nil)
	if d := a.Header.Get("Content-Disposition"); d != "attachment; filename*=utf-8''%C3%9Cbersicht.bin" {
		t.Errorf("named %s", d)
	}
	w.luca.Want(304, "GET", path, nil, "If-None-Match", a.Header.Get("ETag"))
	w.luca.Want(404, "GET", path+"?version=9", nil)
	w.luca.Want(400, "GET", path+"?version=x", nil)
	many := strings.Repeat("0-0,", 1000) + "1-1"
	if a := w.luca.Do("GET", path, nil, "Range", "bytes="+many); a.Status >= 500 || len(a.Body) > 2*len(data) {
		t.Errorf("a thousand ranges: %d, %d bytes", a.Status, len(a.Body))
	}
}

func TestArchive(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	a := w.luca.Upload(w.top, "Photos/Tank 4", "1.txt", []byte("one"))
	b := w.luca.Upload(w.top, "Photos", "2.txt", []byte("two"))
	names := func(query string) string {
		raw := w.priya.Want(200, "GET", "/api/archive?"+query, nil)
		r, err := zip.NewReader(bytes.NewReader(raw.Body), int64(len(raw.Body)))
		if err != nil {
			t.Fatal(err)
		}
		var out []string
		for _, f := range r.File {
			out = append(out, f.Name)
		}
		return strings.Join(out, " ")
	}
	if got := names("item=" + a.Document.Id.String() + "&item=" + b.Document.Id.String()); got != "1.txt 2.txt" {
		t.Errorf("two documents: %s", got)
	}
	if got := names("item=" + w.top.String()); got != "Photos/2.txt Photos/Tank 4/1.txt" {
		t.Errorf("a folder: %s", got)
	}
	w.priya.Want(400, "GET", "/api/archive", nil)
}

func TestContentThatIsNotWhatWasSent(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	right := fmt.Sprintf("%x", sha256.Sum256([]byte("the report")))
	if out := w.luca.Upload(w.top, "", "right.txt", []byte("the report"), "sha256", right); out.Outcome != "document" {
		t.Errorf("the right hash: %+v", out)
	}
	where := w.luca.Begin(w.top, "", "wrong.txt", 10, "sha256", right).Header.Get("Location")
	tus := []string{"Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream"}
	if a := w.luca.Do("PATCH", where, strings.NewReader("the rep0rt"), tus...); a.Status != 409 || a.Code() != "hash-differs" {
		t.Errorf("another content: %d %s", a.Status, a.Body)
	}
	if a := w.luca.Begin(w.top, "", "x.txt", 1, "sha256", "abc"); a.Code() != "hash-form" {
		t.Errorf("not a hash: %d %s", a.Status, a.Body)
	}
	// More bytes than were announced are not taken.
	more := w.luca.Begin(w.top, "", "more.txt", 4).Header.Get("Location")
	a := w.luca.Do("PATCH", more, strings.NewReader("text and more"), tus...)
	if a.Status == 204 || a.Status >= 500 {
		t.Errorf("a length that lies: %d %s", a.Status, a.Body)
	}
	if n := w.register().Total; n != 1 {
		t.Errorf("%d documents came of it", n)
	}
}

func TestASessionThatEndsDuringAnUpload(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	data := noise(300_000)
	where := w.luca.Begin(w.top, "", "long.bin", len(data)).Header.Get("Location")
	send := func() testkit.Answer {
		head := w.luca.Do("HEAD", where, nil, "Tus-Resumable", "1.0.0")
		offset, _ := strconv.Atoi(head.Header.Get("Upload-Offset"))
		return w.luca.Do("PATCH", where, bytes.NewReader(data[offset:min(len(data), offset+200_000)]), "Tus-Resumable", "1.0.0", "Upload-Offset", strconv.Itoa(offset), "Content-Type", "application/offset+octet-stream")
	}
	if a := send(); a.Status != 204 {
		t.Fatal(a.Status)
	}
	w.Later(sessions.Length + time.Second)
	if a := send(); a.Status != 401 || a.Code() != "signed-out" {
		t.Errorf("afterwards: %d %s", a.Status, a.Body)
	}
	w.luca.Want(200, "POST", "/api/session", contract.SignIn{Email: w.People["luca"].Email, Password: testkit.Password})
	for send().Header.Get("Upload-Offset") != strconv.Itoa(len(data)) {
	}
	out := testkit.Get[contract.UploadOutcome](w.luca, "/api/uploads/"+where[strings.LastIndex(where, "/")+1:]+"/outcome")
	if a := w.luca.Want(200, "GET", "/api/documents/"+out.Document.Id.String()+"/content", nil); !bytes.Equal(a.Body, data) {
		t.Error("content differs")
	}
}

// Ten thousand files in one drop, in two hundred folders of one tree: each
// becomes one document with a number of its own, and the folders are made once.
func TestThousandsOfFilesInOneDrop(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	if w.Processes() > 1 {
		t.Skip("tried against one server")
	}
	const folders, atOnce = 80, 8
	files := testkit.Soaking(160, 10_000)
	var next atomic.Int64
	var wg sync.WaitGroup
	for range atOnce {
		wg.Go(func() {
			for {
				i := int(next.Add(1)) - 1
				if i >= files {
					return
				}
				name := fmt.Sprintf("reading %d.txt", i)
				if o := w.luca.Upload(w.top, fmt.Sprintf("Readings/Frame %d", i%folders), name, []byte(name)); o.Outcome != "document" {
					t.Errorf("%s became %s", name, o.Outcome)
				}
			}
		})
	}
	wg.Wait()
	d := w.dossier()
	if d.Documents != files || len(d.Folders) != folders+2 {
		t.Errorf("%d documents in %d folders", d.Documents, len(d.Folders))
	}
	var numbers, last int
	if err := w.App.DB.QueryRow(`SELECT count(DISTINCT number), max(number) FROM items WHERE kind = 'document'`).Scan(&numbers, &last); err != nil || numbers != files || last != files {
		t.Errorf("%d numbers up to %d, %v", numbers, last, err)
	}
}

// rules are the usual ones, with a limit of storage.
func rules(storage *int64) contract.Rules {
	return contract.Rules{ColleaguesMakeDossiers: true, GuestsByCode: true, LongestLinkDays: 90, Sensitive: contract.Warn, StorageBytes: storage}
}

// A dossier and a person have limits of their own, which count every version, wherever
// it is moved to; of many files at once those that fit are in.
func TestStorageOfDossiersAndPeople(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	w.Appoint("hanne", accounts.Administrator)
	w.hanne = w.SignIn("hanne")
	r := rules(nil)
	for _, bad := range []int64{0, -1} {
		r.DossierBytes = &bad
		if a := w.hanne.Do("PUT", "/api/practice/rules", r); a.Status != 400 {
			t.Errorf("a limit of %d: %d %s", bad, a.Status, a.Body)
		}
	}
	r.DossierBytes, r.PersonBytes = ptr(int64(2000)), ptr(int64(3000))
	w.luca.Want(403, "PUT", "/api/practice/rules", r)
	w.hanne.Want(204, "PUT", "/api/practice/rules", r)
	doc := w.luca.Upload(w.top, "", "a.txt", noise(600)).Document
	w.luca.Upload(w.top, "", "a.txt", noise(601))
	if s := w.dossier().Storage; s == nil || s.Used != 1201 || *s.Limit != 2000 {
		t.Errorf("with two versions the dossier takes %+v", s)
	}
	// Twenty at once of 100 bytes: seven fit, and the others say why.
	var wg sync.WaitGroup
	codes := make([]string, 20)
	for i := range codes {
		wg.Go(func() {
			a := w.luca.Begin(w.top, "", fmt.Sprintf("%d.txt", i), 100)
			if codes[i] = a.Code(); a.Status == 201 {
				w.luca.Do("PATCH", a.Header.Get("Location"), bytes.NewReader(noise(100)[:100]), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
			}
		})
	}
	wg.Wait()
	in := 0
	for _, code := range codes {
		switch code {
		case "":
			in++
		case "dossier-full":
		default:
			t.Errorf("refused with %s", code)
		}
	}
	if d := w.dossier(); in != 7 || d.Storage.Used != 1901 || d.Documents != 8 {
		t.Errorf("%d came in; the dossier takes %d in %d documents", in, d.Storage.Used, d.Documents)
	}
	// What is moved away is counted where it goes; the person keeps it all.
	other := testkit.Post[contract.DossierRow](w.luca, 201, "/api/dossiers", contract.NewDossier{Code: "PEL-11", Name: "Pellew", Kind: "client"})
	w.hanne.Want(204, "POST", "/api/access", contract.AccessWish{Items: []uuid.UUID{w.top}, To: []contract.Recipient{{Id: ptr(w.People["luca"].ID)}}, Level: contract.LevelManage})
	w.luca.Want(204, "POST", "/api/items/move", contract.Move{Items: []uuid.UUID{doc.Id}, To: other.Id})
	if here, there := w.dossier().Storage.Used, testkit.Get[contract.Dossier](w.luca, "/api/dossiers/PEL-11").Storage.Used; here != 700 || there != 1201 {
		t.Errorf("after moving, %d here and %d there", here, there)
	}
	mine := testkit.Get[contract.Today](w.luca, "/api/today").Mine
	if mine == nil || mine.Documents != 8 || mine.Links != 0 || mine.Storage.Used != 1901 || *mine.Storage.Limit != 3000 {
		t.Errorf("mine is %+v", mine)
	}
	third := testkit.Post[contract.DossierRow](w.luca, 201, "/api/dossiers", contract.NewDossier{Code: "PEL-12", Name: "Pellew", Kind: "client"})
	if a := w.luca.Begin(third.Id, "", "more.txt", 1100); a.Status != 507 || a.Code() != "person-full" {
		t.Errorf("beyond one's own: %d %s", a.Status, a.Body)
	}
	// Whoever sees a branch only, or is a guest, does not learn what all of it takes.
	if s := testkit.Get[contract.Dossier](w.priya, "/api/dossiers/MER-24").Storage; s == nil {
		t.Error("a colleague who sees it all is not told")
	}
	var sums, counted int64
	if err := w.App.DB.QueryRow(`SELECT (SELECT sum(bytes) FROM storage_of s JOIN dossiers d ON d.id = s.owner), (SELECT sum(size) FROM versions WHERE moved_to IS NULL)`).Scan(&counted, &sums); err != nil || sums != counted {
		t.Errorf("%d are counted of %d, %v", counted, sums, err)
	}
}

// What the practice has no storage for is refused before a byte travels, also what
// others have announced meanwhile; what was announced before still comes in.
func TestTheStorageOfThePractice(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	w.Appoint("hanne", accounts.Administrator)
	w.hanne = w.SignIn("hanne")
	w.luca.Upload(w.top, "", "first.txt", noise(600))
	limit := int64(2000)
	w.luca.Want(403, "PUT", "/api/practice/rules", rules(&limit))
	w.hanne.Want(400, "PUT", "/api/practice/rules", rules(ptr(int64(0))))
	w.hanne.Want(204, "PUT", "/api/practice/rules", rules(&limit))
	announced := w.luca.Begin(w.top, "", "second.txt", 1000).Header.Get("Location")
	if a := w.priya.Begin(w.top, "", "third.txt", 500); a.Status != 403 && a.Status != 404 {
		t.Errorf("who may not add: %d", a.Status)
	}
	if a := w.luca.Begin(w.top, "", "third.txt", 500); a.Status != 507 || a.Code() != "practice-full" {
		t.Errorf("beyond the storage: %d %s", a.Status, a.Body)
	}
	if a := w.luca.Do("PATCH", announced, bytes.NewReader(noise(1000)), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream"); a.Status != 204 {
		t.Errorf("what was announced: %d %s", a.Status, a.Body)
	}
	// The same content is kept once.
	w.luca.Upload(w.top, "", "copy.txt", noise(300))
	if left := testkit.Get[contract.Today](w.luca, "/api/today").StorageLeft; left == nil || *left != 100 {
		t.Errorf("left: %v", left)
	}
	people := testkit.Get[contract.Directory](w.hanne, "/api/people")
	if people.Storage == nil || people.Storage.Used != 1900 || *people.Storage.Limit != limit {
		t.Errorf("%+v", people.Storage)
	}
	fourth := w.luca.Begin(w.top, "", "fourth.txt", 100)
	if again := w.luca.Begin(w.top, "", "fifth.txt", 1); fourth.Status != 201 || again.Status != 507 {
		t.Errorf("the last of it: %d, then %d", fourth.Status, again.Status)
	}
	w.hanne.Want(204, "PUT", "/api/practice/rules", rules(nil))
	w.luca.Upload(w.top, "", "fifth.txt", noise(5000))
}

// Package jobs_test does whole jobs in Chromium, as the people who have them,
// and counts their acts.
package jobs_test

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"sort"
	"strings"
	"sync"
	"testing"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/server"
	"tabularis/internal/testkit"
)

// counted collects how many acts each job took, with how many it may take.
var counted = struct {
	sync.Mutex
	lines []string
}{}

func TestMain(m *testing.M) {
	// The table is printed before the kit ends the process.
	testkit.Main(m, func() {
		if closeChromium != nil {
			closeChromium()
		}
		sort.Strings(counted.lines)
		fmt.Printf("\nActs of a person (a click, a key, typing into one field)\n%s\n", strings.Join(counted.lines, "\n"))
	})
}

// person is somebody at a browser of their own.
type person struct {
	*browser.Browser
	t   *testing.T
	url string
}

// chromium is one for all tests.
var chromium = sync.OnceValues(func() (*browser.Chromium, error) {
	c, end, err := browser.Start(context.Background())
	closeChromium = end
	return c, err
})

var closeChromium func()

// sits lets somebody sit down at a fresh browser.
func sits(t *testing.T, k *testkit.Kit, width, height int64) person {
	t.Helper()
	c, err := chromium()
	if err != nil {
		t.Fatal(err)
	}
	b, end, err := c.Sit(width, height)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(end)
	return person{b, t, k.URL}
}

// does does the steps of a job; the first that fails ends the test.
func (p person) does(steps ...error) {
	p.t.Helper()
	for i, err := range steps {
		if err != nil {
			if png, picErr := p.Picture(); picErr == nil {
				name := filepath.Join(os.TempDir(), "tabularis-failed-"+strings.ReplaceAll(p.t.Name(), "/", "-")+".png")
				_ = os.WriteFile(name, png, 0o600)
				p.t.Logf("a picture of the page: %s", name)
			}
			p.t.Fatalf("step %d: %v", i+1, err)
		}
	}
}

func (p person) opens(path string) error { return p.Go(p.url + path) }

// comesIn is signsIn in any language.
func (p person) comesIn(who string) {
	p.t.Helper()
	p.enters(who, "#content h1")
}

func (p person) signsIn(who string) {
	p.t.Helper()
	p.enters(who, "h2::My dossiers")
}

func (p person) enters(who, see string) {
	p.t.Helper()
	for _, step := range []func() error{
		func() error { return p.opens("/sign-in") },
		func() error {
			return p.Type("#email", strings.ReplaceAll(strings.ToLower(who), " ", ".")+"@halyard-rook.example")
		},
		func() error { return p.Type("#password", testkit.Password) },
		func() error { return p.Click("button[type=submit]") },
		func() error { return p.See(".band") },
		func() error { return p.See(see) },
	} {
		p.does(step())
	}
}

// count notes how many acts a job took and fails when it were too many.
func (p person) count(job string, most int, work func()) {
	p.t.Helper()
	before := p.Acts
	work()
	took := p.Acts - before
	counted.Lock()
	counted.lines = append(counted.lines, fmt.Sprintf("  %-62s %2d of at most %2d", job, took, most))
	counted.Unlock()
	if took > most {
		p.t.Errorf("%s took %d acts, at most %d are wanted", job, took, most)
	}
}

// until waits until something is so.
func until(t *testing.T, what string, so func() bool) {
	t.Helper()
	for deadline := time.Now().Add(20 * time.Second); !so(); time.Sleep(20 * time.Millisecond) {
		if time.Now().After(deadline) {
			t.Fatalf("waited in vain until %s", what)
		}
	}
}

func pdf(pages int) []byte {
	f := fpdf.New("P", "mm", "A4", "")
	for i := range pages {
		f.AddPage()
		f.SetFont("Helvetica", "", 40)
		f.Text(30, 60, fmt.Sprintf("Page %d", i+1))
	}
	var b bytes.Buffer
	if err := f.Output(&b); err != nil {
		panic(err)
	}
	return b.Bytes()
}

// practice is a server with the dossier MER-24, of which Ines and Hanne are
// managers, and some papers in its folder Reports.
func practice(t *testing.T, changes ...func(c *server.Config)) (*testkit.Kit, *testkit.Client, uuid.UUID) {
	t.Helper()
	if _, err := browser.Path(); err != nil {
		t.Fatal(err)
	}
	k := testkit.New(t, changes...)
	c := k.SignIn("ines")
	top := testkit.Post[contract.DossierRow](c, 201, "/api/dossiers", contract.NewDossier{Code: "MER-24", Name: "Corran Lass", Kind: "client"}).Id
	k.Give("ines", top, "hanne", access.LevelManage)
	reports := testkit.Post[contract.Folder](c, 201, "/api/folders/"+top.String()+"/folders", contract.NewName{Name: "Reports"}).Id
	c.Upload(reports, "", "Condition survey report.pdf", pdf(4))
	c.Upload(reports, "", "Thickness.csv", []byte("Frame,Original,Measured\n30,10.0,8.1\n31,10.0,6.9\n"))
	c.Upload(reports, "", "Notes.md", []byte("# Frame 31\n\n**Pitting** as noted.\n"))
	return k, c, reports
}

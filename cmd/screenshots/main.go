// Command screenshots takes the pictures of docs/screenshots from a running
// demo: screenshots -from http://127.0.0.1:8080 -to docs/screenshots
package main

import (
	"context"
	"flag"
	"fmt"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"time"

	"tabularis/internal/browser"
	"tabularis/internal/demo"
)

func main() {
	from := flag.String("from", "http://127.0.0.1:8080", "address of the running demo")
	to := flag.String("to", "docs/screenshots", "folder for the pictures")
	only := flag.String("only", "", "take only pictures whose names contain this")
	flag.Parse()
	if err := run(*from, *to, *only); err != nil {
		fmt.Fprintln(os.Stderr, "screenshots:", err)
		os.Exit(1)
	}
}

// shot is one picture: how to come to the view, and what to wait for.
type shot struct {
	name          string
	width, height int64
	dark          bool
	signedOut     bool
	steps         func(b *browser.Browser, from string) error
}

const (
	wide, high   = 1280, 800
	narrow, tall = 390, 844
)

// do runs steps until one fails.
func do(steps ...func() error) error {
	for _, s := range steps {
		if err := s(); err != nil {
			return err
		}
	}
	return nil
}

func openReports(b *browser.Browser, from string) error {
	return do(
		func() error { return b.Go(from + "/dossiers/MER-24") },
		func() error { return b.Click(".contents a::Reports") },
		func() error { return b.See("tr[data-ref]::Condition survey") },
	)
}

func chooseReport(b *browser.Browser, from string) error {
	return do(
		func() error { return openReports(b, from) },
		func() error { return b.Click("tr[data-ref]::Condition survey") },
		func() error { return b.See(".slip .sheet[data-drawn=true]") },
	)
}

var shots = []shot{
	{"today", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(func() error { return b.Go(from + "/today") }, func() error { return b.See(".news li") })
	}},
	{"dossier", wide, high, false, false, chooseReport},
	{"dossier-390", narrow, tall, false, false, func(b *browser.Browser, from string) error {
		return do(
			func() error { return b.Go(from + "/dossiers/MER-24") },
			func() error { return b.Click(".where") },
			func() error { return b.Click(".offcanvas.show .contents a::Reports") },
			func() error { return b.See("tr[data-ref]::Condition survey") },
			func() error { return b.Gone(".offcanvas.show") },
		)
	}},
	{"give-out", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(
			func() error { return openReports(b, from) },
			func() error { return b.Click("tr[data-ref]::Condition survey") },
			func() error { return b.See(".slip h2::Condition survey report") },
			func() error { return b.Click(".heading .btn-primary::Give out") },
			func() error { return b.Click(".plus::+ at most so many openings") },
			func() error { return b.Click(".plus::+ password") },
			func() error { return b.See(".w::and the password") },
			func() error { return b.Click(".w[data-term=until]") },
			func() error { return b.See(".gloss .days") },
			func() error { return b.See(".slip .sheet[data-drawn=true]") },
		)
	}},
	{"give-access", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(
			func() error { return openReports(b, from) },
			func() error { return b.Click("tr[data-ref]::Valuation") },
			func() error { return b.See(".slip h2::Valuation") },
			func() error { return b.Click(".heading .btn-primary::Give out") },
			func() error { return b.Click("button::To people instead") },
			func() error { return b.Click(".who-list li::Odile Charron") },
			func() error { return b.Type(".ask", "surveys@dunlin.example") },
			func() error { return b.Click(".hint button") },
			func() error { return b.Click(".plus::+ for a week") },
			func() error { return b.SeeText("surveys@dunlin.example 1 (once") },
		)
	}},
	{"reach", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(
			func() error { return openReports(b, from) },
			func() error { return b.Click(".reach-word") },
			func() error { return b.Click("li[data-grant*=Insurers] .go::why") },
			func() error { return b.See(".chain li") },
		)
	}},
	{"decisions", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(func() error { return b.Go(from + "/decisions") }, func() error { return b.Click("li a::Condition survey") }, func() error { return b.See(".one .way") })
	}},
	{"signing", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(func() error { return b.Go(from + "/signing") }, func() error { return b.Click("tr[data-signing] a::Survey plan") }, func() error { return b.See("[data-verdict=valid]") })
	}},
	{"writing", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(
			func() error { return b.Go(from + "/find?q=" + url.QueryEscape("Survey letter to the yard")) },
			func() error { return b.Click("#content a::Survey letter to the yard") },
			func() error { return b.Click(".slip a::Write") },
			func() error { return b.See(".beside li::Odile Charron") },
			func() error { return b.Click(".ProseMirror p::We attend") },
			func() error { return b.SeeText("paragraph 6") },
		)
	}},
	{"table", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(
			func() error { return b.Go(from + "/find?q=" + url.QueryEscape("Gaugings, side shell port")) },
			func() error { return b.Click("#content a::Gaugings, side shell port") },
			func() error { return b.Click(".slip a::Write") },
			func() error { return b.See("[data-doubt]") },
			func() error { return b.Click("[data-at=E10]") },
			func() error { return b.See(".drawing") },
			func() error { return b.See(".sentence::Diminution is") },
		)
	}},
	{"comparison", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(
			func() error { return openReports(b, from) },
			func() error { return b.Click("tr[data-ref]::Condition survey") },
			func() error { return b.See(".slip h2::Condition survey") },
			func() error { return b.Click("[data-version='3'] a::compare") },
			func() error { return b.See(".comparison ins") },
			func() error { return b.Press("n") },
			func() error { return b.Press("n") },
		)
	}},
	{"transfers", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(func() error { return b.Go(from + "/outward/transfers") }, func() error { return b.See("article::Docking drawings") })
	}},
	{"outward", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(func() error { return b.Go(from + "/outward") }, func() error { return b.See("tr[data-link]::Draft for yard") })
	}},
	{"remarks", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(
			func() error { return openReports(b, from) },
			func() error { return b.Click("tr[data-ref]::Condition survey") },
			func() error { return b.Click(".slip .looked") },
			func() error { return b.See(".reader .page[data-loaded=true]") },
			func() error { return b.Click(".over .talk") },
			func() error { return b.See(".pin::2") },
		)
	}},
	{"trail", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(
			func() error { return openReports(b, from) },
			func() error { return b.Click("tr[data-ref]::Condition survey") },
			func() error { return b.Click(".slip a::Trail and proof") },
			func() error { return b.See("aside::Signed by") },
		)
	}},
	{"found", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(func() error { return b.Go(from + "/find?q=plating") }, func() error { return b.See(".hit mark") }, func() error { return b.See(".counts li") })
	}},
	{"activity", wide, high, false, false, func(b *browser.Browser, from string) error {
		return do(func() error { return b.Go(from + "/activity") }, func() error { return b.See(".e") })
	}},
	{"visitor", wide, high, false, true, visitor},
	{"fill-390", narrow, tall, false, true, func(b *browser.Browser, from string) error {
		link, err := linkAddress(b, from, "Survey instruction")
		if err != nil {
			return err
		}
		return do(
			func() error { return b.Go(link) },
			func() error { return b.Type("#email", "callum.wray@aurelie.example") },
			func() error { return b.Click(".gate button") },
			func() error { return b.Type("#asked-vessel", "Aurelie") },
			func() error { return b.Click(".part:nth-of-type(3) .part-name") },
			func() error { return b.See(".fill header::1 of 14") },
			func() error { return b.Click(".day-row button:not([disabled])") },
			func() error { return b.See(".fill header::2 of 14") },
		)
	}},
}

// linkAddress asks for a link's address as its sender, and signs out again.
func linkAddress(b *browser.Browser, from, name string) (string, error) {
	if err := signIn(b, from); err != nil {
		return "", err
	}
	if _, err := browser.Eval[bool](b, `(async () => { const all = await (await fetch('/api/links')).json(); window.found = all.find(l => l.name === '`+name+`')?.address ?? 'none'; await fetch('/api/session', {method: 'DELETE'}); window.ready = true })() && true`); err != nil {
		return "", err
	}
	if err := b.Until("window.ready"); err != nil {
		return "", err
	}
	link, err := browser.Eval[string](b, "window.found")
	if err == nil && !strings.HasPrefix(link, "http") {
		err = fmt.Errorf("there is no open link %q", name)
	}
	return link, err
}

func visitor(b *browser.Browser, from string) error {
	link, err := linkAddress(b, from, "Draft for yard")
	if err != nil {
		return err
	}
	return do(func() error { return b.Go(link) }, func() error { return b.Click(".gate .btn-primary::Show") }, func() error { return b.See("li[data-file]") })
}

func signIn(b *browser.Browser, from string) error {
	return do(
		func() error { return b.Go(from + "/sign-in") },
		func() error { return b.Type("#email", "ines.okafor@halyard-rook.example") },
		func() error { return b.Type("#password", demo.Password) },
		func() error { return b.Click("button::Sign in") },
		func() error { return b.See(".news") },
	)
}

func run(from, to, only string) error {
	if err := os.MkdirAll(to, 0o755); err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Minute)
	defer cancel()
	c, end, err := browser.Start(ctx)
	if err != nil {
		return err
	}
	defer end()
	for _, s := range shots {
		if !strings.Contains(s.name, only) {
			continue
		}
		if err := take(c, s, from, filepath.Join(to, s.name+".png")); err != nil {
			return fmt.Errorf("%s: %w", s.name, err)
		}
		fmt.Println(s.name)
	}
	return nil
}

func take(c *browser.Chromium, s shot, from, file string) error {
	b, end, err := c.Sit(s.width, s.height)
	if err != nil {
		return err
	}
	defer end()
	if err := b.Dark(s.dark); err != nil {
		return err
	}
	if !s.signedOut {
		if err := signIn(b, from); err != nil {
			return err
		}
	}
	if err := s.steps(b, from); err != nil {
		return err
	}
	if err := b.Until("document.fonts.status === 'loaded'"); err != nil {
		return err
	}
	png, err := b.Picture()
	if err != nil {
		return err
	}
	return os.WriteFile(file, png, 0o644)
}

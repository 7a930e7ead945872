package jobs_test

import (
	"os"
	"testing"

	"github.com/google/uuid"

	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// findings runs axe-core on the page and returns what is serious or critical.
// By night only the colours can be different.
func (p person) findings(dark bool) string {
	p.t.Helper()
	script, err := os.ReadFile("../../web/node_modules/axe-core/axe.min.js")
	p.does(err)
	_, err = browser.Eval[bool](p.Browser, string(script)+`; true`)
	p.does(err)
	_, err = browser.Eval[bool](p.Browser, `(window.axeSaid = undefined, axe.run(document, `+map[bool]string{false: `{resultTypes: ['violations']}`, true: `{runOnly: ['color-contrast']}`}[dark]+`).then(r => { window.axeSaid = r.violations.filter(v => ['serious', 'critical'].includes(v.impact)).map(v => v.id + ': ' + v.nodes.slice(0, 4).map(n => n.html.slice(0, 160) + ' ' + (n.any[0]?.message ?? '')).join(' | ')).join('\n') }), true)`)
	p.does(err, p.Until(`window.axeSaid !== undefined`))
	said, err := browser.Eval[string](p.Browser, `window.axeSaid`)
	p.does(err)
	return said
}

// No page has a serious finding, by day and by night.
func TestPagesAreAccessible(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	l := testkit.Post[contract.Link](c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{reports}, Openings: ptr(9)})
	testkit.Post[contract.Link](c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{reports}})
	pages := []struct {
		name string
		come func(p person)
	}{
		{"today", func(p person) { p.does(p.opens("/today"), p.See(".soon li")) }},
		{"dossiers", func(p person) {
			p.does(p.opens("/dossiers"), p.See("tr::MER-24"), p.Click("button::Make a dossier"), p.See(".written"))
		}},
		{"dossier and slip", func(p person) {
			p.does(p.opens("/d/MER-24/1"), p.See(".slip .sheet[data-drawn=true]"), p.See(".trail li"))
		}},
		{"writing sheet", func(p person) {
			p.does(p.Press("g"), p.See(".writing"), p.Click(".w[data-term=until]"), p.See(".gloss .days"))
		}},
		{"link made", func(p person) { p.does(p.Click("button::Make link"), p.See(".made")) }},
		{"access for people", func(p person) {
			p.does(p.opens("/d/MER-24/2"), p.See(".slip h2::Thickness"), p.Click(".heading .btn-primary::Give out"), p.Click("button::To people instead"), p.See(".who-list li"), p.Click(".w[data-term=may]"), p.See(".levels"))
		}},
		{"who can open it", func(p person) {
			p.does(p.opens("/dossiers/MER-24"), p.Click(".folders a::Reports"), p.Click(".reach-word"), p.See(".ways li"))
		}},
		{"people", func(p person) {
			p.does(p.opens("/people"), p.See("tr[data-person]"), p.Click(".btn-primary::Invite"), p.See(".written"))
		}},
		{"desk", func(p person) { p.does(p.opens("/desk"), p.See("#content h1::Desk")) }},
		{"signing in and sessions", func(p person) { p.does(p.opens("/me"), p.See("h2::Where I am signed in")) }},
		{"outward", func(p person) { p.does(p.opens("/outward"), p.Click("tr[data-link]"), p.See(".record .trail li")) }},
		{"activity", func(p person) { p.does(p.opens("/activity"), p.See(".e")) }},
		{"sign-in", func(p person) { p.does(p.opens("/sign-in"), p.See("#email")) }},
		{"a visitor's front", func(p person) { p.does(p.Go(*l.Address), p.See(".gate button")) }},
		{"a visitor's papers", func(p person) { p.does(p.Click("button::Show"), p.See("li[data-file]")) }},
		{"a visitor's table", func(p person) { p.does(p.Click("li[data-file='Thickness.csv'] .btn::View"), p.See(".cells td")) }},
	}
	for _, dark := range []bool{false, true} {
		p := sits(t, k, 1280, 800)
		p.does(p.Dark(dark))
		p.signsIn("Ines Okafor")
		for _, page := range pages {
			page.come(p)
			if said := p.findings(dark); said != "" {
				t.Errorf("%s, dark %v:\n%s", page.name, dark, said)
			}
		}
	}
}

func ptr[T any](v T) *T { return &v }

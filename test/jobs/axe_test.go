package jobs_test

import (
	"archive/zip"
	"bytes"
	"encoding/base64"
	"fmt"
	"io"
	"os"
	"path"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// look is how somebody looks at the pages.
type look struct {
	width, height int64
	dark          bool
	language      string
}

func (l look) String() string {
	return fmt.Sprintf("%d px, dark %v, %s", l.width, l.dark, l.language)
}

// findings runs axe-core on the page, by WCAG 2.2 AA and its own best practices, and
// looks whether the page is wider than its window.
func (p person) findings() string {
	p.t.Helper()
	script, err := os.ReadFile("../../web/node_modules/axe-core/axe.min.js")
	p.does(err)
	_, err = browser.Eval[bool](p.Browser, string(script)+`; true`)
	p.does(err)
	_, err = browser.Eval[bool](p.Browser, `(window.axeSaid = undefined, axe.run(document, {resultTypes: ['violations'], rules: {'target-size': {enabled: true}}}).then(r => {
		const said = r.violations.map(v => v.id + ' (' + v.impact + '): ' + v.nodes.slice(0, 3).map(n => n.html.slice(0, 170) + ' ' + (n.any[0]?.message ?? n.all[0]?.message ?? n.none[0]?.message ?? '').slice(0, 140)).join(' | '))
		if (document.documentElement.scrollWidth > innerWidth) said.push('the page is ' + document.documentElement.scrollWidth + ' wide')
		window.axeSaid = said.join('\n') }), true)`)
	p.does(err, p.Until(`window.axeSaid !== undefined`))
	said, err := browser.Eval[string](p.Browser, `window.axeSaid`)
	p.does(err)
	return said
}

// germanOf are the words by which the views are reached, in German.
var germanOf = map[string]string{
	"Make a dossier": "Dossier anlegen", "Make link": "Link machen", "To people instead": "Lieber an Personen", "Where I am signed in": "Wo ich angemeldet bin",
	"Show": "Zeigen", "View": "Ansehen", "Give out": "Herausgeben", "Invite": "Einladen", "Change": "Ändern", "New from this": "Neu aus diesem", "Move": "Verschieben", "Elsewhere": "Anderswohin", "Return with a reason": "Mit Grund zurückgeben", "+ sealed": "+ versiegelt", "by a passphrase": "mit einer Passphrase",
}

// in says a word in the language of the look.
func (l look) in(words string) string {
	css, word, _ := strings.Cut(words, "::")
	if l.language == "de" && germanOf[word] != "" {
		word = germanOf[word]
	}
	return css + "::" + word
}

// view is a page, or a state of one, and how one comes there: from an address, or from the
// view before it.
type view struct {
	name, from string
	come       func(p person, l look)
}

func views(link string) []view {
	sees := func(what string) func(person, look) {
		return func(p person, _ look) { p.does(p.See(what)) }
	}
	return []view{
		{"today", "/today", sees(".soon li")},
		{"dossiers", "/dossiers", sees("tr::MER-24")},
		{"making a dossier", "", func(p person, l look) { p.does(p.Click(l.in("button::Make a dossier")), p.See(".written")) }},
		{"a dossier at a glance", "/dossiers/MER-24", sees(".overview .trail li")},
		{"a folder", "", func(p person, _ look) { p.does(p.Click(".folders a::Reports"), p.See("tr[data-ref]::Notes")) }},
		{"a row's menu", "", func(p person, _ look) { p.does(p.RightClick("tr[data-ref]::Notes"), p.See(".row-menu")) }},
		{"where something is moved", "", func(p person, l look) {
			p.does(p.Click(l.in(".row-menu button::Move")), p.See(".goals button"))
		}},
		{"document and slip", "/d/MER-24/1", func(p person, _ look) {
			p.does(p.See(".slip .sheet[data-drawn=true]"), p.See(".trail li"))
		}},
		{"reading", "", func(p person, _ look) {
			p.does(p.Click(".slip .looked"), p.See(".reader .page[data-loaded=true]"))
		}},
		{"writing sheet", "", func(p person, _ look) {
			p.does(p.Press("\x1b"), p.Gone(".reader"), p.Press("g"), p.See(".writing"), p.Click(".w[data-term=until]"), p.See(".gloss .days"))
		}},
		{"link made", "", func(p person, l look) { p.does(p.Click(l.in("button::Make link")), p.See(".made")) }},
		{"access for people", "/d/MER-24/2", func(p person, l look) {
			p.does(p.See(".slip h2::Thickness"), p.Press("p"), p.See(".who-list li"), p.Click(".w[data-term=may]"), p.See(".levels"))
		}},
		{"a table", "/d/MER-24/2", func(p person, _ look) {
			p.does(p.Click(".slip .looked"), p.See(".cells td::6.9"))
		}},
		{"who can open it", "/dossiers/MER-24", func(p person, _ look) {
			p.does(p.Click(".folders a::Reports"), p.Click(".reach-word"), p.See(".ways li"))
		}},
		{"people", "/people", sees("tr[data-person]")},
		{"inviting", "", func(p person, l look) { p.does(p.Click(l.in(".btn-primary::Invite")), p.See(".written")) }},
		{"deleted", "/dossiers/MER-24/deleted", sees("#content h1")},
		{"particulars", "/particulars", sees("li::Fee")},
		{"one that is changed", "", func(p person, l look) { p.does(p.Click(l.in("li button::Change")), p.See(".definition")) }},
		{"columns of a register", "/dossiers/MER-24", func(p person, l look) {
			p.does(p.Click(".folders a::Reports"), p.See("tr[data-ref]::Notes"))
			if l.width > 900 {
				p.does(p.Click(".columns button"), p.Click(".columns label::Fee"), p.See("th::Fee"))
			}
		}},
		{"what of it", "", func(p person, _ look) { p.does(p.Click(".only button"), p.See(".only .panel")) }},
		{"as small pictures", "/dossiers/MER-24", func(p person, l look) {
			p.does(p.Click(".folders a::Reports"), p.See("tr[data-ref]::Notes"))
			if l.width > 900 {
				p.does(p.Pick(".showing select:has(option[value=true])", map[string]string{"en": "small pictures", "de": "kleine Bilder"}[l.language]), p.See(".pictures .one::Notes"))
				p.does(p.Pick(".showing select:has(option[value=true])", map[string]string{"en": "as rows", "de": "als Zeilen"}[l.language]), p.See("tr[data-ref]::Notes"))
			}
		}},
		{"made from another one", "", func(p person, l look) {
			p.does(p.RightClick("tr[data-ref]::Notes"), p.Click(l.in(".row-menu button::New from this")), p.See(".make-from label"))
		}},
		{"files within", "/dossiers/MER-24", func(p person, _ look) {
			p.does(p.Click(".folders a::Reports"), p.Click("tr[data-ref]::Enclosed"), p.Click(".slip .looked"), p.See(".within li"))
		}},
		{"one of them", "", func(p person, _ look) { p.does(p.Click(".within button::notes"), p.See(".inner .prose")) }},
		{"rules", "/practice", sees("#content h1")},
		{"desk", "/desk", sees("#content h1")},
		{"signing in and sessions", "/me", func(p person, l look) { p.does(p.See(l.in("h2::Where I am signed in"))) }},
		{"the account's menu", "", func(p person, _ look) {
			p.does(p.Click(".who-button"), p.See(".who-button ~ [role=menu], .menu-holder [role=menu]"))
		}},
		{"help", "", func(p person, _ look) {
			p.does(p.Press("\x1b"), p.Gone("[role=menu]"), p.Press("?"), p.See(".help article"))
		}},
		{"decisions", "/decisions", sees("li a::Findings")},
		{"a decision", "", func(p person, _ look) { p.does(p.Click("li a::Findings"), p.See(".one .way")) }},
		{"returning", "", func(p person, l look) { p.does(p.Click(l.in("button::Return with a reason")), p.See(".here textarea")) }},
		{"routes", "/routes", sees("li a::Release")},
		{"a route that is written", "", func(p person, _ look) { p.does(p.Click("li a::Release"), p.See(".stops")) }},
		{"transfers", "/outward/transfers", sees("article::Docking drawings")},
		{"a transfer", "", func(p person, _ look) { p.does(p.Click("article a.name"), p.See(".file-lines")) }},
		{"sending files", "/outward/send", sees(".drop")},
		{"sealing them", "", func(p person, l look) {
			file, _ := film(p.t, "Soundings.xyz", 300)
			p.does(p.Choose("[data-field=files]", file), p.Click(l.in("button.plus::+ sealed")), p.Click(l.in(".choices button::by a passphrase")), p.See("#passphrase"))
		}},
		{"outward", "/outward", func(p person, _ look) {
			p.does(p.Click("tr[data-link]"), p.See(".record .trail li"))
		}},
		{"activity", "/activity", sees(".e")},
		{"what answers a question", "/find?q=frame", sees(".hit")},
		{"a trail and its proof", "/trail?dossier=MER-24", sees(".trail-page aside section")},
		{"remarks on what is read", "/d/MER-24/1", func(p person, _ look) {
			p.does(p.Click(".slip .looked"), p.See(".reader .page[data-loaded=true]"), p.Click(".over .talk"), p.See(".remarks textarea"))
		}},
		{"what is not there", "/dossiers/NONE-1", sees("#content h1")},
		{"sign-in", "/sign-in", sees("#email")},
		{"a visitor's front", link, func(p person, _ look) { p.does(p.See(".gate button")) }},
		{"a visitor's papers", "", func(p person, l look) { p.does(p.Click(l.in("button::Show")), p.See("li[data-file]")) }},
		{"a visitor's table", "", func(p person, l look) {
			p.does(p.Click(l.in("li[data-file='Thickness.csv'] .btn::View")), p.See(".cells td"))
		}},
	}
}

// looks are all of them; sweeping goes through every one, or those that are named, a
// test through a few that hold each width, theme and language. 320 px are 1280 at 400
// per cent (WCAG 1.4.10).
func looks() []look {
	sweep := os.Getenv("SWEEP")
	if sweep == "" {
		return []look{{1280, 800, false, "en"}, {390, 844, true, "de"}}
	}
	var all []look
	for _, size := range [][2]int64{{320, 640}, {390, 844}, {768, 1024}, {1280, 800}, {1920, 1080}} {
		for _, dark := range []bool{false, true} {
			for _, language := range []string{"en", "de"} {
				if l := (look{size[0], size[1], dark, language}); sweep == "all" || strings.Contains(l.String(), sweep) {
					all = append(all, l)
				}
			}
		}
	}
	return all
}

// No view breaks a rule of accessibility, however it is looked at.
func TestPagesAreAccessible(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	l := testkit.Post[contract.Link](c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{reports}, Openings: ptr(90)})
	testkit.Post[contract.Link](c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{reports}})
	var enclosed bytes.Buffer
	z := zip.NewWriter(&enclosed)
	if w, err := z.Create("tank/notes.txt"); err != nil {
		t.Fatal(err)
	} else if _, err := io.WriteString(w, "From the tank."); err != nil || z.Close() != nil {
		t.Fatal(err)
	}
	c.Upload(reports, "", "Enclosed.zip", enclosed.Bytes())
	k.Appoint("ines", accounts.Administrator)
	testkit.Post[contract.Particular](c, 201, "/api/particulars", contract.NewParticular{Name: "Fee", Kind: "money", Unit: ptr("EUR"), Required: ptr(true)})
	asksForApproval(t, k, k.SignIn("hanne"), reports, "Findings.md")
	testkit.Post[struct{ ID uuid.UUID }](c, 201, "/api/routes", contract.RouteWish{Folder: &reports, Definition: release(k.People["hanne"].ID)})
	transfer := testkit.Post[contract.Transfer](c, 201, "/api/transfers", contract.TransferWish{Name: ptr("Docking drawings"), Files: &[]contract.AnnouncedFile{{Name: "Frames.dwg", Size: 9_000_000}, {Name: "Keel.dwg", Size: 9}}, To: &[]string{"marit.juhl@pelham-dock.example"}})
	var views = append(views(*l.Address), view{"a transfer as its recipient sees it", strings.TrimPrefix(*transfer.Address, k.URL), func(p person, _ look) {
		p.does(p.Click(".gate button.btn-text"), p.See("li[data-file='Frames.dwg']"))
	}}, view{"a sealed transfer as its recipient sees it", sealedFor(t, k, c, sealedFile{"Soundings.xyz", []byte("1 2 3\n"), nil}), func(p person, _ look) {
		p.does(p.Click(".gate button.btn-text"), p.See("li[data-file='Soundings.xyz']"), p.Click("summary"), p.See(".by-hand code"))
	}})
	delivered(t, k, c)
	views = append(views, signed(t, k, c, reports)...)
	views = append(views, writtenView(t, k, c, reports), tableView(t, k, c, reports))
	views = append(views, filledViews(t, k, c, reports)...)
	yard := testkit.Post[contract.Folder](c, 201, "/api/folders/"+reports.String()+"/folders", contract.NewName{Name: "The yard"}).Id
	c.Upload(yard, "", "Agreement.docx", agreement(t))
	c.Upload(yard, "", "Gaugings.csv", []byte("Frame,mm\n31,8.4\n"))
	works := contract.LinkKindWorking
	working := testkit.Post[contract.Link](c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{yard}, Kind: &works, Openings: ptr(90)})
	visits := func(what, file, sees string) view {
		return view{what, "/l/" + path.Base(*working.Address), func(p person, _ look) {
			p.does(p.See(".gate button, li[data-file]"))
			if gate, err := browser.Eval[bool](p.Browser, `!!document.querySelector('.gate button')`); err != nil || gate {
				p.does(err, p.Click(".gate button"))
			}
			p.does(p.Click("li[data-file='"+file+"'] a[href*='/write/']"), p.See(sees))
		}}
	}
	views = append(views, visits("a text that a visitor writes", "Agreement.docx", ".ProseMirror .kept"), visits("a table that a visitor writes", "Gaugings.csv", "[data-at=B2]"))
	agreed := c.Upload(reports, "", "Agreement.docx", agreement(t)).Document.Id
	views = append(views, view{"a word document that is written", "/write/" + agreed.String(), func(p person, _ look) { p.does(p.See(".kept-parts"), p.See(".ProseMirror .kept")) }})
	views = append(views, view{"what came from outside", "/desk/received", func(p person, _ look) { p.does(p.See("article::Yard quotation.exe")) }},
		view{"where it is put", "", func(p person, l look) { p.does(p.Click(l.in("button::Elsewhere")), p.See(".goals button")) }},
		view{"an account", "/me", func(p person, _ look) { p.does(p.See("#address .url"), p.See("#mail-programs")) }},
		view{"sending to an address", "/l/ines-okafor", func(p person, _ look) { p.does(p.Click(".gate button"), p.See(".drop")) }})
	var door sync.Mutex
	for at, l := range looks() {
		t.Run(l.String(), func(t *testing.T) {
			t.Parallel()
			p := sits(t, k, l.width, l.height)
			p.does(p.Dark(l.dark), p.opens("/sign-in"))
			_, err := browser.Eval[bool](p.Browser, `(localStorage.setItem('language', '`+l.language+`'), true)`)
			p.does(err)
			// The same person, one after another: tries in one second are held back.
			func() {
				door.Lock()
				defer door.Unlock()
				k.Later(2 * time.Second)
				p.comesIn("Ines Okafor")
			}()
			chain := 0
			for _, view := range views {
				if view.from != "" {
					chain++
				}
				// In a test each view is looked through in one of the looks.
				if os.Getenv("SWEEP") == "" && (chain+at)%2 == 1 {
					continue
				}
				if view.from != "" {
					p.does(p.Go(absolute(k.URL, view.from)))
				}
				view.come(p, l)
				if said := p.findings(); said != "" {
					t.Errorf("%s:\n%s", view.name, said)
				}
			}
		})
	}
}

// signed are the views of signing: a form that is sent to two, and a request for Ines.
func signed(t *testing.T, k *testkit.Kit, ines *testkit.Client, folder uuid.UUID) []view {
	t.Helper()
	me := k.People["ines"].ID
	doc := ines.Upload(folder, "", "Engagement.md", []byte("# Engagement\n\nDear [[name B]], the [[vessel]].\n\n[[sign:B]]\n\n[[sign:A]]\n\n[[text?:A Berth]]\n")).Document
	form := "/api/signing-forms/" + testkit.Post[contract.SigningForm](ines, 201, "/api/signing-forms", contract.FormWish{Document: doc.Id, Definition: contract.FormDefinition{Plan: contract.SigningPlan{Places: []contract.SigningPlace{},
		Parties: []contract.SigningParty{{Role: "the principal", Turn: 1, Person: &me, Known: contract.KnownBySignIn, Signs: true}, {Role: "the client", Turn: 2, Known: contract.KnownByLink, Signs: true}}}}}).Id.String()
	testkit.Post[contract.SigningForm](ines, 201, form+"/editions", nil)
	row := func(name, email string) contract.FormRow {
		return contract.FormRow{People: []contract.FormPerson{{Name: name, Email: email}}, Values: map[string]string{"vessel": "Aurelie"}}
	}
	many := testkit.Post[contract.FormSent](ines, 201, form+"/requests", contract.FormUse{Folder: folder, Rows: []contract.FormRow{row("Callum Wray", "callum@wray.example"), row("Marit Juhl", "marit@pelham.example")}}).Batch.String()
	var state contract.SentToMany
	until(t, "a form was sent to two", func() bool {
		state = testkit.Get[contract.SentToMany](ines, "/api/signing-batches/"+many)
		return state.Sent == 2
	})
	sees := func(what string) func(person, look) { return func(p person, _ look) { p.does(p.See(what)) } }
	return []view{
		{"signing requests", "/signing", sees("tr[data-signing]")},
		{"a request", "", func(p person, _ look) { p.does(p.Click("tr[data-signing] a::Callum"), p.See(".one h2")) }},
		{"what is signed", "/signing/" + state.Lines[0].Signing.String() + "/sign", sees(".stops li")},
		{"places put right", "/signing/" + state.Lines[0].Signing.String() + "/places", sees(".drawn .box, .drawn .marked")},
		{"have it signed", "/signing/new/" + doc.Id.String(), func(p person, _ look) {
			p.does(p.See(".drawn"), p.Until(`document.querySelector('h1') !== null`))
		}},
		{"forms", "/signing/forms", sees("[data-form]")},
		{"a form that is written", "", func(p person, _ look) { p.does(p.Click("[data-form] a.name"), p.See(".drawn .marked")) }},
		{"a form that is sent", strings.Replace(form, "/api/signing-forms", "/signing/forms", 1) + "/send", func(p person, _ look) {
			p.does(p.Type(".whom input[role=combobox]", "callum@wray.example"), p.Press("\r"), p.See("[data-row]"), p.See(".look img"))
		}},
		{"what was sent to many", "/signing/many/" + many, sees("[data-line]")},
		{"checking a paper", "/check", sees("[data-check] ~ *, #content h1")},
	}
}

// writtenView is a text that is written, with a proposal of somebody's, and what is said beside it.
func writtenView(t *testing.T, k *testkit.Kit, ines *testkit.Client, folder uuid.UUID) view {
	t.Helper()
	doc := ines.Upload(folder, "", "Letter.md", []byte("# Frame 31\n\nThe work is to be finished soon.\n\n- [ ] Plate list\n\n| a | b |\n|---|---|\n| 1 | 2 |\n")).Document.Id
	k.Give("ines", doc, "priya", access.LevelPropose)
	by := map[string]any{"type": "inserted", "attrs": map[string]any{"id": "x", "by": k.People["priya"].ID.String(), "at": 1}}
	at := "/api/documents/" + doc.String() + "/writing?page=" + uuid.NewString()
	version := testkit.Get[contract.WritingMessage](k.SignIn("priya"), at).Opening.Version
	step := map[string]any{"stepType": "replace", "from": 13, "to": 13, "slice": map[string]any{"content": []any{map[string]any{"type": "text", "text": "By Friday. ", "marks": []any{by}}}}}
	testkit.Post[contract.WritingMessage](k.SignIn("priya"), 200, at, contract.WritingSent{Turn: 1, Version: version, Steps: testkit.Steps(step)})
	return view{"a text that is written", "/write/" + doc.String(), func(p person, _ look) { p.does(p.See(".ProseMirror h2"), p.See(".beside li::Priya")) }}
}

// tableView is a table that is written, with what is worked out, and a cell in which two wrote at once.
func tableView(t *testing.T, k *testkit.Kit, ines *testkit.Client, folder uuid.UUID) view {
	t.Helper()
	doc := ines.Upload(folder, "", "Gaugings.csv", []byte("Frame,Was,Is\n12,10,8.9\n15,10,8.7\n")).Document.Id
	at := "/api/documents/" + doc.String() + "/writing?page="
	version := testkit.Get[contract.WritingMessage](ines, at+uuid.NewString()).Opening.Version
	for _, c := range []struct {
		by   *testkit.Client
		text string
	}{{ines, "8.5"}, {k.SignIn("hanne"), "8.4"}} {
		step := map[string]any{"op": "set", "sheet": 0, "cells": []any{map[string]any{"r": 1, "c": 2, "t": c.text}, map[string]any{"r": 1, "c": 3, "t": "=B2-C2"}}}
		testkit.Post[contract.WritingMessage](c.by, 200, at+uuid.NewString(), contract.WritingSent{Turn: 1, Version: version, Steps: testkit.Steps(step)})
	}
	return view{"a table that is written", "/table/" + doc.String(), func(p person, _ look) { p.does(p.See("[data-doubt]"), p.See("[data-at=D2].worked.right")) }}
}

// filledViews are a form that is filled in, what was handed in with it, and the form as a visitor finds it.
func filledViews(t *testing.T, k *testkit.Kit, ines *testkit.Client, folder uuid.UUID) []view {
	t.Helper()
	form := "# Instruction\n\n## The vessel\n\nName: <input name=\"name\" required> Length <input name=\"length\" type=\"number\" min=\"3\"> m\n\nKind: <input name=\"kind\" data-choices=\"trawler&#10;tug\" required>\n\n## When\n\nFirst day: <input name=\"day\" type=\"date\" min=\"+2\">\n\n<input name=\"insured\" type=\"checkbox\" aria-label=\"She is insured\">\n"
	doc := ines.Upload(folder, "", "Instruction.md", []byte(form)).Document.Id
	at := "/api/documents/" + doc.String() + "/filling"
	hanne := k.SignIn("hanne")
	hanne.Want(200, "PATCH", at, contract.FillingKept{Answers: map[string]string{"name": "Aurelie", "kind": "tug", "length": "24.6"}})
	hanne.Want(200, "POST", at+"/handed", contract.FillingHandedIn{Version: 1})
	kind := contract.LinkKindFill
	link := testkit.Post[contract.Link](ines, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{doc}, Kind: &kind, Openings: ptr(90)})
	sees := func(what string) func(person, look) { return func(p person, _ look) { p.does(p.See(what)) } }
	return []view{
		{"a form that is filled in", "/fill/" + doc.String(), sees("#asked-name")},
		{"its other part", "", func(p person, _ look) { p.does(p.Click(".part:nth-of-type(2) .part-name"), p.See(".day-row button")) }},
		{"what was handed in", "/answers/" + doc.String(), sees("tr::Hanne")},
		{"a field that is written", "/write/" + doc.String(), func(p person, _ look) { p.does(p.Click(".field-asked"), p.See(".field-bar")) }},
		{"a form that a visitor fills in", strings.TrimPrefix(*link.Address, k.URL), func(p person, _ look) { p.does(p.Click(".gate button"), p.See("#asked-name")) }},
	}
}

// delivered publishes an address of Ines's, and lets somebody send a file there.
func delivered(t *testing.T, k *testkit.Kit, ines *testkit.Client) {
	t.Helper()
	ines.Want(200, "PUT", "/api/me/address", contract.AddressWish{Name: "ines-okafor"})
	hanne, at := k.SignIn("hanne"), "/api/visits/ines-okafor"
	hanne.Want(204, "POST", at, contract.OpenLink{})
	name := base64.StdEncoding.EncodeToString([]byte("Yard quotation.exe"))
	begun := hanne.Want(201, "POST", at+"/uploads", nil, "Tus-Resumable", "1.0.0", "Upload-Length", "1", "Upload-Metadata", "name "+name)
	hanne.Want(204, "PATCH", begun.Header.Get("Location"), strings.NewReader("x"), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
	hanne.Want(200, "POST", at+"/intake", contract.HandIn{Name: ptr("Marit Juhl"), Note: ptr("The quotation.")})
}

func absolute(server, address string) string {
	if strings.HasPrefix(address, "http") {
		return address
	}
	return server + address
}

func ptr[T any](v T) *T { return &v }

package jobs_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/google/uuid"

	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// A form is written and given out by a link; an owner fills it in over two devices, hands it in, corrects it, and it is taken up.
func TestAFormIsWrittenAndFilledIn(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()), ines.See(".heading h1"))
	ines.count("from a folder to writing a new form", 4, func() {
		ines.does(ines.Click(".heading button::Add"), ines.Click("[role=menuitem]::New form"), ines.Type("form input", "Survey instruction"), ines.Enter(), ines.See(".ProseMirror .field-asked"))
	})
	at, err := browser.Eval[string](ines.Browser, `location.pathname`)
	ines.does(err)
	doc := uuid.MustParse(strings.TrimPrefix(at, "/write/"))
	ines.does(ines.Click(".field-asked"), ines.Type(".field-bar input[placeholder='the words before it']", "Berth or yard"), ines.Enter(), ines.See(".field-asked::Berth or yard"))
	ines.count("add a field that must be answered", 5, func() {
		ines.does(ines.Click("[data-field-verb]"), ines.Type(".field-bar input[placeholder='the words before it']", "Length"), ines.Pick(".field-bar select:first-of-type", "a number"), ines.Pick(".field-bar select[aria-label=Field]", "which must be answered"))
	})
	ines.does(ines.See(".field-asked[data-kind=number][data-must]::Length"), ines.See(".state::All of it is kept"), ines.Click("button::Name this version"), ines.Enter(), ines.See(".growing::2"))

	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()), ines.Click("tr[data-ref]::Survey instruction"), ines.See(".slip a::Fill in"))
	ines.count("give a form out to be filled in", 4, func() {
		ines.does(ines.Press("g"), ines.Click(".w[data-term=may]"), ines.Click(".choices button::Fill it in"), ines.SeeText("fill in this form"), ines.Click("button::Make link"), ines.See(".made"))
	})
	links := testkit.Get[[]contract.Link](c, "/api/links?dossier=MER-24")
	var address string
	for _, l := range links {
		if l.Kind == contract.LinkKindFill {
			address = *l.Address
		}
	}

	owner := sits(t, k, 390, 844)
	owner.does(owner.Go(address), owner.Click("button::Begin"), owner.See("h2::0 of 2 answered"), owner.See(".left::One still to answer: Length"))
	owner.does(owner.Type("#asked-f1", "Fish quay"), owner.See(".fill header::1 of 2"))
	length, err := browser.Eval[string](owner.Browser, `document.querySelector('input[inputmode=decimal]').id`)
	owner.does(err, owner.Type("#"+length, "a lot"), owner.Click("h2"), owner.See(".wrong::This is no number"))
	owner.does(owner.Type("#"+length, "24,6"), owner.See("h2::2 of 2 answered"), owner.See("footer input"))
	owner.count("hand a form in that is answered", 2, func() {
		owner.does(owner.Type("footer input", "Callum Wray"), owner.Click("button.hand-in"), owner.See(".receipt h2::Handed in"))
	})
	owner.does(owner.Click("button::Correct it"), owner.See(".correcting"), owner.Type("#asked-f1", "Berth 7"), owner.See(".fill header::Kept"), owner.Click("button.hand-in"), owner.See(".receipt h2::The correction"))
	owner.does(owner.Click("button::Correct it"), owner.See(".correcting"))

	ines.does(ines.opens("/answers/"+doc.String()), ines.See("tr::Callum Wray"), ines.See("td::Berth 7"), ines.See("td::24.6"))
	ines.does(ines.Click("button::Take it up"), ines.See(".state::Ines Okafor"))
	owner.does(owner.Type("#asked-f1", "Berth 8"))
	// Who had begun another correction meanwhile is told, and shown what counts.
	owner.does(owner.See(".receipt::it stays as you handed it in"), owner.Go(address), owner.See(".receipt::it stays as you handed it in"))
	ines.does(ines.opens("/activity"), ines.See(".e::filled in"))
	ines.does(ines.opens("/answers/"+doc.String()), ines.Click("th a::Callum Wray"), ines.See(".slip h2::Survey instruction, Callum Wray"))
	r := testkit.Get[contract.FillingRegister](c, "/api/documents/"+doc.String()+"/fillings")
	if raw := c.Want(200, "GET", "/api/documents/"+r.Rows[0].Paper.Id.String()+"/content", nil).Body; !bytes.HasPrefix(raw, []byte("%PDF")) {
		t.Errorf("%.20q", raw)
	}
}

// What is typed while the line is broken is kept once it is there again, and a form that changes meanwhile keeps what was answered.
func TestAFormIsFilledInOverABrokenLine(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	form := "# Instruction\n\nBerth: <input name=\"berth\" required>\n\nKeys: <input name=\"keys\">\n"
	doc := c.Upload(reports, "", "Instruction.md", []byte(form)).Document.Id
	ines, line := sits(t, k, 1280, 800), k.NewLine(t)
	ines.url = line.URL
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/fill/"+doc.String()), ines.See("#asked-berth"))
	line.Break()
	ines.does(ines.Type("#asked-berth", "Fish quay"), ines.See("header::Not kept yet"))
	line.Mend()
	ines.does(ines.Type("#asked-keys", "The mate"), ines.See("header::Kept"))
	c.Upload(reports, "", "Instruction.md", []byte(strings.Replace(form, "Keys: <input name=\"keys\">", "Port: <input name=\"port\">", 1)))
	ines.does(ines.Click("button.hand-in"), ines.See(".wrong::has been changed meanwhile"), ines.See("#asked-port"), ines.Until(`document.querySelector('#asked-berth').value === 'Fish quay'`))
	ines.does(ines.Click("button.hand-in"), ines.See(".receipt h2::Handed in"))
}

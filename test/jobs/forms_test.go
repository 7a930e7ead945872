package jobs_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// A form is made by drawing its places while a paper is sent, and comes to count; from it the next one is sent in few acts, in
// turn: by somebody outside with a code, then by its sender. What stands in the end is found whole by another program.
func TestAFormIsMadeAndSent(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	hanne := k.SignIn("hanne")
	doc := hanne.Upload(reports, "", "Engagement.pdf", pdf(1)).Document
	w := sits(t, k, 1280, 800)
	w.signsIn("Hanne Solvik")
	w.does(w.opens("/signing/new/"+doc.Id.String()), w.See(".drawn"))
	w.does(w.Type(".sentence input[role=combobox]", "callum@wray.example"), w.Press("\r"), w.See("p.terms::callum"))
	w.does(w.Stroke(".drawn", 0.1, 0.3, 0.4, 0.36), w.See(".box.on"), w.Stroke(".box.on", 0.3, 0.3, 0.5, 0.6), w.Click("[data-keep-form]"), w.Click("a::To the form"))
	w.does(w.See(".party::named each time"), w.Pick(".party select[aria-label='How surely they are known']", "by a code"), w.Click("button::+ party"), w.Pick("p.party:nth-of-type(2) select[aria-label='Who it is']", "Hanne Solvik"))
	w.does(w.See(".bar::has no place for a signature"), w.Pick(".another select[aria-label='Whose place it is']", "Hanne Solvik"), w.Stroke(".drawn", 0.5, 0.3, 0.8, 0.36))
	w.does(w.SeeText("2 places"), w.See("[role=status]::kept"), w.Click("[data-release]"), w.SeeText("Edition 1 counts from now on."))
	f := testkit.Get[[]contract.SigningForm](hanne, "/api/signing-forms")
	if len(f) != 1 || f[0].Edition != 1 || len(f[0].Parties) != 2 || f[0].Parties[0].Name != "" || f[0].Parties[1].Name != "Hanne Solvik" {
		t.Fatalf("%+v", f)
	}
	w.does(w.opens("/dossiers/MER-24/"+reports.String()), w.See("tr[data-ref]"))
	w.does(w.Click("button[aria-haspopup]::Add"), w.Click("[role=menuitem]::from a form"))
	w.count("send a form with usual terms", 4, func() {
		w.does(w.Click("[data-use]"), w.Type(".whom input[role=combobox]", "callum@wray.example"), w.Press("\r"), w.See("[data-row]"), w.Click("[data-send]"), w.See(".one"))
	})
	callum := sits(t, k, 390, 844)
	callum.does(callum.Go(mailed(t, k, "callum@wray.example", k.URL+"/l/")))
	callum.does(callum.Type("#email", "callum@wray.example"), callum.Click("button::Send me a code"), callum.See("#code"))
	callum.does(callum.Type("#code", codeFor(t, k, "callum@wray.example")), callum.Click("button::Open"), callum.See(".signing"), callum.Click("[data-next]"), callum.Click("button::type it"), callum.Type("[data-typed]", "Callum Wray"), callum.Click("[data-here]"), callum.Click("[data-consent]"), callum.Click("[data-sign]"), callum.See("h1::Signed"))
	w.does(w.opens("/today"), w.Click("[data-paper] a::Read and sign"), w.See(".filled"), w.Click("[data-next]"), w.Click("button::type it"), w.Click("[data-here]"), w.Click("[data-consent]"), w.Click("[data-sign]"), w.SeeText("You have signed."))
	w.does(w.opens("/signing"), w.See("tr[data-signing]::all have signed"), w.See("tr[data-signing]::edition 1"))
	list := testkit.Get[contract.Signings](hanne, "/api/signings")
	file := filepath.Join(t.TempDir(), "signed.pdf")
	if err := os.WriteFile(file, hanne.Do("GET", "/api/documents/"+list.Ended[0].ItemId.String()+"/content", nil).Body, 0o600); err != nil {
		t.Fatal(err)
	}
	if out, _ := exec.Command("pdfsig", "-nocert", file).CombinedOutput(); !strings.Contains(string(out), "Signature is Valid.") {
		t.Errorf("%s", out)
	}
}

// A form goes to many from a table: what is missing is filled in in one place, what cannot be sent is left out, and each has a
// paper of their own.
func TestAFormGoesToMany(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	hanne := k.SignIn("hanne")
	letter := "# Engagement\n\nDear [[name A]], we survey the [[vessel]].\n\nSigned: [[sign:A]]\n"
	doc := hanne.Upload(reports, "", "Engagement.md", []byte(letter)).Document
	form := testkit.Post[contract.SigningForm](hanne, 201, "/api/signing-forms", contract.FormWish{Document: doc.Id, Definition: contract.FormDefinition{
		Plan: contract.SigningPlan{Places: []contract.SigningPlace{}, Parties: []contract.SigningParty{{Role: "the client", Turn: 1, Known: contract.KnownByLink, Signs: true}}}}})
	testkit.Post[contract.SigningForm](hanne, 201, "/api/signing-forms/"+form.Id.String()+"/editions", nil)
	file := filepath.Join(t.TempDir(), "owners.csv")
	if err := os.WriteFile(file, []byte("\xef\xbb\xbfName;E-Mail;Vessel\nCallum Wray;callum@wray.example;Aurelie\nOdile Charron;odile@brackwater.example;\nNobody;;Pellew\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	w := sits(t, k, 1280, 800)
	w.signsIn("Hanne Solvik")
	w.does(w.opens("/signing/forms/"+form.Id.String()+"/send"), w.See(".whom input[role=combobox]"), w.Choose("[data-table]", file), w.See("[data-row='2']::An address is missing"))
	w.does(w.Type("[data-row='1'] [data-blank=vessel]", "Corran Lass"), w.Gone("[data-row='1'] .t-caution"), w.Click("[data-less-wrong]"), w.Gone("[data-row='2']"), w.See(".bar::2 requests"))
	w.does(w.Click("[data-send]"), w.See("[data-line='1'] a"), w.See("[data-line='0'] a"), w.SeeText("2 are sent"))
	for _, email := range []string{"callum@wray.example", "odile@brackwater.example"} {
		mailed(t, k, email, k.URL+"/l/")
	}
	w.does(w.Click("[data-line='1'] a"), w.See(".one h2::Odile Charron"))
}

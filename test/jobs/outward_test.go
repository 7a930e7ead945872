package jobs_test

import (
	"regexp"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// codeFor waits for the code in the last mail to an address.
func codeFor(t *testing.T, k *testkit.Kit, to string) string {
	t.Helper()
	deadline := time.Now().Add(20 * time.Second)
	for time.Now().Before(deadline) {
		for _, m := range k.Mail.Messages(to) {
			if d := regexp.MustCompile(`\d{3} \d{3}`).FindString(m.Subject); d != "" {
				return d
			}
		}
		time.Sleep(20 * time.Millisecond)
	}
	t.Fatalf("no code came to %s", to)
	return ""
}

// A link for one insurer, who confirms the address by a code; the sender sees
// who it was, and how surely that is known.
func TestALinkForAConfirmedAddress(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref]::Condition survey"), ines.Click(".heading .btn-primary::Give out"))
	ines.count("a link only for one domain, whose holders confirm their address", 3, func() {
		ines.does(ines.Click(".plus::+ only for"), ines.Type("#allowed", "dunlin.example"), ines.Press("\r"), ines.SeeText("after confirming their e-mail, if they are at dunlin.example"))
	})
	ines.does(ines.Click("button::Make link"), ines.See(".address input"))
	link, err := browser.Eval[string](ines.Browser, `document.querySelector('.address input').value`)
	ines.does(err, ines.Click("button::Done"))

	sunniva := sits(t, k, 390, 844)
	sunniva.does(sunniva.Go(link), sunniva.SeeText("Ines Okafor asks who opens this"))
	sunniva.count("recipient: from the link to the papers, with a code", 4, func() {
		sunniva.does(sunniva.Type("#email", "sunniva.aker@dunlin.example"), sunniva.Click("button::Send me a code"), sunniva.See("#code"))
		sunniva.does(sunniva.Type("#code", codeFor(t, k, "sunniva.aker@dunlin.example")), sunniva.Click("button::Open"), sunniva.See("li[data-file]::Condition survey report"))
	})
	ines.does(ines.See(".trail li::sunniva.aker@dunlin.example, confirmed"))

	// Whoever is not meant gets no code, and is told nothing else.
	marit := sits(t, k, 390, 844)
	marit.does(marit.Go(link), marit.Type("#email", "marit@pelham-dock.example"), marit.Click("button::Send me a code"), marit.See("#code"), marit.Type("#code", "123 456"), marit.Click("button::Open"), marit.SeeText("The code is wrong or has run out."))
	if n := len(k.Mail.Messages("marit@pelham-dock.example")); n != 0 {
		t.Errorf("%d mails went to somebody else", n)
	}
}

// Terms are changed where the link stands, and several links are ended at once;
// a visitor's open page follows.
func TestChangingAndEndingLinks(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	token := func(name string, item uuid.UUID) string {
		l := testkit.Post[contract.Link](c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{item}, Name: &name})
		return *l.Address
	}
	register := testkit.Get[contract.RegisterPage](c, "/api/folders/"+reports.String()+"/register")
	first := token("For the yard", register.Rows[0].Id)
	token("For the insurer", register.Rows[1].Id)
	token("For the owner", register.Rows[1].Id)
	marit := sits(t, k, 390, 844)
	marit.does(marit.Go(first), marit.Click("button::Show"), marit.See("li[data-file]"))
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("nav a::Outward"), ines.Click("button.name::For the insurer"))
	ines.count("a link gets another term, from its row", 3, func() {
		ines.does(ines.Click("button::Change terms"), ines.Click(".plus::+ at most so many openings"), ines.SeeText("at most once"), ines.Click(".end button::Change terms"), ines.See(".toast-line::are changed"))
	})
	ines.count("end day of a link that is out, prolonged by a week", 1, func() {
		ines.does(ines.Click("tr[data-link='For the owner'] button::a week more"), ines.See(".toast-line::ends"))
	})
	ines.count("… taken back", 1, func() { ines.does(ines.Click(".toast-line button::Undo"), ines.Gone(".toast-line button")) })
	ines.count("password onto a link that is out already, copied to be told", 2, func() {
		ines.does(ines.Click(".record .link-acts button::+ password"), ines.Click(".record button::Copy message"), ines.See("tr[data-link='For the insurer'] .terms::and the password"))
	})
	ines.does(ines.SeeText("0 of 1 openings"), ines.SeeText("changed the terms of the link"))
	ines.does(ines.Pick("select[aria-label=Which]", "never opened"), ines.Gone("tr[data-link='For the yard']"), ines.Pick("select[aria-label=Which]", "all of them"))
	ines.count("two links are ended at once", 3, func() {
		ines.does(ines.Click("tr[data-link='For the yard'] input[type=checkbox]"), ines.Click("tr[data-link='For the owner'] input[type=checkbox]"), ines.Click("button::End 2 links"), ines.See(".toast-line::2 links are ended"))
	})
	ines.does(ines.Gone("tr[data-link='For the yard']"), ines.See("tr[data-link='For the insurer']"))
	marit.does(marit.SeeText("This link is no longer available"))
	ines.count("both are opened again", 1, func() {
		ines.does(ines.Click(".toast-line button::Undo"), ines.See("tr[data-link='For the yard']"), ines.See("tr[data-link='For the owner']"))
	})
}

// What is sensitive is said on the writing sheet, and the link is shown as a
// picture that holds its address.
func TestSensitiveContentAndThePictureOfALink(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	c.Upload(reports, "", "Fee note.txt", []byte("Please pay to GB82 WEST 1234 5698 7654 32."))
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref]::Fee note"), ines.Click(".heading .btn-primary::Give out"), ines.See(".found::One file holds sensitive content"), ines.See(".found li::1 bank account (GB), line 1"))
	ines.does(ines.Click("button::Make link"), ines.Click("button::QR code"), ines.Until(`document.querySelector('.qr')?.naturalWidth === 296`))
}

package jobs_test

import (
	"testing"

	"github.com/google/uuid"

	"tabularis/internal/app/accounts"
	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// What was given once with its own terms, to the same people, is given again by one
// act in the sheet.
func TestGivingAgainAsBefore(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	register := testkit.Get[contract.RegisterPage](c, "/api/folders/"+reports.String()+"/register")
	once, password, to := 1, "tide-harbour-9", "sunniva.aker@dunlin.example"
	l := testkit.Post[contract.Link](c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{register.Rows[0].Id}, Openings: &once, Password: &password})
	c.Want(202, "POST", "/api/links/"+l.Id.String()+"/mail", contract.LinkMail{To: []string{to}})

	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref]::Thickness"))
	ines.count("give out again as last time, to the same people", 2, func() {
		ines.does(ines.Click(".heading .btn-primary::Give out"), ines.Click(".remembered button::Send like this to "+to), ines.See(".address input"), ines.See(".toast-line::"+to))
	})
	link, err := browser.Eval[string](ines.Browser, `document.querySelector('.address input').value`)
	ines.does(err, ines.SeeText("at most once"))
	// The password is another one, and goes another way.
	spoken, err := browser.Eval[string](ines.Browser, `document.querySelector('blockquote .no').textContent.trim()`)
	ines.does(err)
	if spoken == "" || spoken == password {
		t.Errorf("the password is %q", spoken)
	}
	sunniva := sits(t, k, 390, 844)
	sunniva.does(sunniva.Go(link), sunniva.Type("#password", spoken), sunniva.Click("button::Open"), sunniva.See("li[data-file]::Thickness"))

	// Taken over, terms can be changed before anything is made.
	ines.does(ines.Click("button::Done"), ines.Click("tr[data-ref]::Notes"), ines.Click(".heading .btn-primary::Give out"))
	ines.count("terms given before, taken over with more openings", 3, func() {
		ines.does(ines.Click(".remembered button::Take over"), ines.See(".writing::at most once"))
		ines.does(ines.Click(".writing button::once"), ines.Click(".gloss button::3"), ines.See(".writing::3 times"))
	})
}

// The practice names terms once; whoever gives something out has them at one press.
func TestNamedTermsAreOneWord(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	k.Appoint("ines", accounts.Proprietor)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/practice"), ines.Type("#terms-name", "as for insurers"), ines.Type("#terms-words", "wonce"), ines.Click(".named button::Add"), ines.SeeText("These words are no terms"))
	ines.does(ines.Type("#terms-words", "two weeks, password, without download"), ines.Click(".named button::Add"), ines.See(".named li::as for insurers"), ines.opens("/dossiers"))
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref]::Thickness"))
	ines.count("give out as the practice does for insurers", 2, func() {
		ines.does(ines.Click(".heading .btn-primary::Give out"), ines.Click(".remembered li:first-child button::Give out like this"), ines.See(".address input"), ines.See(".terms.listed::and the password"))
	})
}

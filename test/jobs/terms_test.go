package jobs_test

import (
	"testing"

	"tabularis/internal/browser"
)

// Terms typed in one's own words, in either language, become the sentence; what means
// nothing is marked at the word, and nothing is made of it.
func TestTermsAreTyped(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref]::Condition survey"), ines.See(".slip h2::Condition survey report"))
	// types opens the sheet, types what is given, and waits for nothing before Enter.
	types := func(words string) {
		ines.does(ines.Click(".heading .btn-primary::Give out"), ines.Until(`document.activeElement.dataset.field === 'typed'`))
		ines.does(ines.Type("[data-field=typed]", words), ines.Press("\r"))
	}
	made := func(parts ...string) {
		ines.does(ines.See(".made::The link is made and copied"))
		for _, p := range parts {
			ines.does(ines.See(".terms.listed::" + p))
		}
	}
	ines.count("chosen document → copied link: end day, one opening, password", 3, func() {
		types("three weeks, once, password")
		made("Whoever has this link and the password may view and download 1 file in this version until", "at most once")
	})
	password, err := browser.Eval[string](ines.Browser, `document.querySelector('blockquote .no').textContent.trim()`)
	ines.does(err)
	if len(password) < 6 {
		t.Errorf("the password is %q", password)
	}
	ines.does(ines.Click("button::Done"))
	ines.count("… and the recipient's stated identity", 3, func() {
		types("drei Wochen, einmal, Passwort, wer")
		made("and the password", "at most once", "after stating their e-mail")
	})
	ines.does(ines.Click("button::Done"))
	ines.count("named link, five downloads, an end day", 3, func() {
		types(`"Draft for yard", five downloads, four weeks`)
		made("downloading at most 5 times")
	})
	ines.does(ines.Click("button::Done"), ines.See(".slip li[data-link='Draft for yard']"))

	// Nothing is made of what is not understood; the word is marked, and can be completed.
	types("a week, wonce")
	ines.does(ines.See(".typed .odd::wonce"), ines.See(".typed [role=status]::“wonce” means nothing here"), ines.Gone(".made"))
	ines.does(ines.Type("[data-field=typed]", "a week, pass"), ines.Click(".typed button::password"), ines.See(".w::and the password"))
	ines.does(ines.Type("[data-field=typed]", ""), ines.Until(`!document.querySelector('.writing').innerText.includes('password')`))
	// What the practice forbids is refused at its word.
	ines.does(ines.Type("[data-field=typed]", "4 whiles"), ines.See(".typed [role=status]::“4 whiles” means nothing here"))
	ines.does(ines.Type("[data-field=typed]", "2000 days, once"), ines.SeeText("That is later than the practice allows"), ines.Press("\r"), ines.Gone(".made"))
	ines.does(ines.Click("button::Discard"), ines.Press("\x1b"), ines.Gone(".slip"))
	ines.count("folder link: password, end day, deposit only", 3, func() {
		types("deposit only, password, a week")
		made("and the password", "put files into")
	})
}

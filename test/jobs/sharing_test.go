package jobs_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// mailed waits for a word that follows a mark in the last mail to an address.
func mailed(t *testing.T, k *testkit.Kit, to, mark string) string {
	t.Helper()
	found := ""
	until(t, fmt.Sprintf("a mail with %q came to %s", mark, to), func() bool {
		all := k.Mail.Messages(to)
		for i := len(all) - 1; i >= 0 && found == ""; i-- {
			if _, after, ok := strings.Cut(all[i].Text, mark); ok {
				found = mark + strings.TrimSpace(strings.SplitN(after, "\n", 2)[0])
			}
		}
		return found != ""
	})
	return found
}

// Two documents for a colleague and an unknown outsider in one go; the outsider
// comes in from the mail, sees the branch and nothing else, and is out when the
// week is over.
func TestSharingWithAColleagueAndAnOutsider(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	c.Upload(reports, "Between us", "Draft.md", []byte("# Draft\n"))
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.See("tr[data-ref]::Notes"))
	ines.does(ines.Click("tr[data-ref='MER-24/002'] input[type=checkbox]"), ines.Click("tr[data-ref='MER-24/003'] input[type=checkbox]"), ines.SeeText("Chosen together"))
	ines.count("two documents to a colleague and an outsider, for a week", 8, func() {
		ines.does(ines.Click(".heading .btn-primary::Give out"), ines.Click("button::To people instead"), ines.See(".who-list li"))
		ines.does(ines.Type(".ask", "tom"), ines.See(".who-list li::Tomasz Rehn"), ines.SeeText("gains 2 of 2"), ines.Press("\r"), ines.See(".line .w::Tomasz Rehn"))
		ines.does(ines.Type(".ask", "surveys@dunlin.example"), ines.See(".hint button::Invite surveys@dunlin.example"), ines.Press("\r"), ines.See(".line .w::surveys@dunlin.example"))
		// Whoever is outside gets an end by default.
		ines.does(ines.Until(`!document.querySelector('.writing').innerText.includes('without an end')`))
		ines.does(ines.Click(".plus::+ for a week"), ines.SeeText("One person outside will newly be able to open files: surveys@dunlin.example 2"), ines.SeeText("One colleague will newly be able to open files: Tomasz Rehn 2"))
		ines.does(ines.Click("button::Give access"), ines.See(".toast-line::has access"))
	})
	ines.does(ines.Click("button::Choose none"), ines.Click("tr[data-ref='MER-24/002']"), ines.See(".slip li[data-grant='Tomasz Rehn']"), ines.SeeText("invited, not come in yet"))

	way := mailed(t, k, "surveys@dunlin.example", "http")
	sunniva := sits(t, k, 390, 844)
	sunniva.does(sunniva.Go(way), sunniva.SeeText("Ines Okafor invites you"), sunniva.Type("#enter-name", "Sunniva Aker"))
	sunniva.count("an outsider: from the mail to what was given, the first time", 1, func() {
		sunniva.does(sunniva.Click("button::Come in"), sunniva.See("tr[data-given='Thickness.csv']"))
	})
	sunniva.does(sunniva.Click("a::Thickness"), sunniva.See("tr[data-ref]::Thickness"))
	seen, err := browser.Eval[bool](sunniva.Browser, `/Condition survey|Between us|Draft/.test(document.body.innerText)`)
	sunniva.does(err)
	if seen {
		t.Error("the outsider is shown more than the branch")
	}
	// Whoever manages it sees who she is now, and why she can open it.
	ines.does(ines.See(".slip li[data-grant='Sunniva Aker']"), ines.Click("li[data-grant='Sunniva Aker'] .go::why"), ines.See(".chain li::on this document"))
	ines.does(ines.Click("a::View as Sunniva"), ines.SeeText("As Sunniva Aker sees it"), ines.See("tr[data-ref]::Thickness"), ines.Gone("tr[data-ref]::Condition survey"))

	// The open page goes blank when the week is over: the clock is moved, and the
	// stream tells at its next sign of life.
	k.Later(8 * 24 * time.Hour)
	sunniva.does(sunniva.Go(k.URL+"/desk"), sunniva.See("#email"))
	sunniva.count("an outsider: from a mail's address to the page, by code", 2, func() {
		sunniva.does(sunniva.Go(k.URL+"/sign-in?email=surveys@dunlin.example&next=/desk"), sunniva.Click("button::Send me a code"), sunniva.See("#code"))
		code := strings.TrimPrefix(mailed(t, k, "surveys@dunlin.example", "Your code is "), "Your code is ")
		sunniva.does(sunniva.Type("#code", strings.TrimSuffix(code, ".")), sunniva.SeeText("Nothing was given to you"))
	})
}

func TestEndingAccessBlanksTheOpenPage(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	k.Give("ines", reports, "tomasz", access.LevelView)
	tomasz := sits(t, k, 1280, 800)
	tomasz.does(tomasz.opens("/sign-in"), tomasz.Type("#email", "tomasz.rehn@halyard-rook.example"), tomasz.Type("#password", testkit.Password), tomasz.Click("button[type=submit]"), tomasz.See("h2::My dossiers"))
	tomasz.does(tomasz.Click("a::Corran Lass"), tomasz.See("tr[data-ref]::Notes"))
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click(".reach-word"), ines.See(".slip li[data-grant='Tomasz Rehn']"))
	ines.count("end somebody's access where it stands", 2, func() {
		ines.does(ines.Click("li[data-grant='Tomasz Rehn'] .go::end"), ines.SeeText("will no longer be able to open files: Tomasz Rehn 3"), ines.Click("button::End access"), ines.See(".toast-line::is ended"))
	})
	tomasz.does(tomasz.SeeText("This is not available"), tomasz.Type("#ask-words", "for the estimate"), tomasz.Click("button::Ask for access"), tomasz.SeeText("has been asked"))
	ines.does(ines.Click(".cards a::Today"), ines.SeeText("Asks to be let in"), ines.Click("button::Let in"), ines.See(".toast-line::Tomasz Rehn is let in"))
	if a := k.SignIn("tomasz").Do("GET", "/api/folders/"+reports.String()+"/register", nil); a.Status != 200 {
		t.Errorf("let in, the register answers %d", a.Status)
	}
}

func TestPeopleAndGroups(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	k.Appoint("ines", accounts.Proprietor)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click(".cards a::People"), ines.See("tr[data-person='Luca Ferrante']"))
	ines.count("invite a guest by mail", 3, func() {
		ines.does(ines.Click(".btn-primary::Invite"), ines.Type("input[type=email]", "odile.charron@brackwater.example"), ines.Click(".written .btn-primary::Invite"), ines.See(".toast-line::is on its way"))
	})
	ines.does(ines.See(".inv li::odile.charron@brackwater.example"))
	ines.does(ines.Click("button::Make a group"), ines.Type("#group-name", "Survey team"), ines.Click(".written .btn-primary::Make a group"), ines.See("tr[data-group='Survey team']"))
	ines.does(ines.Click("tr[data-group='Survey team'] .go::members"), ines.See(".opened select"))
	directory := testkit.Get[contract.Directory](c, "/api/people")
	c.Want(204, "POST", "/api/access", contract.AccessWish{Items: []uuid.UUID{reports}, To: []contract.Recipient{{Kind: ptr(contract.SubjectKindGroup), Id: &directory.Groups[0].Id}}, Level: contract.LevelView})
	ines.count("put somebody into a group, having read what it means", 2, func() {
		ines.does(ines.Pick(".opened select", "Luca Ferrante"), ines.See(".planned::One colleague will newly be able to open files: Luca Ferrante 3"), ines.Click(".planned .btn-primary::Put in"), ines.See(".toast-line::Luca Ferrante is in the group"))
	})
	k.SignIn("luca").Want(200, "GET", "/api/dossiers/MER-24", nil)
	ines.does(ines.Click(".opened .go::Take Luca Ferrante out"), ines.See(".planned::One person will no longer be able to open files: Luca Ferrante 3"), ines.Click(".planned .btn-primary::Take out"), ines.See(".toast-line::no longer in the group"), ines.Gone(".planned"))
	k.SignIn("luca").Want(404, "GET", "/api/dossiers/MER-24", nil)
	ines.count("end an account with nothing to hand over", 2, func() {
		ines.does(ines.Click("tr[data-person='Luca Ferrante'] .go::End account"), ines.Click(".ending .btn-primary::End account"), ines.See(".toast-line::Luca Ferrante is ended"))
	})
	if a := k.Visitor().Do("POST", "/api/session", contract.SignIn{Email: k.People["luca"].Email, Password: testkit.Password}); a.Status != 401 {
		t.Errorf("the ended account signs in: %d", a.Status)
	}
}

// Whoever's own way in is ended while a group still lets them in is said to come in
// still, and that way can be ended in the same place. Ends are typed as one says them.
func TestEndingOneOfTwoWays(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	k.Appoint("ines", accounts.Proprietor)
	group := testkit.Post[contract.GroupMade](c, 201, "/api/groups", contract.NewName{Name: "Second survey"}).Id
	luca := k.People["luca"].ID
	c.Want(204, "POST", "/api/groups/"+group.String()+"/members", contract.NewMember{Person: &luca})
	for _, to := range []contract.Recipient{{Kind: ptr(contract.SubjectKindGroup), Id: &group}, {Id: &luca}} {
		c.Want(204, "POST", "/api/access", contract.AccessWish{Items: []uuid.UUID{reports}, To: []contract.Recipient{to}, Level: contract.LevelView})
	}
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click(".reach-word"), ines.See("li[data-grant='Luca Ferrante']"))
	ines.count("an end of access, typed as one says it", 4, func() {
		ines.does(ines.Click("li[data-grant='Luca Ferrante'] .go::change"), ines.Click("li[data-grant='Luca Ferrante'] label::ends by itself"))
		ines.does(ines.Type("[data-field=moment]", "in drei Wochen 12 Uhr"), ines.Press("\r"), ines.Until(`/12:00$/.test(document.querySelector('[data-field=moment]').value)`))
	})
	ines.does(ines.Type("[data-field=moment]", "wednesdee"), ines.Press("\r"), ines.See("[role=status]::“wednesdee” is no moment"), ines.Click("li[data-grant='Luca Ferrante'] button::Discard"))
	ines.does(ines.Click("li[data-grant='Luca Ferrante'] .go::end"), ines.SeeText("Nobody gains or loses anything"), ines.SeeText("Luca Ferrante still comes in by the group Second survey"))
	ines.count("both ways of somebody, ended one after the other", 3, func() {
		ines.does(ines.Click("button::End access"), ines.See(".toast-line::still come in by the group Second survey"))
		ines.does(ines.Click("li[data-grant='the group Second survey'] .go::end"), ines.SeeText("will no longer be able to open files: Luca Ferrante 3"), ines.Click("button::End access"), ines.Gone("li[data-grant='the group Second survey']"))
	})
	k.SignIn("luca").Want(404, "GET", "/api/dossiers/MER-24", nil)
}

// People, level and end are typed together; who is not one alone, and what means
// nothing, is left in the field, and nothing is given before that is settled.
func TestPeopleAndTermsTypedTogether(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref]::Notes"), ines.See(".slip h2::Notes"))
	ines.count("person, level, a week, a note", 4, func() {
		ines.does(ines.Press("p"), ines.See(".who-list li"), ines.Type(".ask", "tomasz, edit, a week"))
		ines.does(ines.Type("#access-message", "Please look at frame 31."), ines.See(".line .w::Tomasz Rehn"), ines.See(".writing .w::edit"))
		ines.does(ines.Click("button::Give access"), ines.See(".toast-line::Tomasz Rehn has access"))
	})
	ines.does(ines.Gone(".share"), ines.Press("p"), ines.See(".who-list li"), ines.Type(".ask", "luca, edti, view only"), ines.Press("\r"), ines.See(".line .w::Luca Ferrante"), ines.See("[role=status]::“edti” is nobody yet"))
	ines.does(ines.Until(`document.querySelector('.share .btn-primary').disabled`), ines.Type(".ask", ""), ines.Until(`!document.querySelector('.share .btn-primary').disabled`))
}

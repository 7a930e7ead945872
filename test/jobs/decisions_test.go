package jobs_test

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// release is a route on which somebody approves.
func release(by uuid.UUID) (d contract.RouteDefinition) {
	if err := json.Unmarshal(fmt.Appendf(nil, `{"name":"Release","starts":[{"on":"arrives"},{"on":"hand"}],"stops":[{"cases":[{"do":"approve","who":[{"person":%q}],"within":{"n":2,"unit":"days"}}]}]}`, by), &d); err != nil {
		panic(err)
	}
	return d
}

// asksForApproval lets somebody bring a document and ask Ines to approve it.
func asksForApproval(t *testing.T, k *testkit.Kit, c *testkit.Client, folder uuid.UUID, name string) uuid.UUID {
	t.Helper()
	doc := c.Upload(folder, "", name, []byte("# Frame 31\n\nNot reached.\n")).Document.Id
	ines := k.People["ines"].ID
	testkit.Post[[]uuid.UUID](c, 201, "/api/decisions", contract.AskWish{Documents: []uuid.UUID{doc}, Do: "approve", Who: []contract.Who{{Person: &ines}}, Message: ptr("Look at frame 31.")})
	return doc
}

// Somebody asks for approval; it is returned with a reason, comes again with what was brought, and is
// approved; both see it without loading anew.
func TestApprovalIsAskedReturnedAndGiven(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	luca := k.SignIn("luca")
	k.Give("ines", reports, "luca", access.LevelEdit)
	luca.Upload(reports, "", "Findings.md", []byte("# Frame 31\n\nNot reached.\n"))
	asker, ines := sits(t, k, 1280, 800), sits(t, k, 1280, 800)
	asker.signsIn("Luca Ferrante")
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/decisions"), ines.SeeText("Nothing waits for you"))
	asker.does(asker.opens("/dossiers/MER-24/"+reports.String()), asker.Click("tr[data-ref]::Findings"), asker.See(".slip h2::Findings"))
	asker.count("ask for approval with usual terms", 3, func() {
		asker.does(asker.Click(".heading button::Ask for approval"), asker.See("#likely li::Ines Okafor"), asker.Click("#likely li::Ines Okafor"), asker.See(".means::version 1 alone"))
		asker.does(asker.Click(".asks button.btn-primary::Ask for approval"), asker.SeeText("Ines Okafor is asked"))
	})
	asker.does(asker.See("tr[data-ref]::with Ines"))
	ines.does(ines.See("a[data-run]::Findings"), ines.See(".cards a[href='/decisions'] small::1"), ines.Click("a[data-run]::Findings"), ines.See(".one h1::Findings"))
	ines.count("return it with a reason", 3, func() {
		ines.does(ines.Click("button::Return with a reason"), ines.Type(".here textarea", "Frame 31 is missing."), ines.Click(".here button::Return it"), ines.SeeText("Findings is returned"))
	})
	ines.does(ines.See(".one q::Frame 31 is missing."))
	asker.does(asker.opens("/today"), asker.See(".on-me li::back with you"), asker.Click(".on-me a::Findings"), asker.See("q::Frame 31 is missing."))
	luca.Upload(reports, "", "Findings.md", []byte("# Frame 31\n\n6.9 mm of 10.0 mm.\n"))
	ines.does(ines.See(".one .no::version 2"), ines.See(".one a::What changed since version 1"))
	ines.count("approve it", 1, func() { ines.does(ines.Click("button::Approve version 2"), ines.SeeText("Decided: Findings")) })
	asker.does(asker.SeeText("It came through"))
	asker.does(asker.opens("/dossiers/MER-24/"+reports.String()), asker.See("tr[data-ref]::approved"))
	asker.does(asker.opens("/activity"), asker.SeeText("agreed to version 2 of Findings"))
}

// Whoever has only the mail decides there, by two acts: opening it, which decides nothing, and a press.
func TestApprovedFromTheMail(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	asksForApproval(t, k, k.SignIn("hanne"), reports, "Findings.md")
	way := mailed(t, k, k.People["ines"].Email, k.URL+"/decide/")
	ines := sits(t, k, 390, 844)
	ines.count("approve from the mail", 1, func() {
		ines.does(ines.Go(way), ines.See("h1::Findings"), ines.SeeText("Opening it decided nothing"), ines.Click("button::Approve version 1"), ines.SeeText("It is decided"))
	})
	ines.does(ines.Go(way), ines.SeeText("This way was used, or is over"))
}

// A route of two stops with a branch by amount is written, tried on what there is, and switched on; what
// is dropped into the folder travels along it.
func TestARouteIsWritten(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	k.Appoint("ines", accounts.Administrator)
	estimate := testkit.Post[contract.Particular](c, 201, "/api/particulars", contract.NewParticular{Name: "Estimate", Kind: "money", Unit: ptr("EUR")}).Id
	k.Give("ines", reports, "priya", access.LevelEdit)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/routes?folder="+reports.String()+"&name=Reports"), ines.SeeText("There is no route yet"))
	stop := func(n int, css string) string { return fmt.Sprintf("[data-stop='%d'] %s", n, css) }
	ines.does(ines.Click("button::Write a route on Reports"), ines.See(".stops"))
	ines.does(ines.Pick(stop(1, ".whos select"), "Priya Valdane"), ines.See(stop(1, ".whos button::Priya Valdane")))
	ines.does(ines.Click("button::+ stop"), ines.Pick(stop(2, ".whos select"), "Ines Okafor"), ines.See(stop(2, ".whos button::Ines Okafor")))
	ines.does(ines.Click(stop(2, "button::+ branch by data")), ines.See("[data-case='2b']"))
	ines.does(ines.Pick("[data-case='2a'] select[aria-label='How it is']", "is at least"), ines.Type("[data-case='2a'] input[aria-label=Value]", "250,000"), ines.Press("\r"))
	ines.does(ines.SeeText("Everything holds."))
	luca := k.SignIn("luca")
	k.Give("ines", reports, "luca", access.LevelEdit)
	ines.count("try it on the past", 1, func() { ines.does(ines.Click("button::Try it"), ines.See("aside .tally::2b")) })
	ines.count("switch it on", 1, func() { ines.does(ines.Click("button::Switch on edition 1"), ines.SeeText("is on.")) })
	doc := luca.Upload(reports, "", "Report.pdf", pdf(1)).Document.Id
	luca.Want(204, "POST", "/api/particulars/values", contract.ParticularSettings{Documents: []uuid.UUID{doc}, Values: []contract.ParticularSetting{{Particular: estimate, Value: ptr("312400")}}})
	priya := sits(t, k, 1280, 800)
	priya.signsIn("Priya Valdane")
	priya.does(priya.opens("/today"), priya.See(".on-me li::Report"))
	priya.count("approve", 1, func() { priya.does(priya.Click(".on-me button::Approve version 1"), priya.SeeText("Decided: Report")) })
	ines.does(ines.opens("/decisions"), ines.See("a[data-run]::Report"), ines.Click("a[data-run]::Report"), ines.See(".way li.now b::approve"), ines.SeeText("2a"))
	ines.does(ines.Click("button::Approve version 1"), ines.SeeText("It came through"))
	ines.does(ines.opens("/routes"), ines.Click("a::1 finished"), ines.See("tr[data-run]::Report"))
}

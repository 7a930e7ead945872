package jobs_test

import (
	"fmt"
	"path"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// connected says that so many others are connected with somebody's page, and that their pictures move where they show any.
func connected(others, pictures int) string {
	return fmt.Sprintf(`document.querySelectorAll('.face[data-stands=connected]').length === %d && [...document.querySelectorAll('.face[data-stands] video')].filter(v => v.offsetWidth > 0 && v.videoWidth > 0 && v.currentTime > 0).length === %d`, others, pictures)
}

// Two colleagues talk beside a text, and a client comes to them by a link: each hears the others, and sees who wants to be
// seen. Who leaves is gone for all, and comes back at any time; whoever only reads is not asked.
func TestACallBesideAText(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	yard := testkit.Post[contract.Folder](c, 201, "/api/folders/"+reports.String()+"/folders", contract.NewName{Name: "The yard"}).Id
	doc := c.Upload(yard, "", "Terms.md", []byte("# Terms\n\nPaid in 30 days.\n")).Document
	k.Give("ines", doc.Id, "luca", access.LevelRemark)
	k.Give("ines", doc.Id, "priya", access.LevelView)
	kind := contract.LinkKindWorking
	link := testkit.Post[contract.Link](c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{yard}, Kind: &kind})
	ines, luca, isa, priya := sits(t, k, 1280, 800), sits(t, k, 1280, 800), sits(t, k, 390, 844), sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	luca.signsIn("Luca Ferrante")
	priya.signsIn("Priya Valdane")
	write := "/write/" + doc.Id.String()
	ines.does(ines.opens(write), ines.reads("Paid in"), ines.See("button::Call"))
	luca.does(luca.opens(write), luca.reads("Paid in"))
	priya.does(priya.opens(write), priya.reads("Paid in"))
	ines.count("begin a call", 1, func() { ines.does(ines.Click("button::Call"), ines.See("button::Leave the call")) })
	luca.count("come to a call", 1, func() { luca.does(luca.See(".call::Ines Okafor: in a call"), luca.Click("button::Join the call")) })
	ines.does(ines.Until(connected(1, 0)))
	luca.does(luca.Until(connected(1, 0)))
	ines.count("be seen", 1, func() { ines.does(ines.Click("button::Show me")) })
	luca.does(luca.Until(connected(1, 1)))
	// Who only reads sees that they talk, and nothing to press.
	priya.does(priya.See(".call::in a call"), priya.Gone("button::Join the call"), priya.Gone("button::Call"))

	isa.does(isa.opens("/l/"+path.Base(*link.Address)), isa.Click("button::Show"), isa.Click("li a::Write"), isa.Type("#my-name", "Isa Breck"), isa.Enter(), isa.reads("Paid in"))
	isa.does(isa.Click("button::Join the call"), isa.Until(connected(2, 1)))
	isa.does(isa.Click("button::Mute me"))
	ines.does(ines.Until(connected(2, 0)), ines.See(".face::Isa Breck, muted"))
	luca.does(luca.Until(connected(2, 1)))
	// They write meanwhile as ever.
	isa.does(isa.Click(".ProseMirror p"), isa.Press(" Agreed."), isa.See(".state::All of it is kept"))
	ines.does(ines.reads("Agreed."))

	luca.does(luca.Click("button::Leave the call"), luca.See("button::Join the call"), luca.Gone(".face"))
	ines.does(ines.Until(connected(1, 0)))
	luca.does(luca.Click("button::Join the call"), luca.Until(connected(2, 1)))
	c.Want(204, "POST", "/api/links/"+link.Id.String()+"/end", nil)
	ines.does(ines.Until(connected(1, 0)))
	isa.does(isa.See(".gone h1"))
}

// A table has a call beside it as a text has.
func TestACallBesideATable(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	doc := c.Upload(reports, "", "Readings.csv", []byte("Frame,mm\n31,8.4\n")).Document
	k.Give("ines", doc.Id, "luca", access.LevelRemark)
	ines, luca := sits(t, k, 1280, 800), sits(t, k, 390, 844)
	ines.signsIn("Ines Okafor")
	luca.signsIn("Luca Ferrante")
	at := "/table/" + doc.Id.String()
	ines.does(ines.opens(at), ines.holds("B2", "8.4"), ines.Click("button::Call"), ines.See("button::Leave the call"))
	luca.does(luca.opens(at), luca.See(".call::Ines Okafor: in a call"), luca.Click("button::Join the call"), luca.Until(connected(1, 0)))
	ines.does(ines.Until(connected(1, 0)), ines.Click("button::Leave the call"), ines.See("button::Join the call"))
	luca.does(luca.Gone(".face[data-stands]"))
}

// Six see and hear each other. It takes a processor of its own for a while: make torture does it.
func TestSixInACall(t *testing.T) {
	if testkit.Soaking(0, 1) == 0 {
		t.Skip("make torture does it")
	}
	k, c, reports := practice(t)
	doc := c.Upload(reports, "", "Terms.md", []byte("Paid in 30 days.\n")).Document
	var all []person
	for _, who := range []string{"ines", "luca", "hanne", "tomasz", "priya", "ines"} {
		if who != "ines" {
			k.Give("ines", doc.Id, who, access.LevelEdit)
		}
		p := sits(t, k, 1280, 800)
		p.signsIn(k.People[who].Name)
		p.does(p.opens("/write/"+doc.Id.String()), p.reads("Paid in"))
		all = append(all, p)
	}
	for i, p := range all {
		p.does(p.Click(map[bool]string{true: "button::Call", false: "button::Join the call"}[i == 0]), p.Click("button::Show me"))
	}
	for _, p := range all {
		p.does(p.Until(connected(5, 5)))
	}
	all[0].does(all[0].Click("button::Leave the call"))
	for _, p := range all[1:] {
		p.does(p.Until(connected(4, 4)))
	}
}

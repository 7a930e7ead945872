package jobs_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// A paper is sent to somebody outside, who reads and signs it on a telephone, and to a colleague, who signs after them; what
// stands in the end is found whole by another program, and by the page for anybody.
func TestAPaperIsSignedByItsParties(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	k.Give("ines", reports, "priya", access.LevelView)
	hanne := k.SignIn("hanne")
	doc := hanne.Upload(reports, "", "Engagement.pdf", pdf(1)).Document
	sender := sits(t, k, 1280, 800)
	sender.signsIn("Hanne Solvik")
	priyas := k.People["priya"].ID
	at := func(id, party int, x float64) contract.SigningPlace {
		return contract.SigningPlace{Id: id, Party: party, Page: 1, Kind: contract.PlaceSignature, Must: true, Box: contract.SigningBox{X: x, Y: 0.7, W: 0.3, H: 0.05}}
	}
	plan := contract.SigningPlan{Places: []contract.SigningPlace{at(1, 0, 0.1), at(2, 1, 0.5)}, Parties: []contract.SigningParty{
		{Turn: 1, Name: "Callum Wray", Email: "callum@wray.example", Known: contract.KnownByLink, Signs: true}, {Turn: 2, Person: &priyas, Known: contract.KnownBySignIn, Signs: true}}}
	testkit.Post[contract.SigningLine](hanne, 201, "/api/signings", contract.SigningWish{Document: doc.Id, Plan: plan})
	sender.does(sender.opens("/signing"), sender.Click("tr[data-signing] a::Engagement"), sender.See(".one h2::Engagement"))
	callum := sits(t, k, 390, 844)
	callum.does(callum.Go(mailed(t, k, "callum@wray.example", k.URL+"/l/")), callum.Click("button::Show"), callum.See(".signing h1::Engagement"))
	callum.count("sign on a telephone", 6, func() {
		callum.does(callum.See(".stops li.done"), callum.Click("[data-next]"), callum.Click("button::type it"), callum.Type("[data-typed]", "Callum Wray"), callum.Click("[data-here]"))
		callum.does(callum.Click("[data-consent]"), callum.Click("[data-sign]"), callum.See("h1::Signed"))
	})
	sender.does(sender.See("tr[data-signing]::Priya Valdane"))
	priya := sits(t, k, 1280, 800)
	priya.signsIn("Priya Valdane")
	priya.does(priya.opens("/signing"), priya.Click("td a::Read and sign"), priya.See(".filled"), priya.SeeText("all 1 pages"))
	priya.count("sign after them", 5, func() {
		priya.does(priya.Click("[data-next]"), priya.Click("button::type it"), priya.Click("[data-here]"), priya.Click("[data-consent]"), priya.Click("[data-sign]"), priya.SeeText("You have signed."))
	})
	sender.does(sender.See("tr[data-signing]::all have signed"), sender.See("[data-verdict=valid]"))
	sender.does(sender.opens("/d/"+doc.Ref), sender.See("tr[data-ref]::signed"))
	raw := hanne.Do("GET", "/api/documents/"+doc.Id.String()+"/content", nil).Body
	file := filepath.Join(t.TempDir(), "signed.pdf")
	if err := os.WriteFile(file, raw, 0o600); err != nil {
		t.Fatal(err)
	}
	if out, _ := exec.Command("pdfsig", "-nocert", file).CombinedOutput(); !strings.Contains(string(out), "Signature is Valid.") {
		t.Errorf("%s", out)
	}
	anybody := sits(t, k, 390, 844)
	anybody.does(anybody.opens("/check"), anybody.Choose("[data-check]", file), anybody.See("[data-verdict=valid]"))
	if s := testkit.Get[contract.Document](hanne, "/api/documents/"+doc.Id.String()).State; s == nil || s.State != contract.StateSigned {
		t.Errorf("%+v", s)
	}
}

// Whoever will not sign says why; everybody reads it, and it can be sent again.
func TestAPartyDeclines(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	hanne := k.SignIn("hanne")
	doc := hanne.Upload(reports, "", "Engagement.pdf", pdf(1)).Document
	plan := contract.SigningPlan{Parties: []contract.SigningParty{{Turn: 1, Name: "Callum Wray", Email: "callum@wray.example", Known: contract.KnownByLink, Signs: true}},
		Places: []contract.SigningPlace{{Id: 1, Page: 1, Kind: contract.PlaceSignature, Must: true, Box: contract.SigningBox{X: 0.1, Y: 0.7, W: 0.3, H: 0.05}}}}
	testkit.Post[contract.SigningLine](hanne, 201, "/api/signings", contract.SigningWish{Document: doc.Id, Plan: plan})
	callum := sits(t, k, 390, 844)
	callum.does(callum.Go(mailed(t, k, "callum@wray.example", k.URL+"/l/")), callum.Click("button::Show"), callum.See(".signing"))
	callum.count("decline", 3, func() {
		callum.does(callum.Click("button::Decline"), callum.Type("#decline-why", "Clause 4 is not what we said."), callum.Click("button::Decline to sign"))
	})
	sender := sits(t, k, 1280, 800)
	sender.signsIn("Hanne Solvik")
	sender.does(sender.opens("/signing"), sender.See("tr[data-signing]::Clause 4 is not what we said."))
	sender.does(sender.opens("/d/"+doc.Ref), sender.Click("[data-sign]"), sender.See(".drawn"))
}

// A place that was forgotten is put right after the paper was sent, as long as nobody has signed.
func TestPlacesArePutRight(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	hanne := k.SignIn("hanne")
	doc := hanne.Upload(reports, "", "Engagement.pdf", pdf(1)).Document
	plan := contract.SigningPlan{Parties: []contract.SigningParty{{Turn: 1, Name: "Callum Wray", Email: "callum@wray.example", Known: contract.KnownByLink, Signs: true}},
		Places: []contract.SigningPlace{{Id: 1, Page: 1, Kind: contract.PlaceSignature, Must: true, Box: contract.SigningBox{X: 0.1, Y: 0.7, W: 0.3, H: 0.05}}}}
	line := testkit.Post[contract.SigningLine](hanne, 201, "/api/signings", contract.SigningWish{Document: doc.Id, Plan: plan})
	way := mailed(t, k, "callum@wray.example", k.URL+"/l/")
	sender := sits(t, k, 1280, 800)
	sender.signsIn("Hanne Solvik")
	sender.does(sender.opens("/signing/" + line.Id.String()))
	sender.count("put a place right", 4, func() {
		sender.does(sender.Click(".one a::Put places right"), sender.See(".drawn .box"), sender.See(".bar::Nothing has changed yet"), sender.Click(".drawn"), sender.See(".bar::The parties are told"), sender.Click("[data-correct]"), sender.See(".one summary"))
	})
	places := testkit.Get[contract.SigningPage](hanne, "/api/signings/"+line.Id.String()).Places
	if len(places) != 2 {
		t.Fatalf("%d places", len(places))
	}
	callum := sits(t, k, 390, 844)
	callum.does(callum.Go(way), callum.Click("button::Show"), callum.See(".signing h1::Engagement"), callum.SeeText("2"))
	var values []contract.SigningValue
	name := "Callum Wray"
	for _, p := range places {
		values = append(values, contract.SigningValue{Place: p.Id, Hand: &contract.SigningHand{Typed: &name}})
	}
	token := way[strings.LastIndex(way, "/")+1:]
	outside := k.Visitor()
	outside.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{})
	outside.Want(204, "POST", "/api/to-sign/"+token, contract.SigningAct{Values: values, Pages: []int{1}, Agrees: true})
	sender.does(sender.See("tr[data-signing]::all have signed"), sender.Gone(".one a::Put places right"))
	sender.does(sender.opens("/signing/"+line.Id.String()+"/places"), sender.See(".bar::Somebody has signed"))
}

// Whoever is asked for a paper brings it on a telephone while they sign; it lies beside the signed paper in the end.
func TestAPaperIsBroughtWithASignature(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	hanne := k.SignIn("hanne")
	doc := hanne.Upload(reports, "", "Engagement.pdf", pdf(1)).Document
	label := "Certificate of insurance"
	plan := contract.SigningPlan{Parties: []contract.SigningParty{{Turn: 1, Name: "Callum Wray", Email: "callum@wray.example", Known: contract.KnownByLink, Signs: true}},
		Places: []contract.SigningPlace{{Id: 1, Page: 1, Kind: contract.PlaceSignature, Must: true, Box: contract.SigningBox{X: 0.1, Y: 0.7, W: 0.3, H: 0.05}},
			{Id: 2, Page: 1, Kind: contract.PlacePaper, Must: true, Label: &label, Box: contract.SigningBox{X: 0.1, Y: 0.6, W: 0.4, H: 0.03}}}}
	line := testkit.Post[contract.SigningLine](hanne, 201, "/api/signings", contract.SigningWish{Document: doc.Id, Plan: plan})
	file := filepath.Join(t.TempDir(), "Hull policy 2027.pdf")
	if err := os.WriteFile(file, pdf(1), 0o600); err != nil {
		t.Fatal(err)
	}
	sender := sits(t, k, 1280, 800)
	sender.signsIn("Hanne Solvik")
	sender.does(sender.opens("/signing/"+line.Id.String()), sender.See(".one h2::Engagement"))
	callum := sits(t, k, 390, 844)
	callum.does(callum.Go(mailed(t, k, "callum@wray.example", k.URL+"/l/")), callum.Click("button::Show"), callum.See(".signing h1::Engagement"))
	callum.count("bring a paper and sign", 8, func() {
		callum.does(callum.See(".stops li.done"), callum.Click("[data-next]"), callum.See(".opened::Choose a file"), callum.Choose("[data-bring]", file), callum.See(".opened::Hull policy 2027"), callum.Click("[data-here]"))
		callum.does(callum.Click("button::type it"), callum.Type("[data-typed]", "Callum Wray"), callum.Click("[data-here]"))
		callum.does(callum.Click("[data-consent]"), callum.Click("[data-sign]"), callum.See("h1::Signed"))
	})
	sender.does(sender.See("tr[data-signing]::all have signed"), sender.opens("/d/"+doc.Ref), sender.See("tr[data-ref]::Engagement, A, Hull"))
}

package api_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// aPlan is for a paper of one page: somebody outside signs first, then Priya.
func (o *office) aPlan(known contract.SigningKnown) contract.SigningPlan {
	priya := o.People["priya"].ID
	box := func(x, y float64) contract.SigningBox { return contract.SigningBox{X: x, Y: y, W: 0.3, H: 0.05} }
	return contract.SigningPlan{
		Parties: []contract.SigningParty{
			{Role: "the client", Turn: 1, Name: "Callum Wray", Email: "callum@wray.example", Known: known, Signs: true, MayHand: true},
			{Role: "the principal", Turn: 2, Person: &priya, Known: contract.KnownBySignIn, Signs: true},
		},
		Places: []contract.SigningPlace{
			{Id: 1, Party: 0, Page: 1, Box: box(0.1, 0.7), Kind: contract.PlaceSignature, Must: true},
			{Id: 2, Party: 0, Page: 1, Box: box(0.1, 0.8), Kind: contract.PlaceSignedOn},
			{Id: 3, Party: 0, Page: 1, Box: box(0.1, 0.5), Kind: contract.PlaceText, Must: true, Most: ptr(20)},
			{Id: 4, Party: 1, Page: 1, Box: box(0.5, 0.7), Kind: contract.PlaceSignature, Must: true},
			{Id: 5, Party: 0, Page: 1, Box: box(0.1, 0.3), Kind: contract.PlaceFixed, Value: ptr("Trawler Aurelie, 4,850")},
		},
	}
}

func (o *office) letter() uuid.UUID {
	return o.hanne.Upload(o.reports, "", "engagement.pdf", pdfOf(o.T, "Letter of engagement")).Document.Id
}

// sent sends a paper and returns the request with the token by which the party outside comes in.
func (o *office) sent(w contract.SigningWish) (contract.SigningLine, string) {
	o.T.Helper()
	line := testkit.Post[contract.SigningLine](o.hanne, 201, "/api/signings", w)
	return line, o.wayOf("callum@wray.example")
}

// wayOf is the token in the last mail that asks somebody to sign.
func (o *office) wayOf(email string) (token string) {
	o.T.Helper()
	waitFor(o.T.(*testing.T), func() bool {
		for _, m := range o.Mail.Messages(email) {
			if _, after, ok := strings.Cut(m.Text, "/l/"); ok {
				token = strings.Fields(after)[0]
			}
		}
		return token != ""
	})
	return token
}

func typed(place int, name string) contract.SigningValue {
	return contract.SigningValue{Place: place, Hand: &contract.SigningHand{Typed: &name}}
}

func filledIn(place int, text string) contract.SigningValue {
	return contract.SigningValue{Place: place, Text: &text}
}

func clientActs() contract.SigningAct {
	return contract.SigningAct{Values: []contract.SigningValue{typed(1, "Callum Wray"), filledIn(3, "Aurelie")}, Pages: []int{1}, Agrees: true}
}

// finished waits until the signed paper stands, and returns it.
func (o *office) finished(id uuid.UUID) (contract.SigningLine, []byte) {
	o.T.Helper()
	var line contract.SigningLine
	waitFor(o.T.(*testing.T), func() bool {
		line = testkit.Get[contract.SigningPage](o.hanne, "/api/signings/"+id.String()).Line
		return line.Status == contract.RequestFinished
	})
	a := o.hanne.Do("GET", "/api/documents/"+line.ItemId.String()+"/content", nil)
	if a.Status != 200 {
		o.T.Fatalf("%d %s", a.Status, a.Body)
	}
	return line, a.Body
}

// accepted has independent programs look at a signed paper.
func accepted(t *testing.T, raw []byte, signatures int) {
	t.Helper()
	file := filepath.Join(t.TempDir(), "signed.pdf")
	if err := os.WriteFile(file, raw, 0o600); err != nil {
		t.Fatal(err)
	}
	out, _ := exec.Command("pdfsig", "-nocert", file).CombinedOutput()
	if n := strings.Count(string(out), "Signature is Valid."); n != signatures {
		t.Errorf("%d signatures are valid, not %d:\n%s", n, signatures, out)
	}
	if strings.Contains(string(out), "Invalid") || strings.Contains(string(out), "Mismatch") {
		t.Errorf("%s", out)
	}
	if out, err := exec.Command("qpdf", "--check", file).CombinedOutput(); err != nil {
		t.Errorf("%v %s", err, out)
	}
}

// A paper goes to its parties in turn; what they give stands on it, sealed and stamped, as a further version that
// other programs find whole.
func TestSigningInTurn(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	doc := o.letter()
	line, token := o.sent(contract.SigningWish{Document: doc, Plan: o.aPlan(contract.KnownByLink)})
	if !line.Parties[0].Waits || line.Parties[1].Waits || line.Status != contract.RequestGoing {
		t.Fatalf("%+v", line)
	}
	// While it is with its parties nobody else changes it.
	if a := o.hanne.Do("POST", "/api/deletions", contract.Delete{Items: []uuid.UUID{doc}}); a.Code() != "with-the-parties" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	if s := testkit.Get[contract.Document](o.hanne, "/api/documents/"+doc.String()).State; s == nil || s.State != contract.StateParties || len(s.With) != 1 || s.With[0] != "Callum Wray" {
		t.Errorf("%+v", s)
	}
	callum := o.Visitor()
	if a := callum.Do("GET", "/api/to-sign/"+token, nil); a.Code() != "needs-opening" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	callum.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{})
	sheet := testkit.Get[contract.SigningSheet](callum, "/api/to-sign/"+token)
	if sheet.Party != 0 || len(sheet.Places) != 3 || len(sheet.Filled) != 1 || *sheet.Filled[0].Text != "Trawler Aurelie, 4,850" || len(sheet.Pages) != 1 || sheet.Sender != "Hanne Solvik" {
		t.Fatalf("%+v", sheet)
	}
	kept := contract.SigningKept{Values: []contract.SigningValue{filledIn(3, "Aur")}, Pages: []int{1}}
	callum.Want(204, "PUT", "/api/to-sign/"+token, kept)
	if again := testkit.Get[contract.SigningSheet](callum, "/api/to-sign/"+token).Kept; len(again.Values) != 1 || *again.Values[0].Text != "Aur" {
		t.Errorf("%+v", again)
	}
	// Priya is not asked yet.
	if a := o.priya.Do("POST", "/api/signings/"+line.Id.String()+"/sheet", contract.SigningAct{Values: []contract.SigningValue{typed(4, "Priya Valdane")}, Pages: []int{1}, Agrees: true}); a.Code() != "not-your-turn" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	callum.Want(204, "POST", "/api/to-sign/"+token, clientActs())
	if a := callum.Do("POST", "/api/to-sign/"+token, clientActs()); a.Code() != "signed-already" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	theirs := testkit.Get[contract.SigningSheet](o.priya, "/api/signings/"+line.Id.String()+"/sheet")
	if theirs.Party != 1 || len(theirs.Filled) != 4 || theirs.Parties[0].SignedAt == nil || theirs.Parties[0].Email != nil {
		t.Errorf("%+v", theirs)
	}
	o.priya.Want(204, "POST", "/api/signings/"+line.Id.String()+"/sheet", contract.SigningAct{Values: []contract.SigningValue{typed(4, "Priya Valdane")}, Pages: []int{1}, Agrees: true})
	done, raw := o.finished(line.Id)
	if done.Final == nil || *done.Final != 2 {
		t.Errorf("%+v", done)
	}
	accepted(t, raw, 1)
	check := testkit.Get[contract.PaperCheck](o.hanne, "/api/documents/"+doc.String()+"/paper-check")
	if check.Verdict != contract.PaperValid || check.Pages != 2 || len(check.Signatures) != 2 || !check.Signatures[0].Trusted || check.Signatures[0].StampedAt == nil || check.Signatures[0].Known != contract.WithdrawalGood {
		t.Errorf("%+v", check)
	}
	if s := testkit.Get[contract.Document](o.hanne, "/api/documents/"+doc.String()).State; s == nil || s.State != contract.StateSigned {
		t.Errorf("%+v", s)
	}
	// Everybody has it: whoever came by a link gets another one.
	copied := ""
	waitFor(t, func() bool {
		for _, m := range o.Mail.Messages("callum@wray.example") {
			if _, after, ok := strings.Cut(m.Text, "All have signed"); ok {
				_, after, _ = strings.Cut(after, "/l/")
				copied = strings.Fields(after)[0]
			}
		}
		return copied != ""
	})
	callum.Want(410, "GET", "/api/to-sign/"+token, nil)
	callum.Want(204, "POST", "/api/visits/"+copied, contract.OpenLink{})
}

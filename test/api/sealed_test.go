package api_test

import (
	"bytes"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"filippo.io/age"
	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	for _, way := range []string{"PUT /transfers/{id}/manifest", "GET /visits/{token}/manifest"} {
		apart[way] = "its sender's alone, or a visitor's: TestSealedTransfersTellNothing"
	}
}

// sealed is something for a recipient, in the age format.
func sealed(t *testing.T, text string) []byte {
	t.Helper()
	identity, err := age.GenerateX25519Identity()
	if err != nil {
		t.Fatal(err)
	}
	var out bytes.Buffer
	w, err := age.Encrypt(&out, identity.Recipient())
	if err == nil {
		_, err = w.Write([]byte(text))
	}
	if err == nil {
		err = w.Close()
	}
	if err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

// A sealed transfer has files by number, and a list that only its sender writes and its visitors
// read; names and words are not taken, and the list goes with the copies.
func TestSealedTransfersTellNothing(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	key := contract.TransferSealKey
	file, list := sealed(t, "The first film."), sealed(t, `{"v":1}`)
	tr := o.sends(o.hanne, contract.TransferWish{Sealed: &key}, contract.AnnouncedFile{Name: "Valuation of the Meridian.pdf", Size: int64(len(file))})
	if tr.Name != "Sealed files" || tr.Files[0].Name != "1.age" || tr.Sealed == nil || *tr.Sealed != key {
		t.Errorf("made: %+v", tr)
	}
	at := "/api/transfers/" + tr.Id.String()
	v, visit := o.comes(*tr.Address)
	v.Want(404, "GET", visit+"/manifest", nil)
	for who, c := range map[string]*testkit.Client{"luca": o.luca, "tomasz": o.tomasz, "nobody": o.Visitor()} {
		if a := c.Do("PUT", at+"/manifest", contract.SealedManifest{Content: list}); a.Status != 404 && a.Status != 401 {
			t.Errorf("%s writes the list: %d", who, a.Status)
		}
		c.Want(404, "GET", at+"/manifest", nil)
	}
	o.hanne.Want(204, "PUT", at+"/manifest", contract.SealedManifest{Content: list})
	if a := v.Want(200, "GET", visit+"/manifest", nil); !bytes.Equal(a.Body, list) || a.Header.Get("Content-Type") != "application/octet-stream" {
		t.Errorf("the list is %q of kind %s", a.Body, a.Header.Get("Content-Type"))
	}
	o.patches(o.hanne, o.begins(o.hanne, tr, 0), 0, bytes.NewReader(file))
	waitFor(t, func() bool { return o.transfer(o.hanne, tr.Id).Files[0].Here })
	if now := o.transfer(o.hanne, tr.Id); now.Files[0].Name != "1.age" {
		t.Errorf("it is here as %s", now.Files[0].Name)
	}
	if a := v.Want(200, "GET", visit+"/files/"+tr.Files[0].Id.String(), nil); !bytes.Equal(a.Body, file) || !strings.Contains(a.Header.Get("Content-Disposition"), "1.age") {
		t.Errorf("%d bytes came as %s", len(a.Body), a.Header.Get("Content-Disposition"))
	}
	grown := testkit.Post[contract.Transfer](o.hanne, 200, at+"/files", []contract.AnnouncedFile{{Name: "Secret.pdf", Size: 300}})
	if grown.Files[1].Name != "2.age" {
		t.Errorf("what joins is called %s", grown.Files[1].Name)
	}
	// Prolonged it stays sealed.
	until := tr.Until.Add(24 * time.Hour)
	o.hanne.Want(200, "PATCH", "/api/links/"+tr.Id.String()+"/terms", contract.LinkAdjustment{Until: &until})
	o.hanne.Do("PUT", "/api/links/"+tr.Id.String()+"/terms", contract.LinkChange{Name: "Sealed files", Until: until})
	if now := o.transfer(o.hanne, tr.Id); now.Sealed == nil || !strings.Contains(saidOf(now.Sentence), "sealed in the browser") {
		t.Errorf("prolonged: %+v", now)
	}
	for where, content := range o.Everything(t.Context()) {
		if bytes.Contains(content, []byte("Meridian.pdf")) || bytes.Contains(content, []byte("Secret.pdf")) {
			t.Errorf("a name stands in %s", where)
		}
	}
	// Taken back, nothing of it is given; destroyed, the list is gone as well.
	o.hanne.Want(204, "POST", at+"/end", nil)
	if a := v.Do("GET", visit+"/manifest", nil); a.Status != http.StatusGone {
		t.Errorf("taken back, the list is %d", a.Status)
	}
	if a := o.hanne.Do("PUT", at+"/manifest", contract.SealedManifest{Content: list}); a.Code() != "link-over" {
		t.Errorf("written when it is over: %d %s", a.Status, a.Body)
	}
	o.Later(11 * time.Minute)
	o.duty("look after transfers")
	var left int
	if err := o.App.DB.Get(&left, `SELECT count(*) FROM transfer_manifests`); err != nil || left != 0 {
		t.Errorf("%d lists are left, %v", left, err)
	}
}

// What would tell of what is sealed is refused, as is what is not sealed at all.
func TestWhatIsSealedRefuses(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	key, phrase, other := contract.TransferSealKey, contract.TransferSealPassphrase, contract.TransferSeal("rot13")
	file := []contract.AnnouncedFile{{Name: "x", Size: 300}}
	for name, c := range map[string]struct {
		wish contract.TransferWish
		code string
	}{
		"a name":       {contract.TransferWish{Sealed: &key, Files: &file, Name: ptr("Valuation")}, "sealed-words"},
		"a message":    {contract.TransferWish{Sealed: &key, Files: &file, Message: ptr("Twelve million")}, "sealed-words"},
		"a copy":       {contract.TransferWish{Sealed: &key, Items: &[]uuid.UUID{o.plan}}, "sealed-copies"},
		"too small":    {contract.TransferWish{Sealed: &phrase, Files: &[]contract.AnnouncedFile{{Name: "x", Size: 199}}}, "sealed-size"},
		"only looking": {contract.TransferWish{Sealed: &key, Files: &file, ViewOnly: ptr(true)}, "sealed-view-only"},
		"another seal": {contract.TransferWish{Sealed: &other, Files: &file}, "seal-unknown"},
		"nothing":      {contract.TransferWish{Sealed: &key}, "transfer-files"},
	} {
		if a := o.hanne.Do("POST", "/api/transfers", c.wish); a.Code() != c.code {
			t.Errorf("%s: %d %s, want %s", name, a.Status, a.Body, c.code)
		}
	}
	tr := o.sends(o.hanne, contract.TransferWish{Sealed: &key}, file...)
	at := "/api/transfers/" + tr.Id.String()
	put := func(where string, n int) testkit.Answer {
		return o.hanne.Do("PUT", where+"/manifest", contract.SealedManifest{Content: make([]byte, n)})
	}
	if a := put(at, 700<<10+1); a.Code() != "manifest-size" || a.Status != http.StatusRequestEntityTooLarge {
		t.Errorf("a list too large: %d %s", a.Status, a.Body)
	}
	if a := put(at, 0); a.Code() != "sealed-size" {
		t.Errorf("an empty list: %d %s", a.Status, a.Body)
	}
	open := o.sends(o.hanne, contract.TransferWish{}, file...)
	if a := put("/api/transfers/"+open.Id.String(), 300); a.Code() != "not-sealed" {
		t.Errorf("a list of what is not sealed: %d %s", a.Status, a.Body)
	}
	v, visit := o.comes(*open.Address)
	v.Want(404, "GET", visit+"/manifest", nil)
	o.hanne.Want(400, "POST", at+"/recipients", contract.LinkMail{To: []string{"marit@pelham-dock.example"}, Message: ptr("The valuation")})
	// The mail says that the key comes another way, and has it not.
	o.hanne.Want(202, "POST", at+"/recipients", contract.LinkMail{To: []string{"marit@pelham-dock.example"}})
	o.mailed("marit@pelham-dock.example")
	if m := o.Mail.Messages("marit@pelham-dock.example")[0]; !strings.Contains(m.Text, "The key that opens it comes to you") {
		t.Errorf("the mail says %s", m.Text)
	}
	// No link of another kind is sealed.
	o.hanne.Want(201, "POST", "/api/links", map[string]any{"items": []uuid.UUID{o.plan}, "sealed": "key"})
}

// A practice forbids sealing, wants it for some, or looks through what goes out.
func TestRulesOfSealing(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	key := contract.TransferSealKey
	file := []contract.AnnouncedFile{{Name: "x", Size: 300}}
	kinds := []contract.LinkKind{contract.LinkKindHandOut, contract.LinkKindTransfer}
	o.Appoint("hanne", "administrator")
	rules := func(sensitive contract.RulesSensitive, out contract.OutwardRules) testkit.Answer {
		out.Required, out.Kinds, out.Shut, out.Only = "nothing", kinds, []string{}, []string{}
		return o.hanne.Do("PUT", "/api/practice/rules", contract.Rules{Sensitive: sensitive, Patterns: []contract.Pattern{}, LongestLinkDays: 90, Outward: &out})
	}
	asked := func(w contract.TransferWish) string {
		w.Files = &file
		d := testkit.Post[contract.LinkDraft](o.hanne, 200, "/api/transfers/draft", w)
		if d.Refused == nil {
			return ""
		}
		return d.Refused.Term + " " + d.Refused.Code
	}
	made := func(w contract.TransferWish) string {
		w.Files = &file
		return o.hanne.Do("POST", "/api/transfers", w).Code()
	}
	sealedWish, to := contract.TransferWish{Sealed: &key}, contract.TransferWish{To: &[]string{"marit@pelham-dock.example"}}
	if d := testkit.Post[contract.LinkDraft](o.hanne, 200, "/api/transfers/draft", contract.TransferWish{Files: &file}); !slices.Contains(d.Offers, "sealed") {
		t.Errorf("offered: %v", d.Offers)
	}
	rules("off", contract.OutwardRules{SealsForbidden: ptr(true)})
	if asked(sealedWish) != "sealed rule-sealed" || made(sealedWish) != "rule-sealed" || asked(to) != "" {
		t.Errorf("forbidden: %q, %q", asked(sealedWish), made(sealedWish))
	}
	rules("forbid", contract.OutwardRules{})
	if asked(sealedWish) != "sealed rule-unseen" || made(sealedWish) != "rule-unseen" {
		t.Errorf("looked through: %q, %q", asked(sealedWish), made(sealedWish))
	}
	rules("off", contract.OutwardRules{SealedFor: &[]string{"pelham-dock.example"}})
	if asked(to) != "sealed rule-seal-for" || made(to) != "rule-seal-for" {
		t.Errorf("wanted: %q, %q", asked(to), made(to))
	}
	allowed := contract.TransferWish{Allowed: &[]string{"pelham-dock.example"}, Identify: ptr(contract.IdentityConfirmed)}
	if made(allowed) != "rule-seal-for" {
		t.Errorf("only for them: %q", made(allowed))
	}
	both := contract.TransferWish{Sealed: &key, To: to.To}
	if asked(both) != "" || made(both) != "" {
		t.Errorf("sealed for them: %q", made(both))
	}
	open := o.sends(o.hanne, contract.TransferWish{}, file...)
	if a := o.hanne.Do("POST", "/api/transfers/"+open.Id.String()+"/recipients", contract.LinkMail{To: *to.To}); a.Code() != "rule-seal-for" {
		t.Errorf("sent to them later: %d %s", a.Status, a.Body)
	}
	if a := rules("off", contract.OutwardRules{SealsForbidden: ptr(true), SealedFor: &[]string{"pelham-dock.example"}}); a.Code() != "seals-both" {
		t.Errorf("both: %d %s", a.Status, a.Body)
	}
}

func saidOf(s []contract.Part) string {
	var b strings.Builder
	for _, p := range s {
		b.WriteString(p.Text)
	}
	return b.String()
}

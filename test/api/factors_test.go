package api_test

import (
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"tabularis/internal/app/accounts"

	"github.com/pquerna/otp/totp"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// authenticator sets one up for a client and returns its key and the recovery
// codes.
func authenticator(k *testkit.Kit, c *testkit.Client) (string, []string) {
	k.T.Helper()
	offer := testkit.Post[contract.AuthenticatorOffer](c, 200, "/api/me/authenticator", nil)
	code, err := totp.GenerateCode(offer.Secret, k.Now())
	if err != nil {
		k.T.Fatal(err)
	}
	a := c.Want(200, "PUT", "/api/me/authenticator", contract.ConfirmAuthenticator{Offer: offer.Offer, Code: code})
	return offer.Secret, read[contract.RecoveryCodes](k.T.(*testing.T), a).Codes
}

func TestSecondFactorByAuthenticator(t *testing.T) {
	t.Parallel()
	k := testkit.New(t)
	c, elsewhere := k.SignIn("luca"), k.SignIn("luca")
	offer := testkit.Post[contract.AuthenticatorOffer](c, 200, "/api/me/authenticator", nil)
	if !strings.HasPrefix(offer.Address, "otpauth://totp/") || !strings.HasPrefix(offer.Picture, "data:image/png;base64,") {
		t.Errorf("the offer: %+v", offer)
	}
	for _, bad := range []contract.ConfirmAuthenticator{{Offer: offer.Offer, Code: "000000"}, {Offer: "nonsense", Code: "000000"}, {Offer: offer.Offer, Code: ""}} {
		if a := c.Do("PUT", "/api/me/authenticator", bad); a.Status != 400 {
			t.Errorf("%+v: %d", bad, a.Status)
		}
	}
	code, err := totp.GenerateCode(offer.Secret, k.Now())
	if err != nil {
		t.Fatal(err)
	}
	// An offer is for the one to whom it was made.
	if a := k.SignIn("priya").Do("PUT", "/api/me/authenticator", contract.ConfirmAuthenticator{Offer: offer.Offer, Code: code}); a.Code() != "offer-unknown" {
		t.Errorf("somebody else's offer: %d %s", a.Status, a.Body)
	}
	secret, recovery := authenticator(k, c)
	if len(recovery) != 10 {
		t.Errorf("%d recovery codes", len(recovery))
	}
	elsewhere.Want(204, "GET", "/api/session", nil)
	c.Want(200, "GET", "/api/session", nil)

	v := k.Visitor()
	half := testkit.Post[contract.SignedIn](v, 200, "/api/session", contract.SignIn{Email: k.People["luca"].Email, Password: testkit.Password})
	if half.Session != nil || len(half.Factors) != 2 {
		t.Fatalf("after the password alone: %+v", half)
	}
	v.Want(204, "GET", "/api/session", nil)
	v.Want(401, "GET", "/api/dossiers", nil)
	second := func(v *testkit.Client, factor contract.SecondFactorFactor, code string) testkit.Answer {
		return v.Do("POST", "/api/session/second", contract.SecondFactor{Factor: factor, Code: &code})
	}
	at := func(d time.Duration) string {
		code, err := totp.GenerateCode(secret, k.Now().Add(d))
		if err != nil {
			t.Fatal(err)
		}
		return code
	}
	// The step at which it was set up has been taken; a clock may be one step off,
	// not two.
	if a := second(v, "authenticator", at(0)); a.Status != 401 || a.Code() != "wrong-code" {
		t.Errorf("a code that was used: %d %s", a.Status, a.Body)
	}
	k.Later(10 * time.Minute)
	signIn := func() *testkit.Client {
		v := k.Visitor()
		v.Want(200, "POST", "/api/session", contract.SignIn{Email: k.People["luca"].Email, Password: testkit.Password})
		return v
	}
	v = signIn()
	if a := second(v, "authenticator", at(-90*time.Second)); a.Status != 401 {
		t.Errorf("three steps late: %d", a.Status)
	}
	k.Later(2 * time.Minute)
	if a := second(v, "authenticator", at(-30*time.Second)); a.Status != 200 {
		t.Errorf("one step late: %d %s", a.Status, a.Body)
	}
	v.Want(200, "GET", "/api/session", nil)
	k.Later(2 * time.Minute)
	code = at(0)
	first, other := signIn(), signIn()
	if a := second(first, "authenticator", code); a.Status != 200 {
		t.Errorf("a right code: %d %s", a.Status, a.Body)
	}
	if a := second(other, "authenticator", code); a.Status != 401 {
		t.Errorf("the same code again: %d", a.Status)
	}
	k.Later(time.Minute)
	if a := second(other, "recovery", strings.ToUpper(recovery[3])); a.Status != 200 {
		t.Errorf("a recovery code: %d %s", a.Status, a.Body)
	}
	again := signIn()
	if a := second(again, "recovery", recovery[3]); a.Status != 401 {
		t.Errorf("a recovery code twice: %d", a.Status)
	}
	if a := k.Visitor().Do("POST", "/api/session/second", contract.SecondFactor{Factor: "recovery", Code: &recovery[4]}); a.Status != 401 {
		t.Errorf("without the first factor: %d", a.Status)
	}
	if f := testkit.Get[contract.Factors](other, "/api/me/factors"); !f.Authenticator || f.RecoveryLeft != 9 {
		t.Errorf("factors: %+v", f)
	}
	if a := other.Do("DELETE", "/api/me/authenticator", contract.Confirmed{Password: "wrong"}); a.Code() != "wrong-password" {
		t.Errorf("removed without the password: %d %s", a.Status, a.Body)
	}
	k.Later(time.Minute)
	other.Want(204, "DELETE", "/api/me/authenticator", contract.Confirmed{Password: testkit.Password})
	first.Want(204, "GET", "/api/session", nil)
	signIn().Want(200, "GET", "/api/session", nil)
}

func TestGuessingASecondFactorIsSlowed(t *testing.T) {
	t.Parallel()
	k := testkit.New(t)
	authenticator(k, k.SignIn("luca"))
	v := k.Visitor()
	v.Want(200, "POST", "/api/session", contract.SignIn{Email: k.People["luca"].Email, Password: testkit.Password})
	slowed := false
	for range 12 {
		a := v.Do("POST", "/api/session/second", contract.SecondFactor{Factor: "authenticator", Code: ptr("000000")})
		slowed = slowed || a.Status == 429
	}
	if !slowed {
		t.Error("twelve guesses were all answered at once")
	}
}

func TestThePracticeMayAskForASecondFactor(t *testing.T) {
	t.Parallel()
	k := testkit.New(t)
	k.Appoint("ines", accounts.Proprietor)
	ines, luca := k.SignIn("ines"), k.SignIn("luca")
	rules := contract.Rules{GuestsByCode: true, SecondFactorRequired: true, LongestLinkDays: 90, Sensitive: contract.Warn}
	luca.Want(403, "PUT", "/api/practice/rules", rules)
	if a := ines.Do("PUT", "/api/practice/rules", rules); a.Code() != "own-factor-first" {
		t.Errorf("without one of her own: %d %s", a.Status, a.Body)
	}
	authenticator(k, ines)
	ines.Want(204, "PUT", "/api/practice/rules", rules)
	if a := luca.Do("GET", "/api/dossiers", nil); a.Status != 403 || a.Code() != "second-factor-needed" {
		t.Errorf("without a factor: %d %s", a.Status, a.Body)
	}
	luca.Want(403, "GET", "/api/archive?item="+k.People["luca"].ID.String(), nil)
	if s := testkit.Get[contract.Session](luca, "/api/session"); !s.NeedsFactor {
		t.Error("the session does not say so")
	}
	authenticator(k, luca)
	luca.Want(200, "GET", "/api/dossiers", nil)
	if a := luca.Do("POST", "/api/dossiers", contract.NewDossier{Code: "AUR-03", Name: "Aurelie", Kind: "client"}); a.Status != 403 {
		t.Errorf("a colleague makes a dossier against the rule: %d", a.Status)
	}
}

func TestCodesForGuests(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	known, unknown, colleague := o.Visitor(), o.Visitor(), o.Visitor()
	a := known.Do("POST", "/api/session/code", contract.Address{Email: o.guestEmail})
	o.Later(time.Minute)
	b := unknown.Do("POST", "/api/session/code", contract.Address{Email: "nobody@dunlin.example"})
	o.Later(time.Minute)
	c := colleague.Do("POST", "/api/session/code", contract.Address{Email: o.People["luca"].Email})
	if a.Status != 202 || b.Status != 202 || c.Status != 202 || string(a.Body) != string(b.Body) {
		t.Errorf("the answers differ: %d %d %d", a.Status, b.Status, c.Status)
	}
	waitFor(t, func() bool { return len(o.Mail.Messages(o.guestEmail)) == 2 })
	if n := len(o.Mail.Messages("luca")); n != 1 {
		t.Errorf("a colleague got %d mails, the one that gave access and a code", n)
	}
	_, after, _ := strings.Cut(o.Mail.Messages(o.guestEmail)[1].Text, "Your code is ")
	code := after[:7]
	try := func(code string) testkit.Answer {
		return o.Visitor().Do("POST", "/api/session/by-code", contract.CodeSignIn{Email: o.guestEmail, Code: code})
	}
	wrong := "000 000"
	if code == wrong {
		wrong = "000 001"
	}
	if a := try(wrong); a.Status != 401 || a.Code() != "wrong-code" {
		t.Errorf("a wrong code: %d %s", a.Status, a.Body)
	}
	o.Later(time.Minute)
	// Eight at once with the right code: one comes in.
	var wg sync.WaitGroup
	var mu sync.Mutex
	got := map[int]int{}
	for range 8 {
		wg.Go(func() {
			s := try(code).Status
			mu.Lock()
			got[s]++
			mu.Unlock()
		})
	}
	wg.Wait()
	if got[200] != 1 {
		t.Errorf("eight at once: %v", got)
	}
	o.Later(time.Hour)
	again := o.byCode()
	again.Want(200, "GET", "/api/session", nil)
	if again.Do("GET", "/api/people", nil).Status != 200 {
		t.Error("a guest has a page of people")
	}
}

func TestCodesAreGoodForTenMinutesAndFiveTries(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	ask := func() string {
		t.Helper()
		before := len(o.Mail.Messages(o.guestEmail))
		o.Later(time.Hour)
		o.Visitor().Want(202, "POST", "/api/session/code", contract.Address{Email: o.guestEmail})
		waitFor(t, func() bool { return len(o.Mail.Messages(o.guestEmail)) > before })
		all := o.Mail.Messages(o.guestEmail)
		_, after, _ := strings.Cut(all[len(all)-1].Text, "Your code is ")
		return after[:7]
	}
	try := func(code string) int {
		o.Later(20 * time.Second)
		return o.Visitor().Do("POST", "/api/session/by-code", contract.CodeSignIn{Email: o.guestEmail, Code: code}).Status
	}
	code := ask()
	for range 5 {
		try("999 99")
	}
	if s := try(code); s == 200 {
		t.Error("the right code after five wrong ones lets in")
	}
	code = ask()
	o.Later(10 * time.Minute)
	if s := try(code); s == 200 {
		t.Error("the code lets in after ten minutes")
	}
	old := ask()
	newest := ask()
	if s := try(old); s == 200 && old != newest {
		t.Error("an earlier code lets in")
	}
	// Wrong tries slow the next ones down, but not for good.
	o.Later(5 * time.Minute)
	if s := try(newest); s != 200 {
		t.Errorf("the newest code: %d", s)
	}
}

func TestForgottenPassword(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	if _, err := o.App.DB.Exec(`UPDATE people SET seen_at = now()`); err != nil {
		t.Fatal(err)
	}
	email := o.People["luca"].Email
	v := o.Visitor()
	a := v.Do("POST", "/api/entries", contract.Address{Email: "nobody@halyard-rook.example"})
	o.Later(time.Minute)
	b := v.Do("POST", "/api/entries", contract.Address{Email: email})
	if a.Status != 202 || b.Status != 202 || string(a.Body) != string(b.Body) {
		t.Errorf("the answers differ: %d %d", a.Status, b.Status)
	}
	token := o.entry(email)
	if e := testkit.Get[contract.Entry](v, "/api/entries/"+token); e.Kind != "password" || !e.NeedsPassword {
		t.Errorf("the entry: %+v", e)
	}
	if a := v.Do("POST", "/api/entries/"+token, contract.UseEntry{}); a.Code() != "password-short" {
		t.Errorf("without a password: %s", a.Body)
	}
	v.Want(200, "POST", "/api/entries/"+token, contract.UseEntry{Password: ptr("lantern-on-the-quay")})
	o.luca.Want(204, "GET", "/api/session", nil)
	o.Visitor().Want(401, "POST", "/api/session", contract.SignIn{Email: email, Password: testkit.Password})
	o.Later(time.Minute)
	o.Visitor().Want(200, "POST", "/api/session", contract.SignIn{Email: email, Password: "lantern-on-the-quay"})
	o.Visitor().Want(410, "POST", "/api/entries/"+token, contract.UseEntry{Password: ptr("another-long-one")})
	o.Later(time.Hour)
	o.Visitor().Want(202, "POST", "/api/entries", contract.Address{Email: email})
	waitFor(t, func() bool { return o.entry(email) != token })
	second := o.entry(email)
	o.Later(2 * time.Hour)
	o.Visitor().Want(410, "GET", "/api/entries/"+second, nil)
}

func TestSessionsAreListedAndEnded(t *testing.T) {
	t.Parallel()
	k := testkit.New(t)
	a, b, c := k.SignIn("luca"), k.SignIn("luca"), k.SignIn("luca")
	list := testkit.Get[[]contract.SignedInPlace](a, "/api/me/sessions")
	if len(list) != 3 {
		t.Fatalf("%d sessions", len(list))
	}
	here := 0
	for _, p := range list {
		if p.Here {
			here++
			continue
		}
	}
	if here != 1 {
		t.Errorf("%d are here", here)
	}
	for _, p := range testkit.Get[[]contract.SignedInPlace](b, "/api/me/sessions") {
		if p.Here {
			k.SignIn("priya").Want(404, "DELETE", "/api/me/sessions/"+p.Id.String(), nil)
			a.Want(204, "DELETE", "/api/me/sessions/"+p.Id.String(), nil)
		}
	}
	b.Want(204, "GET", "/api/session", nil)
	c.Want(200, "GET", "/api/session", nil)
	if x := a.Do("PUT", "/api/me/password", contract.NewPassword{Old: ptr("wrong"), Password: "a-much-longer-one"}); x.Code() != "wrong-password" {
		t.Errorf("a wrong old password: %s", x.Body)
	}
	k.Later(time.Minute)
	a.Want(204, "PUT", "/api/me/password", contract.NewPassword{Old: ptr(testkit.Password), Password: "a-much-longer-one"})
	a.Want(200, "GET", "/api/session", nil)
	c.Want(204, "GET", "/api/session", nil)
}

// New recovery codes take the place of the old ones, for whoever knows the password and
// has a second factor; other sessions end.
func TestNewRecoveryCodes(t *testing.T) {
	t.Parallel()
	k := testkit.New(t)
	c := k.SignIn("luca")
	if a := c.Do("POST", "/api/me/recovery-codes", contract.Confirmed{Password: testkit.Password}); a.Status != 409 || a.Code() != "no-factor" {
		t.Errorf("without a factor: %d %s", a.Status, a.Body)
	}
	elsewhere := k.SignIn("luca")
	_, old := authenticator(k, c)
	elsewhere.Want(204, "GET", "/api/session", nil)
	if a := c.Do("POST", "/api/me/recovery-codes", contract.Confirmed{Password: "wrong"}); a.Code() != "wrong-password" {
		t.Errorf("without the password: %d %s", a.Status, a.Body)
	}
	fresh := testkit.Post[contract.RecoveryCodes](c, 200, "/api/me/recovery-codes", contract.Confirmed{Password: testkit.Password}).Codes
	if len(fresh) != 10 || slices.Contains(fresh, old[0]) {
		t.Errorf("the new codes are %v", fresh)
	}
	v := k.Visitor()
	v.Want(200, "POST", "/api/session", contract.SignIn{Email: k.People["luca"].Email, Password: testkit.Password})
	for code, status := range map[string]int{old[0]: 401, fresh[0]: 200} {
		if a := v.Do("POST", "/api/session/second", contract.SecondFactor{Factor: "recovery", Code: &code}); a.Status != status {
			t.Errorf("by the code %s: %d %s", code, a.Status, a.Body)
		}
	}
}

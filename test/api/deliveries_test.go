package api_test

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"maps"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"filippo.io/age"
	"github.com/google/uuid"

	"tabularis/core/deliveries"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(*office) []endpoint {
		return []endpoint{{"GET", "/me/address", "", nil, self}, {"DELETE", "/me/address", "", nil, self}, {"GET", "/deliveries", "", nil, self},
			{"PUT", "/me/address", "", contract.AddressWish{Name: "some-name"}, inside}}
	})
	for _, way := range []string{"PUT /me/address/key", "POST /deliveries/{id}/acceptance", "POST /deliveries/{id}/refusal", "GET /deliveries/{id}/files/{file}"} {
		apart[way] = "whom it was sent to alone: TestDeliveriesAreTheirRecipients"
	}
}

// publishes lets somebody publish an address.
func (o *office) publishes(c *testkit.Client, name string) string {
	o.T.Helper()
	return *read[contract.PublishedAddress](o.T.(*testing.T), c.Want(200, "PUT", "/api/me/address", contract.AddressWish{Name: name})).Name
}

// confirmed lets a visitor in to an address by the code that came to theirs.
func (o *office) confirmed(name, email string) (v *testkit.Client, at string) {
	o.T.Helper()
	v, at = o.Visitor(), "/api/visits/"+name
	v.Want(202, "POST", at+"/code", contract.Address{Email: email})
	code := o.code(email)
	v.Want(204, "POST", at, contract.OpenLink{Email: &email, Code: &code})
	return v, at
}

// sendsOff brings files to an address and sends them off.
func (o *office) sendsOff(v *testkit.Client, name string, files map[string][]byte, h contract.HandIn) testkit.Answer {
	o.T.Helper()
	for _, file := range slices.Sorted(maps.Keys(files)) {
		if a := put(v, name, file, files[file]); a.Status != 204 {
			o.T.Fatalf("%s: %d %s", file, a.Status, a.Body)
		}
	}
	return v.Do("POST", "/api/visits/"+name+"/intake", h)
}

func (o *office) deliveries(c *testkit.Client, query string) []contract.Delivery {
	o.T.Helper()
	return testkit.Get[[]contract.Delivery](c, "/api/deliveries"+query)
}

// Somebody without an account sends to a colleague: nobody opens it before it is accepted, then it is
// a document like others, which says how it came.
func TestFilesAreSentToAnAddress(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	if a := testkit.Get[contract.PublishedAddress](o.luca, "/api/me/address"); a.Name != nil || !a.Possible || a.Proposed != "luca-ferrante" {
		t.Errorf("before: %+v", a)
	}
	name := o.publishes(o.luca, "luca-ferrante")
	if to, page := o.Visitor().Do("GET", "/to/"+name, nil), o.Visitor().Do("GET", "/l/"+name, nil); to.Status != 200 || !bytes.Equal(to.Body, page.Body) {
		t.Errorf("/to leads elsewhere: %d", to.Status)
	}
	odile := "odile@brackwater.example"
	front := testkit.Get[contract.LinkFront](o.Visitor(), "/api/visits/"+name)
	if front.Kind != contract.LinkKindAddress || front.Identify != contract.IdentityConfirmed || *front.Sender != "Luca Ferrante" {
		t.Errorf("the front: %+v", front)
	}
	// Without a confirmed address nothing is taken.
	stranger := o.Visitor()
	if a := put(stranger, name, "hull.jpg", []byte("x")); a.Status != 401 && a.Status != 403 {
		t.Errorf("a stranger: %d %s", a.Status, a.Body)
	}
	v, at := o.confirmed(name, odile)
	hull := []byte("the hull")
	files := map[string][]byte{"hull.txt": hull, "invoice.pdf": []byte("MZ\x90\x00" + strings.Repeat("\x00", 60) + "PE\x00\x00"), "setup.exe": []byte("anything")}
	if a := o.sendsOff(v, name, files, contract.HandIn{}); a.Status != 422 && a.Status != 400 {
		t.Errorf("without a name: %d %s", a.Status, a.Body)
	}
	a := v.Want(200, "POST", at+"/intake", contract.HandIn{Name: ptr("Odile Charron"), Note: ptr("As agreed.")})
	if in := read[contract.VisitIntake](t, a); len(in.Received) != 3 || !in.Received[2].HandedIn {
		t.Errorf("the answer: %+v", in.Received)
	}
	if a := v.Do("POST", at+"/intake", contract.HandIn{Name: ptr("Odile Charron")}); a.Status != 409 && a.Status != 422 && a.Status != 400 {
		t.Errorf("the same sent twice: %d %s", a.Status, a.Body)
	}
	sum := sha256.Sum256(hull)
	waitFor(t, func() bool {
		all := o.Mail.Messages(odile)
		return strings.Contains(all[len(all)-1].Text, hex.EncodeToString(sum[:]))
	})
	waitFor(t, func() bool {
		all := o.Mail.Messages(o.People["luca"].Email)
		return len(all) > 0 && strings.Contains(all[len(all)-1].Text, "/desk/received")
	})
	// What waits: who, what they say, and what deserves caution.
	all := o.deliveries(o.luca, "")
	if len(all) != 1 || all[0].Email != odile || all[0].Name != "Odile Charron" || all[0].Message != "As agreed." || len(all[0].Files) != 3 {
		t.Fatalf("%+v", all)
	}
	d := all[0]
	cautions := map[string]string{}
	for _, f := range d.Files {
		cautions[f.Name] = string(opt(f.Caution))
	}
	if cautions["hull.txt"] != "" || cautions["invoice.pdf"] != "disguised" || cautions["setup.exe"] != "runs" {
		t.Errorf("%v", cautions)
	}
	if n := o.noticesOf(o.luca, "delivered"); n != 1 {
		t.Errorf("%d notices", n)
	}
	// Nobody opens it, whoever it was sent to included, nor anything of it by any list.
	for _, who := range []*testkit.Client{o.luca, o.hanne} {
		for _, f := range d.Files {
			for _, path := range []string{"", "/content", "/versions", "/pages/1?width=240", "/preview"} {
				if a := who.Do("GET", "/api/documents/"+f.Id.String()+path, nil); a.Status != 404 {
					t.Errorf("%s: %d %.100s", path, a.Status, a.Body)
				}
			}
		}
		for _, list := range []string{"/api/dossiers", "/api/links", "/api/found?q=hull", "/api/find?q=hull", "/api/activity", "/api/today", "/api/links?mine=true", "/api/session"} {
			if a := who.Do("GET", list, nil); strings.Contains(string(a.Body), "hull") || strings.Contains(string(a.Body), "odile@") || strings.Contains(string(a.Body), "IN-") {
				t.Errorf("%s tells of it: %.300s", list, a.Body)
			}
		}
	}
	// Accepted where one of its names is taken.
	o.luca.Upload(o.top, "", "hull.txt", []byte("another"))
	o.luca.Want(204, "POST", fmt.Sprintf("/api/deliveries/%s/acceptance", d.Id), contract.Acceptance{To: o.top})
	rows := map[string]contract.DocumentRow{}
	for _, r := range testkit.Get[contract.RegisterPage](o.luca, fmt.Sprintf("/api/folders/%s/register", o.top)).Rows {
		rows[r.Name] = r
	}
	if _, there := rows["setup.exe"]; !there || len(rows) < 4 {
		t.Fatalf("%v", rows)
	}
	var mine contract.DocumentRow
	for n, r := range rows {
		if strings.HasPrefix(n, "hull") && n != "hull.txt" {
			mine = r
		}
	}
	if a := o.priya.Do("GET", "/api/documents/"+mine.Id.String()+"/content", nil); string(a.Body) != "the hull" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	o.sound()
	if a := string(o.luca.Do("GET", "/api/activity", nil).Body); !strings.Contains(a, `"delivery.accepted"`) || !strings.Contains(a, "Odile Charron") {
		t.Error("the activity does not tell of it")
	}
	if again := o.luca.Do("POST", fmt.Sprintf("/api/deliveries/%s/acceptance", d.Id), contract.Acceptance{To: o.top}); again.Status != 409 {
		t.Errorf("accepted twice: %d", again.Status)
	}
	if decided := o.deliveries(o.luca, "?decided=true"); len(o.deliveries(o.luca, "")) != 0 || len(decided) != 1 || !decided[0].Accepted {
		t.Errorf("%+v", decided)
	}
	// The visitor's list is of what they sent; nothing is taken back any more.
	in := testkit.Get[contract.VisitIntake](v, at+"/intake")
	if len(in.Received) != 3 || !in.Received[0].HandedIn {
		t.Errorf("%+v", in.Received)
	}
	if a := v.Do("DELETE", at+"/intake/"+in.Received[0].Id.String(), nil); a.Status != 409 {
		t.Errorf("taken back: %d", a.Status)
	}
}

// What is refused, or waits for too long, or was never sent off, is destroyed with its content.
func TestDeliveriesEnd(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	name := o.publishes(o.luca, "luca-ferrante")
	v, _ := o.confirmed(name, "odile@brackwater.example")
	before := o.blobs()
	me := contract.HandIn{Name: ptr("Odile Charron")}
	if a := o.sendsOff(v, name, map[string][]byte{"a.txt": []byte("first")}, me); a.Status != 200 {
		t.Fatal(a.Status)
	}
	o.luca.Want(204, "POST", fmt.Sprintf("/api/deliveries/%s/refusal", o.deliveries(o.luca, "")[0].Id), nil)
	if n := o.blobs(); n != before {
		t.Errorf("%d places of content, %d before", n, before)
	}
	if a := o.sendsOff(v, name, map[string][]byte{"b.txt": []byte("second")}, me); a.Status != 200 {
		t.Fatal(a.Status)
	}
	if a := put(v, name, "c.txt", []byte("never sent")); a.Status != 204 {
		t.Fatal(a.Status)
	}
	o.Later(deliveries.Unsent + time.Hour)
	o.duty("look after deliveries")
	waitFor(t, func() bool { return o.blobs() == before+1 })
	if all := o.deliveries(o.SignIn("luca"), ""); len(all) != 1 {
		t.Errorf("%+v", all)
	}
	o.Later(61 * 24 * time.Hour)
	luca := o.SignIn("luca")
	o.duty("look after deliveries")
	waitFor(t, func() bool { return o.blobs() == before })
	if all := o.deliveries(luca, "?decided=true"); len(all) != 2 || all[0].Accepted || len(all[0].Files) != 1 {
		t.Errorf("the record: %+v", all)
	}
	o.sound()
}

// Only whom it was sent to decides, and only into folders to which they may add.
func TestDeliveriesAreTheirRecipients(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	name := o.publishes(o.luca, "luca-ferrante")
	v, at := o.confirmed(name, "odile@brackwater.example")
	if a := o.sendsOff(v, name, map[string][]byte{"a.txt": []byte("first")}, contract.HandIn{Name: ptr("Odile")}); a.Status != 200 {
		t.Fatal(a.Status)
	}
	d := o.deliveries(o.luca, "")[0]
	accept, refuse := fmt.Sprintf("/api/deliveries/%s/acceptance", d.Id), fmt.Sprintf("/api/deliveries/%s/refusal", d.Id)
	for _, c := range []*testkit.Client{o.hanne, o.priya, o.tomasz} {
		if len(o.deliveries(c, "")) != 0 || c.Do("POST", accept, contract.Acceptance{To: o.top}).Status != 404 || c.Do("POST", refuse, nil).Status != 404 {
			t.Error("somebody else deals with it")
		}
		if a := c.Do("GET", fmt.Sprintf("/api/deliveries/%s/files/%s", d.Id, d.Files[0].Id), nil); a.Status != 404 {
			t.Errorf("%d", a.Status)
		}
	}
	// What is not sealed is not read before it is accepted.
	if a := o.luca.Do("GET", fmt.Sprintf("/api/deliveries/%s/files/%s", d.Id, d.Files[0].Id), nil); a.Status != 404 {
		t.Errorf("it is read: %d", a.Status)
	}
	for to, want := range map[uuid.UUID]int{o.plan: 404, uuid.New(): 404, o.incoming("luca"): 404} {
		if a := o.luca.Do("POST", accept, contract.Acceptance{To: to}); a.Status != want {
			t.Errorf("into %s: %d %s", to, a.Status, a.Body)
		}
	}
	// Priya looks only.
	o.publishes(o.priya, "priya")
	pv, _ := o.confirmed("priya", "bram@brackwater.example")
	o.sendsOff(pv, "priya", map[string][]byte{"b.txt": []byte("second")}, contract.HandIn{Name: ptr("Bram")})
	if a := o.priya.Do("POST", fmt.Sprintf("/api/deliveries/%s/acceptance", o.deliveries(o.priya, "")[0].Id), contract.Acceptance{To: o.top}); a.Status != 403 {
		t.Errorf("accepted where one may not add: %d", a.Status)
	}
	// A visitor sees nothing of another's, nor of what lies there, and takes nothing out.
	other, _ := o.confirmed(name, "marit@pelham-dock.example")
	if in := testkit.Get[contract.VisitIntake](other, at+"/intake"); len(in.Received) != 0 {
		t.Errorf("%+v", in.Received)
	}
	for _, path := range []string{"/contents", "/archive", "/transfer", "/documents/" + d.Files[0].Id.String() + "/content"} {
		if a := v.Do("GET", at+path, nil); a.Status != 404 {
			t.Errorf("%s: %d", path, a.Status)
		}
	}
	if a := put(v, name, "c.txt", []byte("x"), "path", "a/b"); a.Status < 400 {
		t.Errorf("a folder was made: %d", a.Status)
	}
	if a := put(v, name, "c.txt", []byte("x"), "folder", o.top.String()); a.Status < 400 {
		t.Errorf("put elsewhere: %d", a.Status)
	}
}

// outward sets what the practice lets out and in.
func (o *office) outward(r contract.OutwardRules) {
	o.T.Helper()
	o.hanne.Want(204, "PUT", "/api/practice/rules", contract.Rules{Sensitive: "off", Patterns: []contract.Pattern{}, LongestLinkDays: 90, Outward: &r})
}

func (o *office) incoming(who string) (id uuid.UUID) {
	o.T.Helper()
	if err := o.App.DB.Get(&id, `SELECT id FROM dossiers WHERE kind = 'incoming' AND created_by = $1`, o.People[who].ID); err != nil {
		o.T.Fatal(err)
	}
	return id
}

// A name is one person's for ever, and an address is shut where nobody may have one, or nobody is there.
func TestPublishedNames(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.publishes(o.luca, "hull-surveys")
	for name, code := range map[string]string{"hull-surveys": "slug-taken", "Hull": "slug-form", "x": "slug-length", "admin": "slug-reserved", "hüll": "slug-form", "hull surveys": "slug-form", "../etc": "slug-form"} {
		if a := o.priya.Do("PUT", "/api/me/address", contract.AddressWish{Name: name}); a.Code() != code {
			t.Errorf("%q: %d %s", name, a.Status, a.Body)
		}
	}
	o.publishes(o.luca, "luca")
	gone := func(name string) bool { return o.Visitor().Do("GET", "/api/visits/"+name, nil).Status == 410 }
	if !gone("hull-surveys") || gone("luca") {
		t.Error("the former name takes something, or the new one nothing")
	}
	if a := o.priya.Do("PUT", "/api/me/address", contract.AddressWish{Name: "hull-surveys"}); a.Status != 422 && a.Status != 409 && a.Status != 400 {
		t.Errorf("somebody else has the former name: %d", a.Status)
	}
	o.publishes(o.luca, "hull-surveys")
	if gone("hull-surveys") || !gone("luca") {
		t.Error("the name of before is not theirs again")
	}
	o.luca.Want(204, "DELETE", "/api/me/address", nil)
	if !gone("hull-surveys") {
		t.Error("taken back, it takes something")
	}
	o.publishes(o.luca, "hull-surveys")
	o.Appoint("hanne", "administrator")
	rules := contract.OutwardRules{Required: "nothing", Kinds: []contract.LinkKind{contract.LinkKindHandOut}, Shut: []string{}, Only: []string{}}
	o.outward(rules)
	if !gone("hull-surveys") {
		t.Error("what the practice forbids takes something")
	}
	if a := o.priya.Do("PUT", "/api/me/address", contract.AddressWish{Name: "priya"}); a.Status != 403 {
		t.Errorf("published all the same: %d", a.Status)
	}
	rules.Kinds = append(rules.Kinds, contract.LinkKindAddress)
	o.outward(rules)
	if _, err := o.App.DB.Exec(`UPDATE people SET deactivated_at = now() WHERE id = $1`, o.People["luca"].ID); err != nil {
		t.Fatal(err)
	}
	if !gone("hull-surveys") {
		t.Error("whoever has left is sent something")
	}
}

// How much is taken holds for all addresses together, also for many who come at once.
func TestDeliveriesAreLimited(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.publishes(o.luca, "luca")
	o.publishes(o.priya, "priya")
	o.Appoint("hanne", "administrator")
	rules := contract.OutwardRules{Required: "nothing", Kinds: []contract.LinkKind{contract.LinkKindAddress}, Shut: []string{}, Only: []string{}, DeliveriesBytes: ptr(int64(1000))}
	o.outward(rules)
	a, _ := o.confirmed("luca", "odile@brackwater.example")
	b, _ := o.confirmed("priya", "bram@brackwater.example")
	var all sync.WaitGroup
	var taken [10]bool
	for i := range taken {
		all.Go(func() {
			v, name := a, "luca"
			if i%2 == 1 {
				v, name = b, "priya"
			}
			answer := put(v, name, fmt.Sprintf("%d.txt", i), make([]byte, 300))
			taken[i] = answer.Status == 204
			if !taken[i] && !strings.Contains(string(answer.Body), "deliveries-full") {
				t.Errorf("%d %s", answer.Status, answer.Body)
			}
		})
	}
	all.Wait()
	if n := len(slices.DeleteFunc(slices.Clone(taken[:]), func(yes bool) bool { return !yes })); n != 3 {
		t.Errorf("%d files of 300 bytes were taken where 1,000 bytes may wait", n)
	}
	// A code goes to one mailbox so many times, through whomever's address it is tried.
	slow := false
	for i := range 12 {
		answer := o.Visitor().Do("POST", "/api/visits/"+[]string{"luca", "priya"}[i%2]+"/code", contract.Address{Email: "victim@pelham-dock.example"}, "X-Forwarded-For", fmt.Sprintf("198.51.100.%d", i))
		slow = slow || answer.Status == 429
	}
	if n := len(o.Mail.Messages("victim@pelham-dock.example")); !slow || n > 6 {
		t.Errorf("%d mails, slowed down: %v", n, slow)
	}
}

// opt is a value, or its zero.
func opt[T any](p *T) (v T) {
	if p != nil {
		v = *p
	}
	return v
}

// What is sealed for somebody is taken as it is, with nothing beside its list, and fetched by them alone.
func TestSealedDeliveries(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	identity, err := age.GenerateX25519Identity()
	if err != nil {
		t.Fatal(err)
	}
	key := struct {
		Recipient string `json:"recipient"`
	}{identity.Recipient().String()}
	if a := o.luca.Do("PUT", "/api/me/address/key", key); a.Code() != "address-none" {
		t.Errorf("a key without an address: %d %s", a.Status, a.Body)
	}
	name := o.publishes(o.luca, "luca-ferrante")
	o.luca.Want(204, "PUT", "/api/me/address/key", key)
	for _, bad := range []string{"age1", identity.String(), strings.ToUpper(key.Recipient), key.Recipient + "x", "ssh-ed25519 AAAA"} {
		key.Recipient = bad
		if a := o.luca.Do("PUT", "/api/me/address/key", key); a.Code() != "key-form" {
			t.Errorf("%q: %d %s", bad, a.Status, a.Body)
		}
	}
	v, at := o.confirmed(name, "odile@brackwater.example")
	if in := testkit.Get[contract.VisitIntake](v, at+"/intake"); opt(in.SealsFor) != identity.Recipient().String() {
		t.Errorf("sealed for %q", opt(in.SealsFor))
	}
	if a := put(v, name, "0001.age", []byte("sealed content")); a.Status != 204 {
		t.Fatal(a.Status)
	}
	list, me := []byte("age-encryption.org/v1 …"), ptr("Odile")
	for want, h := range map[string]contract.HandIn{"delivery-must-seal": {Name: me}, "delivery-words": {Name: me, Manifest: &list, Note: ptr("in the clear")}, "name-empty": {Name: ptr(" "), Manifest: &list}} {
		if a := v.Do("POST", at+"/intake", h); a.Code() != want {
			t.Errorf("%s: %d %s", want, a.Status, a.Body)
		}
	}
	v.Want(200, "POST", at+"/intake", contract.HandIn{Name: me, Manifest: &list})
	d := o.deliveries(o.luca, "")[0]
	if string(opt(d.Manifest)) != string(list) || d.Files[0].Caution != nil {
		t.Errorf("%+v", d)
	}
	file := fmt.Sprintf("/api/deliveries/%s/files/%s", d.Id, d.Files[0].Id)
	if a := o.luca.Do("GET", file, nil); string(a.Body) != "sealed content" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	for _, c := range []*testkit.Client{o.hanne, o.Visitor()} {
		if a := c.Do("GET", file, nil); a.Status != 404 && a.Status != 401 {
			t.Errorf("somebody else: %d", a.Status)
		}
	}
	accept := func(name string) testkit.Answer {
		names := []struct {
			Id   uuid.UUID `json:"id"`
			Name string    `json:"name"`
		}{{d.Files[0].Id, name}}
		return o.luca.Do("POST", fmt.Sprintf("/api/deliveries/%s/acceptance", d.Id), map[string]any{"to": o.top, "names": names})
	}
	for bad, code := range map[string]string{"../x.age": "name-slash", "a\u202eb.age": "name-direction", "": "name-empty", ".": "name-reserved"} {
		if a := accept(bad); a.Code() != code {
			t.Errorf("%q: %d %s", bad, a.Status, a.Body)
		}
	}
	if a := accept("Valuation.pdf.age"); a.Status != 204 {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	if doc := testkit.Get[contract.Document](o.luca, "/api/documents/"+d.Files[0].Id.String()); doc.Name != "Valuation.pdf.age" {
		t.Errorf("%q", doc.Name)
	}
	// Where the practice lets nothing be sealed, nobody publishes a key.
	o.Appoint("hanne", "administrator")
	o.outward(contract.OutwardRules{Required: "nothing", Kinds: []contract.LinkKind{contract.LinkKindAddress}, Shut: []string{}, Only: []string{}, SealsForbidden: ptr(true)})
	key.Recipient = identity.Recipient().String()
	if a := o.luca.Do("PUT", "/api/me/address/key", key); a.Code() != "rule-sealed" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
}

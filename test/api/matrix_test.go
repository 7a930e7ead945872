package api_test

import (
	"fmt"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/people"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// rule says who passes an endpoint: what somebody needs who asks for it.
type rule struct {
	name string
	// caps on the dossier, where the endpoint is about something in it; document
	// says that it is about a document, which deposit does not see.
	caps     access.Caps
	document bool
	// open endpoints ask for nothing, self for being signed in, inside for
	// belonging to the practice, admin for administering it.
	open, self, inside, admin bool
}

func item(caps access.Caps) rule  { return rule{name: strings.Join(caps.Names(), "+"), caps: caps} }
func paper(caps access.Caps) rule { r := item(caps); r.document = true; return r }

var (
	open   = rule{name: "open", open: true}
	self   = rule{name: "signed in", self: true}
	inside = rule{name: "inside", inside: true}
	admin  = rule{name: "administers", admin: true}
)

// cell is what a caller should get: 401, 403, 404, or 0 for anything else.
func (r rule) cell(a actor) int {
	switch {
	case r.open:
		return 0
	case a.out:
		return 401
	case r.self:
		return 0
	case r.inside:
		if a.guest {
			return 403
		}
		return 0
	case r.admin:
		return 403
	}
	sees := a.caps.Has(access.See) || a.caps.Has(access.Add) && !r.document
	switch {
	case !sees:
		return 404
	case !a.caps.Has(r.caps):
		return 403
	}
	return 0
}

type actor struct {
	name       string
	client     *testkit.Client
	caps       access.Caps
	out, guest bool
}

type endpoint struct {
	method, path, url string
	body              any
	rule              rule
}

// account makes one with a standing and signs it in.
func (o *office) account(name string, standing string) (uuid.UUID, *testkit.Client) {
	o.T.Helper()
	p := o.People["luca"]
	p.ID, p.Name, p.Email, p.EmailKey, p.Standing = uuid.Must(uuid.NewV7()), name, name+"@halyard-rook.example", name+"@halyard-rook.example", standing
	if err := people.AddPerson(o.T.Context(), o.App.DB, p); err != nil {
		o.T.Fatal(err)
	}
	o.People[name] = p
	return p.ID, o.SignIn(name)
}

func (o *office) actors() []actor {
	o.T.Helper()
	var all []actor
	for _, level := range access.Levels() {
		name := "level-" + string(level)
		_, c := o.account(name, accounts.Colleague)
		o.give(o.hanne, wish(contract.Level(level), []uuid.UUID{o.top}, to(o.People[name].ID)))
		all = append(all, actor{name: string(level), client: c, caps: level.Caps()})
	}
	_, stranger := o.account("stranger", accounts.Colleague)
	_, guest := o.account("guest", accounts.Guest)
	endedID, ended := o.account("ended", accounts.Colleague)
	soon := o.Now().Add(time.Hour)
	w := wish(contract.LevelEdit, []uuid.UUID{o.top}, to(endedID))
	w.Until = &soon
	o.give(o.hanne, w)
	guestID, guestIn := o.account("guest-in", accounts.Guest)
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.top}, to(guestID)))
	goneID, gone := o.account("gone", accounts.Colleague)
	o.give(o.hanne, wish(contract.LevelEdit, []uuid.UUID{o.top}, to(goneID)))
	if _, err := o.App.DB.Exec(`UPDATE people SET deactivated_at = now() WHERE id = $1`, goneID); err != nil {
		o.T.Fatal(err)
	}
	if err := guard.Bump(o.T.Context(), o.App.DB, guard.PeopleStamp); err != nil {
		o.T.Fatal(err)
	}
	o.Later(time.Hour)
	return append(all, actor{name: "stranger", client: stranger}, actor{name: "guest", client: guest, guest: true}, actor{name: "guest, view", client: guestIn, guest: true, caps: access.LevelView.Caps()},
		actor{name: "ended", client: ended}, actor{name: "gone", client: gone, out: true}, actor{name: "signed out", client: o.Visitor(), out: true})
}

// named are the endpoints that stand beside their capability's own tests.
var named []func(o *office) []endpoint

// endpoints lists every operation of the contract, and the routes beside it.
func (o *office) endpoints(link uuid.UUID, token string) []endpoint {
	inDoc := func(path string) string { return strings.ReplaceAll(path, "{id}", o.plan.String()) }
	none := uuid.New().String()
	grant := o.way(o.plan, "Tomasz Rehn").Grant
	one := []uuid.UUID{o.plan}
	far := o.Now().Add(100 * time.Hour)
	all := []endpoint{
		{"GET", "/session", "", nil, open},
		{"POST", "/session", "", contract.SignIn{}, open},
		{"POST", "/session/second", "", contract.SecondFactor{Factor: "recovery"}, rule{name: "half a session", caps: 0, open: true}},
		{"POST", "/session/passkey", "", nil, open},
		{"POST", "/session/code", "", contract.Address{Email: "x"}, open},
		{"POST", "/session/by-code", "", contract.CodeSignIn{}, open},
		{"POST", "/entries", "", contract.Address{Email: "x"}, open},
		{"GET", "/entries/{token}", "/entries/none", nil, open},
		{"POST", "/entries/{token}", "/entries/none", contract.UseEntry{}, open},
		{"GET", "/me/sessions", "", nil, self},
		{"DELETE", "/me/sessions", "", nil, self},
		{"PUT", "/me/password", "", contract.NewPassword{}, self},
		{"GET", "/me/factors", "", nil, self},
		{"POST", "/me/authenticator", "", nil, self},
		{"PUT", "/me/authenticator", "", contract.ConfirmAuthenticator{}, self},
		{"DELETE", "/me/authenticator", "", contract.Confirmed{}, self},
		{"POST", "/me/passkeys/offer", "", nil, self},
		{"POST", "/me/passkeys", "", contract.NewPasskey{}, self},
		{"GET", "/people", "", nil, self},
		{"POST", "/people", "", contract.Invitation{Standing: "guest", Email: "x"}, inside},
		{"PUT", "/people/{id}/standing", "/people/" + o.People["priya"].ID.String() + "/standing", contract.NewStanding{Standing: "colleague"}, admin},
		{"POST", "/people/{id}/end", "/people/" + o.People["priya"].ID.String() + "/end", contract.EndAccount{}, admin},
		{"POST", "/people/{id}/return", "/people/" + o.People["priya"].ID.String() + "/return", nil, admin},
		{"POST", "/groups", "", contract.NewName{Name: "x"}, admin},
		{"DELETE", "/groups/{id}", "/groups/" + none, nil, admin},
		{"POST", "/groups/{id}/members", "/groups/" + none + "/members", contract.NewMember{}, admin},
		{"DELETE", "/groups/{id}/members/{member}", "/groups/" + none + "/members/" + none, nil, admin},
		{"POST", "/invitation-links", "", contract.NewInvitationLink{Standing: "guest", Uses: 1, Until: far}, admin},
		{"POST", "/invitation-links/{id}/end", "/invitation-links/" + none + "/end", nil, admin},
		{"GET", "/joining/{token}", "/joining/none", nil, open},
		{"POST", "/joining/{token}", "/joining/none", contract.Join{}, open},
		{"PUT", "/practice/rules", "", contract.Rules{}, admin},
		{"POST", "/access", "", contract.AccessWish{Items: one, To: []contract.Recipient{{Email: ptr("x")}}, Level: "look"}, paper(access.Share)},
		{"POST", "/access/draft", "", contract.AccessWish{Items: one, Level: "look", To: []contract.Recipient{}}, paper(access.Share)},
		{"POST", "/access/likely", "", contract.Typed{Items: one}, paper(access.Share)},
		{"POST", "/access/what-if", "", contract.WhatIf{Close: &o.plan}, paper(access.Manage)},
		{"POST", "/access/what-if", "", contract.WhatIf{RemoveGroup: &o.plan}, admin},
		{"PUT", "/access/{id}", "/access/" + grant.Id.String(), contract.AccessChange{Version: 99, Level: "view"}, paper(access.Manage)},
		{"DELETE", "/access/{id}", "/access/" + grant.Id.String(), nil, paper(access.Manage)},
		{"GET", "/items/{id}/reach", inDoc("/items/{id}/reach"), nil, paper(access.See)},
		{"GET", "/items/{id}/why/{person}", inDoc("/items/{id}/why/") + o.People["priya"].ID.String(), nil, paper(access.Manage)},
		{"PUT", "/items/{id}/closed", inDoc("/items/{id}/closed"), contract.Closed{}, paper(access.Manage)},
		{"PUT", "/items/{id}/pin", inDoc("/items/{id}/pin"), contract.Pinned{}, paper(access.See)},
		{"GET", "/given/to-me", "", nil, self},
		{"GET", "/given/by-me", "", nil, self},
		{"GET", "/practice", "", nil, open},
		{"GET", "/today", "", nil, self},
		{"GET", "/dossiers", "", nil, self},
		{"POST", "/dossiers", "", contract.NewDossier{Code: "no code"}, inside},
		{"GET", "/dossiers/{code}", "/dossiers/MER-24", nil, item(0)},
		{"POST", "/folders/{id}/folders", "/folders/" + o.yard.String() + "/folders", contract.NewName{Name: "a/b"}, item(access.Add)},
		{"GET", "/folders/{id}/register", "/folders/" + o.yard.String() + "/register", nil, item(0)},
		{"POST", "/practice/removal", "", contract.Removal{}, admin},
		{"DELETE", "/practice/removal", "", nil, admin},
		{"GET", "/notices", "", nil, self},
		{"PUT", "/notices", "", nil, self},
		{"PUT", "/items/{id}/name", inDoc("/items/{id}/name"), contract.NewName{Name: "plan.txt"}, paper(access.Change)},
		{"GET", "/documents/{id}", inDoc("/documents/{id}"), nil, paper(access.See)},
		{"GET", "/documents/{id}/likeness", inDoc("/documents/{id}/likeness"), nil, paper(access.Download)},
		{"GET", "/documents/{id}/preview", inDoc("/documents/{id}/preview"), nil, paper(access.Download)},
		{"GET", "/documents/{id}/pages", inDoc("/documents/{id}/pages"), nil, paper(access.See)},
		{"GET", "/documents/{id}/pages/{page}", inDoc("/documents/{id}/pages/1?width=240"), nil, paper(access.See)},
		{"POST", "/documents/{id}/versions/{number}/separation", inDoc("/documents/{id}/versions/1/separation"), nil, paper(access.Add | access.Change)},
		{"GET", "/register-numbers/{code}/{number}", "/register-numbers/MER-24/2", nil, paper(access.See)},
		{"GET", "/find", "/find?q=plan", nil, self},
		{"GET", "/links", "", nil, self},
		{"POST", "/links", "", contract.LinkTerms{Items: one, Name: ptr("a/b")}, paper(access.Share)},
		{"POST", "/links/draft", "", contract.LinkTerms{Items: one}, paper(access.Share)},
		{"POST", "/links/password", "", nil, self},
		{"GET", "/links/{id}", "/links/" + link.String(), nil, paper(access.See)},
		{"POST", "/links/{id}/end", "/links/" + link.String() + "/end", nil, paper(access.Share)},
		{"POST", "/links/{id}/openings", "/links/" + link.String() + "/openings", nil, paper(access.Share)},
		{"POST", "/links/{id}/mail", "/links/" + link.String() + "/mail", contract.LinkMail{To: []string{"a@b.example"}}, paper(access.Share)},
		{"GET", "/activity", "", nil, self},
		{"GET", "/links/{id}/record.csv", "/links/" + link.String() + "/record.csv", nil, paper(access.See)},
		{"GET", "/links/{id}/qr.png", "/links/" + link.String() + "/qr.png", nil, paper(access.Share)},
		{"POST", "/links/{id}/reminder", "/links/" + link.String() + "/reminder", nil, paper(access.Share)},
		{"GET", "/visits/{token}/intake", "/visits/" + token + "/intake", nil, open},
		{"POST", "/visits/{token}/intake", "/visits/" + token + "/intake", contract.HandIn{}, open},
		{"DELETE", "/visits/{token}/intake/{id}", inDoc("/visits/" + token + "/intake/{id}"), nil, open},
		{"PUT", "/links/{id}/terms", "/links/" + link.String() + "/terms", contract.LinkChange{Name: "a/b", Until: o.Now().Add(time.Hour)}, paper(access.Share)},
		{"PATCH", "/links/{id}/terms", "/links/" + link.String() + "/terms", contract.LinkAdjustment{Until: ptr(o.Now().Add(-time.Hour))}, paper(access.Share)},
		{"GET", "/visits/{token}", "/visits/" + token, nil, open},
		{"POST", "/visits/{token}", "/visits/" + token, contract.OpenLink{}, open},
		{"POST", "/visits/{token}/code", "/visits/" + token + "/code", contract.Address{Email: "a@dunlin.example"}, open},
		{"GET", "/visits/{token}/contents", "/visits/" + token + "/contents", nil, open},
		{"GET", "/visits/{token}/documents/{id}/preview", inDoc("/visits/" + token + "/documents/{id}/preview"), nil, open},
		{"GET", "/visits/{token}/documents/{id}/pages", inDoc("/visits/" + token + "/documents/{id}/pages"), nil, open},
		{"POST", "/visits/{token}/documents/{id}/looks", inDoc("/visits/" + token + "/documents/{id}/looks"), contract.Looked{Pages: []int{1}}, open},
		{"GET", "/documents/{id}/content", inDoc("/documents/{id}/content"), nil, paper(access.Download)},
		{"GET", "/documents/{id}/paper.pdf", inDoc("/documents/{id}/paper.pdf"), nil, paper(access.Download)},
		{"GET", "/archive", "/archive?item=" + o.plan.String(), nil, paper(access.Download)},
		{"POST", "/uploads", "", nil, self},
	}
	for _, of := range named {
		all = append(all, of(o)...)
	}
	return all
}

// apart are operations with tests of their own: their answers depend on whose
// they are, or do not tell whether there is anything.
var apart = map[string]string{
	"DELETE /session": "ends one's own", "DELETE /me/sessions/{id}": "one's own, else missing", "DELETE /me/passkeys/{key}": "one's own, else missing", "POST /people/{id}/invitation": "TestInvitationsLapseAndAreTakenBack",
	"DELETE /people/{id}/invitation": "TestInvitationsLapseAndAreTakenBack", "POST /items/{id}/request": "TestAskingToBeLetIn", "POST /requests/{id}": "TestAskingToBeLetIn", "GET /uploads/{id}/outcome": "TestUploadsBelongToWhoBeganThem",
}

// Each endpoint, tried by everybody: a table without an empty cell.
func TestEveryEndpointByEverybody(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.plan}, to(o.People["tomasz"].ID)))
	actors := o.actors()
	o.hanne, o.luca = o.SignIn("hanne"), o.SignIn("luca")
	l, token := o.link(contract.LinkTerms{Items: []uuid.UUID{o.plan}})
	all := o.endpoints(l.Id, token)
	covered := map[string]bool{}
	head := ""
	for _, a := range actors {
		head += fmt.Sprintf(" %12s", a.name)
	}
	t.Logf("%-52s %-14s%s", "", "needs", head)
	for _, e := range all {
		covered[e.method+" "+e.path] = true
		url := e.url
		if url == "" {
			url = e.path
		}
		row := ""
		for _, a := range actors {
			who := a.client
			if e.rule.open {
				// What begins sessions is tried by a client of its own.
				who = o.Visitor()
			}
			if e.method+" "+e.path == "DELETE /access/{id}" {
				// Whoever may end it has ended it for the next one.
				o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.plan}, to(o.People["tomasz"].ID)))
				url = "/access/" + o.way(o.plan, "Tomasz Rehn").Grant.Id.String()
			}
			got := who.Do(e.method, "/api"+url, e.body).Status
			row += fmt.Sprintf(" %12d", got)
			want := e.rule.cell(a)
			refused := slices.Contains([]int{401, 403, 404}, got)
			if e.rule.open {
				refused = got == 401 && strings.HasPrefix(e.path, "/visits")
			}
			if refused && want == 0 && !e.rule.open || want != 0 && got != want {
				t.Errorf("%s %s by %s: %d, want %d", e.method, e.path, a.name, got, want)
			}
		}
		t.Logf("%-52s %-14s%s", e.method+" "+e.path, e.rule.name, row)
	}
	for _, op := range operations(t) {
		if !covered[op] && apart[op] == "" {
			t.Errorf("%s is in no row", op)
		}
	}
}

// operations reads all operations from the contract.
func operations(t *testing.T) []string {
	t.Helper()
	raw, err := os.ReadFile("../../api/openapi.yaml")
	if err != nil {
		t.Fatal(err)
	}
	var out []string
	path := ""
	for line := range strings.SplitSeq(string(raw), "\n") {
		if m := regexp.MustCompile(`^  (/\S+):$`).FindStringSubmatch(line); m != nil {
			path = m[1]
		} else if m := regexp.MustCompile(`^    (get|put|post|delete|patch):$`).FindStringSubmatch(line); m != nil && path != "" {
			out = append(out, strings.ToUpper(m[1])+" "+path)
		}
	}
	if len(out) < 60 {
		t.Fatalf("read only %d operations", len(out))
	}
	return out
}

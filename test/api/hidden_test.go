package api_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"tabularis/internal/app/accounts"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// The table of all endpoints once more: whatever anybody asks, nothing in an answer
// names what is hidden from them, by name, id, address or code.
func TestNoAnswerNamesWhatIsHidden(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.plan}, to(o.People["tomasz"].ID)))
	actors := o.actors()
	o.hanne, o.luca = o.SignIn("hanne"), o.SignIn("luca")

	// In the dossier: a closed folder and a closed document, with a link, a client of
	// their own, and an intake; things that have moved, been kept apart and renamed.
	secret := testkit.Post[contract.Folder](o.hanne, 201, fmt.Sprintf("/api/folders/%s/folders", o.reports), contract.NewName{Name: "zzfolder"}).Id
	paper := o.hanne.Upload(secret, "zzsub", "zzpaper.txt", []byte("zzcontent 31")).Document.Id
	alone := o.hanne.Upload(o.reports, "", "zzalone.txt", []byte("zzcontent 32")).Document.Id
	o.hanne.Want(204, "PUT", "/api/items/"+secret.String()+"/closed", contract.Closed{Closed: true})
	o.hanne.Want(204, "PUT", "/api/items/"+alone.String()+"/closed", contract.Closed{Closed: true})
	clientID, _ := o.account("zzclient", accounts.Guest)
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{paper, alone}, to(clientID)))
	stated, intake := contract.IdentityStated, contract.LinkKindIntake
	hidden := testkit.Post[contract.Link](o.hanne, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{paper, alone}, Name: ptr("zzlink"), Identify: &stated, Allowed: &[]string{"zz@calder.example"}})
	both := testkit.Post[contract.Link](o.hanne, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{o.plan, alone}, Name: ptr("zzboth")})
	around := testkit.Post[contract.Link](o.hanne, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{secret}, Name: ptr("zztaken"), Kind: &intake})
	for _, l := range []contract.Link{hidden, both, around} {
		o.hanne.Want(202, "POST", "/api/links/"+l.Id.String()+"/mail", contract.LinkMail{To: []string{"zz-mail@calder.example"}})
		token := (*l.Address)[strings.LastIndex(*l.Address, "/")+1:]
		o.Visitor().Do("POST", "/api/visits/"+token, contract.OpenLink{Email: ptr("zz@calder.example")})
	}
	o.hanne.Want(204, "PUT", "/api/items/"+paper.String()+"/name", contract.NewName{Name: "zzrenamed.txt"})
	o.hanne.Upload(secret, "zzsub", "zzrenamed.txt", []byte("zzcontent 33"))
	// Another dossier, from which something came, and into which closed things went.
	other := testkit.Post[contract.DossierRow](o.hanne, 201, "/api/dossiers", contract.NewDossier{Code: "ZZZ-99", Name: "zzdossier", Kind: "client", Client: ptr("zzfirm")})
	came := o.hanne.Upload(other.Id, "", "came.txt", []byte("came")).Document.Id
	went := o.hanne.Upload(o.reports, "", "zzwent.txt", []byte("went")).Document.Id
	o.hanne.Want(204, "PUT", "/api/items/"+went.String()+"/closed", contract.Closed{Closed: true})
	if a := o.move(o.hanne, o.reports, came); a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	if a := o.move(o.hanne, other.Id, went); a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}

	l, token := o.link(contract.LinkTerms{Items: []uuid.UUID{o.plan}})
	all := o.endpoints(l.Id, token)
	none := uuid.New().String()
	for _, id := range []uuid.UUID{secret, paper, alone, went} {
		for _, path := range []string{"/documents/%s", "/documents/%s/preview", "/documents/%s/content", "/folders/%s/register", "/items/%s/reach", "/archive?item=%s"} {
			all = append(all, endpoint{"GET", path, fmt.Sprintf(path, id), nil, rule{}})
		}
	}
	all = append(all,
		endpoint{"GET", "/links/{id}", "/links/" + hidden.Id.String(), nil, rule{}}, endpoint{"GET", "/links/{id}", "/links/" + both.Id.String(), nil, rule{}},
		endpoint{"GET", "/links/{id}/record.csv", "/links/" + hidden.Id.String() + "/record.csv", nil, rule{}},
		endpoint{"GET", "/find", "/find?q=zz", nil, rule{}}, endpoint{"GET", "/activity", "/activity?about=links", nil, rule{}}, endpoint{"GET", "/activity", "/activity?about=outside", nil, rule{}},
		endpoint{"GET", "/folders/{id}/register", "/folders/" + o.reports.String() + "/register", nil, rule{}}, endpoint{"GET", "/folders/{id}/register", "/folders/" + o.top.String() + "/register", nil, rule{}},
		endpoint{"GET", "/items/{id}/reach", "/items/" + o.reports.String() + "/reach", nil, rule{}}, endpoint{"GET", "/documents/{id}", "/documents/" + came.String(), nil, rule{}},
		endpoint{"GET", "/dossiers/{code}", "/dossiers/ZZZ-99", nil, rule{}},
		endpoint{"POST", "/access/draft", "/access/draft", contract.AccessWish{Items: []uuid.UUID{o.reports}, Level: "look", To: []contract.Recipient{{Email: ptr("zzclient@halyard-rook.example")}}}, rule{}},
		endpoint{"POST", "/access/likely", "/access/likely", contract.Typed{Items: []uuid.UUID{o.reports}, Typed: ptr("zz")}, rule{}},
		endpoint{"POST", "/links/draft", "/links/draft", contract.LinkTerms{Items: []uuid.UUID{o.reports}}, rule{}},
	)
	markers := []string{"zzfolder", "zzsub", "zzpaper", "zzalone", "zzcontent", "zzlink", "zzboth", "zztaken", "zz@", "zzrenamed", "zzz-99", "zzdossier", "zzfirm", "zzwent", "zzclient", "zz-mail", other.Id.String(), secret.String(), paper.String(), alone.String(), went.String(), clientID.String(), hidden.Id.String(), both.Id.String(), around.Id.String()}
	for _, e := range all {
		url := e.url
		if url == "" {
			url = e.path
		}
		for _, a := range actors {
			if a.caps.Has(access.Manage) || e.method == "DELETE" {
				continue
			}
			who := a.client
			if e.rule.open {
				who = o.Visitor()
			}
			got := who.Do(e.method, "/api"+url, e.body)
			for _, m := range markers {
				// What somebody wrote or asked for themselves may be repeated.
				if at := strings.Index(strings.ToLower(string(got.Body)), strings.ToLower(m)); at >= 0 && !strings.Contains(strings.ToLower(fmt.Sprint(url, said(e.body))), strings.ToLower(m)) {
					t.Errorf("%s %s by %s names %q: …%.160s", e.method, url, a.name, m, got.Body[max(0, at-80):])
				}
			}
		}
	}
	// What is asked for by name answers exactly like what is not there.
	look := actors[slices.IndexFunc(actors, func(a actor) bool { return a.name == "edit" })]
	for _, path := range []string{"/api/documents/%s", "/api/items/%s/reach", "/api/folders/%s/register", "/api/links/%s"} {
		for _, id := range []uuid.UUID{secret, paper, alone, went, hidden.Id, both.Id} {
			there, not := look.client.Do("GET", fmt.Sprintf(path, id), nil), look.client.Do("GET", fmt.Sprintf(path, none), nil)
			if there.Status != not.Status || string(there.Body) != string(not.Body) {
				t.Errorf("%s: %d %s, and what is not there %d %s", path, there.Status, there.Body, not.Status, not.Body)
			}
		}
	}
	as := "?as=" + o.People["priya"].ID.String()
	for _, id := range []string{secret.String(), none} {
		if a := look.client.Do("GET", "/api/folders/"+id+"/register"+as, nil); a.Status != 404 {
			t.Errorf("as another, a folder that is not there: %d", a.Status)
		}
	}
}

// said is what a request says, to be compared with its answer.
func said(body any) string {
	switch b := body.(type) {
	case contract.AccessWish:
		for _, r := range b.To {
			if r.Email != nil {
				return *r.Email
			}
		}
	case contract.Typed:
		if b.Typed != nil {
			return *b.Typed
		}
	}
	return ""
}

// What is counted in drafts is what whoever drafts may see.
func TestDraftsCountNothingHidden(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	group := o.group("Insurers", o.People["tomasz"].ID)
	count := func() (n [4]int) {
		give := testkit.Post[contract.AccessDraft](o.luca, 200, "/api/access/draft", wish(contract.LevelLook, []uuid.UUID{o.reports}, to(o.People["tomasz"].ID), contract.Recipient{Email: ptr("marit.juhl@pelham.example")}))
		n[0] = give.Consequence.Documents
		for _, e := range give.Consequence.Effects {
			n[1] += e.Gains
		}
		likely := testkit.Post[[]contract.Suggested](o.luca, 200, "/api/access/likely", contract.Typed{Items: []uuid.UUID{o.reports}, Typed: ptr("Insurers")})
		n[2] = likely[0].Gains + likely[0].Could
		n[3] = testkit.Post[contract.LinkDraft](o.luca, 200, "/api/links/draft", contract.LinkTerms{Items: []uuid.UUID{o.reports}}).Files
		return n
	}
	_ = group
	before := count()
	for n := range 3 {
		id := o.hanne.Upload(o.inner, "", fmt.Sprintf("fees-%d.txt", n), []byte(fmt.Sprint("fees ", n))).Document.Id
		o.hanne.Want(204, "PUT", "/api/items/"+id.String()+"/closed", contract.Closed{Closed: true})
	}
	if after := count(); after != before {
		t.Errorf("with three hidden documents %v, without %v", after, before)
	}
}

// Whether an address has an account is nobody's to find out by drafting, and an
// invitation is its sender's, and the administrators', to take back.
func TestAccountsAreNotFoundOut(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	stranger, _ := o.account("odile", accounts.Guest)
	draft := func(address string) string {
		a := o.luca.Want(200, "POST", "/api/access/draft", wish(contract.LevelLook, []uuid.UUID{o.plan}, contract.Recipient{Email: &address}))
		return strings.ReplaceAll(string(a.Body), address, "…")
	}
	if a, b := draft("odile@halyard-rook.example"), draft("nobody@halyard-rook.example"); a != b {
		t.Errorf("an address with an account: %s\nand one without: %s", a, b)
	}
	invited := testkit.Post[contract.Person](o.luca, 201, "/api/people", contract.Invitation{Email: "bram.teague@brackwater.example", Standing: "guest"})
	for _, id := range []uuid.UUID{invited.Id, stranger, uuid.New()} {
		for _, method := range []string{"DELETE", "POST"} {
			if a := o.priya.Do(method, "/api/people/"+id.String()+"/invitation", nil); a.Status != 404 {
				t.Errorf("%s by somebody else: %d %s", method, a.Status, a.Body)
			}
		}
	}
	o.luca.Want(204, "DELETE", "/api/people/"+invited.Id.String()+"/invitation", nil)
}

// Guests are not told what the practice searches for, nor whom it shuts out.
func TestGuestsAreNotToldTheRules(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	outward := contract.OutwardRules{Required: contract.OutwardRulesRequiredNothing, Kinds: []contract.LinkKind{}, Shut: []string{"zz-shut.example"}, Only: []string{}}
	o.SignIn("hanne").Want(204, "PUT", "/api/practice/rules", contract.Rules{
		Sensitive: contract.Warn, LongestLinkDays: 90, Outward: &outward,
		Patterns: []contract.Pattern{{Text: "zz-kestrel"}},
	})
	if d := testkit.Get[contract.Directory](o.luca, "/api/people"); d.Rules == nil || len(d.Rules.Patterns) != 1 {
		t.Errorf("a colleague sees %+v", d.Rules)
	}
	_, guest := o.account("odile", accounts.Guest)
	if a := guest.Want(200, "GET", "/api/people", nil); strings.Contains(string(a.Body), "zz-") || strings.Contains(string(a.Body), "rules") {
		t.Errorf("a guest sees %s", a.Body)
	}
}

// After access has ended, new names are not told by what one gave or was given.
func TestNewNamesAreNotToldAfterTheEnd(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	o.give(o.luca, wish(contract.LevelView, []uuid.UUID{o.plan}, to(o.People["tomasz"].ID)))
	for _, w := range o.reach(o.hanne, o.top).Ways {
		if w.Grant.Name == "Luca Ferrante" {
			o.hanne.Want(204, "DELETE", "/api/access/"+w.Grant.Id.String(), nil)
		}
	}
	o.hanne.Want(204, "PUT", "/api/items/"+o.plan.String()+"/name", contract.NewName{Name: "zzrenamed.txt"})
	for _, path := range []string{"/given/by-me", "/given/to-me", "/today", "/activity", "/links?mine=true", "/find?q=zz", "/notices", "/dossiers"} {
		if a := o.luca.Do("GET", "/api"+path, nil); strings.Contains(string(a.Body), "zz") {
			t.Errorf("%s: %s", path, a.Body)
		}
	}
}

// An administrator who comes into a dossier by a group they change themselves does
// not do so unseen: its managers are told in the same act, and its events say so.
func TestAdministratorsDoNotComeInUnseen(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	for name, join := range map[string]func(o *office, group uuid.UUID){
		"themselves": func(o *office, group uuid.UUID) {
			o.tomasz.Want(204, "POST", "/api/groups/"+group.String()+"/members", contract.NewMember{Person: ptr(o.People["tomasz"].ID)})
		},
		"by a group they are in": func(o *office, group uuid.UUID) {
			inner := testkit.Post[contract.Group](o.tomasz, 201, "/api/groups", contract.NewName{Name: "Office"}).Id
			o.tomasz.Want(204, "POST", "/api/groups/"+inner.String()+"/members", contract.NewMember{Person: ptr(o.People["tomasz"].ID)})
			o.tomasz.Want(204, "POST", "/api/groups/"+group.String()+"/members", contract.NewMember{Group: &inner})
		},
	} {
		t.Run(name, func(t *testing.T) {
			o := newOffice(t)
			group := o.group("Insurers", o.People["ines"].ID)
			kind := contract.SubjectKindGroup
			o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.reports}, contract.Recipient{Kind: &kind, Id: &group}))
			o.Appoint("tomasz", accounts.Administrator)
			o.tomasz = o.SignIn("tomasz")
			o.tomasz.Want(404, "GET", "/api/documents/"+o.plan.String(), nil)
			join(o, group)
			o.tomasz.Want(200, "GET", "/api/documents/"+o.plan.String(), nil)
			told := testkit.Get[[]contract.Notice](o.hanne, "/api/notices")
			if len(told) == 0 || told[0].Kind != "admitted" || told[0].By != "Tomasz Rehn" || !strings.HasPrefix(told[0].What, "MER-24") {
				t.Errorf("told: %+v", told)
			}
			events := testkit.Get[contract.Stream](o.hanne, "/api/activity?dossier=MER-24").Events
			if events[0].Kind != "access.by-group" || events[0].Actor != "Tomasz Rehn" || (*events[0].Data)["name"] != "Insurers" {
				t.Errorf("the event: %+v", events[0])
			}
		})
	}
}

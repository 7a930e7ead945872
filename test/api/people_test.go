package api_test

import (
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"tabularis/internal/app/accounts"

	"github.com/google/uuid"

	"tabularis/internal/app/practice"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func TestInvitationAndFirstSignIn(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	email := "surveys@dunlin.example"
	w := wish(contract.LevelView, []uuid.UUID{o.plan, o.draft}, to(o.People["tomasz"].ID), contract.Recipient{Email: &email})
	week := o.Now().Add(7 * 24 * time.Hour)
	w.Until, w.Message = &week, ptr("For Thursday.")
	o.give(o.hanne, w)
	waitFor(t, func() bool { return len(o.Mail.Messages(email)) == 1 && len(o.Mail.Messages("tomasz")) == 1 })
	if m := o.Mail.Messages(email)[0].Text; !strings.Contains(m, "For Thursday.") || !strings.Contains(m, "may view and download 2 files until") || strings.Contains(m, "assword:") {
		t.Errorf("the invitation says %s", m)
	}
	if m := o.Mail.Messages("tomasz")[0].Text; strings.Contains(m, "/enter/") || !strings.Contains(m, "/desk") {
		t.Errorf("a colleague's mail says %s", m)
	}
	if r := o.reach(o.hanne, o.plan); !r.Ways[len(r.Ways)-1].Grant.Invited {
		t.Errorf("the reach does not say that somebody is only invited")
	}
	token := o.entry(email)
	v := o.Visitor()
	e := testkit.Get[contract.Entry](v, "/api/entries/"+token)
	if e.NeedsPassword || e.Email != email || *e.By != "Hanne Solvik" {
		t.Errorf("the entry: %+v", e)
	}
	if a := v.Do("POST", "/api/entries/"+token, contract.UseEntry{Password: ptr("short")}); a.Code() != "password-short" {
		t.Errorf("a short password: %s", a.Body)
	}
	if a := v.Do("POST", "/api/entries/"+token, contract.UseEntry{Password: ptr(strings.Repeat("x", 501))}); a.Code() != "password-long" {
		t.Errorf("a long password: %s", a.Body)
	}
	in := testkit.Post[contract.SignedIn](v, 200, "/api/entries/"+token, contract.UseEntry{Name: ptr("Sunniva Aker")})
	if in.Session.Person.Name != "Sunniva Aker" || *in.GoesTo != "/desk" {
		t.Errorf("came in as %+v", in)
	}
	v.Want(200, "GET", fmt.Sprintf("/api/documents/%s/content", o.plan), nil)
	v.Want(404, "GET", fmt.Sprintf("/api/documents/%s", o.quote), nil)
	// The link is used up.
	if a := o.Visitor().Do("GET", "/api/entries/"+token, nil); a.Status != 410 {
		t.Errorf("again: %d", a.Status)
	}
	if a := o.Visitor().Do("POST", "/api/entries/"+token, contract.UseEntry{}); a.Status != 410 || a.Code() != "entry-over" {
		t.Errorf("used again: %d", a.Status)
	}
	o.Later(8 * 24 * time.Hour)
	o.guestEmail = email
	o.byCode().Want(404, "GET", fmt.Sprintf("/api/documents/%s", o.plan), nil)
}

func TestOneTimeLinksAreUsedOnceAtOnce(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	testkit.Post[contract.Person](o.hanne, 201, "/api/people", contract.Invitation{Email: o.guestEmail, Standing: "guest"})
	token := o.entry(o.guestEmail)
	var wg sync.WaitGroup
	var mu sync.Mutex
	got := map[int]int{}
	for range 8 {
		wg.Go(func() {
			s := o.Visitor().Do("POST", "/api/entries/"+token, contract.UseEntry{}).Status
			mu.Lock()
			got[s]++
			mu.Unlock()
		})
	}
	wg.Wait()
	if got[200] != 1 || got[410] != 7 {
		t.Errorf("eight at once: %v", got)
	}
}

func TestInvitationsLapseAndAreTakenBack(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	p := testkit.Post[contract.Person](o.hanne, 201, "/api/people", contract.Invitation{Email: o.guestEmail, Standing: "guest"})
	first := o.entry(o.guestEmail)
	path := "/api/people/" + p.Id.String() + "/invitation"
	o.hanne.Want(202, "POST", path, nil)
	if a := o.Visitor().Do("GET", "/api/entries/"+first, nil); a.Status != 410 {
		t.Errorf("the earlier link: %d", a.Status)
	}
	waitFor(t, func() bool { return len(o.Mail.Messages(o.guestEmail)) == 2 })
	second := o.entry(o.guestEmail)
	o.Visitor().Want(200, "GET", "/api/entries/"+second, nil)
	o.Later(7 * 24 * time.Hour)
	if a := o.Visitor().Do("GET", "/api/entries/"+second, nil); a.Status != 410 {
		t.Errorf("after seven days: %d", a.Status)
	}
	o.hanne = o.SignIn("hanne")
	o.hanne.Want(202, "POST", path, nil)
	o.hanne.Want(204, "DELETE", path, nil)
	waitFor(t, func() bool { return len(o.Mail.Messages(o.guestEmail)) == 3 })
	if a := o.Visitor().Do("GET", "/api/entries/"+o.entry(o.guestEmail), nil); a.Status != 410 {
		t.Errorf("taken back: %d", a.Status)
	}
	if a := o.hanne.Do("POST", path, nil); a.Code() != "invitation-over" {
		t.Errorf("once more: %s", a.Body)
	}
}

func TestWhoMayInviteWhom(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	o.Appoint("ines", accounts.Proprietor)
	o.Appoint("hanne", accounts.Administrator)
	ines := o.SignIn("ines")
	invite := func(c *testkit.Client, standing string) testkit.Answer {
		return c.Do("POST", "/api/people", contract.Invitation{Email: uuid.NewString() + "@brackwater.example", Standing: standing})
	}
	for _, c := range []struct {
		who      *testkit.Client
		standing string
		status   int
	}{
		{o.guest, "guest", 403}, {o.luca, "guest", 201}, {o.luca, "colleague", 403}, {o.hanne, "colleague", 201}, {o.hanne, "administrator", 403}, {ines, "administrator", 201},
		{ines, "proprietor", 400}, {ines, "king", 400}, {o.Visitor(), "guest", 401},
	} {
		if a := invite(c.who, c.standing); a.Status != c.status {
			t.Errorf("inviting as %s: %d, want %d: %s", c.standing, a.Status, c.status, a.Body)
		}
	}
	for _, email := range []string{"luca.ferrante@halyard-rook.example", "Luca.Ferrante@HALYARD-ROOK.example"} {
		if a := o.hanne.Do("POST", "/api/people", contract.Invitation{Email: email, Standing: "guest"}); a.Status != 409 || a.Code() != "address-taken" {
			t.Errorf("somebody who is here: %d %s", a.Status, a.Body)
		}
	}
	for _, bad := range []contract.Invitation{{Email: "dunlin", Standing: "guest"}, {Email: "a@b.example\nBcc: c@d.example", Standing: "guest"}, {Email: "a@b.example", Name: ptr(strings.Repeat("x", 300)), Standing: "guest"}} {
		if a := o.hanne.Do("POST", "/api/people", bad); a.Status != 400 {
			t.Errorf("%+v: %d", bad, a.Status)
		}
	}
	if a := o.guest.Do("POST", "/api/dossiers", contract.NewDossier{Code: "AUR-03", Name: "Aurelie", Kind: "client"}); a.Status != 403 {
		t.Errorf("a guest makes a dossier: %d", a.Status)
	}
}

func TestStandings(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	o.Appoint("ines", accounts.Proprietor)
	ines := o.SignIn("ines")
	set := func(c *testkit.Client, who uuid.UUID, standing string) testkit.Answer {
		return c.Do("PUT", "/api/people/"+who.String()+"/standing", contract.NewStanding{Standing: standing})
	}
	id := func(who string) uuid.UUID { return o.People[who].ID }
	for name, c := range map[string]struct {
		a      testkit.Answer
		status int
		code   string
	}{
		"a colleague appoints":      {set(o.luca, id("luca"), "administrator"), 403, "not-allowed"},
		"a guest becomes colleague": {set(ines, o.guestID, "colleague"), 409, "not-inside"},
		"an unknown standing":       {set(ines, id("luca"), "captain"), 400, "standing-unknown"},
		"herself":                   {set(ines, id("ines"), "colleague"), 409, "own-standing"},
		"nobody":                    {set(ines, uuid.New(), "colleague"), 404, "not-found"},
	} {
		if c.a.Status != c.status || c.a.Code() != c.code {
			t.Errorf("%s: %d %s", name, c.a.Status, c.a.Body)
		}
	}
	if a := set(ines, id("hanne"), "administrator"); a.Status != 204 {
		t.Fatalf("appointing: %s", a.Body)
	}
	if a := set(o.hanne, id("luca"), "administrator"); a.Status != 403 {
		t.Errorf("an administrator appoints: %d", a.Status)
	}
	if a := set(ines, id("hanne"), "proprietor"); a.Status != 204 {
		t.Fatalf("handing over: %s", a.Body)
	}
	var proprietors []string
	if err := o.App.DB.Select(&proprietors, `SELECT name FROM people WHERE standing = 'proprietor'`); err != nil || len(proprietors) != 1 || proprietors[0] != "Hanne Solvik" {
		t.Errorf("proprietors: %v %v", proprietors, err)
	}
	if a := ines.Do("POST", "/api/people/"+id("hanne").String()+"/end", contract.EndAccount{}); a.Code() != "proprietor-stays" {
		t.Errorf("ending the proprietor: %s", a.Body)
	}
}

func TestDeparture(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("ines", accounts.Proprietor)
	ines := o.SignIn("ines")
	end := "/api/people/" + o.People["hanne"].ID.String() + "/end"
	o.luca.Want(403, "POST", end, contract.EndAccount{})
	if a := ines.Do("POST", end, contract.EndAccount{}); a.Code() != "needs-successor" || !strings.Contains(string(a.Body), "MER-24") {
		t.Errorf("without a successor: %d %s", a.Status, a.Body)
	}
	if a := ines.Do("POST", end, contract.EndAccount{Successor: ptr(o.People["hanne"].ID)}); a.Status != 400 {
		t.Errorf("herself: %d", a.Status)
	}
	ines.Want(204, "POST", end, contract.EndAccount{Successor: ptr(o.People["tomasz"].ID)})
	o.hanne.Want(204, "GET", "/api/session", nil)
	o.Visitor().Want(401, "POST", "/api/session", contract.SignIn{Email: o.People["hanne"].Email, Password: testkit.Password})
	if d := testkit.Get[contract.Dossier](o.tomasz, "/api/dossiers/MER-24"); len(d.May) != 11 {
		t.Errorf("the successor may %v", d.May)
	}
	if r := o.reach(o.tomasz, o.top); r.Inside != 3 {
		t.Errorf("%d can open it, want Tomasz, Luca and Priya", r.Inside)
	}
	ines.Want(204, "POST", "/api/people/"+o.People["hanne"].ID.String()+"/return", nil)
	o.SignIn("hanne").Want(200, "GET", "/api/dossiers/MER-24", nil)
}

func TestGroups(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	make := func(name string) uuid.UUID {
		return testkit.Post[contract.GroupMade](o.hanne, 201, "/api/groups", contract.NewName{Name: name}).Id
	}
	survey, all := make("Survey team"), make("Everybody afloat")
	member := func(group uuid.UUID, m contract.NewMember) testkit.Answer {
		return o.hanne.Do("POST", "/api/groups/"+group.String()+"/members", m)
	}
	if a := member(survey, contract.NewMember{Person: ptr(o.People["tomasz"].ID)}); a.Status != 204 {
		t.Fatal(string(a.Body))
	}
	if a := member(all, contract.NewMember{Group: &survey}); a.Status != 204 {
		t.Fatal(string(a.Body))
	}
	for name, c := range map[string]struct {
		a    testkit.Answer
		code string
	}{
		"a ring":            {member(survey, contract.NewMember{Group: &all}), "group-loop"},
		"itself":            {member(all, contract.NewMember{Group: &all}), "group-loop"},
		"nobody":            {member(all, contract.NewMember{}), "member-unknown"},
		"both":              {member(all, contract.NewMember{Group: &survey, Person: ptr(o.People["luca"].ID)}), "member-unknown"},
		"an unknown person": {member(all, contract.NewMember{Person: ptr(uuid.New())}), "not-found"},
		"a name twice":      {o.hanne.Do("POST", "/api/groups", contract.NewName{Name: "survey TEAM"}), "name-taken"},
		"no name":           {o.hanne.Do("POST", "/api/groups", contract.NewName{Name: "  "}), "name-length"},
	} {
		if c.a.Code() != c.code {
			t.Errorf("%s: %d %s", name, c.a.Status, c.a.Body)
		}
	}
	// Two acts at once cannot close a ring together.
	x, y := make("X"), make("Y")
	var wg sync.WaitGroup
	statuses := [2]int{}
	wg.Go(func() { statuses[0] = member(x, contract.NewMember{Group: &y}).Status })
	wg.Go(func() { statuses[1] = member(y, contract.NewMember{Group: &x}).Status })
	wg.Wait()
	if statuses[0]+statuses[1] != 204+400 {
		t.Errorf("a ring at once: %v", statuses)
	}
	kind := contract.SubjectKindGroup
	o.give(o.hanne, contract.AccessWish{Items: []uuid.UUID{o.reports}, To: []contract.Recipient{{Kind: &kind, Id: &all}}, Level: contract.LevelView})
	wantNames(t, "through two groups", o.sees(o.tomasz, o.reports), "draft.txt", "plan.txt")
	o.hanne.Want(204, "DELETE", fmt.Sprintf("/api/groups/%s/members/%s", survey, o.People["tomasz"].ID), nil)
	wantNames(t, "taken out", o.sees(o.tomasz, o.reports))
	if a := member(survey, contract.NewMember{Person: ptr(o.People["tomasz"].ID)}); a.Status != 204 {
		t.Fatal(string(a.Body))
	}
	o.hanne.Want(204, "DELETE", "/api/groups/"+all.String(), nil)
	wantNames(t, "the group removed", o.sees(o.tomasz, o.reports))
	// A group that alone manages a dossier is not removed.
	o.give(o.hanne, contract.AccessWish{Items: []uuid.UUID{o.top}, To: []contract.Recipient{{Kind: &kind, Id: &survey}}, Level: contract.LevelManage})
	o.hanne.Want(204, "DELETE", "/api/access/"+o.way(o.top, "Hanne Solvik").Grant.Id.String(), nil)
	if a := o.hanne.Do("DELETE", "/api/groups/"+survey.String(), nil); a.Code() != "last-manager" {
		t.Errorf("removing the managing group: %d %s", a.Status, a.Body)
	}
	if a := o.hanne.Do("DELETE", fmt.Sprintf("/api/groups/%s/members/%s", survey, o.People["tomasz"].ID), nil); a.Code() != "last-manager" {
		t.Errorf("taking the only manager out: %d %s", a.Status, a.Body)
	}
	o.luca.Want(403, "POST", "/api/groups", contract.NewName{Name: "Mine"})
}

// What a change of groups would mean is what it then means, in every dossier,
// and is said to those who may change groups only.
func TestWhatIfGroupsChanged(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	survey, all := o.group("Survey team", o.People["tomasz"].ID), o.group("Everybody afloat")
	o.hanne.Want(204, "POST", "/api/groups/"+all.String()+"/members", contract.NewMember{Group: &survey})
	kind := contract.SubjectKindGroup
	o.give(o.hanne, contract.AccessWish{Items: []uuid.UUID{o.reports}, To: []contract.Recipient{{Kind: &kind, Id: &all}}, Level: contract.LevelView})
	meant := func(what contract.WhatIf, name string, gains, loses int) {
		t.Helper()
		effects := testkit.Post[contract.Consequence](o.hanne, 200, "/api/access/what-if", what).Effects
		if gains+loses == 0 && len(effects) == 0 {
			return
		}
		if len(effects) != 1 || effects[0].Name != name || effects[0].Gains != gains || effects[0].Loses != loses {
			t.Errorf("%+v means %+v, want %s to gain %d and lose %d", what, effects, name, gains, loses)
		}
	}
	member := func(person string, of uuid.UUID) *contract.Membership {
		return &contract.Membership{Group: of, Member: o.People[person].ID}
	}
	meant(contract.WhatIf{Join: member("ines", survey)}, "Ines Okafor", 3, 0)
	o.hanne.Want(204, "POST", "/api/groups/"+survey.String()+"/members", contract.NewMember{Person: ptr(o.People["ines"].ID)})
	wantNames(t, "through two groups", o.sees(o.SignIn("ines"), o.reports), "draft.txt", "plan.txt")
	meant(contract.WhatIf{Join: member("ines", all)}, "", 0, 0)
	meant(contract.WhatIf{Leave: member("ines", survey)}, "Ines Okafor", 0, 3)
	meant(contract.WhatIf{Leave: member("tomasz", survey)}, "Tomasz Rehn", 0, 3)
	if c := testkit.Post[contract.Consequence](o.hanne, 200, "/api/access/what-if", contract.WhatIf{RemoveGroup: &all}); len(c.Effects) != 2 || c.Documents != 3 {
		t.Errorf("removing the outer group: %+v", c)
	}
	if c := testkit.Post[contract.Consequence](o.hanne, 200, "/api/access/what-if", contract.WhatIf{Leave: &contract.Membership{Group: all, Member: survey}}); len(c.Effects) != 2 {
		t.Errorf("taking the inner group out: %+v", c)
	}
	o.hanne.Want(204, "POST", "/api/people/"+o.People["priya"].ID.String()+"/end", contract.EndAccount{})
	ring := contract.WhatIf{Join: &contract.Membership{Group: survey, Member: all}}
	for name, c := range map[string]struct {
		what contract.WhatIf
		code string
	}{
		"a ring":           {ring, "group-loop"},
		"no such group":    {contract.WhatIf{RemoveGroup: ptr(uuid.New())}, "not-found"},
		"nobody joins":     {contract.WhatIf{Join: &contract.Membership{Group: all, Member: uuid.New()}}, "not-found"},
		"not in it":        {contract.WhatIf{Leave: member("luca", all)}, "not-found"},
		"an ended account": {contract.WhatIf{Join: member("priya", all)}, "deactivated"},
	} {
		if a := o.hanne.Do("POST", "/api/access/what-if", c.what); a.Code() != c.code {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	o.luca.Want(403, "POST", "/api/access/what-if", contract.WhatIf{RemoveGroup: &all})
}

func TestInvitationLinks(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	until := o.Now().Add(10 * 24 * time.Hour)
	good := contract.NewInvitationLink{Standing: "guest", Dossier: ptr("MER-24"), Level: ptr("view"), Domain: ptr("@Brackwater.example"), Uses: 1, Until: until}
	for name, c := range map[string]struct {
		change func(l *contract.NewInvitationLink)
		code   string
	}{
		"no uses":        {func(l *contract.NewInvitationLink) { l.Uses = 0 }, "uses-range"},
		"in the past":    {func(l *contract.NewInvitationLink) { l.Until = o.Now().Add(-time.Hour) }, "until-past"},
		"too long":       {func(l *contract.NewInvitationLink) { l.Until = o.Now().AddDate(1, 0, 0) }, "until-too-late"},
		"a proprietor":   {func(l *contract.NewInvitationLink) { l.Standing = "proprietor" }, "standing-unknown"},
		"no domain":      {func(l *contract.NewInvitationLink) { l.Domain = ptr("not a domain") }, "domain-form"},
		"managing":       {func(l *contract.NewInvitationLink) { l.Level = ptr("manage") }, "level-unknown"},
		"other dossiers": {func(l *contract.NewInvitationLink) { l.Dossier = ptr("AUR-03") }, "not-found"},
	} {
		bad := good
		c.change(&bad)
		if a := o.hanne.Do("POST", "/api/invitation-links", bad); a.Code() != c.code {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	o.luca.Want(403, "POST", "/api/invitation-links", good)
	o.hanne.Want(201, "POST", "/api/invitation-links", good)
	link := testkit.Get[contract.Directory](o.hanne, "/api/people").Links[0]
	token := link.Address[strings.LastIndex(link.Address, "/")+1:]
	v := o.Visitor()
	if f := testkit.Get[contract.Joining](v, "/api/joining/"+token); f.Domain != "brackwater.example" {
		t.Errorf("the front: %+v", f)
	}
	join := func(email string) testkit.Answer {
		o.Later(time.Minute)
		return v.Do("POST", "/api/joining/"+token, contract.Join{Name: "Odile Charron", Email: email})
	}
	if a := join("odile@elsewhere.example"); a.Code() != "domain-other" {
		t.Errorf("another domain: %s", a.Body)
	}
	if a := join("odile.charron@brackwater.example"); a.Status != 202 {
		t.Fatalf("joining: %s", a.Body)
	}
	in := o.Visitor()
	testkit.Post[contract.SignedIn](in, 200, "/api/entries/"+o.entry("odile.charron@brackwater.example"), contract.UseEntry{Password: ptr("a-long-password")})
	in.Want(200, "GET", "/api/dossiers/MER-24", nil)
	in.Want(403, "POST", fmt.Sprintf("/api/folders/%s/folders", o.top), contract.NewName{Name: "x"})
	if a := join("bram.teague@brackwater.example"); a.Status != 410 {
		t.Errorf("used up: %d %s", a.Status, a.Body)
	}
	o.hanne.Want(201, "POST", "/api/invitation-links", good)
	second := testkit.Get[contract.Directory](o.hanne, "/api/people").Links[0]
	o.hanne.Want(204, "POST", "/api/invitation-links/"+second.Id.String()+"/end", nil)
	v.Want(410, "GET", "/api/joining/"+second.Address[strings.LastIndex(second.Address, "/")+1:], nil)
	v.Want(410, "GET", "/api/joining/nothing", nil)
}

func TestGuestsKnowOnlyTheirCompany(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	if d := testkit.Get[contract.Directory](o.guest, "/api/people"); len(d.Accounts) != 1 || len(d.Groups) != 0 {
		t.Errorf("a guest with nothing knows %+v", d)
	}
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.plan}, to(o.guestID)))
	var names []string
	for _, a := range testkit.Get[contract.Directory](o.guest, "/api/people").Accounts {
		names = append(names, a.Person.Name)
	}
	wantNames(t, "a guest in the dossier knows", names, "Hanne Solvik", "Luca Ferrante", "Priya Valdane", "Sunniva Aker")
	// Guests are not everyone.
	kind := contract.SubjectKindEveryone
	o.give(o.hanne, contract.AccessWish{Items: []uuid.UUID{o.reports}, To: []contract.Recipient{{Kind: &kind}}, Level: contract.LevelView})
	wantNames(t, "everyone", o.sees(o.tomasz, o.reports), "draft.txt", "plan.txt")
	wantNames(t, "the guest still", o.sees(o.guest, o.reports), "plan.txt")
}

// The practice goes only by its proprietor's hand, with its name and their
// password, and not before a week has passed.
func TestRemovingThePractice(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	w.Appoint("hanne", accounts.Administrator)
	w.Appoint("priya", accounts.Proprietor)
	w.hanne, w.priya = w.SignIn("hanne"), w.SignIn("priya")
	w.paper("plan.txt", "plan")
	right := contract.Removal{Name: "halyard & rook", Password: testkit.Password}
	w.hanne.Want(403, "POST", "/api/practice/removal", right)
	if a := w.priya.Do("POST", "/api/practice/removal", contract.Removal{Name: "Halyard", Password: testkit.Password}); a.Status != 400 || a.Code() != "name-differs" {
		t.Errorf("another name: %d %s", a.Status, a.Body)
	}
	if a := w.priya.Do("POST", "/api/practice/removal", contract.Removal{Name: right.Name, Password: "something else"}); a.Status != 400 || a.Code() != "wrong-password" {
		t.Errorf("another password: %d %s", a.Status, a.Body)
	}
	w.priya.Want(204, "POST", "/api/practice/removal", right)
	if at := testkit.Get[contract.Session](w.luca, "/api/session").Practice.RemovalAt; at == nil || w.Now().Add(practice.Reflection).Sub(*at) > time.Minute {
		t.Errorf("colleagues are told %v", at)
	}
	due := func() {
		if err := w.App.Web.Practice.RemoveWhenDue(t.Context()); err != nil {
			t.Fatal(err)
		}
	}
	w.Later(practice.Reflection - time.Minute)
	due()
	w.hanne, w.priya = w.SignIn("hanne"), w.SignIn("priya")
	w.hanne.Want(403, "DELETE", "/api/practice/removal", nil)
	w.priya.Want(204, "DELETE", "/api/practice/removal", nil)
	w.Later(time.Hour)
	due()
	w.priya.Want(204, "POST", "/api/practice/removal", right)
	w.Later(practice.Reflection)
	due()
	w.priya.Want(401, "GET", "/api/today", nil)
	for _, table := range []string{"people", "items", "blobs", "events", "links", "grants"} {
		var n int
		if err := w.App.DB.Get(&n, `SELECT count(*) FROM `+table); err != nil || n != 0 {
			t.Errorf("%s holds %d, %v", table, n, err)
		}
	}
	if removed, err := w.App.Care.Clean(t.Context()); err != nil {
		t.Errorf("%d, %v", removed, err)
	}
	report, err := w.App.Care.Verify(t.Context())
	if err != nil || !report.Sound() || report.Blobs != 0 {
		t.Errorf("%+v, %v", report, err)
	}
}

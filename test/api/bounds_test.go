package api_test

import (
	"strings"
	"testing"
	"time"

	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// onward lets somebody have a level on a document, and give that on, for a while.
func (o *office) onward(who string, level contract.Level, length time.Duration) time.Time {
	o.T.Helper()
	until := o.Now().Add(length).UTC().Truncate(time.Microsecond)
	w := wish(level, []uuid.UUID{o.plan}, to(o.People[who].ID))
	w.Until, w.Onward = &until, ptr(true)
	o.give(o.hanne, w)
	return until
}

// grants reads what is given on an item.
func (o *office) grants(item uuid.UUID) (all []guard.Grant) {
	o.T.Helper()
	if err := o.App.DB.Select(&all, `SELECT * FROM grants WHERE item_id = $1`, item); err != nil {
		o.T.Fatal(err)
	}
	return all
}

// Nobody gives longer than they have it: what is given for ever by somebody who has
// it for eight seconds ends with that, and the sentence says so before.
func TestNobodyGivesLongerThanTheyHave(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	group := o.group("Insurers", o.People["tomasz"].ID)
	priya := o.SignIn("priya")
	until := o.onward("priya", contract.LevelView, 8*time.Second)
	endless := wish(contract.LevelView, []uuid.UUID{o.plan}, to(o.People["ines"].ID), contract.Recipient{Kind: ptr(contract.SubjectKindGroup), Id: &group}, contract.Recipient{Email: ptr("marit.juhl@pelham.example")})
	d := testkit.Post[contract.AccessDraft](priya, 200, "/api/access/draft", endless)
	if s := sentenceOf(d.Sentence); !strings.Contains(s, "until") {
		t.Errorf("the sentence says %q", s)
	}
	o.give(priya, endless)
	far := o.Now().Add(1000 * time.Hour)
	late := wish(contract.LevelView, []uuid.UUID{o.plan}, to(o.People["luca"].ID))
	late.Until, late.Onward = &far, ptr(true)
	o.give(priya, late)
	ends := func(when string) {
		t.Helper()
		n := 0
		for _, g := range o.grants(o.plan) {
			if g.CreatedBy != nil && *g.CreatedBy == o.People["priya"].ID {
				if n++; g.EndsAt == nil || g.EndsAt.After(until) {
					t.Errorf("%s: given until %v, held until %v", when, g.EndsAt, until)
				}
			}
		}
		if n != 4 {
			t.Errorf("%s: %d grants", when, n)
		}
	}
	ends("giving")
	// Changing what one gave makes it no longer either.
	for _, g := range o.grants(o.plan) {
		if g.CreatedBy != nil && *g.CreatedBy == o.People["priya"].ID {
			priya.Want(204, "PUT", "/api/access/"+g.ID.String(), contract.AccessChange{Version: g.Version, Level: "view", Until: &far})
		}
	}
	ends("changing")
	// Nor does a link, made or changed.
	l := testkit.Post[contract.Link](priya, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{o.plan}})
	if l.Until == nil || l.Until.After(until) {
		t.Errorf("the link is open until %v", l.Until)
	}
	month := contract.LinkChange{Name: "x", Until: o.Now().Add(30 * 24 * time.Hour)}
	if l := read[contract.Link](t, priya.Want(200, "PUT", "/api/links/"+l.Id.String()+"/terms", month)); l.Until.After(until) {
		t.Errorf("changed, it is open until %v", l.Until)
	}
	o.Later(9 * time.Second)
	o.SignIn("tomasz").Want(404, "GET", "/api/documents/"+o.plan.String(), nil)
}

// Nobody lets others do more by a link than they may themselves: who only looks
// gives out what can be looked at, and only that.
func TestLinksLetDoNoMoreThanTheirMakerMay(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	o.onward("tomasz", contract.LevelLook, 100*time.Hour)
	tomasz := o.SignIn("tomasz")
	no := false
	terms := contract.LinkTerms{Items: []uuid.UUID{o.plan}, ViewOnly: &no}
	if d := testkit.Post[contract.LinkDraft](tomasz, 200, "/api/links/draft", terms); !strings.Contains(sentenceOf(d.Sentence), "only view") {
		t.Errorf("the sentence says %q", sentenceOf(d.Sentence))
	}
	l := testkit.Post[contract.Link](tomasz, 201, "/api/links", terms)
	token := (*l.Address)[strings.LastIndex(*l.Address, "/")+1:]
	check := func(when string) {
		t.Helper()
		v := o.enter(token, contract.OpenLink{})
		for _, path := range []string{"/documents/" + o.plan.String() + "/content", "/documents/" + o.plan.String() + "/content?download", "/documents/" + o.plan.String() + "/preview", "/archive"} {
			if a := v.Do("GET", "/api/visits/"+token+path, nil); a.Status == 200 {
				t.Errorf("%s: %s answers %q", when, path, a.Body)
			}
		}
		decoded(t, o.pages(v, token, o.plan, 1, 1100))
	}
	check("made")
	tomasz.Want(200, "PUT", "/api/links/"+l.Id.String()+"/terms", contract.LinkChange{Name: "x", Until: o.Now().Add(time.Hour), ViewOnly: &no})
	check("changed")
	// Working in a folder, or putting papers into it, takes as much oneself.
	w := wish(contract.LevelView, []uuid.UUID{o.yard}, to(o.People["tomasz"].ID))
	w.Onward = ptr(true)
	o.give(o.hanne, w)
	for _, kind := range []contract.LinkKind{contract.LinkKindWorking, contract.LinkKindIntake} {
		if a := tomasz.Do("POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{o.yard}, Kind: &kind}); a.Status != 403 {
			t.Errorf("%s: %d %s", kind, a.Status, a.Body)
		}
	}
}

// What an invitation link gives is bounded by what its maker has when somebody
// joins by it.
func TestInvitationLinksGiveWhatTheirMakerHas(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	o.Appoint("tomasz", accounts.Administrator)
	until := o.Now().Add(time.Hour).UTC().Truncate(time.Microsecond)
	w := wish(contract.LevelManage, []uuid.UUID{o.top}, to(o.People["tomasz"].ID))
	w.Until = &until
	o.give(o.hanne, w)
	tomasz := o.SignIn("tomasz")
	tomasz.Want(201, "POST", "/api/invitation-links", contract.NewInvitationLink{Standing: "guest", Uses: 5, Until: o.Now().Add(100 * time.Hour), Dossier: ptr("MER-24"), Level: ptr("view")})
	address := testkit.Get[contract.Directory](tomasz, "/api/people").Links[0].Address
	token := address[strings.LastIndex(address, "/")+1:]
	o.Visitor().Want(202, "POST", "/api/joining/"+token, contract.Join{Name: "Marit Juhl", Email: "marit.juhl@pelham.example"})
	n := 0
	for _, g := range o.grants(o.top) {
		if g.CreatedBy != nil && *g.CreatedBy == o.People["tomasz"].ID && g.Level == string(access.LevelView) {
			if n++; g.EndsAt == nil || g.EndsAt.After(until) {
				t.Errorf("given until %v", g.EndsAt)
			}
		}
	}
	if n != 1 {
		t.Errorf("%d grants", n)
	}
	o.Later(2 * time.Hour)
	if a := o.Visitor().Do("POST", "/api/joining/"+token, contract.Join{Name: "Bram Teague", Email: "bram.teague@brackwater.example"}); a.Code() != "link-over" {
		t.Errorf("after their access ended: %d %s", a.Status, a.Body)
	}
}

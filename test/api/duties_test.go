package api_test

import (
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// What is needed for a time only is gone after it, each by its own period; what is
// still needed stays.
func TestWhatHasHadItsTimeIsForgotten(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	count := func(table, where string) (n int) {
		t.Helper()
		if err := w.App.DB.Get(&n, "SELECT count(*) FROM "+table+" WHERE "+where); err != nil {
			t.Fatal(err)
		}
		return n
	}
	duties := func() {
		t.Helper()
		for _, name := range w.App.Jobs.Names() {
			if err := w.App.Jobs.Do(t.Context(), name); err != nil {
				t.Errorf("%s: %v", name, err)
			}
		}
	}
	doc := w.paper("plan.txt", "plan")
	confirmed, kind := contract.IdentityConfirmed, contract.LinkKindIntake
	_, looked := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}})
	_, coded := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}, Identify: &confirmed})
	_, takes := w.link(contract.LinkTerms{Items: []uuid.UUID{w.top}, Kind: &kind})
	w.enter(looked, contract.OpenLink{}).Want(200, "GET", "/api/visits/"+looked+"/contents", nil)
	if a := put(w.enter(takes, contract.OpenLink{}), takes, "survey.txt", []byte("survey")); a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	w.Visitor().Want(202, "POST", "/api/visits/"+coded+"/code", contract.Address{Email: "b.quist@calder.example"})
	w.Visitor().Want(202, "POST", "/api/entries", contract.Address{Email: w.People["priya"].Email})
	w.Visitor().Do("POST", "/api/session", contract.SignIn{Email: w.People["ines"].Email, Password: "not this one"})
	until := time.Now().Add(time.Hour)
	w.hanne.Want(204, "POST", "/api/access", contract.AccessWish{Items: []uuid.UUID{doc}, To: []contract.Recipient{{Id: ptr(w.People["tomasz"].ID)}}, Level: contract.Level(access.LevelView), Until: &until})

	all := map[string]func() int{
		"sessions":       func() int { return count("sessions", "true") },
		"tries":          func() int { return count("tries", "true") },
		"codes":          func() int { return count("link_codes", "true") },
		"one-time links": func() int { return count("entries", "kind <> 'invitation'") },
		"ended grants":   func() int { return count("grants", "ends_at IS NOT NULL") },
		"visits, no papers": func() int {
			return count("visits v", "NOT EXISTS (SELECT 1 FROM link_received r WHERE r.visit_id = v.id)")
		},
	}
	duties()
	for what, n := range all {
		if n() == 0 {
			t.Errorf("%s are gone at once", what)
		}
	}
	gone := func(after time.Duration, names ...string) {
		t.Helper()
		w.Later(after)
		duties()
		for what, n := range all {
			if got := n(); (got == 0) != slices.Contains(names, what) {
				t.Errorf("%d %s after a while", got, what)
			}
		}
	}
	gone(26*time.Hour, "tries", "codes", "sessions")
	gone(40*24*time.Hour, "tries", "codes", "sessions", "one-time links")
	gone(60*24*time.Hour, "tries", "codes", "sessions", "one-time links", "ended grants")
	gone(2*366*24*time.Hour, "tries", "codes", "sessions", "one-time links", "ended grants", "visits, no papers")
	if n := count("visits", "true"); n != 1 {
		t.Errorf("%d visits are left, want the one by which something came in", n)
	}
	testkit.Get[contract.Practice](w.Visitor(), "/api/practice")
}

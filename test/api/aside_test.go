package api_test

import (
	"testing"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		return []endpoint{{"PUT", "/dossiers/{code}/aside", "/dossiers/MER-24/aside", contract.SetDossierAsideJSONBody{}, item(access.Manage)}}
	})
}

// A dossier that is set aside is said to be so, once, and everything in it stays and is found.
func TestADossierIsSetAside(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.written()
	put := func(c *testkit.Client, want int, aside bool) {
		t.Helper()
		c.Want(want, "PUT", "/api/dossiers/MER-24/aside", contract.SetDossierAsideJSONBody{Aside: aside})
	}
	is := func(c *testkit.Client) bool {
		t.Helper()
		for _, d := range testkit.Get[[]contract.DossierRow](c, "/api/dossiers") {
			if d.Code == "MER-24" {
				return present(d.Aside) && present(testkit.Get[contract.Dossier](c, "/api/dossiers/MER-24").Aside)
			}
		}
		t.Fatal("the dossier is gone")
		return false
	}
	put(o.luca, 403, true)
	put(o.SignIn("tomasz"), 404, true)
	put(o.hanne, 204, true)
	put(o.hanne, 204, true)
	if !is(o.luca) || !is(o.hanne) {
		t.Error("it is not set aside")
	}
	o.answers(o.luca, "plan.txt", "plan")
	o.luca.Upload(o.reports, "", "later.txt", []byte("later"))
	put(o.hanne, 204, false)
	if is(o.luca) {
		t.Error("it is still set aside")
	}
	var n int
	if err := o.App.DB.GetContext(t.Context(), &n, `SELECT count(*) FROM events WHERE kind IN ('dossier.set-aside', 'dossier.taken-up')`); err != nil || n != 2 {
		t.Errorf("%d events, %v", n, err)
	}
	desk := testkit.Post[contract.DossierRow](o.luca, 200, "/api/desk", nil)
	o.luca.Want(403, "PUT", "/api/dossiers/"+desk.Code+"/aside", contract.SetDossierAsideJSONBody{Aside: true})
}

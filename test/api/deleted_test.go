package api_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/google/uuid"

	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// What is deleted is absent from every answer in the same way, for those who manage it
// as for those it was given to; only what has happened still says its name.
func TestWhatIsDeletedIsAbsentEverywhere(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.plan}, to(o.People["tomasz"].ID)))
	// Folders hold papers, are given, given out and led into by an intake.
	folder := testkit.Post[contract.Folder](o.hanne, 201, fmt.Sprintf("/api/folders/%s/folders", o.reports), contract.NewName{Name: "zzfolder"}).Id
	inside := o.hanne.Upload(folder, "zzsub", "zzinside.txt", []byte("zzcontent 31")).Document
	alone := o.hanne.Upload(o.reports, "", "zzalone.txt", []byte("zzcontent 32")).Document
	clientID, client := o.account("client", accounts.Guest)
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{folder, alone.Id, o.plan}, to(clientID)))
	intake := contract.LinkKindIntake
	kept, token := o.link(contract.LinkTerms{Items: []uuid.UUID{o.plan, alone.Id}, Name: ptr("kept")})
	dead, deadToken := o.link(contract.LinkTerms{Items: []uuid.UUID{folder}, Name: ptr("dead")})
	into, intoToken := o.link(contract.LinkTerms{Items: []uuid.UUID{folder}, Name: ptr("into"), Kind: &intake})
	sub := inside.FolderId
	if _, err := o.App.DB.Exec(`UPDATE all_items SET deleted_at = now() WHERE id IN ($1, $2, $3, $4)`, folder, sub, inside.Id, alone.Id); err != nil {
		t.Fatal(err)
	}

	all := o.endpoints(kept.Id, token)
	for _, id := range []uuid.UUID{folder, sub, inside.Id, alone.Id} {
		for _, path := range []string{"/documents/%s", "/documents/%s/preview", "/documents/%s/content", "/folders/%s/register", "/items/%s/reach", "/archive?item=%s", "/items/%s/why/" + clientID.String()} {
			all = append(all, endpoint{http.MethodGet, path, fmt.Sprintf(path, id), nil, rule{}})
		}
	}
	for _, l := range []contract.Link{dead, into} {
		all = append(all, endpoint{http.MethodGet, "/links/{id}", "/links/" + l.Id.String(), nil, rule{}})
	}
	for _, tok := range []string{deadToken, intoToken} {
		all = append(all, endpoint{http.MethodGet, "/visits/{token}", "/visits/" + tok, nil, rule{open: true}}, endpoint{http.MethodPost, "/visits/{token}", "/visits/" + tok, contract.OpenLink{}, rule{open: true}},
			endpoint{http.MethodGet, "/visits/{token}/contents", "/visits/" + tok + "/contents", nil, rule{open: true}})
	}
	number := "/register-numbers/" + strings.Replace(alone.Ref, "/0", "/", 1)
	all = append(all, endpoint{http.MethodGet, "/find", "/find?q=zz", nil, rule{}}, endpoint{http.MethodGet, "/register-numbers/{code}/{number}", number, nil, rule{}},
		endpoint{http.MethodGet, "/folders/{id}/register", "/folders/" + o.reports.String() + "/register", nil, rule{}}, endpoint{http.MethodGet, "/items/{id}/reach", "/items/" + o.reports.String() + "/reach", nil, rule{}})
	visitor := o.Visitor()
	visitor.Do(http.MethodPost, "/api/visits/"+token, contract.OpenLink{})
	for _, e := range all {
		if e.method == http.MethodDelete || e.path == "/activity" || e.path == "/notices" || e.path == "/links/{id}/record.csv" {
			continue
		}
		url := e.url
		if url == "" {
			url = e.path
		}
		asking := map[string]*testkit.Client{"manager": o.hanne, "client": client}
		if e.rule.open {
			asking = map[string]*testkit.Client{"visitor": visitor}
		}
		for name, who := range asking {
			got := who.Do(e.method, "/api"+url, e.body)
			for _, marker := range []string{"zzfolder", "zzsub", "zzinside", "zzalone", "zzcontent"} {
				if strings.Contains(strings.ToLower(withoutNews(t, got.Body)), marker) {
					t.Errorf("%s %s by %s: %d says %s: %.300s", e.method, url, name, got.Status, marker, got.Body)
				}
			}
		}
	}
	// Links with nothing left let nobody in, as if they had never been, and are still
	// there for whoever could see what they gave, and for nobody else.
	never := o.Visitor().Do(http.MethodGet, "/api/visits/none", nil)
	for _, tok := range []string{deadToken, intoToken} {
		if a := o.Visitor().Do(http.MethodPost, "/api/visits/"+tok, contract.OpenLink{}); a.Status != never.Status || string(a.Body) != string(never.Body) {
			t.Errorf("a link to what is deleted: %d %s, want %d %s", a.Status, a.Body, never.Status, never.Body)
		}
	}
	tomasz := o.SignIn("tomasz")
	for _, l := range []contract.Link{dead, into} {
		tomasz.Want(404, http.MethodGet, "/api/links/"+l.Id.String(), nil)
		tomasz.Want(404, http.MethodPost, "/api/links/"+l.Id.String()+"/end", nil)
		if got := testkit.Get[contract.LinkRecord](o.hanne, "/api/links/"+l.Id.String()).Link; got.State != "ended" || got.Address != nil {
			t.Errorf("the link reads as %s, its address %v", got.State, got.Address)
		}
		o.hanne.Want(204, http.MethodPost, "/api/links/"+l.Id.String()+"/end", nil)
	}
}

// withoutNews is an answer without what it says of events: those stay as they were.
func withoutNews(t *testing.T, body []byte) string {
	var any map[string]json.RawMessage
	if json.Unmarshal(body, &any) != nil {
		return string(body)
	}
	delete(any, "news")
	delete(any, "lastEvent")
	delete(any, "events")
	left, err := json.Marshal(any)
	if err != nil {
		t.Fatal(err)
	}
	return string(left)
}

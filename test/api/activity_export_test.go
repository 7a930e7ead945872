package api_test

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"strings"
	"testing"

	"tabularis/internal/doors/web/contract"
)

// The activity as a file holds what the page shows, under the same filter, and nothing that
// one may not know of; a name is no formula.
func TestActivityIsExported(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.hanne.Upload(o.reports, "", "=cmd|'calc'!A0.txt", []byte("x"))
	rows, err := csv.NewReader(bytes.NewReader(o.hanne.Want(200, "GET", "/api/activity.csv?dossier=MER-24", nil).Body)).ReadAll()
	if err != nil || len(rows) < 8 || rows[1][2] != "document.added" || rows[1][7] != "'=cmd|'calc'!A0.txt" {
		t.Errorf("%v, %v", rows, err)
	}
	lines := strings.Split(strings.TrimSpace(string(o.hanne.Want(200, "GET", "/api/activity.jsonl?dossier=MER-24", nil).Body)), "\n")
	if len(lines) != len(rows)-1 {
		t.Errorf("%d lines, %d rows", len(lines), len(rows)-1)
	}
	for _, l := range lines {
		var e contract.Event
		if err := json.Unmarshal([]byte(l), &e); err != nil || e.DossierCode != "MER-24" {
			t.Errorf("%s, %v", l, err)
		}
	}
	one := o.hanne.Want(200, "GET", "/api/activity.jsonl?kind=folder.made&person="+o.People["luca"].ID.String(), nil).Body
	if n := strings.Count(string(one), "\n"); n != 3 || strings.Contains(string(one), "document.added") {
		t.Errorf("%d: %s", n, one)
	}
	o.tomasz.Want(404, "GET", "/api/activity.csv?dossier=MER-24", nil)
	if all := string(o.tomasz.Want(200, "GET", "/api/activity.csv", nil).Body); strings.Contains(all, "MER-24") || strings.Count(all, "\n") != 1 {
		t.Errorf("%s", all)
	}
	for query, code := range map[string]string{"kind=nothing": "kind-unknown", "person=x": "parameter", "since=x": "parameter"} {
		if a := o.hanne.Do("GET", "/api/activity.csv?"+query, nil); a.Code() != code {
			t.Errorf("%s: %d %s", query, a.Status, a.Body)
		}
	}
	o.Visitor().Want(401, "GET", "/api/activity.csv", nil)
}

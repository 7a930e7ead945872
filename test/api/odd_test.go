package api_test

import (
	"encoding/base64"
	"fmt"
	"strings"
	"testing"

	"tabularis/internal/app/accounts"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// Whatever odd values come, in whatever place, are refused with a reason: nothing
// fails on our side, and the log repeats nothing of what was sent.
func TestOddValuesAreRefused(t *testing.T) {
	t.Parallel()
	var log lockedBuffer
	testkit.LogTo(t, &log)
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	l, token := o.link(contract.LinkTerms{Items: []uuid.UUID{o.plan}})
	odd := []string{`"oddvalue\u0000"`, `"oddvalue` + strings.Repeat("x", 30_000) + `"`, `"\ud800oddvalue"`, `99999999999`, `-99999999999`, `1e300`, `3.7`, `true`, `null`, `[]`, `{}`, `[[[[]]]]`, `"0000-00-00T00:00:00Z"`, `"9999-12-31T23:59:59Z"`, `"294276-12-31T23:59:59Z"`, `"00000000-0000-0000-0000-000000000000"`, "\"oddvalue\xff\"", "\"oddvalue\x00\""}
	fields := map[string][]string{
		"POST /links":                            {"items", "name", "until", "openings", "password", "downloads", "allowed", "notBefore", "slug", "kind", "identify", "tell", "intakeFiles", "intakeBytes", "intakeEndings", "expected", "language"},
		"PUT /links/" + l.Id.String() + "/terms": {"name", "until", "openings", "downloads", "password", "slug"},
		"POST /access":                           {"items", "to", "level", "may", "until", "message"},
		"POST /people":                           {"email", "name", "role", "organisation", "standing", "message"},
		"POST /dossiers":                         {"code", "name", "subject", "client", "kind"},
		"POST /folders/" + o.yard.String() + "/folders": {"name"},
		"PUT /items/" + o.plan.String() + "/name":       {"name"},
		"POST /items/move":                              {"items", "to"},
		"POST /groups":                                  {"name"},
		"POST /invitation-links":                        {"uses", "until", "domain", "dossier", "level", "standing"},
		"PUT /practice/rules":                           {"storageBytes", "patterns", "outward", "longestLinkDays", "sensitive"},
		"POST /session":                                 {"email", "password"},
		"POST /visits/" + token:                         {"password", "email", "code"},
		"POST /visits/" + token + "/code":               {"email"},
		"POST /visits/" + token + "/documents/" + o.plan.String() + "/looks": {"pages", "seconds"},
		"POST /joining/none":                          {"name", "email"},
		"POST /entries/none":                          {"name", "password"},
		"POST /items/" + o.plan.String() + "/request": {"message"},
	}
	for where, names := range fields {
		method, path, _ := strings.Cut(where, " ")
		for _, name := range names {
			for _, value := range odd {
				a := o.hanne.Do(method, "/api"+path, strings.NewReader(fmt.Sprintf(`{%q: %s}`, name, value)), "Content-Type", "application/json")
				if a.Status >= 500 {
					t.Errorf("%s, %s: %.60q: %d %s", where, name, value, a.Status, a.Body)
				}
			}
		}
	}
	cursors := []string{"", "x", "%00", "%ff", base64.RawURLEncoding.EncodeToString([]byte(`{"Order":"number","Key":"oddvalue","ID":"01a220da-7d75-7906-9365-79e2ef37e92c"}`)), base64.RawURLEncoding.EncodeToString([]byte(`{"Order":"size","Key":"99999999999999999999","ID":"01a220da-7d75-7906-9365-79e2ef37e92c"}`)),
		base64.RawURLEncoding.EncodeToString([]byte(`{"Order":"name","Key":"oddvalue\u0000","ID":"01a220da-7d75-7906-9365-79e2ef37e92c"}`)), base64.RawURLEncoding.EncodeToString([]byte(`{"At":"9999-12-31T23:59:59Z","ID":"01a220da-7d75-7906-9365-79e2ef37e92c"}`)), "99999999999", "-1", "9223372036854775808", strings.Repeat("A", 5000)}
	for _, path := range []string{"/folders/" + o.reports.String() + "/register?order=number&after=", "/folders/" + o.reports.String() + "/register?order=size&after=", "/folders/" + o.reports.String() + "/register?order=name&after=", "/folders/" + o.reports.String() + "/register?order=event&limit=", "/folders/" + o.reports.String() + "/register?order=",
		"/given/by-me?after=", "/given/to-me?after=", "/activity?before=", "/activity?limit=", "/activity?person=", "/activity?since=", "/activity?dossier=", "/find?q=", "/links?dossier=", "/documents/" + o.plan.String() + "/content?version=", "/documents/" + o.plan.String() + "/preview?version=", "/register-numbers/MER-24/", "/documents/", "/dossiers/", "/items/", "/folders/", "/visits/", "/archive?item="} {
		for _, cursor := range cursors {
			if a := o.hanne.Do("GET", "/api"+path+cursor, nil); a.Status >= 500 {
				t.Errorf("%s%.40s: %d %s", path, cursor, a.Status, a.Body)
			}
		}
	}
	for _, meta := range []string{"name " + base64.StdEncoding.EncodeToString([]byte("a\x00b")), "name \xff", "name", "folder " + base64.StdEncoding.EncodeToString([]byte("x")), "name " + base64.StdEncoding.EncodeToString([]byte("a")) + ",path " + base64.StdEncoding.EncodeToString([]byte("a\x00/b"))} {
		meta += ",folder " + base64.StdEncoding.EncodeToString([]byte(o.yard.String()))
		for _, length := range []string{"0", "-1", "99999999999999999999", "9223372036854775807", "x"} {
			if a := o.luca.Do("POST", "/api/uploads", nil, "Tus-Resumable", "1.0.0", "Upload-Length", length, "Upload-Metadata", meta); a.Status >= 500 && a.Status != 507 {
				t.Errorf("%q of %s bytes: %d %s", meta, length, a.Status, a.Body)
			}
		}
	}
	if strings.Contains(log.String(), "oddvalue") {
		t.Error("the log repeats what was sent")
	}
}

// The connection stays usable after every page of the application: what follows on
// it is answered.
func TestConnectionsStayUsable(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	v := w.Visitor()
	for n := range 200 {
		for _, path := range []string{"/today", "/dossiers/MER-24", "/l/none", "/d/MER-24/001", "/"} {
			a := v.Do("GET", path, nil)
			if a.Status != 200 || !strings.HasPrefix(strings.ToLower(string(a.Body)), "<!doctype html>") || strings.Contains(string(a.Body), "404") {
				t.Fatalf("%s, time %d: %d %.80s", path, n, a.Status, a.Body)
			}
		}
		if a := v.Do("HEAD", "/today", nil); a.Status != 200 || len(a.Body) > 0 {
			t.Fatalf("HEAD: %d, %d bytes", a.Status, len(a.Body))
		}
	}
}

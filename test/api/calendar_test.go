package api_test

import (
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-vcard"
	"github.com/google/uuid"

	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(*office) []endpoint {
		return []endpoint{{"GET", "/people.vcf", "", nil, self}}
	})
	for _, way := range []string{"GET /calendar", "POST /calendar", "DELETE /calendar", "GET /calendars/{file}"} {
		apart[way] = "one's own, by a secret address: TestCalendars"
	}
}

// A calendar program reads what ends, as its owner sees it now, by an address that is taken away.
func TestCalendars(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	until := o.Now().Add(50 * time.Hour).Truncate(time.Second)
	secret := o.hanne.Upload(o.reports, "", "secret.txt", []byte("1")).Document.Id
	link := testkit.Post[contract.Link](o.hanne, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{secret}, Name: ptr("For the yard, \"first\"; and last"), Until: &until})
	o.luca.Want(404, "GET", "/api/calendar", nil)
	made := func(c *testkit.Client) string {
		t.Helper()
		var a struct{ Address string }
		a = read[struct{ Address string }](t, c.Want(201, "POST", "/api/calendar", nil))
		return strings.TrimPrefix(a.Address, o.URL)
	}
	outside := o.Visitor()
	calendar := func(at string) string {
		t.Helper()
		a := outside.Want(200, "GET", at, nil)
		if kind := a.Header.Get("Content-Type"); kind != "text/calendar; charset=utf-8" {
			t.Errorf("it is %s", kind)
		}
		return strings.ReplaceAll(strings.ReplaceAll(string(a.Body), "\r\n ", ""), "\r\n", "\n")
	}
	at := made(o.luca)
	got := calendar(at)
	for _, line := range []string{"BEGIN:VCALENDAR", "VERSION:2.0", "UID:link-" + link.Id.String() + "@tabularis", "DTSTART:" + until.UTC().Format("20060102T150405Z"), `SUMMARY:Link “For the yard\, "first"\; and last” ends (MER-24)`} {
		if !strings.Contains(got, line) {
			t.Errorf("%s is not in %s", line, got)
		}
	}
	if again := calendar(at); strings.Count(again, "UID:") != 1 {
		t.Errorf("read again it is %s", again)
	}
	if c := testkit.Get[contract.Calendar](o.luca, "/api/calendar"); c.Read == nil {
		t.Error("that it was read is not said")
	}
	o.hanne.Want(204, "PUT", "/api/items/"+secret.String()+"/closed", contract.Closed{Closed: true})
	if hidden := calendar(at); strings.Contains(hidden, "UID:") {
		t.Errorf("what he sees no longer is in %s", hidden)
	}
	next := made(o.luca)
	outside.Want(404, "GET", at, nil)
	calendar(next)
	o.luca.Want(204, "DELETE", "/api/calendar", nil)
	o.luca.Want(404, "DELETE", "/api/calendar", nil)
	outside.Want(404, "GET", next, nil)
	for _, bad := range []string{"", ".ics", "x.ics", strings.Repeat("a", 5000) + ".ics", "%00.ics"} {
		if a := outside.Do("GET", "/api/calendars/"+bad, nil); a.Status != 404 && a.Status != 400 {
			t.Errorf("%.20q: %d", bad, a.Status)
		}
	}
	// Who may not come in has none.
	id, c := o.account("surveyor", accounts.Colleague)
	gone := made(c)
	calendar(gone)
	if _, err := o.App.DB.Exec(`UPDATE people SET deactivated_at = now() WHERE id = $1`, id); err != nil {
		t.Fatal(err)
	}
	outside.Want(404, "GET", gone, nil)
}

// People go into an address book: those whom one knows.
func TestPeopleAsCards(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	cards := func(c *testkit.Client, query string) (all []string) {
		t.Helper()
		from := vcard.NewDecoder(bytes.NewReader(c.Want(200, "GET", "/api/people.vcf"+query, nil).Body))
		for {
			one, err := from.Decode()
			if err != nil {
				return all
			}
			if one.Value(vcard.FieldVersion) != "4.0" || one.Value(vcard.FieldEmail) == "" || !strings.HasPrefix(one.Value(vcard.FieldUID), "urn:uuid:") {
				t.Errorf("a card is %v", one)
			}
			all = append(all, one.Value(vcard.FieldFormattedName))
		}
	}
	if all := cards(o.luca, ""); len(all) < 5 || !strings.Contains(strings.Join(all, ","), "Hanne Solvik") {
		t.Errorf("he has %v", all)
	}
	if one := cards(o.luca, "?person="+o.People["hanne"].ID.String()); len(one) != 1 || one[0] != "Hanne Solvik" {
		t.Errorf("one is %v", one)
	}
	o.luca.Want(404, "GET", "/api/people.vcf?person="+uuid.NewString(), nil)
	o.luca.Want(400, "GET", "/api/people.vcf?person=x", nil)
	_, guest := o.account("client", accounts.Guest)
	if all := cards(guest, ""); strings.Contains(strings.Join(all, ","), "Tomasz") {
		t.Errorf("a guest has %v", all)
	}
	guest.Want(404, "GET", "/api/people.vcf?person="+o.People["tomasz"].ID.String(), nil)
}

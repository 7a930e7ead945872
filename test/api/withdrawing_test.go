package api_test

import (
	"bytes"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// A visitor takes a wrong file back until they are done: its content is gone, the paper is
// missing again, and only that it was there is known. What is handed in, somebody else's,
// or worked with by the practice stays.
func TestAWrongPaperIsTakenBack(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	folder := testkit.Post[contract.Folder](w.luca, 201, "/api/folders/"+w.top.String()+"/folders", contract.NewName{Name: "05 Intake"}).Id
	l, token := w.intakeInto(folder, func(t *contract.LinkTerms) {
		t.Expected = &[]string{"Class certificate"}
		t.IntakeFiles = ptr(2)
	})
	visit := "/api/visits/" + token
	quist, other := w.enter(token, contract.OpenLink{}), w.enter(token, contract.OpenLink{})
	brings := func(name, content string) contract.ReceivedFile {
		t.Helper()
		if a := put(quist, token, name, []byte(content)); a.Status != 204 {
			t.Fatalf("%d %s", a.Status, a.Body)
		}
		in := testkit.Get[contract.VisitIntake](quist, visit+"/intake")
		return in.Received[len(in.Received)-1]
	}
	places := func() (n int) {
		t.Helper()
		if err := w.App.DB.Get(&n, `SELECT count(*) FROM blobs`); err != nil {
			t.Fatal(err)
		}
		return n
	}
	before := places()
	wrong := brings("class certificate.pdf", "the certificate of another ship")
	brings("log book.pdf", "July")
	if a := put(quist, token, "more.pdf", []byte("more")); a.Code() != "intake-full" {
		t.Errorf("a third: %d %s", a.Status, a.Body)
	}
	other.Want(404, "DELETE", visit+"/intake/"+wrong.Id.String(), nil)
	w.Visitor().Want(401, "DELETE", visit+"/intake/"+wrong.Id.String(), nil)

	// However often it is taken back at once, it is taken back once.
	var done atomic.Int32
	var all sync.WaitGroup
	for range 8 {
		all.Go(func() {
			if a, err := quist.Try("DELETE", visit+"/intake/"+wrong.Id.String(), nil); err == nil && a.Status == 200 {
				done.Add(1)
			} else if err != nil || a.Status != 404 {
				t.Errorf("%d %s %v", a.Status, a.Body, err)
			}
		})
	}
	all.Wait()
	in := testkit.Get[contract.VisitIntake](quist, visit+"/intake")
	if done.Load() != 1 || len(in.Received) != 1 || in.Expected[0].Here || *in.Files != 1 {
		t.Errorf("taken back %d times; the visitor sees %+v", done.Load(), in)
	}
	if n := places(); n != before+1 {
		t.Errorf("%d contents are kept instead of %d", n, before+1)
	}
	record := string(w.luca.Want(200, "GET", "/api/links/"+l.Id.String(), nil).Body)
	if !strings.Contains(record, "link.withdrawn") || !strings.Contains(record, "class certificate.pdf") {
		t.Errorf("the record: %s", record)
	}
	for _, r := range testkit.Get[contract.RegisterPage](w.luca, "/api/folders/"+folder.String()+"/register").Rows {
		if r.Name == "class certificate.pdf" {
			t.Error("it still lies there")
		}
	}

	// The practice works with it: a version of its own, a link, another folder.
	right := brings("class certificate.pdf", "the certificate")
	w.luca.Upload(folder, "", "class certificate.pdf", []byte("the certificate, with remarks"))
	if a := quist.Do("DELETE", visit+"/intake/"+right.Id.String(), nil); a.Status != 409 || a.Code() != "taken-up" {
		t.Errorf("with a version: %d %s", a.Status, a.Body)
	}
	log := in.Received[0].Id
	w.luca.Want(204, "POST", "/api/items/move", contract.Move{Items: []uuid.UUID{log}, To: w.top})
	if a := quist.Do("DELETE", visit+"/intake/"+log.String(), nil); a.Status != 409 || a.Code() != "taken-up" {
		t.Errorf("moved elsewhere: %d %s", a.Status, a.Body)
	}
	quist.Want(200, "POST", visit+"/intake", contract.HandIn{})
	if a := quist.Do("DELETE", visit+"/intake/"+right.Id.String(), nil); a.Status != 409 || a.Code() != "handed-in" {
		t.Errorf("handed in: %d %s", a.Status, a.Body)
	}
	// What was never brought through it is not there.
	quist.Want(404, "DELETE", visit+"/intake/"+w.paper("plan.txt", "plan").String(), nil)
}

// Several files brought in together get their numbers in their order: each becomes a
// document when its turn has come, or, where the page is closed, after a while.
func TestNumbersFollowTheOrder(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	var ways []string
	for _, name := range []string{"b.txt", "a.txt", "c.txt", "d.txt"} {
		where := w.luca.Begin(w.top, "", name, 1, "turn", "waits").Header.Get("Location")
		w.luca.Want(204, "PATCH", where, bytes.NewReader([]byte(name[:1])), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
		ways = append(ways, where[strings.LastIndex(where, "/"):])
	}
	if n := w.register().Total; n != 0 {
		t.Errorf("%d became documents out of turn", n)
	}
	for i, way := range []string{ways[1], ways[0]} {
		o := testkit.Get[contract.UploadOutcome](w.luca, "/api/uploads"+way+"/outcome")
		if want := fmt.Sprintf("MER-24/%03d", i+1); o.Document.Ref != want {
			t.Errorf("%s is %s instead of %s", o.Document.Name, o.Document.Ref, want)
		}
	}
	waits := func() {
		t.Helper()
		if err := w.App.Web.Uploads.FinishWaiting(t.Context()); err != nil {
			t.Fatal(err)
		}
	}
	waits()
	if n := w.register().Total; n != 2 {
		t.Errorf("%d are there before the minute is over", n)
	}
	// The page was closed, and meanwhile somebody may no longer bring anything.
	w.Later(2 * time.Minute)
	waits()
	if n := w.register().Total; n != 4 {
		t.Errorf("%d are there after it", n)
	}
	where := w.luca.Begin(w.top, "", "e.txt", 1, "turn", "waits").Header.Get("Location")
	w.luca.Want(204, "PATCH", where, strings.NewReader("e"), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
	if _, err := w.App.DB.Exec(`UPDATE people SET deactivated_at = now() WHERE id = $1`, w.People["luca"].ID); err != nil {
		t.Fatal(err)
	}
	w.Later(2 * time.Minute)
	waits()
	waits()
	if n := testkit.Get[contract.RegisterPage](w.hanne, "/api/folders/"+w.top.String()+"/register").Total; n != 4 {
		t.Errorf("%d are there after whoever brought one left", n)
	}
}

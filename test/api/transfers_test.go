package api_test

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"path"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(*office) []endpoint {
		return []endpoint{{"GET", "/transfers", "", nil, self}}
	})
	for _, way := range []string{"POST /transfers", "POST /transfers/draft", "GET /transfers/{id}", "POST /transfers/{id}/end", "POST /transfers/{id}/reopening", "POST /transfers/{id}/files", "DELETE /transfers/{id}/files/{file}",
		"POST /transfers/{id}/recipients", "POST /transfers/{id}/reminder", "GET /visits/{token}/transfer", "GET /visits/{token}/files/{id}", "HEAD /visits/{token}/files/{id}", "GET /visits/{token}/files"} {
		apart[way] = "its sender's alone, or a visitor's: TestTransfersAreTheirSenders"
	}
}

// sends makes a transfer of files that are yet to arrive.
func (o *office) sends(c *testkit.Client, w contract.TransferWish, files ...contract.AnnouncedFile) contract.Transfer {
	o.T.Helper()
	if len(files) > 0 {
		w.Files = &files
	}
	return testkit.Post[contract.Transfer](c, 201, "/api/transfers", w)
}

func (o *office) transfer(c *testkit.Client, id uuid.UUID) contract.Transfer {
	o.T.Helper()
	return testkit.Get[contract.Transfer](c, "/api/transfers/"+id.String())
}

// comes lets a visitor in by an address.
func (o *office) comes(address string) (v *testkit.Client, at string) {
	o.T.Helper()
	v, at = o.Visitor(), "/api/visits/"+path.Base(address)
	v.Want(204, "POST", at, contract.OpenLink{})
	return v, at
}

// begins announces a file of a transfer, and returns where its content goes.
func (o *office) begins(c *testkit.Client, t contract.Transfer, n int) string {
	o.T.Helper()
	f := t.Files[n]
	a := c.Begin(t.FolderId, "", f.Name, int(f.Size), "announced", f.Id.String())
	if a.Status != 201 {
		o.T.Fatalf("announcing %s: %d %s", f.Name, a.Status, a.Body)
	}
	return a.Header.Get("Location")
}

func (o *office) patches(c *testkit.Client, where string, offset int, data io.Reader) testkit.Answer {
	o.T.Helper()
	return c.Do("PATCH", where, data, "Tus-Resumable", "1.0.0", "Upload-Offset", fmt.Sprint(offset), "Content-Type", "application/offset+octet-stream")
}

func soundings(n int) []byte {
	r, b := rand.New(rand.NewPCG(7, uint64(n))), make([]byte, n)
	for i := range b {
		b[i] = byte(r.Uint32())
	}
	return b
}

// A recipient begins to fetch while the sender is still sending, waits with them when they
// pause, and has exactly what was sent when both are done; then they go on from any place.
func TestFetchingWhileItArrives(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	data := soundings(3<<20 + 17)
	tr := o.sends(o.hanne, contract.TransferWish{Name: ptr("Side shell")}, contract.AnnouncedFile{Name: "scan.e57", Size: int64(len(data))}, contract.AnnouncedFile{Name: "notes.txt", Size: 5})
	v, at := o.comes(*tr.Address)
	shown := testkit.Get[contract.VisitedTransfer](v, at+"/transfer")
	if len(shown.Files) != 2 || shown.Files[0].Fetchable || shown.Received != 0 || shown.Bytes != int64(len(data))+5 {
		t.Fatalf("before anything is here: %+v", shown)
	}
	if a := v.Do("GET", at+"/files/"+tr.Files[0].Id.String(), nil); a.Code() != "not-yet" {
		t.Errorf("fetched before anything is here: %d %s", a.Status, a.Body)
	}
	where := o.begins(o.hanne, tr, 0)
	// Half of it comes, and then nothing for as long as the recipient has not got it.
	sender, writer := io.Pipe()
	sent := make(chan testkit.Answer, 1)
	go func() { sent <- o.patches(o.hanne, where, 0, sender) }()
	half := len(data) / 2
	if _, err := writer.Write(data[:half]); err != nil {
		t.Fatal(err)
	}
	waitFor(t, func() bool { return testkit.Get[contract.VisitedTransfer](v, at+"/transfer").Files[0].Fetchable })
	resp, err := v.HTTP.Get(o.URL + at + "/files/" + tr.Files[0].Id.String())
	if err != nil {
		t.Fatal(err)
	}
	defer resp.Body.Close()
	if resp.StatusCode != 200 || resp.ContentLength != int64(len(data)) {
		t.Fatalf("%d, %d bytes", resp.StatusCode, resp.ContentLength)
	}
	first := make([]byte, 256<<10)
	if _, err := io.ReadFull(resp.Body, first); err != nil || !bytes.Equal(first, data[:len(first)]) {
		t.Fatalf("the beginning, while it arrives: %v", err)
	}
	if _, err := writer.Write(data[half:]); err != nil {
		t.Fatal(err)
	}
	writer.Close()
	if a := <-sent; a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	rest, err := io.ReadAll(resp.Body)
	if got := append(first, rest...); err != nil || !bytes.Equal(got, data) {
		t.Fatalf("what was fetched while it arrived: %d bytes, %v", len(got), err)
	}
	testkit.Get[contract.UploadOutcome](o.hanne, "/api/uploads/"+path.Base(where)+"/outcome")
	waitFor(t, func() bool { r := o.transfer(o.hanne, tr.Id).Recipients; return len(r) == 1 && r[0].Fetched == 1 })
	// From any place, before and after it is a document.
	a := v.Want(206, "GET", at+"/files/"+tr.Files[0].Id.String(), nil, "Range", fmt.Sprintf("bytes=%d-", len(data)-9), "If-Range", resp.Header.Get("ETag"))
	if !bytes.Equal(a.Body, data[len(data)-9:]) {
		t.Errorf("from a place: %x", a.Body)
	}
	if sum := sha256.Sum256(data); testkit.Get[contract.VisitedTransfer](v, at+"/transfer").Files[0].Document.Sha256 != hex.EncodeToString(sum[:]) {
		t.Error("the hash that is shown is another")
	}
}

// When the sender gives up, what is being fetched breaks off: it is never taken for the whole.
func TestFetchingWhatTheSenderGivesUp(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	data := soundings(1 << 20)
	tr := o.sends(o.hanne, contract.TransferWish{}, contract.AnnouncedFile{Name: "scan.e57", Size: int64(len(data))})
	where := o.begins(o.hanne, tr, 0)
	// The sender's connection breaks after half of it.
	broken := o.patches(o.hanne, where, 0, io.LimitReader(bytes.NewReader(data), 512<<10))
	if broken.Status != 204 {
		t.Fatalf("%d", broken.Status)
	}
	v, at := o.comes(*tr.Address)
	resp, err := v.HTTP.Get(o.URL + at + "/files/" + tr.Files[0].Id.String())
	if err != nil || resp.StatusCode != 200 {
		t.Fatal(resp, err)
	}
	defer resp.Body.Close()
	first := make([]byte, 128<<10)
	if _, err := io.ReadFull(resp.Body, first); err != nil {
		t.Fatal(err)
	}
	o.hanne.Want(204, "DELETE", where, nil, "Tus-Resumable", "1.0.0")
	if rest, err := io.ReadAll(resp.Body); err == nil || len(first)+len(rest) >= len(data) {
		t.Errorf("%d bytes came, and nothing says that it is not the whole", len(first)+len(rest))
	}
	waitFor(t, func() bool { r := o.transfer(o.hanne, tr.Id).Recipients; return len(r) == 1 && r[0].Begun == 1 })
	if r := o.transfer(o.hanne, tr.Id).Recipients[0]; r.Fetched != 0 {
		t.Errorf("its sender is told %+v", r)
	}
	// Sent anew it is fetched whole, by the same address.
	again := o.begins(o.hanne, tr, 0)
	o.patches(o.hanne, again, 0, bytes.NewReader(data))
	if a := v.Want(200, "GET", at+"/files/"+tr.Files[0].Id.String(), nil); !bytes.Equal(a.Body, data) {
		t.Errorf("sent anew: %d bytes", len(a.Body))
	}
	waitFor(t, func() bool { return o.transfer(o.hanne, tr.Id).Recipients[0].Fetched == 1 })
}

// Whoever waits for what is still arriving is cut off as soon as the transfer ends.
func TestWaitingEndsWithTheTransfer(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	data := soundings(1 << 20)
	tr := o.sends(o.hanne, contract.TransferWish{}, contract.AnnouncedFile{Name: "scan.e57", Size: int64(len(data))})
	o.patches(o.hanne, o.begins(o.hanne, tr, 0), 0, io.LimitReader(bytes.NewReader(data), 512<<10))
	v, at := o.comes(*tr.Address)
	resp, err := v.HTTP.Get(o.URL + at + "/files/" + tr.Files[0].Id.String())
	if err != nil || resp.StatusCode != 200 {
		t.Fatal(resp, err)
	}
	defer resp.Body.Close()
	if _, err := io.ReadFull(resp.Body, make([]byte, 128<<10)); err != nil {
		t.Fatal(err)
	}
	o.hanne.Want(204, "POST", "/api/transfers/"+tr.Id.String()+"/end", nil)
	ended := time.Now()
	if _, err := io.ReadAll(resp.Body); err == nil {
		t.Error("what was not whole ended as if it were")
	}
	// A drip that kept the connection would come after a quarter of a minute.
	if took := time.Since(ended); took > 10*time.Second {
		t.Errorf("it waited on for %s", took)
	}
}

// Copies are frozen: a later version, deletion and destruction of the original do not change them.
// When the time is over they are destroyed, and the record stays.
func TestFrozenCopies(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	to := []string{"Marit Juhl <marit@pelham-dock.example>", "bram@brackwater.example", "BRAM@brackwater.example"}
	tr := o.sends(o.hanne, contract.TransferWish{Items: &[]uuid.UUID{o.plan, o.inner}, To: &to, Message: ptr("Dear Marit")})
	if len(tr.Recipients) != 2 || len(tr.Files) != 2 || tr.Received != tr.Bytes {
		t.Fatalf("%+v", tr)
	}
	o.luca.Upload(o.reports, "", "plan.txt", []byte("another plan"))
	o.deletes(o.hanne, o.plan, o.inner)
	if _, err := o.App.DB.Exec(`UPDATE deletions SET at = at - interval '100 days'`); err != nil {
		t.Fatal(err)
	}
	o.duty("destroy what was kept long enough")
	marit := o.mailed("marit@pelham-dock.example")
	v, at := o.comes(marit)
	shown := testkit.Get[contract.VisitedTransfer](v, at+"/transfer")
	if *shown.For != "marit@pelham-dock.example" || shown.Message != "Dear Marit" {
		t.Errorf("%+v", shown)
	}
	var got []string
	for _, f := range shown.Files {
		got = append(got, string(v.Want(200, "GET", at+"/files/"+f.Id.String(), nil).Body))
	}
	slices.Sort(got)
	if fmt.Sprint(got) != "[plan quote]" {
		t.Errorf("the copies hold %v", got)
	}
	r := o.transfer(o.hanne, tr.Id).Recipients
	if r[0].Fetched+r[1].Fetched != 2 || o.noticesOf(o.hanne, "fetched") != 1 {
		t.Errorf("%+v, %d notices", r, o.noticesOf(o.hanne, "fetched"))
	}
	blobs := o.blobs()
	o.Later(15 * 24 * time.Hour)
	o.duty("look after transfers")
	v.Want(410, "GET", at+"/transfer", nil)
	o.hanne = o.SignIn("hanne")
	over := testkit.Get[[]contract.Transfer](o.hanne, "/api/transfers?over=true")
	if len(over) != 1 || over[0].DestroyedAt == nil || over[0].Files[0].Name == "" || len(over[0].Recipients) != 2 || over[0].Address != nil {
		t.Errorf("the record is %+v", over)
	}
	waitFor(t, func() bool { return o.blobs() < blobs })
	if left := testkit.Get[[]contract.Transfer](o.hanne, "/api/transfers"); len(left) != 0 {
		t.Errorf("%d are still there", len(left))
	}
	o.duty("look after transfers")
	o.sound()
}

// mailed is the address that was mailed to somebody last.
func (o *office) mailed(to string) (address string) {
	o.T.Helper()
	waitFor(o.T.(*testing.T), func() bool {
		for _, m := range o.Mail.Messages(to) {
			if at := strings.Index(m.Text, o.URL+"/l/"); at >= 0 {
				address = strings.Fields(m.Text[at:])[0]
			}
		}
		return address != ""
	})
	return address
}

// Who has not fetched is told of to the sender, once; one act reminds them; before the end they are
// told of it.
func TestRemindersOfTransfers(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	until := o.Now().Add(8 * 24 * time.Hour)
	tr := o.sends(o.hanne, contract.TransferWish{Items: &[]uuid.UUID{o.plan}, To: &[]string{"marit@pelham-dock.example", "bram@brackwater.example"}, Until: &until})
	at := "/api/transfers/" + tr.Id.String()
	bram, visit := o.comes(o.mailed("bram@brackwater.example"))
	bram.Want(200, "GET", visit+"/files/"+tr.Files[0].Id.String(), nil)
	mails := func(to string) int { return len(o.Mail.Messages(to)) }
	waitFor(t, func() bool {
		r := o.transfer(o.hanne, tr.Id).Recipients
		return r[0].Address == "bram@brackwater.example" && r[0].Which != nil && slices.Equal(*r[0].Which, []string{"plan.txt"}) && r[1].Which == nil
	})
	o.hanne.Want(202, "POST", at+"/reminder", map[string]string{"to": "marit@pelham-dock.example"})
	waitFor(t, func() bool { return mails("marit@pelham-dock.example") == 2 })
	if a := o.hanne.Do("POST", at+"/reminder", map[string]string{"to": "bram@brackwater.example"}); a.Code() != "fetched-already" {
		t.Errorf("whoever has it is reminded: %d %s", a.Status, a.Body)
	}
	if a := o.hanne.Do("POST", at+"/reminder", map[string]string{"to": "nobody@pelham-dock.example"}); a.Code() != "not-a-recipient" {
		t.Errorf("whoever never got it is reminded: %d %s", a.Status, a.Body)
	}
	mine := mails(o.People["hanne"].Email)
	o.Later(3*24*time.Hour + time.Minute)
	o.duty("look after transfers")
	o.duty("look after transfers")
	waitFor(t, func() bool { return mails(o.People["hanne"].Email) == mine+1 })
	o.hanne = o.SignIn("hanne")
	if n := o.noticesOf(o.hanne, "missed"); n != 1 {
		t.Errorf("%d notices of who has not fetched", n)
	}
	o.Later(4*24*time.Hour + 2*time.Hour)
	o.duty("look after transfers")
	o.duty("look after transfers")
	waitFor(t, func() bool { return mails("marit@pelham-dock.example") == 3 })
	if mails("bram@brackwater.example") != 1 {
		t.Errorf("whoever has it was told of the end")
	}
}

// Nobody but its sender learns of a transfer or does anything with it; nor does it show anywhere
// else: not in lists, finding, the stream of others, nor by its documents.
func TestTransfersAreTheirSenders(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	tr := o.sends(o.hanne, contract.TransferWish{Items: &[]uuid.UUID{o.plan}, Name: ptr("For the yard")}, contract.AnnouncedFile{Name: "scan.e57", Size: 100_000})
	at := "/api/transfers/" + tr.Id.String()
	file := tr.Files[1].Id.String()
	for what, c := range map[string]*testkit.Client{"a colleague": o.luca, "a guest": o.guest} {
		for _, e := range [][2]string{{"GET", ""}, {"POST", "/end"}, {"POST", "/reopening"}, {"DELETE", "/files/" + file}} {
			if a := c.Do(e[0], at+e[1], nil); a.Status != 404 {
				t.Errorf("%s: %s %s is %d", what, e[0], e[1], a.Status)
			}
		}
		if a := c.Do("POST", at+"/recipients", contract.LinkMail{To: []string{"x@pelham-dock.example"}}); a.Status != 404 {
			t.Errorf("%s sends it: %d", what, a.Status)
		}
		if a := c.Do("POST", at+"/reminder", map[string]string{"to": "x@pelham-dock.example"}); a.Status != 404 {
			t.Errorf("%s reminds: %d", what, a.Status)
		}
		if a := c.Do("POST", at+"/files", []contract.AnnouncedFile{{Name: "x", Size: 1}}); a.Status != 404 {
			t.Errorf("%s adds: %d", what, a.Status)
		}
		if a := c.Begin(tr.FolderId, "", "scan.e57", 100_000, "announced", file); a.Status != 404 {
			t.Errorf("%s sends another file in its place: %d", what, a.Status)
		}
		for _, p := range []string{"/api/documents/" + tr.Files[0].Document.String(), "/api/links/" + tr.Id.String(), "/api/items/" + tr.FolderId.String() + "/reach"} {
			if a := c.Do("GET", p, nil); a.Status != 404 {
				t.Errorf("%s: %s is %d", what, p, a.Status)
			}
		}
	}
	o.guest.Want(403, "POST", "/api/transfers", contract.TransferWish{Files: &[]contract.AnnouncedFile{{Name: "x", Size: 1}}})
	o.guest.Want(403, "POST", "/api/transfers/draft", contract.TransferWish{Files: &[]contract.AnnouncedFile{{Name: "x", Size: 1}}})
	o.Visitor().Want(401, "POST", "/api/transfers", contract.TransferWish{Files: &[]contract.AnnouncedFile{{Name: "x", Size: 1}}})
	// What one may not give out is not sent either, nor what one does not see.
	if a := o.SignIn("priya").Do("POST", "/api/transfers", contract.TransferWish{Items: &[]uuid.UUID{o.plan}}); a.Status != 403 && a.Status != 404 {
		t.Errorf("whoever may only view sends it: %d", a.Status)
	}
	o.SignIn("tomasz").Want(404, "POST", "/api/transfers", contract.TransferWish{Items: &[]uuid.UUID{o.plan}})
	// A colleague with a transfer of their own gets no file into this one, nor any that was not announced.
	own := o.sends(o.luca, contract.TransferWish{}, contract.AnnouncedFile{Name: "scan.e57", Size: 100_000})
	for what, more := range map[string][]string{"another's file": {"announced", file}, "an unknown file": {"announced", uuid.NewString()}, "none": nil} {
		if a := o.luca.Begin(own.FolderId, "", "scan.e57", 100_000, more...); a.Status != 404 {
			t.Errorf("%s in one's own folder: %d", what, a.Status)
		}
	}
	if a := o.luca.Begin(own.FolderId, "", "scan.e57", 7, "announced", own.Files[0].Id.String()); a.Status != 404 {
		t.Errorf("of another size: %d", a.Status)
	}
	// Nor is anything moved or copied into it, or made a version of a copy, by its sender either.
	if a := o.move(o.hanne, tr.FolderId, o.draft); a.Status != 404 {
		t.Errorf("moved into it: %d", a.Status)
	}
	if a := o.hanne.Do("POST", "/api/items/copy", contract.Move{Items: []uuid.UUID{o.draft}, To: tr.FolderId}); a.Status != 404 {
		t.Errorf("copied into it: %d", a.Status)
	}
	if a := o.hanne.Begin(tr.FolderId, "", "plan.txt", 3, "document", tr.Files[0].Document.String()); a.Status != 404 {
		t.Errorf("another version of a copy: %d", a.Status)
	}
	// A link of another kind gives none.
	l := testkit.Post[contract.Link](o.hanne, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{o.plan}})
	other, there := o.comes(*l.Address)
	other.Want(404, "GET", there+"/transfer", nil)
	other.Want(404, "GET", there+"/files/"+tr.Files[0].Id.String(), nil)
	stranger := o.Visitor()
	v := "/api/visits/" + path.Base(*tr.Address)
	for _, p := range []string{"/transfer", "/files/" + file} {
		if a := stranger.Do("GET", v+p, nil); a.Code() != "needs-opening" {
			t.Errorf("without having come in: %d %s", a.Status, a.Body)
		}
	}
	if a := o.hanne.Do("POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{o.plan}, Kind: ptr(contract.LinkKindTransfer)}); a.Code() != "kind-unknown" {
		t.Errorf("a transfer that is none: %d %s", a.Status, a.Body)
	}
	// The copies stand in no list, not even their sender's.
	o.written()
	for _, p := range []string{"/api/dossiers", "/api/links?state=all", "/api/find?q=plan", "/api/found?q=plan", "/api/today", "/api/given/by-me"} {
		if a := o.hanne.Do("GET", p, nil); strings.Contains(string(a.Body), "OUT-") || strings.Contains(string(a.Body), tr.FolderId.String()) || a.Status != 200 {
			t.Errorf("%s says %d %s", p, a.Status, a.Body)
		}
	}
	// Nor in those of somebody who sees nearly everything, and is told apart by what they do not see.
	for i := range 3 {
		testkit.Post[contract.DossierRow](o.luca, 201, "/api/dossiers", contract.NewDossier{Code: fmt.Sprintf("LUC-%d", i), Name: "Another", Kind: "internal"})
	}
	for _, p := range []string{"/api/find?q=plan", "/api/found?q=plan", "/api/activity", "/api/today"} {
		if a := o.luca.Do("GET", p, nil); strings.Contains(string(a.Body), "OUT-") || strings.Contains(string(a.Body), tr.FolderId.String()) || a.Status != 200 {
			t.Errorf("to a colleague %s says %d %s", p, a.Status, a.Body)
		}
	}
	if n := strings.Count(string(o.luca.Want(200, "GET", "/api/activity", nil).Body), `"transfer.made"`); n != 1 {
		t.Errorf("whoever sees the document sees %d sent copies of it", n)
	}
}

func TestBadTransfers(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	files := func(all ...contract.AnnouncedFile) contract.TransferWish { return contract.TransferWish{Files: &all} }
	many := make([]contract.AnnouncedFile, 1000)
	for i := range many {
		many[i] = contract.AnnouncedFile{Name: fmt.Sprint(i), Size: 1}
	}
	mixed := files(many...)
	mixed.Items = &[]uuid.UUID{o.plan}
	addressed := func(to ...string) contract.TransferWish {
		w := files(contract.AnnouncedFile{Name: "x", Size: 1})
		w.To = &to
		return w
	}
	past := o.Now().Add(-time.Hour)
	late := files(many[0])
	late.Until = &past
	days := files(many[0])
	days.TellAfterDays = ptr(61)
	for what, c := range map[string]struct {
		w    contract.TransferWish
		code string
	}{
		"nothing": {contract.TransferWish{}, "transfer-files"}, "a slash": {files(contract.AnnouncedFile{Name: "a/b", Size: 1}), "name-slash"}, "1,001 files": {mixed, "transfer-files"},
		"nobody's address": {addressed("nobody"), "address-form"}, "an end in the past": {late, "until-past"}, "61 days": {days, "tell-days"},
		"a direction": {files(contract.AnnouncedFile{Name: "a\u202egnp.exe", Size: 1}), "name-direction"},
	} {
		if a := o.hanne.Do("POST", "/api/transfers", c.w); a.Code() != c.code {
			t.Errorf("%s: %d %s", what, a.Status, a.Body)
		}
	}
	crowd := make([]string, 500)
	for i := range crowd {
		crowd[i] = fmt.Sprintf("x%d@pelham-dock.example", i)
	}
	if a := o.hanne.Do("POST", "/api/transfers", addressed(crowd...)); a.Status != 422 && a.Status != 400 {
		t.Errorf("500 recipients: %d %s", a.Status, a.Body)
	}
	if all := testkit.Get[[]contract.Transfer](o.hanne, "/api/transfers"); len(all) != 0 {
		t.Errorf("%d were made", len(all))
	}
	// What was announced twice under one name is kept apart, and arrives so.
	tr := o.sends(o.hanne, contract.TransferWish{}, contract.AnnouncedFile{Name: "scan.txt", Size: 3}, contract.AnnouncedFile{Name: "scan.txt", Size: 3})
	if tr.Files[0].Name == tr.Files[1].Name {
		t.Errorf("both are %s", tr.Files[0].Name)
	}
	for i, text := range []string{"one", "two"} {
		where := o.begins(o.hanne, tr, 1-i)
		o.patches(o.hanne, where, 0, strings.NewReader(text))
		testkit.Get[contract.UploadOutcome](o.hanne, "/api/uploads/"+path.Base(where)+"/outcome")
	}
	at := "/api/transfers/" + tr.Id.String()
	if a := o.hanne.Begin(tr.FolderId, "", "scan.txt", 3, "announced", tr.Files[0].Id.String()); a.Status != 404 {
		t.Errorf("what is here is sent again: %d", a.Status)
	}
	o.hanne.Want(204, "DELETE", at+"/files/"+tr.Files[0].Id.String(), nil)
	if a := o.hanne.Do("DELETE", at+"/files/"+tr.Files[1].Id.String(), nil); a.Code() != "transfer-files" {
		t.Errorf("the last file is left out: %d %s", a.Status, a.Body)
	}
	v, visit := o.comes(*tr.Address)
	v.Want(404, "GET", visit+"/files/"+tr.Files[0].Id.String(), nil)
	if a := v.Want(200, "GET", visit+"/files/"+tr.Files[1].Id.String(), nil); string(a.Body) != "one" {
		t.Errorf("the other one is %s", a.Body)
	}
	// Taken back it is gone at once, and comes back within ten minutes.
	o.hanne.Want(204, "POST", at+"/end", nil)
	if a := v.Do("GET", visit+"/files/"+tr.Files[1].Id.String(), nil); a.Status != http.StatusGone {
		t.Errorf("taken back it is %d", a.Status)
	}
	o.hanne.Want(204, "POST", at+"/reopening", nil)
	v.Want(200, "GET", visit+"/files/"+tr.Files[1].Id.String(), nil)
	o.hanne.Want(204, "POST", at+"/end", nil)
	if a := o.hanne.Do("POST", at+"/files", many[:1]); a.Code() != "link-over" {
		t.Errorf("added to what is over: %d %s", a.Status, a.Body)
	}
	left := o.sends(o.luca, contract.TransferWish{Items: &[]uuid.UUID{o.draft}})
	o.luca.Want(204, "POST", "/api/transfers/"+left.Id.String()+"/end", nil)
	// Also of a sender who has left the practice.
	if _, err := o.App.DB.Exec(`UPDATE people SET deactivated_at = now() WHERE id = $1`, o.People["luca"].ID); err != nil {
		t.Fatal(err)
	}
	o.Later(11 * time.Minute)
	o.duty("look after transfers")
	if o.transfer(o.hanne, tr.Id).DestroyedAt == nil {
		t.Error("what was taken back is still there")
	}
	var copies int
	if err := o.App.DB.Get(&copies, `SELECT count(*) FROM versions v JOIN all_items i ON i.id = v.item_id JOIN dossiers d ON d.id = i.dossier_id WHERE d.kind = 'outgoing'`); err != nil || copies != 0 {
		t.Errorf("%d copies are left, %v", copies, err)
	}
}

// A practice lets transfers last less long than links, and be of so many bytes, whatever they are
// of; and what is copied may lie in several dossiers.
func TestRulesOfTransfers(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", "administrator")
	kinds := []contract.LinkKind{contract.LinkKindHandOut, contract.LinkKindTransfer}
	rules := func(days int, bytes int64) int {
		return o.hanne.Do("PUT", "/api/practice/rules", contract.Rules{Sensitive: "off", Patterns: []contract.Pattern{}, LongestLinkDays: 90,
			Outward: &contract.OutwardRules{Required: "nothing", Kinds: kinds, Shut: []string{}, Only: []string{}, TransferDays: &days, TransferBytes: &bytes}}).Status
	}
	for name, bad := range map[string][2]int64{"no days": {0, 1000}, "too many": {3651, 1000}, "no bytes": {7, 0}, "fewer": {7, -1}} {
		if status := rules(int(bad[0]), bad[1]); status != 400 {
			t.Errorf("%s: %d", name, status)
		}
	}
	if status := rules(7, 1000); status != 204 {
		t.Fatalf("set: %d", status)
	}
	if d := testkit.Get[contract.Directory](o.hanne, "/api/people").Rules.Outward; *d.TransferDays != 7 || *d.TransferBytes != 1000 {
		t.Errorf("the rules say %+v", d)
	}
	tr := o.sends(o.hanne, contract.TransferWish{}, contract.AnnouncedFile{Name: "a", Size: 900})
	if left := tr.Until.Sub(o.Now()); left > 8*24*time.Hour {
		t.Errorf("it lasts %s", left)
	}
	late, other := o.Now().Add(9*24*time.Hour), o.Now().Add(60*24*time.Hour)
	if a := o.hanne.Do("POST", "/api/transfers", contract.TransferWish{Items: &[]uuid.UUID{o.plan}, Until: &late}); a.Code() != "until-too-late" {
		t.Errorf("too long: %d %s", a.Status, a.Body)
	}
	o.hanne.Want(201, "POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{o.plan}, Until: &other})
	if a := o.hanne.Do("PATCH", "/api/links/"+tr.Id.String()+"/terms", contract.LinkAdjustment{Until: &late}); a.Code() != "until-too-late" {
		t.Errorf("prolonged: %d %s", a.Status, a.Body)
	}
	big := []contract.AnnouncedFile{{Name: "b", Size: 101}}
	if a := o.hanne.Do("POST", "/api/transfers/"+tr.Id.String()+"/files", big); a.Code() != "transfer-bytes" || a.Status != http.StatusRequestEntityTooLarge {
		t.Errorf("what joins is too much: %d %s", a.Status, a.Body)
	}
	copied := o.hanne.Upload(o.top, "", "Large.txt", bytes.Repeat([]byte("x"), 1001)).Document.Id
	for name, w := range map[string]contract.TransferWish{"files": {Files: &[]contract.AnnouncedFile{{Name: "a", Size: 900}, {Name: "b", Size: 101}}}, "a copy": {Items: &[]uuid.UUID{copied}}} {
		if d := testkit.Post[contract.LinkDraft](o.hanne, 200, "/api/transfers/draft", w); d.Refused == nil || d.Refused.Code != "transfer-bytes" {
			t.Errorf("%s, drafted: %+v", name, d.Refused)
		}
		if a := o.hanne.Do("POST", "/api/transfers", w); a.Code() != "transfer-bytes" {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
}

func TestATransferOfSeveralDossiers(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	elsewhere := testkit.Post[contract.DossierRow](o.hanne, 201, "/api/dossiers", contract.NewDossier{Code: "BRK-1", Name: "Brackwater", Kind: "client"}).Id
	there := o.hanne.Upload(elsewhere, "", "There.txt", []byte("there")).Document.Id
	both := contract.TransferWish{Items: &[]uuid.UUID{o.plan, there}}
	if d := testkit.Post[contract.LinkDraft](o.hanne, 200, "/api/transfers/draft", both); d.Files != 2 || !strings.Contains(d.Title, "MER-24/") || !strings.Contains(d.Title, "BRK-1/001") {
		t.Errorf("drafted: %+v", d)
	}
	if tr := o.sends(o.hanne, both); len(tr.Files) != 2 {
		t.Errorf("sent: %+v", tr.Files)
	}
	// Who sees one of them alone sends none.
	if a := o.luca.Do("POST", "/api/transfers", both); a.Status != 404 {
		t.Errorf("luca sends what he does not see: %d %s", a.Status, a.Body)
	}
}

// What gives copies takes nothing in: whoever fetches brings nothing by the same link.
func TestATransferTakesNothingIn(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	sent := o.sends(o.luca, contract.TransferWish{Name: ptr("Drawings")}, contract.AnnouncedFile{Name: "a.dwg", Size: 3})
	v, at := o.comes(*sent.Address)
	if a := put(v, path.Base(at), "x.pdf", []byte("x")); a.Status != 404 {
		t.Errorf("a visitor brought something: %d %s", a.Status, a.Body)
	}
	if n := len(o.transfer(o.luca, sent.Id).Files); n != 1 {
		t.Errorf("%d files are in it", n)
	}
}

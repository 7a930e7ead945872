package api_test

import (
	"bytes"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"fmt"
	"os"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"tabularis/core/access"

	"github.com/google/uuid"

	"tabularis/core/intake"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// put hands a file in by tus, and returns the answer that ended it.
func put(v *testkit.Client, token, name string, data []byte, more ...string) testkit.Answer {
	metadata := []string{"name " + base64.StdEncoding.EncodeToString([]byte(name))}
	for i := 0; i+1 < len(more); i += 2 {
		metadata = append(metadata, more[i]+" "+base64.StdEncoding.EncodeToString([]byte(more[i+1])))
	}
	begun := v.Do("POST", "/api/visits/"+token+"/uploads", nil, "Tus-Resumable", "1.0.0", "Upload-Length", fmt.Sprint(len(data)), "Upload-Metadata", strings.Join(metadata, ","))
	if begun.Status != 201 {
		return begun
	}
	return v.Do("PATCH", begun.Header.Get("Location"), bytes.NewReader(data), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
}

func (w *world) intakeInto(folder uuid.UUID, change func(t *contract.LinkTerms)) (contract.Link, string) {
	w.T.Helper()
	kind := contract.LinkKindIntake
	terms := contract.LinkTerms{Items: []uuid.UUID{folder}, Kind: &kind}
	if change != nil {
		change(&terms)
	}
	return w.link(terms)
}

func (w *world) enter(token string, c contract.OpenLink) *testkit.Client {
	w.T.Helper()
	v := w.Visitor()
	v.Want(204, "POST", "/api/visits/"+token, c)
	return v
}

// Papers come in: into the sender's folder, each a document of its own, and
// nobody who brings some sees what others brought.
func TestPapersComeIn(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	folder := testkit.Post[contract.Folder](w.luca, 201, fmt.Sprintf("/api/folders/%s/folders", w.top), contract.NewName{Name: "05 Intake"}).Id
	w.luca.Upload(folder, "", "certificate.pdf", []byte("what lay there"))
	l, token := w.intakeInto(folder, func(t *contract.LinkTerms) {
		t.Expected = &[]string{"Class certificate", "Log book"}
		t.Tell = ptr(contract.Each)
	})
	if l.Kind != contract.LinkKindIntake || len(l.Expected) != 2 || l.Expected[0].Here || !strings.Contains(sentenceOf(l.Sentence), "may put files into the folder 05 Intake") {
		t.Errorf("the link: %+v", l)
	}
	w.luca.Want(202, "POST", "/api/links/"+l.Id.String()+"/mail", contract.LinkMail{To: []string{"b.quist@calder.example"}})
	letters := w.Mail.Messages("b.quist@calder.example")
	waitFor(t, func() bool { letters = w.Mail.Messages("b.quist@calder.example"); return len(letters) == 1 })
	if !strings.Contains(letters[0].Text, "Class certificate") || strings.Contains(letters[0].Text, "download") {
		t.Errorf("the letter: %s", letters[0].Text)
	}
	quist, other := w.enter(token, contract.OpenLink{}), w.enter(token, contract.OpenLink{})
	visit := "/api/visits/" + token
	scan := []byte("a scan of the certificate")
	for _, a := range []testkit.Answer{put(quist, token, "certificate.pdf", scan), put(quist, token, "certificate.pdf", []byte("another")), put(quist, token, "page 1.jpg", []byte("picture"), "path", "log book/july"), put(quist, token, "scan.pdf", []byte("which it is was said"), "paper", "0")} {
		if a.Status != 204 {
			t.Fatalf("%d %s", a.Status, a.Body)
		}
	}
	in := testkit.Get[contract.VisitIntake](quist, visit+"/intake")
	sum := sha256.Sum256(scan)
	if len(in.Received) != 4 || in.Received[0].Name != "certificate.pdf" || in.Received[0].Sha256 != hex.EncodeToString(sum[:]) || !in.Expected[0].Here || !in.Expected[1].Here {
		t.Errorf("the visitor sees %+v", in)
	}
	if in := testkit.Get[contract.VisitIntake](other, visit+"/intake"); len(in.Received) != 0 || in.Expected[0].Here || in.Expected[1].Here {
		t.Errorf("another one sees %+v", in)
	}
	for _, path := range []string{"/contents", "/archive", "/documents/" + w.top.String() + "/content"} {
		if a := quist.Do("GET", visit+path, nil); a.Status != 404 {
			t.Errorf("%s: %d %.100s", path, a.Status, a.Body)
		}
	}
	// The folder: nothing became a version of anything.
	rows := testkit.Get[contract.RegisterPage](w.hanne, fmt.Sprintf("/api/folders/%s/register", folder)).Rows
	names := map[string]int{}
	for _, r := range rows {
		names[r.Name] = r.Version
	}
	if len(rows) != 4 || names["certificate.pdf"] != 1 || len(names) != 4 {
		t.Errorf("the folder holds %v", names)
	}
	// Handed in: a receipt, and the sender knows.
	a := quist.Do("POST", visit+"/intake", contract.HandIn{Name: ptr("Berit Quist"), Email: ptr("b.quist@calder.example"), Note: ptr("The July pages follow.")})
	if a.Status != 200 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	waitFor(t, func() bool { letters = w.Mail.Messages("b.quist@calder.example"); return len(letters) == 2 })
	if receipt := letters[1]; !strings.Contains(receipt.Text, hex.EncodeToString(sum[:])) || !strings.Contains(receipt.Subject, "receipt") {
		t.Errorf("the receipt: %s %s", receipt.Subject, receipt.Text)
	}
	record := testkit.Get[contract.LinkRecord](w.luca, "/api/links/"+l.Id.String())
	kinds := map[string]int{}
	for _, e := range record.Events {
		kinds[string(e.Kind)]++
	}
	if kinds["link.received"] != 4 || kinds["link.handed-in"] != 1 || record.Link.Received != 4 || !record.Link.Expected[0].Here {
		t.Errorf("the record: %v %+v", kinds, record.Link)
	}
	waitFor(t, func() bool {
		for _, m := range w.Mail.Messages(w.People["luca"].Email) {
			if strings.Contains(m.Text, "papers handed in") {
				return true
			}
		}
		return false
	})
	// A page that stays open takes nothing after the end.
	w.luca.Want(204, "POST", "/api/links/"+l.Id.String()+"/end", nil)
	if a := put(quist, token, "late.pdf", []byte("late")); a.Status != 410 {
		t.Errorf("after the end: %d %s", a.Status, a.Body)
	}
}

func TestWhatAnIntakeRefuses(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	paper := w.paper("a.txt", "a")
	_, token := w.intakeInto(w.top, func(t *contract.LinkTerms) {
		t.IntakeFiles, t.IntakeBytes, t.IntakeEndings = ptr(3), ptr(int64(30)), &[]string{".PDF", "txt"}
	})
	v := w.enter(token, contract.OpenLink{})
	for name, c := range map[string]struct {
		a      testkit.Answer
		status int
		code   string
	}{
		"another kind":    {put(v, token, "a.exe", []byte("x")), 400, "ending-not-taken"},
		"too large":       {put(v, token, "a.pdf", bytes.Repeat([]byte("x"), 31)), 413, "intake-full"},
		"an unsound name": {put(v, token, "a/b.pdf", []byte("x")), 400, "name-slash"},
		"a hostile path":  {put(v, token, "a.pdf", []byte("x"), "path", "../../etc"), 400, "name-reserved"},
		"a deep path":     {put(v, token, "a.pdf", []byte("x"), "path", "1/2/3/4/5/6/7/8/9"), 400, "path-too-deep"},
		"no such paper":   {put(v, token, "b.pdf", []byte("x"), "paper", "0"), 400, "paper-unknown"},
		"no number":       {put(v, token, "b.pdf", []byte("x"), "paper", "first"), 400, "parameter"},
		"a lying hash":    {put(v, token, "c.pdf", []byte("x"), "sha256", strings.Repeat("ab", 32)), 409, "hash-differs"},
	} {
		if c.a.Status != c.status || c.code != "" && c.a.Code() != c.code {
			t.Errorf("%s: %d %s", name, c.a.Status, c.a.Body)
		}
	}
	if a := put(w.Visitor(), token, "a.pdf", []byte("x")); a.Status != 401 {
		t.Errorf("who was not let in: %d", a.Status)
	}
	// Three files mean three, however many arrive at once.
	var wg sync.WaitGroup
	for i := range 8 {
		wg.Go(func() { put(v, token, fmt.Sprintf("at once %d.txt", i), []byte("x")) })
	}
	wg.Wait()
	if in := testkit.Get[contract.VisitIntake](v, "/api/visits/"+token+"/intake"); len(in.Received) != 3 || *in.Files != 0 {
		t.Errorf("%d files came in, %d more are taken", len(in.Received), *in.Files)
	}
	// Somebody else's upload is nobody's business.
	_, second := w.intakeInto(w.top, nil)
	one, two := w.enter(second, contract.OpenLink{}), w.enter(second, contract.OpenLink{})
	begun := one.Do("POST", "/api/visits/"+second+"/uploads", nil, "Tus-Resumable", "1.0.0", "Upload-Length", "5", "Upload-Metadata", "name "+base64.StdEncoding.EncodeToString([]byte("mine.txt")))
	where := begun.Header.Get("Location")
	if a := two.Do("HEAD", where, nil, "Tus-Resumable", "1.0.0"); a.Status != 404 {
		t.Errorf("somebody else's upload: %d", a.Status)
	}
	if a := w.luca.Do("HEAD", strings.Replace(where, "/api/visits/"+second, "/api", 1), nil, "Tus-Resumable", "1.0.0"); a.Status != 404 {
		t.Errorf("the sender on a visitor's upload: %d", a.Status)
	}
	if a := one.Do("POST", "/api/visits/"+second+"/intake", contract.HandIn{}); a.Status != 409 || a.Code() != "nothing-handed-in" {
		t.Errorf("nothing handed in: %d %s", a.Status, a.Body)
	}
	kind := contract.LinkKindIntake
	for name, terms := range map[string]contract.LinkTerms{
		"intake-folder":        {Items: []uuid.UUID{paper}, Kind: &kind},
		"intake-gives-nothing": {Items: []uuid.UUID{w.top}, Kind: &kind, ViewOnly: ptr(true)},
		"ending-form":          {Items: []uuid.UUID{w.top}, Kind: &kind, IntakeEndings: &[]string{"a b"}},
		"files-range":          {Items: []uuid.UUID{w.top}, Kind: &kind, IntakeFiles: ptr(10_001)},
		"kind-unknown":         {Items: []uuid.UUID{w.top}, Kind: ptr(contract.LinkKind("post"))},
		"slug-form":            {Items: []uuid.UUID{w.top}, Slug: ptr("rероrt")},
		"slug-reserved":        {Items: []uuid.UUID{w.top}, Slug: ptr("admin")},
		"telling-unknown":      {Items: []uuid.UUID{w.top}, Tell: ptr(contract.Telling("hourly"))},
	} {
		if a := w.luca.Do("POST", "/api/links", terms); a.Status != 400 || a.Code() != name {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
}

// Whoever stops in the middle goes on where they were, also after a while.
func TestHandingInResumes(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	_, token := w.intakeInto(w.top, nil)
	v := w.enter(token, contract.OpenLink{})
	data := bytes.Repeat([]byte("soundings "), 20_000)
	begun := v.Do("POST", "/api/visits/"+token+"/uploads", nil, "Tus-Resumable", "1.0.0", "Upload-Length", fmt.Sprint(len(data)), "Upload-Metadata", "name "+base64.StdEncoding.EncodeToString([]byte("soundings.txt")))
	where, half := begun.Header.Get("Location"), 1<<16
	v.Want(204, "PATCH", where, bytes.NewReader(data[:half]), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
	w.Later(time.Hour)
	if a := v.Do("HEAD", where, nil, "Tus-Resumable", "1.0.0"); a.Header.Get("Upload-Offset") != fmt.Sprint(half) {
		t.Fatalf("it stands at %q", a.Header.Get("Upload-Offset"))
	}
	v.Want(204, "PATCH", where, bytes.NewReader(data[half:]), "Tus-Resumable", "1.0.0", "Upload-Offset", fmt.Sprint(half), "Content-Type", "application/offset+octet-stream")
	in := testkit.Get[contract.VisitIntake](v, "/api/visits/"+token+"/intake")
	sum := sha256.Sum256(data)
	if len(in.Received) != 1 || in.Received[0].Sha256 != hex.EncodeToString(sum[:]) {
		t.Errorf("%+v", in.Received)
	}
}

// Reminders go to whom the link was sent, while papers are missing.
func TestReminders(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	l, token := w.intakeInto(w.top, func(t *contract.LinkTerms) { t.Expected = &[]string{"Class certificate", "Log book"} })
	to := "b.quist@calder.example"
	remind := "/api/links/" + l.Id.String() + "/reminder"
	if a := w.luca.Do("POST", remind, nil); a.Code() != "nobody-to-remind" {
		t.Errorf("sent to nobody: %d %s", a.Status, a.Body)
	}
	w.luca.Want(202, "POST", "/api/links/"+l.Id.String()+"/mail", contract.LinkMail{To: []string{to}})
	count := func() int { return len(w.Mail.Messages(to)) }
	waitFor(t, func() bool { return count() == 1 })
	hourly := func() {
		t.Helper()
		if err := w.App.Web.Links.RemindAll(t.Context()); err != nil {
			t.Fatal(err)
		}
	}
	hourly()
	w.Later(intake.Pause)
	v := w.enter(token, contract.OpenLink{})
	if a := put(v, token, "class certificate.pdf", []byte("scan")); a.Status != 204 {
		t.Fatal(a.Status)
	}
	hourly()
	hourly()
	waitFor(t, func() bool { return count() == 2 })
	if text := w.Mail.Messages(to)[1].Text; strings.Contains(text, "Class certificate") || !strings.Contains(text, "Log book") || !strings.Contains(text, "still waiting") {
		t.Errorf("the reminder: %s", text)
	}
	w.luca = w.SignIn("luca")
	w.luca.Want(204, "POST", remind, nil)
	waitFor(t, func() bool { return count() == 3 })
	if a := put(v, token, "log book.pdf", []byte("pages")); a.Status != 204 {
		t.Fatal(a.Status)
	}
	w.Later(intake.Pause)
	hourly()
	w.luca = w.SignIn("luca")
	if a := w.luca.Do("POST", remind, nil); a.Code() != "nobody-to-remind" || count() != 3 {
		t.Errorf("all is here: %d %s, %d mails", a.Status, a.Body, count())
	}
}

// Many files through one link, several at a time; INTAKE_FILES says how many.
func TestManyFilesThroughOneLink(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	files := 100
	if n, err := strconv.Atoi(os.Getenv("INTAKE_FILES")); err == nil && n > 0 {
		files = n
	}
	w := newWorld(t)
	l, token := w.intakeInto(w.top, nil)
	v := w.enter(token, contract.OpenLink{})
	numbers := make(chan int)
	var wg sync.WaitGroup
	for range 6 {
		wg.Go(func() {
			for n := range numbers {
				if a := put(v, token, fmt.Sprintf("IMG_%05d.jpg", n), fmt.Appendf(nil, "picture %d", n)); a.Status != 204 {
					t.Errorf("file %d: %d %s", n, a.Status, a.Body)
				}
			}
		})
	}
	for n := range files {
		numbers <- n
	}
	close(numbers)
	wg.Wait()
	var there int
	if err := w.App.DB.Get(&there, `SELECT count(DISTINCT r.item_id) FROM link_received r JOIN items i ON i.id = r.item_id AND i.sha256 = r.sha256 WHERE r.link_id = $1`, l.Id); err != nil || there != files {
		t.Errorf("%d of %d files came in, %v", there, files, err)
	}
}

// Outsiders work in a folder: they view, add and change, within what the link
// gives and nowhere else.
func TestWorkingTogetherByLink(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	make := func(in uuid.UUID, name string) uuid.UUID {
		return testkit.Post[contract.Folder](w.luca, 201, fmt.Sprintf("/api/folders/%s/folders", in), contract.NewName{Name: name}).Id
	}
	yard := make(w.top, "The yard")
	below := make(yard, "Frames")
	beside := make(w.top, "Beside")
	doc := w.luca.Upload(yard, "", "estimate.txt", []byte("first")).Document.Id
	w.hanne.Upload(below, "", "private.txt", []byte("ours"))
	kind := contract.LinkKindWorking
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{yard}, Kind: &kind})
	if l.Kind != contract.LinkKindWorking || !l.Newest || !strings.Contains(sentenceOf(l.Sentence), "may view, add and change papers in the folder The yard") {
		t.Errorf("%+v %s", l, sentenceOf(l.Sentence))
	}
	v := w.enter(token, contract.OpenLink{})
	visit := "/api/visits/" + token
	if got := testkit.Get[contract.LinkContents](v, visit+"/contents"); !got.MayAdd || len(got.Files) != 1 {
		t.Errorf("%+v", got)
	}
	for _, a := range []testkit.Answer{put(v, token, "Estimate.txt", []byte("second")), put(v, token, "plan.txt", []byte("plan")), put(v, token, "31.txt", []byte("8.1 mm"), "folder", below.String())} {
		if a.Status != 204 {
			t.Fatalf("%d %s", a.Status, a.Body)
		}
	}
	if a := put(v, token, "elsewhere.txt", []byte("x"), "folder", beside.String()); a.Status != 404 {
		t.Errorf("into another folder: %d %s", a.Status, a.Body)
	}
	if a := put(v, token, "elsewhere.txt", []byte("x"), "folder", "nowhere"); a.Status != 400 {
		t.Errorf("into no folder: %d %s", a.Status, a.Body)
	}
	if a := v.Do("GET", visit+"/documents/"+doc.String()+"/content?download", nil); string(a.Body) != "second" {
		t.Errorf("the newest is %q", a.Body)
	}
	slip := testkit.Get[contract.Document](w.luca, "/api/documents/"+doc.String())
	if len(slip.Versions) != 2 {
		t.Errorf("%d versions", len(slip.Versions))
	}
	kinds := map[string]int{}
	for _, e := range testkit.Get[contract.LinkRecord](w.luca, "/api/links/"+l.Id.String()).Events {
		kinds[string(e.Kind)]++
	}
	if kinds["link.received"] != 2 || kinds["link.revised"] != 1 {
		t.Errorf("the record: %v", kinds)
	}
	// What is closed meanwhile is no longer worked on.
	w.hanne.Want(204, "PUT", "/api/items/"+below.String()+"/closed", contract.Closed{Closed: true})
	if a := put(v, token, "32.txt", []byte("x"), "folder", below.String()); a.Status != 404 {
		t.Errorf("into what was closed: %d %s", a.Status, a.Body)
	}
	w.luca.Want(204, "POST", "/api/links/"+l.Id.String()+"/end", nil)
	if a := put(v, token, "late.txt", []byte("late")); a.Status != 410 {
		t.Errorf("after the end: %d", a.Status)
	}
	// A link that only gives takes nothing.
	_, giving := w.link(contract.LinkTerms{Items: []uuid.UUID{yard}})
	if a := put(w.enter(giving, contract.OpenLink{}), giving, "a.txt", []byte("x")); a.Status != 404 {
		t.Errorf("through a link that gives: %d", a.Status)
	}
	for name, terms := range map[string]contract.LinkTerms{"working-folder": {Items: []uuid.UUID{doc}, Kind: &kind}, "working-view-only": {Items: []uuid.UUID{yard}, Kind: &kind, ViewOnly: ptr(true)}} {
		if a := w.luca.Do("POST", "/api/links", terms); a.Status != 400 || a.Code() != name {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
}

// Who made a version is said as it is: a visitor through a link, never the one who
// gave the link out; and whom the link was for is nobody's who may not share it.
func TestVisitorsAreTheMakersOfWhatTheyBring(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	maker := func(c *testkit.Client, doc uuid.UUID, version int) contract.Actor {
		t.Helper()
		for _, v := range testkit.Get[contract.Document](c, "/api/documents/"+doc.String()).Versions {
			if v.Number == version {
				return v.By
			}
		}
		t.Fatalf("no version %d", version)
		return contract.Actor{}
	}
	stated := contract.IdentityStated
	kind := contract.LinkKindWorking
	yard := testkit.Post[contract.Folder](w.luca, 201, fmt.Sprintf("/api/folders/%s/folders", w.top), contract.NewName{Name: "The yard"}).Id
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{yard}, Kind: &kind, Identify: &stated, Name: ptr("Yard papers")})
	own := w.luca.Upload(yard, "", "plan.txt", []byte("drawn by Luca")).Document.Id
	visitor := w.enter(token, contract.OpenLink{Email: ptr("b.quist@calder.example")})
	for name, text := range map[string]string{"survey.txt": "from outside", "plan.txt": "changed outside"} {
		if a := put(visitor, token, name, []byte(text)); a.Status != 204 {
			t.Fatalf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	var fresh uuid.UUID
	for _, r := range testkit.Get[contract.RegisterPage](w.luca, fmt.Sprintf("/api/folders/%s/register", yard)).Rows {
		if r.Name == "survey.txt" {
			fresh = r.Id
		}
	}
	if a := maker(w.luca, own, 1); a.Kind != contract.ActorKindPerson || a.Name != "Luca Ferrante" || a.LinkId != nil {
		t.Errorf("Luca's own: %+v", a)
	}
	for doc, version := range map[uuid.UUID]int{fresh: 1, own: 2} {
		a := maker(w.luca, doc, version)
		if a.Kind != contract.ActorKindVisitor || a.Name != "b.quist@calder.example" || a.LinkId == nil || *a.LinkId != l.Id || *a.LinkName != "Yard papers" {
			t.Errorf("for the sender: %+v", a)
		}
		// Priya sees what the link gives, but may not share it.
		if a := maker(w.priya, doc, version); a.Kind != contract.ActorKindVisitor || a.Name != "" || *a.LinkName != "Yard papers" {
			t.Errorf("for who only looks: %+v", a)
		}
	}
	// Who sees the document and not all that the link gives does not see the link.
	w.Give("hanne", fresh, "tomasz", access.LevelView)
	if a := maker(w.tomasz, fresh, 1); a.Kind != contract.ActorKindVisitor || a.Name != "" || a.LinkId != nil || a.LinkName != nil {
		t.Errorf("for who does not see the link: %+v", a)
	}
	// A version that is kept apart keeps its maker.
	apart := testkit.Post[contract.Place](w.luca, 201, "/api/documents/"+own.String()+"/versions/2/separation", nil)
	if a := maker(w.luca, apart.Id, 1); a.Kind != contract.ActorKindVisitor {
		t.Errorf("kept apart: %+v", a)
	}
	kinds := map[string]contract.ActorKind{}
	for _, e := range testkit.Get[contract.Stream](w.luca, "/api/activity").Events {
		kinds[string(e.Kind)] = e.ActorKind
	}
	if kinds["document.added"] != contract.ActorKindPerson || kinds["link.received"] != contract.ActorKindVisitor || kinds["link.revised"] != contract.ActorKindVisitor {
		t.Errorf("%v", kinds)
	}
}

// Folders that a visitor drags in become folders: once each, whatever lies there
// already under their names, which they neither learn of nor get into.
func TestFoldersThatAVisitorBrings(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	folder := testkit.Post[contract.Folder](w.luca, 201, fmt.Sprintf("/api/folders/%s/folders", w.top), contract.NewName{Name: "From the yard"}).Id
	secret := testkit.Post[contract.Folder](w.luca, 201, fmt.Sprintf("/api/folders/%s/folders", folder), contract.NewName{Name: "Log book"}).Id
	_, token := w.intakeInto(folder, nil)
	v, other := w.enter(token, contract.OpenLink{}), w.enter(token, contract.OpenLink{})
	var wg sync.WaitGroup
	for i := range 6 {
		wg.Go(func() {
			if a := put(v, token, fmt.Sprintf("page %d.jpg", i), []byte{byte(i)}, "path", []string{"log book", "log book/july"}[i%2]); a.Status != 204 {
				t.Errorf("%d %s", a.Status, a.Body)
			}
		})
	}
	wg.Wait()
	put(other, token, "page 9.jpg", []byte("9"), "path", "log book")
	held := map[string][]int{}
	for _, f := range w.dossier().Folders {
		if f.Id == secret && f.Documents != 0 {
			t.Errorf("%d of them came into the folder that was there", f.Documents)
		}
		held[f.Name] = append(held[f.Name], f.Documents)
	}
	slices.Sort(held["log book"])
	if fmt.Sprint(held["log book"]) != "[1 6]" || fmt.Sprint(held["july"]) != "[3]" || fmt.Sprint(held["Log book"]) != "[0]" {
		t.Errorf("the folders hold %v", held)
	}
	in := testkit.Get[contract.VisitIntake](v, "/api/visits/"+token+"/intake")
	if len(in.Received) != 6 || !strings.HasPrefix(in.Received[0].Name, "log book/") {
		t.Errorf("the visitor sees %+v", in.Received)
	}
	// Where one of them is taken elsewhere, or a paper into another folder, nothing goes
	// there after it.
	var own, page uuid.UUID
	for _, f := range w.dossier().Folders {
		if f.Name == "log book" && f.Documents == 6 {
			own = f.Id
		}
	}
	page = testkit.Get[contract.RegisterPage](w.luca, fmt.Sprintf("/api/folders/%s/register", own)).Rows[0].Id
	w.Give("hanne", w.top, "luca", access.LevelManage)
	w.luca.Want(204, "POST", "/api/items/move", contract.Move{Items: []uuid.UUID{page}, To: secret})
	w.luca.Want(204, "POST", "/api/items/move", contract.Move{Items: []uuid.UUID{own}, To: w.top})
	put(v, token, "after.txt", []byte("x"), "path", "Log book")
	for _, id := range []uuid.UUID{secret, own} {
		for _, r := range testkit.Get[contract.RegisterPage](w.luca, fmt.Sprintf("/api/folders/%s/register", id)).Rows {
			if r.Name == "after.txt" {
				t.Error("it came into a folder that was moved, or that a paper was moved into")
			}
		}
	}
	// No folder is reached by its id, neither one that was there nor another's.
	for name, id := range map[string]uuid.UUID{"one that was there": secret, "the dossier": w.top, "one taken elsewhere": own} {
		if a := put(v, token, "x.txt", []byte("x"), "folder", id.String()); a.Status != 404 {
			t.Errorf("into %s: %d %s", name, a.Status, a.Body)
		}
	}
}

package api_test

import (
	"archive/zip"
	"bytes"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/evidence"
	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		return []endpoint{
			{"GET", "/evidence", "", nil, inside},
			{"POST", "/evidence/seal", "", nil, inside},
			{"POST", "/evidence/check", "", nil, admin},
			{"PUT", "/evidence/witnesses", "", contract.Witnesses{Emails: []string{}}, admin},
			{"GET", "/evidence/trail", "/evidence/trail?since=2020-01-01T00:00:00Z", nil, inside},
		}
	})
	apart["GET /evidence/events/{event}"] = "events are not in the matrix; see TestABundleHoldsWhatOneMayKnow"
}

// bundle fetches evidence and checks it.
func (o *office) bundle(c *testkit.Client, query string) (evidence.Bundle, evidence.Report, []byte) {
	o.T.Helper()
	a := c.Want(200, "GET", "/api/evidence/bundle?"+query, nil)
	b, r := o.checked(a.Body, evidence.Trust{})
	return b, r, a.Body
}

func (o *office) checked(archive []byte, trust evidence.Trust) (b evidence.Bundle, r evidence.Report) {
	o.T.Helper()
	files := unpacked(o.T, archive)
	if err := json.Unmarshal(files["evidence.json"], &b); err != nil {
		o.T.Fatal(err)
	}
	hashes := map[string]string{}
	for name, raw := range files {
		hashes[name] = fmt.Sprintf("%x", sha256.Sum256(raw))
	}
	return b, evidence.Check(b, trust, hashes)
}

func unpacked(t testing.TB, archive []byte) map[string][]byte {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(archive), int64(len(archive)))
	if err != nil {
		t.Fatal(err)
	}
	files := map[string][]byte{}
	for _, f := range z.File {
		r, err := f.Open()
		if err != nil {
			t.Fatal(err)
		}
		if files[f.Name], err = io.ReadAll(r); err != nil {
			t.Fatal(err)
		}
	}
	return files
}

// A document's bundle proves what happened to it: by the command's rules, and by a checker
// that somebody else wrote from the description.
func TestADocumentIsProven(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.luca.Upload(o.reports, "", "plan.txt", []byte("plan, again"))
	o.link(contract.LinkTerms{Items: []uuid.UUID{o.plan}, Name: ptr("for the yard")})
	item := "item=" + o.plan.String()

	before := testkit.Get[contract.Trail](o.hanne, "/api/evidence/trail?"+item)
	if len(before.Events) < 2 || len(before.Seals) != 0 {
		t.Fatalf("%+v", before)
	}
	b, r, raw := o.bundle(o.hanne, item+"&contents=yes")
	if !r.Holds() || len(b.Events) != len(before.Events) || len(b.Versions) != 2 || b.Versions[1].File != "versions/2.txt" {
		t.Errorf("%v\n%+v", r, b)
	}
	said := strings.Join(r.Proven, "\n")
	for _, want := range []string{"is signed by the key", "2 versions have the hash", "2 contents in the archive"} {
		if !strings.Contains(said, want) {
			t.Errorf("it does not say %q:\n%s", want, said)
		}
	}
	files := unpacked(t, raw)
	if string(files["versions/2.txt"]) != "plan, again" || !bytes.HasPrefix(files["evidence.pdf"], []byte("%PDF-")) || !strings.Contains(string(files["evidence.html"]), "MER-24/") {
		t.Error("what is to be read is missing")
	}
	path := filepath.Join(t.TempDir(), "bundle.zip")
	if err := os.WriteFile(path, raw, 0o600); err != nil {
		t.Fatal(err)
	}
	out, err := exec.CommandContext(t.Context(), "python3", "../evidence/check.py", path).CombinedOutput()
	if want := fmt.Sprintf("%d events, 2 versions, checkpoint of", len(b.Events)); err != nil || !strings.Contains(string(out), want) {
		t.Errorf("the other checker: %s, %v", out, err)
	}

	// On the screen it is sealed now, and its proof leads to the checkpoint.
	after := testkit.Get[contract.Trail](o.hanne, "/api/evidence/trail?"+item)
	if len(after.Seals) != len(after.Events) {
		t.Errorf("%+v", after)
	}
	p := testkit.Get[contract.EventProof](o.hanne, fmt.Sprintf("/api/evidence/events/%d", after.Events[0].Id))
	state := testkit.Get[contract.EvidenceLog](o.hanne, "/api/evidence")
	if p.Place != after.Seals[0].Place || p.Checkpoint.Root != state.Checkpoint.Root || len(p.Steps) == 0 || state.Size != p.Checkpoint.Size || state.Waiting != 0 {
		t.Errorf("%+v\n%+v", p, state)
	}
	// Of a later one, the log has grown out of the earlier: whoever was sent the first
	// checkpoint sees that it is the same log.
	o.Later(25 * time.Hour)
	o.hanne = o.SignIn("hanne")
	o.hanne.Upload(o.reports, "", "later.txt", []byte("later"))
	_, _, later := o.bundle(o.hanne, "dossier=MER-24")
	if _, r := o.checked(later, evidence.Trust{Key: b.Key, Witnessed: b.Checkpoint}); !r.Holds() || !strings.Contains(strings.Join(r.Proven, "\n"), "was sent before") {
		t.Errorf("%+v", r)
	}
}

// What somebody may not know of stays out of their bundle, or sealed in it.
func TestABundleHoldsWhatOneMayKnow(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	link, token := o.link(contract.LinkTerms{Items: []uuid.UUID{o.plan}, Name: ptr("for the yard"), Identify: ptr(contract.Identity("stated"))})
	v := o.Visitor()
	v.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{Email: ptr("marit@pelham-dock.example")})
	v.Want(200, "GET", "/api/visits/"+token+"/documents/"+o.plan.String()+"/content", nil)
	of := "item=" + o.plan.String()
	whole, _, raw := o.bundle(o.hanne, of)
	if !strings.Contains(string(unpacked(t, raw)["evidence.json"]), "marit@pelham-dock.example") {
		t.Fatal("nobody came")
	}
	// Priya may look, not give out: whom a link brought is not hers to know.
	less, r, raw := o.bundle(o.priya, of)
	for name, text := range unpacked(t, raw) {
		if strings.Contains(string(text), "marit@") {
			t.Errorf("%s names the visitor", name)
		}
	}
	if !r.Holds() || len(less.Events) != len(whole.Events) {
		t.Errorf("%d events of %d; %+v", len(less.Events), len(whole.Events), r)
	}
	opened := 0
	for _, e := range less.Events {
		opened += len(e.Opened)
	}
	if opened >= 4*len(less.Events) {
		t.Error("nothing stays sealed")
	}
	for _, query := range []string{of, "dossier=MER-24", "link=" + link.Id.String(), of + "&contents=yes"} {
		o.tomasz.Want(404, "GET", "/api/evidence/bundle?"+query, nil)
		o.tomasz.Want(404, "GET", "/api/evidence/trail?"+query, nil)
	}
	o.tomasz.Want(404, "GET", "/api/evidence/bundle?since=2020-01-01T00:00:00Z", nil) // Nothing that he may know of happened.
	id := whole.Events[0]
	var e evidence.Entry
	if err := json.Unmarshal([]byte(id.Entry), &e); err != nil {
		t.Fatal(err)
	}
	o.tomasz.Want(404, "GET", fmt.Sprintf("/api/evidence/events/%d", e.Event), nil)
	guestID, guest := o.account("client", accounts.Guest)
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.plan}, to(guestID)))
	for _, query := range []string{"/bundle?" + of, "/trail?" + of, fmt.Sprintf("/events/%d", e.Event), ""} {
		guest.Want(403, "GET", "/api/evidence"+query, nil)
	}
	o.priya.Want(403, "GET", "/api/links/"+link.Id.String()+"/receipt", nil)
	o.tomasz.Want(404, "GET", "/api/links/"+link.Id.String()+"/receipt", nil)
	for _, c := range []struct{ query, code string }{
		{"", "evidence-subject"}, {of + "&dossier=MER-24", "evidence-subject"}, {"item=x", "parameter"}, {of + "&since=yesterday", "parameter"},
		{of + "&since=2026-01-02T00:00:00Z&until=2026-01-01T00:00:00Z", "evidence-span"}, {of + "&until=2020-01-01T00:00:00Z", "evidence-none"},
	} {
		if a := o.hanne.Do("GET", "/api/evidence/bundle?"+c.query, nil); a.Code() != c.code {
			t.Errorf("%q: %d %s", c.query, a.Status, a.Body)
		}
	}
}

// A receipt says who opened and fetched what, how surely that is known, and is signed.
func TestReceipts(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	link, token := o.link(contract.LinkTerms{Items: []uuid.UUID{o.plan, o.draft}, Name: ptr("for the yard"), Identify: ptr(contract.Identity("stated"))})
	for _, who := range []string{"marit@pelham-dock.example", "sunniva@dunlin.example"} {
		v := o.Visitor()
		v.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{Email: &who})
		v.Want(200, "GET", "/api/visits/"+token+"/documents/"+o.plan.String()+"/content?download", nil)
	}
	for query, lines := range map[string]int{"": 4, "?for=Marit@pelham-dock.example": 2} {
		files := unpacked(t, o.hanne.Want(200, "GET", "/api/links/"+link.Id.String()+"/receipt"+query, nil).Body)
		var r struct {
			Taken []struct{ Who, Known, What, SHA256 string }
		}
		if err := json.Unmarshal(files["receipt.json"], &r); err != nil || len(r.Taken) != lines || r.Taken[1].What != "fetched" || r.Taken[1].Known != "as they stated" || r.Taken[1].SHA256 != fmt.Sprintf("%x", sha256.Sum256([]byte("plan"))) {
			t.Errorf("%s: %+v, %v", query, r, err)
		}
		var b evidence.Bundle
		if err := json.Unmarshal(files["evidence.json"], &b); err != nil {
			t.Fatal(err)
		}
		hashes := map[string]string{}
		for name, raw := range files {
			hashes[name] = fmt.Sprintf("%x", sha256.Sum256(raw))
		}
		good := evidence.Check(b, evidence.Trust{}, hashes)
		evidence.CheckReceipt(&good, string(files["receipt.txt"]), []string{b.Key}, hashes)
		hashes["receipt.pdf"] = strings.Repeat("0", 64)
		bad := evidence.Check(b, evidence.Trust{}, hashes)
		evidence.CheckReceipt(&bad, string(files["receipt.txt"]), []string{b.Key}, hashes)
		if !good.Holds() || bad.Holds() || query != "" && strings.Contains(string(files["receipt.pdf"])+string(files["evidence.json"]), "sunniva") {
			t.Errorf("%+v, %+v", good, bad)
		}
	}
	if a := o.hanne.Do("GET", "/api/links/"+link.Id.String()+"/receipt?for=nobody@example.org", nil); a.Code() != "evidence-none" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
}

// Whatever is changed behind the application's back is found, with its place.
func TestTheLogIsComparedWithWhatHappened(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	for i := range 300 {
		o.sealed(fmt.Sprintf("INSERT %d", i))
	}
	if err := o.App.Evidence.SealAll(t.Context()); err != nil {
		t.Fatal(err)
	}
	state := testkit.Get[contract.EvidenceLog](o.hanne, "/api/evidence")
	if f := o.compared(); !f.Sound() || f.Size != state.Size || f.Size < 300 {
		t.Fatalf("%+v", f)
	}
	var id int64
	if err := o.App.DB.Get(&id, `SELECT event_id FROM sealed_events WHERE place = 7`); err != nil {
		t.Fatal(err)
	}
	at := func(l evidence.List, place int64) bool { return l.Count == 1 && l.First[0].Place == place }
	for name, c := range map[string]struct {
		change string
		found  func(f evidence.Findings) bool
	}{
		"altered":         {`UPDATE events SET data = '{"name":"another"}' WHERE id = $1`, func(f evidence.Findings) bool { return at(f.Altered, 7) && f.Altered.First[0].Event == id }},
		"antedated":       {`UPDATE events SET at = at - interval '1 second' WHERE id = $1`, func(f evidence.Findings) bool { return at(f.Altered, 7) }},
		"said of another": {`UPDATE events SET person_id = (SELECT id FROM people WHERE id <> person_id LIMIT 1) WHERE id = $1`, func(f evidence.Findings) bool { return at(f.Altered, 7) }},
		"removed":         {`DELETE FROM event_scopes WHERE event_id = $1; DELETE FROM events WHERE id = $1`, func(f evidence.Findings) bool { return at(f.Removed, 7) && f.Removed.First[0].Event == id }},
		"removed, both":   {`DELETE FROM event_scopes WHERE event_id = $1; DELETE FROM events WHERE id = $1; DELETE FROM sealed_events WHERE event_id = $1`, func(f evidence.Findings) bool { return at(f.Removed, 7) }},
		"put in":          {`INSERT INTO events (at, kind, data) SELECT at, kind, data FROM events WHERE id = $1`, func(f evidence.Findings) bool { return f.PutIn.Count == 1 && f.PutIn.First[0].Event > id }},
		"moved":           {`UPDATE sealed_events SET place = CASE place WHEN 7 THEN -1 ELSE -2 END WHERE place IN (7, 20); UPDATE sealed_events SET place = CASE place WHEN -1 THEN 20 ELSE 7 END WHERE place < 0 AND $1 > 0`, func(f evidence.Findings) bool { return f.Moved.Count == 2 && f.Altered.Count == 0 }},
		"the log's own":   {`UPDATE evidence_tiles SET hashes = set_byte(hashes, 40, 255 - get_byte(hashes, 40)) WHERE level = 0 AND n = 0 AND $1 > 0`, func(f evidence.Findings) bool { return at(f.Altered, 1) && len(f.Log) > 0 }},
		"its level above": {`UPDATE evidence_tiles SET hashes = set_byte(hashes, 0, 255 - get_byte(hashes, 0)) WHERE level = 1 AND $1 > 0`, func(f evidence.Findings) bool { return len(f.Log) > 0 }},
		"a checkpoint":    {`UPDATE checkpoints SET signed = replace(signed, '/evidence/', '/evidenc3/') WHERE $1 > 0`, func(f evidence.Findings) bool { return len(f.Log) > 0 }},
		"its end is cut off": {`UPDATE evidence_log SET size = 256 WHERE $1 > 0; DELETE FROM sealed_events WHERE place >= 256`, func(f evidence.Findings) bool {
			return strings.Contains(fmt.Sprint(f.Log), "cut off") && f.PutIn.Count > 0
		}},
		"another key is told": {`UPDATE evidence_keys SET verifier = 'x+1+y' WHERE $1 > 0`, func(f evidence.Findings) bool { return f.Sound() }},
	} {
		tx, err := o.App.DB.Beginx()
		if err != nil {
			t.Fatal(err)
		}
		_, err = tx.Exec(`SET LOCAL session_replication_role = replica`)
		for _, statement := range strings.Split(c.change, "; ") {
			if err == nil && strings.Contains(statement, "$1") {
				_, err = tx.Exec(statement, id)
			} else if err == nil {
				_, err = tx.Exec(statement)
			}
		}
		if err != nil {
			t.Fatal(name, err)
		}
		f, err := o.App.Evidence.Compare(t.Context(), tx)
		if err != nil || !c.found(f) {
			t.Errorf("%s: %+v, %v", name, f, err)
		}
		if err := tx.Rollback(); err != nil {
			t.Fatal(err)
		}
	}
	if f := o.compared(); !f.Sound() {
		t.Errorf("%+v", f)
	}
}

// sealed makes something happen.
func (o *office) sealed(name string) {
	o.T.Helper()
	o.hanne.Want(204, "PUT", "/api/items/"+o.draft.String()+"/name", contract.NewName{Name: name + ".txt"})
}

func (o *office) compared(given ...string) evidence.Findings {
	o.T.Helper()
	f, err := o.App.Evidence.Compare(o.T.(*testing.T).Context(), o.App.DB, given...)
	if err != nil {
		o.T.Fatal(err)
	}
	return f
}

// However many seal at once, on however many servers, while others act: every event is
// sealed, and once.
func TestSealingAtOnce(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	var all sync.WaitGroup
	for i := range 6 {
		all.Go(func() {
			for n := range 12 {
				o.hanne.Upload(o.reports, "", fmt.Sprintf("%d-%d.txt", i, n), []byte("x"))
			}
		})
		all.Go(func() {
			for range 12 {
				o.luca.Want(204, "POST", "/api/evidence/seal", nil)
			}
		})
	}
	all.Wait()
	o.hanne.Want(204, "POST", "/api/evidence/seal", nil)
	var events, sealed, waiting int
	if err := o.App.DB.QueryRow(`SELECT (SELECT count(*) FROM events), (SELECT count(*) FROM sealed_events), (SELECT count(*) FROM unsealed_events)`).Scan(&events, &sealed, &waiting); err != nil {
		t.Fatal(err)
	}
	if f := o.compared(); !f.Sound() || events != sealed || waiting != 0 || f.Size != int64(sealed) {
		t.Errorf("%d events, %d sealed, %d wait; %+v", events, sealed, waiting, f)
	}
}

// What may be personal in an event can be erased: the log still agrees, and so does what
// was proven before.
func TestErasing(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	before, _, old := o.bundle(o.hanne, "item="+o.plan.String())
	var e evidence.Entry
	if err := json.Unmarshal([]byte(before.Events[0].Entry), &e); err != nil {
		t.Fatal(err)
	}
	if _, err := o.App.DB.Exec(`UPDATE events SET network = '' WHERE id = $1`, e.Event); err == nil {
		t.Error("an event can be changed")
	}
	for range 2 {
		if err := o.App.Evidence.Erase(t.Context(), e.Event); err != nil {
			t.Fatal(err)
		}
	}
	if err := o.App.Evidence.Erase(t.Context(), 1<<40); err == nil {
		t.Error("what never happened is erased")
	}
	after, r, _ := o.bundle(o.hanne, "item="+o.plan.String())
	if !r.Holds() || after.Events[0].Entry != before.Events[0].Entry || len(after.Events[0].Opened) != 0 {
		t.Errorf("%+v\n%+v", r, after.Events[0])
	}
	if f := o.compared(); !f.Sound() {
		t.Errorf("%+v", f)
	}
	if _, r := o.checked(old, evidence.Trust{}); !r.Holds() {
		t.Errorf("%+v", r)
	}
	var left int
	if err := o.App.DB.Get(&left, `SELECT count(*) FROM events WHERE id = $1 AND (network <> '' OR agent <> '' OR person_id IS NOT NULL OR data <> '{}')`, e.Event); err != nil || left != 0 {
		t.Errorf("something is left, %v", err)
	}
}

// The newest checkpoint goes to the witnesses once a day, and can be compared later; a
// new key is announced by the old one.
func TestWitnessesAndKeys(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	names := func(status int, emails ...string) testkit.Answer {
		return o.hanne.Want(status, "PUT", "/api/evidence/witnesses", contract.Witnesses{Emails: emails})
	}
	names(400, "nobody")
	names(400, strings.Split(strings.Repeat("a@b.example,", 11), ",")...)
	o.luca.Want(403, "PUT", "/api/evidence/witnesses", contract.Witnesses{Emails: []string{"luca@halyard-rook.example"}})
	names(204, "witness@dunlin.example", "witness@dunlin.example")
	if s := testkit.Get[contract.EvidenceLog](o.luca, "/api/evidence"); len(s.Witnesses) != 0 || s.MayAdminister {
		t.Errorf("%+v", s)
	}
	told := func() []string {
		t.Helper()
		o.duty("send the checkpoint to its witnesses")
		var all []string
		for _, m := range o.Mail.Messages("witness@dunlin.example") {
			all = append(all, m.Text)
		}
		return all
	}
	hours := time.Duration(24-o.Now().UTC().Hour()+3) * time.Hour
	o.Later(hours) // Three at night.
	n := len(told())
	o.Later(4 * time.Hour)
	told()
	waitFor(t, func() bool { return len(told()) == n+1 })
	o.Later(10 * time.Minute)
	told()
	signed, err := evidence.FindNote(told()[n])
	if err != nil || len(told()) != n+1 {
		t.Fatalf("%v: %d messages\n%s", err, len(told()), told()[n])
	}
	o.hanne = o.SignIn("hanne")
	o.sealed("after")
	if f := o.compared(signed); !f.Sound() {
		t.Errorf("%+v", f)
	}
	if f := o.compared(strings.Replace(signed, "\n", "x\n", 1)); f.Sound() {
		t.Error("a forged checkpoint agrees")
	}
	old := testkit.Get[contract.EvidenceLog](o.hanne, "/api/evidence").Checkpoint.Key
	fresh, err := o.App.Evidence.Rotate(t.Context())
	if err != nil || fresh == old {
		t.Fatal(fresh, err)
	}
	both := testkit.Get[contract.EvidenceLog](o.hanne, "/api/evidence").Checkpoint
	for _, key := range []string{old, fresh} {
		if _, _, err := evidence.OpenCheckpoint(both.Signed, []string{key}); err != nil {
			t.Errorf("%s: %v", key, err)
		}
	}
	o.sealed("after that")
	_, _, raw := o.bundle(o.hanne, "dossier=MER-24")
	if _, r := o.checked(raw, evidence.Trust{Key: fresh, Witnessed: signed}); !r.Holds() {
		t.Errorf("%+v", r)
	}
	if f := o.compared(signed); !f.Sound() {
		t.Errorf("%+v", f)
	}
	o.hanne.Want(202, "POST", "/api/evidence/check", nil)
	waitFor(t, func() bool { return testkit.Get[contract.EvidenceLog](o.hanne, "/api/evidence").Check != nil })
	if c := testkit.Get[contract.EvidenceLog](o.hanne, "/api/evidence").Check; c.Altered+c.Removed+c.PutIn+c.Moved+len(c.Log) != 0 || c.Size == 0 {
		t.Errorf("%+v", c)
	}
}

// The commands check without a server, and say what is wrong.
func TestVerifyingByCommand(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	bin := testkit.Program(t)
	b, _, raw := o.bundle(o.hanne, "item="+o.plan.String())
	dir := t.TempDir()
	file := func(name string, raw []byte) string {
		path := filepath.Join(dir, name)
		if err := os.WriteFile(path, raw, 0o644); err != nil {
			t.Fatal(err)
		}
		return path
	}
	packed := func(change func(files map[string][]byte)) []byte {
		files := unpacked(t, raw)
		change(files)
		var out bytes.Buffer
		z := zip.NewWriter(&out)
		for name, raw := range files {
			w, err := z.Create(name)
			if err == nil {
				_, err = w.Write(raw)
			}
			if err != nil {
				t.Fatal(err)
			}
		}
		if err := z.Close(); err != nil {
			t.Fatal(err)
		}
		return out.Bytes()
	}
	whole, mail := file("whole.zip", raw), file("mail.txt", []byte("Dear witness\r\n\r\n"+strings.ReplaceAll(b.Checkpoint, "\n", "\r\n")+"\r\nbye"))
	altered := file("altered.zip", packed(func(files map[string][]byte) {
		files["evidence.json"] = bytes.Replace(files["evidence.json"], []byte("document.added"), []byte("document.moved"), 1)
	}))
	for name, c := range map[string]struct {
		args  []string
		good  bool
		wants string
	}{
		"as it was":           {[]string{whole}, true, "Proven\n  The checkpoint of"},
		"with what one knows": {[]string{whole, "--key", b.Key, "--checkpoint", mail}, true, "was sent before"},
		"another key":         {[]string{whole, "--key", "other.example/1+" + strings.SplitN(b.Key, "+", 3)[1] + "+" + strings.SplitN(b.Key, "+", 3)[2]}, false, "Nothing is proven"},
		"altered":             {[]string{altered}, false, "is not what the log holds"},
		"cut off":             {[]string{file("cut.zip", raw[:len(raw)-200])}, false, "not a whole archive"},
		"no archive":          {[]string{file("no.zip", []byte("hello"))}, false, "not a whole archive"},
		"no evidence":         {[]string{file("none.zip", packed(func(files map[string][]byte) { delete(files, "evidence.json") }))}, false, "holds no evidence.json"},
		"broken":              {[]string{file("broken.zip", packed(func(files map[string][]byte) { files["evidence.json"] = []byte("{") }))}, false, "cannot be read"},
		"no checkpoint":       {[]string{whole, "--checkpoint", altered}, false, "there is no checkpoint in it"},
		"no such file":        {[]string{filepath.Join(dir, "nowhere.zip")}, false, "no such file"},
		"a proof of 9 MB": {[]string{file("large.zip", packed(func(files map[string][]byte) {
			files["evidence.json"] = bytes.Replace(files["evidence.json"], []byte(`"proof": [`), []byte(`"proof": [`+strings.Repeat(`"`+strings.Repeat("A", 43)+`=",`, 200000)), 1)
		}))}, false, "is not what the log holds"},
	} {
		out, err := exec.CommandContext(t.Context(), bin, append([]string{"verify", "evidence"}, c.args...)...).CombinedOutput()
		if (err == nil) != c.good || !strings.Contains(string(out), c.wants) {
			t.Errorf("%s: %v\n%s", name, err, out)
		}
	}
	// What it says can be kept in a file.
	report, err := os.Create(filepath.Join(dir, "report.txt"))
	if err != nil {
		t.Fatal(err)
	}
	cmd := exec.CommandContext(t.Context(), bin, "verify", "evidence", whole)
	cmd.Stdout = report
	if err := cmd.Run(); err != nil {
		t.Error(err)
	}
	if text, err := os.ReadFile(report.Name()); err != nil || !strings.Contains(string(text), "Not proven") {
		t.Errorf("%s, %v", text, err)
	}
	if out, err := exec.CommandContext(t.Context(), "python3", "../evidence/check.py", altered).CombinedOutput(); err == nil || !strings.Contains(string(out), "does not stand in the log") {
		t.Errorf("the other checker: %v\n%s", err, out)
	}
	out, err := o.runs("verify", "log", "--checkpoint", mail)
	if err != nil || !strings.Contains(out, "altered  0") {
		t.Errorf("%v\n%s", err, out)
	}
}

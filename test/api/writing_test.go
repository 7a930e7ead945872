package api_test

import (
	"bytes"
	"context"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"net/url"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/coder/websocket"
	"github.com/coder/websocket/wsjson"
	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		doc := o.hanne.Upload(o.top, "", "written.md", []byte("# Letter\n")).Document.Id
		at := "/documents/" + doc.String() + "/writing"
		o.hanne.Upload(o.top, "", "frame.png", onePixel)
		table := "/documents/" + o.hanne.Upload(o.top, "", "gaugings.csv", []byte("Frame,Measured\n12,8.9\n")).Document.Id.String() + "/writing"
		for _, way := range []string{"POST /visits/{token}/name", "GET /visits/{token}/documents/{id}/writing", "POST /visits/{token}/documents/{id}/writing", "GET /visits/{token}/documents/{id}/writing/changes"} {
			apart[way] = "by a working link: TestVisitorsWriteThroughWorkingLinks, TestOtherLinksLetNobodyWrite"
		}
		return []endpoint{
			{"POST", "/folders/{id}/written", "/folders/" + o.yard.String() + "/written", contract.WrittenWish{Name: "a/b"}, item(access.Add)},
			{"GET", "/documents/{id}/writing", at + "?page=" + uuid.NewString(), nil, paper(access.See | access.Download)},
			{"POST", "/documents/{id}/writing", at + "?page=" + uuid.NewString(), contract.WritingSent{Version: 1, Steps: testkit.Steps()}, paper(access.See | access.Download)},
			{"POST", "/documents/{id}/writing/pictures", at + "/pictures?name=x.png", nil, paper(access.See | access.Download | access.Propose)},
			{"GET", "/documents/{id}/writing/pictures/{name}", at + "/pictures/frame.png", nil, paper(access.See | access.Download)},
			{"GET", "/documents/{id}/writing/authors", at + "/authors", nil, paper(access.See | access.Download)},
			{"GET", "/documents/{id}/writing/changes", table + "/changes", nil, paper(access.See | access.Download)},
			{"POST", "/documents/{id}/writing/version", at + "/version", contract.WrittenVersion{}, paper(access.See | access.Download | access.Change)},
		}
	})
}

// writer is an open page of somebody who writes, without a socket.
type writer struct {
	*testkit.Client
	t       *testing.T
	at      string
	page    string
	version int
}

func writes(t *testing.T, c *testkit.Client, doc uuid.UUID) *writer {
	t.Helper()
	w := &writer{Client: c, t: t, at: "/api/documents/" + doc.String() + "/writing", page: uuid.NewString()}
	w.version = w.open().Version
	return w
}

func (w *writer) open() contract.WritingOpening {
	w.t.Helper()
	return *testkit.Get[contract.WritingMessage](w.Client, w.at+"?page="+w.page).Opening
}

func (w *writer) send(steps ...map[string]any) testkit.Answer {
	w.t.Helper()
	return w.Do("POST", w.at+"?page="+w.page, contract.WritingSent{Turn: 1, Version: w.version, Steps: testkit.Steps(steps...)})
}

// writes inserts text at a place, as of the version the page has.
func (w *writer) writes(at int, text string, marks ...any) {
	w.t.Helper()
	if a := w.send(inserting(at, text, marks...)); a.Status != 200 {
		w.t.Errorf("%q: %d %s", text, a.Status, a.Body)
	}
}

func inserting(at int, text string, marks ...any) map[string]any {
	node := map[string]any{"type": "text", "text": text}
	if len(marks) > 0 {
		node["marks"] = marks
	}
	return map[string]any{"stepType": "replace", "from": at, "to": at, "slice": map[string]any{"content": []any{node}}}
}

// words are the text as whoever opens it anew finds it.
func (w *writer) words() string {
	w.t.Helper()
	var all []string
	var walk func(n map[string]any)
	walk = func(n map[string]any) {
		if text, ok := n["text"].(string); ok {
			all = append(all, text)
		}
		content, _ := n["content"].([]any)
		for _, c := range content {
			walk(c.(map[string]any))
		}
	}
	walk(testkit.Object(*w.open().Text))
	return strings.Join(all, "")
}

// Two write at once, each on what they saw; both stand, in a file that any program reads, as one version
// of one sitting.
func TestWritingTogether(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	made := testkit.Post[contract.Place](o.luca, 201, "/api/folders/"+o.reports.String()+"/written", contract.WrittenWish{Name: "Survey letter"})
	if made.Name != "Survey letter.md" {
		t.Errorf("it is called %q", made.Name)
	}
	luca, hanne := writes(t, o.luca, made.Id), writes(t, o.hanne, made.Id)
	luca.writes(1, "We gauged the shell.")
	hanne.writes(1, "Dear Ms Juhl, ")
	// Sent again, over a line that broke after it had got through, it stands once.
	if a := luca.send(inserting(1, "We gauged the shell.")); a.Code() != "text-went-on" {
		t.Errorf("the same again: %d %s", a.Status, a.Body)
	}
	// Hanne's came later, on the empty text, and stands behind what was there first.
	if got := luca.words(); got != "We gauged the shell.Dear Ms Juhl, " {
		t.Errorf("the text is %q", got)
	}
	missed := testkit.Get[contract.WritingMessage](o.luca, luca.at+"?page="+luca.page+"&since=1")
	if missed.Opening.Text != nil || len(*missed.Batches) != 2 || (*missed.Batches)[0].Page != luca.page || len(*missed.People) != 2 {
		t.Errorf("told: %+v", missed)
	}
	wrote := testkit.Get[contract.WrittenParts](o.hanne, luca.at+"/authors")
	var parts []string
	for _, p := range wrote.Parts {
		parts = append(parts, fmt.Sprint(p.From, "-", p.To, " ", p.By == o.People["luca"].ID))
	}
	if got := strings.Join(parts, ", "); got != "1-21 true, 21-35 false" || len(wrote.Authors) != 2 {
		t.Errorf("who wrote what: %s by %+v", got, wrote.Authors)
	}
	kept := testkit.Post[contract.WritingKept](o.luca, 200, luca.at+"/version", contract.WrittenVersion{})
	if again := testkit.Post[contract.WritingKept](o.luca, 200, luca.at+"/version", contract.WrittenVersion{}); kept.Number != 2 || again.Number != 2 {
		t.Errorf("versions %d, %d", kept.Number, again.Number)
	}
	if got := string(o.hanne.Want(200, "GET", "/api/documents/"+made.Id.String()+"/content", nil).Body); got != "We gauged the shell.Dear Ms Juhl,\n" {
		t.Errorf("the file is %q", got)
	}
	// When everybody has left, what was written since is kept by itself, by whoever wrote last.
	hanne.version = hanne.open().Version
	hanne.writes(1, "!")
	o.Later(15 * time.Minute)
	waitFor(t, func() bool {
		if err := o.App.Web.Writing.KeepAll(context.Background()); err != nil {
			t.Fatal(err)
		}
		return strings.HasPrefix(string(o.hanne.Want(200, "GET", "/api/documents/"+made.Id.String()+"/content", nil).Body), "!")
	})
	var origins []string
	for _, v := range testkit.Get[contract.Document](o.luca, "/api/documents/"+made.Id.String()).Versions {
		origins = append(origins, v.Origin+" "+v.By.Name)
	}
	if got := strings.Join(origins, ", "); got != "written Hanne Solvik, written Hanne Solvik, uploaded Luca Ferrante" {
		t.Errorf("versions: %s", got)
	}
}

// Many write at once, by several processes: every letter stands once, and everybody who listens is told of all of it.
func TestManyWriteAtOnce(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "", "many.md", []byte("start\n")).Document.Id
	ctx, end := context.WithTimeout(t.Context(), time.Minute)
	defer end()
	const writersAtOnce, each = 8, 25
	first := writes(t, o.luca, doc)
	var all sync.WaitGroup
	for i := range writersAtOnce {
		all.Go(func() {
			s := o.sits(ctx, t, []*testkit.Client{o.luca, o.hanne}[i%2], doc, 0)
			for n := 1; n <= each && s.err == nil; n++ {
				s.send(inserting(1, string(rune('A'+i))))
				// A page sends on once it has been told of its own.
				for s.err == nil && (s.taken < n || s.version < s.stands) {
					s.hear()
				}
			}
			if s.err != nil {
				t.Error(s.err)
			}
		})
	}
	all.Wait()
	words := first.words()
	for i := range writersAtOnce {
		if n := strings.Count(words, string(rune('A'+i))); n != each {
			t.Errorf("%c stands %d times", 'A'+i, n)
		}
	}
	if !strings.HasSuffix(words, "start") || len(words) != writersAtOnce*each+5 {
		t.Errorf("the text is %q", words)
	}
}

// sitting is an open page with a socket. It sends on the version it was told last.
type sitting struct {
	t       *testing.T
	ctx     context.Context
	conn    *websocket.Conn
	version int
	turn    int
	taken   int
	stands  int
	refused []string
	ended   string
	people  int
	mode    string
	caret   *contract.WritingCaret
	page    string
	// calling are the pages in the call, signals what was said to this one, ways by what it is connected.
	calling []string
	signals []string
	ways    *contract.CallWays
	err     error
}

func (o *office) sits(ctx context.Context, t *testing.T, c *testkit.Client, doc uuid.UUID, since int) *sitting {
	t.Helper()
	page := uuid.NewString()
	conn, _, err := c.Socket(ctx, fmt.Sprintf("/api/documents/%s/writing/socket?page=%s&since=%d", doc, page, since))
	if err != nil {
		t.Error(err)
		return &sitting{err: err}
	}
	conn.SetReadLimit(16 << 20)
	t.Cleanup(func() { conn.CloseNow() })
	s := &sitting{t: t, ctx: ctx, conn: conn, page: page}
	s.hear()
	return s
}

func (s *sitting) send(steps ...map[string]any) {
	s.turn++
	if s.err == nil {
		s.err = wsjson.Write(s.ctx, s.conn, contract.WritingSent{Turn: s.turn, Version: s.version, Steps: testkit.Steps(steps...)})
	}
}

// hear takes the next message.
func (s *sitting) hear() {
	var m contract.WritingMessage
	if s.err = wsjson.Read(s.ctx, s.conn, &m); s.err != nil {
		return
	}
	if m.Opening != nil {
		s.version, s.mode, s.ways = m.Opening.Version, string(m.Opening.Mode), m.Opening.Call
	}
	if m.Batches != nil {
		for _, b := range *m.Batches {
			s.version = b.Version + len(b.Steps)
		}
	}
	if m.People != nil {
		s.people, s.calling = len(*m.People), nil
		for _, p := range *m.People {
			if p.Call != nil {
				s.calling = append(s.calling, p.Page)
			}
		}
	}
	if m.Mode != nil {
		s.mode = string(*m.Mode)
	}
	if m.Signal != nil {
		s.signals = append(s.signals, m.Signal.From+" "+m.Signal.Data)
	}
	if m.Caret != nil {
		s.caret = m.Caret
	}
	if m.Taken != nil {
		s.taken++
		s.stands = m.Taken.Version
	}
	if m.Refused != nil {
		s.refused = append(s.refused, m.Refused.Code)
	}
	if m.Ended != nil {
		s.ended = *m.Ended
	}
}

// until takes messages until something is so.
func (s *sitting) until(what string, is func() bool) {
	s.t.Helper()
	for !is() {
		if s.hear(); s.err != nil {
			s.t.Fatalf("waiting until %s: %v", what, s.err)
		}
	}
}

// Who may only propose changes nothing else, who may only look nothing at all; and who may look at pages only does not
// read the text.
func TestLevelsHoldWhileWriting(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "", "levels.md", []byte("before the vessel returns\n")).Document.Id
	o.Give("hanne", doc, "tomasz", access.LevelPropose)
	mine := map[string]any{"type": "inserted", "attrs": map[string]any{"id": "a", "by": o.People["tomasz"].ID.String()}}
	theirs := map[string]any{"type": "inserted", "attrs": map[string]any{"id": "b", "by": o.People["luca"].ID.String()}}
	tomasz, priya := writes(t, o.tomasz, doc), writes(t, o.priya, doc)
	for name, c := range map[string]struct {
		by   *writer
		step map[string]any
		code string
	}{
		"a proposer writes":                    {tomasz, inserting(1, "x"), "more-than-allowed"},
		"a proposer writes in another's name":  {tomasz, inserting(1, "x", theirs), "more-than-allowed"},
		"a proposer takes text away":           {tomasz, map[string]any{"stepType": "replace", "from": 1, "to": 3}, "more-than-allowed"},
		"a writer proposes in another's name":  {writes(t, o.luca, doc), inserting(1, "x", mine), "more-than-allowed"},
		"a reader writes":                      {priya, inserting(1, "x"), "more-than-allowed"},
		"a reader proposes":                    {priya, inserting(1, "x", mine), "more-than-allowed"},
		"somebody sends what does not fit":     {tomasz, map[string]any{"stepType": "replace", "from": 1, "to": 999}, "step-invalid"},
		"somebody sends an address that runs":  {writes(t, o.luca, doc), map[string]any{"stepType": "addMark", "from": 1, "to": 3, "mark": map[string]any{"type": "link", "attrs": map[string]any{"href": "javascript:x"}}}, "step-invalid"},
		"somebody is on a version to come":     {&writer{o.luca, t, tomasz.at, uuid.NewString(), 50}, inserting(1, "x"), "text-went-on"},
		"somebody sends on before the text is": {&writer{o.luca, t, tomasz.at, uuid.NewString(), 0}, inserting(1, "x"), "text-went-on"},
	} {
		if a := c.by.send(c.step); a.Code() != c.code {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	tomasz.writes(1, "by Friday, ", mine)
	if got := tomasz.words(); got != "by Friday, before the vessel returns" {
		t.Errorf("the text is %q", got)
	}
	// What is merely proposed is in no file, and not lost.
	kept := testkit.Post[contract.WritingKept](o.luca, 200, tomasz.at+"/version", contract.WrittenVersion{})
	if got := string(o.luca.Want(200, "GET", "/api/documents/"+doc.String()+"/content", nil).Body); got != "before the vessel returns\n" || kept.Number != 1 {
		t.Errorf("version %d is %q", kept.Number, got)
	}
	// Pages of somebody else's are not taken over, and strangers find nothing.
	if a := o.luca.Do("GET", tomasz.at+"?page="+tomasz.page, nil); a.Status != 400 {
		t.Errorf("another's page: %d", a.Status)
	}
	looks := o.luca.Upload(o.yard, "", "looks.md", []byte("text\n")).Document.Id
	o.Give("hanne", looks, "tomasz", access.LevelLook)
	o.tomasz.Want(403, "GET", "/api/documents/"+looks.String()+"/writing?page="+uuid.NewString(), nil)
	o.tomasz.Want(404, "GET", "/api/documents/"+o.draft.String()+"/writing?page="+uuid.NewString(), nil)
	if a := o.luca.Do("GET", "/api/documents/"+o.draft.String()+"/writing?page="+uuid.NewString(), nil); a.Code() != "not-written" {
		t.Errorf("a text file: %d %s", a.Status, a.Body)
	}
}

// Whose access ends is out within two seconds; and so is whoever signs out, floods, or sends what is no message.
func TestSocketsEnd(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "", "ends.md", []byte("text\n")).Document.Id
	ctx, end := context.WithTimeout(t.Context(), time.Minute)
	defer end()
	o.Give("hanne", doc, "tomasz", access.LevelPropose)
	tomasz := o.sits(ctx, t, o.tomasz, doc, 0)
	tomasz.send(inserting(1, "x"))
	tomasz.until("it is refused", func() bool { return len(tomasz.refused) > 0 })
	o.Give("hanne", doc, "tomasz", access.LevelEdit)
	tomasz.until("the mode has changed", func() bool { return tomasz.mode == "write" })
	luca := o.sits(ctx, t, o.luca, doc, 0)
	luca.until("both are seen", func() bool { return luca.people == 2 })
	began := time.Now()
	for _, g := range o.grants(doc) {
		if g.SubjectID == o.People["tomasz"].ID {
			o.hanne.Want(204, "DELETE", "/api/access/"+g.ID.String(), nil)
		}
	}
	tomasz.until("it ends", func() bool { return tomasz.ended != "" })
	if took := time.Since(began); tomasz.ended != "not-found" || took > 2*time.Second+500*time.Millisecond {
		t.Errorf("%s after %v", tomasz.ended, took)
	}
	luca.until("he is not seen any more", func() bool { return luca.people == 1 })
	for name, do := range map[string]func(s *sitting) error{
		"garbage": func(s *sitting) error { return s.conn.Write(ctx, websocket.MessageText, []byte("{")) },
		"bytes":   func(s *sitting) error { return s.conn.Write(ctx, websocket.MessageBinary, []byte{0, 1}) },
		"ten megabytes": func(s *sitting) error {
			return s.conn.Write(ctx, websocket.MessageText, []byte(`{"turn":1,"version":1,"steps":[],"x":"`+strings.Repeat("x", 10<<20)+`"}`))
		},
		"ten thousand messages": func(s *sitting) (err error) {
			raw, _ := json.Marshal(contract.WritingSent{Version: 1, Steps: testkit.Steps()})
			for i := 0; i < 10000 && err == nil; i++ {
				err = s.conn.Write(ctx, websocket.MessageText, raw)
			}
			return nil
		},
	} {
		s := o.sits(ctx, t, o.luca, doc, 0)
		go func() { _ = do(s) }()
		for s.err == nil {
			s.hear()
		}
		if ctx.Err() != nil {
			t.Errorf("%s: it went on", name)
		}
	}
	luca.send(inserting(1, "still "))
	luca.until("it is taken", func() bool { return luca.taken == 1 })
	// From another place nobody opens one with a session's cookie.
	if _, resp, err := websocket.Dial(ctx, o.URL+"/api/documents/"+doc.String()+"/writing/socket?page="+uuid.NewString(), &websocket.DialOptions{HTTPClient: o.luca.HTTP, HTTPHeader: map[string][]string{"Origin": {"https://elsewhere.example"}}}); err == nil || resp.StatusCode != 403 {
		t.Errorf("from elsewhere: %v", err)
	}
	o.luca.Want(204, "DELETE", "/api/session", nil)
	luca.until("it ends", func() bool { return luca.ended != "" })
}

// What comes in by another way while people write is merged with what they write; where both change the same, both are
// versions, and it is said.
func TestAnUploadWhilePeopleWrite(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "", "both.md", []byte("text\n\nbelow\n")).Document.Id
	w := writes(t, o.luca, doc)
	version := func(n int) string {
		return string(o.luca.Want(200, "GET", fmt.Sprintf("/api/documents/%s/content?version=%d", doc, n), nil).Body)
	}
	counts := func() int {
		return testkit.Get[contract.Document](o.luca, "/api/documents/"+doc.String()).Versions[0].Number
	}
	w.writes(5, " here")
	o.hanne.Upload(o.reports, "", "both.md", []byte("text\n\nbelow, from elsewhere\n"))
	// Nobody has to do anything for it.
	waitFor(t, func() bool { return counts() == 3 })
	if version(1) != "text\n\nbelow\n" || version(2) != "text\n\nbelow, from elsewhere\n" || version(3) != "text here\n\nbelow, from elsewhere\n" {
		t.Errorf("merged: %q", version(3))
	}
	waitFor(t, func() bool { return w.words() == "text herebelow, from elsewhere" })
	w.version = w.open().Version
	w.writes(3, "XX")
	o.hanne.Upload(o.reports, "", "both.md", []byte("Their text here\n\nbelow, from elsewhere\n"))
	waitFor(t, func() bool { return counts() == 5 })
	if version(4) != "Their text here\n\nbelow, from elsewhere\n" || version(5) != "teXXxt here\n\nbelow, from elsewhere\n" {
		t.Errorf("apart: %q, %q", version(4), version(5))
	}
	kept := testkit.Post[contract.WritingKept](o.luca, 200, w.at+"/version", contract.WrittenVersion{Title: ptr("for the yard")})
	if kept.Number != 5 {
		t.Errorf("version %d", kept.Number)
	}
	// Where nothing is written that is in no version, what comes in is the text.
	o.hanne.Upload(o.reports, "", "both.md", []byte("anew\n"))
	waitFor(t, func() bool { return w.words() == "anew" })
	w.version = w.open().Version
	w.writes(1, "Begun ")
	if got := w.words(); got != "Begun anew" {
		t.Errorf("the text is %q", got)
	}
	// A document that somebody has in hand is read meanwhile.
	o.hanne.Want(204, "POST", "/api/checkouts", contract.CheckOut{Items: []uuid.UUID{doc}})
	at := w.open()
	if at.Mode != "look" || at.Barred == nil {
		t.Errorf("in hand: %s", at.Mode)
	}
	if a := w.send(inserting(1, "x")); a.Code() != "more-than-allowed" {
		t.Errorf("in hand: %d %s", a.Status, a.Body)
	}
}

// What nobody's page sends: places outside of any text, more pages than one person reads, files that are too large, tables
// that are too wide, a name of somebody who proposes nothing.
func TestWritingRefusesWhatNoPageSends(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "", "odd.md", []byte("text\n")).Document.Id
	ctx, end := context.WithTimeout(t.Context(), time.Minute)
	defer end()
	hanne, luca := o.sits(ctx, t, o.hanne, doc, 0), o.sits(ctx, t, o.luca, doc, 0)
	for _, c := range []contract.WritingCaret{{Anchor: -5, Head: 1}, {Anchor: 1, Head: 1 << 40}, {Version: -1, Anchor: 1, Head: 1}, {Anchor: 2, Head: 3}} {
		if err := wsjson.Write(ctx, luca.conn, contract.WritingSent{Steps: testkit.Steps(), Caret: &c}); err != nil {
			t.Fatal(err)
		}
	}
	hanne.until("a place is told", func() bool { return hanne.caret != nil })
	if c := hanne.caret; c.Anchor != 2 || c.Head != 3 {
		t.Errorf("told of %+v", c)
	}
	luca.send(inserting(1, "a"), map[string]any{"stepType": "replace", "from": 1, "to": 999})
	luca.until("it is refused", func() bool { return len(luca.refused) == 1 })
	if got := writes(t, o.hanne, doc).words(); got != "text" {
		t.Errorf("half a batch stands: %q", got)
	}
	forged := map[string]any{"type": "deleted", "attrs": map[string]any{"id": "z", "by": o.People["priya"].ID.String()}}
	if a := writes(t, o.luca, doc).send(map[string]any{"stepType": "addMark", "from": 1, "to": 3, "mark": forged}); a.Code() != "more-than-allowed" {
		t.Errorf("in another's name: %d %s", a.Status, a.Body)
	}
	var full int
	for range 30 {
		if a := o.priya.Do("GET", "/api/documents/"+doc.String()+"/writing?page="+uuid.NewString(), nil); a.Code() == "text-full" {
			full++
		}
	}
	if full != 10 {
		t.Errorf("%d of 30 pages were too many", full)
	}
	large := o.luca.Upload(o.reports, "", "five thousand pages.md", []byte(strings.Repeat("We gauged the shell between frames 18 and 44.\n\n", 200_000))).Document.Id
	if a := o.luca.Do("GET", "/api/documents/"+large.String()+"/writing?page="+uuid.NewString(), nil); a.Code() != "text-file-too-large" {
		t.Errorf("five thousand pages: %d %s", a.Status, a.Body)
	}
	for _, bad := range []string{"?page=short", "?page=" + uuid.NewString() + "&since=-1", "", "?page=" + uuid.NewString() + "&wait=3600"} {
		if a := o.luca.Do("GET", "/api/documents/"+doc.String()+"/writing"+bad, nil); a.Status != 400 {
			t.Errorf("%s: %d", bad, a.Status)
		}
	}
	for _, bad := range []string{"?page=short", "?page=" + uuid.NewString() + "&since=-1", "?since=x"} {
		if _, resp, err := o.luca.Socket(ctx, "/api/documents/"+doc.String()+"/writing/socket"+bad); err == nil || resp.StatusCode != 400 {
			t.Errorf("a socket %s: %v", bad, err)
		}
	}
	if _, resp, err := o.tomasz.Socket(ctx, "/api/documents/"+doc.String()+"/writing/socket?page="+uuid.NewString()); err == nil || resp.StatusCode != 404 {
		t.Errorf("a stranger's socket: %v", err)
	}
	if _, resp, err := o.Visitor().Socket(ctx, "/api/documents/"+doc.String()+"/writing/socket?page="+uuid.NewString()); err == nil || resp.StatusCode != 401 {
		t.Errorf("nobody's socket: %v", err)
	}
}

// What is approved is read, until whoever writes on says that it is superseded; then the approval ends with the version.
func TestWritingOnWhatIsApproved(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "", "approved.md", []byte("text\n")).Document.Id
	hanne := o.People["hanne"].ID
	asked := o.asks(o.luca, contract.AskWish{Documents: []uuid.UUID{doc}, Do: "approve", Who: []contract.Who{{Person: &hanne}}})
	o.hanne.Want(204, "POST", "/api/decisions/"+asked.String()+"/decision", verdict(o.run(o.hanne, asked), "agrees", ""))
	w := writes(t, o.luca, doc)
	if at := w.open(); at.Mode != "look" || at.Barred == nil || *at.Barred != "approved-stays" {
		t.Fatalf("%s, %v", at.Mode, at.Barred)
	}
	if a := w.send(inserting(1, "x")); a.Code() != "more-than-allowed" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	o.luca.Want(200, "POST", w.at+"?page="+w.page, contract.WritingSent{Version: w.version, Steps: testkit.Steps(inserting(1, "More "))}, "Supersede", "approved")
	o.Later(15 * time.Minute)
	waitFor(t, func() bool {
		if err := o.App.Web.Writing.KeepAll(context.Background()); err != nil {
			t.Fatal(err)
		}
		return string(o.luca.Want(200, "GET", "/api/documents/"+doc.String()+"/content", nil).Body) == "More text\n"
	})
}

// onePixel is a picture (PNG, ISO/IEC 15948).
var onePixel, _ = base64.StdEncoding.DecodeString("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==")

// Pictures lie beside a text as documents of their own; what is none is refused, and nobody reads by a text what they do not see.
func TestPicturesLieBesideATextThatIsWritten(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "", "Letter.md", []byte("# Letter\n")).Document.Id
	at := "/api/documents/" + doc.String() + "/writing/pictures"
	putting := func(c *testkit.Client, name string, raw []byte) testkit.Answer {
		return c.Do("POST", at+"?name="+url.QueryEscape(name), bytes.NewReader(raw))
	}
	for _, want := range []string{"Frame 31.png", "Frame 31 (2).png"} {
		a := putting(o.luca, "C:/photographs/Frame 31.jpeg", onePixel)
		if got := read[contract.NewName](t, a).Name; a.Status != 201 || got != want {
			t.Errorf("laid as %q, want %q: %d", got, want, a.Status)
		}
	}
	a := o.luca.Want(200, "GET", at+"/Frame%2031.png", nil)
	if !bytes.Equal(a.Body, onePixel) || a.Header.Get("Content-Type") != "image/png" || !strings.Contains(a.Header.Get("Content-Security-Policy"), "sandbox") {
		t.Errorf("%d bytes, %v", len(a.Body), a.Header)
	}
	o.priya.Want(200, "GET", at+"/Frame%2031.png", nil)
	for name, raw := range map[string][]byte{"html": []byte("<html><script>alert(1)</script>"), "svg": []byte("<svg xmlns=\"http://www.w3.org/2000/svg\" onload=\"x()\"/>"), "empty": nil, "text.png": []byte("no picture"), "pdf": []byte("%PDF-1.4")} {
		if a := putting(o.luca, name, raw); a.Code() != "no-picture" {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	if a := putting(o.luca, "large.png", append(slices.Clone(onePixel), make([]byte, 20<<20)...)); a.Status != 413 {
		t.Errorf("too large: %d", a.Status)
	}
	if a := putting(o.priya, "x.png", onePixel); a.Status != 403 {
		t.Errorf("who only reads: %d", a.Status)
	}
	if a := putting(o.tomasz, "x.png", onePixel); a.Status != 404 {
		t.Errorf("a stranger: %d", a.Status)
	}
	// Neither other documents nor other folders are read by it, nor what somebody does not see.
	for _, name := range []string{"Letter.md", "draft.txt", "..%2Fdraft.txt", "%2e%2e", "nothing.png"} {
		if a := o.luca.Do("GET", at+"/"+name, nil); a.Status != 404 {
			t.Errorf("%s: %d", name, a.Status)
		}
	}
	o.give(o.hanne, wish(contract.Level(access.LevelView), []uuid.UUID{doc}, to(o.People["tomasz"].ID)))
	o.tomasz.Want(404, "GET", at+"/Frame%2031.png", nil)
	// On paper it stands for whoever sees it, and is named for others.
	o.luca.Upload(o.reports, "", "Letter.md", []byte("# Letter\n\n![the frame](Frame%2031.png) ![another](draft.txt) ![folder](../plan.png)\n"))
	for who, want := range map[*testkit.Client]int{o.luca: 1, o.tomasz: 0, o.priya: 1} {
		paper := who.Want(200, "GET", "/api/documents/"+doc.String()+"/paper.pdf", nil).Body
		if n := bytes.Count(paper, []byte("/Subtype /Image")); n != want {
			t.Errorf("%d pictures are on paper, want %d", n, want)
		}
	}
}

// Who may remark lets remarks hold on to words, and is no writer of them: nothing becomes a version by it, and what comes in
// by another way meanwhile is merged as if there were none.
func TestRemarksHoldOnToTheirWords(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "", "held.md", []byte("before the vessel returns\n\nbelow\n")).Document.Id
	o.Give("hanne", doc, "tomasz", access.LevelRemark)
	o.Give("hanne", doc, "priya", access.LevelView)
	tomasz, luca, priya := writes(t, o.tomasz, doc), writes(t, o.luca, doc), writes(t, o.priya, doc)
	holds := map[string]any{"stepType": "addMark", "from": 8, "to": 18, "mark": map[string]any{"type": "remark", "attrs": map[string]any{"id": "r"}}}
	if mode := tomasz.open().Mode; mode != "remark" {
		t.Errorf("he may %s", mode)
	}
	if a := priya.send(holds); a.Code() != "more-than-allowed" {
		t.Errorf("who looks: %d %s", a.Status, a.Body)
	}
	if a := tomasz.send(inserting(1, "x")); a.Code() != "more-than-allowed" {
		t.Errorf("he writes: %d %s", a.Status, a.Body)
	}
	if a := tomasz.send(holds); a.Status != 200 {
		t.Errorf("a remark: %d %s", a.Status, a.Body)
	}
	if k := testkit.Post[contract.WritingKept](o.luca, 200, luca.at+"/version", contract.WrittenVersion{}); k.Number != 1 {
		t.Errorf("it became version %d", k.Number)
	}
	luca.version = luca.open().Version
	luca.writes(12, "whole ")
	if text := string(*luca.open().Text); !strings.Contains(text, `"marks":[{"type":"remark","attrs":{"id":"r"}}],"text":"vessel"`) {
		t.Errorf("it holds on to %s", text)
	}
	tomasz.version = tomasz.open().Version
	if a := tomasz.send(map[string]any{"stepType": "addMark", "from": 1, "to": 4, "mark": map[string]any{"type": "remark", "attrs": map[string]any{"id": "s"}}}); a.Status != 200 {
		t.Errorf("another remark: %d %s", a.Status, a.Body)
	}
	o.hanne.Upload(o.reports, "", "held.md", []byte("before the vessel returns\n\nbelow, from elsewhere\n"))
	waitFor(t, func() bool { return strings.HasSuffix(luca.words(), "below, from elsewhere") })
	for _, v := range testkit.Get[contract.Document](o.luca, "/api/documents/"+doc.String()).Versions {
		if v.By.Name == "Tomasz Rehn" {
			t.Errorf("version %d is said to be his", v.Number)
		}
	}
	if text := string(*luca.open().Text); !strings.Contains(text, `{"id":"r"}`) || luca.words() != "before the whole vessel returnsbelow, from elsewhere" {
		t.Errorf("after that it holds on to %s", text)
	}
}

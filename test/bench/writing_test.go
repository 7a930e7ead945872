package bench_test

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"io"
	"runtime"
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

// long is a Markdown text of about so many pages.
func long(pages int) []byte {
	var b strings.Builder
	for i := range pages {
		fmt.Fprintf(&b, "## Frames %d to %d\n\n", 10*i, 10*i+9)
		for range 6 {
			b.WriteString("We gauged the port side shell between the frames named above on three days in November, and measured a diminution of **31.0 %** at the worst place; for this strake class allows *25 %*, so that the plates are to be renewed over the frames named, and the doubler is to be cropped before the new plate is offered up. ")
			b.WriteString("We attend when they are fitted.\n\n")
		}
	}
	return []byte(b.String())
}

// typist is an open page of a writer, with a socket.
type typist struct {
	conn    *websocket.Conn
	page    string
	mu      sync.Mutex
	version int
}

// Fifty write one document, five letters a second each: from the key to the others' pages. Beside it, what one small
// durable act takes alone.
func BenchmarkWriting(b *testing.B) {
	p := newPractice(b)
	doc := p.c.Upload(p.top, "", "Letter.md", long(30)).Document.Id
	clients := []*testkit.Client{p.c}
	for _, who := range []string{"hanne", "luca"} {
		p.Give("ines", p.top, who, access.LevelEdit)
		clients = append(clients, p.SignIn(who))
	}
	const writers, letters = 50, 20
	ctx, end := context.WithTimeout(context.Background(), 3*time.Minute)
	defer end()
	for b.Loop() {
		var mu sync.Mutex
		sentAt := map[string]time.Time{}
		var took []time.Duration
		var all []*typist
		var listening sync.WaitGroup
		for i := range writers {
			w := &typist{page: uuid.NewString()}
			conn, _, err := clients[i%len(clients)].Socket(ctx, fmt.Sprintf("/api/documents/%s/writing/socket?page=%s", doc, w.page))
			if err != nil {
				b.Fatal(err)
			}
			conn.SetReadLimit(64 << 20)
			w.conn = conn
			all = append(all, w)
			ready := make(chan struct{})
			listening.Go(func() {
				for first := true; ; first = false {
					var m contract.WritingMessage
					if wsjson.Read(ctx, conn, &m) != nil {
						return
					}
					now := time.Now()
					w.mu.Lock()
					if m.Opening != nil {
						w.version = m.Opening.Version
					}
					if m.Batches != nil {
						for _, batch := range *m.Batches {
							w.version = batch.Version + len(batch.Steps)
							mu.Lock()
							if at, ok := sentAt[word(batch)]; ok && batch.Page != w.page {
								took = append(took, now.Sub(at))
							}
							mu.Unlock()
						}
					}
					w.mu.Unlock()
					if first {
						close(ready)
					}
				}
			})
			<-ready
		}
		var typing sync.WaitGroup
		for i, w := range all {
			typing.Go(func() {
				time.Sleep(time.Duration(i) * 4 * time.Millisecond)
				for n := range letters {
					letter := fmt.Sprintf("%d.%d ", i, n)
					w.mu.Lock()
					version := w.version
					w.mu.Unlock()
					mu.Lock()
					sentAt[letter] = time.Now()
					mu.Unlock()
					step := map[string]any{"stepType": "replace", "from": 1, "to": 1, "slice": map[string]any{"content": []any{map[string]any{"type": "text", "text": letter}}}}
					if err := wsjson.Write(ctx, w.conn, contract.WritingSent{Turn: n, Version: version, Steps: testkit.Steps(step)}); err != nil {
						return
					}
					time.Sleep(200 * time.Millisecond)
				}
			})
		}
		typing.Wait()
		for until := time.Now().Add(10 * time.Second); time.Now().Before(until); time.Sleep(50 * time.Millisecond) {
			mu.Lock()
			n := len(took)
			mu.Unlock()
			if n >= writers*letters*(writers-1) {
				break
			}
		}
		for _, w := range all {
			w.conn.CloseNow()
		}
		listening.Wait()
		slices.Sort(took)
		if len(took) < writers*letters*(writers-1)*9/10 {
			b.Errorf("only %d of %d letters came through", len(took), writers*letters*(writers-1))
		}
		p95 := took[len(took)*95/100]
		_, durable := percentile(b, 100, func() error { return p.aDurableAct(ctx, doc) })
		row("50 write: key to the others' pages (p95) | 50 ms + a durable act", ms(p95), ms(50*time.Millisecond+durable), float64(p95)/float64(50*time.Millisecond+durable), "at most 1")
	}
	p.openTexts(b)
}

// word is the text that a batch inserts.
func word(batch contract.WritingBatch) string {
	slice, _ := testkit.Object(batch.Steps[0])["slice"].(map[string]any)
	content, _ := slice["content"].([]any)
	if len(content) == 0 {
		return ""
	}
	text, _ := content[0].(map[string]any)["text"].(string)
	return text
}

func (p practice) aDurableAct(ctx context.Context, doc uuid.UUID) error {
	_, err := p.App.DB.ExecContext(ctx, `UPDATE writings SET here_until = now() WHERE document_id = $1`, doc)
	return err
}

// openTexts measures what open documents hold, and how long opening one takes.
func (p practice) openTexts(b *testing.B) {
	b.Helper()
	ctx := p.As("ines")
	text := long(30)
	var docs []uuid.UUID
	for i := range 501 {
		docs = append(docs, p.c.Upload(p.top, "", fmt.Sprintf("Text %d.md", i), append([]byte(fmt.Sprintf("# %d\n\n", i)), text...)).Document.Id)
	}
	open := func(doc uuid.UUID) error {
		seat, _, err := p.App.Web.Writing.Join(ctx, doc, uuid.NewString(), 0, 0)
		if err == nil {
			seat.Leave()
		}
		return err
	}
	if err := open(docs[500]); err != nil {
		b.Fatal(err)
	}
	heap := func() uint64 {
		var m runtime.MemStats
		runtime.GC()
		runtime.ReadMemStats(&m)
		return m.HeapAlloc
	}
	before := heap()
	for _, doc := range docs[:500] {
		if err := open(doc); err != nil {
			b.Fatal(err)
		}
	}
	each := float64(heap()-before) / 500 / (1 << 20)
	row(fmt.Sprintf("memory of each of 500 open texts of %d kB | 1.3 MB", len(text)>>10), fmt.Sprintf("%.2f MB", each), "1.30 MB", each/1.3, "at most 1")
	hundred := p.c.Upload(p.top, "", "Hundred pages.md", long(100)).Document.Id
	began := time.Now()
	if err := open(hundred); err != nil {
		b.Fatal(err)
	}
	first := time.Since(began)
	_, again := percentile(b, 40, func() error { return open(hundred) })
	row("a text of 100 pages, opened first | a second", ms(first), "1000.00 ms", first.Seconds(), "at most 1")
	row("the same, open already (p95) | 50 ms", ms(again), "50.00 ms", again.Seconds()/0.05, "at most 1")
	p.wordDocument(b)
}

// wordDocument measures a word-processing document of 100 pages: until it is open, and until a version of it is made in
// which a word is another.
func (p practice) wordDocument(b *testing.B) {
	b.Helper()
	var raw bytes.Buffer
	z := zip.NewWriter(&raw)
	paragraph := `<w:p><w:pPr><w:jc w:val="both"/></w:pPr><w:r><w:rPr><w:rFonts w:ascii="Georgia"/></w:rPr><w:t xml:space="preserve">` + strings.Repeat("The plating between the frames was gauged on both sides. ", 6) + `</w:t></w:r></w:p>`
	for _, f := range [][2]string{
		{"[Content_Types].xml", `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>`},
		{"word/document.xml", `<w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:body>` + strings.Repeat(paragraph, 1200) + `</w:body></w:document>`},
	} {
		w, err := z.Create(f[0])
		if err == nil {
			_, err = io.WriteString(w, f[1])
		}
		if err != nil {
			b.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		b.Fatal(err)
	}
	ctx, doc := p.As("ines"), p.c.Upload(p.top, "", "Hundred pages.docx", raw.Bytes()).Document.Id
	began := time.Now()
	seat, o, err := p.App.Web.Writing.Join(ctx, doc, uuid.NewString(), 0, 0)
	if err != nil {
		b.Fatal(err)
	}
	defer seat.Leave()
	row("a word document of 100 pages, opened first | a second", ms(time.Since(began)), "1000.00 ms", time.Since(began).Seconds(), "at most 1")
	if _, err := seat.Send(ctx, o.Version, testkit.Steps(map[string]any{"stepType": "replace", "from": 1, "to": 4, "slice": map[string]any{"content": []any{map[string]any{"type": "text", "text": "All"}}}})); err != nil {
		b.Fatal(err)
	}
	began = time.Now()
	if _, err := p.App.Web.Writing.KeepNow(ctx, doc, ""); err != nil {
		b.Fatal(err)
	}
	row("a version of it, in which a word is another | a second", ms(time.Since(began)), "1000.00 ms", time.Since(began).Seconds(), "at most 1")
}

package bench_test

import (
	"bytes"
	"context"
	"crypto/x509"
	"encoding/json"
	"encoding/pem"
	"fmt"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"github.com/google/uuid"

	core "tabularis/core/signing"
	"tabularis/internal/app/signing"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/testkit"
)

// thick is a paper of so many pages.
func thick(b *testing.B, pages int) []byte {
	b.Helper()
	f := fpdf.New("P", "mm", "A4", "")
	f.SetFont("Helvetica", "", 11)
	for i := range pages {
		f.AddPage()
		for n := range 40 {
			f.Text(20, 20+float64(n)*6, fmt.Sprintf("Page %d, line %d: side shell, frame 31, 6.9 of 10.0 mm, diminution 31 %%.", i+1, n+1))
		}
	}
	var out bytes.Buffer
	if err := f.Output(&out); err != nil {
		b.Fatal(err)
	}
	return out.Bytes()
}

// wish has a paper signed by Ines.
func (p practice) wish(document uuid.UUID) signing.Wish {
	ines := p.People["ines"].ID
	return signing.Wish{Document: document, Days: 14, Plan: core.Plan{Parties: []core.Party{{Turn: 1, Person: &ines, Known: core.BySignIn, Signs: true}},
		Places: []core.Place{{ID: 1, Page: 1, Kind: core.Signature, Must: true, Box: core.Box{X: 0.1, Y: 0.8, W: 0.3, H: 0.05}}}}}
}

// A paper is sent and signed, beside one transaction that writes as much; sealed, beside other programs that take the same steps;
// checked, beside one that checks; and a form goes to five hundred.
func BenchmarkSigning(b *testing.B) {
	p := newPractice(b)
	ctx, s := p.As("ines"), p.App.Web.Signing
	must := func(err error) {
		b.Helper()
		if err != nil {
			b.Fatal(err)
		}
	}
	const rounds = 60
	var papers []uuid.UUID
	ten := thick(b, 10)
	for i := range rounds + 3 {
		papers = append(papers, p.c.Upload(p.top, "", fmt.Sprintf("Report %d.pdf", i), ten).Document.Id)
	}
	hundred := p.c.Upload(p.top, "", "Long report.pdf", thick(b, 100)).Document.Id
	for b.Loop() {
		var sent []uuid.UUID
		_, sending := percentile(b, rounds, func() error {
			id, err := s.Send(ctx, p.wish(papers[len(sent)]))
			sent = append(sent, id)
			return err
		})
		row("10 pages: placed and sent (p95) | half a second", ms(sending), "500.00 ms", sending.Seconds()/0.5, "at most 1")
		n := 0
		given := signing.Kept{Values: []core.Value{{Place: 1, Hand: &core.Hand{Typed: "Ines Okafor"}}}, Pages: upTo(100)}
		middle, acting := percentile(b, rounds, func() error {
			n++
			return s.Sign(ctx, signing.Who{Signing: sent[n-1], Party: -1}, given, true)
		})
		plainMiddle, plain := percentile(b, rounds, func() error { return p.asMuchAsSigning(ctx, sent[0]) })
		row("10 pages: a party signs (p95) | one transaction", ms(acting), ms(plain), acting.Seconds()/plain.Seconds(), "")
		row("the same in the middle, while those before are being sealed", ms(middle), ms(plainMiddle), middle.Seconds()/plainMiddle.Seconds(), "")

		id, err := s.Send(ctx, p.wish(hundred))
		must(err)
		must(s.Sign(ctx, signing.Who{Signing: id, Party: -1}, given, true))
		begun := time.Now()
		must(s.SealPaper(ctx, jobs.SealPaper{Signing: id}))
		// A worker may have been quicker to begin; the paper stands once it is finished.
		for {
			line, err := s.One(ctx, id)
			must(err)
			if line.Request.Status == core.Finished {
				break
			}
			time.Sleep(5 * time.Millisecond)
		}
		sealing := time.Since(begun)
		p.beside(b, thick(b, 100), sealing)

		signed := p.c.Do("GET", "/api/documents/"+hundred.String()+"/content", nil).Body
		file := filepath.Join(b.TempDir(), "signed.pdf")
		must(os.WriteFile(file, signed, 0o600))
		checked, theirs := median(b, 7, func() {
			_, err := s.CheckDocument(ctx, hundred)
			must(err)
		}, func() { _ = exec.Command("pdfsig", "-nocert", file).Run() })
		row("100 pages: checked, with what was added after | pdfsig -nocert", ms(checked), ms(theirs), checked.Seconds()/theirs.Seconds(), "")
		p.sendsToMany(b, papers[0], 500)
	}
}

func upTo(n int) (all []int) {
	for i := range n {
		all = append(all, i+1)
	}
	return all
}

// asMuchAsSigning writes what a party's act writes, without knowing what it means.
func (p practice) asMuchAsSigning(ctx context.Context, id uuid.UUID) error {
	tx, err := p.App.DB.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }()
	for _, statement := range []string{
		`SELECT 1 FROM signings WHERE id = $1 FOR UPDATE`,
		`INSERT INTO signing_events (signing_id, seq, at, body) SELECT signing_id, max(seq) + 1, now(), (array_agg(body))[1] FROM signing_events WHERE signing_id = $1 GROUP BY signing_id`,
		`UPDATE signing_parties SET waits = waits WHERE signing_id = $1`,
		`INSERT INTO events (at, kind, person_id, dossier_id, item_id, data) SELECT now(), 'document.added', s.sent_by, i.dossier_id, s.item_id, '{}' FROM signings s JOIN items i ON i.id = s.item_id WHERE s.id = $1`,
		`UPDATE signings SET since = since WHERE id = $1`,
	} {
		if _, err := tx.ExecContext(ctx, statement, id); err != nil {
			return err
		}
	}
	return tx.Commit()
}

// beside takes the steps of sealing with other programs: flat and open, a sheet over a page and one behind, signed, and stamped twice.
func (p practice) beside(b *testing.B, raw []byte, ours time.Duration) {
	b.Helper()
	dir := b.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	key, err := x509.MarshalPKCS8PrivateKey(p.App.Web.Signing.Seal.Key)
	if err != nil {
		b.Fatal(err)
	}
	for name, content := range map[string][]byte{"in.pdf": raw, "sheet.pdf": thick(b, 1), "key.pem": pem.EncodeToMemory(&pem.Block{Type: "PRIVATE KEY", Bytes: key}),
		"cert.pem": pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: p.App.Web.Signing.Seal.Chain[0].Raw})} {
		if err := os.WriteFile(at(name), content, 0o600); err != nil {
			b.Fatal(err)
		}
	}
	begun := time.Now()
	run(b, "qpdf", "--decrypt", "--flatten-annotations=all", at("in.pdf"), at("flat.pdf"))
	run(b, "qpdf", at("flat.pdf"), "--overlay", at("sheet.pdf"), "--to=1", "--", at("drawn.pdf"))
	run(b, "qpdf", "--empty", "--pages", at("drawn.pdf"), at("sheet.pdf"), "--", at("whole.pdf"))
	run(b, "openssl", "cms", "-sign", "-binary", "-in", at("whole.pdf"), "-signer", at("cert.pem"), "-inkey", at("key.pem"), "-outform", "DER", "-out", at("sig.der"))
	for range 2 {
		run(b, "openssl", "ts", "-query", "-data", at("sig.der"), "-sha256", "-cert", "-out", at("ask.tsq"))
		query, err := os.ReadFile(at("ask.tsq"))
		if err != nil {
			b.Fatal(err)
		}
		resp, err := http.Post(p.App.Web.Signing.Stamper.URL, "application/timestamp-query", bytes.NewReader(query))
		if err != nil {
			b.Fatal(err)
		}
		_, _ = io.Copy(io.Discard, resp.Body)
		_ = resp.Body.Close()
	}
	theirs := time.Since(begun)
	row("100 pages: filled in, sealed, proven, kept | qpdf and openssl", ms(ours), ms(theirs), ours.Seconds()/theirs.Seconds(), "")
}

// sendsToMany sends a form to many, each with a paper of their own.
func (p practice) sendsToMany(b *testing.B, document uuid.UUID, n int) {
	b.Helper()
	box := contract.SigningBox{X: 0.1, Y: 0.8, W: 0.3, H: 0.05}
	form := "/api/signing-forms/" + testkit.Post[contract.SigningForm](p.c, 201, "/api/signing-forms", contract.FormWish{Document: document, Definition: contract.FormDefinition{Plan: contract.SigningPlan{
		Parties: []contract.SigningParty{{Role: "the owner", Turn: 1, Known: contract.KnownByLink, Signs: true}}, Places: []contract.SigningPlace{{Id: 1, Page: 1, Kind: contract.PlaceSignature, Must: true, Box: box}}}}}).Id.String()
	testkit.Post[contract.SigningForm](p.c, 201, form+"/editions", nil)
	table := "Name;E-mail\n"
	for i := range n {
		table += fmt.Sprintf("Owner %d;owner%d@owners.example\n", i, i)
	}
	begun := time.Now()
	var read contract.FormTable
	decode(b, p.c.Want(200, "POST", form+"/table?folder="+p.top.String(), bytes.NewReader([]byte(table)), "Content-Type", "application/octet-stream").Body, &read)
	batch := testkit.Post[contract.FormSent](p.c, 201, form+"/requests", contract.FormUse{Folder: p.top, Rows: read.Rows}).Batch
	asked := time.Since(begun)
	for {
		state := testkit.Get[contract.SentToMany](p.c, "/api/signing-batches/"+batch.String())
		if state.Waiting == 0 {
			if state.Sent != n {
				b.Fatalf("%d of %d were sent", state.Sent, n)
			}
			break
		}
		time.Sleep(250 * time.Millisecond)
	}
	took := time.Since(begun)
	alone(fmt.Sprintf("a form for %d from a table: read, checked, taken", n), asked, "")
	line(fmt.Sprintf("%-64s %12s %12s %8s  %s", "each with a paper and a way in of their own, sent by itself", fmt.Sprintf("%.0f/s", float64(n)/took.Seconds()), "", "", ""))
}

func decode(b *testing.B, raw []byte, into any) {
	b.Helper()
	if err := json.Unmarshal(raw, into); err != nil {
		b.Fatal(err)
	}
}

package api_test

import (
	"bytes"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"encoding/base64"
	"fmt"
	"net"
	"os"
	"path"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/emersion/go-sasl"
	"github.com/emersion/go-smtp"
	"github.com/google/uuid"
	gomail "github.com/wneessen/go-mail"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/platform/mail/standin"
	"tabularis/internal/server"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(*office) []endpoint {
		return []endpoint{{"GET", "/me/mail-programs", "", nil, self}, {"GET", "/mails", "", nil, self}}
	})
	for _, way := range []string{"POST /me/mail-programs", "PUT /me/mail-programs/{id}", "DELETE /me/mail-programs/{id}", "GET /mails/{id}", "DELETE /mails/{id}", "POST /mails/{id}/confirmation"} {
		apart[way] = "its sender's alone: TestMailsAreTheirSenders"
	}
}

// post is an office to which mail programs hand mails over.
type post struct {
	*office
	at      string
	trusted *x509.CertPool
}

func newPost(t *testing.T) *post {
	t.Helper()
	config, trusted, err := standin.Certificate()
	if err != nil {
		t.Fatal(err)
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { listener.Close() })
	p := &post{at: listener.Addr().String(), trusted: trusted}
	p.office = newOffice(t, func(c *server.Config) {
		c.Submission = server.Submission{Listen: p.at, TLS: config, Listener: listener}
	})
	return p
}

// program makes a password for somebody's mail program.
func (p *post) program(c *testkit.Client, w contract.MailSettings) string {
	p.T.Helper()
	return testkit.Post[contract.MailProgramMade](c, 201, "/api/me/mail-programs", contract.NewMailProgram{Name: "Desk " + uuid.NewString(), Over: w.Over, Numbers: w.Numbers, Holds: w.Holds}).Password
}

// hands hands a mail over by a usual mail library.
func (p *post) hands(who, password string, m *gomail.Msg) error {
	p.T.Helper()
	_, port, _ := net.SplitHostPort(p.at)
	n := 0
	fmt.Sscan(port, &n)
	client, err := gomail.NewClient("127.0.0.1", gomail.WithPort(n), gomail.WithTLSPolicy(gomail.TLSMandatory), gomail.WithTLSConfig(&tls.Config{RootCAs: p.trusted, ServerName: "localhost"}),
		gomail.WithSMTPAuth(gomail.SMTPAuthPlain), gomail.WithUsername(p.People[who].Email), gomail.WithPassword(password), gomail.WithTimeout(time.Minute))
	if err != nil {
		p.T.Fatal(err)
	}
	return client.DialAndSend(m)
}

// raw hands a mail over as it is, and says at which stage it was refused.
func (p *post) raw(who, password, from string, to []string, raw []byte) (stage string, err error) {
	p.T.Helper()
	client, err := smtp.DialStartTLS(p.at, &tls.Config{RootCAs: p.trusted, ServerName: "localhost"})
	if err != nil {
		p.T.Fatal(err)
	}
	defer client.Close()
	if err := client.Auth(sasl.NewPlainClient("", p.People[who].Email, password)); err != nil {
		return "AUTH", err
	}
	if err := client.Mail(from, nil); err != nil {
		return "MAIL", err
	}
	for _, one := range to {
		if err := client.Rcpt(one, nil); err != nil {
			return "RCPT", err
		}
	}
	w, err := client.Data()
	if err != nil {
		return "DATA", err
	}
	if _, err := w.Write(raw); err != nil {
		return "DATA", err
	}
	return "end", w.Close()
}

// came waits for the mails that were delivered to an address.
func (p *post) came(to string, n int) (all [][]byte) {
	p.T.Helper()
	waitFor(p.T.(*testing.T), func() bool {
		all = nil
		for _, m := range p.Mail.Messages("") {
			if m.Envelope == to && !strings.Contains(m.From, "papers@") {
				raw, err := os.ReadFile(m.File)
				if err == nil {
					all = append(all, raw)
				}
			}
		}
		return len(all) >= n
	})
	if len(all) != n {
		p.T.Errorf("%d mails came to %s, not %d", len(all), to, n)
	}
	return all
}

func linkIn(t *testing.T, p *post, raw []byte) string {
	t.Helper()
	// The note is written in base64.
	for block := range strings.SplitSeq(string(raw), "\r\n\r\n") {
		text, _, _ := strings.Cut(block, "\r\n--")
		plain, err := base64.StdEncoding.DecodeString(strings.ReplaceAll(strings.TrimSpace(text), "\r\n", ""))
		if at := bytes.Index(plain, []byte(p.URL+"/l/")); err == nil && at >= 0 {
			return string(bytes.Fields(plain[at:])[0])
		}
	}
	t.Fatalf("no link in %s", raw)
	return ""
}

func letterOf(from string, to ...string) *gomail.Msg {
	m := gomail.NewMsg()
	_ = m.From(from)
	_ = m.To(to...)
	m.Subject("Docking drawings, März")
	m.SetBodyString(gomail.TypeTextPlain, "Dear Odile, as agreed.\n")
	m.AddAlternativeString(gomail.TypeTextHTML, "<p>Dear Odile, as <b>agreed</b>.</p>")
	return m
}

// A mail from a mail program: its attachments become a transfer, each recipient gets the mail with a link
// of their own, and it is not sent twice.
func TestAMailsAttachmentsBecomeATransfer(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	p := newPost(t)
	password := p.program(p.luca, contract.MailSettings{Over: 1000, Numbers: true})
	drawing := bytes.Repeat([]byte("drawing "), 300_000)
	m := letterOf(p.People["luca"].Email, "odile@brackwater.example", "marit@pelham-dock.example")
	_ = m.Bcc("hidden@dunlin.example")
	_ = m.AttachReader("Zeichnung, März.pdf", bytes.NewReader(drawing))
	_ = m.AttachReader("small.txt", strings.NewReader("stays"))
	_ = m.EmbedReader("logo.png", bytes.NewReader(bytes.Repeat([]byte("logo"), 1000)))
	if err := p.hands("luca", password, m); err != nil {
		t.Fatal(err)
	}
	sum := sha256.Sum256(drawing)
	links := map[string]bool{}
	for _, to := range []string{"odile@brackwater.example", "marit@pelham-dock.example", "hidden@dunlin.example"} {
		raw := p.came(to, 1)[0]
		if bytes.Contains(raw, []byte(base64.StdEncoding.EncodeToString([]byte("drawing drawing ")))) || bytes.Contains(raw, []byte("hidden@")) {
			t.Errorf("to %s: %.600s", to, raw)
		}
		if !bytes.Contains(raw, []byte("small.txt")) || !bytes.Contains(raw, []byte("logo.png")) || !bytes.Contains(raw, []byte("To: <odile@brackwater.example>, <marit@pelham-dock.example>")) {
			t.Errorf("what stays is missing: %.2000s", raw)
		}
		address := linkIn(t, p, raw)
		links[address] = true
		v, at := p.comes(address)
		shown := testkit.Get[contract.VisitedTransfer](v, at+"/transfer")
		if len(shown.Files) != 1 || shown.Files[0].Name != "Zeichnung, März.pdf" || opt(shown.For) != to {
			t.Fatalf("%+v", shown)
		}
		if got := sha256.Sum256(v.Do("GET", at+"/files/"+shown.Files[0].Id.String(), nil).Body); got != sum {
			t.Error("what is fetched is not what was attached")
		}
	}
	if len(links) != 3 {
		t.Errorf("%d links for three", len(links))
	}
	all := testkit.Get[[]contract.Transfer](p.luca, "/api/transfers")
	if len(all) != 1 || all[0].Name != "Docking drawings, März" || len(all[0].Recipients) < 3 {
		t.Fatalf("%+v", all)
	}
	p.sound()
}

func TestAMailIsNotSentTwice(t *testing.T) {
	t.Parallel()
	p := newPost(t)
	password := p.program(p.luca, contract.MailSettings{})
	raw := []byte("From: Luca <" + p.People["luca"].Email + ">\r\nSubject: Twice\r\nContent-Type: multipart/mixed; boundary=x\r\n\r\n--x\r\n\r\nText\r\n--x\r\nContent-Type: application/pdf; name=a.pdf\r\n\r\n%PDF-1.4\r\n--x--\r\n")
	for range 3 {
		if stage, err := p.raw("luca", password, p.People["luca"].Email, []string{"odile@brackwater.example"}, raw); err != nil {
			t.Fatalf("%s: %v", stage, err)
		}
	}
	p.came("odile@brackwater.example", 1)
	if all := testkit.Get[[]contract.Transfer](p.luca, "/api/transfers"); len(all) != 1 {
		t.Errorf("%d transfers", len(all))
	}
	// What cannot be delivered is said to the sender; the others get it.
	p.Mail.Refuses = func(to string) error {
		if strings.HasPrefix(to, "nobody@") {
			return &smtp.SMTPError{Code: 550, Message: "no such mailbox here"}
		}
		return nil
	}
	if stage, err := p.raw("luca", password, p.People["luca"].Email, []string{"nobody@brackwater.example", "bram@brackwater.example"}, append(raw, "x"...)); err != nil {
		t.Fatalf("%s: %v", stage, err)
	}
	p.came("bram@brackwater.example", 1)
	waitFor(t, func() bool {
		for _, m := range p.Mail.Messages(p.People["luca"].Email) {
			if strings.Contains(m.Text, "no such mailbox here") {
				return true
			}
		}
		return false
	})
}

// A mail is refused at the stage at which it is known, and leaves nothing.
func TestMailsAreRefusedWhereItIsKnown(t *testing.T) {
	t.Parallel()
	p := newPost(t)
	password := p.program(p.luca, contract.MailSettings{})
	luca := p.People["luca"].Email
	mixed := func(parts string) []byte {
		return []byte("From: Luca <" + p.People["luca"].Email + ">\r\nSubject: x\r\nContent-Type: multipart/mixed; boundary=x\r\n\r\n" + parts + "--x--\r\n")
	}
	pdf := "--x\r\nContent-Type: application/pdf; name=a.pdf\r\n\r\n%PDF\r\n"
	p.Appoint("hanne", "administrator")
	p.outward(contract.OutwardRules{Required: "nothing", Kinds: []contract.LinkKind{contract.LinkKindTransfer}, Shut: []string{"shut.example"}, Only: []string{}, SealedFor: &[]string{"sealed.example"}})
	for name, c := range map[string]struct {
		password, from, to string
		raw                []byte
		stage              string
		code               int
	}{
		"a wrong password":           {"wrong", luca, "odile@brackwater.example", nil, "AUTH", 535},
		"somebody else's address":    {password, p.People["hanne"].Email, "odile@brackwater.example", nil, "MAIL", 550},
		"nobody's address":           {password, "", "odile@brackwater.example", nil, "MAIL", 550},
		"a recipient that is none":   {password, luca, "odile@localhost", nil, "RCPT", 553},
		"no mail":                    {password, luca, "odile@brackwater.example", []byte("\x00\x01\r\n"), "end", 554},
		"a domain that is shut":      {password, luca, "a@shut.example", mixed(pdf), "end", 550},
		"a domain that wants sealed": {password, luca, "a@sealed.example", mixed(pdf), "end", 550},
		"in somebody else's name":    {password, luca, "odile@brackwater.example", bytes.Replace(mixed(pdf), []byte(luca), []byte(p.People["hanne"].Email), 1), "end", 550},
		"in nobody's name":           {password, luca, "odile@brackwater.example", bytes.Replace(mixed(pdf), []byte("From: Luca <"+luca+">\r\n"), nil, 1), "end", 550},
		"too many parts":             {password, luca, "odile@brackwater.example", mixed(strings.Repeat("--x\r\n\r\na\r\n", 1500)), "end", 554},
	} {
		stage, err := p.raw("luca", c.password, c.from, []string{c.to}, c.raw)
		said, ok := err.(*smtp.SMTPError)
		if !ok || stage != c.stage || said.Code != c.code {
			t.Errorf("%s: at %s %v", name, stage, err)
		}
	}
	// Odd subjects and names do no harm, and large mails pass.
	odd := bytes.Replace(mixed("--x\r\nContent-Type: application/pdf; name=\"../../a\\b.pdf\"\r\nContent-Transfer-Encoding: base64\r\n\r\n"+strings.Repeat(strings.Repeat("A", 76)+"\r\n", 30<<20/57)+"\r\n"), []byte("Subject: x"), []byte("Subject: =?utf-8?q?Offer_12/2026=00=0D=0ABcc:_a@b.example?="), 1)
	if stage, err := p.raw("luca", password, luca, []string{"bram@brackwater.example"}, odd); err != nil {
		t.Errorf("an odd one: %s %v", stage, err)
	}
	out := testkit.Get[[]contract.Transfer](p.luca, "/api/transfers")
	if len(out) != 1 || out[0].Name != "Offer 12-2026 Bcc: a@b.example" || out[0].Files[0].Size != 30<<20/57*57 || strings.ContainsAny(out[0].Files[0].Name, "/\\") {
		t.Fatalf("%+v", out)
	}
	p.came("bram@brackwater.example", 1)
	p.luca.Want(204, "POST", "/api/transfers/"+out[0].Id.String()+"/end", nil)
	// Without attachments nothing leaves the practice but a mail.
	if stage, err := p.raw("luca", password, luca, []string{"a@shut.example"}, mixed("--x\r\n\r\nText\r\n")); err != nil {
		t.Errorf("a mail without anything: %s %v", stage, err)
	}
	if all := testkit.Get[[]contract.Transfer](p.luca, "/api/transfers"); len(all) != 1 {
		t.Errorf("left: %+v", all)
	}
	// Unsigned-in and without TLS nothing is taken.
	client, err := smtp.Dial(p.at)
	if err != nil {
		t.Fatal(err)
	}
	defer client.Close()
	if client.Auth(sasl.NewPlainClient("", luca, password)) == nil || client.Mail(luca, nil) == nil {
		t.Error("taken without TLS")
	}
	// Many recipients are refused one by one.
	many := make([]string, 101)
	for i := range many {
		many[i] = fmt.Sprintf("a%d@brackwater.example", i)
	}
	if stage, err := p.raw("luca", password, luca, many, mixed(pdf)); err == nil || stage != "RCPT" {
		t.Errorf("101 recipients: %s %v", stage, err)
	}
	// A bomb: the hour's recipients are spent.
	refused := ""
	for i := range 7 {
		stage, err := p.raw("luca", password, luca, many[:90], mixed(fmt.Sprintf("--x\r\n\r\n%d\r\n", i)))
		if err != nil {
			refused = fmt.Sprint(stage, err)
			break
		}
	}
	if !strings.Contains(refused, "end") || !strings.Contains(refused, "450") {
		t.Errorf("a bomb: %q", refused)
	}
}

// A mail that gives something out can wait for its sender, who says under which terms; documents whose numbers
// are written go along.
func TestAMailWaits(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	p := newPost(t)
	password := p.program(p.hanne, contract.MailSettings{Numbers: true, Holds: true})
	hanne := p.People["hanne"].Email
	from := hanne
	text := func(words string) []byte {
		return []byte("From: " + from + "\r\nTo: odile@brackwater.example\r\nSubject: The plan\r\nMIME-Version: 1.0\r\nContent-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: 8bit\r\n\r\n" + words + "\r\n")
	}
	ref := testkit.Get[contract.Document](p.hanne, "/api/documents/"+p.plan.String())
	number := ref.Ref
	if _, err := p.raw("hanne", password, hanne, []string{"odile@brackwater.example"}, text("Grüße, see "+number+" and MER-24/999.")); err != nil {
		t.Fatal(err)
	}
	all := testkit.Get[[]contract.HeldMail](p.hanne, "/api/mails")
	if len(all) != 1 || all[0].Subject != "The plan" || len(all[0].Transfer.Files) != 1 || all[0].Transfer.Files[0].Name != "plan.txt" {
		t.Fatalf("%+v", all)
	}
	if out := testkit.Get[[]contract.Transfer](p.hanne, "/api/transfers"); len(out) != 0 {
		t.Errorf("out before it is confirmed: %+v", out)
	}
	waitFor(t, func() bool {
		for _, m := range p.Mail.Messages(hanne) {
			if strings.Contains(m.Text, "/outward/mail/"+all[0].Id.String()) {
				return true
			}
		}
		return false
	})
	confirm := "/api/mails/" + all[0].Id.String() + "/confirmation"
	p.hanne.Want(202, "POST", confirm, contract.LinkTerms{Items: []uuid.UUID{}, Password: ptr("harbour light")})
	raw := p.came("odile@brackwater.example", 1)[0]
	if !bytes.Contains(raw, []byte("Grüße, see "+number+" and MER-24/999.\r\n")) {
		t.Errorf("%s", raw)
	}
	v := p.Visitor()
	at := "/api/visits/" + path.Base(linkIn(t, p, raw))
	if a := v.Do("POST", at, contract.OpenLink{}); a.Status != 401 {
		t.Errorf("without the password: %d", a.Status)
	}
	v.Want(204, "POST", at, contract.OpenLink{Password: ptr("harbour light")})
	if a := p.hanne.Do("POST", confirm, contract.LinkTerms{Items: []uuid.UUID{}}); a.Status != 409 {
		t.Errorf("confirmed twice: %d", a.Status)
	}
	// What somebody may not give out stays a number, and tells nothing.
	tomasz := p.program(p.tomasz, contract.MailSettings{Numbers: true})
	from = p.People["tomasz"].Email
	if _, err := p.raw("tomasz", tomasz, p.People["tomasz"].Email, []string{"bram@brackwater.example"}, text("See "+number+".")); err != nil {
		t.Fatal(err)
	}
	if raw := p.came("bram@brackwater.example", 1)[0]; bytes.Contains(raw, []byte("plan.txt")) || bytes.Contains(raw, []byte("multipart")) {
		t.Errorf("%s", raw)
	}
	from = hanne
	// Given up, it goes to nobody.
	if _, err := p.raw("hanne", password, hanne, []string{"marit@pelham-dock.example"}, text("Once more "+number)); err != nil {
		t.Fatal(err)
	}
	second := testkit.Get[[]contract.HeldMail](p.hanne, "/api/mails")[0]
	p.hanne.Want(204, "DELETE", "/api/mails/"+second.Id.String(), nil)
	if left := testkit.Get[[]contract.HeldMail](p.hanne, "/api/mails"); len(left) != 0 {
		t.Errorf("%+v", left)
	}
	// Forgotten, it is given up after two weeks.
	if _, err := p.raw("hanne", password, hanne, []string{"marit@pelham-dock.example"}, text("A third time "+number)); err != nil {
		t.Fatal(err)
	}
	p.Later(15 * 24 * time.Hour)
	p.duty("look after mails")
	hanneAgain := p.SignIn("hanne")
	waitFor(t, func() bool { return len(testkit.Get[[]contract.HeldMail](hanneAgain, "/api/mails")) == 0 })
	for _, m := range p.Mail.Messages("") {
		if m.Envelope == "marit@pelham-dock.example" {
			t.Error("what was given up went out")
		}
	}
}

func TestMailsAreTheirSenders(t *testing.T) {
	t.Parallel()
	p := newPost(t)
	made := testkit.Post[contract.MailProgramMade](p.luca, 201, "/api/me/mail-programs", contract.NewMailProgram{Name: "Desk", Holds: true})
	program := "/api/me/mail-programs/" + made.Program.Id.String()
	raw := []byte("From: Luca <" + p.People["luca"].Email + ">\r\nSubject: x\r\nContent-Type: application/pdf; name=a.pdf\r\n\r\n%PDF\r\n")
	if _, err := p.raw("luca", made.Password, p.People["luca"].Email, []string{"odile@brackwater.example"}, raw); err != nil {
		t.Fatal(err)
	}
	mail := "/api/mails/" + testkit.Get[[]contract.HeldMail](p.luca, "/api/mails")[0].Id.String()
	for _, c := range []*testkit.Client{p.hanne, p.tomasz} {
		for _, a := range []testkit.Answer{c.Do("GET", mail, nil), c.Do("DELETE", mail, nil), c.Do("POST", mail+"/confirmation", contract.LinkTerms{Items: []uuid.UUID{}}),
			c.Do("PUT", program, contract.MailSettings{}), c.Do("DELETE", program, nil)} {
			if a.Status != 404 {
				t.Errorf("%d %s", a.Status, a.Body)
			}
		}
	}
	if a := p.luca.Do("POST", "/api/me/mail-programs", contract.NewMailProgram{Name: "Large", Over: 1 << 40}); a.Status != 400 && a.Status != 422 {
		t.Errorf("%d", a.Status)
	}
	// The password is one person's, and signs in no more once it is taken away, or they have left.
	if stage, _ := p.raw("hanne", made.Password, p.People["hanne"].Email, nil, nil); stage != "AUTH" {
		t.Errorf("another signs in by it: %s", stage)
	}
	p.luca.Want(204, "DELETE", program, nil)
	if stage, _ := p.raw("luca", made.Password, p.People["luca"].Email, nil, nil); stage != "AUTH" {
		t.Errorf("it signs in: %s", stage)
	}
	second := p.program(p.luca, contract.MailSettings{})
	if _, err := p.App.DB.Exec(`UPDATE people SET deactivated_at = now() WHERE id = $1`, p.People["luca"].ID); err != nil {
		t.Fatal(err)
	}
	if stage, _ := p.raw("luca", second, p.People["luca"].Email, nil, nil); stage != "AUTH" {
		t.Errorf("whoever has left signs in: %s", stage)
	}
}

// What the practice demands of links holds for what a mail gives out.
func TestMailsObeyThePractice(t *testing.T) {
	t.Parallel()
	p := newPost(t)
	luca := p.People["luca"].Email
	atOnce, waits := p.program(p.luca, contract.MailSettings{}), p.program(p.luca, contract.MailSettings{Holds: true})
	raw := func(subject string) []byte {
		return []byte("From: " + luca + "\r\nSubject: " + subject + "\r\nContent-Type: application/pdf; name=a.pdf\r\n\r\n%PDF\r\n")
	}
	p.Appoint("hanne", "administrator")
	rules := contract.OutwardRules{Required: "identity", Kinds: []contract.LinkKind{contract.LinkKindTransfer}, Shut: []string{}, Only: []string{}}
	p.outward(rules)
	if stage, err := p.raw("luca", atOnce, luca, []string{"odile@brackwater.example"}, raw("known")); err != nil {
		t.Fatal(stage, err)
	}
	at := "/api/visits/" + path.Base(linkIn(t, p, p.came("odile@brackwater.example", 1)[0]))
	if f := testkit.Get[contract.LinkFront](p.Visitor(), at); f.Identify != contract.IdentityConfirmed {
		t.Errorf("%+v", f)
	}
	rules.Required = "password"
	p.outward(rules)
	if stage, err := p.raw("luca", atOnce, luca, []string{"odile@brackwater.example"}, raw("without a password")); stage != "end" || err == nil {
		t.Errorf("%s %v", stage, err)
	}
	if stage, err := p.raw("luca", waits, luca, []string{"bram@brackwater.example"}, raw("waits")); err != nil {
		t.Fatal(stage, err)
	}
	confirm := "/api/mails/" + testkit.Get[[]contract.HeldMail](p.luca, "/api/mails")[0].Id.String() + "/confirmation"
	if a := p.luca.Do("POST", confirm, contract.LinkTerms{Items: []uuid.UUID{}, Password: ptr("")}); a.Code() != "rule-password" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	p.luca.Want(202, "POST", confirm, contract.LinkTerms{Items: []uuid.UUID{}, Password: ptr("harbour light")})
	p.came("bram@brackwater.example", 1)
	rules.Kinds = []contract.LinkKind{contract.LinkKindHandOut}
	p.outward(rules)
	if stage, err := p.raw("luca", waits, luca, []string{"bram@brackwater.example"}, raw("no transfers")); stage != "end" || err == nil {
		t.Errorf("%s %v", stage, err)
	}
}

// A mail that waits can be confirmed once, also by many at once.
func TestAMailIsConfirmedOnce(t *testing.T) {
	t.Parallel()
	p := newPost(t)
	luca := p.People["luca"].Email
	if _, err := p.raw("luca", p.program(p.luca, contract.MailSettings{Holds: true}), luca, []string{"odile@brackwater.example"}, []byte("From: "+luca+"\r\nSubject: once\r\nContent-Type: application/pdf; name=a.pdf\r\n\r\n%PDF\r\n")); err != nil {
		t.Fatal(err)
	}
	confirm := "/api/mails/" + testkit.Get[[]contract.HeldMail](p.luca, "/api/mails")[0].Id.String() + "/confirmation"
	var all sync.WaitGroup
	var sent atomic.Int32
	for range 8 {
		all.Go(func() {
			if a := p.luca.Do("POST", confirm, contract.LinkTerms{Items: []uuid.UUID{}}); a.Status == 202 {
				sent.Add(1)
			} else if a.Status != 409 {
				t.Errorf("%d %s", a.Status, a.Body)
			}
		})
	}
	all.Wait()
	if sent.Load() != 1 {
		t.Errorf("confirmed %d times", sent.Load())
	}
	p.came("odile@brackwater.example", 1)
}

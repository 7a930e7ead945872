package jobs_test

import (
	"bytes"
	"crypto/tls"
	"net"
	"strconv"
	"strings"
	"testing"

	gomail "github.com/wneessen/go-mail"

	"tabularis/internal/platform/mail/standin"
	"tabularis/internal/server"
	"tabularis/internal/testkit"
)

// From a mail program: an attachment becomes a transfer without an act more; a mail that waits is sent by
// three, and the recipient fetches.
func TestAMailProgramsAttachmentIsFetched(t *testing.T) {
	t.Parallel()
	certificate, trusted, err := standin.Certificate()
	if err != nil {
		t.Fatal(err)
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { listener.Close() })
	k, c, _ := practice(t, func(c *server.Config) {
		c.Submission = server.Submission{Listen: listener.Addr().String(), TLS: certificate, Listener: listener}
	})
	_ = c
	from, to := k.People["ines"].Email, "odile.charron@brackwater.example"
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/me"))
	ines.count("connect a mail program", 3, func() {
		ines.does(ines.Click("#mail-programs button::Connect a mail program"), ines.Type("#mail-programs input", "Desk"), ines.Click("#mail-programs button::Make a password"), ines.SeeText("It is said once."))
	})
	password, err := ines.Copied()
	ines.does(err, ines.See("li[data-program=Desk]::become a transfer"))
	content := bytes.Repeat([]byte("drawing "), 800_000)
	hands := func(subject string) {
		t.Helper()
		m := gomail.NewMsg()
		m.Subject(subject)
		m.SetBodyString(gomail.TypeTextPlain, "Dear Odile, the drawings.")
		_, port, _ := net.SplitHostPort(listener.Addr().String())
		n, _ := strconv.Atoi(port)
		client, err := gomail.NewClient("127.0.0.1", gomail.WithPort(n), gomail.WithTLSConfig(&tls.Config{RootCAs: trusted, ServerName: "localhost"}), gomail.WithTLSPolicy(gomail.TLSMandatory),
			gomail.WithSMTPAuth(gomail.SMTPAuthPlain), gomail.WithUsername(from), gomail.WithPassword(password))
		ines.does(err, m.From(from), m.To(to), m.AttachReader("Docking plan.bin", bytes.NewReader(content)), client.DialAndSend(m))
	}
	hands("Docking drawings")
	folder := t.TempDir()
	odile := sits(t, k, 1280, 800)
	odile.does(odile.Downloads(folder), odile.Go(mailed(t, k, to, k.URL+"/l/")), odile.See("button::Fetch everything"))
	odile.count("recipient: fetch what was attached", 1, func() {
		odile.does(odile.Click("button::Fetch everything"))
		if got := saved(t, folder, "Docking plan.bin"); !bytes.Equal(got, content) {
			t.Errorf("%d bytes came, not %d", len(got), len(content))
		}
	})
	ines.does(ines.opens("/outward/transfers"), ines.See("article::Docking drawings"), ines.SeeText("all,"))
	// The next one waits.
	ines.does(ines.opens("/me"), ines.Pick("li[data-program=Desk] select::goes at once", "waits for me"), ines.SeeText("waits for me"))
	hands("Second drawings")
	ines.does(ines.opens("/today"))
	at := strings.TrimPrefix(mailed(t, k, from, k.URL+"/outward/mail/"), k.URL)
	ines.Acts = 1 // Following the link in the mail.
	ines.count("a mail that waits, with a term", 3, func() {
		ines.does(ines.opens(at), ines.Click("button.plus::password"), ines.Click("button::Send"), ines.SeeText("The mail is on its way."))
	})
	odile.does(odile.Go(mailedTwice(t, k, to)), odile.See("#password"))
}

// mailedTwice is the link in the second mail to somebody.
func mailedTwice(t *testing.T, k *testkit.Kit, to string) (address string) {
	t.Helper()
	until(t, "a second mail came", func() bool {
		var all []string
		for _, m := range k.Mail.Messages(to) {
			if at := strings.Index(m.Text, k.URL+"/l/"); at >= 0 {
				all = append(all, strings.Fields(m.Text[at:])[0])
			}
		}
		if len(all) < 2 {
			return false
		}
		address = all[1]
		return true
	})
	return address
}

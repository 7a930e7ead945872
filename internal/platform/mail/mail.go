// Package mail sends messages by SMTP.
package mail

import (
	"crypto/tls"
	"errors"
	"io"

	"github.com/emersion/go-sasl"
	"github.com/emersion/go-smtp"

	"context"
	"fmt"
	"net"
	"strconv"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	gomail "github.com/wneessen/go-mail"

	"tabularis/internal/platform/jobs"
)

// patience is how long the mail server may take to answer.
const patience = 30 * time.Second

// Sender sends through one SMTP server.
type Sender struct {
	host           string
	port           int
	from           string
	opts           []gomail.Option
	user, password string
	plain          bool
}

// Settings say how to reach the SMTP server. User and Password may be empty.
// Plain allows a connection without TLS, for a server on this machine.
type Settings struct {
	Address, From, User, Password string
	Plain                         bool
}

// New prepares a sender; nothing is connected yet.
func New(s Settings) (*Sender, error) {
	host, port, err := net.SplitHostPort(s.Address)
	if err != nil {
		return nil, fmt.Errorf("reading the SMTP address: %w", err)
	}
	n, err := strconv.Atoi(port)
	if err != nil {
		return nil, fmt.Errorf("reading the SMTP address: %w", err)
	}
	opts := []gomail.Option{gomail.WithPort(n), gomail.WithTimeout(patience), gomail.WithTLSPolicy(gomail.TLSMandatory)}
	if s.Plain {
		opts = append(opts, gomail.WithTLSPolicy(gomail.NoTLS))
	}
	if s.User != "" {
		opts = append(opts, gomail.WithSMTPAuth(gomail.SMTPAuthAutoDiscover), gomail.WithUsername(s.User), gomail.WithPassword(s.Password))
	}
	return &Sender{host, n, s.From, opts, s.User, s.Password, s.Plain}, nil
}

// Register registers who sends what is to be sent.
func (s *Sender) Register(r *jobs.Registry) { jobs.Handle(r, true, s.Send) }

// oneLine puts on one line what goes into a header: no name keeps a mail from being
// sent, or adds a header to it.
func oneLine(s string) string {
	return strings.Join(strings.FieldsFunc(s, func(r rune) bool {
		return unicode.IsControl(r) || r == '\u2028' || r == '\u2029' || r == utf8.RuneError
	}), " ")
}

// Send sends one message.
func (s *Sender) Send(ctx context.Context, m jobs.SendMail) error {
	msg := gomail.NewMsg()
	msg.SetDate()
	msg.SetMessageID()
	msg.Subject(oneLine(m.Subject))
	msg.SetBodyString(gomail.TypeTextPlain, m.Text)
	if err := msg.FromFormat(oneLine(m.From), s.from); err != nil {
		return fmt.Errorf("addressing a message: %w", err)
	}
	if err := msg.AddToFormat(oneLine(m.ToName), m.To); err != nil {
		return fmt.Errorf("addressing a message: %w", err)
	}
	if m.ReplyTo != "" {
		if err := msg.ReplyTo(m.ReplyTo); err != nil {
			return fmt.Errorf("addressing a message: %w", err)
		}
	}
	client, err := gomail.NewClient(s.host, s.opts...)
	if err != nil {
		return fmt.Errorf("preparing to send: %w", err)
	}
	if err := client.DialAndSendWithContext(ctx, msg); err != nil {
		return fmt.Errorf("sending a message: %w", err)
	}
	return nil
}

// Forward hands a whole message over for one recipient. Where the mail server refuses it for good, what it
// says is returned; what may pass is an error.
func (s *Sender) Forward(ctx context.Context, from, to string, message io.Reader) (refused string, err error) {
	dialer := net.Dialer{Timeout: patience}
	conn, err := dialer.DialContext(ctx, "tcp", net.JoinHostPort(s.host, strconv.Itoa(s.port)))
	if err != nil {
		return "", fmt.Errorf("reaching the mail server: %w", err)
	}
	defer context.AfterFunc(ctx, func() { conn.Close() })()
	client := smtp.NewClient(conn)
	defer client.Close()
	if !s.plain {
		if client, err = smtp.NewClientStartTLS(conn, &tls.Config{ServerName: s.host}); err != nil {
			return "", fmt.Errorf("securing the connection to the mail server: %w", err)
		}
	}
	if s.user != "" {
		if err := client.Auth(sasl.NewPlainClient("", s.user, s.password)); err != nil {
			return "", fmt.Errorf("signing in to the mail server: %w", err)
		}
	}
	opts := &smtp.MailOptions{}
	if wide, _ := client.Extension("SMTPUTF8"); wide {
		opts.UTF8 = !ascii(from) || !ascii(to)
	}
	if err = client.Mail(from, opts); err == nil {
		err = client.Rcpt(to, nil)
	}
	if err == nil {
		err = send(client, message)
	}
	var said *smtp.SMTPError
	if errors.As(err, &said) && said.Code >= 500 {
		return fmt.Sprintf("%d %s", said.Code, oneLine(said.Message)), nil
	}
	if err != nil {
		return "", fmt.Errorf("handing a mail over: %w", err)
	}
	_ = client.Quit()
	return "", nil
}

func send(client *smtp.Client, message io.Reader) error {
	w, err := client.Data()
	if err != nil {
		return err
	}
	if _, err := io.Copy(w, message); err != nil {
		return err
	}
	return w.Close()
}

func ascii(s string) bool {
	return !strings.ContainsFunc(s, func(r rune) bool { return r > unicode.MaxASCII })
}

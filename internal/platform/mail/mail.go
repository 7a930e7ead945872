// Package mail sends messages by SMTP.
package mail

import (
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

// Sender sends through one SMTP server.
type Sender struct {
	host string
	port int
	from string
	opts []gomail.Option
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
	opts := []gomail.Option{gomail.WithPort(n), gomail.WithTimeout(30 * time.Second), gomail.WithTLSPolicy(gomail.TLSMandatory)}
	if s.Plain {
		opts = append(opts, gomail.WithTLSPolicy(gomail.NoTLS))
	}
	if s.User != "" {
		opts = append(opts, gomail.WithSMTPAuth(gomail.SMTPAuthAutoDiscover), gomail.WithUsername(s.User), gomail.WithPassword(s.Password))
	}
	return &Sender{host, n, s.From, opts}, nil
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

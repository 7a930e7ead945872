// Package smtp is the door through which mail programs hand mails over (RFC 6409): behind TLS, signed in by
// a password of their own.
package smtp

import (
	"bytes"
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"slices"
	"sync/atomic"
	"time"

	"github.com/emersion/go-sasl"
	gosmtp "github.com/emersion/go-smtp"

	"tabularis/core/fault"
	rules "tabularis/core/mailing"
	"tabularis/internal/app/mailing"
	"tabularis/internal/platform/mail"
)

const (
	// atOnce is how many mails are read at once, since each is held whole meanwhile.
	atOnce = 2
	// mostSessions is how many connections there are at once.
	mostSessions = 200
	// mostLine is how long a line may be, in bytes: programs write longer ones than RFC 5321 allows.
	mostLine = 64 << 10
	patience = 2 * time.Minute
)

// Door takes connections of mail programs.
type Door struct {
	Mailing *mailing.Service
	TLS     *tls.Config
	Log     *slog.Logger

	sessions atomic.Int32
	turns    chan struct{}
}

// Serve takes connections until the context ends, and lets mails that are being taken be taken.
func (d *Door) Serve(ctx context.Context, listener net.Listener) error {
	d.turns = make(chan struct{}, atOnce)
	s := gosmtp.NewServer(d)
	s.Domain, s.TLSConfig, s.EnableSMTPUTF8 = d.Mailing.Host, d.TLS, true
	s.MaxMessageBytes, s.MaxRecipients, s.MaxLineLength = rules.MostBytes, rules.MostRecipients, mostLine
	s.ReadTimeout, s.WriteTimeout = patience, patience
	s.ErrorLog = slog.NewLogLogger(d.Log.Handler(), slog.LevelDebug)
	stop := context.AfterFunc(ctx, func() {
		ending, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
		defer cancel()
		_ = s.Shutdown(ending)
	})
	defer stop()
	if err := s.Serve(listener); err != nil && !errors.Is(err, gosmtp.ErrServerClosed) && ctx.Err() == nil {
		return fmt.Errorf("serving mail programs: %w", err)
	}
	return nil
}

// NewSession begins with one connection.
func (d *Door) NewSession(c *gosmtp.Conn) (gosmtp.Session, error) {
	if d.sessions.Add(1) > mostSessions {
		d.sessions.Add(-1)
		return nil, &gosmtp.SMTPError{Code: 421, EnhancedCode: gosmtp.EnhancedCode{4, 3, 2}, Message: "too many connections, try again later"}
	}
	network, _, _ := net.SplitHostPort(c.Conn().RemoteAddr().String())
	return &session{door: d, conn: c, network: network}, nil
}

// session is one connection. Before somebody is signed in nothing is taken.
type session struct {
	door     *Door
	conn     *gosmtp.Conn
	network  string
	ctx      context.Context
	password mailing.Password
	from     string
	to       []string
}

// AuthMechanisms are offered behind TLS only.
func (s *session) AuthMechanisms() []string { return []string{sasl.Plain} }

// Auth signs somebody in (RFC 4954).
func (s *session) Auth(string) (sasl.Server, error) {
	return sasl.NewPlainServer(func(identity, user, password string) error {
		if identity != "" && identity != user {
			return gosmtp.ErrAuthFailed
		}
		ctx, p, err := s.door.Mailing.SignIn(context.Background(), user, password, s.network)
		if err != nil {
			if fault.Is(err, fault.Forbidden) {
				return gosmtp.ErrAuthFailed
			}
			return s.refusal(err)
		}
		s.ctx, s.password = ctx, p
		return nil
	}), nil
}

func (s *session) Mail(from string, _ *gosmtp.MailOptions) error {
	if s.ctx == nil {
		return &gosmtp.SMTPError{Code: 530, EnhancedCode: gosmtp.EnhancedCode{5, 7, 0}, Message: "sign in first"}
	}
	if err := mailing.Mine(s.ctx, from); err != nil {
		return s.refusal(err)
	}
	s.from = from
	return nil
}

func (s *session) Rcpt(to string, _ *gosmtp.RcptOptions) error {
	a, err := mail.Address("to", to)
	if err != nil {
		return &gosmtp.SMTPError{Code: 553, EnhancedCode: gosmtp.EnhancedCode{5, 1, 3}, Message: "this is not a mail address"}
	}
	if !slices.Contains(s.to, a.Address) {
		s.to = append(s.to, a.Address)
	}
	return nil
}

// Data takes the mail. When that is answered, it is kept.
func (s *session) Data(r io.Reader) error {
	select {
	case s.door.turns <- struct{}{}:
		defer func() { <-s.door.turns }()
	case <-time.After(patience):
		return &gosmtp.SMTPError{Code: 451, EnhancedCode: gosmtp.EnhancedCode{4, 3, 2}, Message: "too much at once, try again later"}
	}
	var raw bytes.Buffer
	if _, err := raw.ReadFrom(r); err != nil {
		return err
	}
	if _, err := s.door.Mailing.Take(s.ctx, s.password, s.from, s.to, raw.Bytes()); err != nil {
		return s.refusal(err)
	}
	return nil
}

func (s *session) Reset() { s.from, s.to = "", nil }

func (s *session) Logout() error {
	s.door.sessions.Add(-1)
	return nil
}

// replies are how refusals are said, by their kind (RFC 3463).
var replies = map[fault.Kind]gosmtp.SMTPError{
	fault.Invalid:         {Code: 554, EnhancedCode: gosmtp.EnhancedCode{5, 6, 0}},
	fault.Forbidden:       {Code: 550, EnhancedCode: gosmtp.EnhancedCode{5, 7, 1}},
	fault.NotFound:        {Code: 550, EnhancedCode: gosmtp.EnhancedCode{5, 7, 1}},
	fault.Unauthenticated: {Code: 530, EnhancedCode: gosmtp.EnhancedCode{5, 7, 0}},
	fault.TooLarge:        {Code: 552, EnhancedCode: gosmtp.EnhancedCode{5, 3, 4}},
	fault.Conflict:        {Code: 451, EnhancedCode: gosmtp.EnhancedCode{4, 3, 0}},
	fault.NoSpace:         {Code: 452, EnhancedCode: gosmtp.EnhancedCode{4, 3, 1}},
	fault.RateLimited:     {Code: 450, EnhancedCode: gosmtp.EnhancedCode{4, 7, 1}},
}

func (s *session) refusal(err error) error {
	f := fault.Of(err)
	reply, known := replies[f.Kind]
	if !known {
		s.door.Log.Error("taking a mail failed", "error", err)
		return &gosmtp.SMTPError{Code: 451, EnhancedCode: gosmtp.EnhancedCode{4, 3, 0}, Message: "something failed here, try again later"}
	}
	if f.Field == "to" && f.Kind == fault.Invalid {
		// To somebody else it might go.
		reply = replies[fault.Forbidden]
	}
	reply.Message = f.Detail
	return &reply
}

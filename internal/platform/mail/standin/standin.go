// Package standin is a mail server for demo and tests: it takes every message
// by SMTP, delivers none, and shows them on a page of its own.
package standin

import (
	"bytes"
	"context"
	"encoding/base64"
	"errors"
	"fmt"
	"html/template"
	"io"
	"mime"
	"net"
	"net/http"
	netmail "net/mail"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"
	"time"

	"mime/multipart"
	"mime/quotedprintable"

	"github.com/emersion/go-smtp"
)

// Message is a mail that was taken.
type Message struct {
	To, From, Subject, Text string
	At                      time.Time
	// Envelope is to whom it was handed over, File where it is kept.
	Envelope, File string
}

// Server keeps messages as .eml files (RFC 5322) in a folder.
type Server struct {
	// SMTP is the address on which mail is taken.
	SMTP string
	// Refuses lets tests refuse recipients, if it is set.
	Refuses func(to string) error

	dir  string
	smtp *smtp.Server
	http *http.Server
	mu   sync.Mutex
	n    int
	all  []Message
}

// Start listens for mail on one address and shows the mailbox on another, until
// the context ends.
func Start(ctx context.Context, dir, smtpAddress, pageAddress string) (*Server, error) {
	s := &Server{dir: dir}
	if err := s.load(); err != nil {
		return nil, err
	}
	s.smtp = smtp.NewServer(s)
	s.smtp.Domain, s.smtp.MaxMessageBytes, s.smtp.MaxRecipients = "localhost", 100<<20, 50
	s.smtp.ReadTimeout, s.smtp.WriteTimeout = 30*time.Second, 30*time.Second
	mails, err := net.Listen("tcp", smtpAddress)
	if err != nil {
		return nil, fmt.Errorf("listening for mail: %w", err)
	}
	pages, err := net.Listen("tcp", pageAddress)
	if err != nil {
		mails.Close()
		return nil, fmt.Errorf("listening for the mailbox page: %w", err)
	}
	s.http = &http.Server{Handler: http.HandlerFunc(s.page), ReadHeaderTimeout: 10 * time.Second}
	s.SMTP = mails.Addr().String()
	go s.smtp.Serve(mails)
	go s.http.Serve(pages)
	context.AfterFunc(ctx, func() {
		s.smtp.Close()
		s.http.Close()
	})
	return s, nil
}

func (s *Server) load() error {
	if err := os.MkdirAll(s.dir, 0o700); err != nil {
		return fmt.Errorf("making the mailbox: %w", err)
	}
	files, err := filepath.Glob(filepath.Join(s.dir, "*.eml"))
	if err != nil {
		return err
	}
	slices.Sort(files)
	for _, f := range files {
		raw, err := os.ReadFile(f)
		if err != nil {
			return err
		}
		if m, err := read(raw); err == nil {
			s.all = append(s.all, m)
		}
	}
	s.n = len(files)
	return nil
}

// Messages returns what was taken for an address, oldest first; all for "".
func (s *Server) Messages(to string) []Message {
	s.mu.Lock()
	defer s.mu.Unlock()
	var out []Message
	for _, m := range s.all {
		if to == "" || strings.Contains(m.To, to) {
			out = append(out, m)
		}
	}
	return out
}

// NewSession begins taking mail from one connection.
func (s *Server) NewSession(*smtp.Conn) (smtp.Session, error) { return &session{server: s}, nil }

type session struct {
	server *Server
	to     string
}

func (session) Mail(string, *smtp.MailOptions) error { return nil }
func (c *session) Rcpt(to string, _ *smtp.RcptOptions) error {
	if s := c.server.Refuses; s != nil {
		if err := s(to); err != nil {
			return err
		}
	}
	c.to = to
	return nil
}
func (session) Reset()        {}
func (session) Logout() error { return nil }

func (c *session) Data(r io.Reader) error {
	raw, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	m, err := read(raw)
	if err != nil {
		return &smtp.SMTPError{Code: 554, Message: "the message cannot be read"}
	}
	s := c.server
	s.mu.Lock()
	defer s.mu.Unlock()
	s.n++
	m.Envelope, m.File = c.to, filepath.Join(s.dir, fmt.Sprintf("%06d.eml", s.n))
	if err := os.WriteFile(m.File, raw, 0o600); err != nil {
		return err
	}
	s.all = append(s.all, m)
	return nil
}

func read(raw []byte) (Message, error) {
	msg, err := netmail.ReadMessage(bytes.NewReader(raw))
	if err != nil {
		return Message{}, err
	}
	words := new(mime.WordDecoder)
	header := func(name string) string {
		text, err := words.DecodeHeader(msg.Header.Get(name))
		if err != nil {
			return msg.Header.Get(name)
		}
		return text
	}
	text, err := textOf(msg.Header.Get, msg.Body, 0)
	at, dateErr := msg.Header.Date()
	return Message{To: header("To"), From: header("From"), Subject: header("Subject"), Text: text, At: at}, errors.Join(err, dateErr)
}

// textOf is what stands in a mail as text, with the names of what is attached.
func textOf(header func(string) string, body io.Reader, depth int) (string, error) {
	kind, params, err := mime.ParseMediaType(header("Content-Type"))
	if err != nil {
		kind = "text/plain"
	}
	switch strings.ToLower(header("Content-Transfer-Encoding")) {
	case "quoted-printable":
		body = quotedprintable.NewReader(body)
	case "base64":
		body = base64.NewDecoder(base64.StdEncoding, body)
	}
	if strings.HasPrefix(kind, "multipart/") && depth < 10 {
		var all strings.Builder
		parts := multipart.NewReader(body, params["boundary"])
		for {
			p, err := parts.NextRawPart()
			if err != nil {
				return all.String(), nil
			}
			text, err := textOf(p.Header.Get, p, depth+1)
			if err != nil {
				return all.String(), err
			}
			all.WriteString(text)
		}
	}
	if kind == "text/html" && depth > 0 {
		return "", nil // It says the same as the text beside it.
	}
	if _, disposed, _ := mime.ParseMediaType(header("Content-Disposition")); disposed["filename"] != "" {
		return "[" + disposed["filename"] + "]\n", nil
	}
	text, err := io.ReadAll(body)
	return string(text), err
}

var address = regexp.MustCompile(`https?://[^\s<>"]+`)

// linked makes addresses in a text clickable.
func linked(text string) template.HTML {
	var b strings.Builder
	last := 0
	for _, at := range address.FindAllStringIndex(text, -1) {
		b.WriteString(template.HTMLEscapeString(text[last:at[0]]))
		url := template.HTMLEscapeString(text[at[0]:at[1]])
		fmt.Fprintf(&b, `<a href="%s" target="_blank" rel="noreferrer">%s</a>`, url, url)
		last = at[1]
	}
	b.WriteString(template.HTMLEscapeString(text[last:]))
	return template.HTML(b.String())
}

var page = template.Must(template.New("mailbox").Funcs(template.FuncMap{"linked": linked}).Parse(`<!doctype html>
<html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>Mailbox of the demo</title>
<style>
:root{color-scheme:light dark}body{font:15px/1.5 system-ui,sans-serif;max-width:46rem;margin:2rem auto;padding:0 1rem}
h1{font-size:1.4rem;margin:0}p.note{opacity:.75;margin:.2rem 0 1.5rem}article{border-top:1px solid;padding:.9rem 0 1.1rem}
h2{font-size:1.05rem;margin:0}small{opacity:.8}pre{white-space:pre-wrap;overflow-wrap:anywhere;font:inherit;margin:.6rem 0 0}
</style>
<h1>Mailbox of the demo</h1><p class="note">Every mail that the application sends ends here; none is delivered.{{with .To}} Only those to {{.}}. <a href="/">All</a>{{end}}</p>
{{range .All}}<article><h2>{{.Subject}}</h2><small>to {{.To}} · from {{.From}} · {{.At.Format "Mon 2 Jan 2006, 15:04"}}</small><pre>{{linked .Text}}</pre></article>
{{else}}<p>No mail yet.</p>{{end}}</html>`))

func (s *Server) page(w http.ResponseWriter, r *http.Request) {
	to := r.URL.Query().Get("to")
	all := s.Messages(to)
	slices.Reverse(all)
	w.Header().Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'")
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	_ = page.Execute(w, map[string]any{"All": all, "To": to})
}

package server

import (
	"crypto/tls"
	"fmt"
	"net"
	"net/netip"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"time"

	"tabularis/internal/app/writing"
	"tabularis/internal/platform/cell"
	"tabularis/internal/platform/mail"
)

// Config is what an installation sets.
type Config struct {
	Listen        string
	MetricsListen string
	BaseURL       string
	DatabaseURL   string
	DataDir       string
	ContentURL    string
	// CompiledDir keeps compiled code; usually a folder in DataDir.
	CompiledDir string
	// Connections go on to serve others when the server has ended, if they are set.
	Connections *Connections
	// Cells are shared with other servers in the process, if they are set.
	Cells *cell.Pool
	// BodyTime is how long a JSON body may take to arrive; 0 is the usual time.
	BodyTime time.Duration
	// Hurry divides how much of a processor reading content may take.
	Hurry         int
	KeyFile       string
	OfficeProgram string
	// RecognitionProgram is Tesseract.
	RecognitionProgram string
	MaxUpload          int64
	Mail               mail.Settings
	Mailbox            string
	Secure             bool
	TrustedProxies     []string
	LogLevel           string
	// MemoryLimit is how much memory the server's own process keeps to, in bytes.
	MemoryLimit int64
	Submission  Submission
	Signing     Signing
	// Relay is by which servers the pages of a call find each other.
	Relay writing.Relay
}

// Submission is where mail programs hand mails over; without Listen nowhere. The certificate is read from
// files, or there already.
type Submission struct {
	Listen, Certificate, Key string
	TLS                      *tls.Config
	// Listener is where it listens already, if it does.
	Listener net.Listener
}

// open reads the certificate, and returns on which host and port mails are handed over; no port is nowhere.
func (s *Submission) open(baseURL string) (host string, port int, err error) {
	if s.Listen == "" {
		return "", 0, nil
	}
	u, err := url.Parse(baseURL)
	if err != nil {
		return "", 0, fmt.Errorf("reading the base URL: %w", err)
	}
	_, digits, err := net.SplitHostPort(s.Listen)
	if err != nil {
		return "", 0, fmt.Errorf("reading where mail programs hand mails over: %w", err)
	}
	if port, err = strconv.Atoi(digits); err != nil {
		return "", 0, fmt.Errorf("reading where mail programs hand mails over: %w", err)
	}
	if s.TLS == nil {
		pair, err := tls.LoadX509KeyPair(s.Certificate, s.Key)
		if err != nil {
			return "", 0, fmt.Errorf("reading the certificate for mail programs: %w", err)
		}
		s.TLS = &tls.Config{Certificates: []tls.Certificate{pair}, MinVersion: tls.VersionTLS12}
	}
	return u.Hostname(), port, nil
}

// Setting is one value of the configuration. Its flag is Name, its variable
// TABULARIS_ and the name in capitals with underscores; with _FILE after that,
// the variable names a file which holds the value.
type Setting struct {
	Name, Default, Meaning string
	Required               bool
	set                    func(c *Config, v string) error
}

// Variable is the setting's name in the environment.
func (s Setting) Variable() string {
	return "TABULARIS_" + strings.ToUpper(strings.ReplaceAll(s.Name, "-", "_"))
}

func text(into func(c *Config) *string) func(*Config, string) error {
	return func(c *Config, v string) error {
		*into(c) = v
		return nil
	}
}

// Settings lists all settings; docs/operations.md shows the same table.
func Settings() []Setting {
	return []Setting{
		{"database-url", "", "PostgreSQL, 15 or newer: postgres://…", true, text(func(c *Config) *string { return &c.DatabaseURL })},
		{"base-url", "", "the address under which people reach the practice; with https:// cookies are sent by HTTPS only", true, baseURL},
		{"smtp-address", "", "host and port of the mail server; it must offer STARTTLS", true, text(func(c *Config) *string { return &c.Mail.Address })},
		{"mail-from", "", "sender's address of mails", true, text(func(c *Config) *string { return &c.Mail.From })},
		{"smtp-user", "", "account at the mail server, if it asks for one", false, text(func(c *Config) *string { return &c.Mail.User })},
		{"smtp-password", "", "its password", false, text(func(c *Config) *string { return &c.Mail.Password })},
		{"smtp-plain", "no", "yes allows a mail server without TLS, on this machine", false, func(c *Config, v string) (err error) { c.Mail.Plain, err = yesNo(v); return err }},
		{"listen", "127.0.0.1:8080", "address and port to serve on", false, text(func(c *Config) *string { return &c.Listen })},
		{"metrics-listen", "", "address and port for /metrics in Prometheus' format; empty for none. Keep it private", false, text(func(c *Config) *string { return &c.MetricsListen })},
		{"data-dir", "data", "folder for content, and in `compiled` for the compiled PDF reader, which may be deleted at any time", false, text(func(c *Config) *string { return &c.DataDir })},
		{"content-url", "", "a bucket for content, by the S3 protocol: s3://name?endpoint=https://…&region=…&use_path_style=true, with the keys in AWS_ACCESS_KEY_ID and AWS_SECRET_ACCESS_KEY; empty: the data folder. What is still arriving stays in the data folder", false, text(func(c *Config) *string { return &c.ContentURL })},
		{"key-file", "", "the key under which content's keys are sealed, made at the first start; empty: keys/master.key in the data folder", false, text(func(c *Config) *string { return &c.KeyFile })},
		{"recognition-program", "", "Tesseract, by which scanned pages are read so that they are found; empty: tesseract, if it is installed; none switches it off", false, text(func(c *Config) *string { return &c.RecognitionProgram })},
		{"office-program", "", "LibreOffice, by which word documents and presentations are shown in pages; empty: soffice, if it is installed; none switches it off", false, text(func(c *Config) *string { return &c.OfficeProgram })},
		{"submission-listen", "", "address and port on which mail programs hand mails over (SMTP with STARTTLS); empty for nowhere", false, text(func(c *Config) *string { return &c.Submission.Listen })},
		{"submission-certificate", "", "file with the certificate chain for it, in PEM", false, text(func(c *Config) *string { return &c.Submission.Certificate })},
		{"submission-key", "", "file with its private key, in PEM", false, text(func(c *Config) *string { return &c.Submission.Key })},
		{"signing-key", "", "file with the private key by which papers are signed (P-256 or RSA), in PEM; empty lets nothing be signed", false, text(func(c *Config) *string { return &c.Signing.Key })},
		{"signing-chain", "", "file with its certificate and those above it, in PEM", false, text(func(c *Config) *string { return &c.Signing.Chain })},
		{"signing-stamp", "", "address of the authority that stamps with the time (RFC 3161)", false, text(func(c *Config) *string { return &c.Signing.Stamp })},
		{"signing-trusted", "", "file with the root certificates that are trusted when signed papers are checked, in PEM", false, text(func(c *Config) *string { return &c.Signing.Trusted })},
		{"relay-addresses", "", "stun: and turn: addresses by which the pages of a call find each other, separated by commas; empty: pages in one network do", false, relays},
		{"relay-secret", "", "the secret shared with the turn server, by which each page gets a name and a password for twelve hours", false, text(func(c *Config) *string { return &c.Relay.Secret })},
		{"max-upload", "107374182400", "the largest document, in bytes", false, func(c *Config, v string) (err error) { c.MaxUpload, err = positive(v); return err }},
		{"trusted-proxies", "", "addresses or networks of reverse proxies whose X-Forwarded-For is believed, separated by commas", false, proxies},
		{"memory-limit", "268435456", "how much memory the server's own process keeps to, in bytes, as far as it can; what reads documents has its own limits", false, func(c *Config, v string) (err error) { c.MemoryLimit, err = positive(v); return err }},
		{"log-level", "info", "debug, info, warn or error", false, text(func(c *Config) *string { return &c.LogLevel })},
	}
}

func relays(c *Config, v string) error {
	for a := range strings.SplitSeq(v, ",") {
		if a = strings.TrimSpace(a); a == "" {
			continue
		}
		scheme, rest, _ := strings.Cut(a, ":")
		if !slices.Contains([]string{"stun", "stuns", "turn", "turns"}, scheme) || rest == "" || strings.ContainsAny(rest, " /") {
			return fmt.Errorf("%q is no address like turn:relay.practice.example:3478", a)
		}
		c.Relay.Addresses = append(c.Relay.Addresses, a)
	}
	return nil
}

func baseURL(c *Config, v string) error {
	u, err := url.Parse(v)
	if v != "" && (err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https") {
		return fmt.Errorf("%q is not an address like https://papers.practice.example", v)
	}
	c.BaseURL, c.Secure = strings.TrimRight(v, "/"), u != nil && u.Scheme == "https"
	return nil
}

func yesNo(v string) (bool, error) {
	if v != "yes" && v != "no" {
		return false, fmt.Errorf("%q is neither yes nor no", v)
	}
	return v == "yes", nil
}

func positive(v string) (int64, error) {
	n, err := strconv.ParseInt(v, 10, 64)
	if err != nil || n <= 0 {
		return 0, fmt.Errorf("%q is not a number of bytes", v)
	}
	return n, nil
}

func proxies(c *Config, v string) error {
	for p := range strings.SplitSeq(v, ",") {
		if p = strings.TrimSpace(p); p == "" {
			continue
		}
		if _, err := netip.ParseAddr(p); err != nil {
			if _, err := netip.ParsePrefix(p); err != nil {
				return fmt.Errorf("%q is neither an address nor a network", p)
			}
		}
		c.TrustedProxies = append(c.TrustedProxies, p)
	}
	return nil
}

// Read puts a configuration together: a flag that was given, else the variable,
// else the file that the variable with _FILE names, else the default.
func Read(flag func(name string) (string, bool), env func(string) string) (Config, error) {
	var c Config
	for _, s := range Settings() {
		v, given := flag(s.Name)
		if !given {
			v = env(s.Variable())
		}
		if file := env(s.Variable() + "_FILE"); v == "" && !given && file != "" {
			raw, err := os.ReadFile(file)
			if err != nil {
				return c, fmt.Errorf("reading %s_FILE: %w", s.Variable(), err)
			}
			v = strings.TrimRight(string(raw), "\r\n")
		}
		if v == "" {
			v = s.Default
		}
		if v == "" && s.Required {
			return c, fmt.Errorf("%s is not set: %s", s.Variable(), s.Meaning)
		}
		if err := s.set(&c, v); err != nil {
			return c, fmt.Errorf("%s: %w", s.Variable(), err)
		}
	}
	if c.KeyFile == "" {
		c.KeyFile = filepath.Join(c.DataDir, "keys", "master.key")
	}
	return c, nil
}

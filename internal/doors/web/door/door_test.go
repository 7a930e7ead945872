package door

import (
	"errors"
	"fmt"
	"io"
	"net"
	"os"
	"syscall"
	"testing"

	"github.com/jackc/pgx/v5/pgconn"

	"tabularis/core/fault"
)

func TestProgramsAreNamedInAFewWords(t *testing.T) {
	for header, want := range map[string]string{
		"Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:140.0) Gecko/20100101 Firefox/140.0":                                                        "Firefox, Windows",
		"Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.0 Mobile/15E148 Safari/604.1": "Safari, iPhone",
		"Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36":                                   "Chrome, Linux",
		"Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36 Edg/140.0.0.0":           "Edge, Windows",
		"Mozilla/5.0 (Linux; Android 15) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Mobile Safari/537.36":                            "Chrome, Android",
		"curl/8.5.0": "curl",
		"":           "",
		"<script>":   "",
	} {
		if got := agent(header); got != want {
			t.Errorf("%q: %q, want %q", header, got, want)
		}
	}
}

func TestFailuresSayWhatTheyMean(t *testing.T) {
	for _, c := range []struct {
		err  error
		kind fault.Kind
		code string
	}{
		{fmt.Errorf("writing: %w", syscall.ENOSPC), fault.NoSpace, "no-space"},
		{&os.PathError{Err: syscall.EROFS}, fault.Unavailable, "store-away"},
		{fmt.Errorf("x: %w", os.ErrPermission), fault.Unavailable, "store-away"},
		{fmt.Errorf("x: %w", &net.OpError{Op: "read", Err: syscall.ECONNRESET}), fault.Unavailable, "database-away"},
		{io.ErrUnexpectedEOF, fault.Unavailable, "database-away"},
		{&pgconn.PgError{Code: "57P01"}, fault.Unavailable, "database-away"},
		{&pgconn.PgError{Code: "42601"}, fault.Internal, "internal"},
		{errors.New("whatever"), fault.Internal, "internal"},
	} {
		if f := Outage(c.err); f.Kind != c.kind || f.Code != c.code {
			t.Errorf("%v: %v %s", c.err, f.Kind, f.Code)
		}
	}
	for kind := fault.Internal; kind <= fault.RateLimited; kind++ {
		if statusOf[kind] == 0 {
			t.Errorf("kind %d has no status", kind)
		}
	}
}

func TestNamesOfFilesInHeaders(t *testing.T) {
	for name, want := range map[string]string{
		"report.pdf":         `attachment; filename=report.pdf`,
		"a b.pdf":            `attachment; filename="a b.pdf"`,
		`a"b\c.pdf`:          `attachment; filename="a\"b\\c.pdf"`,
		"Übersicht.pdf":      `attachment; filename*=utf-8''%C3%9Cbersicht.pdf`,
		"a\r\nSet-Cookie: x": `attachment; filename*=utf-8''a%0D%0ASet-Cookie%3A%20x`,
	} {
		if got := Disposition("attachment", name); got != want {
			t.Errorf("%q: %s, want %s", name, got, want)
		}
	}
}

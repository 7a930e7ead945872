package office

import (
	"archive/zip"
	"bytes"
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"tabularis/internal/platform/cell"
)

func TestMain(m *testing.M) {
	cell.Enter(nil, nil)
	os.Exit(m.Run())
}

func packed(t testing.TB, files map[string]string) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range files {
		w, err := z.Create(name)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := w.Write([]byte(text)); err != nil {
			t.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

const (
	letter = `<?xml version="1.0"?><w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:body><w:p><w:r><w:t>Frame 31 &amp; 32</w:t></w:r></w:p><w:p><w:r><w:t>DE89 3704 </w:t></w:r><w:r><w:t>0044 0532 0130 00</w:t></w:r></w:p></w:body></w:document>`
	slide  = `<p:sld xmlns:p="p" xmlns:a="a"><a:p><a:r><a:t>Slide %d</a:t></a:r></a:p></p:sld>`
)

func TestText(t *testing.T) {
	slides := map[string]string{"ppt/presentation.xml": "<x/>"}
	for n := 1; n <= 11; n++ {
		slides[fmt.Sprintf("ppt/slides/slide%d.xml", n)] = fmt.Sprintf(slide, n)
	}
	for name, c := range map[string]struct {
		mediaType string
		raw       []byte
		parts     int
		holds     []string
	}{
		"letter":       {word, packed(t, map[string]string{"word/document.xml": letter, "word/styles.xml": "<x>never</x>"}), 1, []string{"Frame 31 & 32\nDE89 3704 0044 0532 0130 00"}},
		"presentation": {presentation, packed(t, slides), 11, []string{"Slide 1\n", "Slide 2\n"}},
		"open text":    {openText, packed(t, map[string]string{"content.xml": `<office:document-content xmlns:office="o" xmlns:text="t"><text:p>Tank 4</text:p></office:document-content>`}), 1, []string{"Tank 4"}},
	} {
		parts, err := Text(c.mediaType, int64(len(c.raw)), bytes.NewReader(c.raw))
		if err != nil || len(parts) != c.parts {
			t.Errorf("%s: %q %v", name, parts, err)
			continue
		}
		for n, want := range c.holds {
			if !strings.Contains(parts[n], want) {
				t.Errorf("%s: part %d is %q", name, n, parts[n])
			}
		}
	}
}

func TestHostileArchives(t *testing.T) {
	bomb := packed(t, map[string]string{"word/document.xml": "<x>" + strings.Repeat("0", 40<<20) + "</x>"})
	many := map[string]string{}
	for n := range maxEntries + 1 {
		many[fmt.Sprint("word/", n)] = ""
	}
	for name, raw := range map[string][]byte{
		"nothing": {}, "no archive": []byte("Frame 31"), "cut off": bomb[:len(bomb)/2], "a bomb": bomb, "too many entries": packed(t, many),
		"no document": packed(t, map[string]string{"other.xml": "<x/>"}), "a way out": packed(t, map[string]string{"../word/document.xml": letter}),
		"broken marks": packed(t, map[string]string{"word/document.xml": "<a><b></a>"}), "expanding": packed(t, map[string]string{"word/document.xml": `<!DOCTYPE x [<!ENTITY a "aaaa">]><x>&a;</x>`}),
	} {
		if parts, err := Text(word, int64(len(raw)), bytes.NewReader(raw)); !errors.Is(err, ErrUnreadable) {
			t.Errorf("%s: %d parts, %v", name, len(parts), err)
		}
	}
}

// shared makes a folder that other users can go into.
func shared(t *testing.T) string {
	t.Helper()
	dir := t.TempDir()
	for _, at := range []string{dir, filepath.Dir(dir)} {
		if err := os.Chmod(at, 0o755); err != nil {
			t.Fatal(err)
		}
	}
	return dir
}

// converter is a stand-in for LibreOffice: a script that does what it is told.
func converter(t *testing.T, script string) *Converter {
	t.Helper()
	program := filepath.Join(shared(t), "soffice")
	if err := os.WriteFile(program, []byte("#!/bin/sh\n"+script), 0o755); err != nil {
		t.Fatal(err)
	}
	return Find(program)
}

func TestConverting(t *testing.T) {
	raw := packed(t, map[string]string{"word/document.xml": letter})
	convert := func(c *Converter) ([]byte, error) {
		return c.PDF(t.Context(), word, int64(len(raw)), bytes.NewReader(raw), "somebody")
	}
	// The script checks what it is given: a document of its own, a profile beside it.
	good := `case "$*" in *--headless*-env:UserInstallation=file://$PWD/profile*--convert-to\ pdf*) ;; *) exit 9;; esac
test -s document.docx && printf '%%PDF-1.7 of %s' "$(wc -c < document.docx)" > document.pdf`
	if got, err := convert(converter(t, good)); err != nil || string(got) != fmt.Sprintf("%%PDF-1.7 of %d", len(raw)) {
		t.Errorf("%q %v", got, err)
	}
	left, _ := filepath.Glob(filepath.Join(os.TempDir(), "tabularis-office-*"))
	for name, script := range map[string]string{"fails": "exit 1", "makes nothing": "exit 0", "takes all memory": `exec awk 'BEGIN { s = "x"; while (1) s = s s }'`, "fills the disk": `exec head -c 600000000 /dev/zero > document.pdf`} {
		if got, err := convert(converter(t, script)); !errors.Is(err, ErrUnreadable) {
			t.Errorf("%s: %d bytes, %v", name, len(got), err)
		}
	}
	if now, _ := filepath.Glob(filepath.Join(os.TempDir(), "tabularis-office-*")); len(now) > len(left) {
		t.Errorf("folders are left: %v", now)
	}
	bomb := packed(t, map[string]string{"word/document.xml": strings.Repeat("0", 40<<20)})
	if err := Sound(word, int64(len(bomb)), bytes.NewReader(bomb)); !errors.Is(err, ErrUnreadable) {
		t.Errorf("a bomb: %v", err)
	}
	if _, err := converter(t, good).PDF(t.Context(), "video/mp4", 1, strings.NewReader("x"), "somebody"); !errors.Is(err, ErrUnreadable) {
		t.Errorf("a film: %v", err)
	}
	if Find("none") != nil || Find("/no/such/program") != nil || (*Converter)(nil).Converts(word) {
		t.Error("something is found where nothing is")
	}
}

// Whatever a document brings the converter to do, it reaches its own folder and
// what the system is made of, and what it leaves behind is not taken for a PDF.
func TestTheConverterReachesNothing(t *testing.T) {
	raw := packed(t, map[string]string{"word/document.xml": letter})
	place := filepath.Join(shared(t), "master.key")
	if err := os.WriteFile(place, []byte("the key of all"), 0o644); err != nil {
		t.Fatal(err)
	}
	t.Setenv("TABULARIS_DATABASE_URL", "the database's password")
	for name, script := range map[string]string{
		"reads another file":        `cat ` + place + ` > document.pdf`,
		"links to another file":     `ln -s ` + place + ` document.pdf`,
		"links hard":                `ln ` + place + ` document.pdf`,
		"reads how others run":      `cat /proc/` + strconv.Itoa(os.Getpid()) + `/environ > document.pdf`,
		"has the environment":       `test -n "$TABULARIS_DATABASE_URL" && echo x > document.pdf`,
		"writes beside its folder":  `echo x > ../tabularis-office-left && echo x > document.pdf`,
		"waits at a pipe for ever":  `mkfifo document.pdf`,
		"is somebody who owns much": `test "$(id -u)" = 0 && echo x > document.pdf`,
		"reaches the network":       `ip link | grep -q ether && echo x > document.pdf`,
	} {
		got, err := converter(t, script).PDF(t.Context(), word, int64(len(raw)), bytes.NewReader(raw), "somebody")
		if !errors.Is(err, ErrUnreadable) && len(got) > 0 {
			t.Errorf("%s: %q %v", name, got, err)
		}
	}
}

// What the converter started ends with it.
func TestGivingUp(t *testing.T) {
	c := converter(t, `sh -c 'echo $$ > pid; exec sleep 300' & wait`)
	raw := packed(t, map[string]string{"word/document.xml": letter})
	ctx, cancel := context.WithCancel(t.Context())
	defer cancel()
	until := func(what string, condition func() bool) {
		t.Helper()
		for deadline := time.Now().Add(20 * time.Second); !condition(); time.Sleep(5 * time.Millisecond) {
			if time.Now().After(deadline) {
				t.Fatal(what)
			}
		}
	}
	ended := make(chan error, 1)
	go func() {
		_, err := c.PDF(ctx, word, int64(len(raw)), bytes.NewReader(raw), "somebody")
		ended <- err
	}()
	pid := 0
	until("it never began", func() bool {
		marks, _ := filepath.Glob(filepath.Join(os.TempDir(), "tabularis-office-*", "pid"))
		for _, mark := range marks {
			written, _ := os.ReadFile(mark)
			pid, _ = strconv.Atoi(strings.TrimSpace(string(written)))
		}
		return pid > 0
	})
	cancel()
	if err := <-ended; !errors.Is(err, ErrUnreadable) {
		t.Error(err)
	}
	until("what it started lives on", func() bool { return errors.Is(syscall.Kill(pid, 0), syscall.ESRCH) })
}

func FuzzText(f *testing.F) {
	f.Add(packed(f, map[string]string{"word/document.xml": letter}))
	f.Fuzz(func(t *testing.T, raw []byte) {
		for _, mediaType := range []string{word, presentation, openText} {
			if parts, err := Text(mediaType, int64(len(raw)), bytes.NewReader(raw)); err != nil && !errors.Is(err, ErrUnreadable) {
				t.Errorf("%d parts, %v", len(parts), err)
			}
		}
	})
}

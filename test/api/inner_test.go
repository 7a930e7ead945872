package api_test

import (
	"archive/zip"
	"bytes"
	"encoding/base64"
	"encoding/binary"
	"fmt"
	"io"
	"strings"
	"testing"

	"github.com/google/uuid"

	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	apart["GET /documents/{id}/inner/{way}/content"] = "of an archive: TestFilesWithinFiles"
	apart["GET /documents/{id}/inner/{way}"] = "of an archive: TestFilesWithinFiles"
	apart["POST /documents/{id}/inner/{way}"] = "of an archive, into a folder: TestFilesWithinFiles"
}

func mailWith(text string, attached map[string][]byte) []byte {
	var out strings.Builder
	fmt.Fprintf(&out, "From: Runa Vale <runa@brackwater.example>\r\nTo: ines@halyard-rook.example\r\nSubject: Readings\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=cut\r\n\r\n--cut\r\nContent-Type: text/plain\r\n\r\n%s\r\n", text)
	for name, content := range attached {
		fmt.Fprintf(&out, "--cut\r\nContent-Type: application/octet-stream; name=%q\r\nContent-Transfer-Encoding: base64\r\n\r\n%s\r\n", name, base64.StdEncoding.EncodeToString(content))
	}
	return []byte(out.String() + "--cut--\r\n")
}

// Files of archives and of mails are listed, looked at in place, fetched and kept.
func TestFilesWithinFiles(t *testing.T) {
	t.Parallel()
	o := administered(t)
	inner := mailWith("Enclosed.", map[string][]byte{"readings.csv": []byte("frame;mm\n31;11.2\n")})
	archive := archived(t, map[string]string{"a/notes.txt": "from the tank", "a/mail.eml": string(inner), "empty.txt": "", "b/\u202egnp.exe": "MZ"})
	d := o.luca.Upload(o.reports, "", "Readings.zip", archive).Document.Id
	at := "/api/documents/" + d.String()
	p := testkit.Get[contract.Preview](o.luca, at+"/preview")
	var names []string
	for _, f := range all(p.Files) {
		names = append(names, fmt.Sprintf("%s %d", f.Name, f.Size))
	}
	if got := strings.Join(names, ", "); p.Look != "archive" || got != fmt.Sprintf("a/mail.eml %d, a/notes.txt 13, b/gnp.exe 2, empty.txt 0", len(inner)) {
		t.Fatalf("it is %s with %s", p.Look, got)
	}
	in := testkit.Get[contract.Inner](o.luca, at+"/inner/1")
	if in.Name != "a/notes.txt" || in.Look != "text" || *in.Preview.Text != "from the tank" {
		t.Errorf("the second is %+v", in)
	}
	mail := testkit.Get[contract.Inner](o.luca, at+"/inner/0")
	if !strings.Contains(*mail.Preview.Text, "Enclosed.") || len(all(mail.Preview.Files)) != 1 {
		t.Errorf("the mail is %+v", mail.Preview)
	}
	table := testkit.Get[contract.Inner](o.luca, at+"/inner/0.0")
	if table.Name != "readings.csv" || table.Look != "table" || (*table.Preview.Sheets)[0].Rows[1][1] != "11.2" {
		t.Errorf("what is attached to it is %+v", table)
	}
	got := o.luca.Want(200, "GET", at+"/inner/0.0/content?download", nil)
	if string(got.Body) != "frame;mm\n31;11.2\n" || !strings.Contains(got.Header.Get("Content-Disposition"), "readings.csv") || !strings.Contains(got.Header.Get("Content-Security-Policy"), "sandbox") {
		t.Errorf("fetched is %q with %v", got.Body, got.Header)
	}
	kept := testkit.Post[contract.Place](o.luca, 201, at+"/inner/0.0", contract.KeepInnerJSONBody{Folder: o.yard})
	if kept.Name != "readings.csv" || kept.FolderId != o.yard {
		t.Errorf("kept is %+v", kept)
	}
	if again := o.luca.Want(200, "GET", "/api/documents/"+kept.Id.String()+"/content", nil); string(again.Body) != "frame;mm\n31;11.2\n" {
		t.Errorf("it holds %q", again.Body)
	}

	for _, way := range []string{"4", "99999", "0.1", "0.0.0"} {
		o.luca.Want(404, "GET", at+"/inner/"+way, nil)
		o.luca.Want(404, "GET", at+"/inner/"+way+"/content", nil)
	}
	for _, way := range []string{"-1", "x", "0.0.0.0", "1e3", "0%2f0", "99999999999"} {
		if a := o.luca.Do("GET", at+"/inner/"+way, nil); a.Status != 400 && a.Status != 404 {
			t.Errorf("%s: %d", way, a.Status)
		}
	}
	o.tomasz.Want(404, "GET", at+"/inner/1", nil)
	o.tomasz.Want(404, "GET", at+"/inner/1/content", nil)
	o.tomasz.Want(404, "POST", at+"/inner/1", contract.KeepInnerJSONBody{Folder: o.yard})
	id, client := o.account("client", accounts.Guest)
	o.give(o.hanne, wish(contract.LevelLook, []uuid.UUID{d}, to(id)))
	client.Want(403, "GET", at+"/inner/1", nil)
	client.Want(403, "GET", at+"/inner/1/content", nil)
	o.priya.Want(403, "POST", at+"/inner/1", contract.KeepInnerJSONBody{Folder: o.yard})
	o.luca.Want(404, "POST", at+"/inner/1", contract.KeepInnerJSONBody{Folder: uuid.New()})
	o.hanne.Want(204, "PUT", "/api/items/"+d.String()+"/closed", contract.Closed{Closed: true})
	o.luca.Want(404, "GET", at+"/inner/1", nil)
}

// What is hostile within is said, and what it lies in stays usable.
func TestHostileFilesWithin(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	var bomb bytes.Buffer
	z := zip.NewWriter(&bomb)
	w, _ := z.Create("zeros.txt")
	_, _ = io.CopyN(w, zeros{}, 200<<20)
	w, _ = z.Create("fine.txt")
	_, _ = io.WriteString(w, "fine")
	_ = z.Close()
	locked := archived(t, map[string]string{"secret.txt": "x"})
	// The bit that says it is encrypted, in the directory (APPNOTE 4.4.4).
	dir := bytes.Index(locked, []byte("PK\x01\x02"))
	binary.LittleEndian.PutUint16(locked[dir+8:], binary.LittleEndian.Uint16(locked[dir+8:])|1)
	many := map[string]string{}
	for i := range 10_050 {
		many[fmt.Sprintf("%05d.txt", i)] = ""
	}
	nested := []byte("the end")
	for range 500 {
		nested = mailWith("deeper", map[string][]byte{"m.eml": nested[:min(len(nested), 20_000)]})
	}
	for name, c := range map[string]struct {
		content []byte
		status  int
		check   func(p contract.Preview, at string)
	}{
		"bomb.zip": {bomb.Bytes(), 200, func(p contract.Preview, at string) {
			if f := all(p.Files); len(f) != 2 || f[0].Locked == nil {
				t.Errorf("the bomb has %+v", f)
			}
			o.luca.Want(404, "GET", at+"/inner/0", nil)
			if in := testkit.Get[contract.Inner](o.luca, at+"/inner/1"); *in.Preview.Text != "fine" {
				t.Errorf("beside the bomb is %+v", in)
			}
		}},
		"locked.zip": {locked, 200, func(p contract.Preview, at string) {
			if f := all(p.Files); len(f) != 1 || f[0].Locked == nil {
				t.Errorf("what is locked has %+v", f)
			}
			o.luca.Want(404, "GET", at+"/inner/0/content", nil)
		}},
		"many.zip": {archived(t, many), 200, func(p contract.Preview, _ string) {
			if len(all(p.Files)) != 10_000 || p.Cut == nil {
				t.Errorf("of many are %d", len(all(p.Files)))
			}
		}},
		"cut.zip":    {archived(t, map[string]string{"a": "b"})[:40], 400, nil},
		"nested.eml": {nested, 200, func(p contract.Preview, at string) { o.luca.Want(200, "GET", at+"/inner/0.0.0", nil) }},
	} {
		d := o.luca.Upload(o.reports, "", name, c.content).Document.Id
		at := "/api/documents/" + d.String()
		a := o.luca.Do("GET", at+"/preview", nil)
		if a.Status != c.status {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		} else if c.check != nil {
			c.check(read[contract.Preview](t, a), at)
		}
		o.luca.Want(200, "GET", at, nil)
	}
}

type zeros struct{}

func (zeros) Read(p []byte) (int, error) { clear(p); return len(p), nil }

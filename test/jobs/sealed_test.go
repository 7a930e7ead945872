package jobs_test

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"filippo.io/age"

	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// saved waits for a file that a browser downloads into a folder.
func saved(t *testing.T, folder, name string) []byte {
	t.Helper()
	whole := filepath.Join(folder, name)
	for until := time.Now().Add(90 * time.Second); time.Now().Before(until); time.Sleep(20 * time.Millisecond) {
		if content, err := os.ReadFile(whole); err == nil {
			if left, _ := filepath.Glob(filepath.Join(folder, "*.crdownload")); len(left) == 0 {
				return content
			}
		}
	}
	t.Fatalf("%s was not downloaded", name)
	return nil
}

// film writes a file of some size that no compression makes smaller.
func film(t *testing.T, name string, size int) (path string, content []byte) {
	t.Helper()
	content = make([]byte, size)
	seed := sha256.Sum256([]byte(name))
	for at := 0; at < size; at += copy(content[at:], seed[:]) {
		seed = sha256.Sum256(seed[:])
	}
	path = filepath.Join(t.TempDir(), name)
	if err := os.WriteFile(path, content, 0o600); err != nil {
		t.Fatal(err)
	}
	return path, content
}

// What is sealed in the sender's browser is opened in the recipient's, and nowhere between: the
// server knows neither names nor words nor the key. The stock tool opens it, too.
func TestASealedTransferIsOpenedByItsRecipientAlone(t *testing.T) {
	t.Parallel()
	var log bytes.Buffer
	written := &logged{to: &log}
	testkit.LogTo(t, written)
	k, _, _ := practice(t)
	path, content := film(t, "Sealed survey film.mp4", 3<<20+17)
	small := filepath.Join(t.TempDir(), "Confidential valuation.txt")
	if err := os.WriteFile(small, []byte("The vessel is worth twelve million.\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/outward/send"))
	ines.does(ines.Choose("[data-field=files]", path, small), ines.Type("[data-field=message]", "Only for the underwriters."))
	ines.Acts = 2 // As many as it takes without a message.
	ines.count("a sealed transfer", 2, func() {
		ines.does(ines.Click("button.plus::sealed"), ines.SeeText("sealed in the browser"), ines.Click("button::Make transfer"), ines.SeeText("The link is copied."))
	})
	ines.does(ines.SeeText("All of it is here."), ines.See("[data-file='Sealed survey film.mp4']::can be fetched"), ines.See("h1::Sealed survey film"))
	address, err := ines.Copied()
	ines.does(err)
	front, key, cut := strings.Cut(address, "#")
	if !cut || !strings.HasPrefix(key, "AGE-SECRET-KEY-1") {
		t.Fatalf("copied: %s", address)
	}
	// The recipient.
	folder := t.TempDir()
	marit := sits(t, k, 1280, 800)
	marit.does(marit.Downloads(folder), marit.Go(address), marit.Click("button::Show"), marit.See("h1::Sealed survey film"), marit.SeeText("Only for the underwriters."))
	marit.count("recipient: a sealed file to the disk", 1, func() {
		marit.does(marit.Click("li[data-file='Sealed survey film.mp4'] button::Download"))
		if got := saved(t, folder, "Sealed survey film.mp4"); !bytes.Equal(got, content) {
			t.Errorf("%d bytes came, not the %d that were sent", len(got), len(content))
		}
	})
	ines.does(ines.SeeText("1 of 2 files"))
	// By hand, with the stock tool.
	marit.does(marit.Click("summary::age program"), marit.Click("a::1.age"))
	sealed := saved(t, folder, "1.age")
	opensByHand(t, folder, key, sealed, content)
	// A key that was cut on its way says so, and the whole one can be typed.
	other := sits(t, k, 390, 844)
	other.does(other.Go(front+"#"+key[:40]), other.Click("button::Show"), other.SeeText("was cut off on its way"), other.Type("#opener", address), other.Click("button::Open"), other.See("li[data-file='Confidential valuation.txt']"))
	secrets := []string{"Sealed survey", "valuation", "underwriters", "twelve million", key, strings.ToLower(key)}
	nowhere(t, k, secrets...)
	written.Lock()
	defer written.Unlock()
	if log.Len() == 0 {
		t.Error("nothing was logged")
	}
	for _, s := range secrets {
		if bytes.Contains(log.Bytes(), []byte(s)) || bytes.Contains(sealed, []byte(s)) {
			t.Errorf("%q stands in the log, or in what is sealed", s)
		}
	}
}

// logged takes one line of a log after the other.
type logged struct {
	sync.Mutex
	to *bytes.Buffer
}

func (l *logged) Write(p []byte) (int, error) {
	l.Lock()
	defer l.Unlock()
	return l.to.Write(p)
}

// opensByHand opens a sealed file with the stock tool and with its library.
func opensByHand(t *testing.T, folder, key string, sealed, want []byte) {
	t.Helper()
	identity, err := age.ParseX25519Identity(key)
	if err != nil {
		t.Fatal(err)
	}
	r, err := age.Decrypt(bytes.NewReader(sealed), identity)
	if err != nil {
		t.Fatal(err)
	}
	if got, err := io.ReadAll(r); err != nil || !bytes.Equal(got, want) {
		t.Errorf("opened by the library: %d bytes, %v", len(got), err)
	}
	file := filepath.Join(folder, "key.txt")
	if err := os.WriteFile(file, []byte(key+"\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	c := exec.CommandContext(t.Context(), "age", "-d", "-i", file)
	c.Stdin = bytes.NewReader(sealed)
	if got, err := c.Output(); err != nil || !bytes.Equal(got, want) {
		t.Errorf("opened by the tool: %d bytes, %v", len(got), err)
	}
}

// nowhere reads all that the server keeps for what it must not know.
func nowhere(t *testing.T, k *testkit.Kit, words ...string) {
	t.Helper()
	for where, content := range k.Everything(context.Background()) {
		for _, w := range words {
			if bytes.Contains(content, []byte(w)) {
				t.Errorf("%q stands in %s", w, where)
			}
		}
	}
}

// A passphrase opens it without a key behind the link; a wrong one does not. After the page was loaded
// anew the same file goes on where it stopped, and another one does not.
func TestASealedTransferGoesOnAfterAReload(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	line := k.NewLine(t)
	path, content := film(t, "Night dive.mp4", 20<<20)
	ines := sits(t, k, 1280, 800)
	ines.url = line.URL
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/outward/send"), ines.Choose("[data-field=files]", path), ines.Click("button.plus::sealed"), ines.Click(".choices button::by a passphrase"), ines.See("#passphrase"))
	phrase, err := browser.Eval[string](ines.Browser, "document.querySelector('#passphrase').value")
	ines.does(err)
	if len(strings.Split(phrase, "-")) != 6 {
		t.Fatalf("offered %q", phrase)
	}
	line.BreakAfter(11 << 20)
	ines.does(ines.Click("button::Make transfer"), ines.SeeText("The link is copied."), ines.See("[data-file='Night dive.mp4']"))
	address, err := ines.Copied()
	ines.does(err)
	if strings.Contains(address, "#") {
		t.Errorf("a key stands behind %s", address)
	}
	here := sits(t, k, 1280, 800)
	here.signsIn("Ines Okafor")
	here.does(here.opens("/outward/transfers"), here.See("article::MB of it are here"))
	line.Mend()
	ines.does(ines.Go(line.URL+"/outward/transfers"), ines.Click("article a.name::Night dive"), ines.SeeText("choose the same file again"))
	again, err := browser.Eval[bool](ines.Browser, "!!document.querySelector('[data-file] input[type=file]')")
	if err != nil || !again {
		t.Fatal("it cannot be chosen again", err)
	}
	// Another file that looks the same from outside is never sealed by the key of the first.
	was, err := os.Stat(path)
	ines.does(err)
	ines.does(os.WriteFile(path, make([]byte, len(content)), 0o600), os.Chtimes(path, was.ModTime(), was.ModTime()))
	ines.does(ines.Choose("[data-file] input[type=file]", path), ines.SeeText("not what it was when it began"))
	ines.does(os.WriteFile(path, content[1:], 0o600), ines.Choose("[data-file] input[type=file]", path), ines.SeeText("not the file that began"))
	ines.does(os.WriteFile(path, content, 0o600), os.Chtimes(path, was.ModTime(), was.ModTime()))
	ines.does(ines.Choose("[data-file] input[type=file]", path), ines.SeeText("All of it is here."))
	folder := t.TempDir()
	marit := sits(t, k, 1280, 800)
	marit.does(marit.Downloads(folder), marit.Go(strings.Replace(address, line.URL, k.URL, 1)), marit.Click("button::Show"), marit.Type("#opener", "not-these-words"), marit.Click("button::Open"), marit.SeeText("does not open it"))
	marit.does(marit.Type("#opener", phrase), marit.Click("button::Open"), marit.See("h1::Night dive"), marit.Click("button::Download"))
	if got := saved(t, folder, "Night dive.mp4"); !bytes.Equal(got, content) {
		t.Errorf("%d bytes came, not the %d that were sent", len(got), len(content))
	}
	nowhere(t, k, "Night dive", phrase)
}

// sealedFile is a file of a sealed transfer: its name, its content, and what becomes of it when it is sealed.
type sealedFile struct {
	name    string
	content []byte
	altered func(sealed []byte) []byte
}

// sealedFor makes a sealed transfer whose list was written elsewhere than in a browser, and returns
// where its recipient opens it.
func sealedFor(t *testing.T, k *testkit.Kit, c *testkit.Client, files ...sealedFile) string {
	t.Helper()
	identity, err := age.GenerateX25519Identity()
	if err != nil {
		t.Fatal(err)
	}
	seal := func(content []byte) []byte {
		var out bytes.Buffer
		w, err := age.Encrypt(&out, identity.Recipient())
		if err == nil {
			_, err = w.Write(content)
		}
		if err == nil {
			err = w.Close()
		}
		if err != nil {
			t.Fatal(err)
		}
		return out.Bytes()
	}
	key := contract.TransferSealKey
	var announced []contract.AnnouncedFile
	var listed []map[string]any
	var contents [][]byte
	for _, f := range files {
		content := seal(f.content)
		listed = append(listed, map[string]any{"name": f.name, "size": len(f.content), "head": base64.StdEncoding.EncodeToString(content[:184])})
		if f.altered != nil {
			content = f.altered(content)
		}
		contents, announced = append(contents, content), append(announced, contract.AnnouncedFile{Size: int64(len(content))})
	}
	made := testkit.Post[contract.Transfer](c, 201, "/api/transfers", contract.TransferWish{Sealed: &key, Files: &announced})
	for i, f := range made.Files {
		c.Upload(made.FolderId, "", f.Name, contents[i], "announced", f.Id.String())
		listed[i]["id"] = f.Id
	}
	list, err := json.Marshal(map[string]any{"v": 1, "name": "Soundings", "message": "As agreed.", "files": listed})
	if err != nil {
		t.Fatal(err)
	}
	c.Want(204, "PUT", "/api/transfers/"+made.Id.String()+"/manifest", contract.SealedManifest{Content: seal(list)})
	return strings.TrimPrefix(*made.Address, k.URL) + "#" + identity.String()
}

// What was altered, cut, put in another order or exchanged on the server is never saved as if it were
// whole, and a name that its sender meant ill does nothing.
func TestWhatWasAlteredIsNeverSavedAsWhole(t *testing.T) {
	t.Parallel()
	k, c, _ := practice(t)
	_, content := film(t, "whole", 4*65536+99)
	_, other := film(t, "other", len(content))
	const head, chunk = 184, 65536 + 16
	bad := map[string]func([]byte) []byte{
		"altered": func(s []byte) []byte { s[len(s)-40] ^= 1; return s },
		"cut":     func(s []byte) []byte { return s[:head+4*chunk] },
		"shorter": func(s []byte) []byte { return s[:len(s)-1] },
		"longer":  func(s []byte) []byte { return append(s, 0) },
		"swapped": func(s []byte) []byte {
			return slices.Concat(s[:head], s[head+chunk:head+2*chunk], s[head:head+chunk], s[head+2*chunk:])
		},
	}
	files := []sealedFile{{"Good.bin", content, nil}, {"../$(touch it)'\u202efdp.bin", content, nil}}
	var first []byte
	files = append(files, sealedFile{"exchanged", other, func(s []byte) []byte { first = s; return s }}, sealedFile{"exchange", content, func([]byte) []byte { return first }})
	for name, how := range bad {
		files = append(files, sealedFile{name, content, how})
	}
	folder := t.TempDir()
	marit := sits(t, k, 1280, 800)
	marit.does(marit.Downloads(folder), marit.Go(k.URL+sealedFor(t, k, c, files...)), marit.Click("button::Show"), marit.See("li[data-file='Good.bin']"))
	marit.does(marit.Click("summary"), marit.See(`code::-o '__$(touch it)'\''_fdp.bin' 2.age`))
	for name := range bad {
		marit.does(marit.Click("li[data-file='" + name + "'] button::Download"))
	}
	marit.does(marit.Click("li[data-file='exchange'] button::Download"))
	for until := time.Now().Add(time.Minute); ; time.Sleep(20 * time.Millisecond) {
		all := testkit.Get[[]contract.Transfer](c, "/api/transfers")
		if r := all[0].Recipients; len(r) == 1 && r[0].Begun == len(bad)+1 {
			break
		}
		if time.Now().After(until) {
			t.Fatalf("begun: %+v", all[0].Recipients)
		}
	}
	marit.does(marit.Click("li[data-file='Good.bin'] button::Download"))
	if got := saved(t, folder, "Good.bin"); !bytes.Equal(got, content) {
		t.Errorf("%d bytes came, not the %d that were sent", len(got), len(content))
	}
	there, err := os.ReadDir(folder)
	if err != nil || len(there) != 1 {
		t.Errorf("saved: %v, %v", there, err)
	}
}

package evidence_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"golang.org/x/mod/sumdb/tlog"

	"tabularis/core/events"
	"tabularis/core/evidence"
)

// log is a log in memory.
type log struct {
	tiles  map[evidence.At][]byte
	leaves []tlog.Hash
	texts  []string
}

func (l *log) read(at evidence.At) ([]byte, error) { return l.tiles[at], nil }

func (l *log) grow(t testing.TB, texts ...string) {
	t.Helper()
	var hashes []tlog.Hash
	for _, s := range texts {
		hashes = append(hashes, evidence.HashOf([]byte(s)))
	}
	changed, err := evidence.Append(l.read, int64(len(l.leaves)), hashes)
	if err != nil {
		t.Fatal(err)
	}
	for at, tile := range changed {
		l.tiles[at] = tile
	}
	l.leaves, l.texts = append(l.leaves, hashes...), append(l.texts, texts...)
}

func (l *log) checkpoint(t testing.TB, key evidence.Key, size int64) string {
	t.Helper()
	root, err := evidence.Tiles(l.read).Root(size)
	if err != nil {
		t.Fatal(err)
	}
	signed, err := evidence.Sign(evidence.Checkpoint{Origin: key.Name(), Size: size, Root: root}.Text(), key)
	if err != nil {
		t.Fatal(err)
	}
	return signed
}

// slowRoot is the root by its definition (RFC 9162, 2.1.1).
func slowRoot(leaves []tlog.Hash) tlog.Hash {
	if len(leaves) == 1 {
		return leaves[0]
	}
	k := 1
	for k*2 < len(leaves) {
		k *= 2
	}
	return tlog.NodeHash(slowRoot(leaves[:k]), slowRoot(leaves[k:]))
}

// However a log grows, it has the root by definition, and proves every entry and each of
// its former sizes.
func TestGrowing(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for round := range 12 {
		l := &log{tiles: map[evidence.At][]byte{}}
		for len(l.leaves) < []int{1, 255, 256, 257, 600, 3000}[round%6] {
			var some []string
			for range 1 + r.IntN(1+round*60) {
				some = append(some, fmt.Sprint(r.Uint64()))
			}
			l.grow(t, some...)
			size := int64(len(l.leaves))
			root, err := evidence.Tiles(l.read).Root(size)
			if err != nil || root != slowRoot(l.leaves) {
				t.Fatalf("of %d entries the root differs, %v", size, err)
			}
		}
		size := int64(len(l.leaves))
		root, _ := evidence.Tiles(l.read).Root(size)
		for range 40 {
			n := r.Int64N(size)
			p, err := evidence.Tiles(l.read).Included(size, n)
			if err != nil || tlog.CheckRecord(p, size, root, n, l.leaves[n]) != nil {
				t.Fatalf("entry %d of %d: %v", n, size, err)
			}
			old := 1 + r.Int64N(size)
			g, err := evidence.Tiles(l.read).Grown(size, old)
			if err != nil || tlog.CheckTree(g, size, root, old, slowRoot(l.leaves[:old])) != nil {
				t.Fatalf("from %d to %d: %v", old, size, err)
			}
		}
	}
}

func TestATileThatIsTooShort(t *testing.T) {
	l := &log{tiles: map[evidence.At][]byte{}}
	l.grow(t, "a", "b", "c")
	l.tiles[evidence.At{}] = l.tiles[evidence.At{}][:64]
	if _, err := evidence.Tiles(l.read).Root(3); err == nil {
		t.Error("a root of what is not there")
	}
	if _, err := evidence.Append(l.read, 3, []tlog.Hash{{}}); err == nil {
		t.Error("it grows out of what is not there")
	}
}

func event(n int64) events.Event {
	id := func(what string) uuid.UUID { return uuid.NewSHA1(uuid.Nil, fmt.Append(nil, what, n)) }
	person, dossier, item, version := id("person"), id("dossier"), id("item"), int(n)
	return events.Event{ID: n, At: time.Date(2026, 11, 23, 9, 40, 17, 123456789, time.FixedZone("", 3600)).Truncate(time.Microsecond), Kind: "version.added", ActorKind: events.ByPerson,
		PersonID: &person, DossierID: &dossier, ItemID: &item, Version: &version, Network: "192.0.2.41", Agent: "Firefox",
		Data: json.RawMessage(fmt.Sprintf(`{"name": "Übersicht <1>", "sha256":"%064x"}`, n))}
}

func secret(n int64) []byte { return fmt.Append(nil, "secret of ", n) }

func entry(t testing.TB, e events.Event) string {
	t.Helper()
	sealed, err := evidence.Commitments(e, secret(e.ID))
	if err != nil {
		t.Fatal(err)
	}
	return string(evidence.EntryOf(e, sealed).Text())
}

// An entry is the same however the database writes it, and another one if anything of the
// event is another.
func TestEntries(t *testing.T) {
	e := event(7)
	text := entry(t, e)
	if !strings.Contains(text, `"at":"2026-11-23T08:40:17.123456Z"`) || strings.Contains(text, "192.0.2") || strings.Contains(text, "Firefox") || strings.Contains(text, "bersicht") || strings.Contains(text, e.PersonID.String()) {
		t.Errorf("what is personal is readable, or the moment is not: %s", text)
	}
	same := e
	same.At = e.At.UTC()
	same.Data = json.RawMessage(`{"sha256":"` + fmt.Sprintf("%064x", 7) + `","name":"Übersicht <1>"}`)
	if entry(t, same) != text {
		t.Error("it is written otherwise, and another entry")
	}
	other, two := uuid.New(), 2
	for name, change := range map[string]func(e *events.Event){
		"id": func(e *events.Event) { e.ID++ }, "moment": func(e *events.Event) { e.At = e.At.Add(time.Microsecond) }, "kind": func(e *events.Event) { e.Kind = "version.named" },
		"actor": func(e *events.Event) { e.ActorKind = events.BySystem }, "outside": func(e *events.Event) { e.Outside = true }, "person": func(e *events.Event) { e.PersonID = &other },
		"nobody": func(e *events.Event) { e.PersonID = nil }, "dossier": func(e *events.Event) { e.DossierID = &other }, "item": func(e *events.Event) { e.ItemID = nil },
		"version": func(e *events.Event) { e.Version = &two }, "link": func(e *events.Event) { e.LinkID = &other }, "network": func(e *events.Event) { e.Network = "192.0.2.42" },
		"agent": func(e *events.Event) { e.Agent = "" }, "data": func(e *events.Event) { e.Data = json.RawMessage(`{}`) }, "a number": func(e *events.Event) { e.Data = json.RawMessage(`{"n":1}`) },
	} {
		changed := e
		change(&changed)
		sealed, err := evidence.Commitments(changed, secret(7))
		if err != nil || string(evidence.EntryOf(changed, sealed).Text()) == text {
			t.Errorf("%s: the entry stays the same, %v", name, err)
		}
	}
	for _, data := range []string{`{`, ``, `nothing`} {
		broken := e
		broken.Data = json.RawMessage(data)
		if sealed, err := evidence.Commitments(broken, secret(7)); err == nil {
			t.Errorf("%q is sealed: %v", data, sealed)
		}
	}
}

// bundle is one of three events out of some hundred.
func bundle(t testing.TB) (evidence.Bundle, evidence.Key, *log) {
	t.Helper()
	l, key := &log{tiles: map[evidence.At][]byte{}}, evidence.NewKey("halyard.example/1f", []byte(strings.Repeat("k", 32)))
	b := evidence.Bundle{Format: evidence.Format, Key: key.Verifier()}
	for n := int64(1); n <= 300; n++ {
		l.grow(t, entry(t, event(n)))
	}
	b.Checkpoint = l.checkpoint(t, key, 300)
	for _, size := range []int64{119, 255} {
		p, err := evidence.Tiles(l.read).Grown(300, size)
		if err != nil {
			t.Fatal(err)
		}
		b.Earlier = append(b.Earlier, evidence.Growth{Checkpoint: l.checkpoint(t, key, size), Proof: evidence.Proof(p)})
	}
	for _, n := range []int64{1, 200, 300} {
		e := event(n)
		p, err := evidence.Tiles(l.read).Included(300, n-1)
		if err != nil {
			t.Fatal(err)
		}
		one := evidence.Proven{Index: n - 1, Entry: entry(t, e), Proof: evidence.Proof(p), Opened: map[string]evidence.Opening{}}
		for _, field := range evidence.Fields {
			one.Opened[field], _ = evidence.Open(e, secret(n), field)
		}
		b.Events = append(b.Events, one)
		b.Versions = append(b.Versions, evidence.Version{Document: e.ItemID.String(), Number: int(n), Name: "Report", SHA256: fmt.Sprintf("%064x", n)})
	}
	return b, key, l
}

func TestBundles(t *testing.T) {
	good, key, l := bundle(t)
	other := evidence.NewKey("halyard.example/1f", []byte(strings.Repeat("x", 32)))
	foreign := evidence.NewKey("other.example/2", []byte(strings.Repeat("y", 32)))
	rewritten := &log{tiles: map[evidence.At][]byte{}}
	rewritten.grow(t, append([]string{"forged"}, l.texts[1:]...)...)
	for name, c := range map[string]struct {
		change func(b *evidence.Bundle)
		trust  evidence.Trust
		files  map[string]string
		wrong  string
		says   string
	}{
		"as it was written":  {says: "3 events stand in the log"},
		"with the key known": {trust: evidence.Trust{Key: key.Verifier()}},
		"with a file":        {change: func(b *evidence.Bundle) { b.Versions[1].File = "r.pdf" }, files: map[string]string{"r.pdf": fmt.Sprintf("%064x", 200)}, says: "1 contents"},
		"with another file":  {change: func(b *evidence.Bundle) { b.Versions[1].File = "r.pdf" }, files: map[string]string{"r.pdf": "00"}, wrong: "is not the one of that hash"},
		"without its file":   {change: func(b *evidence.Bundle) { b.Versions[1].File = "r.pdf" }, wrong: "is missing from the archive"},
		"with another hash":  {change: func(b *evidence.Bundle) { b.Versions[1].SHA256 = "00" }, says: "no sealed event of the bundle tells it"},
		"of another form":    {change: func(b *evidence.Bundle) { b.Format = "tabularis-evidence/2" }, wrong: "of the form"},
		"an altered entry": {change: func(b *evidence.Bundle) {
			b.Events[0].Entry = strings.Replace(b.Events[0].Entry, "version.added", "version.named", 1)
		}, wrong: "is not what the log holds"},
		"a broken entry":       {change: func(b *evidence.Bundle) { b.Events[0].Entry = "{" }, wrong: "cannot be read"},
		"at another place":     {change: func(b *evidence.Bundle) { b.Events[0].Index = 5 }, wrong: "is not what the log holds"},
		"beyond the end":       {change: func(b *evidence.Bundle) { b.Events[0].Index = 1 << 40 }, wrong: "is not what the log holds"},
		"before the beginning": {change: func(b *evidence.Bundle) { b.Events[0].Index = -1 }, wrong: "is not what the log holds"},
		"twice":                {change: func(b *evidence.Bundle) { b.Events = append(b.Events, b.Events[0]) }, wrong: "stands twice"},
		"a proof too short":    {change: func(b *evidence.Bundle) { b.Events[1].Proof = b.Events[1].Proof[1:] }, wrong: "is not what the log holds"},
		"another network": {change: func(b *evidence.Bundle) {
			o := b.Events[1].Opened["network"]
			o.Value = "192.0.2.99"
			b.Events[1].Opened["network"] = o
		}, wrong: `the field "network"`},
		"a field there is not":  {change: func(b *evidence.Bundle) { b.Events[1].Opened["colour"] = evidence.Opening{} }, wrong: `the field "colour"`},
		"one left sealed":       {change: func(b *evidence.Bundle) { delete(b.Events[1].Opened, "network") }, says: "fields that are left sealed"},
		"a forged checkpoint":   {change: func(b *evidence.Bundle) { b.Checkpoint = strings.Replace(b.Checkpoint, "\n300\n", "\n301\n", 1) }, wrong: "forged or damaged"},
		"signed by another":     {change: func(b *evidence.Bundle) { b.Checkpoint = l.checkpoint(t, other, 300) }, wrong: "not signed by the key"},
		"of another practice":   {change: func(b *evidence.Bundle) { b.Key, b.Checkpoint = foreign.Verifier(), l.checkpoint(t, foreign, 300) }, trust: evidence.Trust{Key: key.Verifier()}, wrong: "not signed by the key"},
		"no key":                {change: func(b *evidence.Bundle) { b.Key = "" }, wrong: "cannot be read"},
		"rewritten before":      {change: func(b *evidence.Bundle) { b.Checkpoint = rewritten.checkpoint(t, key, 300) }, wrong: "has not grown out of"},
		"an earlier one forged": {change: func(b *evidence.Bundle) { b.Earlier[0].Checkpoint = b.Earlier[0].Checkpoint[1:] }, wrong: "earlier checkpoint"},
		"an earlier one elsewhere": {change: func(b *evidence.Bundle) {
			b.FormerKeys, b.Earlier[0].Checkpoint = []string{foreign.Verifier()}, l.checkpoint(t, foreign, 119)
		}, wrong: "of another log"},
		"as it was sent": {trust: evidence.Trust{Witnessed: l.checkpoint(t, key, 255)}, says: "was sent before"},
		"sent otherwise": {trust: evidence.Trust{Witnessed: rewritten.checkpoint(t, key, 255)}, wrong: "this is not the log that was shown"},
		"sent later":     {change: func(b *evidence.Bundle) { b.Earlier = b.Earlier[:1] }, trust: evidence.Trust{Witnessed: l.checkpoint(t, key, 255)}, says: "not among those of the bundle"},
		"sent garbage":   {trust: evidence.Trust{Witnessed: "hello"}, wrong: "not a signed note"},
	} {
		t.Run(name, func(t *testing.T) {
			// It goes out and comes in as JSON.
			raw, err := json.Marshal(good)
			var b evidence.Bundle
			if err != nil || json.Unmarshal(raw, &b) != nil {
				t.Fatal(err)
			}
			if c.change != nil {
				c.change(&b)
			}
			r := evidence.Check(b, c.trust, c.files)
			said := strings.Join(append(append(r.Proven, r.Open...), r.Wrong...), "\n")
			if r.Holds() != (c.wrong == "") || !strings.Contains(strings.Join(r.Wrong, "\n"), c.wrong) || !strings.Contains(said, c.says) {
				t.Errorf("it says\n%s", said)
			}
		})
	}
}

func TestKeysAreReadByOthers(t *testing.T) {
	key := evidence.NewKey("halyard.example/1f", []byte(strings.Repeat("k", 32)))
	signed, err := evidence.Sign("one\ntwo\n", key)
	if err != nil {
		t.Fatal(err)
	}
	n, err := evidence.OpenNote(signed, []string{key.Verifier()})
	if err != nil || n.Text != "one\ntwo\n" || n.Key != key.Verifier() {
		t.Errorf("%+v, %v", n, err)
	}
}

func FuzzCheck(f *testing.F) {
	good, _, _ := bundle(f)
	raw, _ := json.Marshal(good)
	f.Add(raw)
	f.Add([]byte(`{"format":"tabularis-evidence/1","events":[{"index":-5}]}`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		var b evidence.Bundle
		if json.Unmarshal(raw, &b) != nil {
			return
		}
		// Whatever comes, it ends, and what holds is signed by the one key there is.
		if r := evidence.Check(b, evidence.Trust{Key: good.Key}, nil); r.Holds() {
			if _, _, err := evidence.OpenCheckpoint(b.Checkpoint, []string{good.Key}); err != nil {
				t.Error(err)
			}
		}
	})
}

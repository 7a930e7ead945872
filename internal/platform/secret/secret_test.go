package secret

import (
	"bytes"
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

func TestSealedValuesOpenOnlyForTheirPurpose(t *testing.T) {
	k, err := NewKeys(Random(32))
	if err != nil {
		t.Fatal(err)
	}
	sealed := k.Seal([]byte("token"), "link")
	if got, err := k.Open(sealed, "link"); err != nil || string(got) != "token" {
		t.Errorf("got %q, %v", got, err)
	}
	if _, err := k.Open(sealed, "blob"); err == nil {
		t.Error("opened for another purpose")
	}
	sealed[len(sealed)-1] ^= 1
	if _, err := k.Open(sealed, "link"); err == nil {
		t.Error("opened although changed")
	}
	if _, err := k.Open(nil, "link"); err == nil {
		t.Error("opened nothing")
	}
	if bytes.Equal(k.Seal([]byte("a"), "x"), k.Seal([]byte("a"), "x")) {
		t.Error("sealing twice gives the same bytes")
	}
}

func TestKeyFileIsMadeOnceAndKeptPrivate(t *testing.T) {
	path := filepath.Join(t.TempDir(), "keys", "master.key")
	if _, err := LoadKeys(path, false); err == nil {
		t.Fatal("a missing key file was accepted")
	}
	a, err := LoadKeys(path, true)
	if err != nil {
		t.Fatal(err)
	}
	b, err := LoadKeys(path, true)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := b.Open(a.Seal([]byte("x"), "p"), "p"); err != nil {
		t.Errorf("the second start has another key: %v", err)
	}
	info, err := os.Stat(path)
	if err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("mode %v, %v", info.Mode(), err)
	}
	if err := os.WriteFile(path, []byte("short"), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := LoadKeys(path, true); err == nil {
		t.Error("a short key was accepted")
	}
}

func TestPasswords(t *testing.T) {
	p, ctx := NewPasswords(2).Cheap(), context.Background()
	hash, err := p.Hash(ctx, "quay-lantern-47")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		password, hash string
		want           bool
	}{{"quay-lantern-47", hash, true}, {"quay-lantern-48", hash, false}, {"", hash, false}, {"", "", false}, {"x", "", false}} {
		if got, err := p.Check(ctx, c.password, c.hash); err != nil || got != c.want {
			t.Errorf("%q: %v, %v", c.password, got, err)
		}
	}
	if _, err := p.Check(ctx, "x", "$argon2id$v=19$m=a,t=1,p=1$eA$eA"); err == nil {
		t.Error("a broken hash was read")
	}
	if strings.Contains(hash, "lantern") {
		t.Error("the hash shows the password")
	}
}

func TestSpokenPasswordsDiffer(t *testing.T) {
	seen := map[string]bool{}
	for range 200 {
		p := Spoken()
		if seen[p] || strings.Count(p, "-") != 3 {
			t.Fatalf("made %q", p)
		}
		seen[p] = true
	}
}

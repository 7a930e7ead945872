package diff

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// sides joins the pieces to the one and the other.
func sides(pieces []Piece) (a, b string) {
	for _, p := range pieces {
		if p.Kind != Added {
			a += p.Text
		}
		if p.Kind != Removed {
			b += p.Text
		}
	}
	return a, b
}

func shown(pieces []Piece) (s string) {
	for _, p := range pieces {
		mark := map[Kind]string{Same: "", Removed: "-", Added: "+"}[p.Kind]
		if p.Moved {
			mark += "m"
		}
		if mark == "" {
			s += p.Text
		} else {
			s += "[" + mark + p.Text + "]"
		}
	}
	return s
}

func TestWords(t *testing.T) {
	for name, c := range map[string]struct{ a, b, want string }{
		"nothing":                 {"", "", ""},
		"the same":                {"Frame 31.\n", "Frame 31.\n", "Frame 31.\n"},
		"a line at the end":       {"Renewed.\n", "Renewed.\nAs agreed.\n", "Renewed.\n[+As agreed.\n]"},
		"one word":                {"plates over frames 24 to 30 are renewed", "plates over frames 24 to 32 are renewed", "plates over frames 24 to [-30][+32] are renewed"},
		"a number":                {"6.9 mm", "7.1 mm", "[-6.9][+7.1] mm"},
		"a sentence":              {"One.\nTwo.\n", "One.\nBetween.\nTwo.\n", "One.\n[+Between.\n]Two.\n"},
		"all of it":               {"alpha", "beta", "[-alpha][+beta]"},
		"from nothing":            {"", "beta", "[+beta]"},
		"words side by side":      {"the old heavy plate", "the new light plate", "the [-old heavy][+new light] plate"},
		"without a last line end": {"a\nb", "a\nb\n", "a\nb[+\n]"},
		"umlauts":                 {"Schäden an Spant 31", "Schaden an Spant 31", "[-Schäden][+Schaden] an Spant 31"},
	} {
		got := Words(c.a, c.b)
		if shown(got.Pieces) != c.want {
			t.Errorf("%s: %q, want %q", name, shown(got.Pieces), c.want)
		}
	}
	const between = "No reading exceeds twenty per cent.\nThe coating is sound above the waterline.\nTwo indents were noted.\n"
	moved := Words("The plating was gauged at forty-four points.\n"+between, between+"The plating was gauged at forty-four points.\n")
	if moved.Moved != 8 || moved.Removed != 0 || moved.Added != 0 || moved.Changes != 2 {
		t.Errorf("%+v", moved)
	}
	if x := Words("one two three four\n", "one 2 three 4 five\n"); x.Removed != 2 || x.Added != 3 || x.Changes != 2 {
		t.Errorf("%+v", x)
	}
}

// corpus makes a text and one that was edited from it, so that words, lines and blocks
// are changed, removed, added and moved.
func corpus(r *rand.Rand) (a, b string) {
	// Some words are in every line, most in few, as in papers.
	word := func() string {
		if r.IntN(4) == 0 {
			return strings.Fields("the of and at is – frame plate 10.0 Schäden, doubler.")[r.IntN(11)]
		}
		return fmt.Sprintf("w%d", r.IntN(900))
	}
	var lines, edited []string
	for range r.IntN(40) {
		var words []string
		for range 1 + r.IntN(12) {
			words = append(words, word())
		}
		lines = append(lines, strings.Join(words, " "))
	}
	for _, l := range lines {
		switch r.IntN(12) {
		case 0:
		case 1:
			edited = append(edited, l, word()+" "+word())
		case 2:
			words := strings.Fields(l)
			words[r.IntN(len(words))] = word()
			edited = append(edited, strings.Join(words, " "))
		case 3:
			at := r.IntN(len(edited) + 1)
			edited = append(edited[:at], append([]string{l}, edited[at:]...)...)
		default:
			edited = append(edited, l)
		}
	}
	ends := []string{"", "\n"}
	return strings.Join(lines, "\n") + ends[r.IntN(2)], strings.Join(edited, "\n") + ends[r.IntN(2)]
}

// What is found, applied to the one, gives the other, and changes at most twice the words
// that have to be.
func TestWordsGiveTheOther(t *testing.T) {
	r := rand.New(rand.NewPCG(12, 1))
	for range 3000 {
		a, b := corpus(r)
		got := Words(a, b)
		if x, y := sides(got.Pieces); x != a || y != b {
			t.Fatalf("%q and %q became %q and %q", a, b, x, y)
		}
		ids := interned{}
		wa, wb := ids.of(strings.Fields(a)), ids.of(strings.Fields(b))
		changed := 0
		for _, p := range got.Pieces {
			if p.Kind != Same {
				changed += len(strings.Fields(p.Text))
			}
		}
		if want := least(wa, wb); changed > 2*want+6 {
			t.Fatalf("%d changes where %d are enough: %s", changed, want, shown(got.Pieces))
		}
	}
}

// A patch program takes our unified differences, and makes the other of the one.
func TestPatchesAreTaken(t *testing.T) {
	git, err := exec.LookPath("git")
	if err != nil {
		t.Skip("git is not installed")
	}
	r := rand.New(rand.NewPCG(4, 9))
	dir := t.TempDir()
	for n := range 24 {
		a, b := corpus(r)
		if a == "" || b == "" {
			continue // A file that is not there is told otherwise.
		}
		patch, _ := Unified(a, b, "notes of Friday.md", "notes of Friday.md")
		if (patch == "") != (a == b) {
			t.Fatalf("%q for %q and %q", patch, a, b)
		}
		if patch == "" {
			continue
		}
		here := filepath.Join(dir, fmt.Sprint(n))
		if err := os.Mkdir(here, 0o700); err != nil {
			t.Fatal(err)
		}
		file := filepath.Join(here, "notes of Friday.md")
		if err := os.WriteFile(file, []byte(a), 0o600); err != nil {
			t.Fatal(err)
		}
		apply := exec.Command(git, "apply", "--unidiff-zero", "--whitespace=nowarn", "-")
		apply.Dir, apply.Stdin = here, strings.NewReader(patch)
		apply.Env = append(os.Environ(), "GIT_CEILING_DIRECTORIES="+dir)
		if out, err := apply.CombinedOutput(); err != nil {
			t.Fatalf("%v: %s\n%s", err, out, patch)
		}
		if got, err := os.ReadFile(file); err != nil || string(got) != b {
			t.Fatalf("%q instead of %q by\n%s", got, b, patch)
		}
	}
}

func FuzzWords(f *testing.F) {
	f.Add("Frame 31 could not be reached.\n", "Frame 31 was gauged.\n")
	f.Add("a\xff\nb", "a\r\nb\x00")
	f.Fuzz(func(t *testing.T, a, b string) {
		if x, y := sides(Words(a, b).Pieces); x != a || y != b {
			t.Errorf("%q and %q became %q and %q", a, b, x, y)
		}
		Unified(a, b, "a", "b")
	})
}

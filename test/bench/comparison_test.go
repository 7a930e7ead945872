package bench_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"tabularis/core/diff"
)

// papers makes a text of so many bytes, and one of which every so many lines are edited.
func papers(bytes, every int) (a, b string) {
	r := rand.New(rand.NewPCG(31, 24))
	var lines []string
	for n := 0; n < bytes; {
		var line strings.Builder
		for range 6 + r.IntN(10) {
			fmt.Fprintf(&line, "word%d ", r.IntN(5000))
		}
		n += line.Len() + 1
		lines = append(lines, line.String()+"\n")
	}
	edited := append([]string{}, lines...)
	for i := 0; i < len(edited); i += every {
		edited[i] = strings.Replace(edited[i], "word", "term", 1+r.IntN(3))
	}
	return strings.Join(lines, ""), strings.Join(edited, "")
}

// A megabyte of text by words, beside git doing the same; a report of 300 pages; a table
// of 100,000 rows.
func BenchmarkComparison(b *testing.B) {
	git, err := exec.LookPath("git")
	if err != nil {
		b.Skip("git is not installed")
	}
	dir := b.TempDir()
	for b.Loop() {
		one, other := papers(1<<20, 40)
		paths := []string{filepath.Join(dir, "one"), filepath.Join(dir, "other")}
		for i, text := range []string{one, other} {
			if err := os.WriteFile(paths[i], []byte(text), 0o600); err != nil {
				b.Fatal(err)
			}
		}
		changes := 0
		ours, theirs := median(b, 7, func() { changes = diff.Words(one, other).Changes }, func() {
			// It ends with 1 where there are differences.
			_ = exec.Command(git, "diff", "--no-index", "--word-diff=porcelain", paths[0], paths[1]).Run()
		})
		if changes == 0 {
			b.Fatal("nothing was found")
		}
		row("a megabyte of text by words | git diff --word-diff", ours.String(), theirs.String(), float64(ours)/float64(theirs), "at most 1")

		long, longer := papers(300*3000, 25)
		pages, _ := median(b, 7, func() { diff.Words(long, longer) }, func() {})
		row("the text of 300 pages by words | a second", pages.String(), "1 s", pages.Seconds(), "at most 1")

		r := rand.New(rand.NewPCG(5, 5))
		rows := make([][]string, 100_000)
		for i := range rows {
			rows[i] = make([]string, 20)
			for j := range rows[i] {
				rows[i][j] = fmt.Sprint(r.IntN(1000))
			}
		}
		changed := make([][]string, 0, len(rows)+100)
		for i, row := range rows {
			row = append([]string{}, row...)
			if i%97 == 0 {
				row[5] = "–"
			}
			if i%1009 == 0 {
				changed = append(changed, make([]string, 20))
			}
			changed = append(changed, row)
		}
		cells, _ := median(b, 5, func() { diff.Tables(rows, changed) }, func() {})
		row("100,000 rows of 20 cells | a second", cells.String(), "1 s", cells.Seconds(), "at most 1")
	}
}

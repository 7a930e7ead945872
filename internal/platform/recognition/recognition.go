// Package recognition reads what is written in pictures of pages, by Tesseract, where that is
// installed: each page in a process of its own that reaches nothing but its own folder.
package recognition

import (
	"context"
	"errors"
	"fmt"
	"image"
	"image/png"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"golang.org/x/sys/unix"

	"tabularis/internal/platform/cell"
)

const (
	// patience is how long reading one page may take.
	patience = 60 * time.Second
	// longest is how much text of one page is taken over, in bytes.
	longest = 1 << 20
)

// languages are those that are read, where Tesseract has them.
var languages = []string{"deu", "eng"}

// Reader reads pages.
type Reader struct{ program, languages string }

// Find finds Tesseract: the program named, or tesseract on the path. It returns nil where there
// is none that has a language, or where none is wanted ("none").
func Find(program string) *Reader {
	if program == "none" {
		return nil
	}
	if program == "" {
		program = "tesseract"
	}
	found, err := exec.LookPath(program)
	if err != nil {
		return nil
	}
	out, err := exec.Command(found, "--list-langs").CombinedOutput()
	if err != nil {
		return nil
	}
	has := strings.Fields(string(out))
	known := slices.DeleteFunc(slices.Clone(languages), func(l string) bool { return !slices.Contains(has, l) })
	if len(known) == 0 {
		return nil
	}
	return &Reader{found, strings.Join(known, "+")}
}

// ErrUnreadable means that a page could not be read within its limits.
var ErrUnreadable = errors.New("the page cannot be read")

// Page reads what is written on a page.
func (r *Reader) Page(ctx context.Context, page image.Image) (string, error) {
	dir, err := cell.Folder("tabularis-page-")
	if err != nil {
		return "", fmt.Errorf("making a folder to read in: %w", err)
	}
	defer os.RemoveAll(dir)
	if err := lay(filepath.Join(dir, "page.png"), page); err != nil {
		return "", fmt.Errorf("laying a page out: %w", err)
	}
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	// One thread: several do not make it faster, and take what others wait for.
	cmd := cell.Command(ctx, dir, r.program, filepath.Join(dir, "page.png"), filepath.Join(dir, "page"), "-l", r.languages)
	cmd.Env = append(cmd.Env, "OMP_THREAD_LIMIT=1")
	if out, err := cmd.CombinedOutput(); err != nil {
		return "", fmt.Errorf("%w: %.200s", ErrUnreadable, out)
	}
	return take(filepath.Join(dir, "page.txt"))
}

func lay(name string, page image.Image) error {
	f, err := os.OpenFile(name, os.O_CREATE|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	to := png.Encoder{CompressionLevel: png.BestSpeed}
	return errors.Join(to.Encode(f, page), cell.Own(f), f.Close())
}

// take reads the text that was made. Whatever ran in the folder could have put a way to another
// file there: that is not followed.
func take(name string) (string, error) {
	f, err := os.OpenFile(name, os.O_RDONLY|unix.O_NOFOLLOW|unix.O_NONBLOCK, 0)
	if err != nil {
		return "", ErrUnreadable
	}
	defer f.Close()
	if at, err := f.Stat(); err != nil || !at.Mode().IsRegular() {
		return "", ErrUnreadable
	}
	raw, err := io.ReadAll(io.LimitReader(f, longest))
	return strings.ReplaceAll(strings.ToValidUTF8(string(raw), ""), "\f", ""), err
}

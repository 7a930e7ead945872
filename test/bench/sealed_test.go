package bench_test

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"tabularis/internal/browser"
	"tabularis/internal/testkit"
)

// What sealing costs, in a real browser at both ends: the way in and the way to the disk beside the
// same bytes unsealed, and the memory that the pages take. Both ends, the server and its database share
// the machine.
func BenchmarkSealedTransfers(b *testing.B) {
	p := newPractice(b)
	c, end, err := browser.Start(context.Background())
	if err != nil {
		b.Fatal(err)
	}
	defer end()
	size := megabytes() << 20
	folder := b.TempDir()
	film := filepath.Join(folder, "Underwater film.mp4")
	noise(b, film, size)
	memory := watchMemory()
	e := ends{b, p, c, film, folder}
	for b.Loop() {
		memory.Store(0)
		plain, plainAddress := e.sends(false)
		got := e.fetches(plainAddress)
		plainMemory := memory.Swap(0)
		sealed, sealedAddress := e.sends(true)
		opened := e.fetches(sealedAddress)
		row("sealed transfer: sealed and sent | sent", rate(size, sealed), rate(size, plain), plain.Seconds()/sealed.Seconds(), "0.5 or more")
		row("sealed transfer: fetched and opened to the disk | fetched", rate(size, opened), rate(size, got), got.Seconds()/opened.Seconds(), "0.5 or more")
		row("sealed transfer: the largest page's memory | unsealed", fmt.Sprintf("%d MB", memory.Load()>>20), fmt.Sprintf("%d MB", plainMemory>>20), float64(memory.Load())/float64(plainMemory), "300 MB at most")
	}
}

// ends are a sender's browser and a recipient's.
type ends struct {
	b            *testing.B
	p            practice
	c            *browser.Chromium
	film, folder string
}

func (e ends) sits() *browser.Browser {
	w, end, err := e.c.Sit(1280, 800)
	e.must(err)
	e.b.Cleanup(end)
	w.Patience = 10 * time.Minute
	return w
}

func (e ends) must(all ...error) {
	e.b.Helper()
	for _, err := range all {
		if err != nil {
			e.b.Fatal(err)
		}
	}
}

// sends sends the film, and returns how long that took and by which link it is fetched.
func (e ends) sends(sealed bool) (time.Duration, string) {
	ines := e.sits()
	e.must(ines.Go(e.p.URL+"/sign-in"), ines.Type("#email", "ines.okafor@halyard-rook.example"), ines.Type("#password", testkit.Password), ines.Click("button[type=submit]"), ines.See(".band"))
	e.must(ines.Go(e.p.URL+"/outward/send"), ines.Choose("[data-field=files]", e.film))
	if sealed {
		e.must(ines.Click("button.plus::sealed"), ines.SeeText("sealed in the browser"))
	}
	began := time.Now()
	e.must(ines.Click("button::Make transfer"), ines.SeeText("All of it is here."))
	took := time.Since(began)
	address, err := ines.Copied()
	e.must(err)
	return took, address
}

// fetches opens the link and saves the film, and returns how long that took.
func (e ends) fetches(address string) time.Duration {
	marit, folder := e.sits(), e.b.TempDir()
	e.must(marit.Downloads(folder), marit.Go(address), marit.Click("button::Show"), marit.See("li[data-file]"))
	began := time.Now()
	e.must(marit.Click("li[data-file] .btn::Download"))
	for whole := filepath.Join(folder, filepath.Base(e.film)); ; time.Sleep(10 * time.Millisecond) {
		if i, err := os.Stat(whole); err == nil {
			want, err := os.Stat(e.film)
			e.must(err)
			if i.Size() == want.Size() {
				e.must(os.Remove(whole))
				return time.Since(began)
			}
		}
		if time.Since(began) > 10*time.Minute {
			e.b.Fatal("it was not saved")
		}
	}
}

// watchMemory keeps the most memory that a page's process has taken since it was set to nothing, in bytes.
func watchMemory() *atomic.Int64 {
	var most atomic.Int64
	go func() {
		for range time.Tick(100 * time.Millisecond) {
			all, _ := filepath.Glob("/proc/[0-9]*/cmdline")
			for _, path := range all {
				line, err := os.ReadFile(path)
				if err != nil || !strings.Contains(string(line), "--type=renderer") {
					continue
				}
				if n := proportional(filepath.Dir(path)); n > most.Load() {
					most.Store(n)
				}
			}
		}
	}()
	return &most
}

// proportional is how much memory a process takes, with its share of what it has in common with others.
func proportional(process string) int64 {
	content, err := os.ReadFile(filepath.Join(process, "smaps_rollup"))
	if err != nil {
		return 0
	}
	for _, line := range strings.Split(string(content), "\n") {
		if rest, ok := strings.CutPrefix(line, "Pss:"); ok {
			kb, _ := strconv.ParseInt(strings.Fields(rest)[0], 10, 64)
			return kb << 10
		}
	}
	return 0
}

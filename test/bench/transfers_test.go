package bench_test

import (
	"bytes"
	"fmt"
	"io"
	"net/http"
	"path"
	"runtime"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// How soon a transfer's link is there, how soon a recipient has something of what is still
// arriving, and what fetching meanwhile saves beside fetching afterwards.
func BenchmarkTransfers(b *testing.B) {
	p := newPractice(b)
	size := megabytes() << 20
	data := bytes.Repeat([]byte("reading "), int(size/8))
	for b.Loop() {
		n := 0
		_, made := percentile(b, 40, func() error {
			n++
			p.sends(contract.AnnouncedFile{Name: fmt.Sprintf("scan %d.e57", n), Size: size}, contract.AnnouncedFile{Name: "film.mp4", Size: size})
			return nil
		})
		alone("transfer: its link is made (p95)", made, "500 ms")
		_, first := percentile(b, 20, func() error { return p.firstByte() })
		alone("transfer: first byte out after the first bytes in (p95)", first, "")
		meanwhile, after := median(b, 3, func() { p.fetchesMeanwhile(b, data) }, func() { p.fetchesAfter(b, data) })
		grown, took := p.waiting(200, data[:4<<20])
		line(fmt.Sprintf("%-64s %9d kB %12s %8s  %s", "transfer: memory for each of 200 who wait for it to arrive", grown>>10, ms(took), "", "all have it at once when it is here"))
		row("transfer: fetched while it arrives | uploaded, then fetched", rate(size, meanwhile), rate(size, after), meanwhile.Seconds()/after.Seconds(), "below 1")
		dir := b.TempDir()
		web := nginx(b, dir)
		ours, beside := median(b, 3, func() { p.fetchesAfter(b, data) }, func() { p.throughNginx(b, web, data) })
		row("transfer: whole way, hashed, encrypted, durable | PUT and GET at nginx", rate(size, ours), rate(size, beside), beside.Seconds()/ours.Seconds(), "")
	}
}

func (p practice) sends(files ...contract.AnnouncedFile) contract.Transfer {
	return testkit.Post[contract.Transfer](p.c, 201, "/api/transfers", contract.TransferWish{Files: &files})
}

// way opens an upload for a transfer's only file, and lets a visitor in.
func (p practice) way(size int64) (upload string, v *testkit.Client, fetch string) {
	t := p.sends(contract.AnnouncedFile{Name: "scan.e57", Size: size})
	a := p.c.Begin(t.FolderId, "", "scan.e57", int(size), "announced", t.Files[0].Id.String())
	v = p.Visitor()
	v.HTTP.Timeout = 10 * time.Minute
	at := "/api/visits/" + path.Base(*t.Address)
	v.Want(204, "POST", at, contract.OpenLink{})
	return a.Header.Get("Location"), v, p.URL + at + "/files/" + t.Files[0].Id.String()
}

func (p practice) patches(where string, data io.Reader) {
	p.c.Want(204, "PATCH", where, data, "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
}

// firstByte sends a little of a file, and waits until a recipient has something of it.
func (p practice) firstByte() error {
	const size = 1 << 20
	where, v, fetch := p.way(size)
	r, w := io.Pipe()
	done := make(chan struct{})
	go func() { p.patches(where, r); close(done) }()
	if _, err := w.Write(make([]byte, 512<<10)); err != nil {
		return err
	}
	for {
		resp, err := v.HTTP.Get(fetch)
		if err != nil {
			return err
		}
		if resp.StatusCode == 200 {
			_, err = io.ReadFull(resp.Body, make([]byte, 1))
			resp.Body.Close()
			_, _ = w.Write(make([]byte, 512<<10))
			w.Close()
			<-done
			return err
		}
		resp.Body.Close()
		time.Sleep(5 * time.Millisecond)
	}
}

func (p practice) fetchesMeanwhile(b *testing.B, data []byte) {
	where, v, fetch := p.way(int64(len(data)))
	done := make(chan struct{})
	go func() { p.patches(where, bytes.NewReader(data)); close(done) }()
	for {
		resp, err := v.HTTP.Get(fetch)
		if err != nil {
			b.Fatal(err)
		}
		if resp.StatusCode != 200 {
			resp.Body.Close()
			time.Sleep(5 * time.Millisecond)
			continue
		}
		n, err := io.Copy(io.Discard, resp.Body)
		resp.Body.Close()
		if err != nil || n != int64(len(data)) {
			b.Fatal(n, err)
		}
		<-done
		return
	}
}

func (p practice) fetchesAfter(b *testing.B, data []byte) {
	where, v, fetch := p.way(int64(len(data)))
	p.patches(where, bytes.NewReader(data))
	resp, err := v.HTTP.Get(fetch)
	if err != nil {
		b.Fatal(err)
	}
	defer resp.Body.Close()
	if n, err := io.Copy(io.Discard, resp.Body); err != nil || n != int64(len(data)) {
		b.Fatal(n, err)
	}
}

// throughNginx puts the same bytes as a plain file and gets them again, with the same client.
func (p practice) throughNginx(b *testing.B, web string, data []byte) {
	put, err := http.NewRequest("PUT", web+"/film.bin", bytes.NewReader(data))
	if err != nil {
		b.Fatal(err)
	}
	resp, err := p.c.HTTP.Do(put)
	if err != nil {
		b.Fatal(err)
	}
	resp.Body.Close()
	if resp.StatusCode != 201 && resp.StatusCode != 204 {
		b.Fatalf("nginx takes nothing: %d", resp.StatusCode)
	}
	p.fetch(b, web+"/film.bin")
}

// waiting lets many wait for a file of which half is here, and tells how much memory each takes of
// the server and its clients together, and how long it is from the last byte in to the last one out.
func (p practice) waiting(n int, data []byte) (each uint64, took time.Duration) {
	where, v, fetch := p.way(int64(len(data)))
	v.HTTP.Transport = &http.Transport{MaxIdleConnsPerHost: n}
	r, w := io.Pipe()
	sent := make(chan struct{})
	go func() { p.patches(where, r); close(sent) }()
	_, _ = w.Write(data[:len(data)/2])
	for v.Do("HEAD", strings.TrimPrefix(fetch, p.URL), nil).Status != 200 {
		time.Sleep(10 * time.Millisecond)
	}
	before := taken()
	var all sync.WaitGroup
	var here atomic.Int64
	for range n {
		all.Go(func() {
			resp, err := v.HTTP.Get(fetch)
			if err != nil {
				panic(err)
			}
			defer resp.Body.Close()
			// As far as it can come; then it waits.
			if _, err := io.CopyN(io.Discard, resp.Body, int64(len(data)/2-128<<10)); err != nil {
				panic(err)
			}
			here.Add(1)
			if rest, err := io.Copy(io.Discard, resp.Body); err != nil || rest != int64(len(data)/2+128<<10) {
				panic(fmt.Sprint(rest, err))
			}
		})
	}
	for here.Load() < int64(n) {
		time.Sleep(10 * time.Millisecond)
	}
	after := taken()
	began := time.Now()
	_, _ = w.Write(data[len(data)/2:])
	w.Close()
	<-sent
	all.Wait()
	return (after - min(before, after)) / uint64(n), time.Since(began)
}

// taken is how much memory heap and stacks take after what is not used was given back.
func taken() uint64 {
	runtime.GC()
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	return m.HeapInuse + m.StackInuse
}

package api_test

import (
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	"tabularis/internal/server"
	"tabularis/internal/testkit"
)

// A body that does not come to its end holds its connection for a while only.
func TestBodiesHaveTheirTime(t *testing.T) {
	t.Parallel()
	w := newWorld(t, func(c *server.Config) { c.BodyTime = 300 * time.Millisecond })
	conn, err := net.Dial("tcp", strings.TrimPrefix(w.URL, "http://"))
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close()
	fmt.Fprintf(conn, "POST /api/session HTTP/1.1\r\nHost: %s\r\nContent-Type: application/json\r\nContent-Length: 1000\r\n\r\n{\"email\":", strings.TrimPrefix(w.URL, "http://"))
	if err := conn.SetReadDeadline(time.Now().Add(15 * time.Second)); err != nil {
		t.Fatal(err)
	}
	answer, err := io.ReadAll(conn)
	if err != nil || !strings.HasPrefix(string(answer), "HTTP/1.1 4") {
		t.Errorf("%.200q %v", answer, err)
	}
	// What comes in time is answered, also later on the same connection.
	for range 3 {
		w.luca.Want(200, "GET", "/api/today", nil)
		time.Sleep(150 * time.Millisecond)
	}
}

// Nobody holds connections without end: so many streams of one person, and others
// are still served.
func TestStreamsOfOnePerson(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	ctx, cancel := context.WithCancel(t.Context())
	defer cancel()
	open := func(c *testkit.Client) int {
		req, err := http.NewRequestWithContext(ctx, "GET", w.URL+"/api/live", nil)
		if err != nil {
			t.Fatal(err)
		}
		resp, err := (&http.Client{Jar: c.HTTP.Jar}).Do(req)
		if err != nil {
			t.Fatal(err)
		}
		t.Cleanup(func() { resp.Body.Close() })
		return resp.StatusCode
	}
	got := map[int]int{}
	for range 80 {
		got[open(w.luca)]++
	}
	if got[200] != 60 || got[429] != 20 {
		t.Errorf("%v", got)
	}
	if status := open(w.priya); status != 200 {
		t.Errorf("somebody else: %d", status)
	}
}

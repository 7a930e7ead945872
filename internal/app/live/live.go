// Package live carries news of events from the database to open pages. Every
// server process listens for itself; a page that misses news reads anew when it
// reconnects.
package live

import (
	"context"
	"encoding/json"
	"log/slog"
	"sync"
	"time"

	"tabularis/internal/app/act"
	"tabularis/internal/platform/postgres"
)

// Hub passes news on to whoever subscribes.
type Hub struct {
	// Others are further channels to listen on, each with what to do.
	Others map[string]func(payload string)

	mu   sync.Mutex
	subs map[chan act.News]struct{}
}

// NewHub makes a hub; Run feeds it.
func NewHub() *Hub { return &Hub{subs: map[chan act.News]struct{}{}} }

// Subscribe returns a channel of news and how to end it. A subscriber that does
// not keep up loses news, and its channel is closed to tell it so.
func (h *Hub) Subscribe() (<-chan act.News, func()) {
	c := make(chan act.News, 64)
	h.mu.Lock()
	h.subs[c] = struct{}{}
	h.mu.Unlock()
	return c, func() { h.drop(c) }
}

func (h *Hub) drop(c chan act.News) {
	h.mu.Lock()
	defer h.mu.Unlock()
	if _, there := h.subs[c]; there {
		delete(h.subs, c)
		close(c)
	}
}

func (h *Hub) tell(n act.News) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for c := range h.subs {
		select {
		case c <- n:
		default:
			delete(h.subs, c)
			close(c)
		}
	}
}

// dropAll ends all subscriptions: what happened while not listening is unknown.
func (h *Hub) dropAll() {
	h.mu.Lock()
	defer h.mu.Unlock()
	for c := range h.subs {
		delete(h.subs, c)
		close(c)
	}
}

// Run listens until the context ends, and reconnects when the database was away.
func (h *Hub) Run(ctx context.Context, db *postgres.DB, log *slog.Logger) {
	defer h.dropAll()
	for ctx.Err() == nil {
		err := h.listen(ctx, db)
		if ctx.Err() != nil {
			return
		}
		log.Warn("listening for news was interrupted", "error", err)
		h.dropAll()
		select {
		case <-ctx.Done():
		case <-time.After(time.Second):
		}
	}
}

func (h *Hub) listen(ctx context.Context, db *postgres.DB) error {
	conn, err := db.Pool.Acquire(ctx)
	if err != nil {
		return err
	}
	// The connection is not given back: it would go on listening.
	raw := conn.Hijack()
	defer raw.Close(context.WithoutCancel(ctx))
	channels := []string{act.NewsChannel}
	for c := range h.Others {
		channels = append(channels, c)
	}
	for _, c := range channels {
		if _, err := raw.Exec(ctx, "LISTEN "+c); err != nil {
			return err
		}
	}
	for {
		note, err := raw.WaitForNotification(ctx)
		if err != nil {
			return err
		}
		if do, ok := h.Others[note.Channel]; ok {
			do(note.Payload)
			continue
		}
		var n act.News
		if err := json.Unmarshal([]byte(note.Payload), &n); err == nil {
			h.tell(n)
		}
	}
}

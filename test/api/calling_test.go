package api_test

import (
	"context"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/coder/websocket/wsjson"
	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
)

// rings is what a page does about the call.
func (s *sitting) rings(c contract.CallSent) {
	s.t.Helper()
	s.turn++
	if err := wsjson.Write(s.ctx, s.conn, contract.WritingSent{Turn: s.turn, Version: s.version, Call: &c}); err != nil {
		s.t.Fatal(err)
	}
}

// joins takes part in the call.
func (s *sitting) joins() { s.rings(contract.CallSent{Act: contract.CallJoin, Mic: ptr(true)}) }

func (s *sitting) says(to, data string) {
	s.rings(contract.CallSent{Act: contract.CallSignal, To: &to, Data: &data})
}

// Whoever may say something beside a text may take part in its call; what one page says to another reaches that one alone,
// and nobody who is not in the call. Who only looks, or may not be there any more, takes no part.
func TestACallBesideAText(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	ctx, cancel := context.WithTimeout(t.Context(), 30*time.Second)
	defer cancel()
	doc := o.luca.Upload(o.reports, "", "call.md", []byte("text\n")).Document.Id
	o.Give("hanne", doc, "tomasz", access.LevelRemark)
	o.Give("hanne", doc, "priya", access.LevelView)
	luca, hanne, tomasz, priya := o.sits(ctx, t, o.luca, doc, 0), o.sits(ctx, t, o.hanne, doc, 0), o.sits(ctx, t, o.tomasz, doc, 0), o.sits(ctx, t, o.priya, doc, 0)
	if luca.ways == nil || tomasz.ways == nil || priya.ways != nil {
		t.Errorf("they may call: %v, %v, %v", luca.ways, tomasz.ways, priya.ways)
	}
	luca.joins()
	luca.until("he is in it", func() bool { return slices.Equal(luca.calling, []string{luca.page}) })
	hanne.until("she sees that he is", func() bool { return len(hanne.calling) == 1 })
	// Who is not in it says nothing to those who are, and hears nothing.
	hanne.says(luca.page, "before")
	luca.says(hanne.page, "before")
	priya.joins()
	priya.until("she is refused", func() bool { return slices.Contains(priya.refused, "call-not-allowed") })
	tomasz.joins()
	hanne.joins()
	for _, s := range []*sitting{luca, hanne, tomasz, priya} {
		s.until("three are in it", func() bool { return len(s.calling) == 3 })
	}
	offer := strings.Repeat("a=candidate:1 1 udp 2122260223 192.0.2.1 54321 typ host\r\n", 300)
	hanne.says(luca.page, offer)
	hanne.says(tomasz.page, "other")
	hanne.says(priya.page, "nobody's")
	hanne.says(uuid.NewString(), "nowhere")
	hanne.says(luca.page, strings.Repeat("x", 40<<10))
	hanne.until("that is too much", func() bool { return slices.Contains(hanne.refused, "call-signal-large") })
	luca.until("it reaches him", func() bool { return len(luca.signals) > 0 })
	tomasz.until("and him", func() bool { return len(tomasz.signals) > 0 })
	if luca.signals[0] != hanne.page+" "+offer || tomasz.signals[0] != hanne.page+" other" || len(luca.signals)+len(tomasz.signals) != 2 || len(priya.signals) > 0 {
		t.Errorf("they hear %v, %v, %v", luca.signals, tomasz.signals, priya.signals)
	}
	hanne.rings(contract.CallSent{Act: contract.CallLeave})
	luca.until("she has left", func() bool { return len(luca.calling) == 2 })
	hanne.rings(contract.CallSent{Act: "shout"})
	hanne.until("there is no such act", func() bool { return slices.Contains(hanne.refused, "parameter") })
	// Whose access ends is out of the call as well.
	for _, g := range o.grants(doc) {
		if g.SubjectID == o.People["tomasz"].ID {
			o.hanne.Want(204, "DELETE", "/api/access/"+g.ID.String(), nil)
		}
	}
	luca.until("he is gone", func() bool { return len(luca.calling) == 1 })
}

// Eight take part, and no ninth however many try at once.
func TestACallIsFull(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	ctx, cancel := context.WithTimeout(t.Context(), 30*time.Second)
	defer cancel()
	doc := o.luca.Upload(o.reports, "", "full.md", []byte("text\n")).Document.Id
	var all []*sitting
	for range 10 {
		all = append(all, o.sits(ctx, t, o.luca, doc, 0))
	}
	for _, s := range all {
		go s.joins()
	}
	refused := 0
	for _, s := range all {
		s.until("all is decided", func() bool { return len(s.refused) > 0 || slices.Contains(s.calling, s.page) })
		refused += len(s.refused)
	}
	// Two processes that do not know of each other's yet let some in that are too many.
	if refused > 2 || refused < 2 && o.Processes() == 1 {
		t.Errorf("%d of ten were refused", refused)
	}
}

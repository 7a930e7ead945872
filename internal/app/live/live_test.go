package live

import (
	"testing"

	"tabularis/internal/app/act"
)

func TestNewsReachWhoeverListens(t *testing.T) {
	h := NewHub()
	a, endA := h.Subscribe()
	b, endB := h.Subscribe()
	h.tell(act.News{Event: 1})
	if n := <-a; n.Event != 1 {
		t.Errorf("a heard %d", n.Event)
	}
	if n := <-b; n.Event != 1 {
		t.Errorf("b heard %d", n.Event)
	}
	endA()
	endA() // ending again does no harm
	h.tell(act.News{Event: 2})
	if _, open := <-a; open {
		t.Error("a still hears")
	}
	if n := <-b; n.Event != 2 {
		t.Errorf("b heard %d", n.Event)
	}
	endB()
}

// Whoever does not keep up must know that something was missed.
func TestWhoDoesNotKeepUpIsCutOff(t *testing.T) {
	h := NewHub()
	slow, end := h.Subscribe()
	defer end()
	for i := range 1000 {
		h.tell(act.News{Event: int64(i)})
	}
	heard := 0
	for range slow {
		heard++
	}
	if heard == 0 || heard == 1000 {
		t.Errorf("heard %d of 1000", heard)
	}
	other, end := h.Subscribe()
	defer end()
	h.dropAll()
	if _, open := <-other; open {
		t.Error("after the connection was lost nobody may believe to have heard all")
	}
}

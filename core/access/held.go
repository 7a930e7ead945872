package access

import (
	"math/bits"
	"time"
)

// Held is what somebody may do with an item, and each capability until when. It
// bounds what they may give on.
type Held struct {
	caps Caps
	// ends are the ends of the capabilities, in the order of their bits; nil is
	// never.
	ends [16]*time.Time
}

// Held computes what somebody with these subjects may do with the items of a
// root, and until when.
func (f *Forest) Held(root ID, subjects []Subject, now time.Time) Held {
	var h Held
	f.each(root, now, func(g Grant, _ bool) {
		for _, s := range subjects {
			if s == g.Subject {
				h.add(g.Caps(), g.Ends)
				return
			}
		}
	})
	return h
}

func (h *Held) add(caps Caps, ends *time.Time) {
	for left := caps; left != 0; left &= left - 1 {
		at := bits.TrailingZeros16(uint16(left))
		if h.caps&(1<<at) == 0 {
			h.ends[at] = ends
		} else {
			h.ends[at] = later(h.ends[at], ends)
		}
	}
	h.caps |= caps
}

// Caps is what is held at the moment.
func (h Held) Caps() Caps { return h.caps }

// Until is when the first of the capabilities is lost, which must be held; nil is
// never.
func (h Held) Until(caps Caps) (first *time.Time) {
	for left := caps; left != 0; left &= left - 1 {
		first = Earlier(first, h.ends[bits.TrailingZeros16(uint16(left))])
	}
	return first
}

// Covers reports whether h holds all that o does, and at least as long.
func (h Held) Covers(o Held) bool {
	if !h.caps.Has(o.caps) {
		return false
	}
	for left := o.caps; left != 0; left &= left - 1 {
		at := bits.TrailingZeros16(uint16(left))
		if end := h.ends[at]; end != nil && (o.ends[at] == nil || end.Before(*o.ends[at])) {
			return false
		}
	}
	return true
}

// Gives reports whether somebody may give capabilities to others, and until when
// at most: nobody gives more than they hold, nor longer than they hold it and may
// share it. Who manages may give everything.
func (h Held) Gives(caps Caps) (until *time.Time, ok bool) {
	for _, right := range []Caps{Manage, Share | caps} {
		switch {
		case !h.caps.Has(right):
		case !ok:
			until, ok = h.Until(right), true
		default:
			until = later(until, h.Until(right))
		}
	}
	return until, ok
}

// later returns the later of two ends, of which nil is never.
func later(a, b *time.Time) *time.Time {
	if a == nil || b == nil || a.After(*b) {
		if b == nil {
			return nil
		}
		return a
	}
	return b
}

// MayMove reports whether somebody with these subjects may move one of f's roots
// so that access is as after says. Moving never lets the mover do more than
// before, or longer; it takes along no closed thing that is not theirs to manage;
// and into another dossier goes only what they manage.
func (f *Forest) MayMove(item ID, after *Forest, subjects []Subject, now time.Time) bool {
	if f.top.ID != after.top.ID && !f.Held(item, subjects, now).caps.Has(Manage) {
		return false
	}
	for _, id := range f.Below(item) {
		had := f.Held(id, subjects, now)
		if f.roots[id].Closed && !had.caps.Has(Manage) || !had.Covers(after.Held(id, subjects, now)) {
			return false
		}
	}
	return true
}

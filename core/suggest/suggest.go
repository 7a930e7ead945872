// Package suggest ranks the people who are likely meant when somebody begins to
// name one: those with whom they work on the same things, most of all lately.
// Every suggestion carries its reason.
package suggest

import (
	"math"
	"slices"
	"strings"
	"time"
)

// Trace is what is known of somebody's work: that they acted in a dossier, or
// were given something by whoever asks.
type Trace struct {
	Person  string
	Dossier string
	// Acts counts; Last is the last of them.
	Acts int
	Last time.Time
	// Given marks what the asking person gave them.
	Given bool
}

// Reason says why somebody is suggested.
type Reason string

const (
	// Here is work in the dossier that it is about.
	Here Reason = "here"
	// Together is work in another dossier of the one who asks.
	Together Reason = "together"
	// Given is having been given something by the one who asks.
	Given Reason = "given"
	// Unknown stands for people without a trace.
	Unknown Reason = ""
)

// Suggestion is a person with the weight of the traces and the strongest one.
type Suggestion struct {
	Person  string
	Weight  float64
	Reason  Reason
	Dossier string
	Last    time.Time
}

// halfLife is how long it takes until a trace counts half.
const halfLife = 14 * 24 * time.Hour

// Rank orders people by their traces, the likeliest first. here is the dossier
// that it is about; mine are the dossiers in which the asking person acts.
func Rank(here string, mine map[string]bool, traces []Trace, now time.Time) []Suggestion {
	best := map[string]Suggestion{}
	strongest := map[string]float64{}
	for _, t := range traces {
		w, reason := weight(t, here, mine, now)
		if w == 0 {
			continue
		}
		s := best[t.Person]
		s.Person = t.Person
		s.Weight += w
		if w > strongest[t.Person] {
			strongest[t.Person] = w
			s.Reason, s.Dossier, s.Last = reason, t.Dossier, t.Last
		}
		best[t.Person] = s
	}
	out := make([]Suggestion, 0, len(best))
	for _, s := range best {
		out = append(out, s)
	}
	slices.SortFunc(out, func(a, b Suggestion) int {
		if a.Weight != b.Weight {
			if a.Weight > b.Weight {
				return -1
			}
			return 1
		}
		return strings.Compare(a.Person, b.Person)
	})
	return out
}

func weight(t Trace, here string, mine map[string]bool, now time.Time) (float64, Reason) {
	age := max(0, now.Sub(t.Last))
	w := math.Log2(1+float64(t.Acts)) * math.Exp2(-float64(age)/float64(halfLife))
	switch {
	case t.Given:
		return 2 * w, Given
	case t.Dossier == here && here != "":
		return 3 * w, Here
	case mine[t.Dossier]:
		return w, Together
	}
	return 0, Unknown
}

// Fit says how well typed letters fit a name or an address: 2 where one of its
// words begins like that, 1 where they stand elsewhere in it, 0 not at all. Both
// are compared by their keys, without case.
func Fit(typed, text string) int {
	typed = strings.TrimSpace(typed)
	if typed == "" || strings.HasPrefix(text, typed) {
		return 2
	}
	for at := 0; ; {
		i := strings.Index(text[at:], typed)
		switch {
		case i < 0 && at == 0:
			return 0
		case i < 0:
			return 1
		}
		at += i
		if before := text[at-1]; before == ' ' || before == '-' || before == '@' || before == '.' {
			return 2
		}
		at++
	}
}

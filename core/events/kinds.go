package events

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
)

// Subject is what an event of a kind is about.
type Subject int

// What an event can be about.
const (
	// OfPractice is about accounts, groups and rules.
	OfPractice Subject = iota
	// OfDossier is about a dossier as a whole.
	OfDossier
	// OfItem is about a folder or a document.
	OfItem
	// OfLink is about a link, and what it gives.
	OfLink
)

// Kind is something that can happen. The kinds there are stand in vocabulary.go; an
// event of another cannot be recorded.
type Kind struct {
	Name  string
	About Subject
	// Outside says that it is done by somebody outside, through a link.
	Outside bool
	// TellsSender says that whoever gave the link out may be told of it.
	TellsSender bool
	// Tidings says that the sender is told of it at once, where they want each told;
	// without it, it only counts in what a day's mail says.
	Tidings bool
	// EndsViews says that what somebody has open may no longer be theirs to see.
	EndsViews bool
	// Moves says that its data name the dossier it came from, which not everybody
	// may know.
	Moves bool
	// Inside says that it is the practice's own: guests are not told of it.
	Inside bool
	// Keys are the data that events of the kind may carry.
	Keys []string
}

// Of is a kind whose events carry data of a type.
type Of[D any] struct{ Kind }

// Said is what an event says: its kind and its data. It is made by declared kinds
// only.
type Said struct {
	kind *Kind
	data json.RawMessage
}

// With says that it happened.
func (o Of[D]) With(d D) Said {
	raw, err := json.Marshal(d)
	if err != nil {
		// Data are structs of strings and numbers.
		panic(fmt.Sprintf("writing down an event %s: %v", o.Name, err))
	}
	return Said{&o.Kind, raw}
}

// Kind is what happened; the zero Kind where nothing is said.
func (s Said) Kind() Kind {
	if s.kind == nil {
		return Kind{}
	}
	return *s.kind
}

// Data are the event's data as they are stored.
func (s Said) Data() json.RawMessage { return s.data }

// Map are the event's data by their keys.
func (s Said) Map() map[string]string { return MapOf(s.data) }

// MapOf reads stored data; what cannot be read is empty.
func MapOf(raw json.RawMessage) map[string]string {
	data := map[string]string{}
	if json.Unmarshal(raw, &data) != nil {
		return map[string]string{}
	}
	return data
}

var kinds = map[string]Kind{}

// declare makes a kind known. Two of one name, and data that are not made of
// strings, are mistakes of whoever writes the vocabulary.
func declare[D any](k Kind) Of[D] {
	if _, twice := kinds[k.Name]; twice {
		panic("two kinds of events are named " + k.Name)
	}
	k.Keys = keysOf[D]()
	kinds[k.Name] = k
	return Of[D]{k}
}

// All returns the vocabulary in the order of names.
func All() []Kind {
	names := slices.Sorted(maps.Keys(kinds))
	all := make([]Kind, len(names))
	for i, n := range names {
		all[i] = kinds[n]
	}
	return all
}

// KindNamed finds a kind by its name.
func KindNamed(name string) (Kind, bool) {
	k, ok := kinds[name]
	return k, ok
}

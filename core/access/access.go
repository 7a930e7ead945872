// Package access decides what a person may do with an item, and why.
//
// Grants stand on a dossier's top, a folder or a document and hold downward: a
// grant further down adds to what was given above, it never takes away. An item
// may be closed; then only what stands on it or below counts there, and the
// grants of the dossier's managers.
//
// Items with grants of their own, closed items and a dossier's top are roots;
// every other item is decided like the nearest root above it. A zone reaches
// from a closed root, or the top, down to the next closed ones: inside a zone
// access only widens, so what a person may see is written as whole zones and a
// few single roots.
package access

import "time"

// ID identifies items, people, groups and grants.
type ID [16]byte

// Caps is a set of capabilities.
type Caps uint16

const (
	See Caps = 1 << iota
	Download
	Remark
	Propose
	Fill
	// Add allows adding. Without See, only what one added oneself is visible.
	Add
	Change
	// DeleteOwn allows deleting what one added oneself.
	DeleteOwn
	// Delete allows deleting what others added.
	Delete
	// Share allows giving access and making links.
	Share
	// Manage allows changing members, names and terms of others.
	Manage
)

// All is every capability.
const All = Manage<<1 - 1

// Level is a named set of capabilities.
type Level string

const (
	LevelLook    Level = "look"
	LevelView    Level = "view"
	LevelFill    Level = "fill"
	LevelRemark  Level = "remark"
	LevelPropose Level = "propose"
	LevelEdit    Level = "edit"
	LevelManage  Level = "manage"
	LevelDeposit Level = "deposit"
	// LevelOwnSet is put together capability by capability.
	LevelOwnSet Level = "own-set"
)

// levels is the one table that fixes what each level holds.
var levels = []struct {
	level Level
	caps  Caps
}{
	{LevelLook, See},
	{LevelView, See | Download},
	{LevelFill, See | Fill},
	{LevelRemark, See | Download | Remark},
	{LevelPropose, See | Download | Remark | Propose},
	{LevelEdit, See | Download | Remark | Propose | Fill | Add | Change | DeleteOwn},
	{LevelManage, All},
	{LevelDeposit, Add},
}

// Levels lists the named levels, from the narrowest on; deposit stands apart.
func Levels() []Level {
	all := make([]Level, len(levels))
	for i, l := range levels {
		all[i] = l.level
	}
	return all
}

// Caps returns what the level holds; an unknown level, and the own set by
// itself, hold nothing.
func (l Level) Caps() Caps {
	for _, row := range levels {
		if row.level == l {
			return row.caps
		}
	}
	return 0
}

// Known reports whether the level can be given.
func (l Level) Known() bool { return l == LevelOwnSet || l.Caps() != 0 }

// Has reports whether all of want is in c.
func (c Caps) Has(want Caps) bool { return c&want == want }

var capNames = []struct {
	cap  Caps
	name string
}{
	{See, "see"}, {Download, "download"}, {Remark, "remark"}, {Propose, "propose"}, {Fill, "fill"},
	{Add, "add"}, {Change, "change"}, {DeleteOwn, "deleteOwn"}, {Delete, "delete"}, {Share, "share"}, {Manage, "manage"},
}

// Deletes reports whether whoever holds c may delete something: what others added, or
// what they added themselves.
func (c Caps) Deletes(own bool) bool { return c.Has(Delete) || own && c.Has(DeleteOwn) }

// Names lists the capabilities of the set in the order of the table.
func (c Caps) Names() []string {
	var out []string
	for _, n := range capNames {
		if c.Has(n.cap) {
			out = append(out, n.name)
		}
	}
	return out
}

// CapsOf reads names of capabilities; ok is false when one is unknown.
func CapsOf(names []string) (c Caps, ok bool) {
next:
	for _, name := range names {
		for _, n := range capNames {
			if n.name == name {
				c |= n.cap
				continue next
			}
		}
		return 0, false
	}
	return c, true
}

// Sound reports whether a custom set makes sense: whoever does anything but
// add must also see, deleting others' includes deleting one's own, and managing
// is a level, not a part.
func (c Caps) Sound() bool {
	switch {
	case c == 0 || c&^All != 0 || c.Has(Manage):
		return false
	case c&^Add != 0 && !c.Has(See):
		return false
	}
	return !c.Has(Delete) || c.Has(DeleteOwn)
}

// Grant gives a subject a level on one item, until Ends if that is set.
type Grant struct {
	ID      ID
	Item    ID
	Subject Subject
	Level   Level
	// OwnSet is what the own set holds.
	OwnSet Caps
	// Onward allows giving it on.
	Onward bool
	Ends   *time.Time
}

// Caps is what the grant gives.
func (g Grant) Caps() Caps {
	c := g.Level.Caps()
	if g.Level == LevelOwnSet {
		c = g.OwnSet
	}
	if g.Onward {
		c |= Share
	}
	return c
}

// Active reports whether the grant counts at the moment now. At its end it no
// longer does.
func (g Grant) Active(now time.Time) bool { return g.Ends == nil || now.Before(*g.Ends) }

// Earlier returns the earlier of two moments, of which nil is never.
func Earlier(a, b *time.Time) *time.Time {
	if a == nil || b != nil && b.Before(*a) {
		return b
	}
	return a
}

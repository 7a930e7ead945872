// Package access decides what a person may do with an item, and why.
//
// Grants stand on a dossier's top, a folder or a document and hold downward:
// a grant further down adds to what was given above, it never takes away.
package access

import "time"

// Caps is a set of capabilities.
type Caps uint16

const (
	See Caps = 1 << iota
	Download
	Remark
	Propose
	Fill
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

// Level is a named set of capabilities.
type Level string

const (
	LevelView   Level = "view"
	LevelEdit   Level = "edit"
	LevelManage Level = "manage"
)

// levels is the one table that fixes what each level holds.
var levels = map[Level]Caps{
	LevelView:   See | Download,
	LevelEdit:   See | Download | Remark | Propose | Fill | Add | Change | DeleteOwn | Share,
	LevelManage: See | Download | Remark | Propose | Fill | Add | Change | DeleteOwn | Delete | Share | Manage,
}

// Caps returns what the level holds; an unknown level holds nothing.
func (l Level) Caps() Caps { return levels[l] }

// Known reports whether the level is in the table.
func (l Level) Known() bool { _, ok := levels[l]; return ok }

// Has reports whether all of want is in c.
func (c Caps) Has(want Caps) bool { return c&want == want }

var capNames = []struct {
	cap  Caps
	name string
}{
	{See, "see"}, {Download, "download"}, {Remark, "remark"}, {Propose, "propose"}, {Fill, "fill"},
	{Add, "add"}, {Change, "change"}, {DeleteOwn, "deleteOwn"}, {Delete, "delete"}, {Share, "share"}, {Manage, "manage"},
}

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

// Grant gives one person a level on one item, until Ends if that is set.
type Grant struct {
	ID     string
	Person string
	Item   string
	Level  Level
	Ends   *time.Time
}

// Active reports whether the grant counts at the moment now. At its end it no
// longer does.
func (g Grant) Active(now time.Time) bool { return g.Ends == nil || now.Before(*g.Ends) }

// Path is the way from a dossier's top to an item, the item last.
type Path []string

// Decision is what a person may do with the item at the end of a path, and
// the grants that contribute to it, from the top down.
type Decision struct {
	Caps Caps
	Why  []Grant
	// Ends is the next moment at which the decision may change by itself.
	Ends *time.Time
}

// Decide computes what the person may do with the last item of the path.
func Decide(path Path, grants []Grant, person string, now time.Time) Decision {
	var d Decision
	for _, item := range path {
		for _, g := range grants {
			if g.Item != item || g.Person != person || !g.Active(now) {
				continue
			}
			d.Caps |= g.Level.Caps()
			d.Why = append(d.Why, g)
			if g.Ends != nil && (d.Ends == nil || g.Ends.Before(*d.Ends)) {
				d.Ends = g.Ends
			}
		}
	}
	return d
}

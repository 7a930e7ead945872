package access

import (
	"slices"
	"testing"
	"time"
)

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

func at(h int) *time.Time { t := noon.Add(time.Duration(h) * time.Hour); return &t }

// id makes a readable id for tests.
func id(name string) (i ID) {
	copy(i[:], name)
	return i
}

// ladder lists the levels that contain one another.
var ladder = []Level{LevelLook, LevelView, LevelRemark, LevelPropose, LevelEdit, LevelManage}

func TestLevelsWiden(t *testing.T) {
	var before Caps
	for _, l := range ladder {
		if !l.Caps().Has(before) {
			t.Errorf("%s does not hold all that the level below it holds", l)
		}
		before = l.Caps()
	}
	if LevelEdit.Caps()&(Delete|Share|Manage) != 0 {
		t.Error("edit must not delete what others added, nor share")
	}
	if LevelFill.Caps()&(Add|Change|Remark) != 0 || !LevelFill.Caps().Has(See|Fill) {
		t.Error("fill only fills in")
	}
	if LevelDeposit.Caps() != Add {
		t.Error("deposit adds and sees nothing")
	}
	if LevelLook.Caps().Has(Download) {
		t.Error("look does not download")
	}
	if Level("owner").Known() || Level("owner").Caps() != 0 || !LevelOwnSet.Known() {
		t.Error("an unknown level must hold nothing")
	}
	if All.Names() == nil || len(All.Names()) != len(capNames) {
		t.Error("the table of names does not cover all capabilities")
	}
}

func TestCustomSets(t *testing.T) {
	cases := []struct {
		names []string
		known bool
		sound bool
	}{
		{[]string{"see"}, true, true},
		{[]string{"see", "download", "change"}, true, true},
		{[]string{"see", "add"}, true, true},
		{[]string{"add"}, true, true},
		{[]string{"see", "delete", "deleteOwn"}, true, true},
		{[]string{"see", "delete"}, true, false},
		{[]string{"download"}, true, false},
		{[]string{"add", "change"}, true, false},
		{[]string{"see", "manage"}, true, false},
		{nil, true, false},
		{[]string{"see", "own"}, false, false},
	}
	for _, c := range cases {
		caps, known := CapsOf(c.names)
		if known != c.known || caps.Sound() != c.sound {
			t.Errorf("%v: known %v, sound %v", c.names, known, caps.Sound())
		}
		if known && !slices.Equal(caps.Names(), sorted(c.names)) {
			t.Errorf("%v came back as %v", c.names, caps.Names())
		}
	}
	g := Grant{Level: LevelOwnSet, OwnSet: See | Change}
	if g.Caps() != See|Change || (Grant{Level: LevelView, Onward: true}).Caps() != See|Download|Share {
		t.Error("a grant must give its own set, and sharing only when it says so")
	}
}

// sorted brings names into the table's order.
func sorted(names []string) []string {
	var out []string
	for _, n := range capNames {
		if slices.Contains(names, n.name) {
			out = append(out, n.name)
		}
	}
	return out
}

func person(name string) Subject { return Subject{Person, id(name)} }
func group(name string) Subject  { return Subject{Group, id(name)} }

// harbour is a small dossier: top, reports (a root), draft (a closed document
// in reports), yard (a closed folder), plan (a document in yard).
func harbour(t *testing.T, grants ...Grant) *Forest {
	t.Helper()
	f, err := NewForest(id("top"), []Root{
		{ID: id("top")}, {ID: id("reports"), Parent: id("top")}, {ID: id("draft"), Parent: id("reports"), Closed: true, Folder: id("reports")},
		{ID: id("yard"), Parent: id("top"), Closed: true}, {ID: id("plan"), Parent: id("yard"), Folder: id("yard")},
	}, grants)
	if err != nil {
		t.Fatal(err)
	}
	return f
}

var crew = NewCircles([]Account{{id("ines"), false}, {id("luca"), false}, {id("priya"), false}, {id("sunniva"), true}},
	[]Membership{{id("team"), person("luca")}, {id("all"), group("team")}, {id("all"), person("sunniva")}, {id("all"), person("gone")}})

func TestDecide(t *testing.T) {
	g := func(item string, s Subject, l Level, ends *time.Time) Grant {
		return Grant{ID: id("g-" + item), Item: id(item), Subject: s, Level: l, Ends: ends}
	}
	everyone := Subject{Kind: Everyone}
	cases := []struct {
		name   string
		grants []Grant
		who    string
		root   string
		want   Caps
		ways   int
	}{
		{"nobody", nil, "ines", "top", 0, 0},
		{"member of the dossier", []Grant{g("top", person("ines"), LevelEdit, nil)}, "ines", "reports", LevelEdit.Caps(), 1},
		{"another person's grant", []Grant{g("top", person("luca"), LevelEdit, nil)}, "ines", "top", 0, 0},
		{"lower grant widens", []Grant{g("top", person("ines"), LevelView, nil), g("reports", person("ines"), LevelEdit, nil)}, "ines", "reports", LevelEdit.Caps(), 2},
		{"lower grant does not narrow", []Grant{g("top", person("ines"), LevelManage, nil), g("reports", person("ines"), LevelView, nil)}, "ines", "reports", All, 2},
		{"a grant below says nothing above", []Grant{g("reports", person("ines"), LevelEdit, nil)}, "ines", "top", 0, 0},
		{"a closed folder cuts", []Grant{g("top", person("luca"), LevelEdit, nil)}, "luca", "yard", 0, 0},
		{"and what lies in it", []Grant{g("top", person("luca"), LevelEdit, nil)}, "luca", "plan", 0, 0},
		{"a closed document cuts", []Grant{g("reports", person("luca"), LevelEdit, nil)}, "luca", "draft", 0, 0},
		{"its own grant counts", []Grant{g("yard", person("luca"), LevelView, nil)}, "luca", "plan", LevelView.Caps(), 1},
		{"managers come in", []Grant{g("top", person("ines"), LevelManage, nil)}, "ines", "plan", All, 1},
		{"managers of a folder do not", []Grant{g("reports", person("ines"), LevelManage, nil)}, "ines", "draft", 0, 0},
		{"through a group", []Grant{g("top", group("team"), LevelView, nil)}, "luca", "top", LevelView.Caps(), 1},
		{"through a group in a group", []Grant{g("top", group("all"), LevelView, nil)}, "luca", "top", LevelView.Caps(), 1},
		{"everyone in the practice", []Grant{g("top", everyone, LevelView, nil)}, "priya", "top", LevelView.Caps(), 1},
		{"a guest is not everyone", []Grant{g("top", everyone, LevelView, nil)}, "sunniva", "top", 0, 0},
		{"somebody deactivated", []Grant{g("top", group("all"), LevelView, nil)}, "gone", "top", 0, 0},
		{"still running", []Grant{g("top", person("ines"), LevelView, at(1))}, "ines", "top", LevelView.Caps(), 1},
		{"ends exactly now", []Grant{g("top", person("ines"), LevelView, at(0))}, "ines", "top", 0, 0},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			d := harbour(t, c.grants...).Explain(id(c.root), id(c.who), crew, noon)
			if d.Caps != c.want || len(d.Ways) != c.ways {
				t.Errorf("got %v by %d ways, want %v by %d", d.Caps.Names(), len(d.Ways), c.want.Names(), c.ways)
			}
		})
	}
}

func TestExplainNamesTheChainAndTheNextEnd(t *testing.T) {
	f := harbour(t, Grant{ID: id("a"), Item: id("top"), Subject: group("all"), Level: LevelView, Ends: at(5)},
		Grant{ID: id("b"), Item: id("reports"), Subject: person("luca"), Level: LevelEdit, Ends: at(2)}, Grant{ID: id("c"), Item: id("top"), Subject: person("ines"), Level: LevelManage})
	d := f.Explain(id("reports"), id("luca"), crew, noon)
	if d.Ends == nil || !d.Ends.Equal(*at(2)) {
		t.Errorf("next end %v, want %v", d.Ends, at(2))
	}
	if len(d.Ways) != 2 || d.Ways[0].Through != nil || !slices.Equal(d.Ways[1].Through, []ID{id("team"), id("all")}) {
		t.Errorf("ways %+v", d.Ways)
	}
	if m := f.Explain(id("plan"), id("ines"), crew, noon); len(m.Ways) != 1 || !m.Ways[0].AsManager {
		t.Errorf("a manager's way behind a closed door is told as such: %+v", m.Ways)
	}
	if len(f.Managers(noon)) != 1 {
		t.Error("one manager")
	}
}

func TestGroupsCannotContainThemselves(t *testing.T) {
	c := NewCircles(nil, []Membership{{id("a"), group("b")}, {id("b"), group("c")}})
	for _, x := range []struct {
		group, member string
		loops         bool
	}{{"a", "a", true}, {"c", "a", true}, {"b", "a", true}, {"c", "b", true}, {"a", "c", false}, {"a", "d", false}, {"d", "a", false}} {
		if got := c.WouldLoop(id(x.group), id(x.member)); got != x.loops {
			t.Errorf("%s into %s: %v", x.member, x.group, got)
		}
	}
}

func TestForestRefusesWhatDoesNotHangTogether(t *testing.T) {
	top := Root{ID: id("top")}
	cases := map[string]struct {
		roots  []Root
		grants []Grant
	}{
		"no top":            {[]Root{{ID: id("a")}}, nil},
		"a missing parent":  {[]Root{top, {ID: id("a"), Parent: id("b")}}, nil},
		"a ring":            {[]Root{top, {ID: id("a"), Parent: id("b")}, {ID: id("b"), Parent: id("a")}}, nil},
		"a grant elsewhere": {[]Root{top}, []Grant{{Item: id("x")}}},
	}
	for name, c := range cases {
		if _, err := NewForest(id("top"), c.roots, c.grants); err == nil {
			t.Errorf("%s was taken", name)
		}
	}
}

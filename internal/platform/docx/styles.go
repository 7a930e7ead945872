package docx

import (
	"strconv"
	"strings"
)

// style is how paragraphs or words of a name look, as far as that says what they are.
type style struct {
	id, name, base string
	// outline is how deep a heading is, from 0; -1 says nothing.
	outline    int
	num, depth string
	character  bool
}

type styles struct {
	byID map[string]style
	// usual is the style of paragraphs that name none.
	usual string
}

func stylesOf(root *element) styles {
	all := styles{byID: map[string]style{}}
	if root == nil {
		return all
	}
	for _, k := range root.kids {
		if k.name != "w:style" {
			continue
		}
		name, _ := k.value("w:name")
		base, _ := k.value("w:basedOn")
		p := k.kid("w:pPr")
		s := style{id: k.attr("w:styleId"), name: strings.ToLower(name), base: base, outline: p.number("w:outlineLvl", -1), character: k.attr("w:type") == "character"}
		s.num, _ = p.kid("w:numPr").value("w:numId")
		s.depth, _ = p.kid("w:numPr").value("w:ilvl")
		all.byID[s.id] = s
		if d := k.attr("w:default"); k.attr("w:type") == "paragraph" && (d == "1" || d == "true") {
			all.usual = s.id
		}
	}
	return all
}

// longestChain is how many styles may be based on each other; more go in a circle.
const longestChain = 30

// chain goes from a style to those it is based on, until f answers true.
func (s styles) chain(id string, f func(style) bool) {
	for range longestChain {
		at, known := s.byID[id]
		if !known || f(at) {
			return
		}
		id = at.base
	}
}

// level is how deep a heading paragraphs of a style are, from 1; 0 for others.
func (s styles) level(id string) (level int) {
	s.chain(id, func(at style) bool {
		switch n, err := strconv.Atoi(strings.TrimPrefix(at.name, "heading ")); {
		case at.name == "title":
			level = 1
		case err == nil && n > 0 && strings.HasPrefix(at.name, "heading "):
			level = n
		case at.outline >= 0 && at.outline < 9:
			level = at.outline + 1
		}
		return level > 0
	})
	return level
}

// listed is in which list, and how deep, paragraphs of a style stand.
func (s styles) listed(id string) (num, depth string) {
	s.chain(id, func(at style) bool {
		num, depth = at.num, at.depth
		return num != ""
	})
	return num, depth
}

// named is the id of a style by its name; "" where there is none.
func (s styles) named(name string, character bool) string {
	for _, at := range s.byID {
		if at.name == name && at.character == character {
			return at.id
		}
	}
	return ""
}

// named by words, a run is emphasised.
func (s styles) emphasis(id string) (strong, em bool) {
	s.chain(id, func(at style) bool {
		strong, em = strong || at.name == "strong", em || at.name == "emphasis"
		return false
	})
	return strong, em
}

// lists are the lists of a document: how each level is counted.
type lists struct {
	nums map[string]numbered
	// highest are the highest ids in use.
	highestNum, highestKind int
}

// numbered is one list: its levels, from which kind of list they come.
type numbered struct {
	kind   string
	levels map[int]counted
}

type counted struct {
	format string
	start  int
}

func listsOf(root *element) lists {
	all := lists{nums: map[string]numbered{}}
	if root == nil {
		return all
	}
	kinds := map[string]map[int]counted{}
	for _, k := range root.kids {
		switch k.name {
		case "w:abstractNum":
			kind := k.attr("w:abstractNumId")
			kinds[kind] = levelsOf(k, nil)
			all.highestKind = highest(all.highestKind, kind)
		case "w:num":
			num, kind := k.attr("w:numId"), ""
			kind, _ = k.value("w:abstractNumId")
			all.nums[num] = numbered{kind, overridden(k, kinds[kind])}
			all.highestNum = highest(all.highestNum, num)
		}
	}
	return all
}

func highest(n int, id string) int {
	if m, err := strconv.Atoi(id); err == nil {
		return max(n, m)
	}
	return n
}

func levelsOf(of *element, levels map[int]counted) map[int]counted {
	all := map[int]counted{}
	for depth, c := range levels {
		all[depth] = c
	}
	for _, l := range of.kids {
		if depth, err := strconv.Atoi(l.attr("w:ilvl")); l.name == "w:lvl" && err == nil {
			format, _ := l.value("w:numFmt")
			all[depth] = counted{format, l.number("w:start", 1)}
		}
	}
	return all
}

// overridden are levels with what a list says otherwise of them.
func overridden(num *element, levels map[int]counted) map[int]counted {
	all := levelsOf(num, levels)
	for _, o := range num.kids {
		if o.name != "w:lvlOverride" {
			continue
		}
		for depth, c := range levelsOf(o, nil) {
			all[depth] = c
		}
		if depth, err := strconv.Atoi(o.attr("w:ilvl")); err == nil && o.kid("w:startOverride") != nil {
			all[depth] = counted{all[depth].format, o.number("w:startOverride", 1)}
		}
	}
	return all
}

// countings are in what lists count: as HTML names it, and as a file does (17.18.59).
var countings = map[string]string{"1": "decimal", "a": "lowerLetter", "A": "upperLetter", "i": "lowerRoman", "I": "upperRoman"}

// count is in what a list counts at a depth, as HTML names it.
func (l lists) count(num string, depth int) string {
	for count, format := range countings {
		if format == l.nums[num].levels[depth].format {
			return count
		}
	}
	return "1"
}

// is what a paragraph of a list at a depth is: "bullet_list", "ordered_list", or "" where it is in none.
func (l lists) is(num string, depth int) string {
	switch of, known := l.nums[num]; {
	case !known:
		return ""
	case of.levels[depth].format == "bullet":
		return "bullet_list"
	case of.levels[depth].format == "none" || of.levels[depth].format == "":
		return ""
	}
	return "ordered_list"
}

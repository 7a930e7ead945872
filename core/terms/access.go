package terms

import (
	"fmt"
	"strings"
	"time"
)

// Terms of access for people, in the order of their sentence.
const (
	Who    Term = "who"
	Onward Term = "onward"
)

// Access is what a sentence of access speaks of: who may do what with what.
type Access struct {
	Who []string
	// Level is the level's name; May lists the capabilities of the own set.
	Level string
	May   []string
	What  string
	Until *time.Time
	// Onward allows passing it on. Managers may in any case.
	Onward bool
}

var levelWords = map[string][2]string{
	"look": {"view, not download", "ansehen, nicht herunterladen"}, "view": {"view and download", "ansehen und herunterladen"}, "fill": {"view and fill in", "ansehen und ausfüllen"},
	"remark": {"view and remark", "ansehen und anmerken"}, "propose": {"view, remark and propose", "ansehen, anmerken und vorschlagen"}, "edit": {"edit", "bearbeiten"},
	"manage": {"manage", "verwalten"}, "deposit": {"put papers", "Papiere einlegen"},
}

var capWords = map[string][2]string{
	"see": {"view", "ansehen"}, "download": {"download", "herunterladen"}, "remark": {"remark", "anmerken"}, "propose": {"propose", "vorschlagen"}, "fill": {"fill in", "ausfüllen"},
	"add": {"add", "hinzufügen"}, "change": {"change", "ändern"}, "deleteOwn": {"delete one’s own", "Eigenes löschen"}, "delete": {"delete", "löschen"}, "share": {"share", "weitergeben"}, "manage": {"manage", "verwalten"},
}

// LevelWords says in words what a level allows; for the own set, what its
// capabilities do.
func LevelWords(language, level string, may []string) string {
	at := 0
	if language == "de" {
		at = 1
	}
	if w, ok := levelWords[level]; ok {
		return w[at]
	}
	words := make([]string, len(may))
	for i, m := range may {
		words[i] = capWords[m][at]
	}
	return list(language, words)
}

// list joins words: a, b and c.
func list(language string, words []string) string {
	if len(words) < 2 {
		return strings.Join(words, "")
	}
	and := " and "
	if language == "de" {
		and = " und "
	}
	return strings.Join(words[:len(words)-1], ", ") + and + words[len(words)-1]
}

// Sentence writes the terms.
func (a Access) Sentence(v Voice) Sentence {
	de := v.Language == "de"
	who, may := list(v.Language, a.Who), LevelWords(v.Language, a.Level, a.May)
	var s Sentence
	if de {
		s = Sentence{{who, Who}, {pick(len(a.Who) == 1, " darf ", " dürfen ") + pick(a.Level == "deposit", "in ", ""), Plain}, {a.What, What}}
	} else {
		s = Sentence{{who, Who}, {" may ", Plain}, {may, May}, {pick(a.Level == "deposit", " into ", " "), Plain}, {a.What, What}}
	}
	switch {
	case a.Until != nil:
		s = append(s, Part{pick(de, " bis ", " until "), Plain}, Part{v.Moment(*a.Until), Until})
	default:
		s = append(s, Part{pick(de, " ", ", "), Plain}, Part{pick(de, "ohne Ende", "without an end"), Until})
	}
	if de {
		s = append(s, Part{" ", Plain}, Part{may, May})
	}
	if a.Level != "manage" {
		s = append(s, Part{pick(de, " und ", ", and "), Plain}, Part{onward(de, a.Onward, len(a.Who)), Onward}, Part{pick(de, " weitergeben", " pass it on"), Plain})
	}
	return append(s, Part{".", Plain})
}

func onward(de, may bool, n int) string {
	switch {
	case de && n == 1:
		return pick(may, "darf es", "darf es nicht")
	case de:
		return pick(may, "dürfen es", "dürfen es nicht")
	}
	return pick(may, "may", "may not")
}

// Everyone is what everyone in a practice is called.
func Everyone(language, practice string) string {
	if language == "de" {
		return "alle bei " + practice
	}
	return "everyone at " + practice
}

// Things names what access is given to: one item by its name, several by their
// number.
func Things(language string, names []string, folders int) string {
	docs := len(names) - folders
	if len(names) == 1 {
		return names[0]
	}
	v := Voice{Language: language}
	folderWord := fmt.Sprintf(pick(language == "de", "%d Ordner", "%d folders"), folders)
	if folders == 1 {
		folderWord = pick(language == "de", "1 Ordner", "1 folder")
	}
	switch {
	case folders == 0:
		return files(v, docs)
	case docs == 0:
		return folderWord
	}
	return files(v, docs) + pick(language == "de", " und ", " and ") + folderWord
}

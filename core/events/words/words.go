// Package words says in sentences what happened, in each language.
//
// The sentences are those of the interface: both read en.json and de.json.
package words

import (
	"embed"
	"encoding/json"
	"fmt"
	"strings"

	"tabularis/core/events"
	"tabularis/core/names"
	"tabularis/core/register"
)

//go:embed *.json
var files embed.FS

// said is what one language says.
type said struct {
	Somebody, Everyone, Versions               string
	Event, Folded, Capability, Level, Standing map[string]string
}

var languages = map[string]said{"en": read("en"), "de": read("de")}

func read(language string) (s said) {
	raw, err := files.ReadFile(language + ".json")
	if err == nil {
		err = json.Unmarshal(raw, &s)
	}
	if err != nil {
		panic(fmt.Sprintf("reading the words of %s: %v", language, err))
	}
	return s
}

// Sentence says an event in a language, or in English where that is not known, without a
// dot at the end. An event of a kind without words is named by its kind.
func Sentence(language string, e events.Named) string {
	s := in(language)
	sentence, known := s.Event[key(e.Kind)]
	if !known {
		return e.Kind
	}
	data := events.MapOf(e.Data)
	to := data["to"]
	if to == "" && aboutAccess(e) {
		to = s.Everyone
	}
	return strings.NewReplacer(
		"{actor}", s.actor(e), "{item}", item(e, data), "{link}", link(e), "{dossier}", e.DossierName, "{version}", Number(e.Version),
		"{versions}", s.versions(data["versions"]), "{person}", data["person"], "{level}", s.level(data), "{standing}", s.Standing[data["standing"]],
		"{member}", data["member"], "{group}", data["name"], "{from}", stem(data["from"]), "{to}", to, "{values}", data["values"], "{transfer}", data["transfer"], "{route}", data["route"], "{form}", data["form"],
	).Replace(sentence)
}

// Folds reports whether events of a kind come in numbers by one act of somebody: many of
// them are said in one sentence.
func Folds(kind string) bool { return languages["en"].Folded[key(kind)] != "" }

// Folded says in one sentence what several events that are alike, of which e is one, tell.
func Folded(language string, e events.Named, number int) string {
	s := in(language)
	sentence, known := s.Folded[key(e.Kind)]
	if !known {
		return e.Kind
	}
	return strings.NewReplacer("{actor}", s.actor(e), "{link}", link(e), "{n}", fmt.Sprint(number)).Replace(sentence)
}

func in(language string) said {
	if s, known := languages[language]; known {
		return s
	}
	return languages["en"]
}

func key(kind string) string { return strings.Replace(kind, ".", "_", 1) }

func (s said) actor(e events.Named) string {
	if e.Actor == "" {
		return s.Somebody
	}
	return e.Actor
}

func link(e events.Named) string { return "“" + text(e.LinkName) + "”" }

func aboutAccess(e events.Named) bool { return strings.HasPrefix(e.Kind, "access.") }

// item names what an event is about, a document with its register number.
func item(e events.Named, data map[string]string) string {
	name := data["name"]
	switch {
	case e.ItemName != nil:
		name = *e.ItemName
	case aboutAccess(e):
		name = e.DossierName
	}
	if e.ItemNumber == nil {
		return stem(name)
	}
	return stem(name) + " (" + register.Ref{Code: e.DossierCode, Number: *e.ItemNumber}.String() + ")"
}

// stem is a file's name without its ending.
func stem(name string) string {
	stem, _ := names.Split(name)
	return stem
}

func (s said) versions(n string) string {
	one, many, _ := strings.Cut(s.Versions, " | ")
	switch n {
	case "":
		return ""
	case "1":
		return one
	}
	return strings.ReplaceAll(many, "{n}", n)
}

// level says what somebody may: a set of their own by its capabilities.
func (s said) level(data map[string]string) string {
	if data["may"] == "" {
		return s.Level[data["level"]]
	}
	var all []string
	for c := range strings.FieldsSeq(data["may"]) {
		all = append(all, s.Capability[c])
	}
	return strings.Join(all, ", ")
}

func text(s *string) string {
	if s == nil {
		return ""
	}
	return *s
}

// Number is a number in words of any language, and nothing where there is none.
func Number(n *int) string {
	if n == nil {
		return ""
	}
	return fmt.Sprint(*n)
}

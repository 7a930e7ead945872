package words

import (
	"maps"
	"regexp"
	"slices"
	"strings"
	"testing"

	"tabularis/core/events"
)

func ptr[T any](v T) *T { return &v }

func TestSentences(t *testing.T) {
	report := events.Named{Event: events.Event{Kind: "document.added", Data: []byte(`{}`)}, Actor: "Luca Ferrante", DossierCode: "MER-24", DossierName: "Corran Lass", ItemName: ptr("Condition survey report.pdf"), ItemNumber: ptr(17)}
	with := func(change func(e *events.Named)) events.Named {
		e := report
		change(&e)
		return e
	}
	for _, c := range []struct {
		language, want string
		e              events.Named
	}{
		{"en", "Luca Ferrante added Condition survey report (MER-24/017)", report},
		{"de", "Luca Ferrante fügte Condition survey report (MER-24/017) hinzu", report},
		{"fr", "Luca Ferrante added Condition survey report (MER-24/017)", report},
		{"en", "Somebody opened the link “For Calder”", with(func(e *events.Named) { e.Kind, e.Actor, e.LinkName = "link.opened", "", ptr("For Calder") })},
		{"en", "Luca Ferrante gave Priya Nair access to Condition survey report (MER-24/017), who may view and download", with(func(e *events.Named) {
			e.Kind, e.Data = "access.given", []byte(`{"to":"Priya Nair","level":"view"}`)
		})},
		{"en", "Luca Ferrante gave everyone in the practice access to Corran Lass, who may view, pass on", with(func(e *events.Named) {
			e.Kind, e.ItemName, e.ItemNumber, e.Data = "access.given", nil, nil, []byte(`{"level":"own-set","may":"see share"}`)
		})},
		{"en", "the keeping rule removed one version of Condition survey report (MER-24/017)", with(func(e *events.Named) { e.Kind, e.Data = "version.thinned", []byte(`{"versions":"1"}`) })},
		{"de", "die Aufbewahrungsregel entfernte 7 Fassungen von Condition survey report (MER-24/017)", with(func(e *events.Named) { e.Kind, e.Data = "version.thinned", []byte(`{"versions":"7"}`) })},
		{"en", "no.kind", with(func(e *events.Named) { e.Kind = "no.kind" })},
		{"en", "Luca Ferrante renamed {actor} to Condition survey report (MER-24/017)", with(func(e *events.Named) {
			e.Kind, e.Data = "document.renamed", []byte(`{"from":"{actor}.txt"}`)
		})},
	} {
		if got := Sentence(c.language, c.e); got != c.want {
			t.Errorf("%s: %q, want %q", c.language, got, c.want)
		}
	}
}

func TestManyInOneSentence(t *testing.T) {
	e := events.Named{Event: events.Event{Kind: "link.fetched"}, LinkName: ptr("For Calder")}
	if got := Folded("en", e, 7); got != "7 documents were fetched through “For Calder”" {
		t.Errorf("%q", got)
	}
	e.Kind = "account.invited"
	if got := Folded("de", e, 7); got != e.Kind {
		t.Errorf("%q", got)
	}
}

var place = regexp.MustCompile(`\{\w+\}`)

// Every kind has words in every language, with the same things named, and no words are
// left over.
func TestEveryKindHasWords(t *testing.T) {
	kinds := map[string]bool{}
	for _, k := range events.All() {
		kinds[strings.Replace(k.Name, ".", "_", 1)] = true
	}
	for language, s := range languages {
		for _, k := range slices.Sorted(maps.Keys(kinds)) {
			if s.Event[k] == "" {
				t.Errorf("%s has no words for %s", language, k)
			}
		}
		for k, sentence := range s.Event {
			if !kinds[k] {
				t.Errorf("%s has words for %s, which there is not", language, k)
			}
			if strings.Contains(Sentence(language, events.Named{Event: events.Event{Kind: strings.Replace(k, "_", ".", 1)}}), "{") {
				t.Errorf("%s: %q names what nobody knows", language, sentence)
			}
			named := place.FindAllString(sentence, -1)
			other := place.FindAllString(languages["en"].Event[k], -1)
			slices.Sort(named)
			slices.Sort(other)
			if !slices.Equal(named, other) {
				t.Errorf("%s of %s names %v, in English %v", k, language, named, other)
			}
		}
	}
}

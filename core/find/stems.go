package find

import (
	"strings"
	"unicode"

	"github.com/blevesearch/snowballstem"
	"github.com/blevesearch/snowballstem/english"
	"github.com/blevesearch/snowballstem/german"
)

// Language is what a text is written in, as far as it matters for the forms of words.
type Language string

// The languages whose forms of words are told.
const (
	English Language = "en"
	German  Language = "de"
)

var languages = []Language{English, German}

// everywhere are the words that stand in nearly every text, by which its language is told and
// which are not looked for.
var everywhere = map[Language]map[string]bool{
	English: set(`a about above after again against all also am an and any are as at be because been before being below between both but by
		can could did do does doing down during each few for from further had has have having he her here hers him his how i if in into is it its
		just me more most my no nor not of off on once only or other our ours out over own same she should so some such than that the their theirs
		them then there these they this those through to too under until up upon very was we were what when where which while who whom why will with
		would you your yours`),
	German: set(`aber alle allem allen aller alles als also am an andere anderen auch auf aus bei beim bin bis bist da damit dann das dass dein dem den denn
		der des dessen die dies diese diesem diesen dieser dieses doch dort du durch ein eine einem einen einer eines er es etwas euch euer für gegen
		gewesen hab habe haben hat hatte hatten hier hinter ich ihm ihn ihnen ihr ihre ihrem ihren ihrer ihres im in ist ja jede jedem jeden jeder
		jedes jetzt kann kein keine keinem keinen keiner können machen man mein mit nach nicht nichts noch nun nur ob oder ohne sehr sein seine seinem
		seinen seiner sich sie sind so solche sollte sondern sonst über um und uns unser unter viel vom von vor war waren warst was weg weil welche
		wenn werde werden wie wieder will wir wird wirst wo wollen worden wurde wurden zu zum zur zwar zwischen`),
}

func set(words string) map[string]bool {
	all := map[string]bool{}
	for _, w := range strings.Fields(words) {
		all[w] = true
	}
	return all
}

// LanguageOf tells the language of a text by its beginning.
func LanguageOf(text string) Language {
	n, en, de := 0, 0, 0
	tokens(text, func(t token) bool {
		if everywhere[English][t.word] {
			en++
		}
		if everywhere[German][t.word] {
			de++
		}
		// Letters that English has not.
		if strings.ContainsAny(t.word, "äöüß") {
			de++
		}
		n++
		return n < 2000
	})
	if de > en {
		return German
	}
	return English
}

// stemmer finds the forms of words that count as the same. It is for one goroutine.
type stemmer struct {
	env  *snowballstem.Env
	kept map[string]string
	de   bool
}

func newStemmer(l Language) *stemmer {
	return &stemmer{snowballstem.NewEnv(""), map[string]string{}, l == German}
}

// stem is what all forms of a word have in common, without marks. What holds a digit has no forms.
func (s *stemmer) stem(word string) string {
	if found, ok := s.kept[word]; ok {
		return found
	}
	out := word
	if !strings.ContainsFunc(word, unicode.IsDigit) {
		s.env.SetCurrent(word)
		if s.de {
			german.Stem(s.env)
		} else {
			english.Stem(s.env)
		}
		out = s.env.Current()
	}
	if out = bare(out); out == "" {
		out = bare(word)
	}
	if len(s.kept) < 100_000 {
		s.kept[word] = out
	}
	return out
}

// form is how a word is kept: its stem, and a number that hangs together as it is.
func (s *stemmer) form(t token) string {
	if t.whole {
		return bare(t.word)
	}
	return s.stem(t.word)
}

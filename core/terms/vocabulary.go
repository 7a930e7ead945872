package terms

import (
	"regexp"
	"strings"

	"tabularis/core/linkgate"
	"tabularis/core/names"
)

// Named is the name of a link; it stands in no sentence.
const Named Term = "name"

// OwnName is a name that the practice gave to terms.
const OwnName Term = "own"

// said is what a fixed phrase means.
type said struct {
	term Term
	set  func(*Typed)
}

// fillers are words that may stand between terms.
var fillers = wordSet(`and und with mit then dann also auch but aber please bitte at most höchstens max maximal the der die das den dem after nach if wenn it es is ist
	may darf dürfen only nur has hat whoever wer this diesen link to zu for für`)

// vocabulary are fixed words of both languages, some of which are one word in one of
// them, and how many words the longest has.
type vocabulary struct {
	said    map[string]said
	longest int
}

// phrases are the fixed words of a link's terms.
var phrases = phrasesOf()

func phrasesOf() vocabulary {
	identity := func(i linkgate.Identity) func(*Typed) { return func(t *Typed) { t.Identify = &i } }
	viewOnly := func(v bool) func(*Typed) { return func(t *Typed) { t.ViewOnly = &v } }
	newest := func(v bool) func(*Typed) { return func(t *Typed) { t.Newest = &v } }
	remarks := func(v bool) func(*Typed) { return func(t *Typed) { t.Remarks = &v } }
	kind := func(k string) func(*Typed) { return func(t *Typed) { t.Kind = k } }
	return vocabularyOf([]meaning{
		{Password, func(t *Typed) { t.Password = true }, `password|a password|passwort|ein passwort|mit passwort|with password|and the password|und das passwort`},
		{Identify, identity(linkgate.Stated), `name|who|who they are|e-mail|email|stating their e-mail|stated e-mail|stated|wer|wer es ist|angabe der e-mail|angegebene e-mail|angabe`},
		{Identify, identity(linkgate.Confirmed), `code|confirmed|confirmed e-mail|confirming their e-mail|confirmation|with code|bestätigt|bestätigung|bestätigte e-mail|bestätigung der e-mail|mit code`},
		{Identify, identity(linkgate.SignedIn), `signed in|sign in|sign-in|signing in|account|angemeldet|anmeldung|der anmeldung|konto`},
		{May, viewOnly(true), `view|view only|only view|look|look only|no download|no downloads|without download|without downloads|not download|nur ansehen|ansehen|kein download|keine downloads|ohne download|ohne downloads|nicht herunterladen`},
		{May, viewOnly(false), `download|view and download|may download|herunterladen|ansehen und herunterladen`},
		{Version, newest(true), `newest|always newest|newest version|in the newest version|latest|latest version|neueste|immer neueste|neueste fassung|in der neuesten fassung|aktuell`},
		{Version, newest(false), `this version|in this version|diese fassung|in dieser fassung`},
		{Remarks, remarks(true), `remarks|with remarks|may remark|bemerkungen|mit bemerkungen|bemerken`},
		{Remarks, remarks(false), `no remarks|without remarks|keine bemerkungen|ohne bemerkungen`},
		{May, kind(linkgate.Intake), `intake|deposit|deposit only|only deposit|put in|put files in|papers in|hand in|einlegen|nur einlegen|einreichen|abgeben|abgabe`},
		{May, kind(linkgate.Fill), `fill|fill in|fill it in|filled in|ausfüllen|ausgefüllt`},
		{May, kind(linkgate.Working), `work|working|edit|work in it|bearbeiten|arbeiten|ändern`},
	})
}

// accessPhrases are the fixed words of access for people.
var accessPhrases = accessPhrasesOf()

func accessPhrasesOf() vocabulary {
	level := func(l string) func(*Typed) { return func(t *Typed) { t.Level = l } }
	onward := func(v bool) func(*Typed) { return func(t *Typed) { t.Onward = &v } }
	return vocabularyOf([]meaning{
		{May, level("look"), `view only|only view|look|look only|no download|without download|nur ansehen|kein download|ohne download`},
		{May, level("view"), `view|read|download|view and download|ansehen|lesen|herunterladen|ansehen und herunterladen`},
		{May, level("remark"), `remark|view and remark|anmerken|ansehen und anmerken`},
		{May, level("propose"), `propose|view, remark and propose|vorschlagen`},
		{May, level("fill"), `fill in|view and fill in|ausfüllen|ansehen und ausfüllen`},
		{May, level("edit"), `edit|work|bearbeiten`},
		{May, level("manage"), `manage|verwalten`},
		{May, level("deposit"), `put papers in|deposit|einlegen|papiere einlegen`},
		{Onward, onward(true), `pass it on|may pass it on|pass on|weitergeben|darf es weitergeben`},
		{Onward, onward(false), `may not pass it on|not pass it on|nicht weitergeben|darf es nicht weitergeben`},
		{Until, func(t *Typed) { t.NoEnd = true }, `without an end|without end|no end|ohne ende|unbefristet`},
	})
}

// meaning is what several words mean.
type meaning struct {
	term  Term
	set   func(*Typed)
	words string
}

func vocabularyOf(meanings []meaning) vocabulary {
	v := vocabulary{said: map[string]said{}}
	for _, of := range meanings {
		for w := range strings.SplitSeq(of.words, "|") {
			// Words are told apart by commas, and phrases without them.
			v.said[names.Key(strings.ReplaceAll(w, ",", ""))] = said{of.term, of.set}
			v.longest = max(v.longest, 1+strings.Count(w, " "))
		}
	}
	return v
}

// ending is how the ending of a name looks, knownEndings those that need no dot.
var (
	ending       = regexp.MustCompile(`^[a-z0-9]{1,10}$`)
	knownEndings = strings.Fields("pdf jpg jpeg png gif tif tiff csv txt md doc docx xls xlsx ppt pptx odt ods odp zip eml msg mp4 mov wav mp3")
)

// offered is what is offered to go on with.
var offered = map[string][]string{
	"en": {"password", "once", "twice", "tomorrow", "today", "Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday", "end of the month", "a week", "two weeks", "downloads",
		"name", "confirmed e-mail", "signed in", "view only", "newest version", "only for", "until", "from", "deposit only", "January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"},
	"de": {"Passwort", "einmal", "zweimal", "morgen", "heute", "übermorgen", "Montag", "Dienstag", "Mittwoch", "Donnerstag", "Freitag", "Samstag", "Sonntag", "Monatsende", "eine Woche", "zwei Wochen", "Downloads",
		"Angabe der E-Mail", "bestätigte E-Mail", "angemeldet", "nur ansehen", "neueste Fassung", "nur für", "bis", "ab", "nur einlegen", "Januar", "Februar", "März", "April", "Mai", "Juni", "Juli", "August", "September", "Oktober", "November", "Dezember"},
}

func wordSet(words string) map[string]bool {
	all := map[string]bool{}
	for _, w := range strings.Fields(words) {
		all[names.Key(w)] = true
	}
	return all
}

// numbers are small numbers in words.
var numbers = numbersOf("zero null|a an one ein eine einen einem einer eins|two zwei|three drei|four vier|five fünf|six sechs|seven sieben|eight acht|nine neun|ten zehn|eleven elf|twelve zwölf")

func numbersOf(words string) map[string]int {
	all, n := map[string]int{}, 0
	for group := range strings.SplitSeq(words, "|") {
		for _, w := range strings.Fields(group) {
			all[names.Key(w)] = n
		}
		n++
	}
	return all
}

package route

import (
	"slices"
	"strings"
	"unicode/utf8"

	"github.com/google/uuid"

	"tabularis/core/particulars"
	"tabularis/core/working"
)

// Known is what a definition is checked against: what there is, and what whoever places it may do.
type Known struct {
	Particulars []particulars.Definition
	// Tags, and Routes beside this one, that there are.
	Tags   []uuid.UUID
	Routes map[uuid.UUID]Definition
	// Own is the route itself, once there is one.
	Own uuid.UUID
	// People are those whom the writer knows and who are there; Groups have so many members.
	People map[uuid.UUID]bool
	Groups map[uuid.UUID]int
	// Folders are those that the writer sees.
	Folders map[uuid.UUID]Folder
	// Sees reports whether somebody can open what lies in the folder of the route.
	Sees func(person uuid.UUID) bool
	// Terms refuses words that are no terms of a link.
	Terms func(words string) bool
	// Address refuses what is no address.
	Address func(email string) bool
}

// Folder is what a definition may do with one.
type Folder struct {
	// Manages says that the writer manages it, Adds that they may put something into it, Gives that they
	// may give out what lies in it.
	Manages, Adds, Gives bool
	// Above are the folders around it, and itself.
	Above []uuid.UUID
}

// Problem is a word of a definition that does not hold: where it stands (RFC 6901), and why.
type Problem struct {
	At   string `json:"at"`
	Code Flaw   `json:"code"`
	// Said are words of the reason: a name, or from which value to which.
	From string `json:"from,omitempty"`
	To   string `json:"to,omitempty"`
	// Fix is a value that would hold there.
	Fix string `json:"fix,omitempty"`
}

// Flaw is why a word does not hold.
type Flaw string

// What can be wrong with a definition.
const (
	Missing      Flaw = "missing"        // something has to stand there
	TooLong      Flaw = "too-long"       // a text or list is too long
	Unknown      Flaw = "unknown"        // no such word, person, folder, tag, particular or route
	LeftPractice Flaw = "left"           // the person has left
	NoMembers    Flaw = "empty-group"    // the group has no members
	CannotOpen   Flaw = "cannot-open"    // the person cannot open what lies there
	MayNot       Flaw = "may-not"        // the writer may not do that
	WrongValue   Flaw = "value"          // the value does not fit
	WrongUnit    Flaw = "unit"           // another currency or unit than the particular's
	Relates      Flaw = "relation"       // the relation does not fit
	TooMany      Flaw = "too-many"       // more must agree than are asked
	WrongSpan    Flaw = "span"           // no working time
	WrongStop    Flaw = "stop"           // returns only lead to earlier stops that ask somebody
	NeverHolds   Flaw = "never"          // the condition can never hold
	Overlaps     Flaw = "overlap"        // two cases hold for the same document
	Gap          Flaw = "gap"            // no case holds
	Unreached    Flaw = "unreached"      // the stop is never come to
	Loops        Flaw = "loop"           // it would start itself again without a person
	NoOtherwise  Flaw = "otherwise"      // what happens otherwise comes last, and once
	TooComplex   Flaw = "complex"        // too many conditions to be looked through
	WrongTerms   Flaw = "terms"          // no terms of a link
	WrongAddress Flaw = "address"        // no address
	NeedsPaper   Flaw = "needs-document" // only documents can be decided on, moved and given out
	NothingAsked Flaw = "nothing-asked"  // to hold needs another case that the data can come to fit
)

// A definition's bounds.
const (
	mostStops        = 60
	mostStarts       = 20
	mostCases        = 20
	mostWho          = 50
	mostTests        = 40
	deepest          = 6
	longestName      = 100
	longestText      = 1000
	longestValue     = 500
	farthest         = 3650
	mostCombinations = 20000
)

// Check says what of a definition does not hold; nothing if all does.
func Check(d Definition, k Known) []Problem {
	c := checker{d: d, k: k}
	c.head()
	if len(d.Stops) > mostStops {
		return append(c.problems, Problem{At: "/stops", Code: TooLong})
	}
	for i := range d.Stops {
		c.stop(i)
	}
	if len(c.problems) == 0 {
		c.loops()
	}
	return c.problems
}

type checker struct {
	// d loses the conditions that do not hold, so that nothing else is said of them.
	d        Definition
	k        Known
	problems []Problem
}

func (c *checker) say(at string, code Flaw) {
	c.problems = append(c.problems, Problem{At: at, Code: code})
}

func (c *checker) text(at, text string, most int, needed bool) {
	switch {
	case needed && strings.TrimSpace(text) == "":
		c.say(at, Missing)
	case utf8.RuneCountInString(text) > most:
		c.say(at, TooLong)
	case !utf8.ValidString(text) || strings.ContainsRune(text, 0):
		c.say(at, WrongValue)
	}
}

func (c *checker) head() {
	c.text("/name", c.d.Name, longestName, true)
	c.text("/purpose", c.d.Purpose, longestText, false)
	switch {
	case len(c.d.Starts) == 0:
		c.say("/starts", Missing)
	case len(c.d.Starts) > mostStarts:
		c.say("/starts", TooLong)
	}
	if len(c.d.Stops) == 0 {
		c.say("/stops", Missing)
	}
	if !slices.Contains([]OnContent{"", AskAgain, Lapse}, c.d.Content) {
		c.say("/content", Unknown)
	}
	for i, s := range c.d.Starts[:min(len(c.d.Starts), mostStarts)] {
		c.start(step("", "starts", i), s)
	}
	if c.condition("/if", c.d.If); len(c.problems) > 0 && strings.HasPrefix(c.problems[len(c.problems)-1].At, "/if") {
		c.d.If = nil
	}
	c.who("/callOff", c.d.CallOff, false)
}

func (c *checker) start(at string, s Start) {
	if !has(triggers, s.On) {
		c.say(at+"/on", Unknown)
		return
	}
	if s.Folder != nil && !c.k.Folders[*s.Folder].Manages {
		c.say(at+"/folder", MayNot)
	}
	if s.On == Tagged && (s.Tag == nil || !has(c.k.Tags, *s.Tag)) {
		c.say(at+"/tag", Missing)
	}
	if s.On == Set || s.On == OnDate {
		p, known := c.particular(s.Particular)
		if !known || s.On == OnDate && p.Kind != particulars.Date {
			c.say(at+"/particular", Missing)
		}
	}
	if s.Days < -farthest || s.Days > farthest {
		c.say(at+"/days", WrongSpan)
	}
	if s.Route != nil {
		if _, known := c.k.Routes[*s.Route]; !known {
			c.say(at+"/route", Unknown)
		}
	}
	if s.Crosses != nil {
		c.test(at+"/crosses", *s.Crosses)
	}
}

func (c *checker) particular(id *uuid.UUID) (particulars.Definition, bool) {
	if id == nil {
		return particulars.Definition{}, false
	}
	at := slices.IndexFunc(c.k.Particulars, func(d particulars.Definition) bool { return d.ID == *id })
	if at < 0 {
		return particulars.Definition{}, false
	}
	return c.k.Particulars[at], true
}

func (c *checker) stop(i int) {
	at, s := step("", "stops", i), c.d.Stops[i]
	before := len(c.problems)
	if c.condition(at+"/only", s.Only); len(c.problems) > before {
		s.Only = nil
	}
	switch {
	case len(s.Cases) == 0:
		c.say(at+"/cases", Missing)
		return
	case len(s.Cases) > mostCases:
		c.say(at+"/cases", TooLong)
		return
	}
	before = len(c.problems)
	ends := s.Only == nil
	for j, one := range s.Cases {
		path := step(at, "cases", j)
		c.condition(path+"/when", one.When)
		if one.When == nil && j < len(s.Cases)-1 {
			c.say(path, NoOtherwise)
		}
		c.action(path, i, one.Action)
		if c.d.Paperless() && !has([]Doing{Work, Tell, Wait, StartRoute, Pass, End}, one.Do) {
			c.say(path+"/do", NeedsPaper)
		}
		ends = ends && one.Do == End
	}
	if ends && i < len(c.d.Stops)-1 {
		c.say(step("", "stops", i+1), Unreached)
	}
	if len(c.problems) == before {
		c.cases(at, s)
	}
}

// condition checks the words of a condition.
func (c *checker) condition(at string, cond *Condition) {
	if cond == nil {
		return
	}
	if !cond.sound(deepest) {
		c.say(at, Missing)
		return
	}
	n, before := 0, len(c.problems)
	cond.tests(at, func(at string, t *Test) {
		if n++; n <= mostTests {
			c.test(at, *t)
		}
	})
	if n > mostTests {
		c.say(at, TooLong)
	} else if before == len(c.problems) {
		c.never(at, cond)
	}
}

// sound reports whether exactly one thing is said at every level, and not too deep.
func (c *Condition) sound(depth int) bool {
	said := 0
	for _, is := range []bool{c.Test != nil, len(c.All) > 0, len(c.Any) > 0, c.Not != nil} {
		if is {
			said++
		}
	}
	if said != 1 || depth == 0 {
		return false
	}
	for _, below := range [][]Condition{c.All, c.Any} {
		for i := range below {
			if !below[i].sound(depth - 1) {
				return false
			}
		}
	}
	return c.Not == nil || c.Not.sound(depth-1)
}

// relations are those that a subject, or a particular of a kind, has.
func relations(t Test, d particulars.Definition) []Relation {
	switch t.Of {
	case OfSize:
		return []Relation{AtLeast, Under}
	case OfName:
		return []Relation{Is, IsNot, Contains}
	case OfTag:
		return []Relation{IsSet, NotSet}
	case OfType, OfAuthor, OfDossier, OfReach:
		return []Relation{Is, IsNot}
	}
	switch d.Kind {
	case particulars.Number, particulars.Money, particulars.Date:
		return []Relation{AtLeast, Under, Is, IsNot, IsSet, NotSet}
	case particulars.Text:
		return []Relation{Is, IsNot, Contains, IsSet, NotSet}
	}
	return []Relation{Is, IsNot, IsSet, NotSet}
}

func (c *checker) test(at string, t Test) {
	if !slices.Contains([]Subject{OfParticular, OfSize, OfType, OfName, OfAuthor, OfDossier, OfReach, OfTag}, t.Of) {
		c.say(at+"/of", Unknown)
		return
	}
	d, known := c.particular(t.Particular)
	switch {
	case t.Of == OfParticular && !known:
		c.say(at+"/particular", Unknown)
	case t.Of == OfTag && (t.Tag == nil || !has(c.k.Tags, *t.Tag)):
		c.say(at+"/tag", Unknown)
	case !slices.Contains(relations(t, d), t.Is):
		c.say(at+"/is", Relates)
	case t.Of == OfParticular && t.Unit != "" && !strings.EqualFold(t.Unit, d.Unit):
		c.problems = append(c.problems, Problem{At: at + "/unit", Code: WrongUnit, From: t.Unit, To: d.Unit})
	case t.Is != IsSet && t.Is != NotSet && !c.fits(t, d):
		c.say(at+"/value", WrongValue)
	}
}

// fits reports whether the value of a test is in normal form for its subject.
func (c *checker) fits(t Test, d particulars.Definition) bool {
	if t.Value == "" || len(t.Value) > longestValue {
		return false
	}
	switch t.Of {
	case OfSize:
		n, ok := rational(t.Value)
		return ok && n.IsInt() && n.Sign() >= 0
	case OfDossier:
		return has([]string{"client", "internal", "desk"}, t.Value)
	case OfReach:
		return has([]string{"closed", "named", "open"}, t.Value)
	case OfAuthor:
		id, err := uuid.Parse(t.Value)
		return err == nil && (c.k.People[id] || c.k.Groups[id] > 0)
	case OfParticular:
		if t.Is == Contains {
			return true
		}
		v, err := d.Read(t.Value)
		return err == nil && v.Text == t.Value
	}
	return true
}

func (c *checker) who(at string, all []Who, needed bool) {
	if needed && len(all) == 0 {
		c.say(at, Missing)
	}
	if len(all) > mostWho {
		c.say(at, TooLong)
		return
	}
	for i, w := range all {
		here := step("", "", i)
		switch {
		case w.Person != nil && w.Group == nil && w.Role == "":
			c.person(at+here, *w.Person)
		case w.Group != nil && w.Person == nil && w.Role == "":
			n, known := c.k.Groups[*w.Group]
			if !known {
				c.say(at+here, Unknown)
			} else if n == 0 {
				c.say(at+here, NoMembers)
			}
		case w.Role != "" && w.Person == nil && w.Group == nil && has([]Role{Author, Starter, Approver, Managers}, w.Role):
		default:
			c.say(at+here, Unknown)
		}
	}
}

func (c *checker) person(at string, id uuid.UUID) {
	here, known := c.k.People[id]
	switch {
	case !known:
		c.say(at, Unknown)
	case !here:
		c.say(at, LeftPractice)
	case !c.k.Sees(id):
		c.say(at, CannotOpen)
	}
}

func (c *checker) action(at string, stop int, a Action) {
	c.text(at+"/instructions", a.Instructions, longestText, false)
	switch {
	case a.AsksPeople():
		c.asks(at, stop, a)
	case a.Automatic():
		c.does(at, a)
	case a.Do == Wait:
		c.waits(at, a)
	case !has(silent, a.Do):
		c.say(at+"/do", Unknown)
	}
}

func (c *checker) asks(at string, stop int, a Action) {
	c.who(at+"/who", a.Who, true)
	c.who(at+"/lateTell", a.LateTell, false)
	c.who(at+"/lateAsk", a.LateAsk, false)
	if a.Rule != "" && !slices.Contains([]Rule{Any, All, InTurn, Some}, a.Rule) {
		c.say(at+"/rule", Unknown)
	}
	if a.Rule == Some && (a.Of < 1 || a.Of > c.most(a)) {
		c.say(at+"/of", TooMany)
	}
	if most := c.most(a); a.NotAuthor && most == 1 && len(a.Who) == 1 && a.Who[0].Role == Author {
		c.say(at+"/who", Missing)
	}
	c.span(at+"/within", a.Within)
	c.span(at+"/remind", a.Remind)
	if a.Remind != nil && (a.Within == nil || a.Remind.Unit != a.Within.Unit || a.Remind.N > a.Within.N) {
		c.say(at+"/remind", WrongSpan)
	}
	if (len(a.LateTell) > 0 || len(a.LateAsk) > 0) && a.Within == nil {
		c.say(at+"/within", Missing)
	}
	if a.Do == Fill {
		if _, known := c.particular(a.Particular); !known {
			c.say(at+"/particular", Missing)
		}
	}
	c.returns(at+"/returned", stop, a.Returned)
}

// most is how many can be asked at most. Roles may mean anybody.
func (c *checker) most(a Action) (n int) {
	for _, w := range a.Who {
		switch {
		case w.Group != nil:
			n += c.k.Groups[*w.Group]
		case w.Role == Approver || w.Role == Managers:
			n += mostWho
		default:
			n++
		}
	}
	return n
}

func (c *checker) returns(at string, stop int, r Returned) {
	if !slices.Contains([]Goal{"", ToAuthor, ToStarter, ToStop, ToEnd}, r.To) {
		c.say(at+"/to", Unknown)
	}
	if !slices.Contains([]Again{"", FromStart, FromHere}, r.Again) {
		c.say(at+"/again", Unknown)
	}
	if r.To != ToStop {
		return
	}
	if r.Stop < 1 || r.Stop > stop || !slices.ContainsFunc(c.d.Stops[r.Stop-1].Cases, func(one Case) bool { return one.AsksPeople() }) {
		c.say(at+"/stop", WrongStop)
	}
}

func (c *checker) span(at string, s *working.Span) {
	if s != nil && s.Check("") != nil {
		c.say(at, WrongSpan)
	}
}

func (c *checker) waits(at string, a Action) {
	c.span(at+"/for", a.For)
	if a.For != nil {
		return
	}
	if p, known := c.particular(a.Particular); !known || p.Kind != particulars.Date {
		c.say(at+"/particular", Missing)
	}
	if a.Days < -farthest || a.Days > farthest {
		c.say(at+"/days", WrongSpan)
	}
}

// does checks what is done without a person, with the rights of whoever writes it.
func (c *checker) does(at string, a Action) {
	switch a.Do {
	case SetParticular:
		d, known := c.particular(a.Particular)
		if !known {
			c.say(at+"/particular", Missing)
		} else if v, err := d.Read(a.Value); a.Value != "" && (err != nil || v.Text != a.Value) || a.Value == "" && d.Required {
			c.say(at+"/value", WrongValue)
		}
	case PutTag, TakeTag:
		if a.Tag == nil || !has(c.k.Tags, *a.Tag) {
			c.say(at+"/tag", Missing)
		}
	case Move, Copy:
		if a.Folder == nil {
			c.say(at+"/folder", Missing)
		} else if f, known := c.k.Folders[*a.Folder]; !known {
			c.say(at+"/folder", Unknown)
		} else if !f.Adds {
			c.say(at+"/folder", MayNot)
		}
	case Tell:
		c.who(at+"/who", a.Who, true)
	case GiveOut:
		c.gives(at, a)
	case StartRoute:
		if a.Route == nil {
			c.say(at+"/route", Missing)
		} else if _, known := c.k.Routes[*a.Route]; !known {
			c.say(at+"/route", Unknown)
		}
	}
}

func (c *checker) gives(at string, a Action) {
	if len(a.To) == 0 {
		c.say(at+"/to", Missing)
	}
	if len(a.To) > mostWho {
		c.say(at+"/to", TooLong)
		return
	}
	for i, address := range a.To {
		if !c.k.Address(address) {
			c.say(at+"/to"+step("", "", i), WrongAddress)
		}
	}
	if len(a.Terms) > longestValue || !c.k.Terms(a.Terms) {
		c.say(at+"/terms", WrongTerms)
	}
	for _, s := range c.d.Starts {
		if s.Folder != nil && !c.k.Folders[*s.Folder].Gives {
			c.say(at+"/do", MayNot)
			return
		}
	}
}

package route

import (
	"encoding/json"
	"slices"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/particulars"
	"tabularis/core/working"
)

func id(n byte) uuid.UUID   { return uuid.UUID{15: n} }
func ref(n byte) *uuid.UUID { i := id(n); return &i }
func one(n byte) Who        { return Who{Person: ref(n)} }
func days(n int) *working.Span {
	return &working.Span{N: n, Unit: working.InDays}
}

// The people of the scenario, a group, a folder, particulars.
const (
	ines, tomasz, priya, luca, odile byte = 1, 2, 3, 4, 5
	seniors, nobodys                 byte = 10, 11
	reports, issued, foreign         byte = 20, 21, 22
	estimate, survey, state, surveyd byte = 30, 31, 32, 33
	urgent                           byte = 40
)

func office() Known {
	return Known{
		Particulars: []particulars.Definition{{ID: id(estimate), Name: "Repair estimate", Kind: particulars.Money, Unit: "EUR"}, {ID: id(survey), Name: "Survey", Kind: particulars.Date},
			{ID: id(state), Name: "State", Kind: particulars.Choice, Choices: []string{"afloat", "in dock"}}, {ID: id(surveyd), Name: "Hull", Kind: particulars.Text}},
		Tags: []uuid.UUID{id(urgent)}, Routes: map[uuid.UUID]Definition{}, Own: id(99),
		People: map[uuid.UUID]bool{id(ines): true, id(tomasz): true, id(priya): true, id(luca): false, id(odile): true},
		Groups: map[uuid.UUID]int{id(seniors): 2, id(nobodys): 0},
		Folders: map[uuid.UUID]Folder{id(reports): {Manages: true, Adds: true, Gives: true, Above: []uuid.UUID{id(reports)}}, id(issued): {Manages: true, Adds: true, Above: []uuid.UUID{id(issued)}},
			id(foreign): {Above: []uuid.UUID{id(foreign)}}},
		Sees:    func(p uuid.UUID) bool { return p != id(odile) },
		Terms:   func(words string) bool { return words != "nonsense" },
		Address: func(a string) bool { return a != "nobody" },
	}
}

func by(is Relation, value string) *Condition {
	return &Condition{Test: &Test{Of: OfParticular, Particular: ref(estimate), Is: is, Value: value}}
}

// release is the usual route of the scenario.
func release() Definition {
	return Definition{
		Name: "Report release", Starts: []Start{{On: Arrives, Folder: ref(reports)}, {On: ByHand}},
		Stops: []Stop{
			{Cases: []Case{{Action: Action{Do: Review, Who: []Who{{Group: ref(seniors)}}, NotAuthor: true, Within: days(2)}}}},
			{Cases: []Case{
				{When: by(AtLeast, "250000"), Action: Action{Do: Approve, Who: []Who{one(ines)}, Within: days(2)}},
				{When: by(Under, "250000"), Action: Action{Do: Approve, Who: []Who{{Group: ref(seniors)}}, Within: days(2)}},
				{When: by(NotSet, ""), Action: Action{Do: Hold, Who: []Who{{Role: Author}}}},
			}},
			{Cases: []Case{{Action: Action{Do: Move, Folder: ref(issued), Issues: true}}}},
			{Cases: []Case{{Action: Action{Do: Tell, Who: []Who{one(tomasz)}}}}},
		},
	}
}

func TestCheck(t *testing.T) {
	if got := Check(release(), office()); got != nil {
		t.Fatalf("the usual route does not hold: %+v", got)
	}
	for name, c := range map[string]struct {
		change func(d *Definition)
		want   []Problem
	}{
		"a gap between the amounts": {func(d *Definition) { d.Stops[1].Cases[1].When = by(Under, "200000") },
			[]Problem{{At: "/stops/1/cases/1/when/test/value", Code: Gap, From: "200000", To: "250000", Fix: "250000"}}},
		"amounts that overlap": {func(d *Definition) { d.Stops[1].Cases[1].When = by(Under, "300000") }, []Problem{{At: "/stops/1/cases/1/when", Code: Overlaps}}},
		"what is not set is forgotten": {func(d *Definition) { d.Stops[1].Cases = d.Stops[1].Cases[:2] },
			[]Problem{{At: "/stops/1/cases", Code: Gap, From: "not-set"}}},
		"otherwise closes everything": {func(d *Definition) {
			d.Stops[1].Cases[2] = Case{Action: Action{Do: Pass}}
		}, nil},
		"otherwise that never comes": {func(d *Definition) {
			d.Stops[1].Cases = append(d.Stops[1].Cases, Case{Action: Action{Do: Pass}})
		}, []Problem{{At: "/stops/1/cases/3/when", Code: NeverHolds}}},
		"otherwise comes first": {func(d *Definition) { d.Stops[1].Cases[0].When = nil }, []Problem{{At: "/stops/1/cases/0", Code: NoOtherwise}}},
		"a condition that never holds": {func(d *Definition) { d.If = &Condition{All: []Condition{*by(Under, "5"), *by(AtLeast, "5")}} },
			[]Problem{{At: "/if", Code: NeverHolds}}},
		"a condition that always holds is none to complain of": {func(d *Definition) {
			d.If = &Condition{Not: &Condition{All: []Condition{*by(Under, "5"), *by(AtLeast, "5")}}}
		}, nil},
		"the start takes away what a case wants": {func(d *Definition) { d.If = by(AtLeast, "250000") },
			[]Problem{{At: "/stops/1/cases/1/when", Code: NeverHolds}, {At: "/stops/1/cases/2/when", Code: NeverHolds}}},
		"another currency":          {func(d *Definition) { d.Stops[1].Cases[0].When.Test.Unit = "USD" }, []Problem{{At: "/stops/1/cases/0/when/test/unit", Code: WrongUnit, From: "USD", To: "EUR"}}},
		"no amount":                 {func(d *Definition) { d.Stops[1].Cases[0].When.Test.Value = "much" }, []Problem{{At: "/stops/1/cases/0/when/test/value", Code: WrongValue}}},
		"a particular of no one":    {func(d *Definition) { d.Stops[1].Cases[0].When.Test.Particular = ref(77) }, []Problem{{At: "/stops/1/cases/0/when/test/particular", Code: Unknown}}},
		"somebody who has left":     {func(d *Definition) { d.Stops[1].Cases[0].Who = []Who{one(luca)} }, []Problem{{At: "/stops/1/cases/0/who/0", Code: LeftPractice}}},
		"somebody unknown":          {func(d *Definition) { d.Stops[1].Cases[0].Who = []Who{one(88)} }, []Problem{{At: "/stops/1/cases/0/who/0", Code: Unknown}}},
		"somebody who cannot open":  {func(d *Definition) { d.Stops[3].Cases[0].Who = []Who{one(odile)} }, []Problem{{At: "/stops/3/cases/0/who/0", Code: CannotOpen}}},
		"an empty group":            {func(d *Definition) { d.Stops[0].Cases[0].Who = []Who{{Group: ref(nobodys)}} }, []Problem{{At: "/stops/0/cases/0/who/0", Code: NoMembers}}},
		"nobody":                    {func(d *Definition) { d.Stops[0].Cases[0].Who = nil }, []Problem{{At: "/stops/0/cases/0/who", Code: Missing}}},
		"only the author, but not":  {func(d *Definition) { d.Stops[0].Cases[0].Who = []Who{{Role: Author}} }, []Problem{{At: "/stops/0/cases/0/who", Code: Missing}}},
		"three of two":              {func(d *Definition) { d.Stops[0].Cases[0].Rule, d.Stops[0].Cases[0].Of = Some, 3 }, []Problem{{At: "/stops/0/cases/0/of", Code: TooMany}}},
		"a folder that is not seen": {func(d *Definition) { d.Stops[2].Cases[0].Folder = ref(66) }, []Problem{{At: "/stops/2/cases/0/folder", Code: Unknown}}},
		"a folder of others":        {func(d *Definition) { d.Stops[2].Cases[0].Folder = ref(foreign) }, []Problem{{At: "/stops/2/cases/0/folder", Code: MayNot}}},
		"into its own start":        {func(d *Definition) { d.Stops[2].Cases[0].Folder = ref(reports) }, []Problem{{At: "/stops/2/cases/0/do", Code: Loops}}},
		"starts itself":             {func(d *Definition) { d.Stops[2].Cases[0].Action = Action{Do: StartRoute, Route: ref(98)} }, []Problem{{At: "/stops/2/cases/0/route", Code: Unknown}}},
		"after the end":             {func(d *Definition) { d.Stops[2].Cases[0].Action = Action{Do: End} }, []Problem{{At: "/stops/3", Code: Unreached}}},
		"late without a time": {func(d *Definition) {
			d.Stops[0].Cases[0].Within, d.Stops[0].Cases[0].LateTell = nil, []Who{one(ines)}
		}, []Problem{{At: "/stops/0/cases/0/within", Code: Missing}}},
		"reminded before it begins": {func(d *Definition) { d.Stops[0].Cases[0].Remind = days(3) }, []Problem{{At: "/stops/0/cases/0/remind", Code: WrongSpan}}},
		"returned to a later stop":  {func(d *Definition) { d.Stops[1].Cases[0].Returned = Returned{To: ToStop, Stop: 2} }, []Problem{{At: "/stops/1/cases/0/returned/stop", Code: WrongStop}}},
		"returned to an earlier":    {func(d *Definition) { d.Stops[1].Cases[0].Returned = Returned{To: ToStop, Stop: 1} }, nil},
		"five hundred stops":        {func(d *Definition) { d.Stops = make([]Stop, 500) }, []Problem{{At: "/stops", Code: TooLong}}},
		"no start":                  {func(d *Definition) { d.Starts = nil }, []Problem{{At: "/starts", Code: Missing}}},
		"a folder not managed":      {func(d *Definition) { d.Starts[0].Folder = ref(foreign) }, []Problem{{At: "/starts/0/folder", Code: MayNot}}},
		"no name":                   {func(d *Definition) { d.Name = " " }, []Problem{{At: "/name", Code: Missing}}},
		"an unknown deed":           {func(d *Definition) { d.Stops[2].Cases[0].Do = "burn" }, []Problem{{At: "/stops/2/cases/0/do", Code: Unknown}}},
		"two things said at once":   {func(d *Definition) { d.If = &Condition{Test: by(IsSet, "").Test, Not: by(IsSet, "")} }, []Problem{{At: "/if", Code: Missing}}},
		"an empty condition":        {func(d *Definition) { d.If = &Condition{} }, []Problem{{At: "/if", Code: Missing}}},
		"given out without the right": {func(d *Definition) {
			d.Starts[0].Folder = ref(issued)
			d.Stops[2].Cases[0].Action = Action{Do: GiveOut, To: []string{"odile@brackwater.example"}, Terms: "view"}
		}, []Problem{{At: "/stops/2/cases/0/do", Code: MayNot}}},
		"no terms": {func(d *Definition) {
			d.Stops[2].Cases[0].Action = Action{Do: GiveOut, To: []string{"nobody"}, Terms: "nonsense"}
		}, []Problem{{At: "/stops/2/cases/0/to/0", Code: WrongAddress}, {At: "/stops/2/cases/0/terms", Code: WrongTerms}}},
	} {
		d := release()
		c.change(&d)
		if got := Check(d, office()); !slices.Equal(got, c.want) {
			t.Errorf("%s: %+v, want %+v", name, got, c.want)
		}
	}
}

// Routes that start each other without asking anybody go round for ever.
func TestLoops(t *testing.T) {
	k := office()
	back := Definition{Name: "Back", Starts: []Start{{On: ByHand}}, Stops: []Stop{{Cases: []Case{{Action: Action{Do: StartRoute, Route: ref(99)}}}}}}
	k.Routes[id(98)] = back
	d := release()
	d.Stops = []Stop{{Cases: []Case{{Action: Action{Do: StartRoute, Route: ref(98)}}}}}
	if got := Check(d, k); len(got) != 1 || got[0].Code != Loops {
		t.Errorf("%+v", got)
	}
	d.Stops = append([]Stop{release().Stops[0]}, d.Stops...)
	if got := Check(d, k); got != nil {
		t.Errorf("with a person in between: %+v", got)
	}
	k.Routes[id(98)] = Definition{Stops: []Stop{release().Stops[0], back.Stops[0]}}
	d.Stops = d.Stops[1:]
	if got := Check(d, k); got != nil {
		t.Errorf("with a person in the other: %+v", got)
	}
}

// What the check says of a stop's cases is what looking at documents one by one says.
func FuzzCases(f *testing.F) {
	f.Add(uint64(1))
	f.Fuzz(func(t *testing.T, seed uint64) {
		r := seeded(seed)
		d := release()
		s := Stop{}
		for range 1 + r.IntN(4) {
			s.Cases = append(s.Cases, Case{When: r.condition(2), Action: Action{Do: Pass}})
		}
		if r.IntN(2) == 0 {
			s.Cases[len(s.Cases)-1].When = nil
		}
		d.Stops = []Stop{s}
		said := map[string]Flaw{}
		for _, c := range s.Cases {
			// Of stops with a condition that never holds by itself nothing else is said.
			if c.When != nil && !slices.ContainsFunc(everything(), c.When.Holds) {
				return
			}
		}
		for _, p := range Check(d, office()) {
			said[p.At] = p.Code
		}
		reached := make([]int, len(s.Cases))
		gap := false
		for _, facts := range everything() {
			hits := 0
			for j, c := range s.Cases {
				if c.When == nil && hits > 0 || !c.When.Holds(facts) {
					continue
				}
				if hits++; hits > 1 {
					reached[j] |= 2
				} else {
					reached[j] |= 1
				}
			}
			gap = gap || hits == 0
		}
		for j := range s.Cases {
			flaw := said[step("/stops/0", "cases", j)+"/when"]
			if _, alone := said[step("/stops/0", "cases", j)]; alone || flaw == NeverHolds && reached[j]&1 == 0 {
				continue
			}
			if reached[j]&2 != 0 && reached[j]&1 != 0 && flaw != Overlaps || flaw == NeverHolds && reached[j]&1 != 0 {
				raw, _ := json.Marshal(s)
				t.Fatalf("case %d of %s: said %q, is %d", j, raw, flaw, reached[j])
			}
		}
		if gap != slices.ContainsFunc(Check(d, office()), func(p Problem) bool { return p.Code == Gap }) {
			raw, _ := json.Marshal(s)
			t.Fatalf("%s: a gap: %v, which is not what is said", raw, gap)
		}
	})
}

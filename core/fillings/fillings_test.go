package fillings

import (
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"
	"time"

	"tabularis/core/fault"
	"tabularis/core/richtext"
	"tabularis/core/richtext/markdown"
	"tabularis/core/working"
)

const instruction = `# Survey instruction

Dear owner, tell us where she lies.

## Where she lies

Berth: <input name="berth" type="text" title="quay, berth" required>

<input name="afloat" data-choices="afloat&#10;ashore" aria-label="Afloat or ashore" required>\
Length <input name="length" type="number" min="3" max="60.5"> m, beam <input name="length" type="number"> m

- First day aboard <input name="day" type="date" min="+2" required>

## What is known

| Insured | <input name="insured" type="checkbox"> |
|---|---|

That is all.
`

// Monday 30 November 2026, 10:00.
var monday = Clock{Now: time.Date(2026, 11, 30, 10, 0, 0, 0, time.UTC), Calendar: working.Usual().In(time.UTC)}

func form(t *testing.T, source string) Form {
	t.Helper()
	doc, err := markdown.Read([]byte(source))
	if err != nil {
		t.Fatal(err)
	}
	f, err := Of(doc)
	if err != nil {
		t.Fatal(err)
	}
	return f
}

func TestADocumentAsksInItsOrder(t *testing.T) {
	got := form(t, instruction)
	want := Form{Title: "Survey instruction", Sections: []Section{
		{Says: []string{"Dear owner, tell us where she lies."}},
		{Title: "Where she lies", Fields: []Field{
			{ID: "berth", Kind: Text, Label: "Berth", Hint: "quay, berth", Must: true},
			{ID: "afloat", Kind: Choice, Label: "Afloat or ashore", Must: true, Choices: []string{"afloat", "ashore"}},
			{ID: "length", Kind: Number, Label: "Length", After: "m", Least: "3", Most: "60.5"},
			{ID: "length-2", Kind: Number, Label: "beam", After: "m"},
			{ID: "day", Kind: Day, Label: "First day aboard", Least: "+2", Must: true},
		}},
		{Title: "What is known", Says: []string{"Insured", "That is all."}, Fields: []Field{{ID: "insured", Kind: Tick, Label: "6"}}},
	}}
	if !reflect.DeepEqual(got, want) {
		t.Errorf("got  %+v\nwant %+v", got, want)
	}
}

func TestAnswersStandOrSayWhyNot(t *testing.T) {
	number := Field{ID: "n", Kind: Number, Least: "3", Most: "60.5"}
	day := Field{ID: "d", Kind: Day, Least: "+2", Most: "2026-12-24"}
	choice := Field{ID: "c", Kind: Choice, Choices: []string{"afloat", "ashore"}}
	for _, c := range []struct {
		f      Field
		answer string
		reason Reason
		bound  string
	}{
		{number, "24.6", "", ""}, {number, "2.9999", TooLittle, "3"}, {number, "60.50", "", ""}, {number, "60.500001", TooMuch, "60.5"}, {number, "a lot", NoNumber, ""}, {number, "1e3", NoNumber, ""}, {number, "", "", ""},
		{day, "2026-12-02", "", ""}, {day, "2026-12-01", TooEarly, "2026-12-02"}, {day, "2026-12-24", "", ""}, {day, "2026-12-25", TooLate, "2026-12-24"}, {day, "2026-02-30", NoDay, ""}, {day, "2.12.2026", NoDay, ""},
		{choice, "afloat", "", ""}, {choice, "Afloat", NoChoice, ""}, {choice, "both", NoChoice, ""},
		{Field{ID: "t", Kind: Text, Must: true}, "", Missing, ""}, {Field{ID: "k", Kind: Tick, Must: true}, Ticked, "", ""}, {Field{ID: "k", Kind: Tick, Must: true}, "", Missing, ""},
		{Field{ID: "t", Kind: Text}, strings.Repeat("ü", LongestAnswer), "", ""}, {Field{ID: "t", Kind: Text}, strings.Repeat("ü", LongestAnswer+1), TooLong, ""},
		// Bounds that say nothing bound nothing.
		{Field{Kind: Number, Least: "much"}, "-1", "", ""}, {Field{Kind: Day, Least: "+999999999999999999999", Most: "+x"}, "1999-01-01", "", ""}, {Field{Kind: Day, Least: "+0"}, "2026-11-29", TooEarly, "2026-11-30"},
	} {
		p, wrong := c.f.Problem(c.answer, monday)
		if wrong != (c.reason != "") && c.reason != Missing || p.Reason != c.reason && wrong || p.Bound != c.bound {
			t.Errorf("%s %q: %v %+v, want %s %s", c.f.Kind, c.answer, wrong, p, c.reason, c.bound)
		}
	}
}

// Two working days from a Thursday lie behind the weekend.
func TestDaysAreCountedInWorkingDays(t *testing.T) {
	thursday := Clock{Now: time.Date(2026, 12, 3, 15, 0, 0, 0, time.UTC), Calendar: monday.Calendar}
	for _, hour := range []int{0, 1, 8, 15, 23} {
		thursday.Now = time.Date(2026, 12, 3, hour, 21, 0, 0, time.UTC)
		if first, last := (Field{Least: "+2", Most: "+5"}).Days(thursday); first != "2026-12-07" || last != "2026-12-10" {
			t.Errorf("at %d: from %s to %s", hour, first, last)
		}
	}
}

func TestAFormIsKeptAndHandedIn(t *testing.T) {
	f := form(t, instruction)
	have, err := f.Put(nil, Answers{"berth": "Fish quay, berth 7\r\nTessaly  \n", "length": "24,6", "day": "soon"})
	if err != nil || have["berth"] != "Fish quay, berth 7\nTessaly" || have["length"] != "24.6" || have["day"] != "soon" {
		t.Fatal(have, err)
	}
	if s := f.Standing(have, monday); s.Answered != 2 || s.Of != 6 || len(s.Open) != 2 || s.Open[0].Field != "afloat" || s.Open[1].Reason != NoDay {
		t.Errorf("%+v", s)
	}
	if _, err := f.HandIn(have, monday); fault.Of(err).Code != "form-unanswered" {
		t.Error("handed in what is not answered", err)
	}
	have, err = f.Put(have, Answers{"afloat": "ashore", "day": "2026-12-02", "insured": "on"})
	if err != nil {
		t.Fatal(err)
	}
	got, err := f.HandIn(have, monday)
	want := Answers{"berth": "Fish quay, berth 7\nTessaly", "afloat": "ashore", "length": "24.6", "length-2": "", "day": "2026-12-02", "insured": Ticked}
	if err != nil || !reflect.DeepEqual(got, want) {
		t.Errorf("%v %v", got, err)
	}
	for name, more := range map[string]Answers{"unasked": {"keys": "x"}, "control": {"berth": "a\x00b"}, "escape": {"berth": "\x1b[1m"}, "bad bytes": {"berth": "\xff"}, "long": {"berth": strings.Repeat("x", LongestAnswer+1)}} {
		if _, err := f.Put(have, more); !fault.Is(err, fault.Invalid) {
			t.Errorf("%s: %v", name, err)
		}
	}
	// What is no longer asked is left out, and what was answered stays.
	smaller := form(t, `<input name="berth">`)
	if left, err := smaller.Put(have, nil); err != nil || !reflect.DeepEqual(left, Answers{"berth": want["berth"]}) {
		t.Error(left, err)
	}
	if _, err := form(t, "No field.").HandIn(nil, monday); fault.Of(err).Code != "no-form" {
		t.Error(err)
	}
}

// The document with answers in it asks the same, and what was answered is usual in it.
func TestAFilledDocumentHoldsTheAnswers(t *testing.T) {
	doc, _ := markdown.Read([]byte(instruction))
	f, _ := Of(doc)
	letters := []rune("ab 7,.-\n\"'<>&|`*_#[]\\äß😀")
	for seed := range 300 {
		r := rand.New(rand.NewPCG(3, uint64(seed)))
		answers := Answers{}
		for _, field := range f.Fields() {
			var text []rune
			for range r.IntN(12) {
				text = append(text, letters[r.IntN(len(letters))])
			}
			kept, err := f.Put(nil, Answers{field.ID: string(text)})
			if err != nil {
				t.Fatal(err)
			}
			if answers[field.ID] = kept[field.ID]; field.Kind == Tick && kept[field.ID] != "" {
				answers[field.ID] = Ticked
			}
		}
		raw, err := markdown.Write(Filled(doc, answers))
		if err != nil {
			t.Fatal(err)
		}
		again, err := markdown.Read([]byte(raw))
		if err != nil {
			t.Fatal(err)
		}
		now, _ := Of(again)
		for _, field := range now.Fields() {
			if field.Usual != answers[field.ID] {
				t.Fatalf("seed %d: %s is %q, was %q\n%s", seed, field.ID, field.Usual, answers[field.ID], raw)
			}
		}
	}
}

func TestTooMuchIsNotAsked(t *testing.T) {
	f := form(t, strings.Repeat("a <input name=x> b\n\n", MostFields+5))
	if n := len(f.Fields()); n != MostFields {
		t.Errorf("%d fields are asked", n)
	}
	ids := map[string]bool{}
	for _, field := range f.Fields() {
		if ids[field.ID] {
			t.Fatal("twice", field.ID)
		}
		ids[field.ID] = true
	}
}

func TestWhatIsProposedIsNotAsked(t *testing.T) {
	raw := `{"type":"doc","content":[{"type":"paragraph","content":[{"type":"field","attrs":{"id":"a","label":"A"},"marks":[{"type":"inserted","attrs":{"id":"1","by":"x"}}]},{"type":"field","attrs":{"id":"b","label":"B"}}]}]}`
	doc, err := richtext.Written.Read([]byte(raw))
	if err != nil {
		t.Fatal(err)
	}
	if f, err := Of(doc); err != nil || len(f.Fields()) != 1 || f.Fields()[0].ID != "b" {
		t.Error(f, err)
	}
}

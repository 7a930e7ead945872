package signing

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/templates"
)

func TestMarks(t *testing.T) {
	t.Parallel()
	said := func(text string) string {
		var all []string
		for _, m := range Marks(text) {
			p := m.Place
			all = append(all, fmt.Sprintf("%s %s %v %s%s=%s", p.Kind, Letter(p.Party), p.Must, p.Label, strings.Join(p.Choices, "|"), text[m.From:m.To]))
		}
		return strings.Join(all, "; ")
	}
	for text, want := range map[string]string{
		"Signed: [[sign:B]] on [[signed on:B]]":           "signature B true =[[sign:B]]; signed-on B false =[[signed on:B]]",
		"[[ Unterschrift : A ]]":                          "signature A true =[[ Unterschrift : A ]]",
		"[[text?:B Invoice to]]":                          "text B false Invoice to=[[text?:B Invoice to]]",
		"[[choice:C afloat / ashore / ]]":                 "choice C true afloat|ashore=[[choice:C afloat / ashore / ]]",
		"[[client]] [[sign]] [[sign:]] [[sign:b]] [sign]": "",
		"[[dance:B]] [[sign:Z]]":                          "",
		"[[[[sign:B]]]]":                                  "signature B true =[[sign:B]]",
		"[[text:A a\nb]]":                                 "",
	} {
		if got := said(text); got != want {
			t.Errorf("%q marks %q, want %q", text, got, want)
		}
	}
}

// What is filled and what is marked stand beside each other; where a mark was there is room, and no mark.
func FuzzUnmarked(f *testing.F) {
	f.Add("Dear [[client]], [[sign:B]] [[text?:A Invoice to]]", "x")
	f.Add("[[[[sign:B]]]] [[a:b]]", "[[sign:A]]")
	f.Fuzz(func(t *testing.T, text, value string) {
		at := 0
		for _, s := range (Unmarked{templates.Values{"client": value}}).Spans(text) {
			if s.From < at || s.To <= s.From || s.To > len(text) {
				t.Fatalf("%q has the span %+v after %d", text, s, at)
			}
			at = s.To
		}
		if left := Marks(templates.Fill(Unmarked{}, text, func(s string) string { return s })); len(left) > 0 && len(Marks(text)) < MostPlaces && !strings.Contains(text, "[[[") {
			t.Errorf("%q still marks %+v", text, left)
		}
	})
}

func TestSettle(t *testing.T) {
	t.Parallel()
	at := func(page int, x, y, w float64, k Kind, party int) Spot {
		return Spot{Page: page, Width: 600, Height: 800, Place: Place{Kind: k, Party: party, Box: Box{X: x, Y: y, W: w, H: 0.015}}}
	}
	got := Settle([]Spot{
		at(2, 0.1, 0.8, 0.1, Signature, 1), at(2, 0.26, 0.8, 0.1, SignedOn, 1), at(1, 0.9, 0.95, 0.08, Initials, 0), at(1, 0.1, 0.001, 0.1, Signature, 0),
		{Page: 1, Width: 600, Height: 800, Field: true, Place: Place{Kind: Text, Box: Box{X: 0.1, Y: 0.3, W: 0.5, H: 0.03}}},
		{Page: 1, Width: 600, Height: 800, Field: true, Place: Place{Kind: Text, Box: Box{X: 0.2, Y: 0.31, W: 0.5, H: 0.03}}},
	})
	if len(got) != 5 {
		t.Fatalf("%d places: %+v", len(got), got)
	}
	p := Plan{Parties: make([]Party, 2), Places: got}
	for _, bad := range Check(p, 2, false) {
		if strings.HasPrefix(bad.At, "places/") {
			t.Errorf("%+v", bad)
		}
	}
	sign := got[slices.IndexFunc(got, func(p Place) bool { return p.Page == 2 && p.Kind == Signature })]
	if sign.Box.X != 0.1 || sign.Box.W > 0.16 || sign.Box.H != 36./800 || sign.Box.Y+sign.Box.H < 0.8149 || sign.Box.Y+sign.Box.H > 0.8151 {
		t.Errorf("a signature stands at %+v", sign.Box)
	}
}

func form() Form {
	me := uuid.New()
	return Form{Plan: Plan{
		Parties: []Party{{Role: "the principal", Person: &me, Turn: 2, Known: BySignIn, Signs: true}, {Role: "the client", Turn: 1, Known: ByLink, Signs: true}},
		Places: []Place{
			{ID: 1, Party: 0, Page: 1, Box: Box{0.1, 0.8, 0.2, 0.04}, Kind: Signature, Must: true}, {ID: 2, Party: 1, Page: 1, Box: Box{0.5, 0.8, 0.2, 0.04}, Kind: Signature, Must: true},
			{ID: 3, Page: 1, Box: Box{0.1, 0.1, 0.5, 0.03}, Kind: Fixed, Value: "[[name B]], owner of [[vessel]]"},
		},
	}}
}

func TestForm(t *testing.T) {
	t.Parallel()
	f := form()
	if bad := f.Check(1); len(bad) > 0 {
		t.Errorf("%+v", bad)
	}
	if asked := f.Asked(); !slices.Equal(asked, []int{1}) {
		t.Errorf("asked for %v", asked)
	}
	blanks := f.Blanks([]templates.Blank{{Word: "fee"}, {Word: "Address B"}, {Word: "Vessel"}})
	var words []string
	for _, b := range blanks {
		words = append(words, b.Word)
	}
	if !slices.Equal(words, []string{"fee", "Vessel"}) {
		t.Errorf("blanks %v", words)
	}
	callum := Party{Name: " Callum Wray ", Email: "callum@wray.example"}
	p, values := f.At(Row{People: []Party{callum}, Values: templates.Values{"Vessel": "Aurelie"}})
	if p.Parties[1].Name != "Callum Wray" || p.Parties[1].Role != "the client" || p.Places[2].Value != "Callum Wray, owner of Aurelie" || values["address b"] != "callum@wray.example" {
		t.Errorf("%+v %v", p, values)
	}
	if f.Plan.Parties[1].Name != "" || f.Plan.Places[2].Value != "[[name B]], owner of [[vessel]]" {
		t.Error("the form itself was changed")
	}
	// Before anybody is named, what they are stands there.
	if p, _ := f.At(Row{}); p.Places[2].Value != "the client, owner of [[vessel]]" {
		t.Errorf("%q", p.Places[2].Value)
	}
	f.Days = 400
	if got := flaws(f.Check(1)); !slices.Contains(got, "days no-such-days") {
		t.Errorf("%v", got)
	}
}

func TestRows(t *testing.T) {
	t.Parallel()
	f := form()
	blanks := f.Blanks(nil)
	row := func(name, email, vessel string) Row {
		return Row{People: []Party{{Name: name, Email: email}}, Values: templates.Values{"vessel": vessel}}
	}
	for want, rows := range map[string][]Row{
		"":                               {row("Callum", "c@wray.example", "Aurelie"), row("Odile", "o@brackwater.example", "Corran Lass")},
		"0/values/vessel unfilled":       {row("Callum", "c@wray.example", " ")},
		"0/values/vessel wrong-filled":   {row("Callum", "c@wray.example", "a\x00")},
		"0/people/0 no-address":          {row("Callum", "wray", "Aurelie")},
		"0/people/0 no-name":             {row(" ", "c@wray.example", "Aurelie")},
		"0/values/name b wrong-filled":   {row("[[sign:A]]", "c@wray.example", "Aurelie")},
		"1/people/0 same-address":        {row("Callum", "c@wray.example", "Aurelie"), row("Callum", "C@wray.example", "Aurelie")},
		"0/people/0 no-address, no-name": {{Values: templates.Values{"vessel": "x"}}},
		"rows no-rows":                   {},
		"rows many-rows":                 make([]Row, MostRows+1),
		"0/people/0 long-words":          {row(strings.Repeat("x", 300), "c@wray.example", "Aurelie")},
	} {
		got := map[string][]string{}
		var order []string
		for _, p := range f.Rows(rows, blanks) {
			if got[p.At] == nil {
				order = append(order, p.At)
			}
			got[p.At] = append(got[p.At], string(p.Flaw))
		}
		var all []string
		for _, at := range order {
			all = append(all, at+" "+strings.Join(got[at], ", "))
		}
		if said := strings.Join(all, "; "); said != want {
			t.Errorf("%q instead of %q", said, want)
		}
	}
	if got := flaws(f.Rows([]Row{row("Callum", "c@wray.example", "[[sign:A]]")}, blanks)); !slices.Equal(got, []string{"0/values/vessel wrong-filled"}) {
		t.Errorf("%v", got)
	}
	// The same person with other words is no mistake.
	if bad := f.Rows([]Row{row("Callum", "c@wray.example", "Aurelie"), row("Callum", "c@wray.example", "Pellew")}, blanks); len(bad) > 0 {
		t.Errorf("%+v", bad)
	}
	// Whoever signs already is not named again.
	f.Plan.Parties[0].Person, f.Plan.Parties[0].Name, f.Plan.Parties[0].Email = nil, "Ines", "ines@halyard.example"
	if got := f.Rows([]Row{row("Ines", "ines@halyard.example", "x")}, blanks); len(got) != 1 || got[0].Flaw != SameAddress {
		t.Errorf("%+v", got)
	}
}

func TestFromTable(t *testing.T) {
	t.Parallel()
	f := form()
	blanks := f.Blanks(nil)
	rows, unknown := f.FromTable([][]string{
		{"\ufeffName", "E-Mail", " [[Vessel]] ", "Shoe size", "", "name b"},
		{"Callum Wray", " callum@wray.example ", "Aurelie", "44"},
		{"", "", ""},
		{"Odile Charron"},
	}, blanks)
	if !slices.Equal(unknown, []string{"Shoe size", "name b"}) || len(rows) != 2 {
		t.Fatalf("%v %+v", unknown, rows)
	}
	if r := rows[0]; r.People[0].Name != "Callum Wray" || r.People[0].Email != "callum@wray.example" || r.Values["vessel"] != "Aurelie" {
		t.Errorf("%+v", r)
	}
	if got := flaws(f.Rows(rows, blanks)); !slices.Equal(got, []string{"1/people/0 no-address", "1/values/vessel unfilled"}) {
		t.Errorf("%v", got)
	}
	// Of two parties each is called by its letter or by what it is.
	f.Plan.Parties[0] = Party{Role: "The principal", Turn: 2, Known: ByLink, Signs: true}
	rows, unknown = f.FromTable([][]string{{"the client", "email b", "name A", "Adresse A", "name"}, {"C", "c@x.example", "I", "i@x.example", "?"}}, blanks)
	if len(rows) != 1 || rows[0].People[0].Email != "i@x.example" || rows[0].People[1].Name != "C" || !slices.Equal(unknown, []string{"name"}) {
		t.Errorf("%+v %v", rows, unknown)
	}
	if rows, _ := f.FromTable(nil, blanks); rows != nil {
		t.Error("nothing became rows")
	}
}

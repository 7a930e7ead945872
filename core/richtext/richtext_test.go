package richtext_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"tabularis/core/fault"
	"tabularis/core/richtext"
)

func document(t testing.TB, content string) *richtext.Node {
	t.Helper()
	doc, err := richtext.Written.Read([]byte(`{"type":"doc","content":` + content + `}`))
	if err != nil {
		t.Fatalf("%s: %v", content, err)
	}
	return doc
}

func applied(t testing.TB, doc *richtext.Node, step string) (*richtext.Node, error) {
	t.Helper()
	s, err := richtext.Written.ReadStep([]byte(step))
	if err != nil {
		return nil, err
	}
	return s.Apply(doc)
}

const greeting = `[{"type":"paragraph","content":[{"type":"text","text":"a😀b"}]},{"type":"paragraph","content":[{"type":"text","text":"cd"}]}]`

// Positions: paragraph 0, a 1, the face 2 and 3, b 4, its end 5, the next begins at 6.
func TestStepsThatAreRefused(t *testing.T) {
	for name, step := range map[string]string{
		"within a character":     `{"stepType":"replace","from":3,"to":4}`,
		"half a character":       `{"stepType":"replace","from":1,"to":1,"slice":{"content":[{"type":"text","text":"\ud83d"}]}}`,
		"other half":             `{"stepType":"replace","from":1,"to":1,"slice":{"content":[{"type":"text","text":"\ude00"}]}}`,
		"halves apart":           `{"stepType":"replace","from":1,"to":1,"slice":{"content":[{"type":"text","text":"\ud83d \ude00"}]}}`,
		"outside":                `{"stepType":"replace","from":1,"to":100}`,
		"backwards":              `{"stepType":"replace","from":4,"to":1}`,
		"negative":               `{"stepType":"replace","from":-1,"to":1}`,
		"between numbers":        `{"stepType":"replace","from":1.5,"to":2}`,
		"huge":                   `{"stepType":"replace","from":1e300,"to":1e301}`,
		"no place":               `{"stepType":"replace"}`,
		"unknown step":           `{"stepType":"everything"}`,
		"no step":                `null`,
		"no JSON":                `{`,
		"unknown node":           `{"stepType":"replace","from":0,"to":0,"slice":{"content":[{"type":"script"}]}}`,
		"empty text":             `{"stepType":"replace","from":1,"to":1,"slice":{"content":[{"type":"text","text":""}]}}`,
		"text among blocks":      `{"stepType":"replace","from":0,"to":0,"slice":{"content":[{"type":"text","text":"x"}]}}`,
		"all of it":              `{"stepType":"replace","from":0,"to":10}`,
		"open too deep":          `{"stepType":"replace","from":1,"to":1,"slice":{"content":[{"type":"paragraph"}],"openStart":2,"openEnd":2}}`,
		"open less than nothing": `{"stepType":"replace","from":1,"to":1,"slice":{"content":[{"type":"paragraph"}],"openStart":-1}}`,
		"list without items":     `{"stepType":"replace","from":0,"to":0,"slice":{"content":[{"type":"bullet_list"}]}}`,
		"heading of level 9":     `{"stepType":"replace","from":0,"to":0,"slice":{"content":[{"type":"heading","attrs":{"level":9}}]}}`,
		"an attribute as object": `{"stepType":"replace","from":0,"to":0,"slice":{"content":[{"type":"heading","attrs":{"level":{}}}]}}`,
		"address that runs":      `{"stepType":"addMark","from":1,"to":2,"mark":{"type":"link","attrs":{"href":"javascript:alert(1)"}}}`,
		"address, disguised":     `{"stepType":"addMark","from":1,"to":2,"mark":{"type":"link","attrs":{"href":"java\nscript:alert(1)"}}}`,
		"link without address":   `{"stepType":"addMark","from":1,"to":2,"mark":{"type":"link"}}`,
		"picture of data":        `{"stepType":"replace","from":1,"to":1,"slice":{"content":[{"type":"picture","attrs":{"src":"data:text/html,x"}}]}}`,
		"marks out of order":     `{"stepType":"replace","from":1,"to":1,"slice":{"content":[{"type":"text","text":"x","marks":[{"type":"em"},{"type":"strong"}]}]}}`,
		"mark twice":             `{"stepType":"replace","from":1,"to":1,"slice":{"content":[{"type":"text","text":"x","marks":[{"type":"em"},{"type":"em"}]}]}}`,
		"mark on a paragraph":    `{"stepType":"addNodeMark","pos":0,"mark":{"type":"strong"}}`,
		"mark on text as node":   `{"stepType":"addNodeMark","pos":1,"mark":{"type":"inserted","attrs":{"id":"a","by":"b"}}}`,
		"attribute of nothing":   `{"stepType":"attr","pos":10,"attr":"level","value":2}`,
		"attribute, no value":    `{"stepType":"attr","pos":0,"attr":"level"}`,
		"gap outside":            `{"stepType":"replaceAround","from":0,"to":6,"gapFrom":7,"gapTo":8,"insert":0}`,
		"gap not flat":           `{"stepType":"replaceAround","from":0,"to":12,"gapFrom":2,"gapTo":8,"insert":0}`,
		"insert outside":         `{"stepType":"replaceAround","from":0,"to":6,"gapFrom":0,"gapTo":6,"insert":99,"slice":{"content":[{"type":"blockquote"}]}}`,
		"set of other steps":     `{"stepType":"markSet","steps":[{"stepType":"replace","from":1,"to":2}]}`,
	} {
		t.Run(name, func(t *testing.T) {
			got, err := applied(t, document(t, greeting), step)
			if fault.Of(err).Code != "step-invalid" {
				t.Errorf("%v, %v", got, err)
			}
		})
	}
}

func TestWhatGoesTooDeepOrTooFarIsRefused(t *testing.T) {
	deep := strings.Repeat(`{"type":"blockquote","content":[`, 70) + `{"type":"paragraph"}` + strings.Repeat(`]}`, 70)
	if _, err := applied(t, document(t, greeting), `{"stepType":"replace","from":0,"to":0,"slice":{"content":[`+deep+`]}}`); fault.Of(err).Code != "step-invalid" {
		t.Error(err)
	}
	// Wrapped one at a time, it ends as well.
	doc := document(t, greeting)
	var err error
	for i := 0; err == nil && i < 100; i++ {
		doc, err = applied(t, doc, fmt.Sprintf(`{"stepType":"replaceAround","from":%d,"to":%d,"gapFrom":%d,"gapTo":%d,"insert":1,"slice":{"content":[{"type":"blockquote"}]}}`, i, i+6, i, i+6))
	}
	if fault.Of(err).Code != "step-invalid" {
		t.Error(err)
	}
	wide := strings.Repeat(`{"type":"table_cell","content":[{"type":"paragraph"}]},`, 200)
	table := `{"stepType":"replace","from":0,"to":0,"slice":{"content":[{"type":"table","content":[{"type":"table_row","content":[` + wide[:len(wide)-1] + `]}]}]}}`
	full, err := applied(t, document(t, greeting), table)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := applied(t, full, `{"stepType":"replace","from":2,"to":2,"slice":{"content":[{"type":"table_cell","content":[{"type":"paragraph"}]}]}}`); fault.Of(err).Code != "step-invalid" {
		t.Errorf("a cell too many: %v", err)
	}
	if _, err := applied(t, document(t, greeting), strings.Replace(table, `"content":[{"type":"table_cell"`, `"content":[{"type":"table_cell","content":[{"type":"paragraph"}]},{"type":"table_cell"`, 1)); fault.Of(err).Code != "step-invalid" {
		t.Errorf("a row too wide: %v", err)
	}
	long := strings.Repeat("x", richtext.MaxSize)
	if _, err := applied(t, document(t, greeting), `{"stepType":"replace","from":1,"to":1,"slice":{"content":[{"type":"text","text":"`+long+`"}]}}`); fault.Of(err).Code != "text-too-long" {
		t.Error(err)
	}
}

func TestAddresses(t *testing.T) {
	for address, may := range map[string][2]bool{ // as a link, as a picture
		"https://yard.example/a?b=c": {true, true}, "http://x": {true, true}, "HTTPS://x": {true, true}, "mailto:a@b.example": {true, false}, "tel:+491": {true, false},
		"#below": {true, true}, "frame-31.png": {false, true}, "../a/b.png": {false, true}, "picture:ab12": {false, true},
		"//elsewhere.example/x": {false, false}, "javascript:x": {false, false}, "JaVaScRiPt:x": {false, false}, " javascript:x": {false, false}, "java\tscript:x": {false, false},
		"data:image/png;base64,x": {false, false}, "file:///etc/passwd": {false, false}, "vbscript:x": {false, false}, "": {false, false}, "https:": {false, false}, "blob:x": {false, false},
	} {
		if got := [2]bool{richtext.Leads(address, false), richtext.Leads(address, true)}; got != may {
			t.Errorf("%q: %v", address, got)
		}
	}
}

const (
	mine    = `{"type":"inserted","attrs":{"id":"a","by":"odile"}}`
	theirs  = `{"type":"inserted","attrs":{"id":"b","by":"priya"}}`
	myEnd   = `{"type":"deleted","attrs":{"id":"a","by":"odile"}}`
	begins  = `[{"type":"paragraph","content":[{"type":"text","text":"finished before the vessel returns"}]}]`
	held    = `[{"type":"paragraph","content":[{"type":"text","text":"finished "},{"type":"text","text":"soon","marks":[{"type":"remark","attrs":{"id":"r"}}]},{"type":"text","text":" before"}]}]`
	between = `[{"type":"paragraph","content":[{"type":"text","text":"finished "},{"type":"text","text":"soon","marks":[` + theirs + `]},{"type":"text","text":"before"}]}]`
)

func TestAProposerOnlyProposes(t *testing.T) {
	insert := func(marks string) string {
		return `{"stepType":"replace","from":10,"to":10,"slice":{"content":[{"type":"text","text":"by Friday","marks":[` + marks + `]}]}}`
	}
	for name, c := range map[string]struct {
		doc, step string
		may       bool
	}{
		"inserts in their own name":          {begins, insert(mine), true},
		"inserts without saying so":          {begins, insert(""), false},
		"inserts in another's name":          {begins, insert(theirs), false},
		"proposes that text goes":            {begins, `{"stepType":"addMark","from":10,"to":16,"mark":` + myEnd + `}`, true},
		"takes text away":                    {begins, `{"stepType":"replace","from":10,"to":16}`, false},
		"makes text bold":                    {begins, `{"stepType":"addMark","from":10,"to":16,"mark":{"type":"strong"}}`, false},
		"takes another's proposal away":      {between, `{"stepType":"replace","from":10,"to":14}`, false},
		"accepts another's proposal":         {between, `{"stepType":"removeMark","from":10,"to":14,"mark":` + theirs + `}`, false},
		"proposes within another's":          {between, `{"stepType":"replace","from":12,"to":12,"slice":{"content":[{"type":"text","text":"x","marks":[` + mine + `,` + theirs + `]}]}}`, true},
		"proposes that another's goes":       {between, `{"stepType":"addMark","from":10,"to":14,"mark":` + myEnd + `}`, true},
		"breaks a paragraph":                 {begins, `{"stepType":"replace","from":10,"to":10,"slice":{"content":[{"type":"paragraph"},{"type":"paragraph","marks":[` + mine + `]}],"openStart":1,"openEnd":1}}`, true},
		"breaks it without saying so":        {begins, `{"stepType":"replace","from":10,"to":10,"slice":{"content":[{"type":"paragraph"},{"type":"paragraph"}],"openStart":1,"openEnd":1}}`, false},
		"breaks it into something else":      {begins, `{"stepType":"replace","from":10,"to":10,"slice":{"content":[{"type":"paragraph"},{"type":"rule","marks":[` + mine + `]},{"type":"paragraph"}],"openStart":1,"openEnd":1}}`, false},
		"puts a paragraph of their own":      {begins, `{"stepType":"replace","from":36,"to":36,"slice":{"content":[{"type":"paragraph","marks":[` + mine + `],"content":[{"type":"text","text":"x","marks":[` + mine + `]}]}]}}`, true},
		"a paragraph of theirs, text not so": {begins, `{"stepType":"replace","from":36,"to":36,"slice":{"content":[{"type":"paragraph","marks":[` + mine + `],"content":[{"type":"text","text":"x"}]}]}}`, false},
		"lets a remark hold on to words":     {begins, `{"stepType":"addMark","from":10,"to":16,"mark":{"type":"remark","attrs":{"id":"r"}}}`, true},
		"lets another's remark go":           {held, `{"stepType":"removeMark","from":10,"to":14,"mark":{"type":"remark","attrs":{"id":"r"}}}`, false},
		"lets another's remark hold on more": {held, `{"stepType":"addMark","from":1,"to":14,"mark":{"type":"remark","attrs":{"id":"r"}}}`, false},
	} {
		t.Run(name, func(t *testing.T) {
			before := document(t, c.doc)
			after, err := applied(t, before, c.step)
			if err != nil {
				t.Fatal(err)
			}
			if err := richtext.ProposesOnly(before, after, "odile"); (err == nil) != c.may {
				t.Errorf("%v", err)
			}
		})
	}
}

// Who may only say something lets remarks hold on to words, and changes nothing else.
func TestARemarkerOnlyRemarks(t *testing.T) {
	for name, c := range map[string]struct {
		doc, step string
		may       bool
	}{
		"a remark holds on to words": {begins, `{"stepType":"addMark","from":10,"to":16,"mark":{"type":"remark","attrs":{"id":"r"}}}`, true},
		"another one beside it":      {held, `{"stepType":"addMark","from":1,"to":12,"mark":{"type":"remark","attrs":{"id":"s"}}}`, true},
		"one lets go":                {held, `{"stepType":"removeMark","from":10,"to":14,"mark":{"type":"remark","attrs":{"id":"r"}}}`, false},
		"words come":                 {begins, `{"stepType":"replace","from":10,"to":10,"slice":{"content":[{"type":"text","text":"x"}]}}`, false},
		"words come in a remark":     {begins, `{"stepType":"replace","from":10,"to":10,"slice":{"content":[{"type":"text","text":"x","marks":[{"type":"remark","attrs":{"id":"r"}}]}]}}`, false},
		"words go":                   {begins, `{"stepType":"replace","from":10,"to":16}`, false},
		"a proposal":                 {begins, `{"stepType":"addMark","from":10,"to":16,"mark":` + myEnd + `}`, false},
		"strong":                     {begins, `{"stepType":"addMark","from":10,"to":16,"mark":{"type":"strong"}}`, false},
	} {
		t.Run(name, func(t *testing.T) {
			before := document(t, c.doc)
			after, err := applied(t, before, c.step)
			if err != nil {
				t.Fatal(err)
			}
			if err := richtext.Remark.Allow(before, after, "odile"); (err == nil) != c.may {
				t.Errorf("%v", err)
			}
			if c.may && !before.Unremarked().Equal(after.Unremarked()) {
				t.Error("the words are not what they were")
			}
		})
	}
}

// Nobody puts a proposal in another's mouth; what somebody made may come back, when a decision is taken back.
func TestProposalsBearTheirMakersName(t *testing.T) {
	known := richtext.Proposals(document(t, between))
	if len(known) != 1 || known["b"] != "priya" {
		t.Fatalf("%v", known)
	}
	inserted := func(id, by string) string {
		return `{"stepType":"replace","from":10,"to":10,"slice":{"content":[{"type":"text","text":"x","marks":[{"type":"inserted","attrs":{"id":"` + id + `","by":"` + by + `"}}]}]}}`
	}
	for step, may := range map[string]bool{
		inserted("a", "odile"): true,
		inserted("b", "priya"): true,
		inserted("a", "priya"): false,
		inserted("b", "odile"): false,
		`{"stepType":"addMark","from":1,"to":3,"mark":` + theirs + `}`:                                                                                      true,
		`{"stepType":"addMark","from":1,"to":3,"mark":{"type":"deleted","attrs":{"id":"c","by":"priya"}}}`:                                                  false,
		`{"stepType":"addNodeMark","pos":0,"mark":{"type":"deleted","attrs":{"id":"c","by":"priya"}}}`:                                                      false,
		`{"stepType":"markSet","steps":[{"stepType":"addMark","from":1,"to":3,"mark":{"type":"deleted","attrs":{"id":"c","by":"priya"}}}]}`:                 false,
		`{"stepType":"removeMark","from":1,"to":3,"mark":{"type":"deleted","attrs":{"id":"c","by":"priya"}}}`:                                               true,
		`{"stepType":"replaceAround","from":0,"to":2,"gapFrom":1,"gapTo":1,"insert":1,"slice":{"content":[{"type":"paragraph","marks":[` + theirs + `]}]}}`: true,
	} {
		s, err := richtext.Written.ReadStep([]byte(step))
		if err != nil {
			t.Fatalf("%s: %v", step, err)
		}
		if err := richtext.InOwnName(s, "odile", known); (err == nil) != may {
			t.Errorf("%s: %v", step, err)
		}
	}
}

func TestWhoFillsOnlyFills(t *testing.T) {
	before := document(t, `[{"type":"paragraph","content":[{"type":"text","text":"Draught: "},{"type":"field","attrs":{"id":"f","kind":"number"}}]}]`)
	for step, may := range map[string]bool{
		`{"stepType":"attr","pos":10,"attr":"value","value":"4.2"}`:  true,
		`{"stepType":"attr","pos":10,"attr":"label","value":"x"}`:    false,
		`{"stepType":"replace","from":1,"to":2}`:                     false,
		`{"stepType":"attr","pos":10,"attr":"value","value":"4.20"}`: true,
	} {
		after, err := applied(t, before, step)
		if err != nil {
			t.Fatal(err)
		}
		if err := richtext.FillsOnly(before, after); (err == nil) != may {
			t.Errorf("%s: %v", step, err)
		}
	}
}

// Whatever is sent, there is a document that the schema allows, or a refusal.
func FuzzSteps(f *testing.F) {
	f.Add([]byte(`{"stepType":"replace","from":1,"to":4,"slice":{"content":[{"type":"paragraph"},{"type":"paragraph"}],"openStart":1,"openEnd":1}}`))
	f.Add([]byte(`{"stepType":"replaceAround","from":0,"to":6,"gapFrom":0,"gapTo":6,"insert":2,"slice":{"content":[{"type":"bullet_list","content":[{"type":"list_item"}]}]},"structure":true}`))
	f.Add([]byte(`{"stepType":"addMark","from":0,"to":12,"mark":{"type":"remark","attrs":{"id":"x"}}}`))
	f.Add([]byte(`{"stepType":"attr","pos":12,"attr":"done","value":true}`))
	doc := document(f, `[{"type":"paragraph","content":[{"type":"text","text":"a😀b"}]},{"type":"bullet_list","content":[{"type":"list_item","content":[{"type":"paragraph","content":[{"type":"text","text":"cd"}]}]}]},{"type":"table","content":[{"type":"table_row","content":[{"type":"table_cell","content":[{"type":"paragraph"}]}]}]},{"type":"code_block"}]`)
	f.Fuzz(func(t *testing.T, raw []byte) {
		s, err := richtext.Written.ReadStep(raw)
		if err != nil {
			return
		}
		carried, _ := richtext.Carry([]richtext.Step{s, s}, []richtext.StepMap{s.Map()}, doc)
		for _, c := range carried {
			if _, err := richtext.WriteStep(c); err != nil {
				t.Fatal(err)
			}
		}
		after, err := s.Apply(doc)
		if err != nil {
			return
		}
		if err := after.Check(); err != nil {
			t.Fatal(err)
		}
		out, err := json.Marshal(after)
		if err != nil {
			t.Fatal(err)
		}
		again, err := richtext.Written.Read(out)
		if err != nil || !again.Equal(after) {
			t.Fatalf("%s: %v", out, err)
		}
		_ = richtext.ProposesOnly(doc, after, "odile")
		_ = richtext.FillsOnly(doc, after)
	})
}

func TestWhatRemarksHoldOnTo(t *testing.T) {
	on := func(id, text string) string {
		return `{"type":"text","text":"` + text + `","marks":[{"type":"remark","attrs":{"id":"` + id + `"}}]}`
	}
	plain := func(text string) string { return `{"type":"text","text":"` + text + `"}` }
	held := richtext.HeldBy(document(t, `[{"type":"heading","attrs":{"level":1},"content":[`+plain("30 days, or  30")+`]},
		{"type":"paragraph","content":[`+plain("30 30 ")+`,`+on("a", "30 ")+`,`+plain("in ")+`,`+on("b", "all ")+`,{"type":"hard_break","marks":[{"type":"remark","attrs":{"id":"b"}}]},`+on("b", "of")+`]},
		{"type":"paragraph","content":[`+on("b", "it")+`,`+on("c", " ")+`]}]`))
	want := map[string]richtext.Held{"a": {Words: "30", Nth: 4}, "b": {Words: "all of it", Nth: 0}}
	if len(held) != len(want) || held["a"] != want["a"] || held["b"] != want["b"] {
		t.Errorf("%v", held)
	}
	var s richtext.Spaced
	s.Add(" aaa\n")
	s.Add("\t b")
	for at, nth := range []int{0, 1, 2} {
		if got := s.Find("a", nth); got != at {
			t.Errorf("the %d. is at %d", nth, got)
		}
	}
	if s.String() != "aaa b" || s.Find("a b", 0) != 2 || s.Find("a", 3) != -1 || s.Find("", 0) != -1 {
		t.Errorf("%q", s.String())
	}
}

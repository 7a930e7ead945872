package templates

import (
	"strings"
	"testing"

	"tabularis/core/fault"
)

func TestBlanks(t *testing.T) {
	words := func(text string) string {
		var all []string
		for _, b := range Blanks(text) {
			all = append(all, b.Word+"="+b.Of)
		}
		return strings.Join(all, ", ")
	}
	for text, want := range map[string]string{
		"Dear [[client]], on [[today]] … [[ Client ]]": "client=client, today=today",
		"Sehr geehrte [[Mandantin]], [[Kürzel]]":       "Mandantin=client, Kürzel=code",
		"[[port of  call]] and [[Port of call]]":       "port of  call=",
		"[[sign:B]] [client] [[]] [[ ]] [[a|b]]":       "",
		"[[[me]]]":                                     "me=me",
		"[[a\nb]]":                                     "",
		"[[" + strings.Repeat("x", 61) + "]]":          "",
	} {
		if got := words(text); got != want {
			t.Errorf("%q has %q, want %q", text, got, want)
		}
	}
	var many strings.Builder
	for range Most + 50 {
		many.WriteString("[[x" + strings.Repeat("y", many.Len()%50) + string(rune('a'+many.Len()%26)) + "]]")
	}
	if n := len(Blanks(many.String())); n > Most {
		t.Errorf("%d blanks", n)
	}
}

func TestFill(t *testing.T) {
	v := Values{"client": "A & B", "port of call": "Skerrow"}
	upper := func(s string) string { return strings.ReplaceAll(s, "&", "&amp;") }
	for text, want := range map[string]string{
		"[[Client]], [[port  of call]]; [[other]]": "A &amp; B, Skerrow; [[other]]",
		"no blanks": "no blanks", "": "", "[[client]][[client]]": "A &amp; BA &amp; B",
	} {
		if got := v.Fill(text, upper); got != want {
			t.Errorf("%q became %q", text, got)
		}
	}
	// What is filled in is not looked through again.
	if got := (Values{"a": "[[b]]", "b": "x"}).Fill("[[a]]", func(s string) string { return s }); got != "[[b]]" {
		t.Errorf("a value was filled itself: %q", got)
	}
}

func TestCheck(t *testing.T) {
	all := []Blank{{"Port", ""}}
	for name, v := range map[string]Values{"missing": {}, "empty": {"port": ""}, "a control": {"port": "a\x00"}, "long": {"port": strings.Repeat("x", Longest+1)}, "no text": {"port": "a\xff"}} {
		if err := v.Check(all); !fault.Is(err, fault.Invalid) {
			t.Errorf("%s: %v", name, err)
		}
	}
	if err := (Values{"port": "a\nb", "more": "x"}).Check(all); err != nil {
		t.Error(err)
	}
}

// However a text is cut by blanks, what is not a blank stays byte by byte.
func FuzzFill(f *testing.F) {
	f.Add("a [[x]] b", "v")
	f.Fuzz(func(t *testing.T, text, value string) {
		v := Values{"x": value}
		rest := v.Fill(text, func(string) string { return "" })
		var kept strings.Builder
		at := 0
		for _, s := range v.Spans(text) {
			if s.From < at || s.To <= s.From || s.To > len(text) {
				t.Fatalf("%q has the span %+v", text, s)
			}
			kept.WriteString(text[at:s.From])
			at = s.To
		}
		if kept.String()+text[at:] != rest {
			t.Errorf("%q became %q", text, rest)
		}
	})
}

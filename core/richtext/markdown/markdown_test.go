package markdown

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"tabularis/core/richtext"
)

// corpus are files as people write them; each means the same after it was opened,
// written and opened again.
var corpus = map[string]string{
	"letter":     "# Survey letter\n\nWe gauged the port side shell between frames 18 and 44.\nAt frame 31 we measured **6.9 mm** of *10.0 mm*.\n\n> Name the strake.\n\nYours sincerely\\\nInes Okafor\n",
	"lists":      "- one\n- two\n  - inner\n  - more\n\n1. first\n2. second\n\n   with a paragraph\n\n- [x] gauged\n- [ ] coated\n",
	"twoLists":   "- one\n\n<!-- -->\n\n- other\n",
	"startsAt":   "7. seven\n8. eight\n",
	"table":      "| Frame | Was | Is |\n|---|--:|:-:|\n| 31 | 10.0 | **6.9** |\n| 32 | 10.0 | a \\| b |\n",
	"headless":   "| | |\n|---|---|\n| a | b |\n",
	"lines":      "| a |\n|---|\n| one<br>two |\n",
	"code":       "```go\na := 1\n\n```` b\n```\n\n    indented\n\nUse `a | b` and ``c ` d``.\n",
	"links":      "See [the yard](https://yard.example/a_b?c=1&d=2 \"The \\\"yard\\\"\") or <https://yard.example> or [mail](mailto:m.juhl@yard.example).\n",
	"picture":    "![Frame 31](frame-31.png \"port\")\n",
	"notes":      "Diminution of 31.0 %.[^1] And more.[^b]\n\n[^1]: See 4.2, **third** table.\n[^b]: Twice.\n",
	"struck":     "~~before~~ after ***both*** **strong *and* slanted**\n",
	"signs":      "1\\. no list\n\n\\# no heading\n\n\\- no item\n\na * b _c_ d__e__ snake_case_name 2 < 3 && 4 &amp;amp; \\\\ \\` \\[x\\] \\~\\~\n",
	"html":       "<div>\nraw\n</div>\n\ninline <b>tags</b> &copy; &#8364;\n",
	"rule":       "above\n\n---\n\nbelow\n\n***\n",
	"bidi":       "\u200fשלום\u200e 😀 𝒳 e\u0301\n",
	"empty":      "",
	"whitespace": "a\n\n&nbsp;\n\n&#32;&#32;b\n",
	"deep":       strings.Repeat(">", 300) + " deep\n",
	"setext":     "Title\n=====\n\nOther\n---\n",
	"bad bytes":  "a\xff\xfeb\x00c\r\nd\n",
	"danger":     "[press](javascript:alert(1)) ![x](data:text/html,1) [ok](#below)\n",
	"wide":       strings.Repeat("| a ", 500) + "|\n" + strings.Repeat("|---", 500) + "|\n" + strings.Repeat("| b ", 500) + "|\n",
	"fields":     "# Instruction\n\nBerth: <input name=\"berth\" type=\"text\" aria-label=\"Berth or yard\" title=\"quay, berth\" required>\n\n<input name=\"afloat\" data-choices=\"afloat&#10;ashore&#10;a|b &quot;c&quot; `d`\" aria-label=\"Afloat?\" value=\"ashore\">\n\n| Length | <input name=l type=number min=3 max='60.5'> m |\n|---|---|\n| Day | <input name=\"day\" type=\"date\" min=\"+2\"><input type=checkbox name=ok checked> |\n\n- <input name=\"alone\">\n\n<input type=\"file\" name=\"x\">\n\na <input type=submit name=y> <input> b\n",
	"tight":      "foo**bar.**baz *a*b **c**d\n",
}

func opened(t *testing.T, source string) *richtext.Node {
	t.Helper()
	doc, err := Read([]byte(source))
	if err != nil {
		t.Fatalf("%q: %v", source, err)
	}
	if err := doc.Check(); err != nil {
		t.Fatalf("%q: %v", source, err)
	}
	return doc
}

// What a program put into a word document, and was pasted from there, is named.
func TestWhatIsKeptIsNamed(t *testing.T) {
	doc, err := richtext.Written.Read([]byte(`{"type":"doc","content":[{"type":"paragraph","content":[{"type":"text","text":"page "},{"type":"kept","attrs":{"id":"a","kind":"field","label":"4 *of* 9"}},{"type":"kept","attrs":{"id":"b","kind":"picture"}}]},{"type":"kept_block","attrs":{"id":"c","kind":"contents","label":"# 1 Services"}}]}`))
	if err != nil {
		t.Fatal(err)
	}
	text, err := Write(doc)
	if want := "page 4 \\*of\\* 9…\n\n\\# 1 Services\n"; err != nil || text != want {
		t.Errorf("%q, %v; wanted %q", text, err, want)
	}
}

func TestFilesMeanTheSameAfterWriting(t *testing.T) {
	for name, source := range corpus {
		t.Run(name, func(t *testing.T) {
			doc := opened(t, source)
			out, err := Write(doc)
			if err != nil {
				t.Fatal(err)
			}
			if again := opened(t, out); !again.Equal(doc) {
				a, _ := json.Marshal(doc)
				b, _ := json.Marshal(again)
				t.Errorf("written as\n%s\nwas %s\n is %s", out, a, b)
			}
			if twice, _ := Write(opened(t, out)); twice != out {
				t.Errorf("written twice:\n%s\nthen\n%s", out, twice)
			}
		})
	}
}

// What is read is written as one would write it by hand.
func TestWhatIsWrittenIsReadable(t *testing.T) {
	for source, want := range map[string]string{
		corpus["letter"]: "# Survey letter\n\nWe gauged the port side shell between frames 18 and 44. At frame 31 we measured **6.9 mm** of *10.0 mm*.\n\n> Name the strake.\n\nYours sincerely\\\nInes Okafor\n",
		"snake_case and 5 * 3, MER-24/047, 10.0 mm - 3.1 = 6.9": "snake_case and 5 \\* 3, MER-24/047, 10.0 mm - 3.1 = 6.9\n",
		"- [x] a\n- [ ] b\n": "- [x] a\n- [ ] b\n",
	} {
		if got, _ := Write(opened(t, source)); got != want {
			t.Errorf("got\n%s\nwant\n%s", got, want)
		}
	}
}

// Any text with any marks is in the file, character by character.
func TestNoWordIsLost(t *testing.T) {
	letters := []rune("ab 1.-#>*_`~[]()!<>&;|\\=+:\"'😀é\tצ{}$%^/")
	for seed := range 3000 {
		r := rand.New(rand.NewPCG(1, uint64(seed)))
		var content []any
		for range 1 + r.IntN(4) {
			var text []rune
			for range 1 + r.IntN(6) {
				text = append(text, letters[r.IntN(len(letters))])
			}
			var marks []any
			if r.IntN(3) == 0 {
				marks = append(marks, object{"type": "link", "attrs": object{"href": "https://yard.example/(a)_b"}})
			}
			for _, m := range []string{"strong", "em", "struck", "code"} {
				if r.IntN(4) == 0 {
					marks = append(marks, object{"type": m})
				}
			}
			content = append(content, object{"type": "text", "text": string(text), "marks": marks})
		}
		kind := []any{"paragraph", "heading"}[r.IntN(2)]
		raw, _ := json.Marshal(object{"type": "doc", "content": []any{object{"type": kind, "content": content}}})
		doc, err := richtext.Written.Read(raw)
		if err != nil {
			t.Fatal(err)
		}
		out, err := Write(doc)
		if err != nil {
			t.Fatal(err)
		}
		again := opened(t, out)
		if got, want := strings.TrimRight(again.Plain(), " "), strings.TrimRight(doc.Plain(), " "); got != want {
			t.Fatalf("%s\nwritten as %q\ngot  %q\nwant %q", raw, out, got, want)
		}
	}
}

func FuzzRead(f *testing.F) {
	for _, source := range corpus {
		f.Add([]byte(source))
	}
	f.Fuzz(func(t *testing.T, source []byte) {
		if len(source) > 1<<16 {
			return
		}
		doc, err := Read(source)
		if err != nil {
			t.Fatalf("%q: %v", source, err)
		}
		out, err := Write(doc)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := Read([]byte(out)); err != nil {
			t.Fatal(fmt.Sprintf("%q", out), err)
		}
	})
}

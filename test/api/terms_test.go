package api_test

import (
	"strings"
	"testing"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(*office) []endpoint {
		return []endpoint{{"POST", "/terms/read", "", contract.TypedText{Text: "once"}, self}}
	})
}

// What is typed is read by the practice's clock, whoever types; what is too long or no
// text is refused.
func TestTypedTermsAreRead(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	read := func(text string) contract.TypedTerms {
		t.Helper()
		return testkit.Post[contract.TypedTerms](w.luca, 200, "/api/terms/read", contract.TypedText{Text: text})
	}
	got := read("5 Downloads, password, nur für dunlin.example, tomorrow 9:30")
	if *got.Downloads != 5 || !got.HasPassword || (*got.Allowed)[0] != "dunlin.example" || !got.Understood || got.Until.In(w.Now().Location()).Before(w.Now()) {
		t.Errorf("%+v", got)
	}
	got = read("wonce <b>\x00 \u202e‮")
	if got.Understood || got.Openings != nil {
		t.Errorf("%+v", got)
	}
	whole := ""
	for _, p := range got.Pieces {
		whole += p.Text
	}
	if !strings.Contains(whole, "<b>") {
		t.Errorf("the pieces are %q", whole)
	}
	if got := read(""); len(got.Pieces) != 0 || !got.Understood {
		t.Errorf("nothing is %+v", got)
	}
	w.luca.Want(400, "POST", "/api/terms/read", contract.TypedText{Text: strings.Repeat("a", 1001)})
	w.luca.Want(400, "POST", "/api/terms/read", map[string]any{"text": 5})
	w.Visitor().Want(401, "POST", "/api/terms/read", contract.TypedText{Text: "once"})
}

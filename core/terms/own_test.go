package terms

import (
	"testing"
	"time"

	"tabularis/core/fault"
	"tabularis/core/linkgate"
)

var insurers = []Own{{"As for insurers", "two weeks, password, ohne Download, stated"}}

// A name that the practice gave to terms means these, where nothing else is said,
// wherever it stands.
func TestOwnTermsAreRead(t *testing.T) {
	v := in("en")
	for _, text := range []string{"as for insurers", "As for  INSURERS, 5 openings", "until 3 December, as for insurers"} {
		r := ReadOwn(text, v, insurers)
		if !r.Understood() || !r.Password || r.ViewOnly == nil || !*r.ViewOnly || r.Identify == nil || *r.Identify != linkgate.Stated || r.Until == nil {
			t.Errorf("%s: %+v", text, r)
		}
	}
	if r := ReadOwn("5 openings, as for insurers", v, insurers); *r.Openings != 5 {
		t.Errorf("%+v", r)
	}
	// What is said beside it holds, before and after it.
	for _, text := range []string{"as for insurers, tomorrow, code", "code, tomorrow, as for insurers"} {
		if r := ReadOwn(text, v, insurers); *r.Identify != linkgate.Confirmed || r.Until.Sub(v.Now) > 48*time.Hour {
			t.Errorf("%s: %+v", text, r)
		}
	}
	if r := ReadOwn("as for insurers, as for insurers", v, insurers); r.Pieces[2].Why != Twice {
		t.Errorf("said twice: %+v", r.Pieces)
	}
	if r := ReadOwn("as", v, insurers); len(r.Completions) == 0 || r.Completions[0] != "As for insurers" {
		t.Errorf("it goes on with %v", r.Completions)
	}
	if got := Read("a week, only for dunlin.example", v).Terms(); got.Kind != linkgate.HandOut || got.Identify != linkgate.Confirmed || !got.MayDownload || got.Tell != linkgate.TellNever {
		t.Errorf("%+v", got)
	}
}

func TestCheckOwn(t *testing.T) {
	v := in("en")
	if all, err := CheckOwn("named", []Own{{"  as for insurers ", "bis Freitag, Passwort"}}, v); err != nil || all[0].Name != "as for insurers" {
		t.Errorf("%v %v", all, err)
	}
	for name, c := range map[string]struct {
		own  []Own
		code string
	}{
		"no name":                    {[]Own{{" ", "once"}}, "own-terms-name"},
		"a name of commas":           {[]Own{{",;", "once"}}, "own-terms-name"},
		"a name that is a term":      {[]Own{{"Friday", "once"}}, "own-terms-name"},
		"a name given twice":         {[]Own{{"yard", "once"}, {"YARD", "twice"}}, "own-terms-name"},
		"a name on two lines":        {[]Own{{"yard\nyard", "once"}}, "name-length"},
		"words that mean nothing":    {[]Own{{"yard", "wonce"}}, "own-terms-words"},
		"no words":                   {[]Own{{"yard", ""}}, "own-terms-words"},
		"only words between terms":   {[]Own{{"yard", "and with"}}, "own-terms-words"},
		"a day that goes by":         {[]Own{{"yard", "until 4 December 2026"}}, "own-terms-words"},
		"the name of one link alone": {[]Own{{"yard", `"Draft", once`}}, "own-terms-words"},
		"contradicting words":        {[]Own{{"yard", "download, no download"}}, "own-terms-words"},
		"too many":                   {make([]Own, 21), "own-terms-count"},
	} {
		if _, err := CheckOwn("named", c.own, v); fault.Of(err).Code != c.code {
			t.Errorf("%s: %v", name, err)
		}
	}
}

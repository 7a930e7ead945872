package register

import "testing"

func TestRefsSurviveWritingAndReading(t *testing.T) {
	for _, c := range []struct{ in, want string }{
		{"MER-24/017", "MER-24/017"}, {"mer-24/17", "MER-24/017"}, {"HR/1234", "HR/1234"}, {" AUR-03 / 2", "AUR-03/002"},
	} {
		r, err := Parse(c.in)
		if err != nil || r.String() != c.want {
			t.Errorf("%q: got %s, %v", c.in, r, err)
		}
	}
	for _, bad := range []string{"", "MER-24", "MER-24/", "MER-24/0", "MER-24/-1", "24/1", "MER-24/x", "MER-24/99999999999", "../etc/1"} {
		if _, err := Parse(bad); err == nil {
			t.Errorf("%q was accepted", bad)
		}
	}
}

func TestCode(t *testing.T) {
	for in, ok := range map[string]bool{"MER-24": true, "hr": true, "HR-02": true, "M": false, "MER 24": false, "MER-24-1": false, "TOOLONGCODE": false, "ÄB-1": false} {
		if _, err := Code("code", in); (err == nil) != ok {
			t.Errorf("%q: %v", in, err)
		}
	}
}

func FuzzParse(f *testing.F) {
	f.Add("MER-24/017")
	f.Add("a/1")
	f.Fuzz(func(t *testing.T, s string) {
		r, err := Parse(s)
		if err != nil {
			return
		}
		again, err := Parse(r.String())
		if err != nil || again != r {
			t.Fatalf("%q reads as %v, which reads as %v, %v", s, r, again, err)
		}
	})
}

// Numbers are decimal, however many zeros stand before them.
func TestTyped(t *testing.T) {
	for typed, want := range map[string]Ref{
		"MER-24/029": {"MER-24", 29}, "mer-24/27": {"MER-24", 27}, " mer-24 / 0008 ": {"MER-24", 8}, "/031": {"", 31},
		"029": {"", 29}, "010": {"", 10}, "9": {"", 9}, "KIR12/1": {"KIR12", 1},
	} {
		if got, ok := Typed(typed); !ok || got != want {
			t.Errorf("%q is %v, %v", typed, got, ok)
		}
	}
	for _, typed := range []string{"", "/", "MER-24/", "MER-24", "0", "000", "-3", "0x1f", "2.9", "1e3", "99999999999", "29 31", "report 29", "MER-24/29/1", "٢٩", "MER 24/29"} {
		if got, ok := Typed(typed); ok {
			t.Errorf("%q is taken for %v", typed, got)
		}
	}
}

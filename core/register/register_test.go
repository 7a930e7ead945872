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

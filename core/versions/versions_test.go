package versions

import "testing"

func TestPlace(t *testing.T) {
	there := &Standing{SHA256: "a"}
	for _, c := range []struct {
		name  string
		there *Standing
		sha   string
		apart bool
		want  Outcome
	}{
		{"free name", nil, "a", false, NewDocument},
		{"free name, kept apart", nil, "a", true, NewDocument},
		{"other content", there, "b", false, NewVersion},
		{"same content", there, "a", false, Unchanged},
		{"kept apart", there, "b", true, Apart},
		{"kept apart with the same content", there, "a", true, Apart},
	} {
		if got := Place(c.there, c.sha, c.apart); got != c.want {
			t.Errorf("%s: %s, want %s", c.name, got, c.want)
		}
	}
}

func TestSeparating(t *testing.T) {
	all := []Version{{Number: 1, Removed: false}, {Number: 2, Removed: true}, {Number: 3, Removed: false}}
	if Counting(all) != 3 || Counting(nil) != 0 {
		t.Error("the highest that is not removed counts")
	}
	for n, want := range map[int]bool{3: true, 2: false, 1: false, 9: false} {
		if MaySeparate(all, n) != want {
			t.Errorf("version %d: %v", n, !want)
		}
	}
	if MaySeparate([]Version{{Number: 1, Removed: false}}, 1) {
		t.Error("the only version cannot be separated")
	}
}

package transfers

import (
	"strings"
	"testing"
	"time"

	"tabularis/core/fault"
	"tabularis/core/names"
)

func TestAnnounce(t *testing.T) {
	got, err := Announce([]File{{"Scan.e57", 5}, {"scan.E57", 0}, {" Tank 4.mp4 ", 9}}, []string{"Tank 4.mp4"}, 9)
	if err != nil {
		t.Fatal(err)
	}
	seen := map[string]bool{names.Key("Tank 4.mp4"): true}
	for _, f := range got {
		if key := names.Key(f.Name); seen[key] {
			t.Errorf("%q is there twice", f.Name)
		} else {
			seen[key] = true
		}
	}
	if got[0].Name != "Scan.e57" || got[0].Size != 5 || got[2].Name == "Tank 4.mp4" {
		t.Errorf("%v", got)
	}
	for what, files := range map[string][]File{
		"no name": {{"", 1}}, "a slash": {{"a/b", 1}}, "a direction": {{"a\u202eb", 1}}, "no UTF-8": {{"\xff", 1}}, "too large": {{"a", 10}}, "no size": {{"a", -1}},
		"too many": make([]File, MostFiles), "too long": {{strings.Repeat("x", 256), 1}},
	} {
		if _, err := Announce(files, []string{"there"}, 9); err == nil {
			t.Errorf("%s is taken", what)
		}
	}
	if err := Some(0); !fault.Is(err, fault.Invalid) {
		t.Errorf("a transfer of nothing: %v", err)
	}
}

func TestTellDays(t *testing.T) {
	for days, want := range map[int]int{0: UsualTellDays, 1: 1, MostTellDays: MostTellDays, -1: -1, MostTellDays + 1: -1} {
		if got, err := TellDays(days); (err == nil) != (want > 0) || err == nil && got != want {
			t.Errorf("%d days: %d %v", days, got, err)
		}
	}
}

// Hour by hour: each is told once, at its time, and nobody who has nothing to be told.
func TestWhoIsToldWhen(t *testing.T) {
	told := time.Date(2026, 11, 19, 15, 20, 0, 0, time.UTC)
	until := told.AddDate(0, 0, 7)
	run := func(r Recipient) (missed, warned []int) {
		for h := range 24 * 9 {
			now := told.Add(time.Duration(h) * time.Hour)
			if r.Misses(3, now) {
				missed, r.Missed = append(missed, h), &now
			}
			if r.Warns(2, until, now) {
				warned, r.Warned = append(warned, h), &now
			}
		}
		return missed, warned
	}
	for what, c := range map[string]struct {
		r              Recipient
		missed, warned int
	}{
		"nothing fetched":   {Recipient{Told: told}, 72, 144},
		"one of two":        {Recipient{Told: told, Files: 1, Begun: 2}, -1, 144},
		"all":               {Recipient{Told: told, Files: 2, Begun: 2}, -1, -1},
		"told a day before": {Recipient{Told: until.Add(-20 * time.Hour)}, -2, -1},
	} {
		missed, warned := run(c.r)
		for _, w := range []struct {
			got  []int
			want int
		}{{missed, c.missed}, {warned, c.warned}} {
			if w.want >= 0 && (len(w.got) != 1 || w.got[0] != w.want) || w.want == -1 && len(w.got) != 0 {
				t.Errorf("%s: missed %v, warned %v", what, missed, warned)
			}
		}
	}
}

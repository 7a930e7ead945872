package storage

import (
	"testing"

	"tabularis/core/fault"
)

func TestTake(t *testing.T) {
	most := func(n int64) *int64 { return &n }
	none := Share{Used: 1 << 50}
	for name, c := range map[string]struct {
		s    Shares
		size int64
		code string
		left *int64
	}{
		"without limits":               {Shares{none, none, none}, 1 << 40, "", nil},
		"just fits":                    {Shares{Share{600, 300, most(1000)}, none, none}, 100, "", most(100)},
		"one byte too many":            {Shares{Share{600, 300, most(1000)}, none, none}, 101, "practice-full", most(100)},
		"nothing fits always":          {Shares{Share{1000, 500, most(1000)}, none, none}, 0, "", most(0)},
		"the dossier's":                {Shares{Share{0, 0, most(1000)}, Share{90, 0, most(100)}, none}, 11, "dossier-full", most(10)},
		"the person's":                 {Shares{none, Share{90, 0, most(100)}, Share{95, 0, most(100)}}, 6, "person-full", most(5)},
		"the practice's is said first": {Shares{Share{9, 0, most(9)}, Share{9, 0, most(9)}, Share{9, 0, most(9)}}, 1, "practice-full", most(0)},
	} {
		err := c.s.Take(c.size)
		if (c.code == "") != (err == nil) || err != nil && (fault.Of(err).Code != c.code || fault.Of(err).Kind != fault.NoSpace) {
			t.Errorf("%s: %v", name, err)
		}
		if left := c.s.Left(); (left == nil) != (c.left == nil) || left != nil && *left != *c.left {
			t.Errorf("%s: %v are left", name, left)
		}
		if limited := c.left != nil; c.s.Limited() != limited {
			t.Errorf("%s: limited %v", name, !limited)
		}
	}
	if Check("x", nil) != nil || Check("x", most(1)) != nil || !fault.Is(Check("x", most(0)), fault.Invalid) || !fault.Is(Check("x", most(-1)), fault.Invalid) {
		t.Error("limits are checked wrongly")
	}
}

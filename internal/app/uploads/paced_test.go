package uploads

import (
	"errors"
	"strings"
	"testing"
	"time"
)

func TestUploadsKeepAPace(t *testing.T) {
	for name, c := range map[string]struct {
		ago  time.Duration
		size int
		slow bool
	}{
		"just begun": {0, 1, false}, "getting going": {start - time.Second, 1, false}, "a byte now and then": {10 * time.Minute, 10, true}, "slow but steady": {10 * time.Minute, 8 * 60 * pace, false},
	} {
		p := newPaced(strings.NewReader(strings.Repeat("x", c.size)))
		p.begun = p.begun.Add(-c.ago)
		n, err := p.Read(make([]byte, c.size))
		if n != c.size || errors.Is(err, errSlow) != c.slow {
			t.Errorf("%s: %d bytes, %v", name, n, err)
		}
	}
}

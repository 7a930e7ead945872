package linkgate

import (
	"math/rand/v2"
	"testing"
	"time"
)

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

func moment(h int) *time.Time { t := noon.Add(time.Duration(h) * time.Hour); return &t }
func n(i int) *int            { return &i }

func TestDecide(t *testing.T) {
	open := Terms{MayDownload: true}
	cases := []struct {
		name  string
		terms Terms
		use   Use
		try   Attempt
		want  Verdict
	}{
		{"arriving consumes nothing", open, Use{}, Attempt{Act: Arrive}, Verdict{Allowed: true}},
		{"arriving with the right password consumes nothing", Terms{Password: true}, Use{}, Attempt{Act: Arrive, Password: PasswordRight}, Verdict{Allowed: true}},
		{"pressing Show opens", open, Use{}, Attempt{Act: Open}, Verdict{Allowed: true, Opens: true}},
		{"Show again in the same visit counts nothing", open, Use{Openings: 1}, Attempt{Act: Open, Visiting: true}, Verdict{Allowed: true}},
		{"password missing", Terms{Password: true}, Use{}, Attempt{Act: Open}, refuse(NeedsPassword)},
		{"password wrong", Terms{Password: true}, Use{}, Attempt{Act: Open, Password: PasswordWrong}, refuse(WrongPassword)},
		{"password right", Terms{Password: true}, Use{}, Attempt{Act: Open, Password: PasswordRight}, Verdict{Allowed: true, Opens: true}},
		{"a stray password does no harm", open, Use{}, Attempt{Act: Open, Password: PasswordWrong}, Verdict{Allowed: true, Opens: true}},
		{"last opening", Terms{Openings: n(3)}, Use{Openings: 2}, Attempt{Act: Open}, Verdict{Allowed: true, Opens: true}},
		{"used up", Terms{Openings: n(3)}, Use{Openings: 3}, Attempt{Act: Open}, refuse(UsedUp)},
		{"used up, arriving", Terms{Openings: n(3)}, Use{Openings: 3}, Attempt{Act: Arrive}, refuse(UsedUp)},
		{"used up, but this visit is in", Terms{Openings: n(1)}, Use{Openings: 1}, Attempt{Act: Read, Visiting: true}, Verdict{Allowed: true}},
		{"used up tells nothing about the password", Terms{Openings: n(1), Password: true}, Use{Openings: 1}, Attempt{Act: Open, Password: PasswordWrong}, refuse(UsedUp)},
		{"reading without having opened", open, Use{}, Attempt{Act: Read}, refuse(NeedsOpening)},
		{"fetching", open, Use{}, Attempt{Act: Fetch, Visiting: true}, Verdict{Allowed: true, Downloads: true}},
		{"fetching where only looking is allowed", Terms{}, Use{}, Attempt{Act: Fetch, Visiting: true}, refuse(ViewOnly)},
		{"downloads used up", Terms{MayDownload: true, Downloads: n(2)}, Use{Downloads: 2}, Attempt{Act: Fetch, Visiting: true}, refuse(DownloadsUsedUp)},
		{"not yet", Terms{NotBefore: moment(1)}, Use{}, Attempt{Act: Open}, refuse(NotYet)},
		{"from this moment on", Terms{NotBefore: moment(0)}, Use{}, Attempt{Act: Arrive}, Verdict{Allowed: true}},
		{"over exactly now", Terms{Until: moment(0)}, Use{}, Attempt{Act: Arrive}, refuse(Expired)},
		{"over, in the middle of a visit", Terms{Until: moment(-1)}, Use{}, Attempt{Act: Read, Visiting: true}, refuse(Expired)},
		{"ended by the sender, in the middle of a visit", open, Use{Ended: true}, Attempt{Act: Fetch, Visiting: true}, refuse(Ended)},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			c.try.At = noon
			if got := Decide(c.terms, c.use, c.try); got != c.want {
				t.Errorf("got %+v, want %+v", got, c.want)
			}
		})
	}
}

// Whatever comes in whatever order, no more visits are let in than openings
// were given, and a dead link lets nobody do anything.
func TestLimitsHoldOverRandomHistories(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 11))
	for range 2000 {
		limit := r.IntN(4)
		terms := Terms{Openings: &limit, Password: r.IntN(2) == 0, MayDownload: r.IntN(2) == 0, Until: moment(r.IntN(6))}
		var use Use
		visits := make([]bool, 5)
		let := 0
		for step := range 40 {
			v := r.IntN(len(visits))
			a := Attempt{Act: Act(r.IntN(4)), Password: Password(r.IntN(3)), Visiting: visits[v], At: noon.Add(time.Duration(step) * 10 * time.Minute)}
			d := Decide(terms, use, a)
			if d.Allowed && (use.Ended || !a.At.Before(*terms.Until)) {
				t.Fatalf("a dead link allowed %+v", a)
			}
			if d.Allowed && a.Act >= Read && !visits[v] {
				t.Fatalf("%+v was allowed without an opening", a)
			}
			if !d.Allowed && d.Reason == None || d.Allowed && d.Reason != None {
				t.Fatalf("verdict %+v contradicts itself", d)
			}
			if d.Opens {
				use.Openings++
				visits[v] = true
				let++
			}
			use.Ended = use.Ended || r.IntN(60) == 0
		}
		if let > limit {
			t.Fatalf("%d visits were let in under a limit of %d", let, limit)
		}
	}
}

func TestWait(t *testing.T) {
	last := time.Duration(0)
	for i := range 40 {
		w := Wait(i)
		if i < 3 && w != 0 {
			t.Errorf("after %d wrong ones: waits %s", i, w)
		}
		if w < last || w > 5*time.Minute {
			t.Errorf("after %d wrong ones: %s after %s", i, w, last)
		}
		last = w
	}
	if last != 5*time.Minute {
		t.Errorf("the longest wait is %s", last)
	}
}

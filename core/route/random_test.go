package route

import (
	"math/rand/v2"
	"strconv"

	"github.com/google/uuid"
)

type random struct{ *rand.Rand }

func seeded(seed uint64) random { return random{rand.New(rand.NewPCG(seed, 17))} }

func pick[T any](r random, all ...T) T { return all[r.IntN(len(all))] }

func (r random) test() *Test {
	switch r.IntN(6) {
	case 0:
		return &Test{Of: OfParticular, Particular: ref(estimate), Is: pick(r, AtLeast, Under, Is, IsNot), Value: strconv.Itoa(r.IntN(3))}
	case 1:
		return &Test{Of: OfParticular, Particular: ref(estimate), Is: pick(r, IsSet, NotSet)}
	case 2:
		return &Test{Of: OfParticular, Particular: ref(survey), Is: pick(r, AtLeast, Under), Value: pick(r, "2026-01-01", "2026-01-02", "2026-01-04")}
	case 3:
		return &Test{Of: OfParticular, Particular: ref(state), Is: pick(r, Is, IsNot), Value: pick(r, "afloat", "in dock")}
	case 4:
		return &Test{Of: OfReach, Is: pick(r, Is, IsNot), Value: pick(r, "closed", "open")}
	}
	return &Test{Of: OfTag, Tag: ref(urgent), Is: pick(r, IsSet, NotSet)}
}

func (r random) condition(depth int) *Condition {
	kind := r.IntN(4)
	if depth == 0 || kind == 0 {
		return &Condition{Test: r.test()}
	}
	if kind == 1 {
		return &Condition{Not: r.condition(depth - 1)}
	}
	both := []Condition{*r.condition(depth - 1), *r.condition(depth - 1)}
	if kind == 2 {
		return &Condition{All: both}
	}
	return &Condition{Any: both}
}

// everything are documents of all sorts that random conditions tell apart.
func everything() (all []Facts) {
	for _, amount := range []string{"", "-1", "0", "0.5", "1", "1.5", "2", "2.5"} {
		for _, day := range []string{"", "2025-12-31", "2026-01-01", "2026-01-02", "2026-01-03", "2026-01-04", "2026-01-05"} {
			for _, choice := range []string{"", "afloat", "in dock"} {
				for _, reach := range []string{"closed", "named", "open"} {
					for _, tags := range [][]uuid.UUID{nil, {id(urgent)}} {
						f := Facts{Particulars: map[uuid.UUID]string{}, Reach: reach, Tags: tags, Dossier: "client"}
						for p, v := range map[byte]string{estimate: amount, survey: day, state: choice} {
							if v != "" {
								f.Particulars[id(p)] = v
							}
						}
						all = append(all, f)
					}
				}
			}
		}
	}
	return all
}

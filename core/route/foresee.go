package route

import (
	"time"

	"github.com/google/uuid"
)

// Foresee says who would be asked at a stop of a run that begins now, and until when each has time, if
// everybody took all of theirs.
func Foresee(d Definition, w World, c Content, author, starter uuid.UUID) (asked []Asked, end time.Time) {
	m := Machine{Definition: d, World: w}
	m.Start(c, author, &starter, "")
	asked = append(asked, m.Run.Asked...)
	for m.Run.Status == Going && m.Run.At.Stop == 0 {
		waiting := m.Run.Waiting()
		if len(waiting) == 0 {
			break
		}
		one := waiting[0]
		for i := range asked {
			if asked[i].Person == one.Person {
				asked[i].Due = one.Due
			}
		}
		if end.Before(one.Due) {
			end = one.Due
		}
		if one.Due.After(m.World.Now) {
			m.World.Now = one.Due
		}
		if m.Decide(Said{Person: one.Person, Verdict: Agrees, Content: c}, "") != nil {
			break
		}
	}
	return asked, end
}

package api_test

import (
	"testing"
	"time"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	apart["PUT /today/look"] = "one's own: TestWhatIsNewSinceOneLooked"
}

// What is new is counted since one looked before, by dossier; what one looks at again soon is
// the same look. What one works on is there.
func TestWhatIsNewSinceOneLooked(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	look := func(c *testkit.Client) contract.Today {
		t.Helper()
		d := testkit.Get[contract.Today](c, "/api/today")
		event := int64(0)
		if len(d.News) > 0 {
			event = d.News[0].Id
		}
		c.Want(204, "PUT", "/api/today/look", contract.LookAtTodayJSONBody{Event: event})
		return d
	}
	if d := look(o.luca); d.Since != nil {
		t.Errorf("at first it is new since %+v", d.Since)
	}
	o.Later(time.Hour)
	o.hanne.Upload(o.reports, "", "one.txt", []byte("1"))
	secret := o.hanne.Upload(o.reports, "", "secret.txt", []byte("1")).Document.Id
	o.hanne.Want(204, "PUT", "/api/items/"+secret.String()+"/closed", contract.Closed{Closed: true})
	mine := o.luca.Upload(o.yard, "", "mine.txt", []byte("2"))
	first := look(o.luca)
	if first.Since == nil || first.Since.Dossiers["MER-24"] != 1 || first.Since.More {
		t.Errorf("since then it is %+v", first.Since)
	}
	if len(first.Work) == 0 || first.Work[0].Place.Id != mine.Document.Id {
		t.Errorf("he works on %+v", first.Work)
	}
	o.Later(10 * time.Minute)
	if again := look(o.luca); again.Since.Dossiers["MER-24"] != 1 || !again.Since.At.Equal(first.Since.At) {
		t.Errorf("once more it is %+v", again.Since)
	}
	o.Later(time.Hour)
	if later := look(o.luca); len(later.Since.Dossiers) != 0 {
		t.Errorf("an hour later it is %+v", later.Since)
	}
	o.deletes(o.luca, mine.Document.Id)
	for _, w := range look(o.luca).Work {
		if w.Place.Id == mine.Document.Id {
			t.Error("what is deleted is still worked on")
		}
	}
	o.tomasz.Want(400, "PUT", "/api/today/look", map[string]any{"event": -1})
}

package dossiers

import (
	"encoding/base64"
	"testing"

	"github.com/google/uuid"
)

// A cursor that did not come from us is refused, never used.
func FuzzPosition(f *testing.F) {
	by := uuid.NewString()
	cursor := func(order, key string) string {
		return base64.RawURLEncoding.EncodeToString([]byte(`{"Order":"` + order + `","Key":"` + key + `","ID":"` + uuid.NewString() + `"}`))
	}
	f.Add("name", cursor("name", "a"), "", false)
	f.Add("event", cursor("name", "a"), "", false)
	f.Add("name", "e30", "", false)
	f.Add("", "%%%", "", true)
	f.Add("particular", cursor("particular "+by+" true", "=1.5 x"), by, true)
	f.Fuzz(func(t *testing.T, name, after, by string, down bool) {
		order := Order{Name: name, Down: down}
		order.Particular, _ = uuid.Parse(by)
		from, err := position(order, after)
		if err == nil && after != "" && (from.Order != order.String() || from.ID == uuid.Nil) {
			t.Errorf("%v %q was taken as %+v", order, after, from)
		}
	})
}

func TestPlaces(t *testing.T) {
	for _, p := range []place{{number: "0", key: "afloat"}, {number: "-1200.5"}, {number: "0", key: "a b\nc"}, {empty: true, number: "12"}} {
		if got, ok := placed(p.String()); !ok || got != p {
			t.Errorf("%+v became %+v", p, got)
		}
	}
	for _, s := range []string{"", "=", "=x y", "1.5", "=1", "=1.2345678 ", "= a", "-1", "99999999999", "=0 a\x00"} {
		if p, ok := placed(s); ok {
			t.Errorf("%q is taken as %+v", s, p)
		}
	}
}

package dossiers

import (
	"encoding/base64"
	"testing"

	"github.com/google/uuid"
)

// A cursor that did not come from us is refused, never used.
func FuzzPosition(f *testing.F) {
	good := base64.RawURLEncoding.EncodeToString([]byte(`{"Order":"name","Key":"a","ID":"` + uuid.NewString() + `"}`))
	f.Add("name", good)
	f.Add("event", good)
	f.Add("name", "e30")
	f.Add("", "%%%")
	f.Fuzz(func(t *testing.T, order, after string) {
		_, from, err := position(order, after)
		if err == nil && after != "" && (from.Order != order || from.ID == uuid.Nil) {
			t.Errorf("%q %q was taken as %+v", order, after, from)
		}
	})
}

package sharing

import (
	"testing"

	"github.com/google/uuid"
)

func FuzzCursor(f *testing.F) {
	f.Add("")
	f.Add("e30")
	f.Add("eyJBdCI6IjIwMjYtMTEtMjNUMTI6MDA6MDBaIiwiSUQiOiI5MmQ0MTEwOC1mM2M1LTQ5MGMtOTVmMC0xZjM2MGQ0OWI0YTYifQ")
	f.Fuzz(func(t *testing.T, after string) {
		c, err := cursorOf(after)
		if err == nil && after != "" && (c == nil || c.ID == uuid.Nil) {
			t.Errorf("%q was taken as %+v", after, c)
		}
	})
}

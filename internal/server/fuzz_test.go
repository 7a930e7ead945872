package server

import (
	"net/netip"
	"strings"
	"testing"
)

// Settings come from files and variables; what is taken is what it says.
func FuzzSettings(f *testing.F) {
	f.Add("base-url", "https://papers.practice.example/")
	f.Add("trusted-proxies", "10.0.0.0/8, ::1")
	f.Add("max-upload", "-1")
	f.Add("smtp-plain", "maybe")
	f.Fuzz(func(t *testing.T, name, value string) {
		for _, s := range Settings() {
			if s.Name != name {
				continue
			}
			var c Config
			if s.set(&c, value) != nil {
				return
			}
			if c.MaxUpload < 0 || strings.HasSuffix(c.BaseURL, "/") {
				t.Errorf("%s=%q became %+v", name, value, c)
			}
			for _, p := range c.TrustedProxies {
				_, addressErr := netip.ParseAddr(p)
				if _, prefixErr := netip.ParsePrefix(p); addressErr != nil && prefixErr != nil {
					t.Errorf("%q is trusted", p)
				}
			}
		}
	})
}

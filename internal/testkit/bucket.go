package testkit

import (
	"net/http/httptest"
	"os"
	"testing"

	"github.com/johannesboyne/gofakes3"
	"github.com/johannesboyne/gofakes3/backend/s3mem"
)

// Bucket starts a stand-in for a bucket and returns its address.
func Bucket(t testing.TB) string {
	t.Helper()
	fake := httptest.NewServer(gofakes3.New(s3mem.New(), gofakes3.WithAutoBucket(true)).Server())
	t.Cleanup(fake.Close)
	for _, name := range []string{"AWS_ACCESS_KEY_ID", "AWS_SECRET_ACCESS_KEY"} {
		if err := os.Setenv(name, "test"); err != nil {
			t.Fatal(err)
		}
	}
	return "s3://papers?region=tessaly&use_path_style=true&endpoint=" + fake.URL
}

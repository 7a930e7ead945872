package testkit

import (
	"net/http"
	"net/http/httptest"
	"os"
	"testing"
	"time"

	"github.com/johannesboyne/gofakes3"
	"github.com/johannesboyne/gofakes3/backend/s3mem"
)

// Bucket starts a stand-in for a bucket and returns its address.
func Bucket(t testing.TB) string { return SlowBucket(t, 0) }

// SlowBucket is a bucket that lets every request wait first.
func SlowBucket(t testing.TB, wait time.Duration) string {
	t.Helper()
	bucket := gofakes3.New(s3mem.New(), gofakes3.WithAutoBucket(true)).Server()
	fake := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		select {
		case <-time.After(wait):
			bucket.ServeHTTP(w, r)
		case <-r.Context().Done():
		}
	}))
	t.Cleanup(fake.Close)
	for _, name := range []string{"AWS_ACCESS_KEY_ID", "AWS_SECRET_ACCESS_KEY"} {
		if err := os.Setenv(name, "test"); err != nil {
			t.Fatal(err)
		}
	}
	return "s3://papers?region=tessaly&use_path_style=true&endpoint=" + fake.URL
}

package testkit

import (
	"os"
	"os/exec"
	"path/filepath"
	"testing"
)

// Program is the path of the program itself: the one that TABULARIS_PROGRAM names, or one
// built for this test.
func Program(t *testing.T) string {
	t.Helper()
	if path := os.Getenv("TABULARIS_PROGRAM"); path != "" {
		return path
	}
	path := filepath.Join(t.TempDir(), "tabularis")
	if out, err := exec.CommandContext(t.Context(), "go", "build", "-o", path, "../../cmd/tabularis").CombinedOutput(); err != nil {
		t.Fatalf("building: %v\n%s", err, out)
	}
	return path
}

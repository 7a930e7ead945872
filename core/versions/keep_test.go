package versions

import (
	"testing"

	"tabularis/core/fault"
)

func TestWhatMayBecomeOfAVersion(t *testing.T) {
	all := []Version{{Number: 5}, {Number: 4, Named: true}, {Number: 3, Removed: true}, {Number: 2, Removed: true, Apart: true}, {Number: 1}}
	code := errorCode
	for n, want := range map[int][3]string{
		5: {"", "not-found", "version-counts"},
		4: {"version-named", "not-found", ""},
		3: {"not-found", "", "not-found"},
		2: {"not-found", "not-found", "not-found"},
		1: {"", "not-found", ""},
		6: {"not-found", "not-found", "not-found"},
		0: {"not-found", "not-found", "not-found"},
	} {
		if got := [3]string{code(MayRemove(all, n)), code(MayRestore(all, n)), code(MayBringBack(all, n))}; got != want {
			t.Errorf("version %d: %v, want %v", n, got, want)
		}
	}
	if err := MayRemove([]Version{{Number: 1}, {Number: 2, Removed: true}}, 1); code(err) != "version-only" {
		t.Errorf("the only one: %v", err)
	}
	if _, err := Note("note", "two\nlines"); err == nil {
		t.Error("a note of two lines")
	}
}

func errorCode(err error) string {
	if err == nil {
		return ""
	}
	return fault.Of(err).Code
}

package versions

import (
	"regexp"
	"strings"

	"tabularis/core/names"
)

// What programs and people put into the names of copies: at the end, and before the name.
var (
	copied = regexp.MustCompile(`(?i)(\s*\(\d{1,3}\)|[\s_-]+(copy|kopie|copie|final|neu|new|latest|changed|edited|revised|geändert|überarbeitet|rev\.?\s?\d{1,3}|v\.?\s?\d{1,3}|version\s?\d{1,3}))$`)
	before = regexp.MustCompile(`(?i)^(copy of|kopie von)\s+`)
)

// Original is the name of which a name is that of a copy: "Report.pdf" for "Report (2).pdf"
// and "Copy of Report v3 final.pdf". ok is false where it is that of none. A number alone
// says nothing: frame 31 is no copy of frame 30.
func Original(name string) (original string, ok bool) {
	stem, ext := names.Split(name)
	was := stem
	for {
		next := before.ReplaceAllString(copied.ReplaceAllString(stem, ""), "")
		if next == stem {
			break
		}
		stem = strings.TrimSpace(next)
	}
	return stem + ext, stem != was && stem != ""
}

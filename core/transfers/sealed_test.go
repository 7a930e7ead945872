package transfers

import (
	"slices"
	"testing"

	"tabularis/core/fault"
)

func TestAnnounceSealed(t *testing.T) {
	files := func(sizes ...int64) (out []File) {
		for _, s := range sizes {
			out = append(out, File{Name: "Valuation.pdf", Size: s})
		}
		return out
	}
	for name, c := range map[string]struct {
		files []File
		there int
		want  []string
		code  string
	}{
		"by number":    {files(200, 500), 0, []string{"1.age", "2.age"}, ""},
		"further ones": {files(200), 7, []string{"8.age"}, ""},
		"none":         {nil, 0, []string{}, ""},
		"too small":    {files(300, 199), 0, nil, "sealed-size"},
		"too large":    {files(1001), 0, nil, "too-large"},
		"too many":     {files(200), MostFiles, nil, "transfer-files"},
	} {
		got, err := AnnounceSealed(c.files, make([]string, c.there), 1000)
		var names []string
		for _, f := range got {
			names = append(names, f.Name)
		}
		if codeOf(err) != c.code || !slices.Equal(names, c.want) && len(names)+len(c.want) > 0 {
			t.Errorf("%s: %v, %v", name, names, err)
		}
	}
}

func TestSealsTellNothing(t *testing.T) {
	for name, c := range map[string]struct {
		name, message string
		copies        int
		code          string
	}{
		"nothing is told":  {"", "", 0, ""},
		"a name":           {"Valuation", "", 0, "sealed-words"},
		"a message":        {"", "Twelve million", 0, "sealed-words"},
		"something copied": {"", "", 1, "sealed-copies"},
	} {
		if err := Seals(c.name, c.message, c.copies); codeOf(err) != c.code {
			t.Errorf("%s: %v", name, err)
		}
	}
	for size, code := range map[int]string{0: "sealed-size", 199: "sealed-size", 200: "", MostManifest: "", MostManifest + 1: "manifest-size"} {
		if err := CheckManifest(make([]byte, size)); codeOf(err) != code {
			t.Errorf("a list of %d bytes: %v", size, err)
		}
	}
}

func codeOf(err error) string {
	if err == nil {
		return ""
	}
	return fault.Of(err).Code
}

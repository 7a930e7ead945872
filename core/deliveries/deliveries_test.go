package deliveries

import (
	"strings"
	"testing"

	"tabularis/core/fault"
)

func TestTakes(t *testing.T) {
	most := int64(100)
	for name, c := range map[string]struct {
		before Before
		path   string
		size   int64
		most   *int64
		code   string
	}{
		"the first":                       {Before{}, "", 10, &most, ""},
		"exactly what is left":            {Before{Waiting: 90}, "", 10, &most, ""},
		"one byte more":                   {Before{Waiting: 91}, "", 10, &most, "deliveries-full"},
		"however much, without a limit":   {Before{Waiting: 1 << 50}, "", 10, nil, ""},
		"the last file of an address":     {Before{Address: Tally{Files: FromAddress.Files - 1}}, "", 1, nil, ""},
		"one file more of an address":     {Before{Address: FromAddress}, "", 0, nil, "deliveries-full"},
		"more bytes than from an address": {Before{Address: Tally{Bytes: FromAddress.Bytes}}, "", 1, nil, "deliveries-full"},
		"other addresses of a network":    {Before{Network: Tally{Files: FromNetwork.Files}}, "", 1, nil, "deliveries-full"},
		"a folder":                        {Before{}, "photographs", 1, nil, "deliveries-flat"},
	} {
		if got := codeOf(Takes(c.before, c.path, c.size, c.most)); got != c.code {
			t.Errorf("%s: %q, not %q", name, got, c.code)
		}
	}
}

func TestSound(t *testing.T) {
	sealed, large := []byte("age-encryption.org/v1"), make([]byte, maxManifest+1)
	for name, c := range map[string]struct {
		s      Sending
		sealed bool
		code   string
	}{
		"named":                        {Sending{Name: " Odile  Charron ", Message: "As agreed."}, false, ""},
		"without a name":               {Sending{}, false, "name-empty"},
		"a name that turns":            {Sending{Name: "Odile\u202eexe"}, false, "name-direction"},
		"sealed":                       {Sending{Name: "Odile", Manifest: sealed}, true, ""},
		"not sealed where it must be":  {Sending{Name: "Odile"}, true, "delivery-must-seal"},
		"sealed for nobody":            {Sending{Name: "Odile", Manifest: sealed}, false, "delivery-open"},
		"a message beside sealed ones": {Sending{Name: "Odile", Manifest: sealed, Message: "secret"}, true, "delivery-words"},
		"a list that is too long":      {Sending{Name: "Odile", Manifest: large}, true, "delivery-manifest"},
	} {
		if _, err := c.s.Sound(c.sealed); codeOf(err) != c.code {
			t.Errorf("%s: %v, not %q", name, err, c.code)
		}
	}
}

func TestCautionOf(t *testing.T) {
	for name, c := range map[string]struct {
		name, media string
		want        Caution
	}{
		"a PDF":                   {"Survey.pdf", "application/pdf", Usual},
		"a program":               {"setup.exe", "application/vnd.microsoft.portable-executable", Runs},
		"a program by its name":   {"setup.EXE", "application/octet-stream", Runs},
		"two endings":             {"invoice.pdf.exe", "application/vnd.microsoft.portable-executable", Runs},
		"a program as a PDF":      {"invoice.pdf", "application/vnd.microsoft.portable-executable", Disguised},
		"a page as a PDF":         {"invoice.pdf", "text/html", Disguised},
		"a page as a table":       {"readings.csv", "text/html", Disguised},
		"a script as a text":      {"notes.txt", "text/x-shellscript", Disguised},
		"a text that shows code":  {"notes.txt", "text/html", Usual},
		"a page":                  {"report.html", "text/html", Usual},
		"a workbook with macros":  {"estimate.xlsm", office + "spreadsheetml.sheet", Macros},
		"a workbook":              {"estimate.xlsx", office + "spreadsheetml.sheet", Usual},
		"a workbook as a picture": {"hull.jpg", office + "spreadsheetml.sheet", Disguised},
		"a link of a desktop":     {"Survey.lnk", "application/octet-stream", Runs},
		"of no known ending":      {"readings.xyz", "application/octet-stream", Usual},
		"without an ending":       {"README", "text/plain", Usual},
		"an elf without ending":   {"README", "application/x-elf", Runs},
		"readings":                {"readings.csv", "text/csv", Usual},
		"an archive":              {"photographs.zip", "application/zip", Usual},
	} {
		if got := CautionOf(c.name, c.media, 1); got != c.want {
			t.Errorf("%s: %q, not %q", name, got, c.want)
		}
	}
	if CautionOf("empty.pdf", "application/octet-stream", 0) != Usual {
		t.Error("an empty file is not disguised")
	}
}

func FuzzCautionOf(f *testing.F) {
	f.Add("invoice.pdf.exe", "text/html")
	f.Fuzz(func(t *testing.T, name, media string) {
		if strings.HasSuffix(strings.ToLower(name), ".exe") && CautionOf(name, media, 1) == Usual {
			t.Errorf("%q of %q needs no caution", name, media)
		}
	})
}

func codeOf(err error) string {
	if err == nil {
		return ""
	}
	return fault.Of(err).Code
}

package versions

import "testing"

func TestOriginal(t *testing.T) {
	for name, want := range map[string]string{
		"Report (2).pdf":                  "Report.pdf",
		"Report - Copy.pdf":               "Report.pdf",
		"Report - Copy (3).pdf":           "Report.pdf",
		"Copy of Report v3 final.pdf":     "Report.pdf",
		"Kopie von Bericht.docx":          "Bericht.docx",
		"Bericht_überarbeitet.docx":       "Bericht.docx",
		"Estimate rev 4.xlsx":             "Estimate.xlsx",
		"Estimate_v12.xlsx":               "Estimate.xlsx",
		"Notes":                           "",
		"Frame 31.csv":                    "",
		"Survey 2026.pdf":                 "",
		"Survey v.pdf":                    "",
		"(2).pdf":                         "",
		"Copy of .pdf":                    "",
		"Finality.pdf":                    "",
		"Renewal.pdf":                     "",
		"Thickness, frames 12–44 (1).csv": "Thickness, frames 12–44.csv",
	} {
		got, ok := Original(name)
		if ok != (want != "") || ok && got != want {
			t.Errorf("%s is a copy of %q, %v; want %q", name, got, ok, want)
		}
	}
}

package jobs_test

import (
	"testing"
)

// What is attached to a mail is looked at in place, and becomes a document of its own.
func TestAttachmentsInPlace(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	c.Upload(reports, "", "Readings of the yard.eml", []byte("From: Runa Vale <runa@brackwater.example>\r\nTo: ines@halyard-rook.example\r\nSubject: Readings\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=cut\r\n\r\n"+
		"--cut\r\nContent-Type: text/plain\r\n\r\nThe readings are enclosed.\r\n--cut\r\nContent-Type: text/csv; name=\"tank four.csv\"\r\n\r\nframe;mm\n31;11.2\n\r\n--cut--\r\n"))
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()), ines.See("tr[data-ref]::Readings of the yard"))
	ines.count("what is attached, kept as a document", 4, func() {
		ines.does(ines.Click("tr[data-ref]::Readings of the yard"), ines.Click(".slip .looked"), ines.See(".over pre::readings are enclosed"))
		ines.does(ines.Click(".within button::tank four"), ines.See(".inner td::11.2"))
		ines.does(ines.Click(".inner button::Keep as a document"), ines.See(".toast-line::tank four is kept"))
	})
	ines.does(ines.Click(".inner button::Back to"), ines.See(".over pre::readings are enclosed"), ines.Press("\x1b"), ines.See("tr[data-ref]::tank four"))
}

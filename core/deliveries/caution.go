package deliveries

import (
	"path"
	"slices"
	"strings"
)

// Caution is why one should think twice before a file is opened.
type Caution string

const (
	// Usual is a file like others.
	Usual Caution = ""
	// Runs is a program, or what a computer takes for one.
	Runs Caution = "runs"
	// Macros is an office document that brings programs along.
	Macros Caution = "macros"
	// Disguised is what its name does not say: a program called a picture, a page called a PDF.
	Disguised Caution = "disguised"
)

// Cautions are all there are.
var Cautions = []Caution{Runs, Macros, Disguised}

var (
	running = set(`apk app appimage application bat bin cmd com command cpl deb dll dmg exe gadget hta inf iso img jar js jse lnk msc msi msix msp
		mst pif pkg ps1 psm1 py pyw reg rpm run scf scr sh sys url vb vbe vbs vhd vhdx workflow ws wsf wsh xll`)
	withMacros = set(`docm dotm pptm potm ppam ppsm sldm xlsm xltm xlam xlsb`)
)

// programs are media types of what a computer runs.
var programs = set(`application/vnd.microsoft.portable-executable application/x-elf application/x-executable application/x-object
	application/x-sharedlib application/x-mach-binary application/x-ms-shortcut application/jar application/x-msi application/x-ms-installer
	application/vnd.android.package-archive application/vnd.debian.binary-package application/x-rpm text/x-shellscript application/x-iso9660-image`)

// contents are, by the ending of a name, what its content begins like: a media type, or the kind of
// one with a slash at its end.
var contents = map[string][]string{
	"pdf": {"application/pdf"}, "rtf": {"text/rtf"},
	"png": {"image/"}, "jpg": {"image/"}, "jpeg": {"image/"}, "gif": {"image/"}, "webp": {"image/"}, "bmp": {"image/"}, "tif": {"image/"}, "tiff": {"image/"}, "heic": {"image/"}, "avif": {"image/"}, "svg": {"image/", "text/"},
	"mp4": {"video/", "audio/"}, "mov": {"video/"}, "webm": {"video/", "audio/"}, "avi": {"video/"}, "mkv": {"video/"}, "mp3": {"audio/"}, "wav": {"audio/"}, "ogg": {"audio/", "video/", "application/ogg"}, "m4a": {"audio/", "video/"}, "flac": {"audio/"},
	"docx": {office + "wordprocessingml.", zip}, "xlsx": {office + "spreadsheetml.", zip}, "pptx": {office + "presentationml.", zip},
	"odt": {open, zip}, "ods": {open, zip}, "odp": {open, zip},
	"doc": {"application/msword", ole, "text/rtf"}, "xls": {"application/vnd.ms-excel", ole}, "ppt": {"application/vnd.ms-powerpoint", ole}, "msg": {"application/vnd.ms-outlook", ole},
	"zip": {zip}, "gz": {"application/gzip"}, "7z": {"application/x-7z-compressed"},
	"txt": {"text/"}, "csv": {"text/"}, "tsv": {"text/"}, "md": {"text/"}, "log": {"text/"}, "eml": {"text/", "message/"}, "json": {"application/", "text/"}, "xml": {"text/", "application/"}, "html": {"text/"}, "htm": {"text/"},
}

const (
	office = "application/vnd.openxmlformats-officedocument."
	open   = "application/vnd.oasis.opendocument."
	zip    = "application/zip"
	ole    = "application/x-ole-storage"
)

func set(words string) []string { return strings.Fields(words) }

// CautionOf says why one should think twice before a file is opened, by its name and by what its
// content begins like.
func CautionOf(name, mediaType string, size int64) Caution {
	ending := strings.ToLower(strings.TrimPrefix(path.Ext(name), "."))
	like, known := contents[ending]
	runs := slices.Contains(programs, mediaType)
	begins := func(t string) bool { return strings.HasPrefix(mediaType, t) }
	switch {
	case known && size > 0 && !slices.ContainsFunc(like, begins), known && runs:
		return Disguised
	case known && ending != "html" && ending != "htm" && mediaType == "text/html" && ending != "md" && ending != "txt":
		return Disguised
	case runs || slices.Contains(running, ending):
		return Runs
	case slices.Contains(withMacros, ending):
		return Macros
	}
	return Usual
}

package preview

import (
	"bytes"
	"io"
	"strings"

	"github.com/richardlehane/mscfb"
	"golang.org/x/text/encoding/charmap"
)

// compoundMail is the media type of a mail as an Object Linking and Embedding compound file
// ([MS-OXMSG]).
const compoundMail = "application/vnd.ms-outlook"

// properties are the fields of such a mail that are read, by the beginning of the names of
// their streams ([MS-OXPROPS]), in the order in which they are shown.
var properties = []struct{ name, field string }{{"0C1A", "From"}, {"0E04", "To"}, {"0E03", "Cc"}, {"0037", "Subject"}}

const (
	bodyProperty, attachedName, attachedData = "1000", "3707", "3701"
	// Streams of text: UTF-16, and of one byte a character.
	wideText, narrowText, binary = "001F", "001E", "0102"
)

// compound reads a mail that is a compound file, like message.
func compound(raw []byte) (text string, files []attachedFile, ok bool) {
	doc, err := mscfb.New(bytes.NewReader(raw))
	if err != nil {
		return "", nil, false
	}
	fields := map[string]string{}
	byFolder := map[string]*attachedFile{}
	var order []string
	for n := 0; n < maxStreams; n++ {
		entry, err := doc.Next()
		if err != nil {
			break
		}
		property, kind, found := cutProperty(entry.Name)
		if !found || entry.Size > maxPlain {
			continue
		}
		content, _ := io.ReadAll(io.LimitReader(entry, maxPlain))
		switch folder := strings.Join(entry.Path, "/"); {
		case folder == "" && (kind == wideText || kind == narrowText):
			fields[property] = textStream(kind, content)
		case len(entry.Path) == 1 && strings.HasPrefix(folder, "__attach"):
			if byFolder[folder] == nil {
				byFolder[folder] = &attachedFile{}
				order = append(order, folder)
			}
			switch {
			case property == attachedName && kind != binary:
				byFolder[folder].name = textStream(kind, content)
			case property == attachedData && kind == binary:
				byFolder[folder].content = content
			}
		}
	}
	var out strings.Builder
	for _, p := range properties {
		if v := strings.TrimSpace(fields[p.name]); v != "" {
			out.WriteString(p.field + ": " + v + "\n")
		}
	}
	var names []string
	for _, folder := range order {
		files = append(files, *byFolder[folder])
		if name := byFolder[folder].name; name != "" {
			names = append(names, name)
		}
	}
	if len(names) > 0 {
		out.WriteString("Attached: " + strings.Join(names, ", ") + "\n")
	}
	out.WriteString("\n" + strings.ReplaceAll(fields[bodyProperty], "\r\n", "\n"))
	return strings.ToValidUTF8(out.String(), "\ufffd"), files, true
}

// maxStreams bounds how a compound file may be put together.
const maxStreams = 2000

// cutProperty tells from the name of a stream which property it holds, and of which kind.
func cutProperty(name string) (property, kind string, ok bool) {
	rest, ok := strings.CutPrefix(name, "__substg1.0_")
	if !ok || len(rest) < 8 {
		return "", "", false
	}
	return rest[:4], rest[4:8], true
}

func textStream(kind string, content []byte) string {
	if kind == wideText {
		return strings.TrimRight(with(marks[0].read, content), "\x00")
	}
	return strings.TrimRight(with(charmap.Windows1252, content), "\x00")
}

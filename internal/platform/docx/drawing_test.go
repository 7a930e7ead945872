package docx

import (
	"bytes"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"strings"
	"testing"

	"tabularis/core/richtext"
)

// painted are pictures in the formats that a document holds, so wide.
func painted(t testing.TB, width int) map[string][]byte {
	t.Helper()
	all := map[string][]byte{}
	at := image.NewPaletted(image.Rect(0, 0, width, 40), color.Palette{color.Black, color.White})
	for name, write := range map[string]func(b *bytes.Buffer) error{
		"png":  func(b *bytes.Buffer) error { return png.Encode(b, at) },
		"jpeg": func(b *bytes.Buffer) error { return jpeg.Encode(b, at, nil) },
		"gif":  func(b *bytes.Buffer) error { return gif.Encode(b, at, nil) },
	} {
		var b bytes.Buffer
		if err := write(&b); err != nil {
			t.Fatal(err)
		}
		all[name] = b.Bytes()
	}
	return all
}

func pictureNode(src string) string {
	return `{"type":"picture","attrs":{"src":"` + src + `","alt":"Frame <31>"}}`
}

func withPictures(t testing.TB, original []byte, doc *richtext.Node, put Pictures) []byte {
	t.Helper()
	raw, err := Write(original, doc, nil, put)
	if err != nil {
		t.Fatal(err)
	}
	return raw
}

// picturesIn are the pictures that a document is found to have, as files.
func picturesIn(t testing.TB, raw []byte) (all []string) {
	t.Helper()
	read(t, raw).Walk(func(n *richtext.Node, _ int) bool {
		if n.Attrs["kind"] == "picture" && n.Attrs["label"] == "Frame <31>" {
			_, file, err := Picture(raw, n.Attrs["id"].(string))
			if err != nil {
				t.Fatal(err)
			}
			all = append(all, string(file))
		}
		return true
	})
	return all
}

func TestPicturesThatArePutIn(t *testing.T) {
	raw := packed(t, letter, nil)
	doc := read(t, raw)
	for format, file := range painted(t, 60) {
		for what, at := range map[string]string{
			"in a line": `{"type":"text","text":" a month"}`,
			"in a cell": `{"type":"text","text":"Amounts"}`,
			"in a list": `{"type":"text","text":"hull"}`,
		} {
			want := changed(t, doc, at, at+","+pictureNode("put-1"))
			after := withPictures(t, raw, want, Pictures{"put-1": file, "put-2": []byte("not in the text")})
			if all := picturesIn(t, after); len(all) != 1 || all[0] != string(file) {
				t.Fatalf("%s, %s: %d pictures are found", format, what, len(all))
			}
			if types := part(t, after, "[Content_Types].xml"); strings.Count(types, `ContentType="image/`+format+`"`) != 1 {
				t.Errorf("%s: %s", format, types)
			}
			if text := part(t, after, "word/document.xml"); !strings.Contains(text, `cx="571500" cy="381000"`) || !strings.Contains(text, `descr="Frame &lt;31&gt;"`) {
				t.Errorf("it is drawn as %s", text)
			}
			// Written again, into itself, it is the same file: whoever wrote it and whoever opens it know the same picture.
			if again := withPictures(t, after, want, Pictures{"put-1": file}); part(t, again, "word/document.xml") != part(t, after, "word/document.xml") || len(again) != len(after) {
				t.Errorf("%s, %s: written again it is another", format, what)
			}
			if same := withPictures(t, after, read(t, after), nil); part(t, same, "word/document.xml") != part(t, after, "word/document.xml") {
				t.Errorf("%s, %s: read and written it is another", format, what)
			}
		}
	}
}

func TestAWidePictureFitsItsPage(t *testing.T) {
	file := painted(t, 4000)["png"]
	body := `<w:p><w:r><w:t>x</w:t></w:r></w:p><w:sectPr><w:pgSz w:w="11906" w:h="16838"/><w:pgMar w:left="1418" w:right="1418"/></w:sectPr>`
	raw := packed(t, "", map[string]string{"word/document.xml": `<w:document xmlns:w="` + words + `"><w:body>` + body + `</w:body></w:document>`})
	after := withPictures(t, raw, changed(t, read(t, raw), `{"type":"text","text":"x"}`, pictureNode("a")+","+pictureNode("b")+","+pictureNode("a")), Pictures{"a": file, "b": file})
	text := part(t, after, "word/document.xml")
	if strings.Count(text, `<wp:extent cx="5759450" cy="57594"/>`) != 3 {
		t.Errorf("it is drawn as %s", text)
	}
	if n := strings.Count(part(t, after, "word/_rels/document.xml.rels"), "/image"); n != 1 {
		t.Errorf("one file is there %d times", n)
	}
	if opens := converted(t, after, "fodt", "a.fodt"); strings.Count(opens, "<draw:image") < 1 {
		t.Error("an office program finds no picture")
	}
}

func TestWhatIsNoPictureIsNamed(t *testing.T) {
	raw := packed(t, letter, nil)
	at := `{"type":"text","text":" a month"}`
	doc := changed(t, read(t, raw), at, at+","+pictureNode("a"))
	for what, file := range map[string][]byte{"text": []byte("<svg onload='x'>"), "nothing": {}, "half": painted(t, 60)["png"][:20]} {
		after := withPictures(t, raw, doc, Pictures{"a": file})
		if text := part(t, after, "word/document.xml"); !strings.Contains(text, "[Frame &lt;31&gt;]") || strings.Contains(part(t, after, "word/_rels/document.xml.rels"), "/image") {
			t.Errorf("%s: %s", what, text)
		}
	}
	// A proposed picture is a tracked change.
	proposed := strings.Replace(pictureNode("a"), `"}}`, `"},"marks":[{"type":"inserted","attrs":{"id":"x","by":"name:Ann"}}]}`, 1)
	after := withPictures(t, raw, changed(t, read(t, raw), at, at+","+proposed), Pictures{"a": painted(t, 60)["png"]})
	if text := part(t, after, "word/document.xml"); !strings.Contains(text, `w:author="Ann"`) || strings.Index(text, "<w:drawing><wp:inline") < strings.Index(text, `w:author="Ann"`) {
		t.Errorf("it is proposed as %s", text)
	}
}

package demo

import (
	"archive/zip"
	"bytes"
	"fmt"
	"html"
	"strings"
)

// agreement is a framework agreement as a word processor wrote it: with a line on each page, a footnote and a table; from
// its second version on with what the other side wants changed.
func agreement(version int) []byte {
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for _, p := range [][2]string{
		{"[Content_Types].xml", `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/>` +
			wordPart("document", "document.main") + wordPart("styles", "styles") + wordPart("numbering", "numbering") + wordPart("footnotes", "footnotes") + wordPart("header1", "header") + `</Types>`},
		{"_rels/.rels", relsOpen + `<Relationship Id="rId1" Type="` + relsOf + `officeDocument" Target="word/document.xml"/></Relationships>`},
		{"word/_rels/document.xml.rels", relsOpen + wordRel(1, "styles", "styles") + wordRel(2, "numbering", "numbering") + wordRel(3, "footnotes", "footnotes") + wordRel(4, "header", "header1") + `</Relationships>`},
		{"word/styles.xml", `<w:styles ` + wordSpace + `><w:docDefaults><w:rPrDefault><w:rPr><w:rFonts w:ascii="Georgia" w:hAnsi="Georgia"/><w:sz w:val="21"/></w:rPr></w:rPrDefault><w:pPrDefault><w:pPr><w:spacing w:after="120" w:line="276" w:lineRule="auto"/></w:pPr></w:pPrDefault></w:docDefaults>` +
			`<w:style w:type="paragraph" w:default="1" w:styleId="Normal"><w:name w:val="Normal"/></w:style>` +
			`<w:style w:type="paragraph" w:styleId="Title"><w:name w:val="Title"/><w:basedOn w:val="Normal"/><w:rPr><w:sz w:val="36"/></w:rPr></w:style>` +
			`<w:style w:type="paragraph" w:styleId="Clause"><w:name w:val="heading 2"/><w:basedOn w:val="Normal"/><w:pPr><w:keepNext/><w:spacing w:before="240"/><w:outlineLvl w:val="1"/></w:pPr><w:rPr><w:b/></w:rPr></w:style></w:styles>`},
		{"word/numbering.xml", `<w:numbering ` + wordSpace + `><w:abstractNum w:abstractNumId="1"><w:lvl w:ilvl="0"><w:start w:val="1"/><w:numFmt w:val="lowerLetter"/><w:lvlText w:val="%1)"/><w:pPr><w:ind w:left="567" w:hanging="425"/></w:pPr></w:lvl></w:abstractNum><w:num w:numId="1"><w:abstractNumId w:val="1"/></w:num></w:numbering>`},
		{"word/footnotes.xml", `<w:footnotes ` + wordSpace + `><w:footnote w:id="1"><w:p><w:r><w:t>Travel outside Tessaly by the scale of fees, as amended from time to time.</w:t></w:r></w:p></w:footnote></w:footnotes>`},
		{"word/header1.xml", `<w:hdr ` + wordSpace + `><w:p><w:r><w:t>Halyard &amp; Rook · DUN-07 · without prejudice</w:t></w:r></w:p></w:hdr>`},
		{"word/document.xml", `<w:document ` + wordSpace + ` xmlns:r="` + strings.TrimSuffix(relsOf, "/") + `"><w:body>` + agreementText(version) +
			`<w:sectPr><w:headerReference w:type="default" r:id="rId4"/><w:pgSz w:w="11906" w:h="16838"/><w:pgMar w:top="1418" w:right="1418" w:bottom="1134" w:left="1418" w:header="709" w:footer="709" w:gutter="0"/></w:sectPr></w:body></w:document>`},
	} {
		w, err := z.Create(p[0])
		must(err)
		_, err = fmt.Fprint(w, `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>`+"\n"+p[1])
		must(err)
	}
	must(z.Close())
	return out.Bytes()
}

const (
	wordSpace = `xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"`
	relsOpen  = `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">`
	relsOf    = `http://schemas.openxmlformats.org/officeDocument/2006/relationships/`
)

func wordPart(name, kind string) string {
	return `<Override PartName="/word/` + name + `.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.` + kind + `+xml"/>`
}

func wordRel(n int, kind, target string) string {
	return fmt.Sprintf(`<Relationship Id="rId%d" Type="%s%s" Target="%s.xml"/>`, n, relsOf, kind, target)
}

// agreementText is what it says. Words between brackets are struck by the other side, those between braces added.
func agreementText(version int) string {
	var b strings.Builder
	line := func(props, text string) {
		b.WriteString(`<w:p>` + props + changesIn(text, version) + `</w:p>`)
	}
	clause := func(title string) { line(`<w:pPr><w:pStyle w:val="Clause"/></w:pPr>`, title) }
	plain := func(text string) { line(`<w:pPr><w:jc w:val="both"/></w:pPr>`, text) }
	item := func(text string) {
		line(`<w:pPr><w:numPr><w:ilvl w:val="0"/><w:numId w:val="1"/></w:numPr></w:pPr>`, text)
	}
	line(`<w:pPr><w:pStyle w:val="Title"/></w:pPr>`, "Framework agreement 2027")
	plain("between Dunlin Mutual, the insurer, and Halyard &amp; Rook, the surveyors. It takes the place of the standing instruction.")
	clause("1 What is done")
	plain("On each instruction in writing the surveyors")
	item("attend the vessel within [two]{one} working day[s] of notice,")
	item("report on cause, nature and extent of the damage, and")
	item("estimate the cost of repair, yard by yard.")
	clause("2 Fees")
	plain("Fees follow the table; they stand until 31 December 2027.")
	b.WriteString(`<w:tbl><w:tblPr><w:tblW w:w="5000" w:type="pct"/><w:tblBorders><w:top w:val="single" w:sz="4"/><w:bottom w:val="single" w:sz="4"/><w:insideH w:val="single" w:sz="4"/></w:tblBorders></w:tblPr><w:tblGrid><w:gridCol w:w="5000"/><w:gridCol w:w="4000"/></w:tblGrid>`)
	for i, r := range [][2]string{{"Attendance", "Fee"}, {"first day, report included", "£1,480"}, {"each day more", "£920"}, {"estimate by itself", "£540"}} {
		head := ""
		if i == 0 {
			head = `<w:trPr><w:tblHeader/></w:trPr>`
		}
		b.WriteString(`<w:tr>` + head + `<w:tc><w:p><w:r><w:t>` + r[0] + `</w:t></w:r></w:p></w:tc><w:tc><w:p><w:pPr><w:jc w:val="right"/></w:pPr><w:r><w:t>` + r[1] + `</w:t></w:r></w:p></w:tc></w:tr>`)
	}
	b.WriteString(`</w:tbl>`)
	b.WriteString(`<w:p><w:pPr><w:jc w:val="both"/></w:pPr><w:r><w:t>Travel is charged as it falls due.</w:t></w:r><w:r><w:rPr><w:vertAlign w:val="superscript"/></w:rPr><w:footnoteReference w:id="1"/></w:r></w:p>`)
	clause("3 Payment")
	plain("Invoices are paid within [30]{45} days of receipt{, once the report is final}.")
	clause("4 Secrecy")
	plain("Neither side tells others what it learns, but its own insurers and advisers who have to know it.")
	return b.String()
}

// changesIn are the runs of a text, with what is struck and added as changes that are proposed.
func changesIn(text string, version int) string {
	var b strings.Builder
	run := func(name, words string) string {
		return `<w:r><w:` + name + ` xml:space="preserve">` + html.EscapeString(words) + `</w:` + name + `></w:r>`
	}
	by := func(n int) string {
		return fmt.Sprintf(` w:id="%d" w:author="Sunniva Aker" w:date="2026-11-20T10:12:00Z"`, n)
	}
	for i := 0; len(text) > 0; i++ {
		at := strings.IndexAny(text, "[{")
		if at < 0 {
			return b.String() + run("t", text)
		}
		if at > 0 {
			b.WriteString(run("t", text[:at]))
		}
		end := strings.IndexAny(text, "]}")
		words := text[at+1 : end]
		switch struck := text[at] == '['; {
		case version == 0 && struck:
			b.WriteString(run("t", words))
		case struck:
			b.WriteString(`<w:del` + by(100+10*len(text)+i) + `>` + run("delText", words) + `</w:del>`)
		case version > 0:
			b.WriteString(`<w:ins` + by(100+10*len(text)+i) + `>` + run("t", words) + `</w:ins>`)
		}
		text = text[end+1:]
	}
	return b.String()
}

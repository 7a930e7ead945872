// Package letters writes what the practice mails: one template a letter and
// language (en/, de/), whose first line is the subject.
package letters

import (
	"embed"
	"fmt"
	"strings"
	"text/template"

	"tabularis/internal/platform/jobs"
)

//go:embed en/*.txt de/*.txt
var files embed.FS

// Languages are those in which letters are written; the first is used for others.
var Languages = []string{"en", "de"}

// Letter is one of the letters there are: its fields are what its template speaks of.
type Letter interface{ name() string }

// Sender is who signs a letter.
type Sender struct{ Name, Role, Email string }

// Mail is a letter on its way: to whom, in which language, from which practice.
type Mail struct {
	To, ToName, Language, Practice string
	// ReplyTo is where an answer goes; none is the practice's own address.
	ReplyTo string
	Letter  Letter
}

// Job writes the letter and returns the job that sends it.
func (m Mail) Job() (jobs.SendMail, error) {
	subject, text, err := Write(m.Language, m.Practice, m.Letter)
	return jobs.SendMail{To: m.To, ToName: m.ToName, From: m.Practice, ReplyTo: m.ReplyTo, Subject: subject, Text: text}, err
}

var templates = read()

// read parses all templates. One that cannot be parsed is a mistake of whoever wrote
// it.
func read() map[string]*template.Template {
	all := map[string]*template.Template{}
	for _, language := range Languages {
		t := template.New(language).Option("missingkey=error").Funcs(template.FuncMap{"spaced": spaced})
		all[language] = template.Must(t.ParseFS(files, language+"/*.txt"))
	}
	return all
}

// spaced writes a code so that it is read off easily: 123 456.
func spaced(code string) string {
	if len(code) < 6 {
		return code
	}
	return code[:3] + " " + code[3:]
}

// Write writes a letter.
func Write(language, practice string, l Letter) (subject, text string, err error) {
	t, ok := templates[language]
	if !ok {
		t = templates[Languages[0]]
	}
	var b strings.Builder
	if err := t.ExecuteTemplate(&b, l.name()+".txt", map[string]any{"Practice": practice, "L": l}); err != nil {
		return "", "", fmt.Errorf("writing the letter %s: %w", l.name(), err)
	}
	subject, text, _ = strings.Cut(b.String(), "\n")
	return subject, strings.TrimLeft(text, "\n"), nil
}

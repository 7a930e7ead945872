package terms

import (
	"fmt"
	"strings"
)

// intake writes the terms of a link by which papers come in, for its sender.
func (l Link) intake(v Voice) Sentence {
	de := v.Language == "de"
	s := Sentence{{pick(de, "Wer diesen Link hat", "Whoever has this link"), Holder}}
	if l.Password {
		s = append(s, Part{" ", Plain}, Part{pick(de, "und das Passwort", "and the password"), Password})
	}
	s = append(s, Part{pick(de, ", darf Dateien in ", " may "), Plain})
	if !de {
		s = append(s, Part{"put files into", May}, Part{" ", Plain})
	}
	s = append(s, Part{l.what(v), What})
	if l.NotBefore != nil {
		s = append(s, Part{pick(de, " ab ", " from "), Plain}, Part{v.Moment(*l.NotBefore), NotBefore})
	}
	if l.Until != nil {
		s = append(s, Part{pick(de, " bis ", " until "), Plain}, Part{v.Moment(*l.Until), Until})
	}
	if words := pick(de, identifyDE[l.Identify.String()], identifyEN[l.Identify.String()]); words != "" {
		s = append(s, Part{pick(de, " ", ", after "), Plain}, Part{words, Identify})
	}
	if de {
		s = append(s, Part{" ", Plain}, Part{"legen", May})
	}
	if l.Openings != nil {
		s = append(s, Part{pick(de, ", höchstens ", ", at most "), Plain}, Part{times(v, *l.Openings), Openings})
	}
	s = append(s, l.limits(v)...)
	s = append(s, l.onlyFor(de)...)
	return append(s, Part{pick(de, ". Was dort liegt, sieht man dadurch nicht.", ". Nobody sees through it what lies there."), Plain})
}

// limits says how much is taken, and of which kinds.
func (l Link) limits(v Voice) Sentence {
	de := v.Language == "de"
	var s Sentence
	if l.Limits.Files != nil {
		s = append(s, Part{pick(de, ", höchstens ", ", at most "), Plain}, Part{files(v, *l.Limits.Files), IntakeFiles})
	}
	if l.Limits.Bytes != nil {
		s = append(s, Part{pick(de, ", zusammen höchstens ", ", together at most "), Plain}, Part{Size(v.Language, *l.Limits.Bytes), IntakeBytes})
	}
	if len(l.Limits.Endings) > 0 {
		s = append(s, Part{pick(de, ", nur ", ", only "), Plain}, Part{strings.Join(l.Limits.Endings, ", "), IntakeEndings})
	}
	return s
}

func (l Link) intakeForVisitor(v Voice) Sentence {
	de := v.Language == "de"
	s := Sentence{{pick(de, "Sie können hier ", "You can "), Plain}, {pick(de, "Dateien abgeben", "hand in files here"), May}}
	if l.Until != nil {
		s = append(s, Part{pick(de, " bis ", " until "), Plain}, Part{v.Moment(*l.Until), Until})
	}
	return append(append(s, l.limits(v)...), Part{".", Plain})
}

// addressed says what a published address is for.
func addressed(v Voice) Sentence {
	if v.Language == "de" {
		return Sentence{{"Jede Person außerhalb", Holder}, {" kann hier ", Plain}, {"Dateien senden", May}, {", sobald ein Code ihre Adresse ", Plain}, {"bestätigt", Identify}, {".", Plain}}
	}
	return Sentence{{"Anybody outside", Holder}, {" may ", Plain}, {"send files", May}, {" here, once a code has ", Plain}, {"confirmed", Identify}, {" their address.", Plain}}
}

func addressForVisitor(v Voice) Sentence {
	if v.Language == "de" {
		return Sentence{{"Sie können hier ", Plain}, {"Dateien senden", May}, {".", Plain}}
	}
	return Sentence{{"You can ", Plain}, {"send files", May}, {" here.", Plain}}
}

// Size writes a number of bytes in the unit in which it is short.
func Size(language string, n int64) string {
	for _, u := range []struct {
		unit string
		of   int64
	}{{"GB", 1e9}, {"MB", 1e6}, {"kB", 1e3}} {
		if n >= u.of {
			text := strings.TrimSuffix(fmt.Sprintf("%.1f", float64(n)/float64(u.of)), ".0") + " " + u.unit
			if language == "de" {
				text = strings.Replace(text, ".", ",", 1)
			}
			return text
		}
	}
	return fmt.Sprintf("%d bytes", n)
}

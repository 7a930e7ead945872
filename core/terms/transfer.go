package terms

import "tabularis/core/linkgate"

// transfer writes the terms of frozen copies, for their sender.
func (l Link) transfer(v Voice) Sentence {
	de := v.Language == "de"
	s := Sentence{{pick(de, "Wer diesen Link hat", "Whoever has this link"), Holder}}
	if l.Password {
		s = append(s, Part{" ", Plain}, Part{pick(de, "und das Passwort", "and the password"), Password})
	}
	if l.Sealed != linkgate.Unsealed {
		s = append(s, Part{" ", Plain}, Part{l.opensBy(de), Sealed})
	}
	if de {
		s = append(s, Part{", darf ", Plain}, Part{"eingefrorene Kopien", Version}, Part{" von ", Plain}, Part{files(v, l.Files), What})
	} else {
		s = append(s, Part{" may ", Plain}, Part{l.may("fetch", "only view", "", ""), May}, Part{" ", Plain}, Part{"frozen copies", Version}, Part{" of ", Plain}, Part{files(v, l.Files), What})
	}
	if l.Sealed != linkgate.Unsealed {
		s = append(s, Part{pick(de, ", im Browser versiegelt,", ", sealed in the browser,"), Plain})
	}
	if l.NotBefore != nil {
		s = append(s, Part{pick(de, " ab ", " from "), Plain}, Part{v.Moment(*l.NotBefore), NotBefore})
	}
	if l.Until != nil {
		s = append(s, Part{pick(de, " bis ", " until "), Plain}, Part{v.Moment(*l.Until), Until})
	}
	if l.Openings != nil {
		s = append(s, Part{pick(de, " höchstens ", ", at most "), Plain}, Part{times(v, *l.Openings), Openings})
	}
	if words := pick(de, identifyDE, identifyEN)[l.Identify.String()]; words != "" {
		s = append(s, Part{pick(de, " ", ", after "), Plain}, Part{words, Identify})
	}
	if de {
		s = append(s, Part{" ", Plain}, Part{l.may("holen", "nur ansehen", "", ""), May})
	}
	if l.Downloads != nil {
		s = append(s, Part{pick(de, ", geholt höchstens ", ", fetching at most "), Plain}, Part{times(v, *l.Downloads), Downloads})
	}
	s = append(s, l.onlyFor(de)...)
	return append(s, Part{pick(de, "; dann werden die Kopien vernichtet.", "; then the copies are destroyed."), Plain})
}

// opensBy names what opens a sealed transfer beside its link.
func (l Link) opensBy(de bool) string {
	if l.Sealed == linkgate.ByPassphrase {
		return pick(de, "und die Passphrase", "and the passphrase")
	}
	return pick(de, "mit seinem Schlüssel", "with its key")
}

func (l Link) transferForVisitor(v Voice) Sentence {
	de := v.Language == "de"
	s := Sentence{{pick(de, "Sie dürfen ", "You may "), Plain}}
	if !de {
		s = append(s, Part{l.may("fetch", "only view", "", ""), May}, Part{" ", Plain})
	}
	switch {
	case l.Sealed != linkgate.Unsealed:
		s = append(s, Part{pick(de, "versiegelte Kopien von ", "sealed copies of "), Plain}, Part{files(v, l.Files), What})
	case l.Files == 1:
		s = append(s, Part{pick(de, "eine Kopie dieser Datei", "a copy of this file"), What})
	default:
		s = append(s, Part{pick(de, "Kopien dieser ", "copies of these "), Plain}, Part{files(v, l.Files), What})
	}
	if l.Until != nil {
		s = append(s, Part{pick(de, " bis ", " until "), Plain}, Part{v.Moment(*l.Until), Until})
	}
	if de {
		s = append(s, Part{" ", Plain}, Part{l.may("holen", "nur ansehen", "", ""), May})
	}
	return append(s, Part{pick(de, "; dann werden sie vernichtet.", "; then they are destroyed."), Plain})
}

package richtext

import "slices"

// Authored is a part of a text that somebody wrote.
type Authored struct {
	From, To int
	// By is whose of those that Authors was given.
	By int
}

// mostAuthored bounds how many parts are told apart.
const mostAuthored = 20_000

// Authors tells which parts of a text stem from which of the steps that led to it: what was inserted is theirs who
// inserted it, for as long as it stands. Each entry is one author's steps, in the order in which all of them stand.
func Authors(all [][]Step) (parts []Authored) {
	for by, steps := range all {
		for _, s := range steps {
			parts = authored(parts, s.Map(), by)
		}
	}
	return parts
}

func authored(parts []Authored, m StepMap, by int) []Authored {
	if len(m.spans) == 0 {
		return parts
	}
	out := make([]Authored, 0, len(parts)+len(m.spans))
	for _, p := range parts {
		out = append(out, split(p, m)...)
	}
	shift := 0
	for _, s := range m.spans {
		if s.new > 0 {
			out = insertPart(out, Authored{s.start + shift, s.start + shift + s.new, by})
		}
		shift += s.new - s.old
	}
	return out[:min(len(out), mostAuthored)]
}

// split carries a part over a step: what is replaced in its middle is not its any more.
func split(p Authored, m StepMap) (out []Authored) {
	at := p.From
	for _, s := range m.spans {
		if s.start > at && s.start < p.To {
			out = carried(out, Authored{at, s.start, p.By}, m)
		}
		if end := s.start + s.old; end > at && s.start < p.To {
			at = max(at, end)
		} else if s.old == 0 && s.start > at && s.start < p.To {
			at = s.start
		}
	}
	if at < p.To {
		out = carried(out, Authored{at, p.To, p.By}, m)
	}
	return out
}

func carried(out []Authored, p Authored, m StepMap) []Authored {
	p.From, p.To = m.Map(p.From, 1), m.Map(p.To, -1)
	if p.From < p.To {
		out = append(out, p)
	}
	return out
}

// insertPart keeps parts in their order, and joins what one person wrote on.
func insertPart(all []Authored, p Authored) []Authored {
	at := len(all)
	for at > 0 && all[at-1].From >= p.From {
		at--
	}
	if at > 0 && all[at-1].By == p.By && all[at-1].To == p.From {
		all[at-1].To = p.To
		return all
	}
	if at < len(all) && all[at].By == p.By && all[at].From == p.To {
		all[at].From = p.From
		return all
	}
	return slices.Insert(all, at, p)
}

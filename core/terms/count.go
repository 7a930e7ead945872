package terms

import (
	"math"
	"regexp"
	"strconv"
	"strings"

	"tabularis/core/names"
)

// mostCount is the largest number that a term takes.
const mostCount = 100_000

var (
	times_     = wordSet("times time mal x")
	opens      = wordSet("opening openings open opens opened öffnung öffnungen öffnen geöffnet visit visits besuche")
	fetches    = wordSet("download downloads downloading downloaded herunterladen heruntergeladen abrufe")
	filesWords = wordSet("file files datei dateien papers papiere")
	sizes      = map[string]int64{"kb": 1e3, "mb": 1e6, "gb": 1e9}
	together   = regexp.MustCompile(`^([0-9]+)(?:x|-?mal)$|^([0-9]+(?:[.,][0-9]{1,3})?)(kb|mb|gb)$`)
	oftenWords = map[string]int{"once": 1, "twice": 2, "thrice": 3}
)

func init() {
	for n, words := range []string{"", "ein", "zwei", "drei", "vier", "fünf", "sechs", "sieben", "acht", "neun", "zehn"} {
		if n > 0 {
			oftenWords[names.Key(words+"mal")] = n
		}
	}
}

// number reads a whole number in figures or words.
func number(key string) (int, bool) {
	if n, ok := numbers[key]; ok {
		return n, true
	}
	if len(key) == 0 || len(key) > 9 || strings.Trim(key, "0123456789") != "" {
		return 0, false
	}
	n, err := strconv.Atoi(key)
	return n, err == nil
}

// often reads how often: once, 3 times, dreimal, 5x.
func (r *reader) often(i int) (n, words int) {
	if n, ok := oftenWords[r.key(i)]; ok {
		return n, 1
	}
	if m := together.FindStringSubmatch(r.key(i)); m != nil && m[1] != "" {
		n, err := strconv.Atoi(m[1])
		if err != nil {
			n = math.MaxInt32
		}
		return n, 1
	}
	if n, ok := number(r.key(i)); ok && times_[r.key(i+1)] {
		return n, 2
	}
	return 0, 0
}

// count reads numbers with what they count: openings, downloads, files, sizes.
func (r *reader) count(i int) (int, Term, func() Why) {
	// Downloading at most three times; open once.
	if verb := r.key(i); fetches[verb] || opens[verb] {
		at := r.skip(i+1, "at", "most", "höchstens", "only", "nur", "max")
		if n, words := r.often(at); words > 0 {
			return at + words - i, pick2(fetches[verb], Downloads, Openings), r.limit(fetches[verb], n)
		}
		return 0, "", nil
	}
	if n, words := r.often(i); words > 0 {
		end := i + words
		if fetches[r.key(end)] && r.goesOn(end) {
			return words + 1, Downloads, r.limit(true, n)
		}
		if opens[r.key(end)] && r.goesOn(end) {
			words++
		}
		return words, Openings, r.limit(false, n)
	}
	if n, ok := number(r.key(i)); ok {
		unit := r.key(i + 1)
		switch {
		case fetches[unit]:
			return 2, Downloads, r.limit(true, n)
		case opens[unit]:
			return 2, Openings, r.limit(false, n)
		case filesWords[unit]:
			return 2, IntakeFiles, func() Why {
				if n < 1 || n > mostCount {
					return Range
				}
				r.out.Files = &n
				return ""
			}
		}
	}
	return r.size(i)
}

// size reads how much may come in together: 500 MB, 1,5 GB.
func (r *reader) size(i int) (int, Term, func() Why) {
	figures, unit, words := r.key(i), r.key(i+1), 2
	if m := together.FindStringSubmatch(figures); m != nil && m[3] != "" {
		figures, unit, words = m[2], m[3], 1
	}
	of, ok := sizes[unit]
	f, err := strconv.ParseFloat(strings.Replace(figures, ",", ".", 1), 64)
	if !ok || err != nil || strings.Trim(figures, "0123456789.,") != "" {
		return 0, "", nil
	}
	return words, IntakeBytes, func() Why {
		bytes := f * float64(of)
		if bytes < 1 || bytes > 1e15 {
			return Range
		}
		n := int64(math.Round(bytes))
		r.out.Bytes = &n
		return ""
	}
}

// limit sets how often something may happen.
func (r *reader) limit(downloads bool, n int) func() Why {
	return func() Why {
		if n < 1 || n > mostCount {
			return Range
		}
		if downloads {
			r.out.Downloads = &n
		} else {
			r.out.Openings = &n
		}
		return ""
	}
}

func pick2(which bool, yes, no Term) Term {
	if which {
		return yes
	}
	return no
}

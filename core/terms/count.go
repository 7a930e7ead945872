package terms

import (
	"math"
	"regexp"
	"strconv"
	"strings"
)

// mostCount is the largest number that a term takes.
const mostCount = 100_000

var (
	repeats    = wordSet("times time mal x")
	opens      = wordSet("opening openings open opens opened öffnung öffnungen öffnen geöffnet visit visits besuche")
	fetches    = wordSet("download downloads downloading downloaded herunterladen heruntergeladen abrufe")
	filesWords = wordSet("file files datei dateien papers papiere")
	sizes      = map[string]int64{"kb": 1e3, "mb": 1e6, "gb": 1e9}
	together   = regexp.MustCompile(`^([0-9]+)(?:x|-?mal)$|^([0-9]+(?:[.,][0-9]{1,3})?)(kb|mb|gb)$`)
	oftenWords = numbersOf("|once einmal|twice zweimal|thrice dreimal|viermal|fünfmal|sechsmal|siebenmal|achtmal|neunmal|zehnmal")
)

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
	if n, ok := number(r.key(i)); ok && repeats[r.key(i+1)] {
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
			return at + words - i, pick(fetches[verb], Downloads, Openings), limit(pick(fetches[verb], &r.out.Downloads, &r.out.Openings), n)
		}
		return 0, "", nil
	}
	if n, words := r.often(i); words > 0 {
		end := i + words
		if fetches[r.key(end)] && r.goesOn(end) {
			return words + 1, Downloads, limit(&r.out.Downloads, n)
		}
		if opens[r.key(end)] && r.goesOn(end) {
			words++
		}
		return words, Openings, limit(&r.out.Openings, n)
	}
	if n, ok := number(r.key(i)); ok {
		unit := r.key(i + 1)
		switch {
		case fetches[unit]:
			return 2, Downloads, limit(&r.out.Downloads, n)
		case opens[unit]:
			return 2, Openings, limit(&r.out.Openings, n)
		case filesWords[unit]:
			return 2, IntakeFiles, limit(&r.out.Files, n)
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

// limit sets how many or how often at most.
func limit(of **int, n int) func() Why {
	return func() Why {
		if n < 1 || n > mostCount {
			return Range
		}
		*of = &n
		return ""
	}
}

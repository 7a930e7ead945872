package route

import "strconv"

// step is the way to one of several, as JSON Pointer (RFC 6901) writes it; without a name, to one of
// the list itself.
func step(at, name string, i int) string {
	if name != "" {
		at += "/" + name
	}
	return at + "/" + strconv.Itoa(i)
}

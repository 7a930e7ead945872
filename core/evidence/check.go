package evidence

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"golang.org/x/mod/sumdb/tlog"
)

// Report says in sentences what a bundle proves, what it does not, and what is wrong
// with it.
type Report struct {
	Proven, Open, Wrong []string
}

// Holds reports whether nothing is wrong.
func (r Report) Holds() bool { return len(r.Wrong) == 0 }

func (r *Report) proven(format string, a ...any) {
	r.Proven = append(r.Proven, fmt.Sprintf(format, a...))
}
func (r *Report) open(format string, a ...any)  { r.Open = append(r.Open, fmt.Sprintf(format, a...)) }
func (r *Report) wrong(format string, a ...any) { r.Wrong = append(r.Wrong, fmt.Sprintf(format, a...)) }

// Trust is what whoever checks knows from elsewhere.
type Trust struct {
	// Key is the verifier they know; without one the bundle's own is taken.
	Key string
	// Witnessed is a checkpoint that they were sent before.
	Witnessed string
}

// Check checks a bundle. files are the hashes (SHA-256, hexadecimal) of the contents
// that came with it, by their name in the archive.
func Check(b Bundle, trust Trust, files map[string]string) (r Report) {
	if b.Format != Format {
		r.wrong("The bundle is of the form %q; this checker knows %s.", b.Format, Format)
		return r
	}
	c := checking{Bundle: b, Report: &r, key: b.Key}
	if trust.Key != "" {
		c.key = strings.TrimSpace(trust.Key)
	}
	var err error
	if c.at, _, err = OpenCheckpoint(b.Checkpoint, []string{c.key}); err != nil {
		r.wrong("Nothing is proven: %v.", err)
		return r
	}
	r.proven("The checkpoint of %d events is signed by the key %s.", c.at.Size, shortKey(c.key))
	if trust.Key == "" {
		r.open("That the key is the practice's: the bundle brings it along. Compare it with what the practice says elsewhere.")
	}
	c.growth(trust)
	c.events()
	c.versions(files)
	r.open("That nothing else happened: the bundle holds what was asked for and may be seen by whoever asked.")
	r.open("Names and sentences: only ids, moments, kinds and what is opened of each event are sealed.")
	return r
}

// shortKey is a verifier without the key itself.
func shortKey(key string) string {
	name, rest, _ := strings.Cut(key, "+")
	hash, _, _ := strings.Cut(rest, "+")
	return name + "+" + hash
}

type checking struct {
	Bundle
	*Report
	key string
	at  Checkpoint
	// sealed are the hashes of versions that sealed events tell.
	sealed map[string]bool
}

// growth checks that the log has grown out of earlier checkpoints.
func (c *checking) growth(trust Trust) {
	roots := map[int64]tlog.Hash{c.at.Size: c.at.Root}
	good := 0
	for _, g := range c.Earlier {
		earlier, _, err := OpenCheckpoint(g.Checkpoint, c.keys())
		switch {
		case err != nil:
			c.wrong("Of the earlier checkpoints: %v.", err)
		case earlier.Origin != c.at.Origin:
			c.wrong("An earlier checkpoint is of another log, %s.", earlier.Origin)
		case earlier.Size > 0 && tlog.CheckTree(tlog.TreeProof(g.Proof), c.at.Size, c.at.Root, earlier.Size, earlier.Root) != nil:
			c.wrong("The log has not grown out of the checkpoint of %d events: something before it was changed.", earlier.Size)
		default:
			roots[earlier.Size] = earlier.Root
			good++
		}
	}
	if len(c.FormerKeys) > 0 {
		c.open("That the former keys were the practice's, too: compare them like the one of today.")
	}
	if good > 0 {
		c.proven("The log has grown out of %d earlier checkpoints: nothing before them was altered, removed, put in or moved.", good)
	}
	if trust.Witnessed == "" {
		c.open("That the log is the one that others were shown: compare it with a checkpoint that was sent to somebody.")
		return
	}
	w, _, err := OpenCheckpoint(trust.Witnessed, c.keys())
	root, known := roots[w.Size]
	switch {
	case err != nil:
		c.wrong("The checkpoint that was sent: %v.", err)
	case w.Origin != c.at.Origin:
		c.wrong("The checkpoint that was sent is of another log, %s.", w.Origin)
	case !known && w.Size > c.at.Size:
		c.open("The checkpoint that was sent is newer than the bundle, of %d events: have a new bundle written.", w.Size)
	case !known:
		c.open("The checkpoint that was sent, of %d events, is not among those of the bundle.", w.Size)
	case root != w.Root:
		c.wrong("The checkpoint that was sent, of %d events, differs: this is not the log that was shown then.", w.Size)
	default:
		c.proven("It is the log whose checkpoint of %d events was sent before.", w.Size)
	}
}

// keys are all that checkpoints are signed by.
func (c *checking) keys() []string {
	keys := []string{c.key}
	for _, k := range c.FormerKeys {
		if !slices.Contains(keys, k) {
			keys = append(keys, k)
		}
	}
	return keys
}

// events checks each event.
func (c *checking) events() {
	c.sealed = map[string]bool{}
	places := map[int64]bool{}
	proven, opened := 0, 0
	for i, p := range c.Events {
		e, err := ReadEntry(p.Entry)
		if err != nil {
			c.wrong("Event %d of the bundle cannot be read.", i+1)
			continue
		}
		fields := c.opened(e, p.Opened)
		opened += len(fields)
		if places[p.Index] {
			c.wrong("Place %d of the log stands twice in the bundle.", p.Index)
			continue
		}
		places[p.Index] = true
		if err := tlog.CheckRecord(tlog.RecordProof(p.Proof), c.at.Size, c.at.Root, p.Index, HashOf([]byte(p.Entry))); err != nil {
			c.wrong("Event %d (%s, %s) is not what the log holds at place %d.", e.Event, e.Kind, e.At, p.Index)
			continue
		}
		proven++
		c.note(e, fields)
	}
	if proven > 0 {
		c.proven("%d events stand in the log exactly as written here, at their places; %d of their fields are opened and agree.", proven, opened)
	}
	if hidden := len(c.Events)*len(Fields) - opened; hidden > 0 {
		c.open("%d fields that are left sealed: that they are not read here, or were erased.", hidden)
	}
}

// opened checks the fields that are opened, and returns those that agree.
func (c *checking) opened(e Entry, all map[string]Opening) map[string]string {
	good := map[string]string{}
	for field, o := range all {
		if want, known := e.Sealed[field]; !known || o.Commitment() != want {
			c.wrong("Of event %d the field %q is not what was sealed.", e.Event, field)
			continue
		}
		good[field] = o.Value
	}
	return good
}

// note keeps the hash that a sealed event tells of a version.
func (c *checking) note(e Entry, fields map[string]string) {
	var data struct {
		SHA256 string `json:"sha256"`
	}
	if e.Item == nil || e.Version == nil || json.Unmarshal([]byte(fields["data"]), &data) != nil || data.SHA256 == "" {
		return
	}
	c.sealed[versionKey(e.Item.String(), *e.Version, data.SHA256)] = true
}

func versionKey(document string, number int, sha256 string) string {
	return fmt.Sprintf("%s %d %s", document, number, sha256)
}

// versions compares the versions' hashes with what sealed events tell, and with the
// contents that came along.
func (c *checking) versions(files map[string]string) {
	told, came := 0, 0
	for _, v := range c.Versions {
		if c.sealed[versionKey(v.Document, v.Number, v.SHA256)] {
			told++
		} else {
			c.open("The hash of version %d of %s: no sealed event of the bundle tells it.", v.Number, v.Name)
		}
		switch got, there := files[v.File]; {
		case v.File == "":
		case !there:
			c.wrong("The content of version %d of %s is missing from the archive.", v.Number, v.Name)
		case got != v.SHA256:
			c.wrong("The content of version %d of %s is not the one of that hash.", v.Number, v.Name)
		default:
			came++
		}
	}
	if told > 0 {
		c.proven("%d versions have the hash (SHA-256) that a sealed event tells.", told)
	}
	if came > 0 {
		c.proven("%d contents in the archive have exactly those hashes.", came)
	}
}

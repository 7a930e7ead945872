package richtext_test

import (
	"bufio"
	"encoding/json"
	"fmt"
	"os/exec"
	"strings"
	"testing"

	"tabularis/core/richtext"
)

// line is what the clients print: a document, or a batch as it was sent and as its
// client carried it over what had come before.
type line struct {
	Doc     json.RawMessage
	Version int
	Steps   []json.RawMessage
	Carried []json.RawMessage
}

// The editor's own modules, as several clients that write at random, and this
// package come to the same steps and the same documents.
func TestConformanceWithTheEditor(t *testing.T) {
	const steps = 800
	for seed := range 4 {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			t.Parallel()
			clients := exec.Command("node", "testdata/clients.mjs", "../../web", "schema.json", fmt.Sprint(1000+seed), fmt.Sprint(steps))
			var complaints strings.Builder
			clients.Stderr = &complaints
			out, err := clients.StdoutPipe()
			if err != nil {
				t.Fatal(err)
			}
			if err := clients.Start(); err != nil {
				t.Fatal(err)
			}
			lines := bufio.NewScanner(out)
			lines.Buffer(nil, 10<<20)
			var a authority
			for lines.Scan() {
				var l line
				if err := json.Unmarshal(lines.Bytes(), &l); err != nil {
					t.Fatal(err)
				}
				a.follow(t, l)
			}
			if err := clients.Wait(); err != nil {
				t.Fatalf("%v: %s", err, complaints.String())
			}
			if a.accepted < steps || a.carried < steps/10 || a.documents < 20 {
				t.Errorf("%d steps, %d carried, %d documents compared: too few to show anything", a.accepted, a.carried, a.documents)
			}
			t.Logf("%d steps, %d batches carried, %d refused, %d documents compared", a.accepted, a.carried, a.refused, a.documents)
		})
	}
}

// authority follows the clients: it keeps the documents between groups of steps.
type authority struct {
	docs                                  []*richtext.Node
	groups                                [][]richtext.Step
	accepted, carried, refused, documents int
}

func (a *authority) follow(t *testing.T, l line) {
	t.Helper()
	if l.Doc != nil {
		a.compare(t, l.Doc)
		return
	}
	at, version := 0, 0
	for ; version < l.Version; at++ {
		version += len(a.groups[at])
	}
	steps := read(t, l.Steps)
	if at < len(a.groups) {
		a.carried++
	}
	for ; at < len(a.groups); at++ {
		steps, _ = richtext.Carry(steps, maps(a.groups[at]), a.docs[at+1])
	}
	doc := a.docs[len(a.docs)-1]
	if l.Carried == nil {
		a.refused++
		return
	}
	var got []string
	for _, s := range steps {
		next, err := s.Apply(doc)
		if err != nil {
			t.Fatalf("after %d steps: %v", a.accepted, err)
		}
		if err := next.Check(); err != nil {
			t.Fatalf("after %d steps the document is not what it may be: %v", a.accepted, err)
		}
		raw, _ := richtext.WriteStep(s)
		doc, got = next, append(got, string(raw))
	}
	if len(got) != len(l.Carried) {
		t.Fatalf("after %d steps: %d steps of %d are left, the client has %d", a.accepted, len(got), len(l.Steps), len(l.Carried))
	}
	for i := range got {
		if !sameJSON(t, []byte(got[i]), l.Carried[i]) {
			t.Fatalf("after %d steps:\n got %s\nwant %s", a.accepted, got[i], l.Carried[i])
		}
	}
	if len(steps) > 0 {
		a.docs, a.groups = append(a.docs, doc), append(a.groups, steps)
		a.accepted += len(steps)
	}
}

func (a *authority) compare(t *testing.T, raw json.RawMessage) {
	t.Helper()
	doc, err := richtext.Written.Read(raw)
	if err != nil {
		t.Fatal(err)
	}
	if a.docs == nil {
		a.docs = []*richtext.Node{doc}
		return
	}
	a.documents++
	mine := a.docs[len(a.docs)-1]
	own, _ := json.Marshal(mine)
	if !mine.Equal(doc) || !sameJSON(t, own, raw) {
		t.Fatalf("after %d steps:\n got %s\nwant %s", a.accepted, own, raw)
	}
}

func read(t *testing.T, raw []json.RawMessage) (steps []richtext.Step) {
	t.Helper()
	for _, r := range raw {
		s, err := richtext.Written.ReadStep(r)
		if err != nil {
			t.Fatalf("%v: %s", err, r)
		}
		steps = append(steps, s)
	}
	return steps
}

func maps(steps []richtext.Step) (all []richtext.StepMap) {
	for _, s := range steps {
		all = append(all, s.Map())
	}
	return all
}

func sameJSON(t *testing.T, a, b []byte) bool {
	t.Helper()
	var x, y any
	if json.Unmarshal(a, &x) != nil || json.Unmarshal(b, &y) != nil {
		t.Fatal("no JSON")
	}
	ax, _ := json.Marshal(x)
	by, _ := json.Marshal(y)
	return string(ax) == string(by)
}

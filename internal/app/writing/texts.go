package writing

import (
	"context"
	"encoding/json"
	"maps"
	"slices"

	"tabularis/core/richtext"
	"tabularis/core/richtext/markdown"
	"tabularis/internal/platform/reading"
)

// texts is the craft of Markdown, and of word-processing documents.
type texts struct{ inWord bool }

// text is one that is written.
type text struct {
	*richtext.Node
	// known are whose each proposal is that was ever seen, so that what was decided can be taken back. All bodies of a
	// room share it.
	known map[string]string
}

// lines are steps of a text.
type lines struct {
	steps []richtext.Step
	maps  []richtext.StepMap
}

func (texts) open(state []byte) (body, error) {
	doc, err := richtext.Written.Read(state)
	if err != nil {
		return nil, err
	}
	return text{doc, richtext.Proposals(doc)}, nil
}

func (t text) Size() int { return t.Content.Size }

func (t text) past() body { return t }

func (t text) people() (ids []string) {
	for _, by := range richtext.Proposals(t.Node) {
		if !slices.Contains(ids, by) {
			ids = append(ids, by)
		}
	}
	return ids
}

func (t text) read(raw []json.RawMessage) (script, error) { return readLines(raw) }

func readLines(raw []json.RawMessage) (l lines, err error) {
	for _, one := range raw {
		step, err := richtext.Written.ReadStep(one)
		if err != nil {
			return l, err
		}
		l.add(step)
	}
	return l, nil
}

func (l *lines) add(s richtext.Step) {
	l.steps, l.maps = append(l.steps, s), append(l.maps, s.Map())
}

func (l lines) raw() (all []json.RawMessage, err error) {
	for _, step := range l.steps {
		raw, err := richtext.WriteStep(step)
		if err != nil {
			return nil, err
		}
		all = append(all, raw)
	}
	return all, nil
}

func (t text) follow(b Batch) (script, body, error) {
	l, err := readLines(b.Steps)
	if err != nil {
		return nil, nil, err
	}
	after := t
	for _, step := range l.steps {
		if after.Node, err = step.Apply(after.Node); err != nil {
			return nil, nil, err
		}
		maps.Copy(t.known, richtext.Brings(step))
	}
	return l, after, nil
}

func (t text) stand(s script, before []group, from int, by hand) (script, body, error) {
	made := s.(lines).steps
	steps := made
	for _, g := range before[from:] {
		steps, _ = richtext.Carry(steps, g.script.(lines).maps, g.after.(text).Node)
	}
	after := t
	var stand lines
	for _, step := range steps {
		var err error
		if after.Node, err = step.Apply(after.Node); err != nil {
			return nil, nil, err
		}
		stand.add(step)
	}
	if err := by.mode.Allow(t.Node, after.Node, by.id); err != nil {
		return nil, nil, err
	}
	for _, step := range made {
		if err := richtext.InOwnName(step, by.id, t.known); err != nil {
			return nil, nil, err
		}
	}
	for _, step := range made {
		maps.Copy(t.known, richtext.Brings(step))
	}
	return stand, after, nil
}

func (texts) fromFile(ctx context.Context, r *reading.Reader, s reading.Source) ([]byte, error) {
	return r.Writing(ctx, s)
}

func (c texts) file(ctx context.Context, s *Service, r row, b body, _ []Batch) ([]byte, error) {
	doc := b.(text).Node
	if !c.inWord {
		file, err := markdown.Write(doc)
		return []byte(file), err
	}
	authors, err := authorsOf(ctx, s.Acts.DB, r.DocumentID, b.people())
	if err != nil {
		return nil, err
	}
	names := map[string]string{}
	for _, a := range authors {
		names[a.ID.String()] = a.Name
	}
	put, err := s.putInto(ctx, r.DocumentID, doc)
	if err != nil {
		return nil, err
	}
	source, err := s.sourceOf(ctx, r.DocumentID, r.into, r.DocumentID)
	if err != nil {
		// What it came from is gone: it is written anew.
		return s.Contents.Reader.TextFile(ctx, nil, doc, names, put, r.DocumentID.String())
	}
	return s.Contents.Reader.TextFile(ctx, &source, doc, names, put, r.DocumentID.String())
}

func (texts) merged(old, came, now body, since []Batch) (script, bool) {
	var moved []richtext.StepMap
	for _, b := range since {
		l, err := readLines(b.Steps)
		if err != nil {
			return nil, false
		}
		moved = append(moved, l.maps...)
	}
	steps, ok := richtext.Merged(old.(text).Node, came.(text).Node, now.(text).Node, moved)
	return lines{steps: steps}, ok
}

func (c texts) fresh(ctx context.Context, s *Service) (file, state []byte, err error) {
	state = []byte(`{"type":"doc","content":[{"type":"paragraph"}]}`)
	if !c.inWord {
		return []byte("\n"), state, nil
	}
	doc, err := richtext.Written.Read(state)
	if err != nil {
		return nil, nil, err
	}
	file, err = s.Contents.Reader.TextFile(ctx, nil, doc, nil, nil, "")
	return file, state, err
}

// freshForm is a text with a heading and a field that asks for nothing in particular yet.
func freshForm(title string) (file, state []byte, err error) {
	state, err = json.Marshal(map[string]any{"type": "doc", "content": []any{
		map[string]any{"type": "heading", "attrs": map[string]any{"level": 1}, "content": []any{map[string]any{"type": "text", "text": title}}},
		map[string]any{"type": "paragraph", "content": []any{map[string]any{"type": "field", "attrs": map[string]any{"id": "f1"}}}},
	}})
	if err != nil {
		return nil, nil, err
	}
	doc, err := richtext.Written.Read(state)
	if err != nil {
		return nil, nil, err
	}
	text, err := markdown.Write(doc)
	return []byte(text), state, err
}

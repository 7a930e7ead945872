package find

import (
	"context"

	rules "tabularis/core/find"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/find"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of finding.
type Handlers struct {
	*door.Door
	Find *find.Service
}

// FindWritten answers a question with a page of documents.
func (h *Handlers) FindWritten(ctx context.Context, r FindWrittenRequestObject) (FindWrittenResponseObject, error) {
	p := r.Params
	asked := question(contract.Question{Q: value(p.Q), Tag: p.Tag, Where: p.Where, Value: p.Value, Linked: p.Linked, State: p.State, Dossier: p.Dossier, Kind: p.Kind, Person: p.Person, Since: p.Since, Until: p.Until, Least: p.Least, Most: p.Most, Earlier: p.Earlier})
	asked.Typing, asked.Newest = value(p.Typing), value(p.Order) == contract.FoundNewest
	asked.After = value(p.After)
	var err error
	if asked.Limit, err = door.Limited(p.Limit, 25, find.MostHits); err != nil {
		return nil, err
	}
	page, err := h.Find.Find(ctx, asked)
	if err != nil {
		return nil, err
	}
	return FindWritten200JSONResponse{Hits: present.Each(page.Hits, hit), Next: present.Some(page.Next), Instead: present.Some(page.Instead)}, nil
}

// CountWritten counts the answers to a question.
func (h *Handlers) CountWritten(ctx context.Context, r CountWrittenRequestObject) (CountWrittenResponseObject, error) {
	p := r.Params
	counts, err := h.Find.Count(ctx, question(contract.Question{Q: value(p.Q), Tag: p.Tag, Where: p.Where, Value: p.Value, Linked: p.Linked, State: p.State, Dossier: p.Dossier, Kind: p.Kind, Person: p.Person, Since: p.Since, Until: p.Until, Least: p.Least, Most: p.Most, Earlier: p.Earlier}))
	if err != nil {
		return nil, err
	}
	return CountWritten200JSONResponse{Total: counts.Total, More: counts.More,
		Dossiers: present.Each(counts.Dossiers, func(d find.DossierCount) contract.FoundInDossier {
			return contract.FoundInDossier{Code: d.Code, Name: d.Name, N: d.N}
		}),
		Kinds: present.Each(counts.Kinds, func(k find.KindCount) contract.FoundOfKind {
			return contract.FoundOfKind{Kind: contract.FoundKind(k.Kind), N: k.N}
		})}, nil
}

// FindWithin says on which pages of a document a question's words stand.
func (h *Handlers) FindWithin(ctx context.Context, r FindWithinRequestObject) (FindWithinResponseObject, error) {
	w, err := h.Find.Within(ctx, r.Id, value(r.Params.Version), r.Params.Q)
	return FindWithin200JSONResponse{Pages: present.Each(w.Pages, same[int]), Words: present.Each(w.Words, same[string])}, err
}

// ListQuestions lists the questions that whoever asks keeps.
func (h *Handlers) ListQuestions(ctx context.Context, _ ListQuestionsRequestObject) (ListQuestionsResponseObject, error) {
	all, err := h.Find.Questions(ctx)
	return ListQuestions200JSONResponse(present.Each(all, kept)), err
}

// KeepQuestion keeps one.
func (h *Handlers) KeepQuestion(ctx context.Context, r KeepQuestionRequestObject) (KeepQuestionResponseObject, error) {
	k, err := h.Find.Keep(ctx, r.Body.Name, question(r.Body.Question))
	return KeepQuestion201JSONResponse(kept(k)), err
}

// ForgetQuestion forgets one.
func (h *Handlers) ForgetQuestion(ctx context.Context, r ForgetQuestionRequestObject) (ForgetQuestionResponseObject, error) {
	return ForgetQuestion204Response{}, h.Find.Forget(ctx, r.Id)
}

func question(q contract.Question) find.Asked {
	asked := find.Asked{Text: q.Q, Tag: value(q.Tag), Where: value(q.Where), Value: value(q.Value), Linked: value(q.Linked), State: string(value(q.State)), Dossier: value(q.Dossier), Person: value(q.Person), Since: value(q.Since), Until: value(q.Until), Least: value(q.Least), Most: value(q.Most), Earlier: value(q.Earlier)}
	for _, k := range value(q.Kind) {
		asked.Kinds = append(asked.Kinds, string(k))
	}
	return asked
}

func kept(k find.Kept) contract.KeptQuestion {
	q := k.Question
	out := contract.Question{Q: q.Text, Tag: present.Some(q.Tag), Where: present.Some(q.Where), Value: present.Some(q.Value), Linked: present.Some(q.Linked), State: present.Some(contract.FoundState(q.State)), Dossier: present.Some(q.Dossier), Person: present.Some(q.Person), Since: present.Some(q.Since), Until: present.Some(q.Until), Least: present.Some(q.Least), Most: present.Some(q.Most), Earlier: present.Some(q.Earlier)}
	if len(q.Kinds) > 0 {
		kinds := present.Each(q.Kinds, func(k string) contract.FoundKind { return contract.FoundKind(k) })
		out.Kind = &kinds
	}
	return contract.KeptQuestion{Id: k.ID, Name: k.Name, Question: out}
}

func hit(h find.Hit) contract.FoundHit {
	out := contract.FoundHit{Place: present.Place(documents.Place{Item: h.Item, Code: h.Code}), Name: parts(h.Item.Name, h.Name), Kind: contract.FoundKind(rules.KindOf(h.MediaHit)),
		Version: h.Hit, Counts: h.Hit == h.Item.Version, At: h.At, By: h.BroughtBy, Size: h.SizeHit, Written: contract.WrittenWaiting}
	if h.State != nil {
		out.Written = contract.FoundHitWritten(*h.State)
	}
	if s := h.Snippet; s != nil {
		text := parts(s.Text, s.Marks)
		if s.Before {
			text = append([]contract.FoundPart{{Text: "… "}}, text...)
		}
		if s.After {
			text = append(text, contract.FoundPart{Text: " …"})
		}
		out.Snippet = &text
		if value(h.Paged) {
			page := s.Page + 1
			out.Page = &page
		}
	}
	return out
}

// parts cuts a text where pieces of it are meant.
func parts(text string, meant []rules.Span) []contract.FoundPart {
	out := []contract.FoundPart{}
	at := 0
	for _, m := range meant {
		if m.From > at {
			out = append(out, contract.FoundPart{Text: text[at:m.From]})
		}
		out = append(out, contract.FoundPart{Text: text[m.From:m.To], Meant: true})
		at = m.To
	}
	if at < len(text) {
		out = append(out, contract.FoundPart{Text: text[at:]})
	}
	return out
}

// value is what was said, or its type's zero.
func value[T any](p *T) T {
	var zero T
	return present.Or(p, zero)
}

func same[T any](v T) T { return v }

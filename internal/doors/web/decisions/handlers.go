package decisions

import (
	"context"
	"encoding/hex"
	"time"

	"github.com/google/uuid"
	openapi_types "github.com/oapi-codegen/runtime/types"

	"tabularis/core/route"
	"tabularis/core/working"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/decisions"
	practices "tabularis/internal/app/practice"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of decisions.
type Handlers struct {
	*door.Door
	Decisions *decisions.Service
	Practice  *practices.Service
}

// ListDecisions lists what concerns the acting person.
func (h *Handlers) ListDecisions(ctx context.Context, _ ListDecisionsRequestObject) (ListDecisionsResponseObject, error) {
	m, err := h.Decisions.List(ctx)
	return ListDecisions200JSONResponse{OnMe: present.Each(m.OnMe, present.Run), WaitFor: present.Each(m.WaitFor, present.Run), Finished: present.Each(m.Finished, present.Run)}, err
}

func wish(b contract.AskWish) (w decisions.Wish, err error) {
	w = decisions.Wish{Documents: b.Documents, Do: route.Doing(b.Do), Rule: route.Rule(present.Or(b.Rule, "")), Of: present.Or(b.Of, 0), Message: present.Or(b.Message, ""), MoveTo: b.MoveTo, Gives: present.Or(b.Gives, false)}
	if w.Who, err = present.Through[[]route.Who](b.Who); err != nil {
		return w, err
	}
	if w.LateTell, err = present.Through[[]route.Who](b.LateTell); err != nil {
		return w, err
	}
	w.Within, w.Remind = span(b.Within), span(b.Remind)
	return w, nil
}

func span(s *contract.Span) *working.Span {
	if s == nil {
		return nil
	}
	return &working.Span{N: s.N, Unit: working.Unit(s.Unit)}
}

// DraftDecision says what asking would mean.
func (h *Handlers) DraftDecision(ctx context.Context, r DraftDecisionRequestObject) (DraftDecisionResponseObject, error) {
	w, err := wish(*r.Body)
	if err != nil {
		return nil, err
	}
	d, err := h.Decisions.Draft(ctx, w)
	if err != nil {
		return nil, err
	}
	return DraftDecision200JSONResponse(draft(d)), nil
}

func draft(d decisions.Draft) contract.AskDraft {
	out := contract.AskDraft{Gives: d.Gives, Ends: []contract.RuleEnd{}, Documents: present.Each(d.Documents, func(s decisions.Subject) contract.AskedDocument {
		return contract.AskedDocument{Id: s.ID, Ref: s.Ref(), Name: s.Name, Version: s.Version, Sha256: hex.EncodeToString(s.SHA256), UnderWay: s.UnderWay}
	}), Asked: present.Each(d.Asked, asked), Authors: present.Each(d.Authors, named), Lacks: present.Each(d.Lacks, func(l decisions.Lacking) contract.AskLack {
		return contract.AskLack{Id: l.Person.ID, Name: l.Person.Name, N: l.N, Outside: !l.Person.Inside()}
	})}
	for _, rule := range []route.Rule{route.Any, route.All, route.InTurn, route.Some} {
		if at, any := d.Ends[rule]; any {
			out.Ends = append(out.Ends, contract.RuleEnd{Rule: contract.AskRule(rule), At: at})
		}
	}
	return out
}

func named(p accounts.Person) contract.NamedId { return contract.NamedId{Id: p.ID, Name: p.Name} }

func asked(a decisions.Asked) contract.DecisionPerson {
	out := contract.DecisionPerson{Id: a.Person, Name: a.Name, For: present.Some(a.For), Turn: a.Turn, Late: a.Late}
	if !a.Due.IsZero() {
		out.Due = &a.Due
	}
	if a.Away != nil {
		from, to := day(a.Away.From), day(a.Away.To)
		out.AwayFrom, out.AwayTo = &from, &to
	}
	return out
}

// AskForDecision asks.
func (h *Handlers) AskForDecision(ctx context.Context, r AskForDecisionRequestObject) (AskForDecisionResponseObject, error) {
	w, err := wish(*r.Body)
	if err != nil {
		return nil, err
	}
	runs, err := h.Decisions.Ask(ctx, w)
	return AskForDecision201JSONResponse(runs), err
}

// GetRun shows a run.
func (h *Handlers) GetRun(ctx context.Context, r GetRunRequestObject) (GetRunResponseObject, error) {
	s, err := h.Decisions.One(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	out := contract.RunPage{Line: present.Run(s.Line), Names: present.NamedIds(s.Names), Folders: []contract.NamedId{}, Trail: present.Each(s.Trail(), present.Trail), May: may(s.May), SeenVersion: present.Some(s.Since), Instructions: present.Some(s.Instructions()), Signing: present.Some(s.Signing)}
	if out.Definition, err = present.Through[contract.RouteDefinition](s.Definition); err != nil {
		return nil, err
	}
	folders, err := h.Decisions.Folders(ctx, s.Definition)
	for id, f := range folders {
		out.Folders = append(out.Folders, contract.NamedId{Id: id, Name: f.Item.Name})
	}
	return GetRun200JSONResponse(out), err
}

func may(m decisions.May) (all []contract.RunPageMay) {
	all = []contract.RunPageMay{}
	for _, one := range []struct {
		is   bool
		what contract.RunPageMay
	}{{m.Decide, contract.MayDecide}, {m.TakeBack, contract.MayTakeBack}, {m.HandIn, contract.MayHandIn}, {m.LookAfter, contract.MayLookAfter}, {m.CallOff, contract.MayCallOff}, {m.Ask, contract.MayAsk}} {
		if one.is {
			all = append(all, one.what)
		}
	}
	return all
}

func decision(b contract.Verdict) decisions.Decision {
	return decisions.Decision{Verdict: route.Verdict(b.Verdict), Content: route.Content{Version: b.Version, SHA256: b.Sha256}, Note: present.Or(b.Note, ""), Again: route.Again(present.Or(b.Again, "")), Pages: present.Or(b.Seen, nil), Of: present.Or(b.Pages, 0)}
}

// Decide takes a decision.
func (h *Handlers) Decide(ctx context.Context, r DecideRequestObject) (DecideResponseObject, error) {
	return Decide204Response{}, h.Decisions.Decide(ctx, r.Id, decision(*r.Body))
}

// TakeDecisionBack takes it back.
func (h *Handlers) TakeDecisionBack(ctx context.Context, r TakeDecisionBackRequestObject) (TakeDecisionBackResponseObject, error) {
	return TakeDecisionBack204Response{}, h.Decisions.TakeBack(ctx, r.Id)
}

// AskInRun asks something without deciding.
func (h *Handlers) AskInRun(ctx context.Context, r AskInRunRequestObject) (AskInRunResponseObject, error) {
	return AskInRun204Response{}, h.Decisions.Question(ctx, r.Id, present.Or(r.Body.Note, ""))
}

// HandInAgain hands a returned document in again.
func (h *Handlers) HandInAgain(ctx context.Context, r HandInAgainRequestObject) (HandInAgainResponseObject, error) {
	return HandInAgain204Response{}, h.Decisions.HandIn(ctx, r.Id, present.Or(r.Body.Note, ""))
}

// HandOn lets somebody else decide.
func (h *Handlers) HandOn(ctx context.Context, r HandOnRequestObject) (HandOnResponseObject, error) {
	return HandOn204Response{}, h.Decisions.HandOn(ctx, r.Id, r.Body.From, r.Body.To, present.Or(r.Body.Note, ""))
}

// RepeatStop tries again what holds a run up.
func (h *Handlers) RepeatStop(ctx context.Context, r RepeatStopRequestObject) (RepeatStopResponseObject, error) {
	return RepeatStop204Response{}, h.Decisions.Repeat(ctx, r.Id)
}

// SkipStop passes a stop over.
func (h *Handlers) SkipStop(ctx context.Context, r SkipStopRequestObject) (SkipStopResponseObject, error) {
	return SkipStop204Response{}, h.Decisions.Skip(ctx, r.Id, present.Or(r.Body.Note, ""))
}

// CallRunOff ends a run.
func (h *Handlers) CallRunOff(ctx context.Context, r CallRunOffRequestObject) (CallRunOffResponseObject, error) {
	return CallRunOff204Response{}, h.Decisions.CallOff(ctx, r.Id, present.Or(r.Body.Note, ""))
}

// ListRunsOfDocument lists the runs of a document.
func (h *Handlers) ListRunsOfDocument(ctx context.Context, r ListRunsOfDocumentRequestObject) (ListRunsOfDocumentResponseObject, error) {
	all, err := h.Decisions.Of(ctx, r.Id)
	return ListRunsOfDocument200JSONResponse(present.Each(all, present.Run)), err
}

// LookByMail shows what a way in a mail leads to.
func (h *Handlers) LookByMail(ctx context.Context, r LookByMailRequestObject) (LookByMailResponseObject, error) {
	w, err := h.Decisions.ByWay(ctx, r.Token)
	if err != nil {
		return nil, err
	}
	p, err := h.Practice.Show(ctx)
	return LookByMail200JSONResponse{Practice: p.Name, Person: w.Person.Name, Line: present.Run(w.Line), Trail: present.Each(w.Trail(), present.Trail), Instructions: present.Some(w.Instructions())}, err
}

// DecideByMail decides by it.
func (h *Handlers) DecideByMail(ctx context.Context, r DecideByMailRequestObject) (DecideByMailResponseObject, error) {
	return DecideByMail204Response{}, h.Decisions.DecideByWay(ctx, r.Token, decision(*r.Body))
}

// ListAbsences lists one's own.
func (h *Handlers) ListAbsences(ctx context.Context, _ ListAbsencesRequestObject) (ListAbsencesResponseObject, error) {
	all, names, err := h.Decisions.Absences(ctx)
	return ListAbsences200JSONResponse(present.Each(all, func(a decisions.Absence) contract.Absence {
		out := contract.Absence{Id: a.ID, From: date(a.From), To: date(a.To)}
		if a.Substitute != nil {
			out.Substitute = &contract.NamedId{Id: *a.Substitute, Name: names[*a.Substitute]}
		}
		return out
	})), err
}

// AddAbsence says when one is away.
func (h *Handlers) AddAbsence(ctx context.Context, r AddAbsenceRequestObject) (AddAbsenceResponseObject, error) {
	return AddAbsence204Response{}, h.Decisions.BeAway(ctx, r.Body.From, r.Body.To, r.Body.Substitute)
}

// EndAbsence takes it back.
func (h *Handlers) EndAbsence(ctx context.Context, r EndAbsenceRequestObject) (EndAbsenceResponseObject, error) {
	return EndAbsence204Response{}, h.Decisions.BeBack(ctx, uuid.UUID(r.Id))
}

func date(t time.Time) openapi_types.Date { return openapi_types.Date{Time: t} }

// day reads a day in normal form.
func day(s string) openapi_types.Date {
	t, _ := time.Parse(time.DateOnly, s)
	return date(t)
}

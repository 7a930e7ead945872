package present

import (
	"tabularis/internal/app/decisions"
	"tabularis/internal/doors/web/contract"
)

// State presents what has become of a document by decisions.
func State(s *decisions.Standing) *contract.DocumentState {
	if s == nil {
		return nil
	}
	return &contract.DocumentState{State: contract.DocumentStateState(s.State), Run: Some(s.Run), Signing: Some(s.Signing), With: List(s.With), Back: s.Back, Held: s.Held, Due: s.Due}
}

// Run presents a run as it is listed.
func Run(l decisions.Line) contract.RunLine {
	r := l.Run
	out := contract.RunLine{
		Id: l.ID, ItemId: l.Sight.ID, Ref: l.Sight.Ref(), Name: l.Sight.Name, Version: r.Content.Version, Sha256: r.Content.SHA256, DossierCode: l.Sight.Code, DossierName: l.Sight.DossierName,
		Status: contract.RunStatus(r.Status), Held: Some(contract.HeldReason(r.Held)), HeldBy: Some(l.HeldBy()), At: r.At.Stop + 1, Since: r.Since, StartedAt: l.Started, EndedAt: l.Ended, Issued: r.Issued,
		WaitsFor: []contract.DecisionPerson{}, Stops: Each(l.Stops(), stop),
	}
	if l.RouteID != nil {
		out.RouteId, out.Route, out.Edition = l.RouteID, &l.Definition.Name, &l.Edition
	}
	for _, a := range r.Waiting() {
		p := contract.DecisionPerson{Id: a.Person, Name: l.Names[a.Person], Turn: true, Late: a.Late}
		if !a.Due.IsZero() {
			p.Due = &a.Due
		}
		if a.For != nil {
			p.For = Some(l.Names[*a.For])
		}
		out.WaitsFor = append(out.WaitsFor, p)
	}
	if r.Back != nil {
		out.Back = &contract.NamedId{Id: r.Back.To, Name: l.Names[r.Back.To]}
	}
	return out
}

func stop(s decisions.Stop) contract.RunStop {
	out := contract.RunStop{Number: s.Number, Case: Some(s.Case), Do: contract.Doing(s.Do), State: contract.RunStopState(s.State), Till: s.Till}
	if s.Till != nil {
		out.Days = &s.Days
	}
	if len(s.Who) > 0 {
		out.Who = &s.Who
	}
	return out
}

// Trail presents what has happened to a run.
func Trail(t decisions.Entry) contract.TrailEntry {
	out := contract.TrailEntry{Kind: contract.TrailEntryKind(t.Kind), At: t.At, By: Some(t.By), From: Some(t.From), Stop: Some(t.Stop), Case: Some(t.Case), Do: Some(contract.Doing(t.Do)), Verdict: Some(contract.TrailEntryVerdict(t.Verdict)),
		Note: Some(t.Note), Version: Some(t.Version), Sha256: Some(t.SHA256), Seen: Some(t.Seen), Pages: Some(t.Of), Reason: Some(t.Reason), Status: Some(contract.RunStatus(t.Status)), How: Some(contract.TrailEntryHow(t.How)), Due: t.Due}
	if len(t.To) > 0 {
		out.To = &t.To
	}
	return out
}

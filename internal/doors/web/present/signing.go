package present

import (
	"tabularis/core/looks"
	core "tabularis/core/signing"
	"tabularis/internal/app/signing"
	"tabularis/internal/doors/web/contract"
)

// Signing is a request as it is listed.
func Signing(l signing.Line) contract.SigningLine {
	r := l.Request
	out := contract.SigningLine{Id: l.ID, ItemId: l.ItemID, Ref: l.At.Ref(), Name: l.At.Name, Version: l.Version, Pages: l.Pages, Status: contract.SigningStatus(r.Status), Parties: SigningParties(r), Sender: l.Sender, Message: l.Message,
		SentAt: r.SentAt, Since: r.Since, Until: r.Until, EndedAt: Some(r.EndedAt), Reason: Some(r.Reason), Each: r.Plan.Each, Manages: l.Manages, Final: Some(l.SealedVersion), Trouble: Some(l.Trouble)}
	if out.Form = Some(l.Form); l.Form != "" {
		out.FormEdition = &l.FormEdition
	}
	if l.Mine >= 0 {
		out.Mine = &l.Mine
	}
	return out
}

// SigningParties are the parties of a request, and how far each has come.
func SigningParties(r core.Request) (all []contract.SigningPartyState) {
	all = []contract.SigningPartyState{}
	for i, p := range r.Plan.Parties {
		st := r.Parties[i]
		one := contract.SigningPartyState{Letter: core.Letter(i), Role: p.Role, Name: p.Name, Email: Some(p.Email), Person: p.Person, Turn: p.Turn, Waits: st.Turn, Signs: p.Signs, Since: Some(st.Since), Openings: st.Openings, RemindedAt: st.Reminded}
		if s := st.Signed; s != nil {
			known := contract.SigningKnown(s.Known)
			one.SignedAt, one.Known, one.Before, one.Network = &s.At, &known, Some(s.Before), Some(s.Network)
			one.Pages = Some(looks.Pages(s.Pages).String())
		}
		all = append(all, one)
	}
	return all
}

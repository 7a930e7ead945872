package practice

import (
	"context"
	"encoding/json"

	practices "tabularis/internal/app/practice"

	"tabularis/core/keeping"
	"tabularis/core/scan"
	"tabularis/core/terms"
	"tabularis/core/versions"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// GetPractice shows what the sign-in page needs.
func (h *Handlers) GetPractice(ctx context.Context, _ GetPracticeRequestObject) (GetPracticeResponseObject, error) {
	p, err := h.Practice.Show(ctx)
	return GetPractice200JSONResponse(present.Practice(p)), err
}

// SetRules changes the practice's rules for accounts.
func (h *Handlers) SetRules(ctx context.Context, r SetRulesRequestObject) (SetRulesResponseObject, error) {
	b := r.Body
	patterns, err := json.Marshal(present.Each(b.Patterns, func(p contract.Pattern) scan.Pattern {
		return scan.Pattern{Name: present.Or(p.Name, ""), Text: p.Text, Expression: p.Expression}
	}))
	if err != nil {
		return nil, err
	}
	own, err := json.Marshal(present.Each(present.Or(b.Named, nil), func(o contract.NamedTerms) terms.Own { return terms.Own{Name: o.Name, Words: o.Words} }))
	if err != nil {
		return nil, err
	}
	calendar, err := present.Through[*json.RawMessage](b.Calendar)
	if err != nil {
		return nil, err
	}
	outward := present.Or(b.Outward, contract.OutwardRules{Required: contract.OutwardRulesRequiredNothing, Kinds: []contract.LinkKind{contract.LinkKindHandOut, contract.LinkKindWorking, contract.LinkKindIntake, contract.LinkKindTransfer}})
	return SetRules204Response{}, h.Practice.SetRules(
		ctx,
		practices.Practice{
			ColleaguesMakeDossiers: b.ColleaguesMakeDossiers,
			GuestsByCode:           b.GuestsByCode,
			SecondFactorRequired:   b.SecondFactorRequired,
			StorageBytes:           b.StorageBytes,
			DossierBytes:           b.DossierBytes,
			PersonBytes:            b.PersonBytes,
			LongestLinkDays:        b.LongestLinkDays,
			KeepingDays:            present.Or(b.KeepingDays, int(keeping.Usual)),
			SittingMinutes:         present.Or(b.SittingMinutes, int(versions.UsualSitting)),
			Sensitive:              string(b.Sensitive),
			Patterns:               patterns,
			OutwardRequired: string(
				outward.Required,
			),
			OutwardKinds:     present.Each(outward.Kinds, func(k contract.LinkKind) string { return string(k) }),
			OutwardShut:      outward.Shut,
			OutwardOnly:      outward.Only,
			TransferDays:     outward.TransferDays,
			TransferBytes:    outward.TransferBytes,
			DeliveriesBytes:  outward.DeliveriesBytes,
			SealsForbidden:   present.Or(outward.SealsForbidden, false),
			OutwardSealedFor: present.Or(outward.SealedFor, nil),
			NamedTerms:       own,
			Calendar:         calendar,
			DecidesByMail:    present.Or(b.DecidesByMail, true),
			SigningConsent:   present.Or(b.SigningConsent, ""),
		},
	)
}

// RemovePractice lets the practice be removed.
func (h *Handlers) RemovePractice(ctx context.Context, r RemovePracticeRequestObject) (RemovePracticeResponseObject, error) {
	return RemovePractice204Response{}, h.Practice.Remove(ctx, r.Body.Name, r.Body.Password)
}

// KeepPractice takes its removal back.
func (h *Handlers) KeepPractice(ctx context.Context, _ KeepPracticeRequestObject) (KeepPracticeResponseObject, error) {
	return KeepPractice204Response{}, h.Practice.Keep(ctx)
}

// Handlers serve the operations of practice.
type Handlers struct {
	*door.Door
	Practice *practices.Service
}

package people

import (
	"tabularis/core/scan"
	ownterms "tabularis/core/terms"
	"tabularis/internal/app/people"
	practices "tabularis/internal/app/practice"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/present"
)

func account(a people.Account) contract.Account {
	out := contract.Account{
		Person:    present.Person(a.Person),
		Standing:  contract.Standing(a.Standing),
		Dossiers:  a.Dossiers,
		Documents: a.Documents,
		Measured:  a.Dossiers > 0 || a.Documents > 0,
		Seen:      a.SeenAt,
		Ends:      a.Ends,
		Ended:     a.DeactivatedAt,
		Factor:    present.Some(contract.AccountFactor(a.Factor)),
	}
	if a.Pending != nil {
		out.Invited, out.InvitationEnds, out.InvitedBy = &a.Pending.CreatedAt, &a.Pending.ExpiresAt, present.Some(a.Pending.By)
	}
	return out
}

func rules(p practices.Practice) contract.Rules {
	// What the database keeps was checked when it was set.
	own, _ := scan.Patterns(p.Patterns)
	terms, _ := p.OwnTerms()
	named := present.Each(terms, func(o ownterms.Own) contract.NamedTerms { return contract.NamedTerms{Name: o.Name, Words: o.Words} })
	outward := p.Outward()
	works, _ := p.WorkingCalendar()
	calendar, _ := present.Through[contract.WorkingCalendar](works)
	calendar.Days = present.List(calendar.Days)
	sealedFor := present.List(outward.SealedFor)
	return contract.Rules{
		Outward: &contract.OutwardRules{
			Required:        contract.OutwardRulesRequired(outward.Required),
			Kinds:           present.Each(outward.Kinds, func(k string) contract.LinkKind { return contract.LinkKind(k) }),
			Shut:            present.List(outward.Shut),
			Only:            present.List(outward.Only),
			TransferDays:    p.TransferDays,
			TransferBytes:   p.TransferBytes,
			DeliveriesBytes: p.DeliveriesBytes,
			SealsForbidden:  present.Some(outward.SealsForbidden),
			SealedFor:       &sealedFor,
		},
		Named:                  &named,
		Calendar:               &calendar,
		DecidesByMail:          &p.DecidesByMail,
		SigningConsent:         &p.SigningConsent,
		ColleaguesMakeDossiers: p.ColleaguesMakeDossiers,
		GuestsByCode:           p.GuestsByCode,
		SecondFactorRequired:   p.SecondFactorRequired,
		StorageBytes:           p.StorageBytes,
		DossierBytes:           p.DossierBytes,
		PersonBytes:            p.PersonBytes,
		LongestLinkDays:        p.LongestLinkDays,
		KeepingDays:            &p.KeepingDays,
		SittingMinutes:         &p.SittingMinutes,
		Sensitive:              contract.RulesSensitive(p.Sensitive),
		Patterns: present.Each(own, func(p scan.Pattern) contract.Pattern {
			return contract.Pattern{Name: present.Some(p.Name), Text: p.Text, Expression: p.Expression}
		}),
	}
}

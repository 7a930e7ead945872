package present

import (
	"context"
	"strings"

	practices "tabularis/internal/app/practice"

	"tabularis/core/access"
	"tabularis/core/register"
	"tabularis/core/terms"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/sharing"
	"tabularis/internal/doors/web/contract"
)

func KindName(k access.SubjectKind) contract.SubjectKind {
	return [...]contract.SubjectKind{contract.SubjectKindPerson, contract.SubjectKindGroup, contract.SubjectKindEveryone}[k]
}

func Grant(ctx context.Context) func(g sharing.ShownGrant) contract.Grant {
	language := act.Who(ctx).Language
	return func(g sharing.ShownGrant) contract.Grant {
		may := g.Core().Caps().Names()
		out := contract.Grant{
			Id:           g.ID,
			Version:      g.Version,
			Kind:         KindName(g.SubjectKind),
			Subject:      Some(g.SubjectID),
			Name:         g.Subject,
			Organisation: Some(g.Organisation),
			Outside:      g.Outside,
			Invited:      g.Invited,
			Seen:         g.SeenAt,
			Level:        contract.Level(g.Level),
			May:          &may,
			Words: terms.LevelWords(
				language,
				g.Level,
				g.OwnSet.Names(),
			),
			Onward:      g.Onward,
			Until:       g.EndsAt,
			By:          g.By,
			At:          g.CreatedAt,
			Message:     Some(g.Message),
			ItemId:      g.ItemID,
			ItemName:    g.ItemName,
			ItemKind:    contract.GrantItemKind(g.ItemKind),
			FolderId:    g.ParentID,
			Code:        g.Code,
			DossierName: g.DossierName,
			Pinned:      &g.Pinned,
		}
		if g.ParentID == nil {
			out.ItemKind = contract.GrantItemKindDossier
		}
		if g.ItemNumber != nil {
			out.Ref = Some(register.Ref{Code: g.Code, Number: *g.ItemNumber}.String())
		}
		return out
	}
}

func Request(r sharing.Request) contract.Request {
	out := contract.Request{Id: r.ID, Person: r.Name, Message: Some(r.Message), At: r.At, ItemName: r.ItemName, ItemKind: contract.RequestItemKind(r.ItemKind), Code: r.Code}
	if r.Number != nil {
		out.Ref = Some(register.Ref{Code: r.Code, Number: *r.Number}.String())
	}
	return out
}

func Person(p accounts.Person) contract.Person {
	var initials strings.Builder
	for _, w := range strings.Fields(p.Name) {
		if r := []rune(w); initials.Len() < 2 {
			initials.WriteString(strings.ToUpper(string(r[0])))
		}
	}
	return contract.Person{
		Id:           p.ID,
		Name:         p.Name,
		Initials:     initials.String(),
		Role:         p.Role,
		Email:        p.Email,
		Phone:        p.Phone,
		Organisation: p.Organisation,
		Outside:      !p.Inside(),
	}
}

func Practice(p practices.Practice) contract.Practice {
	return contract.Practice{Name: p.Name, Tagline: p.Tagline, Timezone: p.Timezone, LongestLinkDays: p.LongestLinkDays, Helper: p.Helper}
}

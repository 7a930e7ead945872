package present

import (
	"strings"

	"tabularis/core/register"
	"tabularis/core/terms"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/links"
	"tabularis/internal/doors/web/contract"
)

func Expected(p links.ExpectedPaper) contract.ExpectedPaper {
	return contract.ExpectedPaper{Name: p.Name, Here: p.Here}
}

func Sentence(s terms.Sentence) []contract.Part {
	return Each(s, func(p terms.Part) contract.Part {
		return contract.Part{Text: p.Text, Term: Some(contract.PartTerm(p.Term))}
	})
}

func Link(l links.Shown) contract.Link {
	out := contract.Link{
		Id:             l.ID,
		Name:           l.Name,
		Kind:           contract.LinkKind(l.Kind),
		State:          contract.LinkState(l.State),
		Address:        Some(l.Address),
		Sentence:       Sentence(l.Sentence),
		DossierCode:    l.DossierCode,
		By:             l.By,
		At:             l.CreatedAt,
		Until:          l.Until,
		EndedAt:        l.EndedAt,
		Openings:       l.Openings,
		OpeningsLimit:  l.Terms.Openings,
		Downloads:      l.Downloads,
		DownloadsLimit: l.Terms.Downloads,
		NotBefore:      l.NotBefore,
		Identify:       contract.Identity(l.Identify.String()),
		Allowed:        List(l.Allowed),
		Newest:         l.Newest,
		ViewOnly:       !l.MayDownload,
		Remarks:        l.Remarks,
		LastOpenedAt:   l.LastOpenedAt,
		LastBy:         Some(l.LastBy),
		HasPassword:    l.PasswordHash != "",
		MayEnd:         l.MayEnd && l.Living,
		Living:         l.Living,
		SentTo:         strings.Fields(l.SentTo),
		Slug:           l.Slug,
		Tell:           contract.Telling(l.Tell),
		IntakeFiles:    l.Limits.Files,
		IntakeBytes:    l.Limits.Bytes,
		IntakeEndings:  List(l.Limits.Endings),
		Received:       l.ReceivedFiles,
		Expected:       Each(l.Expected, Expected),
	}
	out.Items = Each(l.Items, func(i guard.LinkItem) contract.LinkItem {
		c := contract.LinkItem{Id: i.ID, Name: i.Name, Kind: contract.LinkItemKind(i.Kind)}
		if i.Number != nil {
			c.Ref = Some(register.Ref{Code: l.DossierCode, Number: *i.Number}.String())
		}
		return c
	})
	return out
}

package web

import (
	"encoding/hex"
	"encoding/json"
	"fmt"
	"strings"

	"tabularis/core/events"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	tree "tabularis/internal/app/items"
	practices "tabularis/internal/app/practice"

	"tabularis/core/access"
	"tabularis/core/register"
	"tabularis/core/terms"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/dossiers"
	"tabularis/internal/app/links"
	"tabularis/internal/app/sensitive"
	"tabularis/internal/preview"
	"tabularis/internal/web/contract"
)

// each turns a list into another; an empty list stays a list.
func each[A, B any](all []A, fn func(A) B) []B {
	out := make([]B, len(all))
	for i, a := range all {
		out[i] = fn(a)
	}
	return out
}

// some points at a value unless it is empty.
// list is a list that is never absent.
func list[T any](all []T) []T { return append([]T{}, all...) }

func some[T comparable](v T) *T {
	var zero T
	if v == zero {
		return nil
	}
	return &v
}

// or is the value pointed at, or the other one.
func or[T any](p *T, other T) T {
	if p == nil {
		return other
	}
	return *p
}

func person(p accounts.Person) contract.Person {
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

func practice(p practices.Practice) contract.Practice {
	return contract.Practice{Name: p.Name, Tagline: p.Tagline, Timezone: p.Timezone, LongestLinkDays: p.LongestLinkDays, Helper: p.Helper}
}

// door shows reach: links before people outside, and those before colleagues,
// since they reach further.
func door(links int, d access.Door, closed bool) contract.Door {
	out := contract.Door{State: contract.DoorStateClosed, Count: d.Inside, Closed: some(closed)}
	switch {
	case links > 0:
		out.State, out.Count = contract.DoorStateOpen, links
	case d.Outside > 0:
		out.State, out.Count = contract.DoorStateAjar, d.Outside
	}
	return out
}

func dossierRow(s dossiers.Summary) contract.DossierRow {
	r := contract.DossierRow{
		Id:        s.ID,
		Code:      s.Code,
		Name:      s.Name,
		Subject:   s.Subject,
		Client:    s.Client,
		Kind:      contract.DossierKind(s.Kind),
		Door:      door(s.Links, s.Door, false),
		Documents: s.Documents,
		Bytes:     s.Bytes,
	}
	if s.Last != nil {
		e := event(*s.Last)
		r.LastEvent = &e
	}
	return r
}

func folder(f dossiers.FolderLine) contract.Folder {
	return contract.Folder{
		Id:        f.ID,
		ParentId:  f.ParentID,
		Name:      f.Name,
		Number:    f.Number,
		Depth:     f.Depth,
		Documents: f.Below,
		Links:     f.Links,
		May:       capNames(f.Caps),
		Door:      door(f.Links, f.Door, f.Closed),
		Closed:    f.Closed,
		Through:   f.Through,
	}
}

func event(e events.Named) contract.Event {
	out := contract.Event{
		Id:          e.ID,
		At:          e.At,
		Kind:        e.Kind,
		ActorKind:   contract.ActorKind(e.ActorKind),
		Actor:       e.Actor,
		Outside:     e.Outside,
		DossierCode: e.DossierCode,
		DossierName: e.DossierName,
		FolderId:    e.FolderID,
		ItemId:      e.ItemID,
		ItemName:    e.ItemName,
		Version:     e.Version,
		LinkId:      e.LinkID,
		LinkName:    e.LinkName,
		Network:     some(e.Network),
		Agent:       some(e.Agent),
	}
	if e.ItemKind != nil {
		kind := contract.EventItemKind(*e.ItemKind)
		out.ItemKind = &kind
	}
	if e.ItemNumber != nil {
		out.Ref = some(register.Ref{Code: e.DossierCode, Number: *e.ItemNumber}.String())
	}
	data := map[string]string{}
	if json.Unmarshal(e.Data, &data) == nil && len(data) > 0 {
		out.Data = &data
	}
	return out
}

func parts(s terms.Sentence) []contract.Part {
	return each(s, func(p terms.Part) contract.Part {
		return contract.Part{Text: p.Text, Term: some(contract.PartTerm(p.Term))}
	})
}

func place(p documents.Place) contract.Place {
	return contract.Place{Id: p.ID, Ref: p.Ref(), Name: p.Name, DossierCode: p.Code, FolderId: *p.ParentID}
}

func link(l links.Shown) contract.Link {
	out := contract.Link{
		Id:             l.ID,
		Name:           l.Name,
		Kind:           contract.LinkKind(l.Kind),
		State:          contract.LinkState(l.State),
		Address:        some(l.Address),
		Sentence:       parts(l.Sentence),
		DossierCode:    l.DossierCode,
		By:             l.By,
		At:             l.CreatedAt,
		Until:          l.Until,
		EndedAt:        l.EndedAt,
		Openings:       l.Openings,
		OpeningsLimit:  l.OpeningsLimit,
		Downloads:      l.Downloads,
		DownloadsLimit: l.DownloadsLimit,
		NotBefore:      l.NotBefore,
		Identify:       contract.Identity(l.Identify),
		Allowed:        strings.Fields(l.Allowed),
		Newest:         l.Newest,
		ViewOnly:       !l.MayDownload,
		LastOpenedAt:   l.LastOpenedAt,
		LastBy:         some(l.LastBy),
		HasPassword:    l.PasswordHash != "",
		MayEnd:         l.MayEnd && l.Living,
		Living:         l.Living,
		SentTo:         strings.Fields(l.SentTo),
		Slug:           l.Slug,
		Tell:           contract.Telling(l.Tell),
		IntakeFiles:    l.IntakeFiles,
		IntakeBytes:    l.IntakeBytes,
		IntakeEndings:  strings.Fields(l.IntakeEndings),
		Received:       l.ReceivedFiles,
		Expected:       each(l.Expected, expected),
	}
	out.Items = each(l.Items, func(i guard.LinkItem) contract.LinkItem {
		c := contract.LinkItem{Id: i.ID, Name: i.Name, Kind: contract.LinkItemKind(i.Kind)}
		if i.Number != nil {
			c.Ref = some(register.Ref{Code: l.DossierCode, Number: *i.Number}.String())
		}
		return c
	})
	return out
}

func prepared(p preview.Prepared) contract.Preview {
	out := contract.Preview{Look: contract.Look(p.Look), Text: some(p.Text), Html: some(p.HTML), Cut: some(p.Cut)}
	if p.Rows != nil {
		out.Rows = &p.Rows
	}
	return out
}

func slip(s documents.Slip, shown []links.Shown) contract.Document {
	ref := func(n int) string { return register.Ref{Code: s.Code, Number: n}.String() }
	open := 0
	for _, l := range shown {
		if l.Living {
			open++
		}
	}
	return contract.Document{
		Id:          s.ID,
		Ref:         ref(*s.Number),
		Name:        s.Name,
		FolderId:    *s.ParentID,
		FolderName:  s.FolderName,
		DossierCode: s.Code,
		Look:        contract.Look(preview.LookOf(s.MediaType)),
		Door: door(
			open,
			s.Door,
			s.Closed,
		),
		Closed:     s.Closed,
		Ends:       s.Ends,
		Links:      each(shown, link),
		Events:     each(s.Events, event),
		EventCount: s.EventCount,
		May:        capNames(s.Caps),
		Versions: each(s.Versions, func(v tree.NamedVersion) contract.Version {
			out := contract.Version{
				Number:    v.Number,
				At:        v.CreatedAt,
				By:        maker(v),
				Origin:    v.Origin,
				Size:      v.Size,
				Sha256:    hex.EncodeToString(v.SHA256),
				MediaType: v.MediaType,
				Counts:    v.Number == s.Version,
				Separable: s.Separable(v.Number),
			}
			if v.MovedToNo != nil {
				out.MovedTo = some(ref(*v.MovedToNo))
			}
			return out
		}),
	}
}

// maker is who or what made a version.
func maker(v tree.NamedVersion) contract.Actor {
	out := contract.Actor{Kind: contract.ActorKind(v.Actor.Kind), Name: v.By, LinkId: v.LinkID, LinkName: some(v.LinkName)}
	if v.Actor.Kind != events.ByPerson {
		out.Name = v.Said
	}
	return out
}

func capNames(c access.Caps) []string {
	if names := c.Names(); names != nil {
		return names
	}
	return []string{}
}

// scanNumber reads the running number of a reference as it is typed.
func scanNumber(s string, n *int) (int, error) { return fmt.Sscan(strings.TrimSpace(s), n) }

func finding(code string, f sensitive.Found) contract.SensitiveFinding {
	return contract.SensitiveFinding{
		Item:     f.Item.ID,
		Ref:      register.Ref{Code: code, Number: *f.Item.Number}.String(),
		Document: f.Item.Name,
		Kind:     contract.SensitiveFindingKind(f.Kind),
		Name:     f.Name,
		N:        f.N,
		Page:     f.Page,
		Line:     f.Line,
		Shown:    f.Shown,
	}
}

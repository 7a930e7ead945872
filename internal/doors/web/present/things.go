package present

import (
	"encoding/json"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/register"
	"tabularis/core/storage"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/dossiers"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/platform/pages"
	"tabularis/internal/platform/preview"
	"tabularis/internal/platform/reading"
)

// Door shows reach: links before people outside, and those before colleagues,
// since they reach further.
func Door(links int, d access.Door, closed bool) contract.Door {
	out := contract.Door{State: contract.DoorStateClosed, Count: d.Inside, Closed: Some(closed)}
	switch {
	case links > 0:
		out.State, out.Count = contract.DoorStateOpen, links
	case d.Outside > 0:
		out.State, out.Count = contract.DoorStateAjar, d.Outside
	}
	return out
}

func DossierRow(s dossiers.Summary) contract.DossierRow {
	r := contract.DossierRow{
		Id:        s.ID,
		Code:      s.Code,
		Name:      s.Name,
		Subject:   s.Subject,
		Client:    s.Client,
		Kind:      contract.DossierKind(s.Kind),
		Door:      Door(s.Links, s.Door, false),
		Documents: s.Documents,
		Bytes:     s.Bytes,
		Aside:     Some(s.SetAsideAt != nil),
	}
	if s.Last != nil {
		e := Event(*s.Last)
		r.LastEvent = &e
	}
	return r
}

func Event(e events.Named) contract.Event {
	out := contract.Event{
		Id:          e.ID,
		At:          e.At,
		Kind:        contract.EventKind(e.Kind),
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
		Network:     Some(e.Network),
		Agent:       Some(e.Agent),
	}
	if e.ItemKind != nil {
		kind := contract.EventItemKind(*e.ItemKind)
		out.ItemKind = &kind
	}
	if e.ItemNumber != nil {
		out.Ref = Some(register.Ref{Code: e.DossierCode, Number: *e.ItemNumber}.String())
	}
	data := map[string]string{}
	if json.Unmarshal(e.Data, &data) == nil && len(data) > 0 {
		out.Data = &data
	}
	return out
}

func Place(p documents.Place) contract.Place {
	return contract.Place{Id: p.ID, Ref: p.Ref(), Name: p.Name, DossierCode: p.Code, FolderId: *p.ParentID}
}

func FolderPlace(p documents.Place) contract.FolderPlace {
	return contract.FolderPlace{Id: p.ID, Name: p.Name, DossierCode: p.Code}
}

func Outline(o pages.Outline) contract.Outline {
	size := func(p reading.Size) contract.PageSize { return contract.PageSize{Width: p.Width, Height: p.Height} }
	return contract.Outline{Pages: Each(o.Pages, size), Cut: o.Cut}
}

func sheet(s preview.Sheet) contract.PreviewSheet {
	return contract.PreviewSheet{Name: s.Name, Rows: s.Rows, Hidden: s.Hidden}
}

func Preview(p preview.Prepared) contract.Preview {
	out := contract.Preview{Look: contract.Look(p.Look), Text: Some(p.Text), Html: Some(p.HTML), Cut: Some(p.Cut)}
	if p.Sheets != nil {
		sheets := Each(p.Sheets, sheet)
		out.Sheets = &sheets
	}
	if p.Files != nil {
		files := Each(p.Files, func(f preview.File) contract.InnerName {
			return contract.InnerName{Name: f.Name, Size: f.Size, Locked: Some(f.Locked)}
		})
		out.Files = &files
	}
	return out
}

func Storage(s *storage.Share) *contract.Storage {
	if s == nil {
		return nil
	}
	return &contract.Storage{Used: s.Used, Announced: s.Announced, Limit: s.Limit}
}

func Capabilities(c access.Caps) []string {
	if names := c.Names(); names != nil {
		return names
	}
	return []string{}
}

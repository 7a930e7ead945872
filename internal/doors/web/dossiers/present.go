package dossiers

import (
	"github.com/google/uuid"

	"tabularis/core/find"
	"tabularis/core/items"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/dossiers"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/present"
)

func particulars(p contract.DossierParticulars) items.Particulars {
	return items.Particulars{Name: p.Name, Subject: p.Subject, Client: p.Client, Kind: string(p.Kind)}
}

func folder(f dossiers.FolderLine) contract.Folder {
	return contract.Folder{
		Id:        f.ID,
		ParentId:  f.ParentID,
		Name:      f.Name,
		Number:    f.Number,
		Depth:     f.Depth,
		Documents: f.Below,
		Bytes:     f.Size,
		Links:     f.Links,
		May:       present.Capabilities(f.Caps),
		Door:      present.Door(f.Links, f.Door, f.Closed),
		Ends:      f.Ends,
		Closed:    f.Closed,
		Through:   f.Through,
		Hidden:    present.Some(f.Hidden),

		Arrangement: arrangement(f.Arrangement),
	}
}

func arrangement(a *dossiers.Arrangement) *contract.Arrangement {
	if a == nil {
		return nil
	}
	order := contract.RegisterOrder(a.Order.Name)
	return &contract.Arrangement{
		Columns:    &a.Columns,
		Order:      &order,
		Particular: present.Some(a.Order.Particular),
		Down:       present.Some(a.Order.Down),
		Group:      present.Some(contract.RegisterGroup(a.Group.Name)),
		Grouped:    present.Some(a.Group.Particular),
		Pictures:   present.Some(a.Pictures),
	}
}

func arrangementIn(a contract.Arrangement) dossiers.Arrangement {
	return dossiers.Arrangement{
		Columns:  present.Or(a.Columns, nil),
		Order:    orderIn(a.Order, a.Particular, a.Down),
		Group:    groupIn(a.Group, a.Grouped),
		Pictures: present.Or(a.Pictures, false),
	}
}

func orderIn(name *contract.RegisterOrder, particular *uuid.UUID, down *bool) dossiers.Order {
	return dossiers.Order{Name: string(present.Or(name, contract.OrderEvent)), Particular: present.Or(particular, uuid.Nil), Down: present.Or(down, false)}
}

func groupIn(name *contract.RegisterGroup, particular *uuid.UUID) dossiers.Group {
	return dossiers.Group{Name: string(present.Or(name, "")), Particular: present.Or(particular, uuid.Nil)}
}

// register says a page of a folder's documents to person.
func register(p dossiers.Page, person uuid.UUID) contract.RegisterPage {
	out := contract.RegisterPage{Next: present.Some(p.Next), Total: p.Total, Bytes: p.Bytes, Linked: p.Linked,
		Rows: present.Each(p.Rows, func(d dossiers.Row) contract.DocumentRow { return row(d, p.Code, person) })}
	if len(p.Groups) > 0 {
		groups := present.Each(p.Groups, func(g dossiers.Together) contract.RegisterTogether {
			return contract.RegisterTogether{Key: g.Key, N: g.N, Bytes: g.Bytes}
		})
		out.Groups = &groups
	}
	return out
}

func row(d dossiers.Row, code string, person uuid.UUID) contract.DocumentRow {
	row := contract.DocumentRow{
		Id:        d.ID,
		Number:    *d.Number,
		Ref:       documents.Place{Item: d.Item, Code: code}.Ref(),
		Name:      d.Name,
		Size:      d.Size,
		MediaType: d.MediaType,
		Kind:      contract.FoundKind(find.KindOf(d.MediaType)),
		By:        d.Brought,
		ById:      present.Some(d.CreatedBy),
		Version:   d.Version,
		May:       present.Capabilities(d.Caps),
		Door:      present.Door(d.Links, d.Door, d.Closed),
		Hidden:    present.Some(d.Hidden),
		Held:      present.Held(d.Held, person),
		State:     present.State(d.State),
	}
	if len(d.Particulars) > 0 {
		values := present.Each(d.Particulars, present.Particular)
		row.Particulars = &values
	}
	if len(d.Tags) > 0 {
		tags := present.Each(d.Tags, present.Tag)
		row.Tags = &tags
	}
	if d.Group != "" {
		row.Group = &d.Group
	}
	if d.Last != nil {
		e := present.Event(*d.Last)
		row.LastEvent = &e
	}
	return row
}

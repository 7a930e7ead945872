package dossiers

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/items"

	"tabularis/internal/app/act"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/dossiers"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// ListDossiers lists the dossiers one is in.
func (h *Handlers) ListDossiers(ctx context.Context, _ ListDossiersRequestObject) (ListDossiersResponseObject, error) {
	all, err := h.Dossiers.Mine(ctx)
	return ListDossiers200JSONResponse(present.Each(all, present.DossierRow)), err
}

// MakeDossier makes a dossier.
func (h *Handlers) MakeDossier(ctx context.Context, r MakeDossierRequestObject) (MakeDossierResponseObject, error) {
	b := r.Body
	made, err := h.Dossiers.Make(ctx, dossiers.New{Code: b.Code, Like: present.Or(b.Like, ""), WithDocuments: present.Or(b.WithDocuments, false), Particulars: items.Particulars{Name: b.Name, Kind: string(b.Kind), Client: present.Or(b.Client, ""), Subject: present.Or(b.Subject, "")}})
	return MakeDossier201JSONResponse(present.DossierRow(made)), err
}

// ChangeDossier changes what a dossier is called, and what it is about.
func (h *Handlers) ChangeDossier(ctx context.Context, r ChangeDossierRequestObject) (ChangeDossierResponseObject, error) {
	return ChangeDossier204Response{}, h.Dossiers.Change(ctx, r.Code, particulars(r.Body.Was), particulars(r.Body.To))
}

// SetDossierAside takes a dossier out of the daily lists, or back.
func (h *Handlers) SetDossierAside(ctx context.Context, r SetDossierAsideRequestObject) (SetDossierAsideResponseObject, error) {
	return SetDossierAside204Response{}, h.Dossiers.SetAside(ctx, r.Code, r.Body.Aside)
}

// OpenDesk shows the desk of whoever asks.
func (h *Handlers) OpenDesk(ctx context.Context, _ OpenDeskRequestObject) (OpenDeskResponseObject, error) {
	desk, err := h.Dossiers.Desk(ctx)
	if err != nil {
		return nil, err
	}
	return OpenDesk200JSONResponse(present.DossierRow(desk)), nil
}

// GetDossier opens a dossier.
func (h *Handlers) GetDossier(ctx context.Context, r GetDossierRequestObject) (GetDossierResponseObject, error) {
	o, err := h.Dossiers.OpenAs(ctx, r.Code, dossiers.Seen{As: r.Params.As, Compare: present.Or(r.Params.Compare, false)})
	if err != nil {
		return nil, err
	}
	out := GetDossier200JSONResponse{
		Id:      o.ID,
		Code:    o.Code,
		Name:    o.Name,
		Subject: o.Subject,
		Client:  o.Client,
		Kind:    contract.DossierKind(o.Kind),
		Branch:  o.Branch,
		Aside:   present.Some(o.SetAsideAt != nil),
		Ends:    o.Ends,
		Folders: present.Each(o.Folders, folder),
		Storage: present.Storage(o.Storage),
		May:     present.Capabilities(o.Caps),
	}
	if len(o.Folders) > 0 {
		out.Documents, out.Bytes = o.Folders[0].Below, o.Folders[0].Size
	}
	return out, nil
}

// MakeFolder makes a folder.
func (h *Handlers) MakeFolder(ctx context.Context, r MakeFolderRequestObject) (MakeFolderResponseObject, error) {
	f, err := h.Dossiers.MakeFolder(ctx, r.Id, r.Body.Name)
	return MakeFolder201JSONResponse(folder(f)), err
}

const (
	usualPage   = 200
	longestPage = 500
)

// GetRegister reads a page of a folder's register.
func (h *Handlers) GetRegister(ctx context.Context, r GetRegisterRequestObject) (GetRegisterResponseObject, error) {
	limit, err := door.Limited(r.Params.Limit, usualPage, longestPage)
	if err != nil {
		return nil, err
	}
	how := dossiers.Seen{As: r.Params.As, Compare: present.Or(r.Params.Compare, false)}
	order := dossiers.Order{Name: string(present.Or(r.Params.Order, "event")), Particular: present.Or(r.Params.Particular, uuid.Nil), Down: present.Or(r.Params.Down, false)}
	p, err := h.Dossiers.RegisterAs(ctx, r.Id, how, order, present.Or(r.Params.After, ""), limit)
	rows := present.Each(p.Rows, func(d dossiers.Row) contract.DocumentRow {
		row := contract.DocumentRow{
			Id:        d.ID,
			Number:    *d.Number,
			Ref:       documents.Place{Item: d.Item, Code: p.Code}.Ref(),
			Name:      d.Name,
			Size:      d.Size,
			MediaType: d.MediaType,
			Version:   d.Version,
			May:       present.Capabilities(d.Caps),
			Door:      present.Door(d.Links, d.Door, d.Closed),
			Hidden:    present.Some(d.Hidden),
			Held:      present.Held(d.Held, act.Who(ctx).Person.ID),
		}
		if len(d.Particulars) > 0 {
			values := present.Each(d.Particulars, present.Particular)
			row.Particulars = &values
		}
		if d.Last != nil {
			e := present.Event(*d.Last)
			row.LastEvent = &e
		}
		return row
	})
	return GetRegister200JSONResponse{Rows: rows, Next: present.Some(p.Next), Total: p.Total, Bytes: p.Bytes, Linked: p.Linked}, err
}

// Handlers serve the operations of dossiers.
type Handlers struct {
	*door.Door
	Dossiers *dossiers.Service
}

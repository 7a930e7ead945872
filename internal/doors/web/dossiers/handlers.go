package dossiers

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/items"

	"tabularis/internal/app/act"
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

// PlaceFolder puts a folder elsewhere among those beside it.
func (h *Handlers) PlaceFolder(ctx context.Context, r PlaceFolderRequestObject) (PlaceFolderResponseObject, error) {
	return PlaceFolder204Response{}, h.Dossiers.Place(ctx, r.Id, r.Body.Before)
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
	reading := dossiers.Reading{
		Order: orderIn(r.Params.Order, r.Params.Particular, r.Params.Down),
		Group: groupIn(r.Params.Group, r.Params.Grouped),
		Only: dossiers.Only{
			Kind:       string(present.Or(r.Params.Kind, "")),
			Person:     present.Or(r.Params.Person, uuid.Nil),
			Tag:        present.Or(r.Params.Tag, uuid.Nil),
			Linked:     present.Or(r.Params.Linked, false),
			Particular: present.Or(r.Params.Where, uuid.Nil),
			Value:      present.Or(r.Params.Value, ""),
		},
	}
	p, err := h.Dossiers.Register(ctx, r.Id, how, reading, present.Or(r.Params.After, ""), limit)
	return GetRegister200JSONResponse(register(p, act.Who(ctx).Person.ID)), err
}

// ArrangeRegister keeps how somebody reads a register.
func (h *Handlers) ArrangeRegister(ctx context.Context, r ArrangeRegisterRequestObject) (ArrangeRegisterResponseObject, error) {
	return ArrangeRegister204Response{}, h.Dossiers.Arrange(ctx, r.Id, arrangementIn(*r.Body))
}

// Handlers serve the operations of dossiers.
type Handlers struct {
	*door.Door
	Dossiers *dossiers.Service
}

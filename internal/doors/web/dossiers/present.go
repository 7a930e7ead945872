package dossiers

import (
	"tabularis/core/items"
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
	}
}

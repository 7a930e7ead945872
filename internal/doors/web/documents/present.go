package documents

import (
	"encoding/hex"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/register"
	"tabularis/internal/app/documents"
	tree "tabularis/internal/app/items"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/present"
)

func slip(s documents.Slip, me uuid.UUID) contract.Document {
	ref := func(n int) string { return register.Ref{Code: s.Code, Number: n}.String() }
	open := 0
	for _, l := range s.Links {
		if l.Living {
			open++
		}
	}
	out := contract.Document{
		Held:        present.Held(s.Held, me),
		State:       present.State(s.State),
		Id:          s.ID,
		Ref:         ref(*s.Number),
		Name:        s.Name,
		FolderId:    *s.ParentID,
		FolderName:  s.FolderName,
		DossierCode: s.Code,
		Look:        contract.Look(s.Look),
		Door: present.Door(
			open,
			s.Door,
			s.Closed,
		),
		Closed:     s.Closed,
		Ends:       s.Ends,
		Links:      present.Each(s.Links, present.Link),
		Events:     present.Each(s.Events, present.Event),
		MayDelete:  s.MayDelete,
		Keeping:    contract.DocumentKeeping{Rule: present.KeepRule(s.Rule), Next: s.Next, Days: int(s.Kept)},
		EventCount: s.EventCount,
		May:        present.Capabilities(s.Caps),
		Versions: present.Each(s.Versions, func(v tree.NamedVersion) contract.Version {
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
				Title:     present.Some(v.Title),
				Note:      present.Some(v.Note),
				BackFrom:  v.BackFrom,
				Removable: s.Removable(v, me),
			}
			if into, folds := s.Folds[v.Number]; folds {
				out.FoldsInto = &into
			}
			if v.RemovedAt != nil && v.MovedTo == nil {
				out.Removed = &contract.Removed{At: *v.RemovedAt, By: present.Some(v.Remover), Goes: s.Kept.Goes(*v.RemovedAt), Left: s.Kept.Left(*v.RemovedAt, s.Now), MayRestore: s.Restorable(v, me)}
			}
			if v.MovedToNo != nil {
				out.MovedTo = present.Some(ref(*v.MovedToNo))
			}
			return out
		}),
	}
	if out.Held != nil {
		out.Held.Waits = present.Some(s.Waits)
	}
	return out
}

// maker is who or what made a version.
func maker(v tree.NamedVersion) contract.Actor {
	out := contract.Actor{Kind: contract.ActorKind(v.Actor.Kind), Name: v.By, LinkId: v.LinkID, LinkName: present.Some(v.LinkName)}
	if v.Actor.Kind != events.ByPerson {
		out.Name = v.Said
	}
	return out
}

package visits

import (
	"encoding/hex"

	"tabularis/internal/app/visits"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/present"
)

func visitIntake(in visits.Intake) contract.VisitIntake {
	out := contract.VisitIntake{
		Name:     in.Link.Name,
		Sender:   present.Person(in.Sender),
		Message:  in.Link.Message,
		Sentence: present.Sentence(in.Sentence),
		Language: in.Link.Language,
		Expected: present.Each(in.Expected, present.Expected),
		Endings:  present.List(in.Left.Endings),
		Files:    in.Left.Files,
		Bytes:    in.Left.Bytes,
		Email:    in.Visit.Email,
		SealsFor: present.Some(in.Recipient),
		Received: []contract.ReceivedFile{},
	}
	for _, r := range in.Received {
		f := contract.ReceivedFile{Id: r.ItemID, HandedIn: r.HandedAt != nil, Name: r.Name, Size: r.Size, Sha256: hex.EncodeToString(r.SHA256), At: r.At}
		if r.Paper != nil && *r.Paper < len(in.Expected) {
			f.Paper = &in.Expected[*r.Paper].Name
		}
		out.Received = append(out.Received, f)
	}
	return out
}

package deliveries

import (
	"context"

	"github.com/google/uuid"

	rules "tabularis/core/deliveries"
	"tabularis/core/linkgate"
	"tabularis/internal/app/act"
	"tabularis/internal/app/links"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/visits"
	"tabularis/internal/platform/postgres"
)

// publishing reports whether the practice lets addresses be published.
func publishing(p practice.Practice) bool { return p.Outward().Lets(linkgate.Address) }

// Stands reports whether something is taken at an address.
func (s *Service) Stands(ctx context.Context, q postgres.Q, link uuid.UUID) (bool, error) {
	return open(ctx, q, link)
}

// Recipient is the public key for which a sender seals, or empty.
func (s *Service) Recipient(ctx context.Context, q postgres.Q, link uuid.UUID) (string, error) {
	return recipientOf(ctx, q, link)
}

// Takes refuses a file that is more than is taken from a visitor, from their network, or altogether.
// Whoever is counted is counted one after the other.
func (s *Service) Takes(ctx context.Context, q postgres.Q, v visits.Visit, path string, size int64) error {
	if err := lockTaking(ctx, q); err != nil {
		return err
	}
	before, err := s.before(ctx, q, v)
	if err != nil {
		return err
	}
	p, err := practice.ThePractice(ctx, q)
	if err != nil {
		return err
	}
	return rules.Takes(before, path, size, p.DeliveriesBytes)
}

func (s *Service) before(ctx context.Context, q postgres.Q, v visits.Visit) (b rules.Before, err error) {
	now := s.Acts.Now()
	since := now.Add(-rules.Day)
	if b.Address, err = tallyFrom(ctx, q, ofAddress, v.Email, since, now); err != nil {
		return b, err
	}
	if b.Network, err = tallyFrom(ctx, q, ofNetwork, act.Actor{Network: v.Network}.From(), since, now); err != nil {
		return b, err
	}
	b.Waiting, err = waiting(ctx, q, now)
	return b, err
}

// Deliver notes, within its act, what a visitor sends off, and tells whom it was sent to.
func (s *Service) Deliver(ctx context.Context, tx *act.Tx, l links.Link, v visits.Visit, sent visits.Sent) error {
	key, err := recipientOf(ctx, tx, l.ID)
	if err != nil {
		return err
	}
	name, err := rules.Sending{Name: v.Name, Message: v.Note, Manifest: sent.Manifest}.Sound(key != "")
	if err != nil {
		return err
	}
	d := Delivery{ID: uuid.Must(uuid.NewV7()), LinkID: l.ID, VisitID: v.ID, PersonID: l.CreatedBy, At: tx.Now, Name: name, Email: v.Email, Message: v.Note, Manifest: sent.Manifest}
	ids := make([]uuid.UUID, len(sent.Received))
	for i, r := range sent.Received {
		ids[i] = r.ItemID
	}
	types, err := mediaTypesOf(ctx, tx, ids)
	if err != nil {
		return err
	}
	for n, r := range sent.Received {
		f := File{Position: n, ItemID: &r.ItemID, Name: r.Name, Size: r.Size, SHA256: r.SHA256, MediaType: types[r.ItemID]}
		if key == "" {
			f.Caution = string(rules.CautionOf(r.Name, f.MediaType, r.Size))
		}
		d.Files = append(d.Files, f)
	}
	if err := addDelivery(ctx, tx, d); err != nil {
		return err
	}
	return notices.Add(ctx, tx, d.PersonID, notices.Delivered, name, path(d.ID))
}

// path is where a delivery stands.
func path(id uuid.UUID) string { return "/desk/received#" + id.String() }

package signing

import (
	"bytes"
	"context"
	"errors"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/reading"
	"tabularis/internal/platform/signature"
)

// renewing is how long before the certificate of a time stamp ends another one is set over it (PAdES B-LTA, ETSI EN 319 142-1, 6.3).
const renewing = 90 * 24 * time.Hour

// renewAt is when another time stamp is to be set over the one that the paper bears.
func (p *paperwork) renewAt() *time.Time {
	if len(p.stamp) == 0 {
		return nil
	}
	ends, err := signature.StampEnds(p.stamp)
	if err != nil {
		return nil
	}
	at := ends.Add(-renewing)
	return &at
}

// Renew sets another time stamp over papers whose last one can soon no longer be checked. Where the authority is away it is
// tried again.
func (s *Service) Renew(ctx context.Context) error {
	const atOnce = 100
	if s.Stamper == nil {
		return nil
	}
	ids, err := toRenew(ctx, s.Acts.DB, s.Acts.Now(), atOnce)
	for _, id := range ids {
		err = errors.Join(err, s.renew(ctx, id))
	}
	return err
}

func (s *Service) renew(ctx context.Context, id uuid.UUID) error {
	q := s.Acts.DB
	r, err := rowOf(ctx, q, id, false)
	if err != nil {
		return err
	}
	at, _, err := guard.SightAnywhere(ctx, q, r.ItemID, s.Acts.Now())
	if fault.Is(err, fault.NotFound) || err == nil && !bytes.Equal(at.SHA256, r.SealedSHA256) {
		return renewNoMore(ctx, q, id) // It counts no more.
	}
	if err != nil {
		return err
	}
	p := &paperwork{Service: s, row: r, at: at, source: reading.Source{For: "signing " + id.String()}}
	b, err := tree.BlobByHash(ctx, q, at.SHA256)
	if err != nil {
		return err
	}
	raw, err := p.read(ctx, b)
	if err != nil {
		return err
	}
	proof, err := s.Stamper.Gather(ctx, nil, r.LastStamp)
	if err != nil {
		return err
	}
	if raw, err = p.stamped(ctx, raw, proof); err != nil {
		return err
	}
	stored, err := s.Contents.Store(ctx, raw, pdfType, s.Acts.Now())
	if err != nil {
		return err
	}
	err = s.renewed(ctx, r, p, stored)
	return errors.Join(err, stored.End(ctx, err))
}

// renewed keeps the paper with its further time stamp, unless another process was quicker.
func (s *Service) renewed(ctx context.Context, seen row, p *paperwork, stored *tree.Stored) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		t, err := s.take(ctx, tx, seen.ID)
		if err != nil {
			return err
		}
		if !bytes.Equal(t.SealedSHA256, seen.SealedSHA256) || !bytes.Equal(t.at.SHA256, seen.SealedSHA256) {
			return nil
		}
		if err := s.revise(ctx, tx, t, stored); err != nil {
			return err
		}
		t.LastStamp, t.RenewAt = p.stamp, p.renewAt()
		return keep(ctx, tx, s.Keys, t.row, t.Seq, nil)
	})
}

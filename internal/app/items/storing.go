package items

import (
	"bytes"
	"context"
	"crypto/sha256"
	"time"

	"github.com/google/uuid"

	"tabularis/core/items"
	"tabularis/internal/platform/content"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/secret"
)

// Stored is content of our own making, which waits for the act that needs it.
type Stored struct {
	contents *Contents
	blob     items.Blob
	kept     bool
	spare    bool
	// Version is what the content is as a version.
	Version items.Version
}

// Store stores content durably, before any row is held. Whoever stores it ends it.
func (s *Contents) Store(ctx context.Context, raw []byte, mediaType string, now time.Time) (*Stored, error) {
	key := content.Key{Secret: [32]byte(secret.Random(32)), Nonce: [12]byte(secret.Random(12))}
	place, sum := uuid.Must(uuid.NewV7()), sha256.New()
	if _, err := s.Content.Receive(place, key, 0, int64(len(raw)), bytes.NewReader(raw), sum, nil, nil); err != nil {
		return nil, err
	}
	st := &Stored{contents: s, blob: items.Blob{SHA256: sum.Sum(nil), Size: int64(len(raw)), Place: place, SealedKey: s.Keys.Seal(key.Secret[:], KeyPurpose), CreatedAt: now}}
	st.Version = items.Version{SHA256: st.blob.SHA256, Size: st.blob.Size, MediaType: mediaType, CreatedAt: now}
	return st, s.Content.Settle(ctx, place)
}

// Keep makes it content of the practice, within the act that needs it.
func (st *Stored) Keep(ctx context.Context, q postgres.Q) error {
	isNew, err := AddBlob(ctx, q, st.blob)
	st.kept, st.spare = err == nil, !isNew
	return err
}

// End lets go of it once the act is over; what no act kept is dropped.
func (st *Stored) End(ctx context.Context, failed error) error {
	if failed != nil || !st.kept || st.spare {
		return st.contents.Content.Drop(context.WithoutCancel(ctx), st.blob.Place)
	}
	return st.contents.Content.Settled(st.blob.Place)
}

package transfers

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/linkgate"
	rules "tabularis/core/transfers"
	"tabularis/internal/app/act"
	"tabularis/internal/app/links"
	"tabularis/internal/app/visits"
)

// sealedName is what a sealed transfer is called here, where its name is not known.
var sealedName = map[string]string{"en": "Sealed files", "de": "Versiegelte Dateien"}

// checkSealed refuses what a sealed transfer must not tell, and names it.
func checkSealed(w *Wish) error {
	if w.Sealed == linkgate.Unsealed {
		return nil
	}
	if err := rules.Seals(w.Name, w.Message, len(w.Items)); err != nil {
		return err
	}
	w.Name = sealedName["en"]
	if own := sealedName[w.Language]; own != "" {
		w.Name = own
	}
	return nil
}

// announce reads what files are announced for a transfer beside those that are there.
func (s *Service) announce(seal linkgate.Seal, files []rules.File, there []string) ([]rules.File, error) {
	if seal != linkgate.Unsealed {
		return rules.AnnounceSealed(files, there, s.Uploads.MaxBytes)
	}
	return rules.Announce(files, there, s.Uploads.MaxBytes)
}

// SetManifest keeps the sealed list of what is in a sealed transfer.
func (s *Service) SetManifest(ctx context.Context, id uuid.UUID, content []byte) error {
	if err := rules.CheckManifest(content); err != nil {
		return err
	}
	return s.change(ctx, id, func(tx *act.Tx, _ Row, l links.Link) error {
		if l.Sealed == linkgate.Unsealed {
			return errNotSealed.New("the transfer is not sealed")
		}
		return setManifest(ctx, tx, id, content, tx.Now)
	})
}

// Manifest is the sealed list of what is in a transfer, for a visitor who was let in.
func (s *Service) Manifest(ctx context.Context, v visits.Visitor) ([]byte, error) {
	l, _, t, err := s.visited(ctx, v)
	if err != nil {
		return nil, err
	}
	if l.Sealed == linkgate.Unsealed {
		return nil, fault.Missing()
	}
	return manifestOf(ctx, s.Acts.DB, t.LinkID)
}

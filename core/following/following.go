// Package following knows what somebody follows and what they have muted, when their
// digest is due, and what it folds together.
package following

import (
	"slices"

	"github.com/google/uuid"
)

// Things are documents and dossiers.
type Things struct {
	Documents, Dossiers []uuid.UUID
}

// Heeding narrows a stream of events by what somebody follows and has muted. What is said
// of a document counts more than what is said of its dossier. The zero value leaves
// nothing out.
type Heeding struct {
	// Only says that nothing is shown but what is followed.
	Only            bool
	Followed, Muted Things
}

// Stance is what somebody has said of a document or dossier.
type Stance string

// None leaves it as it is for everybody. Of what is followed one is told; of what is muted
// nothing is shown unless one asks for it.
const (
	None   Stance = ""
	Follow Stance = "follow"
	Mute   Stance = "mute"
)

// Shows reports whether an event about a document (nil for none) in a dossier (nil for
// none) is shown.
func (h Heeding) Shows(document, dossier *uuid.UUID) bool {
	stance := stanceOf(document, h.Followed.Documents, h.Muted.Documents)
	if stance == None {
		stance = stanceOf(dossier, h.Followed.Dossiers, h.Muted.Dossiers)
	}
	return stance == Follow || stance == None && !h.Only
}

func stanceOf(id *uuid.UUID, followed, muted []uuid.UUID) Stance {
	switch {
	case id == nil:
		return None
	case slices.Contains(followed, *id):
		return Follow
	case slices.Contains(muted, *id):
		return Mute
	}
	return None
}

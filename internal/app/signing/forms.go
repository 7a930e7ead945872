package signing

import "github.com/google/uuid"

// Form is a paper that is signed again and again.
type Form struct {
	ID      uuid.UUID
	Name    string
	Edition int
}

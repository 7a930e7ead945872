package present

import (
	"tabularis/internal/app/tags"
	"tabularis/internal/doors/web/contract"
)

// Tag says what somebody sees of a tag.
func Tag(t tags.Tag) contract.Tag { return contract.Tag{Id: t.ID, Name: t.Name, Own: t.Own()} }

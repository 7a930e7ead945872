package people

import (
	"bytes"

	"github.com/emersion/go-vcard"
	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/internal/app/people"
	"tabularis/internal/doors/web/door"
)

// cards gives the people whom somebody knows out as vCards (RFC 6350): all of them, or ?person=…
func (h *Handlers) cards(c *gin.Context) {
	only := uuid.Nil
	if text := c.Query("person"); text != "" {
		var err error
		if only, err = uuid.Parse(text); err != nil {
			h.Problem(c, fault.Parameter.In("person", "the id has the wrong form"))
			return
		}
	}
	d, err := h.People.Directory(c.Request.Context())
	if err != nil {
		h.Problem(c, err)
		return
	}
	var out bytes.Buffer
	to := vcard.NewEncoder(&out)
	name := "people"
	for _, a := range d.Accounts {
		if a.DeactivatedAt != nil || only != uuid.Nil && a.ID != only {
			continue
		}
		if only != uuid.Nil {
			name = a.Name
		}
		if err := to.Encode(card(a, d)); err != nil {
			h.Problem(c, err)
			return
		}
	}
	if only != uuid.Nil && out.Len() == 0 {
		h.Problem(c, fault.Missing())
		return
	}
	c.Header("Content-Disposition", door.Disposition("attachment", name+".vcf"))
	c.Data(200, "text/vcard; charset=utf-8", out.Bytes())
}

func card(a people.Account, d people.Directory) vcard.Card {
	one := vcard.Card{}
	one.SetValue(vcard.FieldVersion, "4.0")
	one.SetValue(vcard.FieldUID, "urn:uuid:"+a.ID.String())
	one.SetKind(vcard.KindIndividual)
	one.SetValue(vcard.FieldFormattedName, a.Name)
	one.SetValue(vcard.FieldEmail, a.Email)
	switch {
	case a.Organisation != "":
		one.SetValue(vcard.FieldOrganization, a.Organisation)
	case a.Inside() && d.Practice != nil:
		one.SetValue(vcard.FieldOrganization, d.Practice.Name)
	}
	return one
}

package signing

import (
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	"tabularis/internal/app/signing"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
)

// bring takes the file that is the request's body, from a party who is signed in: ?place=&name=, and ?party= for whom a
// colleague has before them.
func (h *Handlers) bring(c *gin.Context) {
	id, err := door.PathID(c)
	if err != nil {
		h.Problem(c, err)
		return
	}
	var party *int
	if said, there := c.GetQuery("party"); there {
		n, err := strconv.Atoi(said)
		if err != nil || n < 0 {
			h.Problem(c, fault.Parameter.New("a party is a number from 0"))
			return
		}
		party = &n
	}
	h.bringAs(c, signedIn(id, party))
}

// bringByLink takes one from a party outside.
func (h *Handlers) bringByLink(c *gin.Context) { h.bringAs(c, visitor(c, c.Param("token"))) }

func (h *Handlers) bringAs(c *gin.Context, w signing.Who) {
	place, err := strconv.Atoi(c.Query("place"))
	if err != nil {
		h.Problem(c, fault.Parameter.New("a place is a number"))
		return
	}
	b, err := h.Signing.Bring(c.Request.Context(), w, place, c.Query("name"), c.Request.Body)
	if err != nil {
		h.Problem(c, err)
		return
	}
	c.JSON(http.StatusCreated, broughtPaper(b))
}

// paper gives what a party brought to whoever looks after the request.
func (h *Handlers) paper(c *gin.Context) {
	id, err := door.PathID(c)
	place, err2 := strconv.Atoi(c.Param("place"))
	if err != nil || err2 != nil {
		h.Problem(c, fault.Missing())
		return
	}
	b, raw, err := h.Signing.Paper(c.Request.Context(), id, place)
	if err != nil {
		h.Problem(c, err)
		return
	}
	// What came from outside is kept, not shown: it opens in no page of the practice.
	c.Header("Content-Disposition", door.Disposition("attachment", b.Name))
	c.Header("X-Content-Type-Options", "nosniff")
	c.Data(http.StatusOK, "application/octet-stream", raw)
}

func broughtPaper(b signing.Brought) contract.SigningPaper {
	return contract.SigningPaper{Place: b.Place, Party: b.Party, Name: b.Name, Size: b.Size, Sha256: b.SHA256}
}

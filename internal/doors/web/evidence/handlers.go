package evidence

import (
	"context"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	rules "tabularis/core/evidence"
	"tabularis/core/fault"
	"tabularis/internal/app/act"
	"tabularis/internal/app/evidence"
	tree "tabularis/internal/app/items"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of evidence.
type Handlers struct {
	*door.Door
	Evidence *evidence.Service
}

// GetEvidence says how the log stands.
func (h *Handlers) GetEvidence(ctx context.Context, _ GetEvidenceRequestObject) (GetEvidenceResponseObject, error) {
	s, err := h.Evidence.State(ctx)
	out := GetEvidence200JSONResponse{Origin: s.Origin, Size: s.Size, Waiting: s.Waiting, Witnesses: present.List(s.Witnesses), MayAdminister: s.Administer}
	if s.Newest != nil {
		c := checkpoint(*s.Newest, s.Root)
		out.Checkpoint = &c
	}
	if s.Check != nil {
		c := check(s.Check.At, s.Findings)
		out.Check = &c
	}
	return out, err
}

func checkpoint(c evidence.Checkpoint, root string) contract.EvidenceCheckpoint {
	return contract.EvidenceCheckpoint{Size: c.Size, At: c.At, Root: root, Key: c.Verifier, Signed: c.Signed}
}

func check(at time.Time, f rules.Findings) contract.LogCheck {
	out := contract.LogCheck{At: at, Size: f.Size, Altered: f.Altered.Count, Removed: f.Removed.Count, PutIn: f.PutIn.Count, Moved: f.Moved.Count, Log: present.List(f.Log), Places: []int64{}}
	for _, list := range []rules.List{f.Altered, f.Removed, f.Moved} {
		for _, one := range list.First {
			out.Places = append(out.Places, one.Place)
		}
	}
	return out
}

// SealNow seals what waits.
func (h *Handlers) SealNow(ctx context.Context, _ SealNowRequestObject) (SealNowResponseObject, error) {
	return SealNow204Response{}, h.Evidence.Seal(ctx)
}

// CheckLog lets the log be checked soon.
func (h *Handlers) CheckLog(ctx context.Context, _ CheckLogRequestObject) (CheckLogResponseObject, error) {
	return CheckLog202Response{}, h.Evidence.AskForCheck(ctx)
}

// SetWitnesses names whom checkpoints are sent.
func (h *Handlers) SetWitnesses(ctx context.Context, r SetWitnessesRequestObject) (SetWitnessesResponseObject, error) {
	return SetWitnesses204Response{}, h.Evidence.SetWitnesses(ctx, r.Body.Emails)
}

// GetTrail shows what happened to a subject.
func (h *Handlers) GetTrail(ctx context.Context, r GetTrailRequestObject) (GetTrailResponseObject, error) {
	p := r.Params
	limit, err := door.Limited(p.Limit, 50, 200)
	if err != nil {
		return nil, err
	}
	of := evidence.Subject{Item: p.Item, Link: p.Link, Dossier: present.Or(p.Dossier, ""), Since: present.Or(p.Since, time.Time{}), Until: present.Or(p.Until, time.Time{})}
	t, err := h.Evidence.Trail(ctx, of, present.Or(p.Before, 0), limit)
	out := GetTrail200JSONResponse{Events: present.Each(t.Events, present.Event), Seals: []contract.Seal{}, More: t.More}
	for _, e := range t.Events {
		if s, sealed := t.Seals[e.ID]; sealed {
			out.Seals = append(out.Seals, contract.Seal{Event: e.ID, Place: s.Place, Size: s.Size, At: s.At})
		}
	}
	return out, err
}

// ProveEvent shows how an event is proven.
func (h *Handlers) ProveEvent(ctx context.Context, r ProveEventRequestObject) (ProveEventResponseObject, error) {
	s, err := h.Evidence.Prove(ctx, r.Event)
	return ProveEvent200JSONResponse{Place: s.Place, Hash: s.Hash, Steps: present.List(s.Steps), Checkpoint: checkpoint(s.Checkpoint, s.Root)}, err
}

// bundle writes evidence as an archive: ?item=, ?link=, ?dossier=, ?since= and ?until=
// (RFC 3339), and ?contents=yes for what the document's versions hold.
func (h *Handlers) bundle(c *gin.Context) {
	of, err := subject(c)
	if err != nil {
		h.Problem(c, err)
		return
	}
	chosen, err := h.Evidence.Bundle(c.Request.Context(), of, c.Query("contents") == "yes")
	h.send(c, chosen, err)
}

// receipt writes a link's receipt as an archive; ?for= is one recipient's address.
func (h *Handlers) receipt(c *gin.Context) {
	link, err := door.PathID(c)
	if err != nil {
		h.Problem(c, err)
		return
	}
	chosen, err := h.Evidence.Receipt(c.Request.Context(), link, c.Query("for"))
	h.send(c, chosen, err)
}

func (h *Handlers) send(c *gin.Context, chosen tree.Chosen, err error) {
	if err != nil {
		h.Problem(c, err)
		return
	}
	whilePermitted := door.Watching(c, func() error {
		in, err := h.SessionOf(c)
		if err != nil || len(chosen.Documents) == 0 {
			return err
		}
		return h.Evidence.Permitted(act.As(c.Request.Context(), act.Actor{Person: &in.Person}), chosen.Documents)
	})
	h.SendArchive(whilePermitted, c, chosen)
}

// subject reads of what evidence is asked for.
func subject(c *gin.Context) (of evidence.Subject, err error) {
	of.Dossier = c.Query("dossier")
	for name, to := range map[string]**uuid.UUID{"item": &of.Item, "link": &of.Link} {
		if text := c.Query(name); text != "" {
			id, err := uuid.Parse(text)
			if err != nil {
				return of, fault.Parameter.In(name, "the id has the wrong form")
			}
			*to = &id
		}
	}
	for name, to := range map[string]*time.Time{"since": &of.Since, "until": &of.Until} {
		if text := c.Query(name); text != "" {
			if *to, err = time.Parse(time.RFC3339, text); err != nil {
				return of, fault.Parameter.In(name, "a moment is written like 2026-11-23T09:40:00Z")
			}
		}
	}
	return of, nil
}

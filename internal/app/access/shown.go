package access

import (
	"context"
	"encoding/json"
	"slices"
	"strings"
	"time"

	"tabularis/core/events"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
)

// Links says what somebody may know of links: a link is there for who sees all
// that was chosen for it, and whom it went to and who came is for who may share
// that.
type Links struct {
	seen, known map[uuid.UUID]bool
}

// Sees reports whether the link is there.
func (l Links) Sees(link uuid.UUID) bool { return l.seen[link] }

// Knows reports whether its recipients and visitors may be known.
func (l Links) Knows(link uuid.UUID) bool { return l.known[link] }

// Links decides on links for whoever has the view.
func (v *View) Links(ctx context.Context, q postgres.Q, links []uuid.UUID, now time.Time) (Links, error) {
	out := Links{map[uuid.UUID]bool{}, map[uuid.UUID]bool{}}
	if len(links) == 0 {
		return out, nil
	}
	roots, err := ChosenRoots(ctx, q, links)
	if err != nil {
		return out, err
	}
	may := map[uuid.UUID]access.Caps{}
	for _, r := range roots {
		caps, known := may[r.LinkID]
		if !known {
			caps = access.All
		}
		may[r.LinkID] = caps & v.May(r.Root, r.Dossier, now).Caps
	}
	for link, caps := range may {
		out.seen[link], out.known[link] = caps.Has(access.See), caps.Has(access.See|access.Share)
	}
	return out, nil
}

// ofVisitors are the parts of a link's events that say to whom it went and who
// came.
var ofVisitors = []string{"email", "known", "copy", "to", "person", "note", "terms"}

// Events leaves of events what the acting person may know: nothing of links to what
// they do not see, no addresses of a link's recipients and visitors unless they may
// share it, no code of a dossier that is not there for them, and of networks and
// programs as a guest only their own.
func (g *Guard) Events(ctx context.Context, q postgres.Q, all []events.Named, now time.Time) ([]events.Named, error) {
	me, err := signedIn(ctx)
	if err != nil {
		return nil, err
	}
	v, err := g.view(ctx, me.ID, now, true)
	if err != nil {
		return nil, err
	}
	var about []uuid.UUID
	for _, e := range all {
		if e.LinkID != nil {
			about = append(about, *e.LinkID)
		}
	}
	links, err := v.Links(ctx, q, about, now)
	if err != nil {
		return nil, err
	}
	out := make([]events.Named, 0, len(all))
	for _, e := range all {
		if e.LinkID != nil && !links.Sees(*e.LinkID) {
			continue
		}
		if kind, _ := events.KindNamed(e.Kind); kind.Inside && !me.Inside() {
			continue
		}
		own := e.PersonID != nil && *e.PersonID == me.ID
		if !me.Inside() && !own {
			e.Network, e.Agent = "", ""
			if e.ActorKind == events.ByRoute {
				e.Actor = ""
			}
		}
		if e.LinkID != nil && !links.Knows(*e.LinkID) && !own {
			e.Network, e.Agent = "", ""
			e.Data = without(e.Data, func(key, _ string) bool { return slices.Contains(ofVisitors, key) })
		}
		if strings.HasSuffix(e.Kind, ".moved") {
			e.Data = without(e.Data, func(key, value string) bool {
				code, _, _ := strings.Cut(value, "/")
				return key == "was" && err == nil && !g.touches(ctx, q, v, code, &err)
			})
		}
		if err != nil {
			return nil, err
		}
		out = append(out, e)
	}
	return out, nil
}

// touches reports whether a dossier is there for whoever has the view.
func (g *Guard) touches(ctx context.Context, q postgres.Q, v *View, code string, failed *error) bool {
	d, err := DossierByCode(ctx, q, code)
	if err != nil && !fault.Is(err, fault.NotFound) {
		*failed = err
	}
	return err == nil && slices.Contains(v.Touched, d.ID)
}

// without leaves out parts of an event's data.
func without(raw json.RawMessage, hidden func(key, value string) bool) json.RawMessage {
	data := map[string]string{}
	if json.Unmarshal(raw, &data) != nil {
		return nil
	}
	for key, value := range data {
		if hidden(key, value) {
			delete(data, key)
		}
	}
	left, err := json.Marshal(data)
	if err != nil {
		return nil
	}
	return left
}

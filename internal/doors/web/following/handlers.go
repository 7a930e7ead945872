package following

import (
	"context"
	"encoding/json"

	"tabularis/core/fault"
	rules "tabularis/core/following"
	"tabularis/internal/app/following"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

var errFilter = fault.Declare(fault.Invalid, "filter-unknown", "the filter names what there is not")

// ListFollowing lists what whoever asks follows or has muted.
func (h *Handlers) ListFollowing(ctx context.Context, _ ListFollowingRequestObject) (ListFollowingResponseObject, error) {
	all, err := h.Following.Mine(ctx)
	return ListFollowing200JSONResponse(present.Each(all, func(t following.Thing) contract.FollowedThing {
		return contract.FollowedThing{Id: t.ID, Name: t.Name, Ref: t.Ref(), Path: t.Path(), Stance: contract.Stance(t.Stance())}
	})), err
}

// SetFollowing follows or mutes something, or neither.
func (h *Handlers) SetFollowing(ctx context.Context, r SetFollowingRequestObject) (SetFollowingResponseObject, error) {
	return SetFollowing204Response{}, h.Following.Set(ctx, r.Id, rules.Stance(r.Body.Stance))
}

// GetDigest says how often whoever asks is sent a digest.
func (h *Handlers) GetDigest(ctx context.Context, _ GetDigestRequestObject) (GetDigestResponseObject, error) {
	d, err := h.Following.MyDigest(ctx)
	return GetDigest200JSONResponse{Every: contract.DigestEvery(d.Every), Followed: d.Followed, Zone: d.Zone}, err
}

// SetDigest chooses it.
func (h *Handlers) SetDigest(ctx context.Context, r SetDigestRequestObject) (SetDigestResponseObject, error) {
	return SetDigest204Response{}, h.Following.SetDigest(ctx, following.Digest{Every: rules.Every(r.Body.Every), Followed: r.Body.Followed, Zone: r.Body.Zone})
}

// ListFilters lists the filters that whoever asks keeps.
func (h *Handlers) ListFilters(ctx context.Context, _ ListFiltersRequestObject) (ListFiltersResponseObject, error) {
	all, err := h.Following.Filters(ctx)
	out := ListFilters200JSONResponse{}
	for _, f := range all {
		kept, err := kept(f)
		if err != nil {
			return nil, err
		}
		out = append(out, kept)
	}
	return out, err
}

// KeepFilter keeps one.
func (h *Handlers) KeepFilter(ctx context.Context, r KeepFilterRequestObject) (KeepFilterResponseObject, error) {
	f := r.Body.Filter
	if !f.About.Valid() || !f.Heed.Valid() || !f.Since.Valid() || f.Kind != nil && !f.Kind.Valid() {
		return nil, errFilter.In("filter", "the filter names what there is not")
	}
	raw, err := json.Marshal(f)
	if err != nil {
		return nil, err
	}
	made, err := h.Following.Keep(ctx, r.Body.Name, raw)
	if err != nil {
		return nil, err
	}
	out, err := kept(made)
	return KeepFilter201JSONResponse(out), err
}

func kept(f following.Filter) (contract.KeptFilter, error) {
	out := contract.KeptFilter{Id: f.ID, Name: f.Name}
	return out, json.Unmarshal(f.Filter, &out.Filter)
}

// ForgetFilter forgets one.
func (h *Handlers) ForgetFilter(ctx context.Context, r ForgetFilterRequestObject) (ForgetFilterResponseObject, error) {
	return ForgetFilter204Response{}, h.Following.Forget(ctx, r.Id)
}

// Handlers serve the operations of following.
type Handlers struct {
	*door.Door
	Following *following.Service
}

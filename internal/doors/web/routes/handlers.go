package routes

import (
	"context"
	"slices"
	"time"

	"tabularis/core/route"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/decisions"
	"tabularis/internal/app/routes"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of routes.
type Handlers struct {
	*door.Door
	Routes    *routes.Service
	Decisions *decisions.Service
}

func line(l routes.Listed) contract.RouteLine {
	out := contract.RouteLine{Id: l.ID, Name: l.Name, On: l.On, Stopped: present.Some(contract.RouteLineStopped(l.Stopped)), PlacedBy: present.Some(l.Placer), Edition: l.Edition,
		Writing: l.Draft != nil && l.Manages, Going: l.Counts.Going, Held: l.Counts.Held, Done: l.Counts.Done, Manages: l.Manages, ChangedAt: l.ChangedAt, Purpose: present.Some(l.Purpose), ByHand: l.ByHand}
	if l.Folder != nil {
		f := folder(*l.Folder)
		out.Folder = &f
	}
	return out
}

func folder(s guard.Sight) contract.RouteFolder {
	return contract.RouteFolder{Id: s.ID, Name: s.Name, DossierCode: s.Code}
}

// ListRoutes lists all routes that the acting person sees.
func (h *Handlers) ListRoutes(ctx context.Context, _ ListRoutesRequestObject) (ListRoutesResponseObject, error) {
	all, err := h.Routes.All(ctx)
	return ListRoutes200JSONResponse(present.Each(all, line)), err
}

// ListRoutesOfFolder lists those that hold in a folder.
func (h *Handlers) ListRoutesOfFolder(ctx context.Context, r ListRoutesOfFolderRequestObject) (ListRoutesOfFolderResponseObject, error) {
	all, err := h.Routes.In(ctx, r.Id)
	return ListRoutesOfFolder200JSONResponse(present.Each(all, line)), err
}

// MakeRoute begins to write one.
func (h *Handlers) MakeRoute(ctx context.Context, r MakeRouteRequestObject) (MakeRouteResponseObject, error) {
	d, err := present.Through[route.Definition](r.Body.Definition)
	if err != nil {
		return nil, err
	}
	id, err := h.Routes.Make(ctx, r.Body.Folder, d)
	return MakeRoute201JSONResponse{Id: id}, err
}

// GetRoute shows one.
func (h *Handlers) GetRoute(ctx context.Context, r GetRouteRequestObject) (GetRouteResponseObject, error) {
	s, err := h.Routes.One(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	out, err := page(s)
	return GetRoute200JSONResponse(out), err
}

func page(s routes.Shown) (out contract.RoutePage, err error) {
	out = contract.RoutePage{Line: line(s.Listed), Names: present.NamedIds(s.Names), Folders: []contract.RouteFolder{}, Gains: present.Each(s.Gains, gain)}
	if out.Problems, err = present.Through[[]contract.RouteProblem](present.List(s.Problems)); err != nil {
		return out, err
	}
	for _, f := range s.Folders {
		out.Folders = append(out.Folders, folder(f))
	}
	out.Definition, err = present.Through[contract.RouteDefinition](s.Definition)
	return out, err
}

func gain(g routes.Gain) contract.RouteGain {
	out := contract.RouteGain{Stop: g.At, To: present.List(g.To), People: present.List(g.People), Outside: g.Outside}
	if g.Folder != nil {
		f := folder(*g.Folder)
		out.Folder = &f
	}
	return out
}

// WriteRoute keeps what is written.
func (h *Handlers) WriteRoute(ctx context.Context, r WriteRouteRequestObject) (WriteRouteResponseObject, error) {
	d, err := present.Through[route.Definition](r.Body.Definition)
	if err != nil {
		return nil, err
	}
	if err := h.Routes.Write(ctx, r.Id, d, r.Body.Since); err != nil {
		return nil, err
	}
	s, err := h.Routes.One(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	out, err := page(s)
	return WriteRoute200JSONResponse(out), err
}

// RemoveRoute takes one away.
func (h *Handlers) RemoveRoute(ctx context.Context, r RemoveRouteRequestObject) (RemoveRouteResponseObject, error) {
	return RemoveRoute204Response{}, h.Routes.Remove(ctx, r.Id)
}

// DiscardRouteDraft forgets what is written.
func (h *Handlers) DiscardRouteDraft(ctx context.Context, r DiscardRouteDraftRequestObject) (DiscardRouteDraftResponseObject, error) {
	return DiscardRouteDraft204Response{}, h.Routes.Discard(ctx, r.Id)
}

// SwitchRoute switches one on or off.
func (h *Handlers) SwitchRoute(ctx context.Context, r SwitchRouteRequestObject) (SwitchRouteResponseObject, error) {
	return SwitchRoute204Response{}, h.Routes.Switch(ctx, r.Id, r.Body.On)
}

// StartRoute starts one on documents.
func (h *Handlers) StartRoute(ctx context.Context, r StartRouteRequestObject) (StartRouteResponseObject, error) {
	return StartRoute204Response{}, h.Routes.StartHere(ctx, r.Id, r.Body.Documents, present.Or(r.Body.Note, ""))
}

// usualSpan is how far back runs are listed where nothing is said.
const usualSpan = 90 * 24 * time.Hour

// ListRunsOfRoute lists the runs of one.
func (h *Handlers) ListRunsOfRoute(ctx context.Context, r ListRunsOfRouteRequestObject) (ListRunsOfRouteResponseObject, error) {
	since := present.Or(r.Params.Since, h.Acts.Now().Add(-usualSpan))
	s, lines, err := h.Routes.Runs(ctx, r.Id, since)
	if err != nil {
		return nil, err
	}
	times, load, err := h.Decisions.TimesAlong(ctx, r.Id, since)
	if err != nil {
		return nil, err
	}
	out := contract.RouteRuns{Route: line(s.Listed), Runs: present.Each(lines, present.Run), Times: []contract.StopTimes{}, Load: present.Each(load, func(l decisions.Load) contract.PersonLoad {
		return contract.PersonLoad{Name: l.Name, Waits: l.Waits, Late: l.Late, N: l.N, Half: l.Half, Most: l.Most}
	})}
	for i, stop := range s.Definition.Stops {
		t := times[i+1]
		one := contract.StopTimes{Number: i + 1, Do: present.Some(contract.Doing(stop.Cases[0].Do)), N: t.N, Half: t.Half, Most: t.Most}
		if w := stop.Cases[0].Within; w != nil && w.Unit == "days" {
			given := float64(w.N)
			one.Given = &given
		}
		out.Times = append(out.Times, one)
	}
	return ListRunsOfRoute200JSONResponse(out), nil
}

// TryRoute says what would have become of the last documents.
func (h *Handlers) TryRoute(ctx context.Context, r TryRouteRequestObject) (TryRouteResponseObject, error) {
	t, err := h.Routes.Try(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	return TryRoute200JSONResponse(trial(t)), nil
}

func trial(t routes.Trial) contract.Trial {
	out := contract.Trial{Tally: []contract.TrialTally{}, Asked: []contract.TrialAsked{}, Tried: present.Each(t.Tried, tried)}
	if len(t.Tried) > 0 {
		out.Since, out.Until = &t.Since, &t.Until
	}
	for _, l := range t.Tally() {
		out.Tally = append(out.Tally, contract.TrialTally{Stop: l.Stop, Case: present.Some(l.Case), Do: present.Some(contract.Doing(l.Do)), Held: present.Some(contract.HeldReason(l.Held)), Now: l.Now, Before: &l.Before})
	}
	for _, a := range t.Asked() {
		out.Asked = append(out.Asked, contract.TrialAsked{Stop: a.Stop, Name: a.Name, N: a.N})
	}
	var days []float64
	for _, one := range t.Tried {
		if one.Starts && one.Status == route.Done {
			days = append(days, one.Took)
		}
	}
	if slices.Sort(days); len(days) > 0 {
		out.Half, out.Most = &days[len(days)/2], &days[min(len(days)-1, len(days)*9/10)]
	}
	return out
}

func tried(t routes.Tried) contract.TriedDocument {
	out := contract.TriedDocument{Ref: t.Sight.Ref(), Name: t.Sight.Name, Starts: t.Starts, Path: []string{}, Held: present.Some(contract.HeldReason(t.Held)), Days: t.Took}
	for _, s := range t.Steps {
		out.Path = append(out.Path, t.Called(s.Place))
	}
	if t.Held != "" && len(out.Path) > 0 {
		out.At = &out.Path[len(out.Path)-1]
	}
	return out
}

package sharing

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/terms"
	"tabularis/internal/app/act"
	"tabularis/internal/app/sharing"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

var subjectKinds = map[contract.SubjectKind]access.SubjectKind{
	contract.SubjectKindPerson:   access.Person,
	contract.SubjectKindGroup:    access.Group,
	contract.SubjectKindEveryone: access.Everyone,
}

func accessTerms(level contract.Level, may *[]string, until *time.Time, onward *bool) (sharing.Terms, error) {
	t := sharing.Terms{Level: access.Level(level), Until: until, Onward: present.Or(onward, false)}
	var known bool
	if t.OwnSet, known = access.CapsOf(present.Or(may, nil)); !known {
		return t, errCapabilityUnknown.In("may", "there is no such capability")
	}
	return t, nil
}

func accessWish(b *contract.AccessWish) (sharing.Wish, error) {
	t, err := accessTerms(b.Level, b.May, b.Until, b.Onward)
	w := sharing.Wish{Items: b.Items, Terms: t, Message: present.Or(b.Message, "")}
	for _, to := range b.To {
		kind, known := subjectKinds[present.Or(to.Kind, contract.SubjectKindPerson)]
		if !known {
			return w, fault.RecipientUnknown.In("to", "name a person, a group or everyone")
		}
		w.To = append(w.To, sharing.Recipient{Kind: kind, ID: present.Or(to.Id, uuid.Nil), Email: present.Or(to.Email, "")})
	}
	return w, err
}

// GiveAccess gives access.
func (h *Handlers) GiveAccess(ctx context.Context, r GiveAccessRequestObject) (GiveAccessResponseObject, error) {
	w, err := accessWish(r.Body)
	if err == nil {
		err = h.Sharing.Give(ctx, w)
	}
	return GiveAccess204Response{}, err
}

// DraftAccess says what giving would mean.
func (h *Handlers) DraftAccess(ctx context.Context, r DraftAccessRequestObject) (DraftAccessResponseObject, error) {
	w, err := accessWish(r.Body)
	if err != nil {
		return nil, err
	}
	d, err := h.Sharing.Draft(ctx, w)
	return DraftAccess200JSONResponse{
		Sentence:    present.Sentence(d.Sentence),
		OwnUntil:    d.Own,
		Invited:     present.Each(d.Invited, func(s string) string { return s }),
		Consequence: consequence(d.Consequence),
	}, err
}

// SuggestPeople offers people.
func (h *Handlers) SuggestPeople(ctx context.Context, r SuggestPeopleRequestObject) (SuggestPeopleResponseObject, error) {
	all, err := h.Sharing.Suggest(ctx, r.Body.Items, present.Or(r.Body.Typed, ""))
	return SuggestPeople200JSONResponse(present.Each(all, func(x sharing.Suggested) contract.Suggested {
		out := contract.Suggested{
			Kind:          present.KindName(x.Kind),
			Id:            present.Some(x.ID),
			Name:          x.Name,
			Email:         present.Some(x.Email),
			Organisation:  present.Some(x.Organisation),
			Outside:       x.Outside,
			Gains:         x.Gains,
			Could:         x.Could,
			Reason:        present.Some(contract.SuggestedReason(x.Reason)),
			ReasonDossier: present.Some(x.Dossier),
			ReasonAt:      present.Some(x.Last),
		}
		if x.Members != nil {
			out.Members = &x.Members
		}
		return out
	})), err
}

// WhatIf says what a change would mean.
func (h *Handlers) WhatIf(ctx context.Context, r WhatIfRequestObject) (WhatIfResponseObject, error) {
	membership := func(m *contract.Membership) *sharing.Membership {
		if m == nil {
			return nil
		}
		return &sharing.Membership{Group: m.Group, Member: m.Member}
	}
	what := sharing.What{
		End:         r.Body.End,
		Close:       r.Body.Close,
		Open:        r.Body.Open,
		Join:        membership(r.Body.Join),
		Leave:       membership(r.Body.Leave),
		RemoveGroup: r.Body.RemoveGroup,
	}
	if m := r.Body.Move; m != nil {
		what.Move = &sharing.Move{Items: m.Items, To: m.To}
	}
	if m := r.Body.Copy; m != nil {
		what.Copy = &sharing.Move{Items: m.Items, To: m.To}
	}
	if m := r.Body.BringBack; m != nil {
		what.Move = &sharing.Move{Items: m.Items, To: m.To, Deleted: true}
	}
	what.Delete = present.Or(r.Body.Delete, nil)
	x, err := h.Sharing.WhatIf(ctx, what)
	return WhatIf200JSONResponse(consequence(x)), err
}

// ChangeAccess changes a grant.
func (h *Handlers) ChangeAccess(ctx context.Context, r ChangeAccessRequestObject) (ChangeAccessResponseObject, error) {
	t, err := accessTerms(r.Body.Level, r.Body.May, r.Body.Until, r.Body.Onward)
	if err == nil {
		err = h.Sharing.Change(ctx, r.Id, r.Body.Version, t)
	}
	return ChangeAccess204Response{}, err
}

// EndAccess ends a grant.
func (h *Handlers) EndAccess(ctx context.Context, r EndAccessRequestObject) (EndAccessResponseObject, error) {
	return EndAccess204Response{}, h.Sharing.End(ctx, r.Id)
}

// GetReach lists who can open an item.
func (h *Handlers) GetReach(ctx context.Context, r GetReachRequestObject) (GetReachResponseObject, error) {
	reach, err := h.Sharing.Reach(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	open := 0
	for _, l := range reach.Links {
		if l.Living {
			open++
		}
	}
	show := present.Grant(ctx)
	return GetReach200JSONResponse{
		Door:      present.Door(open, reach.Door, reach.Closed),
		Inside:    reach.Door.Inside,
		Outside:   reach.Door.Outside,
		Closed:    reach.Closed,
		MayShare:  reach.MayShare,
		MayManage: reach.MayManage,
		Links:     present.Each(reach.Links, present.Link),
		Ways: present.Each(reach.Entries, func(e sharing.Entry) contract.Way {
			return contract.Way{
				Grant:     show(e.ShownGrant),
				People:    present.Each(e.People, present.Person),
				Here:      e.Here,
				AsManager: e.AsManager,
				MayChange: e.MayChange,
				Active:    e.Active,
			}
		}),
	}, nil
}

// AskWhy answers why somebody can open an item.
func (h *Handlers) AskWhy(ctx context.Context, r AskWhyRequestObject) (AskWhyResponseObject, error) {
	a, err := h.Sharing.Why(ctx, r.Id, r.Person)
	if err != nil {
		return nil, err
	}
	show := present.Grant(ctx)
	return AskWhy200JSONResponse{
		Person: present.Person(a.Person),
		May:    present.Capabilities(a.Caps),
		Words:  terms.LevelWords(act.Who(ctx).Language, "", a.Caps.Names()),
		Ends:   a.Ends,
		Ways: present.Each(a.Ways, func(w sharing.AnswerWay) contract.WhyWay {
			return contract.WhyWay{Grant: show(w.ShownGrant), Through: present.Each(w.Through, func(s string) string { return s }), AsManager: w.AsManager}
		}),
	}, nil
}

// SetClosed closes or opens an item.
func (h *Handlers) SetClosed(ctx context.Context, r SetClosedRequestObject) (SetClosedResponseObject, error) {
	return SetClosed204Response{}, h.Sharing.SetClosed(ctx, r.Id, r.Body.Closed)
}

// PinItem keeps an item at hand.
func (h *Handlers) PinItem(ctx context.Context, r PinItemRequestObject) (PinItemResponseObject, error) {
	return PinItem204Response{}, h.Sharing.Pin(ctx, r.Id, r.Body.Pinned)
}

// AskForAccess asks to be let in.
func (h *Handlers) AskForAccess(ctx context.Context, r AskForAccessRequestObject) (AskForAccessResponseObject, error) {
	return AskForAccess202Response{}, h.Sharing.Ask(ctx, r.Id, present.Or(r.Body.Message, ""))
}

// AnswerRequest lets somebody in who asked, or not.
func (h *Handlers) AnswerRequest(ctx context.Context, r AnswerRequestRequestObject) (AnswerRequestResponseObject, error) {
	if !r.Body.Give {
		return AnswerRequest204Response{}, h.Sharing.Answer(ctx, r.Id, nil)
	}
	t, err := accessTerms(present.Or(r.Body.Level, contract.LevelView), nil, r.Body.Until, nil)
	if err == nil {
		err = h.Sharing.Answer(ctx, r.Id, &t)
	}
	return AnswerRequest204Response{}, err
}

// ListGivenToMe lists what others gave.
func (h *Handlers) ListGivenToMe(ctx context.Context, r ListGivenToMeRequestObject) (ListGivenToMeResponseObject, error) {
	l, err := h.Sharing.ToMe(ctx, present.Or(r.Params.After, ""), present.Or(r.Params.Saw, false))
	return ListGivenToMe200JSONResponse(given(ctx, l)), err
}

// ListGivenByMe lists what one gave.
func (h *Handlers) ListGivenByMe(ctx context.Context, r ListGivenByMeRequestObject) (ListGivenByMeResponseObject, error) {
	p := r.Params
	f := sharing.GivenFilter{Person: present.Or(p.Person, uuid.Nil), Kind: string(present.Or(p.Kind, "")), Ending: p.EndingBefore}
	l, err := h.Sharing.ByMe(ctx, f, present.Or(p.Dossier, ""), present.Or(p.After, ""))
	return ListGivenByMe200JSONResponse(given(ctx, l)), err
}

// MoveItems puts items into another folder.
func (h *Handlers) MoveItems(ctx context.Context, r MoveItemsRequestObject) (MoveItemsResponseObject, error) {
	return MoveItems204Response{}, h.Sharing.Move(ctx, sharing.Move{Items: r.Body.Items, To: r.Body.To})
}

// CopyItems puts copies of items into a folder.
func (h *Handlers) CopyItems(ctx context.Context, r CopyItemsRequestObject) (CopyItemsResponseObject, error) {
	c, err := h.Sharing.Copy(ctx, sharing.Move{Items: r.Body.Items, To: r.Body.To})
	return CopyItems201JSONResponse{Items: present.Each(c.Items, func(i items.Item) uuid.UUID { return i.ID }), Documents: c.Documents, Left: c.Left}, err
}

// Handlers serve the operations of sharing.
type Handlers struct {
	*door.Door
	Sharing *sharing.Service
}

package web

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/register"
	"tabularis/core/terms"
	"tabularis/internal/app/act"
	"tabularis/internal/app/sharing"
	c "tabularis/internal/web/contract"
)

var subjectKinds = map[c.SubjectKind]access.SubjectKind{
	c.SubjectKindPerson:   access.Person,
	c.SubjectKindGroup:    access.Group,
	c.SubjectKindEveryone: access.Everyone,
}

func kindName(k access.SubjectKind) c.SubjectKind {
	return [...]c.SubjectKind{c.SubjectKindPerson, c.SubjectKindGroup, c.SubjectKindEveryone}[k]
}

func accessTerms(level c.Level, may *[]string, until *time.Time, onward *bool) (sharing.Terms, error) {
	t := sharing.Terms{Level: access.Level(level), Until: until, Onward: or(onward, false)}
	var known bool
	if t.Custom, known = access.CapsOf(or(may, nil)); !known {
		return t, fault.Field("may", "capability-unknown", "there is no such capability")
	}
	return t, nil
}

func accessWish(b *c.AccessWish) (sharing.Wish, error) {
	t, err := accessTerms(b.Level, b.May, b.Until, b.Onward)
	w := sharing.Wish{Items: b.Items, Terms: t, Message: or(b.Message, "")}
	for _, to := range b.To {
		kind, known := subjectKinds[or(to.Kind, c.SubjectKindPerson)]
		if !known {
			return w, fault.Field("to", "recipient-unknown", "name a person, a group or everyone")
		}
		w.To = append(w.To, sharing.Recipient{Kind: kind, ID: or(to.Id, uuid.Nil), Email: or(to.Email, "")})
	}
	return w, err
}

// GiveAccess gives access.
func (s *Server) GiveAccess(ctx context.Context, r c.GiveAccessRequestObject) (c.GiveAccessResponseObject, error) {
	w, err := accessWish(r.Body)
	if err == nil {
		err = s.Sharing.Give(ctx, w)
	}
	return c.GiveAccess204Response{}, err
}

func effect(e sharing.Effect) c.Effect {
	out := c.Effect{Name: e.Name, Outside: e.Outside, Invited: e.Invited, Gains: e.Gains, Loses: e.Loses, Changes: e.Caps, Could: e.Could}
	if !e.Invited {
		out.Person = some(uuid.UUID(e.Person))
	}
	return out
}

func consequence(x sharing.Consequence) c.Consequence {
	return c.Consequence{Documents: x.Documents, Effects: each(x.Effects, effect), Links: some(x.Links)}
}

// DraftAccess says what giving would mean.
func (s *Server) DraftAccess(ctx context.Context, r c.DraftAccessRequestObject) (c.DraftAccessResponseObject, error) {
	w, err := accessWish(r.Body)
	if err != nil {
		return nil, err
	}
	d, err := s.Sharing.Draft(ctx, w)
	return c.DraftAccess200JSONResponse{
		Sentence:    parts(d.Sentence),
		OwnUntil:    d.Own,
		Invited:     each(d.Invited, func(s string) string { return s }),
		Consequence: consequence(d.Consequence),
	}, err
}

// SuggestPeople offers people.
func (s *Server) SuggestPeople(ctx context.Context, r c.SuggestPeopleRequestObject) (c.SuggestPeopleResponseObject, error) {
	all, err := s.Sharing.Suggest(ctx, r.Body.Items, or(r.Body.Typed, ""))
	return c.SuggestPeople200JSONResponse(each(all, func(x sharing.Suggested) c.Suggested {
		out := c.Suggested{
			Kind:          kindName(x.Kind),
			Id:            some(x.ID),
			Name:          x.Name,
			Email:         some(x.Email),
			Organisation:  some(x.Organisation),
			Outside:       x.Outside,
			Gains:         x.Gains,
			Could:         x.Could,
			Reason:        some(c.SuggestedReason(x.Reason)),
			ReasonDossier: some(x.Dossier),
			ReasonAt:      some(x.Last),
		}
		if x.Members != nil {
			out.Members = &x.Members
		}
		return out
	})), err
}

// WhatIf says what a change would mean.
func (s *Server) WhatIf(ctx context.Context, r c.WhatIfRequestObject) (c.WhatIfResponseObject, error) {
	membership := func(m *c.Membership) *sharing.Membership {
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
	x, err := s.Sharing.WhatIf(ctx, what)
	return c.WhatIf200JSONResponse(consequence(x)), err
}

// ChangeAccess changes a grant.
func (s *Server) ChangeAccess(ctx context.Context, r c.ChangeAccessRequestObject) (c.ChangeAccessResponseObject, error) {
	t, err := accessTerms(r.Body.Level, r.Body.May, r.Body.Until, r.Body.Onward)
	if err == nil {
		err = s.Sharing.Change(ctx, r.Id, r.Body.Version, t)
	}
	return c.ChangeAccess204Response{}, err
}

// EndAccess ends a grant.
func (s *Server) EndAccess(ctx context.Context, r c.EndAccessRequestObject) (c.EndAccessResponseObject, error) {
	return c.EndAccess204Response{}, s.Sharing.End(ctx, r.Id)
}

func grant(ctx context.Context) func(g sharing.ShownGrant) c.Grant {
	language := act.Who(ctx).Language
	return func(g sharing.ShownGrant) c.Grant {
		may := g.Core().Caps().Names()
		out := c.Grant{
			Id:           g.ID,
			Version:      g.Version,
			Kind:         kindName(g.SubjectKind),
			Subject:      some(g.SubjectID),
			Name:         g.Subject,
			Organisation: some(g.Organisation),
			Outside:      g.Outside,
			Invited:      g.Invited,
			Seen:         g.SeenAt,
			Level:        c.Level(g.Level),
			May:          &may,
			Words: terms.LevelWords(
				language,
				g.Level,
				g.Custom.Names(),
			),
			Onward:      g.Onward,
			Until:       g.EndsAt,
			By:          g.By,
			At:          g.CreatedAt,
			Message:     some(g.Message),
			ItemId:      g.ItemID,
			ItemName:    g.ItemName,
			ItemKind:    c.GrantItemKind(g.ItemKind),
			FolderId:    g.ParentID,
			Code:        g.Code,
			DossierName: g.DossierName,
			Pinned:      &g.Pinned,
		}
		if g.ParentID == nil {
			out.ItemKind = c.GrantItemKindDossier
		}
		if g.ItemNumber != nil {
			out.Ref = some(register.Ref{Code: g.Code, Number: *g.ItemNumber}.String())
		}
		return out
	}
}

// GetReach lists who can open an item.
func (s *Server) GetReach(ctx context.Context, r c.GetReachRequestObject) (c.GetReachResponseObject, error) {
	reach, err := s.Sharing.Reach(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	shown, err := s.Links.Through(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	open := 0
	for _, l := range shown {
		if l.Living {
			open++
		}
	}
	show := grant(ctx)
	return c.GetReach200JSONResponse{
		Door:      door(open, reach.Door, reach.Closed),
		Inside:    reach.Door.Inside,
		Outside:   reach.Door.Outside,
		Closed:    reach.Closed,
		MayShare:  reach.MayShare,
		MayManage: reach.MayManage,
		Links:     each(shown, link),
		Ways: each(reach.Entries, func(e sharing.Entry) c.Way {
			return c.Way{
				Grant:     show(e.ShownGrant),
				People:    each(e.People, person),
				Here:      e.Here,
				AsManager: e.AsManager,
				MayChange: e.MayChange,
				Active:    e.Active,
			}
		}),
	}, nil
}

// AskWhy answers why somebody can open an item.
func (s *Server) AskWhy(ctx context.Context, r c.AskWhyRequestObject) (c.AskWhyResponseObject, error) {
	a, err := s.Sharing.Why(ctx, r.Id, r.Person)
	if err != nil {
		return nil, err
	}
	show := grant(ctx)
	return c.AskWhy200JSONResponse{
		Person: person(a.Person),
		May:    capNames(a.Caps),
		Words:  terms.LevelWords(act.Who(ctx).Language, "", a.Caps.Names()),
		Ends:   a.Ends,
		Ways: each(a.Ways, func(w sharing.AnswerWay) c.WhyWay {
			return c.WhyWay{Grant: show(w.ShownGrant), Through: each(w.Through, func(s string) string { return s }), AsManager: w.AsManager}
		}),
	}, nil
}

// SetClosed closes or opens an item.
func (s *Server) SetClosed(ctx context.Context, r c.SetClosedRequestObject) (c.SetClosedResponseObject, error) {
	return c.SetClosed204Response{}, s.Sharing.SetClosed(ctx, r.Id, r.Body.Closed)
}

// PinItem keeps an item at hand.
func (s *Server) PinItem(ctx context.Context, r c.PinItemRequestObject) (c.PinItemResponseObject, error) {
	return c.PinItem204Response{}, s.Sharing.Pin(ctx, r.Id, r.Body.Pinned)
}

// AskForAccess asks to be let in.
func (s *Server) AskForAccess(ctx context.Context, r c.AskForAccessRequestObject) (c.AskForAccessResponseObject, error) {
	return c.AskForAccess202Response{}, s.Sharing.Ask(ctx, r.Id, or(r.Body.Message, ""))
}

// AnswerRequest lets somebody in who asked, or not.
func (s *Server) AnswerRequest(ctx context.Context, r c.AnswerRequestRequestObject) (c.AnswerRequestResponseObject, error) {
	if !r.Body.Give {
		return c.AnswerRequest204Response{}, s.Sharing.Answer(ctx, r.Id, nil)
	}
	t, err := accessTerms(or(r.Body.Level, c.LevelView), nil, r.Body.Until, nil)
	if err == nil {
		err = s.Sharing.Answer(ctx, r.Id, &t)
	}
	return c.AnswerRequest204Response{}, err
}

func request(r sharing.Request) c.Request {
	out := c.Request{Id: r.ID, Person: r.Name, Message: some(r.Message), At: r.At, ItemName: r.ItemName, ItemKind: c.RequestItemKind(r.ItemKind), Code: r.Code}
	if r.Number != nil {
		out.Ref = some(register.Ref{Code: r.Code, Number: *r.Number}.String())
	}
	return out
}

func given(ctx context.Context, l sharing.List) c.Given {
	return c.Given{Grants: each(l.Grants, grant(ctx)), Next: some(l.Next), Since: l.Since}
}

// ListGivenToMe lists what others gave.
func (s *Server) ListGivenToMe(ctx context.Context, r c.ListGivenToMeRequestObject) (c.ListGivenToMeResponseObject, error) {
	l, err := s.Sharing.ToMe(ctx, or(r.Params.After, ""), or(r.Params.Saw, false))
	return c.ListGivenToMe200JSONResponse(given(ctx, l)), err
}

// ListGivenByMe lists what one gave.
func (s *Server) ListGivenByMe(ctx context.Context, r c.ListGivenByMeRequestObject) (c.ListGivenByMeResponseObject, error) {
	p := r.Params
	f := sharing.GivenFilter{Person: or(p.Person, uuid.Nil), Kind: string(or(p.Kind, "")), Ending: p.EndingBefore}
	if p.Dossier != nil {
		d, err := s.Access.ByCode(ctx, s.Acts.DB, *p.Dossier, s.Acts.Now())
		if err != nil {
			return nil, err
		}
		f.Dossier = d.ID
	}
	l, err := s.Sharing.ByMe(ctx, f, or(p.After, ""))
	return c.ListGivenByMe200JSONResponse(given(ctx, l)), err
}

// MoveItems puts items into another folder.
func (s *Server) MoveItems(ctx context.Context, r c.MoveItemsRequestObject) (c.MoveItemsResponseObject, error) {
	return c.MoveItems204Response{}, s.Sharing.Move(ctx, sharing.Move{Items: r.Body.Items, To: r.Body.To})
}

package web

import (
	"context"
	"encoding/json"
	"strings"

	guard "tabularis/internal/app/access"
	tree "tabularis/internal/app/items"
	practices "tabularis/internal/app/practice"
	"tabularis/internal/app/sessions"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/scan"
	"tabularis/internal/app/act"
	"tabularis/internal/app/people"
	c "tabularis/internal/web/contract"
)

func account(a people.Account) c.Account {
	out := c.Account{
		Person:    person(a.Person),
		Standing:  c.Standing(a.Standing),
		Dossiers:  a.Dossiers,
		Documents: a.Documents,
		Measured:  a.Dossiers > 0 || a.Documents > 0,
		Seen:      a.SeenAt,
		Ends:      a.Ends,
		Ended:     a.DeactivatedAt,
		Factor:    some(c.AccountFactor(a.Factor)),
	}
	if a.Pending != nil {
		out.Invited, out.InvitationEnds, out.InvitedBy = &a.Pending.CreatedAt, &a.Pending.ExpiresAt, some(a.Pending.By)
	}
	return out
}

// ListPeople shows the people one knows.
func (s *Server) ListPeople(ctx context.Context, _ c.ListPeopleRequestObject) (c.ListPeopleResponseObject, error) {
	d, err := s.People.Directory(ctx)
	if err != nil {
		return nil, err
	}
	groups := each(d.Groups, func(g people.GroupLine) c.Group {
		return c.Group{Id: g.ID, Name: g.Name, People: append([]uuid.UUID{}, g.People...), Members: each(g.Members, func(m guard.GroupMember) c.GroupMember {
			return c.GroupMember{Person: m.PersonID, Group: m.SubgroupID}
		})}
	})
	links := each(d.Links, func(l people.ShownLink) c.InvitationLink {
		joined := []string{}
		if l.Joined != "" {
			joined = strings.Split(l.Joined, "\n")
		}
		return c.InvitationLink{
			Id:        l.ID,
			Standing:  c.Standing(l.Standing),
			Code:      l.Code,
			Level:     l.Level,
			Domain:    l.Domain,
			Uses:      l.Uses,
			UsesLimit: l.UsesLimit,
			Until:     l.ExpiresAt,
			By:        l.By,
			Address:   l.Address,
			Joined:    joined,
		}
	})
	out := c.ListPeople200JSONResponse{Accounts: each(d.Accounts, account), Groups: groups, Links: links, Room: room(d.Room)}
	if d.Practice != nil {
		r := rules(*d.Practice)
		out.Rules = &r
	}
	return out, nil
}

// InvitePerson invites by mail.
func (s *Server) InvitePerson(ctx context.Context, r c.InvitePersonRequestObject) (c.InvitePersonResponseObject, error) {
	b := r.Body
	p, err := s.People.InviteByMail(
		ctx,
		people.Invitation{
			Name:         or(b.Name, ""),
			Email:        b.Email,
			Role:         or(b.Role, ""),
			Organisation: or(b.Organisation, ""),
			Standing:     b.Standing,
			Message:      or(b.Message, ""),
		},
	)
	return c.InvitePerson201JSONResponse(person(p)), err
}

// SetStanding changes somebody's standing.
func (s *Server) SetStanding(ctx context.Context, r c.SetStandingRequestObject) (c.SetStandingResponseObject, error) {
	return c.SetStanding204Response{}, s.People.SetStanding(ctx, r.Id, r.Body.Standing)
}

// EndAccount ends an account.
func (s *Server) EndAccount(ctx context.Context, r c.EndAccountRequestObject) (c.EndAccountResponseObject, error) {
	return c.EndAccount204Response{}, s.People.Deactivate(ctx, r.Id, r.Body.Successor)
}

// ReturnAccount brings an account back.
func (s *Server) ReturnAccount(ctx context.Context, r c.ReturnAccountRequestObject) (c.ReturnAccountResponseObject, error) {
	return c.ReturnAccount204Response{}, s.People.Reactivate(ctx, r.Id)
}

// InviteAgain sends a new invitation.
func (s *Server) InviteAgain(ctx context.Context, r c.InviteAgainRequestObject) (c.InviteAgainResponseObject, error) {
	return c.InviteAgain202Response{}, s.People.InviteAgain(ctx, r.Id)
}

// TakeInvitationBack takes an invitation back.
func (s *Server) TakeInvitationBack(ctx context.Context, r c.TakeInvitationBackRequestObject) (c.TakeInvitationBackResponseObject, error) {
	return c.TakeInvitationBack204Response{}, s.People.TakeBack(ctx, r.Id)
}

// MakeGroup makes a group.
func (s *Server) MakeGroup(ctx context.Context, r c.MakeGroupRequestObject) (c.MakeGroupResponseObject, error) {
	g, err := s.People.MakeGroup(ctx, r.Body.Name)
	return c.MakeGroup201JSONResponse{Id: g.ID}, err
}

// RemoveGroup removes a group.
func (s *Server) RemoveGroup(ctx context.Context, r c.RemoveGroupRequestObject) (c.RemoveGroupResponseObject, error) {
	return c.RemoveGroup204Response{}, s.People.RemoveGroup(ctx, r.Id)
}

// AddToGroup puts somebody into a group.
func (s *Server) AddToGroup(ctx context.Context, r c.AddToGroupRequestObject) (c.AddToGroupResponseObject, error) {
	return c.AddToGroup204Response{}, s.People.AddMember(ctx, r.Id, people.Member{Person: r.Body.Person, Group: r.Body.Group})
}

// TakeFromGroup takes somebody out of a group.
func (s *Server) TakeFromGroup(ctx context.Context, r c.TakeFromGroupRequestObject) (c.TakeFromGroupResponseObject, error) {
	return c.TakeFromGroup204Response{}, s.People.TakeMember(ctx, r.Id, r.Member)
}

// MakeInvitationLink makes an invitation link.
func (s *Server) MakeInvitationLink(ctx context.Context, r c.MakeInvitationLinkRequestObject) (c.MakeInvitationLinkResponseObject, error) {
	b := r.Body
	return c.MakeInvitationLink201Response{}, s.People.MakeLink(
		ctx,
		people.LinkTerms{
			Standing: b.Standing,
			Dossier:  or(b.Dossier, ""),
			Level:    access.Level(or(b.Level, "")),
			Domain:   or(b.Domain, ""),
			Uses:     b.Uses,
			Until:    b.Until,
		},
	)
}

// EndInvitationLink ends an invitation link.
func (s *Server) EndInvitationLink(ctx context.Context, r c.EndInvitationLinkRequestObject) (c.EndInvitationLinkResponseObject, error) {
	return c.EndInvitationLink204Response{}, s.People.EndLink(ctx, r.Id)
}

// GetJoining shows the front of an invitation link.
func (s *Server) GetJoining(ctx context.Context, r c.GetJoiningRequestObject) (c.GetJoiningResponseObject, error) {
	j, err := s.People.Front(ctx, r.Token)
	return c.GetJoining200JSONResponse{
		Practice: j.Practice.Name,
		Tagline:  j.Practice.Tagline,
		By:       j.By,
		Domain:   j.Domain,
		Standing: c.Standing(j.Standing),
	}, err
}

// Join makes an account by an invitation link.
func (s *Server) Join(ctx context.Context, r c.JoinRequestObject) (c.JoinResponseObject, error) {
	return c.Join202Response{}, s.People.Join(ctx, r.Token, r.Body.Name, r.Body.Email)
}

// SetRules changes the practice's rules for accounts.
func (s *Server) SetRules(ctx context.Context, r c.SetRulesRequestObject) (c.SetRulesResponseObject, error) {
	b := r.Body
	if b.SecondFactorRequired && act.Who(ctx).Person.Administers() {
		// Who asks it of everybody has one first.
		has, err := sessions.HasFactor(ctx, s.Acts.DB, act.Who(ctx).Person.ID)
		if err != nil {
			return nil, err
		}
		if !has {
			return nil, fault.New(fault.Conflict, "own-factor-first", "set up a second factor of your own first")
		}
	}
	patterns, err := json.Marshal(each(b.Patterns, func(p c.Pattern) scan.Pattern {
		return scan.Pattern{Name: or(p.Name, ""), Text: p.Text, Expression: p.Expression}
	}))
	if err != nil {
		return nil, err
	}
	outward := or(b.Outward, c.OutwardRules{Required: c.OutwardRulesRequiredNothing, Kinds: []c.LinkKind{c.HandOut, c.Working, c.Intake}})
	return c.SetRules204Response{}, s.Practice.SetRules(
		ctx,
		practices.Practice{
			ColleaguesMakeDossiers: b.ColleaguesMakeDossiers,
			GuestsByCode:           b.GuestsByCode,
			SecondFactorRequired:   b.SecondFactorRequired,
			RoomBytes:              b.RoomBytes,
			LongestLinkDays:        b.LongestLinkDays,
			Sensitive:              string(b.Sensitive),
			Patterns:               patterns,
			OutwardRequired: string(
				outward.Required,
			),
			OutwardKinds: strings.Join(each(outward.Kinds, func(k c.LinkKind) string { return string(k) }), " "),
			OutwardShut:  strings.Join(outward.Shut, " "),
			OutwardOnly:  strings.Join(outward.Only, " "),
		},
	)
}

func room(r *tree.Room) *c.Room {
	if r == nil {
		return nil
	}
	return &c.Room{Used: r.Used, Announced: r.Announced, Limit: r.Limit}
}

// RemovePractice lets the practice be removed.
func (s *Server) RemovePractice(ctx context.Context, r c.RemovePracticeRequestObject) (c.RemovePracticeResponseObject, error) {
	return c.RemovePractice204Response{}, s.Practice.Remove(ctx, r.Body.Name, r.Body.Password)
}

// KeepPractice takes its removal back.
func (s *Server) KeepPractice(ctx context.Context, _ c.KeepPracticeRequestObject) (c.KeepPracticeResponseObject, error) {
	return c.KeepPractice204Response{}, s.Practice.Keep(ctx)
}

func rules(p practices.Practice) c.Rules {
	// What the database keeps was checked when it was set.
	own, _ := scan.Patterns(p.Patterns)
	outward := p.Outward()
	return c.Rules{
		Outward: &c.OutwardRules{
			Required: c.OutwardRulesRequired(outward.Required),
			Kinds:    each(outward.Kinds, func(k string) c.LinkKind { return c.LinkKind(k) }),
			Shut:     list(outward.Shut),
			Only:     list(outward.Only),
		},
		ColleaguesMakeDossiers: p.ColleaguesMakeDossiers,
		GuestsByCode:           p.GuestsByCode,
		SecondFactorRequired:   p.SecondFactorRequired,
		RoomBytes:              p.RoomBytes,
		LongestLinkDays:        p.LongestLinkDays,
		Sensitive:              c.RulesSensitive(p.Sensitive),
		Patterns: each(own, func(p scan.Pattern) c.Pattern {
			return c.Pattern{Name: some(p.Name), Text: p.Text, Expression: p.Expression}
		}),
	}
}

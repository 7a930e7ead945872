package people

import (
	"context"
	"strings"

	guard "tabularis/internal/app/access"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/app/people"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// ListPeople shows the people one knows.
func (h *Handlers) ListPeople(ctx context.Context, _ ListPeopleRequestObject) (ListPeopleResponseObject, error) {
	d, err := h.People.Directory(ctx)
	if err != nil {
		return nil, err
	}
	groups := present.Each(d.Groups, func(g people.GroupLine) contract.Group {
		return contract.Group{Id: g.ID, Name: g.Name, People: append([]uuid.UUID{}, g.People...), Members: present.Each(g.Members, func(m guard.GroupMember) contract.GroupMember {
			return contract.GroupMember{Person: m.PersonID, Group: m.SubgroupID}
		})}
	})
	links := present.Each(d.Links, func(l people.ShownLink) contract.InvitationLink {
		joined := []string{}
		if l.Joined != "" {
			joined = strings.Split(l.Joined, "\n")
		}
		return contract.InvitationLink{
			Id:        l.ID,
			Standing:  contract.Standing(l.Standing),
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
	out := ListPeople200JSONResponse{Accounts: present.Each(d.Accounts, account), Groups: groups, Links: links, Storage: present.Storage(d.Storage)}
	if d.Practice != nil {
		r := rules(*d.Practice)
		out.Rules = &r
	}
	return out, nil
}

// InvitePerson invites by mail.
func (h *Handlers) InvitePerson(ctx context.Context, r InvitePersonRequestObject) (InvitePersonResponseObject, error) {
	b := r.Body
	p, err := h.People.InviteByMail(
		ctx,
		people.Invitation{
			Name:         present.Or(b.Name, ""),
			Email:        b.Email,
			Role:         present.Or(b.Role, ""),
			Organisation: present.Or(b.Organisation, ""),
			Standing:     b.Standing,
			Message:      present.Or(b.Message, ""),
		},
	)
	return InvitePerson201JSONResponse(present.Person(p)), err
}

// SetStanding changes somebody's standing.
func (h *Handlers) SetStanding(ctx context.Context, r SetStandingRequestObject) (SetStandingResponseObject, error) {
	return SetStanding204Response{}, h.People.SetStanding(ctx, r.Id, r.Body.Standing)
}

// EndAccount ends an account.
func (h *Handlers) EndAccount(ctx context.Context, r EndAccountRequestObject) (EndAccountResponseObject, error) {
	return EndAccount204Response{}, h.People.Deactivate(ctx, r.Id, r.Body.Successor)
}

// ReturnAccount brings an account back.
func (h *Handlers) ReturnAccount(ctx context.Context, r ReturnAccountRequestObject) (ReturnAccountResponseObject, error) {
	return ReturnAccount204Response{}, h.People.Reactivate(ctx, r.Id)
}

// InviteAgain sends a new invitation.
func (h *Handlers) InviteAgain(ctx context.Context, r InviteAgainRequestObject) (InviteAgainResponseObject, error) {
	return InviteAgain202Response{}, h.People.InviteAgain(ctx, r.Id)
}

// TakeInvitationBack takes an invitation back.
func (h *Handlers) TakeInvitationBack(ctx context.Context, r TakeInvitationBackRequestObject) (TakeInvitationBackResponseObject, error) {
	return TakeInvitationBack204Response{}, h.People.TakeBack(ctx, r.Id)
}

// MakeGroup makes a group.
func (h *Handlers) MakeGroup(ctx context.Context, r MakeGroupRequestObject) (MakeGroupResponseObject, error) {
	g, err := h.People.MakeGroup(ctx, r.Body.Name)
	return MakeGroup201JSONResponse{Id: g.ID}, err
}

// RemoveGroup removes a group.
func (h *Handlers) RemoveGroup(ctx context.Context, r RemoveGroupRequestObject) (RemoveGroupResponseObject, error) {
	return RemoveGroup204Response{}, h.People.RemoveGroup(ctx, r.Id)
}

// AddToGroup puts somebody into a group.
func (h *Handlers) AddToGroup(ctx context.Context, r AddToGroupRequestObject) (AddToGroupResponseObject, error) {
	return AddToGroup204Response{}, h.People.AddMember(ctx, r.Id, people.Member{Person: r.Body.Person, Group: r.Body.Group})
}

// TakeFromGroup takes somebody out of a group.
func (h *Handlers) TakeFromGroup(ctx context.Context, r TakeFromGroupRequestObject) (TakeFromGroupResponseObject, error) {
	return TakeFromGroup204Response{}, h.People.TakeMember(ctx, r.Id, r.Member)
}

// MakeInvitationLink makes an invitation link.
func (h *Handlers) MakeInvitationLink(ctx context.Context, r MakeInvitationLinkRequestObject) (MakeInvitationLinkResponseObject, error) {
	b := r.Body
	return MakeInvitationLink201Response{}, h.People.MakeLink(
		ctx,
		people.LinkTerms{
			Standing: b.Standing,
			Dossier:  present.Or(b.Dossier, ""),
			Level:    access.Level(present.Or(b.Level, "")),
			Domain:   present.Or(b.Domain, ""),
			Uses:     b.Uses,
			Until:    b.Until,
		},
	)
}

// EndInvitationLink ends an invitation link.
func (h *Handlers) EndInvitationLink(ctx context.Context, r EndInvitationLinkRequestObject) (EndInvitationLinkResponseObject, error) {
	return EndInvitationLink204Response{}, h.People.EndLink(ctx, r.Id)
}

// GetJoining shows the front of an invitation link.
func (h *Handlers) GetJoining(ctx context.Context, r GetJoiningRequestObject) (GetJoiningResponseObject, error) {
	j, err := h.People.Front(ctx, r.Token)
	return GetJoining200JSONResponse{
		Practice: j.Practice.Name,
		Tagline:  j.Practice.Tagline,
		By:       j.By,
		Domain:   j.Domain,
		Standing: contract.Standing(j.Standing),
	}, err
}

// Join makes an account by an invitation link.
func (h *Handlers) Join(ctx context.Context, r JoinRequestObject) (JoinResponseObject, error) {
	return Join202Response{}, h.People.Join(ctx, r.Token, r.Body.Name, r.Body.Email)
}

// Handlers serve the operations of people.
type Handlers struct {
	*door.Door
	People *people.Service
}

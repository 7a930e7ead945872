package links

import (
	"context"

	"tabularis/internal/app/links"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
	"tabularis/internal/platform/secret"
)

func wish(t *contract.LinkTerms) (links.Wish, error) {
	terms, err := present.Terms(t)
	terms.Kind, terms.Newest = string(present.Or(t.Kind, "")), present.Or(t.Newest, false)
	return links.Wish{Items: t.Items, Name: present.Or(t.Name, ""), UntilSet: t.Until != nil, Terms: terms, Password: present.Or(t.Password, ""),
		Language: string(present.Or(t.Language, "en")), Expected: present.Or(t.Expected, nil)}, err
}

// DraftLink says what terms would mean.
func (h *Handlers) DraftLink(ctx context.Context, r DraftLinkRequestObject) (DraftLinkResponseObject, error) {
	w, err := wish(r.Body)
	if err != nil {
		return nil, err
	}
	d, err := h.Links.Draft(ctx, w)
	return DraftLink200JSONResponse(present.LinkDraft(d)), err
}

// MakeLink makes a link.
func (h *Handlers) MakeLink(ctx context.Context, r MakeLinkRequestObject) (MakeLinkResponseObject, error) {
	w, err := wish(r.Body)
	if err != nil {
		return nil, err
	}
	l, err := h.Links.Make(ctx, w)
	return MakeLink201JSONResponse(present.Link(l)), err
}

// ChangeLink sets a link's terms anew.
func (h *Handlers) ChangeLink(ctx context.Context, r ChangeLinkRequestObject) (ChangeLinkResponseObject, error) {
	terms, err := present.Terms(r.Body)
	if err != nil {
		return nil, err
	}
	l, err := h.Links.Change(ctx, r.Id, links.Change{Name: r.Body.Name, Terms: terms, Password: r.Body.Password})
	return ChangeLink200JSONResponse(present.Link(l)), err
}

// AdjustLink sets single terms of a link anew.
func (h *Handlers) AdjustLink(ctx context.Context, r AdjustLinkRequestObject) (AdjustLinkResponseObject, error) {
	l, err := h.Links.Adjust(ctx, r.Id, r.Body.Until, r.Body.Password)
	return AdjustLink200JSONResponse(present.Link(l)), err
}

// OfferPassword makes up a password.
func (h *Handlers) OfferPassword(context.Context, OfferPasswordRequestObject) (OfferPasswordResponseObject, error) {
	return OfferPassword200JSONResponse{Password: secret.Spoken()}, nil
}

// ListLinks lists links of one's dossiers.
func (h *Handlers) ListLinks(ctx context.Context, r ListLinksRequestObject) (ListLinksResponseObject, error) {
	var out ListLinks200JSONResponse
	state := present.Or(r.Params.State, contract.ListLinksParamsStateOpen)
	for _, over := range []bool{false, true} {
		if over && state == contract.ListLinksParamsStateOpen || !over && state == contract.ListLinksParamsStateOver {
			continue
		}
		all, err := h.Links.List(ctx, over, present.Or(r.Params.Mine, false), present.Or(r.Params.Dossier, ""))
		if err != nil {
			return nil, err
		}
		out = append(out, present.Each(all, present.Link)...)
	}
	if out == nil {
		out = ListLinks200JSONResponse{}
	}
	return out, nil
}

// GetLink shows a link's record.
func (h *Handlers) GetLink(ctx context.Context, r GetLinkRequestObject) (GetLinkResponseObject, error) {
	l, events, err := h.Links.Record(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	looks, err := h.Links.Looks(ctx, r.Id)
	noted := func(l links.VisitLook) contract.LookNoted {
		return contract.LookNoted{Visit: l.VisitID.String(), ItemId: l.ItemID, Version: l.Version, Pages: l.Pages, Seconds: l.Seconds}
	}
	return GetLink200JSONResponse{Link: present.Link(l), Events: present.Each(events, present.Event), Looks: present.Each(looks, noted)}, err
}

// ReopenLink takes an end back.
func (h *Handlers) ReopenLink(ctx context.Context, r ReopenLinkRequestObject) (ReopenLinkResponseObject, error) {
	return ReopenLink204Response{}, h.Links.Reopen(ctx, r.Id)
}

// EndLink ends a link.
func (h *Handlers) EndLink(ctx context.Context, r EndLinkRequestObject) (EndLinkResponseObject, error) {
	return EndLink204Response{}, h.Links.End(ctx, r.Id)
}

// GrantOpening lets one more visit in.
func (h *Handlers) GrantOpening(ctx context.Context, r GrantOpeningRequestObject) (GrantOpeningResponseObject, error) {
	if err := h.Links.GrantOpening(ctx, r.Id); err != nil {
		return nil, err
	}
	l, err := h.Links.One(ctx, r.Id)
	return GrantOpening200JSONResponse(present.Link(l)), err
}

// MailLink mails a link.
func (h *Handlers) MailLink(ctx context.Context, r MailLinkRequestObject) (MailLinkResponseObject, error) {
	return MailLink202Response{}, h.Links.Mail(ctx, r.Id, r.Body.To, present.Or(r.Body.Message, ""))
}

// RemindOfPapers reminds outsiders of what is missing.
func (h *Handlers) RemindOfPapers(ctx context.Context, r RemindOfPapersRequestObject) (RemindOfPapersResponseObject, error) {
	return RemindOfPapers204Response{}, h.Links.Remind(ctx, r.Id)
}

// Handlers serve the operations of links.
type Handlers struct {
	*door.Door
	Links *links.Service
}

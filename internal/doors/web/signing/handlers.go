package signing

import (
	"context"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	core "tabularis/core/signing"
	"tabularis/internal/app/signing"
	"tabularis/internal/app/visits"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
	"tabularis/internal/platform/reading"
)

// ListSignings lists the requests that the acting person sees.
func (h *Handlers) ListSignings(ctx context.Context, _ ListSigningsRequestObject) (ListSigningsResponseObject, error) {
	l, err := h.Signing.List(ctx)
	return ListSignings200JSONResponse{Open: present.Each(l.Open, present.Signing), Ended: present.Each(l.Ended, present.Signing)}, err
}

func wish(b contract.SigningWish) (w signing.Wish, err error) {
	w = signing.Wish{Document: b.Document, Until: b.Until, Days: present.Or(b.Days, 0), Message: present.Or(b.Message, ""), Password: present.Or(b.Password, ""), PaperPassword: present.Or(b.PaperPassword, ""), FileIn: b.FileIn, Language: string(present.Or(b.Language, ""))}
	w.Plan, err = present.Through[core.Plan](b.Plan)
	return w, err
}

// DraftSigning says what sending would mean.
func (h *Handlers) DraftSigning(ctx context.Context, r DraftSigningRequestObject) (DraftSigningResponseObject, error) {
	w, err := wish(*r.Body)
	if err != nil {
		return nil, err
	}
	d, err := h.Signing.Draft(ctx, w)
	if err != nil {
		return nil, err
	}
	out := contract.SigningDraft{Pages: present.Each(d.Sizes, size), Until: d.Until, Problems: present.Each(d.Problems, problem)}
	if d.Refused != nil {
		f := fault.Of(d.Refused)
		out.Refused, out.RefusedAt = &f.Code, present.Some(f.Field)
	}
	return DraftSigning200JSONResponse(out), nil
}

func size(s reading.Size) contract.PageSize {
	return contract.PageSize{Width: s.Width, Height: s.Height}
}

// SendForSigning sends a document to its parties.
func (h *Handlers) SendForSigning(ctx context.Context, r SendForSigningRequestObject) (SendForSigningResponseObject, error) {
	w, err := wish(*r.Body)
	if err != nil {
		return nil, err
	}
	id, err := h.Signing.Send(ctx, w)
	if err != nil {
		return nil, err
	}
	l, err := h.Signing.One(ctx, id)
	return SendForSigning201JSONResponse(present.Signing(l)), err
}

// GetSigning shows a request.
func (h *Handlers) GetSigning(ctx context.Context, r GetSigningRequestObject) (GetSigningResponseObject, error) {
	l, err := h.Signing.One(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	out := contract.SigningPage{Line: present.Signing(l), Events: []contract.SigningEvent{}, Papers: []contract.SigningPaper{}}
	for _, e := range l.Events {
		shown := contract.SigningEvent{Kind: string(e.Kind), At: e.At, Reason: present.Some(e.Reason)}
		if e.Kind != core.EvSent && e.Party < len(l.Request.Plan.Parties) {
			shown.Party, shown.Name = present.Some(core.Letter(e.Party)), present.Some(l.Request.Plan.Parties[e.Party].Name)
		}
		out.Events = append(out.Events, shown)
	}
	if l.Manages {
		papers, err := h.Signing.Papers(ctx, r.Id)
		if err != nil {
			return nil, err
		}
		out.Papers = present.Each(papers, broughtPaper)
	}
	out.Places, err = present.Through[[]contract.SigningPlace](l.Request.Plan.Ordered())
	return GetSigning200JSONResponse(out), err
}

// ListSigningsOfDocument lists a document's requests.
func (h *Handlers) ListSigningsOfDocument(ctx context.Context, r ListSigningsOfDocumentRequestObject) (ListSigningsOfDocumentResponseObject, error) {
	all, err := h.Signing.OfDocument(ctx, r.Id)
	return ListSigningsOfDocument200JSONResponse(present.Each(all, present.Signing)), err
}

// RemindSigning reminds those whose turn it is.
func (h *Handlers) RemindSigning(ctx context.Context, r RemindSigningRequestObject) (RemindSigningResponseObject, error) {
	return RemindSigning204Response{}, h.Signing.Remind(ctx, r.Id)
}

// CallSigningOff ends a request.
func (h *Handlers) CallSigningOff(ctx context.Context, r CallSigningOffRequestObject) (CallSigningOffResponseObject, error) {
	return CallSigningOff204Response{}, h.Signing.CallOff(ctx, r.Id, r.Body.Reason)
}

// ProlongSigning sets another end.
func (h *Handlers) ProlongSigning(ctx context.Context, r ProlongSigningRequestObject) (ProlongSigningResponseObject, error) {
	return ProlongSigning204Response{}, h.Signing.Prolong(ctx, r.Id, r.Body.Until)
}

// ChangeSigningParty lets somebody else do a party's part.
func (h *Handlers) ChangeSigningParty(ctx context.Context, r ChangeSigningPartyRequestObject) (ChangeSigningPartyResponseObject, error) {
	to, err := present.Through[core.Party](r.Body)
	if err != nil {
		return nil, err
	}
	return ChangeSigningParty204Response{}, h.Signing.ChangeParty(ctx, r.Id, r.Party, to)
}

// CorrectSigningPlaces exchanges the places.
func (h *Handlers) CorrectSigningPlaces(ctx context.Context, r CorrectSigningPlacesRequestObject) (CorrectSigningPlacesResponseObject, error) {
	places, err := present.Through[[]core.Place](*r.Body)
	if err != nil {
		return nil, err
	}
	return CorrectSigningPlaces204Response{}, h.Signing.Correct(ctx, r.Id, places)
}

func signedIn(id [16]byte, party *int) signing.Who {
	return signing.Who{Signing: id, Party: present.Or(party, -1)}
}

func visitor(ctx context.Context, token string) signing.Who {
	var v visits.Visitor = door.VisitorOf(ctx.(*gin.Context), token)
	return signing.Who{Visitor: &v, Party: -1}
}

func (h *Handlers) sheet(ctx context.Context, w signing.Who) (out contract.SigningSheet, err error) {
	s, err := h.Signing.Sheet(ctx, w)
	if err != nil {
		return out, err
	}
	// That it was opened is noted beside: whoever looks is not kept waiting for a row.
	if err := h.Signing.Opened(ctx, w); err != nil && fault.Of(err).Kind == fault.Internal {
		return out, err
	}
	me := s.Request.Plan.Parties[s.Party]
	out = contract.SigningSheet{Id: s.ID, ItemId: s.Item.ID, Ref: s.Ref, Name: s.Item.Name, Version: s.Version, Pages: present.Each(s.Sizes, size), Status: contract.SigningStatus(s.Request.Status), Reason: present.Some(s.Request.Reason), Party: s.Party, MayHand: present.Some(me.MayHand),
		Known: contract.SigningKnown(s.Known), Parties: present.SigningParties(s.Request), Filled: []contract.FilledPlace{}, Message: s.Message, Sender: s.Sender.Name, Until: s.Request.Until, Language: s.Language, Practice: s.Practice, Tagline: s.Tagline, Consent: present.Some(s.Consent)}
	// The others' addresses and whereabouts are none of a party's business.
	for i := range out.Parties {
		out.Parties[i].Email, out.Parties[i].Network, out.Parties[i].Pages, out.Parties[i].Person = nil, nil, nil, nil
	}
	if out.Places, err = present.Through[[]contract.SigningPlace](present.List(s.Request.Plan.Of(s.Party))); err != nil {
		return out, err
	}
	if out.Kept, err = kept(s.Kept); err != nil {
		return out, err
	}
	for _, at := range s.Request.Plan.Ordered() {
		words, written := s.Words[at.ID]
		hand, drawn := s.Hands[at.ID]
		if !written && !drawn {
			continue
		}
		one := contract.FilledPlace{Text: present.Some(words)}
		if one.Place, err = present.Through[contract.SigningPlace](at); err != nil {
			return out, err
		}
		if drawn {
			shown, err := present.Through[contract.SigningHand](hand)
			if err != nil {
				return out, err
			}
			one.Hand = &shown
		}
		out.Filled = append(out.Filled, one)
	}
	return out, nil
}

func kept(k signing.Kept) (out contract.SigningKept, err error) {
	out.Pages = present.List(k.Pages)
	out.Values, err = present.Through[[]contract.SigningValue](present.List(k.Values))
	return out, err
}

func filled(values []contract.SigningValue, pages []int) (k signing.Kept, err error) {
	k.Pages = pages
	k.Values, err = present.Through[[]core.Value](values)
	return k, err
}

// GetSigningSheet shows what a party is asked for.
func (h *Handlers) GetSigningSheet(ctx context.Context, r GetSigningSheetRequestObject) (GetSigningSheetResponseObject, error) {
	s, err := h.sheet(ctx, signedIn(r.Id, r.Params.Party))
	return GetSigningSheet200JSONResponse(s), err
}

// KeepSigningSheet keeps what is filled in so far.
func (h *Handlers) KeepSigningSheet(ctx context.Context, r KeepSigningSheetRequestObject) (KeepSigningSheetResponseObject, error) {
	k, err := filled(r.Body.Values, r.Body.Pages)
	if err != nil {
		return nil, err
	}
	return KeepSigningSheet204Response{}, h.Signing.Keep(ctx, signedIn(r.Id, r.Params.Party), k)
}

// SignSheet does a party's part.
func (h *Handlers) SignSheet(ctx context.Context, r SignSheetRequestObject) (SignSheetResponseObject, error) {
	k, err := filled(r.Body.Values, r.Body.Pages)
	if err != nil {
		return nil, err
	}
	return SignSheet204Response{}, h.Signing.Sign(ctx, signedIn(r.Id, r.Params.Party), k, r.Body.Agrees)
}

// DeclineSheet declines.
func (h *Handlers) DeclineSheet(ctx context.Context, r DeclineSheetRequestObject) (DeclineSheetResponseObject, error) {
	return DeclineSheet204Response{}, h.Signing.Decline(ctx, signedIn(r.Id, r.Params.Party), r.Body.Reason)
}

// GetSheetByLink shows a party outside what they are asked for.
func (h *Handlers) GetSheetByLink(ctx context.Context, r GetSheetByLinkRequestObject) (GetSheetByLinkResponseObject, error) {
	s, err := h.sheet(ctx, visitor(ctx, r.Token))
	return GetSheetByLink200JSONResponse(s), err
}

// KeepSheetByLink keeps what is filled in so far.
func (h *Handlers) KeepSheetByLink(ctx context.Context, r KeepSheetByLinkRequestObject) (KeepSheetByLinkResponseObject, error) {
	k, err := filled(r.Body.Values, r.Body.Pages)
	if err != nil {
		return nil, err
	}
	return KeepSheetByLink204Response{}, h.Signing.Keep(ctx, visitor(ctx, r.Token), k)
}

// SignByLink does the part of a party outside.
func (h *Handlers) SignByLink(ctx context.Context, r SignByLinkRequestObject) (SignByLinkResponseObject, error) {
	k, err := filled(r.Body.Values, r.Body.Pages)
	if err != nil {
		return nil, err
	}
	return SignByLink204Response{}, h.Signing.Sign(ctx, visitor(ctx, r.Token), k, r.Body.Agrees)
}

// DeclineByLink declines.
func (h *Handlers) DeclineByLink(ctx context.Context, r DeclineByLinkRequestObject) (DeclineByLinkResponseObject, error) {
	return DeclineByLink204Response{}, h.Signing.Decline(ctx, visitor(ctx, r.Token), r.Body.Reason)
}

// HandByLink lets somebody else sign instead.
func (h *Handlers) HandByLink(ctx context.Context, r HandByLinkRequestObject) (HandByLinkResponseObject, error) {
	return HandByLink204Response{}, h.Signing.Hand(ctx, visitor(ctx, r.Token), core.Party{Name: r.Body.Name, Email: r.Body.Email})
}

// GetSheetWords gives the words of the paper.
func (h *Handlers) GetSheetWords(ctx context.Context, r GetSheetWordsRequestObject) (GetSheetWordsResponseObject, error) {
	words, err := h.Signing.Words(ctx, signedIn(r.Id, r.Params.Party))
	return GetSheetWords200JSONResponse(words), err
}

// GetSheetWordsByLink gives the words of the paper to a party outside.
func (h *Handlers) GetSheetWordsByLink(ctx context.Context, r GetSheetWordsByLinkRequestObject) (GetSheetWordsByLinkResponseObject, error) {
	words, err := h.Signing.Words(ctx, visitor(ctx, r.Token))
	return GetSheetWordsByLink200JSONResponse(words), err
}

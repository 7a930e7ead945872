package sessions

import (
	"context"
	"encoding/base64"
	"encoding/json"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/sessions"
	"tabularis/internal/app/today"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// token is the secret of the session that asks.
func token(ctx context.Context) string {
	t, err := ctx.(*gin.Context).Cookie(door.SessionCookie)
	if err != nil {
		return ""
	}
	return t
}

// device is the sign of a device that was signed in before.
func device(ctx context.Context) string {
	sign, err := ctx.(*gin.Context).Cookie(door.DeviceCookie)
	if err != nil {
		return ""
	}
	return sign
}

// signedIn sets the session's cookie, and shows the session unless a second
// factor has to follow.
func (h *Handlers) signedIn(ctx context.Context, in sessions.SignedIn, goesTo string) (contract.SignedIn, error) {
	h.SetCookie(ctx, door.SessionCookie, in.Token, sessions.Length)
	out := contract.SignedIn{Factors: present.Each(in.Factors, func(f string) contract.SignedInFactors { return contract.SignedInFactors(f) }), GoesTo: present.Some(goesTo)}
	if len(in.Factors) > 0 {
		return out, nil
	}
	h.SetCookie(ctx, door.DeviceCookie, h.Sessions.Device(in.Person.ID), sessions.DeviceLength)
	who := act.Who(ctx)
	who.Person = &in.Person
	session, err := h.session(act.As(ctx, who))
	out.Session = &session
	return out, err
}

// SignIn signs in by password.
func (h *Handlers) SignIn(ctx context.Context, r SignInRequestObject) (SignInResponseObject, error) {
	in, err := h.Sessions.SignIn(ctx, r.Body.Email, r.Body.Password, device(ctx))
	if err != nil {
		return nil, err
	}
	out, err := h.signedIn(ctx, in, "")
	return SignIn200JSONResponse(out), err
}

// CompleteSignIn takes the second factor.
func (h *Handlers) CompleteSignIn(ctx context.Context, r CompleteSignInRequestObject) (CompleteSignInResponseObject, error) {
	var in sessions.SignedIn
	var err error
	if r.Body.Factor == contract.SecondFactorFactorPasskey {
		var answer json.RawMessage
		if answer, err = json.Marshal(r.Body.Answer); err == nil {
			in, err = h.Sessions.ByPasskey(ctx, token(ctx), answer)
		}
	} else {
		in, err = h.Sessions.Second(ctx, token(ctx), string(r.Body.Factor), present.Or(r.Body.Code, ""))
	}
	if err != nil {
		return nil, err
	}
	out, err := h.signedIn(ctx, in, "")
	return CompleteSignIn200JSONResponse(out), err
}

// webAuthn passes on what the browser needs as it is.
func webAuthn(options any, err error) (contract.WebAuthn, error) {
	if err != nil {
		return nil, err
	}
	raw, err := json.Marshal(options)
	if err != nil {
		return nil, err
	}
	var out contract.WebAuthn
	return out, json.Unmarshal(raw, &out)
}

// AskPasskey asks for a passkey to complete a sign-in.
func (h *Handlers) AskPasskey(ctx context.Context, _ AskPasskeyRequestObject) (AskPasskeyResponseObject, error) {
	out, err := webAuthn(h.Sessions.AskPasskey(ctx, token(ctx)))
	return AskPasskey200JSONResponse(out), err
}

// SendCode sends a guest a one-time code.
func (h *Handlers) SendCode(ctx context.Context, r SendCodeRequestObject) (SendCodeResponseObject, error) {
	return SendCode202Response{}, h.Sessions.SendCode(ctx, r.Body.Email)
}

// SignInByCode signs a guest in.
func (h *Handlers) SignInByCode(ctx context.Context, r SignInByCodeRequestObject) (SignInByCodeResponseObject, error) {
	in, err := h.Sessions.ByCode(ctx, r.Body.Email, r.Body.Code)
	if err != nil {
		return nil, err
	}
	out, err := h.signedIn(ctx, in, "")
	return SignInByCode200JSONResponse(out), err
}

// ForgotPassword sends a link for a new password.
func (h *Handlers) ForgotPassword(ctx context.Context, r ForgotPasswordRequestObject) (ForgotPasswordResponseObject, error) {
	return ForgotPassword202Response{}, h.Sessions.Forgot(ctx, r.Body.Email)
}

// GetEntry shows what a one-time link is for.
func (h *Handlers) GetEntry(ctx context.Context, r GetEntryRequestObject) (GetEntryResponseObject, error) {
	e, err := h.Sessions.Arrive(ctx, r.Token)
	if err != nil {
		return nil, err
	}
	return GetEntry200JSONResponse{
		Kind:          contract.EntryKind(e.Kind),
		Name:          e.Person.Name,
		Email:         e.Person.Email,
		NeedsPassword: e.NeedsPassword,
		Practice:      e.Practice,
		MinPassword:   sessions.MinPassword,
		By:            present.Some(e.By.Name),
	}, nil
}

// UseEntry uses a one-time link up.
func (h *Handlers) UseEntry(ctx context.Context, r UseEntryRequestObject) (UseEntryResponseObject, error) {
	in, goesTo, err := h.Sessions.Enter(ctx, r.Token, present.Or(r.Body.Name, ""), present.Or(r.Body.Password, ""))
	if err != nil {
		return nil, err
	}
	out, err := h.signedIn(ctx, in, goesTo)
	return UseEntry200JSONResponse(out), err
}

// GetSession shows who is signed in. That nobody is, is an answer too: whoever comes to
// sign in asks just that.
func (h *Handlers) GetSession(ctx context.Context, _ GetSessionRequestObject) (GetSessionResponseObject, error) {
	if act.Who(ctx).Person == nil {
		return GetSession204Response{}, nil
	}
	session, err := h.session(ctx)
	return GetSession200JSONResponse(session), err
}

func (h *Handlers) session(ctx context.Context) (contract.Session, error) {
	st, err := h.Today.Standing(ctx)
	shown := present.Practice(st.Practice)
	shown.RemovalAt = st.Practice.RemovalAt
	return contract.Session{Person: present.Person(st.Person), Standing: contract.Standing(st.Person.Standing), Practice: shown, MaxUploadBytes: h.MaxUpload, Mailbox: present.Some(h.Mailbox),
		Preferences:     contract.Preferences{Language: contract.PreferencesLanguage(st.Person.Language), Look: contract.PreferencesLook(st.Person.Look)},
		MayMakeDossiers: st.MayMakeDossiers, NeedsFactor: st.NeedsFactor, OutwardCount: st.OpenLinks, NewGiven: st.NewGiven, Received: st.Received, Decisions: st.Decisions, Notices: st.Notices}, err
}

// SetPreferences keeps a language and a look.
func (h *Handlers) SetPreferences(ctx context.Context, r SetPreferencesRequestObject) (SetPreferencesResponseObject, error) {
	return SetPreferences204Response{}, h.Sessions.Prefer(ctx, accounts.Preferences{Language: string(r.Body.Language), Look: string(r.Body.Look)})
}

// RenewRecoveryCodes makes new recovery codes.
func (h *Handlers) RenewRecoveryCodes(ctx context.Context, r RenewRecoveryCodesRequestObject) (RenewRecoveryCodesResponseObject, error) {
	codes, err := h.Sessions.RenewRecoveryCodes(ctx, token(ctx), r.Body.Password)
	return RenewRecoveryCodes200JSONResponse{Codes: codes}, err
}

// SignOut ends the session.
func (h *Handlers) SignOut(ctx context.Context, _ SignOutRequestObject) (SignOutResponseObject, error) {
	if t := token(ctx); t != "" {
		if err := h.Sessions.SignOut(ctx, t); err != nil {
			return nil, err
		}
	}
	h.SetCookie(ctx, door.SessionCookie, "", -1)
	return SignOut204Response{}, nil
}

// ListSessions shows where one is signed in.
func (h *Handlers) ListSessions(ctx context.Context, _ ListSessionsRequestObject) (ListSessionsResponseObject, error) {
	all, err := h.Sessions.Places(ctx, token(ctx))
	return ListSessions200JSONResponse(present.Each(all, func(p sessions.Place) contract.SignedInPlace {
		return contract.SignedInPlace{Id: p.ID, Here: p.Here, Since: p.CreatedAt, Seen: p.SeenAt, Network: p.Network, Agent: p.Agent}
	})), err
}

// EndSession signs out in one place.
func (h *Handlers) EndSession(ctx context.Context, r EndSessionRequestObject) (EndSessionResponseObject, error) {
	return EndSession204Response{}, h.Sessions.EndPlace(ctx, r.Id)
}

// EndOtherSessions signs out everywhere else.
func (h *Handlers) EndOtherSessions(ctx context.Context, _ EndOtherSessionsRequestObject) (EndOtherSessionsResponseObject, error) {
	return EndOtherSessions204Response{}, h.Sessions.EndOthers(ctx, token(ctx))
}

// ChangePassword sets another password.
func (h *Handlers) ChangePassword(ctx context.Context, r ChangePasswordRequestObject) (ChangePasswordResponseObject, error) {
	return ChangePassword204Response{}, h.Sessions.ChangePassword(ctx, token(ctx), present.Or(r.Body.Old, ""), r.Body.Password)
}

// GetFactors shows what one signs in with.
func (h *Handlers) GetFactors(ctx context.Context, _ GetFactorsRequestObject) (GetFactorsResponseObject, error) {
	f, err := h.Sessions.Mine(ctx)
	return GetFactors200JSONResponse{
		Password:         f.Password,
		Authenticator:    f.Authenticator,
		RecoveryLeft:     f.RecoveryLeft,
		PasskeysPossible: f.PasskeysPossible,
		Passkeys: present.Each(f.Passkeys, func(p sessions.Passkey) contract.Passkey {
			return contract.Passkey{Key: base64.RawURLEncoding.EncodeToString(p.ID), Name: p.Name, At: p.CreatedAt, Used: p.UsedAt}
		}),
	}, err
}

// OfferAuthenticator makes a key for an authenticator.
func (h *Handlers) OfferAuthenticator(ctx context.Context, _ OfferAuthenticatorRequestObject) (OfferAuthenticatorResponseObject, error) {
	o, err := h.Sessions.OfferAuthenticator(ctx)
	return OfferAuthenticator200JSONResponse{
		Offer:   base64.RawURLEncoding.EncodeToString(o.Sealed),
		Secret:  o.Secret,
		Address: o.Address,
		Picture: "data:image/png;base64," + base64.StdEncoding.EncodeToString(o.Picture),
	}, err
}

// ConfirmAuthenticator sets an authenticator up.
func (h *Handlers) ConfirmAuthenticator(ctx context.Context, r ConfirmAuthenticatorRequestObject) (ConfirmAuthenticatorResponseObject, error) {
	sealed, err := base64.RawURLEncoding.DecodeString(r.Body.Offer)
	if err != nil {
		return nil, fault.OfferUnknown.In("offer", "the key was not offered to you; begin anew")
	}
	codes, err := h.Sessions.ConfirmAuthenticator(ctx, token(ctx), sealed, r.Body.Code)
	return ConfirmAuthenticator200JSONResponse{Codes: codes}, err
}

// RemoveAuthenticator removes the authenticator.
func (h *Handlers) RemoveAuthenticator(ctx context.Context, r RemoveAuthenticatorRequestObject) (RemoveAuthenticatorResponseObject, error) {
	return RemoveAuthenticator204Response{}, h.Sessions.RemoveAuthenticator(ctx, token(ctx), r.Body.Password)
}

// OfferPasskey begins a passkey.
func (h *Handlers) OfferPasskey(ctx context.Context, _ OfferPasskeyRequestObject) (OfferPasskeyResponseObject, error) {
	out, err := webAuthn(h.Sessions.OfferPasskey(ctx, token(ctx)))
	return OfferPasskey200JSONResponse(out), err
}

// AddPasskey adds a passkey.
func (h *Handlers) AddPasskey(ctx context.Context, r AddPasskeyRequestObject) (AddPasskeyResponseObject, error) {
	answer, err := json.Marshal(r.Body.Answer)
	if err != nil {
		return nil, err
	}
	codes, err := h.Sessions.AddPasskey(ctx, token(ctx), r.Body.Name, answer)
	return AddPasskey200JSONResponse{Codes: codes}, err
}

// RemovePasskey removes a passkey.
func (h *Handlers) RemovePasskey(ctx context.Context, r RemovePasskeyRequestObject) (RemovePasskeyResponseObject, error) {
	id, err := base64.RawURLEncoding.DecodeString(r.Key)
	if err != nil {
		return nil, fault.Missing()
	}
	return RemovePasskey204Response{}, h.Sessions.RemovePasskey(ctx, token(ctx), id)
}

// Handlers serve the operations of sessions.
type Handlers struct {
	*door.Door
	Today *today.Service
	// MaxUpload is the largest document, Mailbox the address of the mail stand-in,
	// where one runs.
	MaxUpload int64
	Mailbox   string
}

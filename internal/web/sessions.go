package web

import (
	"context"
	"encoding/base64"
	"encoding/json"

	"tabularis/internal/app/accounts"
	practices "tabularis/internal/app/practice"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	"tabularis/internal/app/act"
	"tabularis/internal/app/sessions"
	c "tabularis/internal/web/contract"
)

// token is the secret of the session that asks.
func token(ctx context.Context) string {
	t, err := ctx.(*gin.Context).Cookie(sessionCookie)
	if err != nil {
		return ""
	}
	return t
}

// device is the sign of a device that was signed in before.
func device(ctx context.Context) string {
	sign, err := ctx.(*gin.Context).Cookie(deviceCookie)
	if err != nil {
		return ""
	}
	return sign
}

// signedIn sets the session's cookie, and shows the session unless a second
// factor has to follow.
func (s *Server) signedIn(ctx context.Context, in sessions.SignedIn, goesTo string) (c.SignedIn, error) {
	s.setCookie(ctx, sessionCookie, in.Token, sessions.Length)
	out := c.SignedIn{Factors: each(in.Factors, func(f string) c.SignedInFactors { return c.SignedInFactors(f) }), GoesTo: some(goesTo)}
	if len(in.Factors) > 0 {
		return out, nil
	}
	s.setCookie(ctx, deviceCookie, s.Sessions.Device(in.Person.ID), sessions.DeviceLength)
	who := act.Who(ctx)
	who.Person = &in.Person
	session, err := s.session(act.As(ctx, who))
	out.Session = &session
	return out, err
}

// SignIn signs in by password.
func (s *Server) SignIn(ctx context.Context, r c.SignInRequestObject) (c.SignInResponseObject, error) {
	in, err := s.Sessions.SignIn(ctx, r.Body.Email, r.Body.Password, device(ctx))
	if err != nil {
		return nil, err
	}
	out, err := s.signedIn(ctx, in, "")
	return c.SignIn200JSONResponse(out), err
}

// CompleteSignIn takes the second factor.
func (s *Server) CompleteSignIn(ctx context.Context, r c.CompleteSignInRequestObject) (c.CompleteSignInResponseObject, error) {
	var in sessions.SignedIn
	var err error
	if r.Body.Factor == c.SecondFactorFactorPasskey {
		var answer json.RawMessage
		if answer, err = json.Marshal(r.Body.Answer); err == nil {
			in, err = s.Sessions.ByPasskey(ctx, token(ctx), answer)
		}
	} else {
		in, err = s.Sessions.Second(ctx, token(ctx), string(r.Body.Factor), or(r.Body.Code, ""))
	}
	if err != nil {
		return nil, err
	}
	out, err := s.signedIn(ctx, in, "")
	return c.CompleteSignIn200JSONResponse(out), err
}

// webAuthn passes on what the browser needs as it is.
func webAuthn(options any, err error) (c.WebAuthn, error) {
	if err != nil {
		return nil, err
	}
	raw, err := json.Marshal(options)
	if err != nil {
		return nil, err
	}
	var out c.WebAuthn
	return out, json.Unmarshal(raw, &out)
}

// AskPasskey asks for a passkey to complete a sign-in.
func (s *Server) AskPasskey(ctx context.Context, _ c.AskPasskeyRequestObject) (c.AskPasskeyResponseObject, error) {
	out, err := webAuthn(s.Sessions.AskPasskey(ctx, token(ctx)))
	return c.AskPasskey200JSONResponse(out), err
}

// SendCode sends a guest a one-time code.
func (s *Server) SendCode(ctx context.Context, r c.SendCodeRequestObject) (c.SendCodeResponseObject, error) {
	return c.SendCode202Response{}, s.Sessions.SendCode(ctx, r.Body.Email)
}

// SignInByCode signs a guest in.
func (s *Server) SignInByCode(ctx context.Context, r c.SignInByCodeRequestObject) (c.SignInByCodeResponseObject, error) {
	in, err := s.Sessions.ByCode(ctx, r.Body.Email, r.Body.Code)
	if err != nil {
		return nil, err
	}
	out, err := s.signedIn(ctx, in, "")
	return c.SignInByCode200JSONResponse(out), err
}

// ForgotPassword sends a link for a new password.
func (s *Server) ForgotPassword(ctx context.Context, r c.ForgotPasswordRequestObject) (c.ForgotPasswordResponseObject, error) {
	return c.ForgotPassword202Response{}, s.Sessions.Forgot(ctx, r.Body.Email)
}

// GetEntry shows what a one-time link is for.
func (s *Server) GetEntry(ctx context.Context, r c.GetEntryRequestObject) (c.GetEntryResponseObject, error) {
	e, err := s.Sessions.Arrive(ctx, r.Token)
	if err != nil {
		return nil, err
	}
	practice, err := practices.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	out := c.GetEntry200JSONResponse{
		Kind:          c.EntryKind(e.Kind),
		Name:          e.Person.Name,
		Email:         e.Person.Email,
		NeedsPassword: e.NeedsPassword,
		Practice:      practice.Name,
		MinPassword:   sessions.MinPassword,
	}
	if e.CreatedBy != nil {
		by, err := accounts.PersonByID(ctx, s.Acts.DB, *e.CreatedBy)
		if err != nil {
			return nil, err
		}
		out.By = &by.Name
	}
	return out, nil
}

// UseEntry uses a one-time link up.
func (s *Server) UseEntry(ctx context.Context, r c.UseEntryRequestObject) (c.UseEntryResponseObject, error) {
	in, goesTo, err := s.Sessions.Enter(ctx, r.Token, or(r.Body.Name, ""), or(r.Body.Password, ""))
	if err != nil {
		return nil, err
	}
	out, err := s.signedIn(ctx, in, goesTo)
	return c.UseEntry200JSONResponse(out), err
}

// GetSession shows who is signed in.
func (s *Server) GetSession(ctx context.Context, _ c.GetSessionRequestObject) (c.GetSessionResponseObject, error) {
	session, err := s.session(ctx)
	return c.GetSession200JSONResponse(session), err
}

func (s *Server) session(ctx context.Context) (c.Session, error) {
	me := act.Who(ctx).Person
	p, err := practices.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return c.Session{}, err
	}
	shown := practice(p)
	if me.Inside() {
		shown.RemovalAt = p.RemovalAt
	}
	out := c.Session{Person: person(*me), Standing: c.Standing(me.Standing), Practice: shown, MaxUploadBytes: s.Uploads.MaxBytes, Mailbox: some(s.Mailbox),
		MayMakeDossiers: me.Inside() && (me.Administers() || p.ColleaguesMakeDossiers)}
	if out.NeedsFactor, err = sessions.NeedsFactor(ctx, s.Acts.DB, me.ID); err != nil || out.NeedsFactor {
		return out, err
	}
	if out.OutwardCount, err = s.Links.CountOpen(ctx); err != nil {
		return out, err
	}
	if out.NewGiven, err = s.Sharing.CountNew(ctx); err != nil {
		return out, err
	}
	out.Notices, err = s.Notices.CountUnseen(ctx)
	return out, err
}

// SignOut ends the session.
func (s *Server) SignOut(ctx context.Context, _ c.SignOutRequestObject) (c.SignOutResponseObject, error) {
	if t := token(ctx); t != "" {
		if err := s.Sessions.SignOut(ctx, t); err != nil {
			return nil, err
		}
	}
	s.setCookie(ctx, sessionCookie, "", -1)
	return c.SignOut204Response{}, nil
}

// ListSessions shows where one is signed in.
func (s *Server) ListSessions(ctx context.Context, _ c.ListSessionsRequestObject) (c.ListSessionsResponseObject, error) {
	all, err := s.Sessions.Places(ctx, token(ctx))
	return c.ListSessions200JSONResponse(each(all, func(p sessions.Place) c.SignedInPlace {
		return c.SignedInPlace{Id: p.ID, Here: p.Here, Since: p.CreatedAt, Seen: p.SeenAt, Network: p.Network, Agent: p.Agent}
	})), err
}

// EndSession signs out in one place.
func (s *Server) EndSession(ctx context.Context, r c.EndSessionRequestObject) (c.EndSessionResponseObject, error) {
	return c.EndSession204Response{}, s.Sessions.EndPlace(ctx, r.Id)
}

// EndOtherSessions signs out everywhere else.
func (s *Server) EndOtherSessions(ctx context.Context, _ c.EndOtherSessionsRequestObject) (c.EndOtherSessionsResponseObject, error) {
	return c.EndOtherSessions204Response{}, s.Sessions.EndOthers(ctx, token(ctx))
}

// ChangePassword sets another password.
func (s *Server) ChangePassword(ctx context.Context, r c.ChangePasswordRequestObject) (c.ChangePasswordResponseObject, error) {
	return c.ChangePassword204Response{}, s.Sessions.ChangePassword(ctx, token(ctx), or(r.Body.Old, ""), r.Body.Password)
}

// GetFactors shows what one signs in with.
func (s *Server) GetFactors(ctx context.Context, _ c.GetFactorsRequestObject) (c.GetFactorsResponseObject, error) {
	f, err := s.Sessions.Mine(ctx)
	return c.GetFactors200JSONResponse{
		Password:         f.Password,
		Authenticator:    f.Authenticator,
		RecoveryLeft:     f.RecoveryLeft,
		PasskeysPossible: f.PasskeysPossible,
		Passkeys: each(f.Passkeys, func(p sessions.Passkey) c.Passkey {
			return c.Passkey{Key: base64.RawURLEncoding.EncodeToString(p.ID), Name: p.Name, At: p.CreatedAt, Used: p.UsedAt}
		}),
	}, err
}

// OfferAuthenticator makes a key for an authenticator.
func (s *Server) OfferAuthenticator(ctx context.Context, _ c.OfferAuthenticatorRequestObject) (c.OfferAuthenticatorResponseObject, error) {
	o, err := s.Sessions.OfferAuthenticator(ctx)
	return c.OfferAuthenticator200JSONResponse{
		Offer:   base64.RawURLEncoding.EncodeToString(o.Sealed),
		Secret:  o.Secret,
		Address: o.Address,
		Picture: "data:image/png;base64," + base64.StdEncoding.EncodeToString(o.Picture),
	}, err
}

// ConfirmAuthenticator sets an authenticator up.
func (s *Server) ConfirmAuthenticator(ctx context.Context, r c.ConfirmAuthenticatorRequestObject) (c.ConfirmAuthenticatorResponseObject, error) {
	sealed, err := base64.RawURLEncoding.DecodeString(r.Body.Offer)
	if err != nil {
		return nil, fault.Field("offer", "offer-unknown", "the key was not offered to you; begin anew")
	}
	codes, err := s.Sessions.ConfirmAuthenticator(ctx, token(ctx), sealed, r.Body.Code)
	return c.ConfirmAuthenticator200JSONResponse{Codes: codes}, err
}

// RemoveAuthenticator removes the authenticator.
func (s *Server) RemoveAuthenticator(ctx context.Context, r c.RemoveAuthenticatorRequestObject) (c.RemoveAuthenticatorResponseObject, error) {
	return c.RemoveAuthenticator204Response{}, s.Sessions.RemoveAuthenticator(ctx, token(ctx), r.Body.Password)
}

// OfferPasskey begins a passkey.
func (s *Server) OfferPasskey(ctx context.Context, _ c.OfferPasskeyRequestObject) (c.OfferPasskeyResponseObject, error) {
	out, err := webAuthn(s.Sessions.OfferPasskey(ctx, token(ctx)))
	return c.OfferPasskey200JSONResponse(out), err
}

// AddPasskey adds a passkey.
func (s *Server) AddPasskey(ctx context.Context, r c.AddPasskeyRequestObject) (c.AddPasskeyResponseObject, error) {
	answer, err := json.Marshal(r.Body.Answer)
	if err != nil {
		return nil, err
	}
	codes, err := s.Sessions.AddPasskey(ctx, token(ctx), r.Body.Name, answer)
	return c.AddPasskey200JSONResponse{Codes: codes}, err
}

// RemovePasskey removes a passkey.
func (s *Server) RemovePasskey(ctx context.Context, r c.RemovePasskeyRequestObject) (c.RemovePasskeyResponseObject, error) {
	id, err := base64.RawURLEncoding.DecodeString(r.Key)
	if err != nil {
		return nil, fault.Missing()
	}
	return c.RemovePasskey204Response{}, s.Sessions.RemovePasskey(ctx, token(ctx), id)
}

package sessions

import (
	"bytes"
	"context"
	"encoding/base32"
	"fmt"
	"image/png"
	"slices"
	"strings"
	"time"

	"tabularis/internal/app/accounts"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/limits"

	"github.com/pquerna/otp"
	"github.com/pquerna/otp/hotp"
	"github.com/pquerna/otp/totp"

	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/secret"
)

const (
	totpPurpose = "authenticator"
	// period is the length of a time step (RFC 6238, section 5.2), and skew how
	// many steps a clock may be off.
	period        = 30
	skew          = 1
	recoveryCodes = 10
)

// factors lists the second factors that a person has set up.
func (s *Service) factors(ctx context.Context, p accounts.Person) ([]string, error) {
	var out []string
	keys, err := PasskeysOf(ctx, s.Acts.DB, p.ID)
	if err != nil {
		return nil, err
	}
	if len(keys) > 0 {
		out = append(out, "passkey")
	}
	if len(p.TOTPSealed) > 0 {
		out = append(out, "authenticator")
	}
	if len(out) > 0 {
		out = append(out, "recovery")
	}
	return out, nil
}

// Second completes a sign-in by an authenticator's code or a recovery code.
func (s *Service) Second(ctx context.Context, token, factor, code string) (SignedIn, error) {
	now := s.Acts.Now()
	half, p, err := s.half(ctx, token)
	if err != nil {
		return SignedIn{}, err
	}
	tries := "second " + p.ID.String()
	if err := Try(ctx, s.Acts.DB, tries, now); err != nil {
		return SignedIn{}, err
	}
	right := false
	in := SignedIn{Person: p}
	err = s.Acts.Do(ctx, func(tx *act.Tx) error {
		switch factor {
		case "authenticator":
			right, err = s.takeCode(ctx, tx, p, code)
		case "recovery":
			right, err = UseRecoveryCode(ctx, tx, p.ID, recoveryHash(code), tx.Now)
		default:
			err = errFactorUnknown.In("factor", "there is no factor %q", factor)
		}
		if err != nil || !right {
			return err
		}
		return s.complete(ctx, tx, half, &in)
	})
	if err == nil && !right {
		err = fault.WrongCode.As(fault.Unauthenticated).New("the code is wrong or was used")
	}
	if err != nil {
		return SignedIn{}, err
	}
	return in, limits.ForgetTries(ctx, s.Acts.DB, tries)
}

func (s *Service) half(ctx context.Context, token string) (Session, accounts.Person, error) {
	h, err := HalfSession(ctx, s.Acts.DB, secret.Hash(token), s.Acts.Now())
	if fault.Is(err, fault.NotFound) {
		err = fault.SignedOut()
	}
	if err != nil {
		return h, accounts.Person{}, err
	}
	p, err := accounts.PersonByID(ctx, s.Acts.DB, h.PersonID)
	return h, p, err
}

// complete turns half a session into a whole one, under a new token.
func (s *Service) complete(ctx context.Context, tx *act.Tx, half Session, in *SignedIn) (err error) {
	if err := EndSessionOf(ctx, tx, half.PersonID, half.ID); err != nil {
		return err
	}
	in.Token, err = Begin(ctx, tx, in.Person, false)
	return err
}

// takeCode checks an authenticator's code (RFC 6238) against the present time
// step and its neighbours. A step counts once.
func (s *Service) takeCode(ctx context.Context, tx *act.Tx, p accounts.Person, code string) (bool, error) {
	key, err := s.totpKey(p.TOTPSealed)
	if err != nil {
		return false, err
	}
	step, ok := matchStep(key, code, tx.Now)
	if !ok {
		return false, nil
	}
	return TakeTOTPStep(ctx, tx, p.ID, step)
}

func (s *Service) totpKey(sealed []byte) (string, error) {
	if len(sealed) == 0 {
		return "", errNoAuthenticator.New("no authenticator is set up")
	}
	raw, err := s.Keys.Open(sealed, totpPurpose)
	return base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(raw), err
}

func matchStep(key, code string, now time.Time) (int64, bool) {
	code = strings.ReplaceAll(strings.TrimSpace(code), " ", "")
	at := now.Unix() / period
	for _, step := range []int64{at, at - skew, at + skew} {
		ok, err := hotp.ValidateCustom(code, uint64(step), key, hotp.ValidateOpts{Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1})
		if err == nil && ok {
			return step, true
		}
	}
	return 0, false
}

// NewAuthenticator is a key to be set up in an authenticator app. It counts from
// the moment a code of it was confirmed.
type NewAuthenticator struct {
	Sealed  []byte
	Secret  string
	Address string
	Picture []byte
}

// OfferAuthenticator makes a key for the acting person. Nothing is stored: the
// sealed key comes back with the first code.
func (s *Service) OfferAuthenticator(ctx context.Context) (NewAuthenticator, error) {
	practice, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return NewAuthenticator{}, err
	}
	raw := secret.Random(20)
	key, err := totp.Generate(totp.GenerateOpts{Issuer: practice.Name, AccountName: act.Who(ctx).Person.Email, Secret: raw, Period: period})
	if err != nil {
		return NewAuthenticator{}, fmt.Errorf("making a key: %w", err)
	}
	img, err := key.Image(220, 220)
	if err != nil {
		return NewAuthenticator{}, fmt.Errorf("drawing a key: %w", err)
	}
	var b bytes.Buffer
	if err := png.Encode(&b, img); err != nil {
		return NewAuthenticator{}, err
	}
	me := act.Who(ctx).Person.ID
	return NewAuthenticator{s.Keys.Seal(append(me[:], raw...), totpPurpose+" offered"), key.Secret(), key.URL(), b.Bytes()}, nil
}

// ConfirmAuthenticator sets up the offered key once a code of it is right, ends
// the other sessions, and returns recovery codes, which are shown once.
func (s *Service) ConfirmAuthenticator(ctx context.Context, token string, sealed []byte, code string) ([]string, error) {
	me := act.Who(ctx).Person
	raw, err := s.Keys.Open(sealed, totpPurpose+" offered")
	if err != nil || len(raw) != 36 || !bytes.Equal(raw[:16], me.ID[:]) {
		return nil, fault.OfferUnknown.In("offer", "the key was not offered to you; begin anew")
	}
	step, ok := matchStep(base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(raw[16:]), code, s.Acts.Now())
	if !ok {
		return nil, fault.WrongCode.As(fault.Invalid).In("code", "the code is wrong; does the clock of your device go right?")
	}
	var codes []string
	return codes, s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := SetTOTP(ctx, tx, me.ID, s.Keys.Seal(raw[16:], totpPurpose)); err != nil {
			return err
		}
		if _, err := TakeTOTPStep(ctx, tx, me.ID, step); err != nil {
			return err
		}
		codes, err = s.factorSet(ctx, tx, token, "authenticator")
		return err
	})
}

// factorSet is what follows when a factor was set up: new recovery codes, an
// event, and the end of all other sessions.
func (s *Service) factorSet(ctx context.Context, tx *act.Tx, token, factor string) ([]string, error) {
	codes := make([]string, recoveryCodes)
	hashes := make([][]byte, recoveryCodes)
	for i := range codes {
		raw := strings.ToLower(base32.StdEncoding.EncodeToString(secret.Random(10)))
		codes[i] = raw[:4] + "-" + raw[4:8] + "-" + raw[8:12] + "-" + raw[12:]
		hashes[i] = recoveryHash(codes[i])
	}
	me := tx.Actor.Person
	if err := SetRecoveryCodes(ctx, tx, me.ID, hashes); err != nil {
		return nil, err
	}
	if err := tx.Record(ctx, act.Event{What: events.AccountFactorSet.With(events.Factor{Person: me.Name, Factor: factor})}); err != nil {
		return nil, err
	}
	return codes, endOthers(ctx, tx, token)
}

// RenewRecoveryCodes makes new recovery codes in place of the acting person's, after
// their password has been given once more.
func (s *Service) RenewRecoveryCodes(ctx context.Context, token, password string) (codes []string, err error) {
	me := act.Who(ctx).Person
	if err := s.Confirm(ctx, me, password); err != nil {
		return nil, err
	}
	return codes, s.Acts.Do(ctx, func(tx *act.Tx) error {
		has, err := HasFactor(ctx, tx, me.ID)
		if err == nil && !has {
			err = errNoFactor.New("recovery codes go with a second factor; set one up first")
		}
		if err != nil {
			return err
		}
		codes, err = s.factorSet(ctx, tx, token, "recovery")
		return err
	})
}

// Prefer keeps the acting person's language and look.
func (s *Service) Prefer(ctx context.Context, p accounts.Preferences) error {
	if !slices.Contains([]string{"", "en", "de"}, p.Language) {
		return errPreferenceUnknown.In("language", "there is no language %q here", p.Language)
	}
	if !slices.Contains([]string{"", "light", "dark"}, p.Look) {
		return errPreferenceUnknown.In("look", "there is no look %q", p.Look)
	}
	return SetPreferences(ctx, s.Acts.DB, act.Who(ctx).Person.ID, p)
}

func recoveryHash(code string) []byte {
	return secret.Hash("recovery " + strings.ToLower(strings.Map(func(r rune) rune {
		if r == '-' || r == ' ' {
			return -1
		}
		return r
	}, code)))
}

// RemoveAuthenticator removes the acting person's authenticator, after their
// password has been given once more.
func (s *Service) RemoveAuthenticator(ctx context.Context, token, password string) error {
	me := act.Who(ctx).Person
	if err := s.Confirm(ctx, me, password); err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := SetTOTP(ctx, tx, me.ID, nil); err != nil {
			return err
		}
		return s.factorRemoved(ctx, tx, token, "authenticator")
	})
}

func (s *Service) factorRemoved(ctx context.Context, tx *act.Tx, token, factor string) error {
	me := tx.Actor.Person
	if err := tx.Record(ctx, act.Event{What: events.AccountFactorRemoved.With(events.Factor{Person: me.Name, Factor: factor})}); err != nil {
		return err
	}
	return endOthers(ctx, tx, token)
}

// Factors says what the acting person has set up.
type Factors struct {
	Password      bool
	Authenticator bool
	Passkeys      []Passkey
	RecoveryLeft  int
	// PasskeysPossible is false where the practice has no host name.
	PasskeysPossible bool
}

// Mine lists the acting person's factors.
func (s *Service) Mine(ctx context.Context) (Factors, error) {
	me := act.Who(ctx).Person
	f := Factors{Password: me.PasswordHash != "", Authenticator: len(me.TOTPSealed) > 0, PasskeysPossible: s.WebAuthn != nil}
	var err error
	if f.Passkeys, err = PasskeysOf(ctx, s.Acts.DB, me.ID); err != nil {
		return f, err
	}
	f.RecoveryLeft, err = CountRecoveryCodes(ctx, s.Acts.DB, me.ID)
	return f, err
}

package sessions

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net"
	"net/url"
	"strings"

	"tabularis/internal/app/accounts"

	"github.com/go-webauthn/webauthn/protocol"
	"github.com/go-webauthn/webauthn/webauthn"

	"tabularis/core/fault"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/secret"
)

// NewWebAuthn prepares the checking of passkeys for the practice's address
// (W3C Web Authentication, level 2). Where that is a bare IP address there are
// none: passkeys belong to a host's name.
func NewWebAuthn(baseURL string) (*webauthn.WebAuthn, error) {
	u, err := url.Parse(baseURL)
	if err != nil {
		return nil, err
	}
	if net.ParseIP(u.Hostname()) != nil {
		return nil, nil
	}
	w, err := webauthn.New(&webauthn.Config{RPID: u.Hostname(), RPDisplayName: "Tabularis", RPOrigins: []string{u.Scheme + "://" + u.Host}})
	if err != nil {
		return nil, fmt.Errorf("preparing passkeys: %w", err)
	}
	return w, nil
}

func (s *Service) passkeysPossible() error {
	if s.WebAuthn == nil {
		return errPasskeysNeedName.New("passkeys need a host name; the practice is reached by a bare IP address")
	}
	return nil
}

// holder is a person as WebAuthn knows them.
type holder struct {
	accounts.Person
	credentials []webauthn.Credential
}

func (h holder) WebAuthnID() []byte                         { return h.ID[:] }
func (h holder) WebAuthnName() string                       { return h.Email }
func (h holder) WebAuthnDisplayName() string                { return h.Name }
func (h holder) WebAuthnCredentials() []webauthn.Credential { return h.credentials }

func (s *Service) holder(ctx context.Context, p accounts.Person) (holder, error) {
	h := holder{Person: p}
	if err := s.passkeysPossible(); err != nil {
		return h, err
	}
	keys, err := PasskeysOf(ctx, s.Acts.DB, p.ID)
	if err != nil {
		return h, err
	}
	for _, k := range keys {
		var c webauthn.Credential
		if err := json.Unmarshal(k.Credential, &c); err != nil {
			return h, fmt.Errorf("reading a passkey: %w", err)
		}
		h.credentials = append(h.credentials, c)
	}
	return h, nil
}

// OfferPasskey begins the setting up of a passkey: what the browser needs.
func (s *Service) OfferPasskey(ctx context.Context, token string) (any, error) {
	h, err := s.holder(ctx, *act.Who(ctx).Person)
	if err != nil {
		return nil, err
	}
	here, err := SessionByToken(ctx, s.Acts.DB, secret.Hash(token), s.Acts.Now())
	if err != nil {
		return nil, err
	}
	options, challenge, err := s.WebAuthn.BeginRegistration(h, webauthn.WithExclusions(webauthn.Credentials(h.credentials).CredentialDescriptors()))
	if err != nil {
		return nil, fmt.Errorf("beginning a passkey: %w", err)
	}
	return options, Challenge(ctx, s.Acts.DB, here.ID, challenge)
}

// AddPasskey takes the browser's answer, ends the other sessions and returns
// recovery codes, which are shown once.
func (s *Service) AddPasskey(ctx context.Context, token, name string, answer json.RawMessage) ([]string, error) {
	name = strings.TrimSpace(name)
	if name == "" || len(name) > 100 {
		return nil, fault.NameLength.In("name", "a name has between 1 and 100 characters")
	}
	here, err := SessionByToken(ctx, s.Acts.DB, secret.Hash(token), s.Acts.Now())
	if err != nil {
		return nil, err
	}
	h, err := s.holder(ctx, *act.Who(ctx).Person)
	if err != nil {
		return nil, err
	}
	challenge, err := challengeOf(here)
	if err != nil {
		return nil, err
	}
	parsed, err := protocol.ParseCredentialCreationResponseBody(bytes.NewReader(answer))
	if err != nil {
		return nil, errPasskeyWrong.In("answer", "the passkey's answer cannot be read")
	}
	c, err := s.WebAuthn.CreateCredential(h, challenge, parsed)
	if err != nil {
		return nil, errPasskeyWrong.In("answer", "the passkey's answer does not fit")
	}
	raw, err := json.Marshal(c)
	if err != nil {
		return nil, err
	}
	var codes []string
	return codes, s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := PutPasskey(ctx, tx, Passkey{ID: c.ID, PersonID: h.ID, Name: name, Credential: raw, CreatedAt: tx.Now}); err != nil {
			return err
		}
		if err := Challenge(ctx, tx, here.ID, nil); err != nil {
			return err
		}
		codes, err = s.factorSet(ctx, tx, token, "passkey")
		return err
	})
}

func challengeOf(s Session) (webauthn.SessionData, error) {
	var d webauthn.SessionData
	if len(s.Challenge) == 0 || json.Unmarshal(s.Challenge, &d) != nil || d.Challenge == "" {
		return d, errPasskeyNotBegun.New("begin anew")
	}
	return d, nil
}

// RemovePasskey removes one of the acting person's passkeys.
func (s *Service) RemovePasskey(ctx context.Context, token string, id []byte) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := RemovePasskey(ctx, tx, tx.Actor.Person.ID, id); err != nil {
			return err
		}
		return s.factorRemoved(ctx, tx, token, "passkey")
	})
}

// AskPasskey asks for a passkey as the second factor of a sign-in.
func (s *Service) AskPasskey(ctx context.Context, token string) (any, error) {
	half, p, err := s.half(ctx, token)
	if err != nil {
		return nil, err
	}
	h, err := s.holder(ctx, p)
	if err != nil {
		return nil, err
	}
	if len(h.credentials) == 0 {
		return nil, errNoPasskey.New("no passkey is set up")
	}
	options, challenge, err := s.WebAuthn.BeginLogin(h)
	if err != nil {
		return nil, fmt.Errorf("asking for a passkey: %w", err)
	}
	return options, Challenge(ctx, s.Acts.DB, half.ID, challenge)
}

// ByPasskey completes a sign-in by a passkey's answer.
func (s *Service) ByPasskey(ctx context.Context, token string, answer json.RawMessage) (SignedIn, error) {
	half, p, err := s.half(ctx, token)
	if err != nil {
		return SignedIn{}, err
	}
	h, err := s.holder(ctx, p)
	if err != nil {
		return SignedIn{}, err
	}
	challenge, err := challengeOf(half)
	if err != nil {
		return SignedIn{}, err
	}
	wrong := errPasskeyWrong.As(fault.Unauthenticated).New("the passkey's answer does not fit")
	parsed, err := protocol.ParseCredentialRequestResponseBody(bytes.NewReader(answer))
	if err != nil {
		return SignedIn{}, wrong
	}
	c, err := s.WebAuthn.ValidateLogin(h, challenge, parsed)
	if err != nil || c.Authenticator.CloneWarning {
		return SignedIn{}, wrong
	}
	raw, err := json.Marshal(c)
	if err != nil {
		return SignedIn{}, err
	}
	in := SignedIn{Person: p}
	return in, s.Acts.Do(ctx, func(tx *act.Tx) error {
		now := tx.Now
		if err := PutPasskey(ctx, tx, Passkey{ID: c.ID, PersonID: p.ID, Credential: raw, CreatedAt: now, UsedAt: &now}); err != nil {
			return err
		}
		return s.complete(ctx, tx, half, &in)
	})
}

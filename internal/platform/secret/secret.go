// Package secret makes tokens and keeps what must not be read: sealed values
// under the key file, and passwords as argon2id hashes.
package secret

import (
	"crypto/aes"
	"crypto/cipher"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/binary"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
)

// Token makes a secret of 160 random bits for addresses and cookies.
func Token() string {
	return base64.RawURLEncoding.EncodeToString(Random(20))
}

// Digits makes a code of six digits, to be typed once.
func Digits() string {
	// A multiple of a million is cut off, so that each code is as likely.
	for {
		if n := binary.BigEndian.Uint32(Random(4)); n < 4_294_000_000 {
			return fmt.Sprintf("%06d", n%1_000_000)
		}
	}
}

// OnlyDigits is what was typed, without blanks and dashes.
func OnlyDigits(typed string) string {
	return strings.Map(func(r rune) rune {
		if r >= '0' && r <= '9' {
			return r
		}
		return -1
	}, typed)
}

// Random returns n bytes from the system's generator, which never fails.
func Random(n int) []byte {
	b := make([]byte, n)
	rand.Read(b)
	return b
}

// Hash is how a token is kept where it is only compared.
func Hash(token string) []byte {
	h := sha256.Sum256([]byte(token))
	return h[:]
}

// Keys seals values under the key file with AES-256-GCM.
type Keys struct {
	aead cipher.AEAD
	// mac is the key of MAC.
	mac []byte
}

// LoadKeys reads the key file. If it is missing and create is set, a new one is
// written for its owner's eyes only.
func LoadKeys(path string, create bool) (*Keys, error) {
	key, err := os.ReadFile(path)
	if errors.Is(err, fs.ErrNotExist) && create {
		if err = makeKey(path); err == nil {
			key, err = os.ReadFile(path)
		}
	}
	if err != nil {
		return nil, fmt.Errorf("reading the key file: %w", err)
	}
	return NewKeys(key)
}

// makeKey writes a new key file that outlasts a crash. Of two processes that do so at
// once, one does.
func makeKey(path string) error {
	dir := filepath.Dir(path)
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return err
	}
	f, err := os.CreateTemp(dir, ".key-")
	if err != nil {
		return err
	}
	defer os.Remove(f.Name())
	_, err = f.Write(Random(32))
	if err := errors.Join(err, f.Sync(), f.Close()); err != nil {
		return err
	}
	if err := os.Link(f.Name(), path); err != nil && !errors.Is(err, fs.ErrExist) {
		return err
	}
	folder, err := os.Open(dir)
	if err != nil {
		return err
	}
	return errors.Join(folder.Sync(), folder.Close())
}

// NewKeys uses a key of 32 bytes.
func NewKeys(key []byte) (*Keys, error) {
	if len(key) != 32 {
		return nil, fmt.Errorf("the key file must hold 32 bytes, it holds %d", len(key))
	}
	block, err := aes.NewCipher(key)
	if err != nil {
		return nil, err
	}
	aead, err := cipher.NewGCM(block)
	if err != nil {
		return nil, err
	}
	mac := hmac.New(sha256.New, key)
	mac.Write([]byte("tabularis mac"))
	return &Keys{aead, mac.Sum(nil)}, nil
}

// MAC is how a short code is kept where it is only compared: without the key file it
// cannot be found by trying all codes (HMAC-SHA-256, RFC 2104).
func (k *Keys) MAC(value, purpose string) []byte {
	m := hmac.New(sha256.New, k.mac)
	m.Write([]byte(purpose + "\x00" + value))
	return m.Sum(nil)
}

// Seal encrypts a value for a purpose; only Open with the same purpose reads it.
func (k *Keys) Seal(value []byte, purpose string) []byte {
	nonce := Random(k.aead.NonceSize())
	return k.aead.Seal(nonce, nonce, value, []byte(purpose))
}

// Open decrypts what Seal made.
func (k *Keys) Open(sealed []byte, purpose string) ([]byte, error) {
	n := k.aead.NonceSize()
	if len(sealed) < n {
		return nil, errors.New("sealed value is too short")
	}
	value, err := k.aead.Open(nil, sealed[:n], sealed[n:], []byte(purpose))
	if err != nil {
		return nil, fmt.Errorf("opening a sealed value: %w", err)
	}
	return value, nil
}

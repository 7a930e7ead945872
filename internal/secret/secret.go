// Package secret makes tokens and keeps what must not be read: sealed values
// under the key file, and passwords as argon2id hashes.
package secret

import (
	"crypto/aes"
	"crypto/cipher"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
)

// Token makes a secret of 160 random bits for addresses and cookies.
func Token() string {
	return base64.RawURLEncoding.EncodeToString(Random(20))
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
type Keys struct{ aead cipher.AEAD }

// LoadKeys reads the key file. If it is missing and create is set, a new one is
// written for its owner's eyes only.
func LoadKeys(path string, create bool) (*Keys, error) {
	key, err := os.ReadFile(path)
	if errors.Is(err, fs.ErrNotExist) && create {
		key = Random(32)
		if err = os.MkdirAll(filepath.Dir(path), 0o700); err == nil {
			err = os.WriteFile(path, key, 0o600)
		}
	}
	if err != nil {
		return nil, fmt.Errorf("reading the key file: %w", err)
	}
	return NewKeys(key)
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
	return &Keys{aead}, nil
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

package evidence

import (
	"crypto/ed25519"
	"crypto/sha256"
	"encoding/base64"
	"encoding/binary"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"golang.org/x/mod/sumdb/note"
	"golang.org/x/mod/sumdb/tlog"
)

// Checkpoint says how far a log has grown, as C2SP tlog-checkpoint writes it: origin,
// size and root, in lines of their own.
type Checkpoint struct {
	Origin string
	Size   int64
	Root   tlog.Hash
}

// Text is the checkpoint as it is signed.
func (c Checkpoint) Text() string {
	return fmt.Sprintf("%s\n%d\n%s\n", c.Origin, c.Size, base64.StdEncoding.EncodeToString(c.Root[:]))
}

// readCheckpoint reads what Text wrote; further lines are allowed.
func readCheckpoint(text string) (c Checkpoint, err error) {
	lines := strings.SplitN(text, "\n", 4)
	if len(lines) < 4 || lines[0] == "" {
		return c, errors.New("a checkpoint has three lines")
	}
	c.Origin = lines[0]
	if c.Size, err = strconv.ParseInt(lines[1], 10, 64); err != nil || c.Size < 0 || strconv.FormatInt(c.Size, 10) != lines[1] {
		return c, fmt.Errorf("a checkpoint's size is a number, not %q", lines[1])
	}
	root, err := base64.StdEncoding.Strict().DecodeString(lines[2])
	if err != nil || len(root) != tlog.HashSize {
		return c, errors.New("a checkpoint's root is 32 bytes in base64")
	}
	copy(c.Root[:], root)
	return c, nil
}

// algEd25519 is how C2SP signed-note marks keys of Ed25519 (RFC 8032).
const algEd25519 = 1

// Key signs in the name of an origin.
type Key struct {
	name    string
	private ed25519.PrivateKey
}

// NewKey makes a key out of 32 secret bytes.
func NewKey(name string, seed []byte) Key { return Key{name, ed25519.NewKeyFromSeed(seed)} }

// Name is the origin in whose name it signs.
func (k Key) Name() string { return k.name }

// KeyHash tells keys of one name apart.
func (k Key) KeyHash() uint32 {
	h := sha256.Sum256(append([]byte(k.name+"\n"), k.public()...))
	return binary.BigEndian.Uint32(h[:4])
}

func (k Key) public() []byte {
	return append([]byte{algEd25519}, k.private.Public().(ed25519.PublicKey)...)
}

// Sign signs a message.
func (k Key) Sign(msg []byte) ([]byte, error) { return ed25519.Sign(k.private, msg), nil }

// Verifier is the public half, as C2SP signed-note writes it: name, key hash and key.
func (k Key) Verifier() string {
	return fmt.Sprintf("%s+%08x+%s", k.name, k.KeyHash(), base64.StdEncoding.EncodeToString(k.public()))
}

// Sign writes a text that ends its last line, with the signatures of keys below it, as
// a C2SP signed note.
func Sign(text string, keys ...Key) (string, error) {
	signers := make([]note.Signer, len(keys))
	for i, k := range keys {
		signers[i] = k
	}
	signed, err := note.Sign(&note.Note{Text: text}, signers...)
	return string(signed), err
}

// Opened is a signed note whose signature was checked.
type Opened struct {
	Text string
	// Key is the verifier by which it was signed.
	Key string
}

// OpenNote checks that a signed note is signed by one of the keys. It refuses with a
// sentence that says what does not hold.
func OpenNote(signed string, keys []string) (Opened, error) {
	var verifiers []note.Verifier
	for _, k := range keys {
		v, err := note.NewVerifier(k)
		if err != nil {
			return Opened{}, fmt.Errorf("the key %q cannot be read", k)
		}
		verifiers = append(verifiers, v)
	}
	n, err := note.Open([]byte(signed), note.VerifierList(verifiers...))
	var unverified *note.UnverifiedNoteError
	var invalid *note.InvalidSignatureError
	switch {
	case errors.As(err, &unverified):
		return Opened{}, errors.New("it is not signed by the key that is given")
	case errors.As(err, &invalid):
		return Opened{}, errors.New("its signature is forged or damaged")
	case err != nil:
		return Opened{}, errors.New("it is not a signed note")
	}
	for i, v := range verifiers {
		if v.Name() == n.Sigs[0].Name && v.KeyHash() == n.Sigs[0].Hash {
			return Opened{n.Text, keys[i]}, nil
		}
	}
	return Opened{}, errors.New("it is not signed by the key that is given")
}

// OpenCheckpoint checks a signed checkpoint.
func OpenCheckpoint(signed string, keys []string) (Checkpoint, Opened, error) {
	n, err := OpenNote(signed, keys)
	if err != nil {
		return Checkpoint{}, n, fmt.Errorf("the checkpoint: %w", err)
	}
	c, err := readCheckpoint(n.Text)
	if err == nil && !strings.HasPrefix(n.Key, c.Origin+"+") {
		err = fmt.Errorf("the checkpoint is of the log %s, the key is not", c.Origin)
	}
	return c, n, err
}

package secret

import (
	"context"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"strings"

	"golang.org/x/crypto/argon2"
	"golang.org/x/sync/semaphore"
)

// Passwords hashes with argon2id (RFC 9106). One hash takes the memory given
// here, so that only a few run at once; the others wait their turn.
type Passwords struct {
	turns        *semaphore.Weighted
	time, memory uint32
}

// NewPasswords lets at most atOnce hashes run, each over three passes of 64 MiB.
func NewPasswords(atOnce int64) *Passwords {
	return &Passwords{turns: semaphore.NewWeighted(atOnce), time: 3, memory: 64 * 1024}
}

// Cheap lowers the cost to what tests can afford by the thousand.
func (p *Passwords) Cheap() *Passwords {
	p.time, p.memory = 1, 64
	return p
}

const form = "$argon2id$v=19$m=%d,t=%d,p=1$%s$%s"

// Hash hashes a password with a new salt.
func (p *Passwords) Hash(ctx context.Context, password string) (string, error) {
	salt := Random(16)
	sum, err := p.run(ctx, password, salt, p.time, p.memory)
	if err != nil {
		return "", err
	}
	enc := base64.RawStdEncoding.EncodeToString
	return fmt.Sprintf(form, p.memory, p.time, enc(salt), enc(sum)), nil
}

// Check reports whether the password is the hashed one. An empty hash costs as
// much as any other and never matches.
func (p *Passwords) Check(ctx context.Context, password, hash string) (bool, error) {
	memory, time, salt, want := p.memory, p.time, make([]byte, 16), []byte(nil)
	if parts := strings.Split(hash, "$"); len(parts) == 6 {
		if _, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=1", &memory, &time); err != nil {
			return false, fmt.Errorf("reading a password hash: %w", err)
		}
		var err error
		if salt, err = base64.RawStdEncoding.DecodeString(parts[4]); err != nil {
			return false, fmt.Errorf("reading a password hash: %w", err)
		}
		if want, err = base64.RawStdEncoding.DecodeString(parts[5]); err != nil {
			return false, fmt.Errorf("reading a password hash: %w", err)
		}
	}
	sum, err := p.run(ctx, password, salt, time, memory)
	return err == nil && want != nil && subtle.ConstantTimeCompare(sum, want) == 1, err
}

func (p *Passwords) run(ctx context.Context, password string, salt []byte, time, memory uint32) ([]byte, error) {
	if err := p.turns.Acquire(ctx, 1); err != nil {
		return nil, err
	}
	defer p.turns.Release(1)
	return argon2.IDKey([]byte(password), salt, time, memory, 1, 32), nil
}

// words are short, common and hard to mishear on the phone.
var words = strings.Fields(`amber anchor apple autumn basket beacon birch bottle bridge bronze candle canvas castle cedar cherry
	clover cobalt copper coral cotton cradle crystal dolphin ember falcon feather fennel forest garden ginger granite harbour
	hazel heather hollow indigo island ivory jasper juniper kettle lantern lemon linen magnet maple marble meadow mirror
	nettle north olive orange orchard oyster paper pebble pepper pilot planet poplar quarry quartz raven ribbon river rocket
	saddle saffron salmon silver sparrow spruce summer sunset table thistle timber tulip valley velvet violet walnut water
	willow window winter yellow zephyr`)

// Spoken makes a password of three words and two digits, about 27 bits, to be
// told by another channel. Guessing it over the network is slowed by the gate.
func Spoken() string {
	pick := func(n int) int {
		// Rejection keeps every choice equally likely.
		for {
			b := Random(2)
			v := int(b[0])<<8 | int(b[1])
			if v < 65536-65536%n {
				return v % n
			}
		}
	}
	return fmt.Sprintf("%s-%s-%s-%02d", words[pick(len(words))], words[pick(len(words))], words[pick(len(words))], pick(100))
}

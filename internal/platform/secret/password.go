package secret

import (
	"context"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"strings"
	"time"

	"golang.org/x/crypto/argon2"

	"tabularis/internal/platform/turns"
)

// Passwords hashes with argon2id (RFC 9106). One hash takes the memory given
// here, so that only a few run at once; the others wait their turn, fairly by where
// they come from, and known devices first.
type Passwords struct {
	turns        *turns.Queue
	time, memory uint32
}

// NewPasswords lets at most atOnce hashes run, each over three passes of 64 MiB.
func NewPasswords(atOnce int64) *Passwords {
	return &Passwords{turns: turns.New(int(atOnce), waiting), time: 3, memory: 64 * 1024}
}

// waiting is how many wait for a hash, which takes a tenth of a second, and how long.
var waiting = turns.Limits{All: 200, Each: 30, Patience: 20 * time.Second}

type askerKey struct{}

type asker struct {
	from  string
	known bool
}

// From returns a context in which hashes are asked for from a network; known says
// that the device was signed in before.
func From(ctx context.Context, network string, known bool) context.Context {
	return context.WithValue(ctx, askerKey{}, asker{network, known})
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
	a, _ := ctx.Value(askerKey{}).(asker)
	enter := p.turns.Enter
	if a.known {
		enter = p.turns.EnterFirst
	}
	if err := enter(ctx, a.from); err != nil {
		return nil, err
	}
	defer p.turns.Leave(a.from)
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

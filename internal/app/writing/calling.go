package writing

import (
	"bytes"
	"compress/flate"
	"context"
	"crypto/hmac"
	"crypto/sha1" //nolint:gosec // The scheme of relays asks for it.
	"encoding/base64"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
)

// Calling is how somebody takes part in the call beside a text. Voices and pictures go from page to page; the server only
// tells who is in the call, and passes on what pages have to say to each other until they are connected.
type Calling struct {
	Since       time.Time
	Mic, Camera bool
}

// Signal is what one page has to say to another so that they can be connected (RFC 8825), which nobody else reads.
type Signal struct {
	From, To string
	Data     string
}

// Limits of a call.
const (
	MostCalling = 8
	mostSignal  = 32 << 10
	// signalsAtOnce come one after the other, signalsPerSecond after that: a page that joins says some dozen to each other one.
	signalsAtOnce, signalsPerSecond = 400, 10
	// mostNoted is how long a signal may be that goes by another process, packed (pg_notify takes 8,000 bytes in all).
	mostNoted = 7500
)

var (
	errNoCall    = fault.Declare(fault.Forbidden, "call-not-allowed", "who only reads takes no part in the call")
	errCallFull  = fault.Declare(fault.RateLimited, "call-full", "as many are in the call as can be")
	errSignalBig = fault.Declare(fault.TooLarge, "call-signal-large", "pages say more to each other than is passed on")
)

// Relay is by which servers pages find each other, and which passes on what does not get through otherwise.
type Relay struct {
	// Addresses are stun: and turn: addresses (RFC 7064, RFC 7065).
	Addresses []string
	// Secret is shared with the relay; with it each page gets a name and a password for a while.
	Secret string
}

// relayFor is how long a page may use the relay.
const relayFor = 12 * time.Hour

// Ice is what a page is told of relays: their addresses, and with a secret a name that holds for a while and its password.
type Ice struct {
	Addresses      []string
	Name, Password string
}

func (r Relay) ice(who uuid.UUID, now time.Time) *Ice {
	ice := &Ice{Addresses: r.Addresses}
	if r.Secret != "" && len(r.Addresses) > 0 {
		ice.Name = fmt.Sprintf("%d:%s", now.Add(relayFor).Unix(), who)
		mac := hmac.New(sha1.New, []byte(r.Secret))
		mac.Write([]byte(ice.Name))
		ice.Password = base64.StdEncoding.EncodeToString(mac.Sum(nil))
	}
	return ice
}

// Call lets whoever sits there take part in the call, or says anew what of them can be heard and seen.
func (s *Seat) Call(mic, camera bool) error {
	r := s.room
	r.mu.Lock()
	defer r.mu.Unlock()
	if _, here := r.seats[s]; !here {
		return errSlow.New("the page is not there any more")
	}
	if !s.mayCall() {
		return errNoCall.New("it is for those who may say something here")
	}
	in := 0
	for _, p := range r.here() {
		if p.Call != nil && p.Client != s.Client {
			in++
		}
	}
	if in >= MostCalling {
		return errCallFull.New("%d are in it", in).Later(time.Minute)
	}
	s.calls(&Calling{r.Acts.Now(), mic, camera})
	return nil
}

// HangUp ends it.
func (s *Seat) HangUp() {
	s.room.mu.Lock()
	defer s.room.mu.Unlock()
	if s.present().Call != nil {
		s.calls(nil)
	}
}

// calls notes how somebody takes part, and tells the others. The room's lock is held.
func (s *Seat) calls(c *Calling) {
	s.mu.Lock()
	if c != nil && s.call != nil {
		c.Since = s.call.Since
	}
	s.call = c
	s.mu.Unlock()
	s.room.renewed = time.Time{}
	s.room.tellPeople()
}

func (s *Seat) mayCall() bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.speaks
}

// Signal passes something on to another page, if both are in the call.
func (s *Seat) Signal(ctx context.Context, to, data string) error {
	if len(data) > mostSignal {
		return errSignalBig.New("%d bytes, at most %d", len(data), mostSignal)
	}
	if !s.within() {
		return nil // Pages agree in a few words; who goes on and on is not passed on.
	}
	r, signal := s.room, Signal{s.Client, to, data}
	r.mu.Lock()
	in := s.present().Call != nil
	_, elsewhere := r.elsewhere[to]
	if in {
		in = r.pass(signal)
	}
	r.mu.Unlock()
	if in || !elsewhere || s.present().Call == nil {
		return nil // Who is not in the call, or gone, hears nothing.
	}
	packed, err := pack(data)
	if err != nil {
		return err
	}
	signal.Data = packed
	return tellOthers(ctx, r.Acts.DB, note{Document: r.document, From: r.process, Signal: &signal})
}

// within counts signals.
func (s *Seat) within() bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.signals.Take(s.room.Acts.Now())
}

// pass gives a signal to a page that is here, and in the call. The lock is held.
func (r *room) pass(signal Signal) bool {
	for s := range r.seats {
		if s.Client == signal.To {
			if s.present().Call != nil {
				s.say(Message{Signal: &signal})
			}
			return true
		}
	}
	return false
}

// hear takes a signal from a page of another process.
func (r *room) hear(signal Signal) {
	if from, there := r.elsewhere[signal.From]; there && from.Call == nil {
		return
	}
	if data, err := unpack(signal.Data); err == nil {
		signal.Data = data
		r.pass(signal)
	}
}

// pack makes text short enough to be told to other processes.
func pack(data string) (string, error) {
	var b bytes.Buffer
	w, err := flate.NewWriter(&b, flate.BestCompression)
	if err != nil {
		return "", err
	}
	if _, err := io.WriteString(w, data); err != nil {
		return "", err
	}
	if err := w.Close(); err != nil {
		return "", err
	}
	packed := base64.StdEncoding.EncodeToString(b.Bytes())
	if len(packed) > mostNoted {
		return "", errSignalBig.New("%d bytes, packed", len(packed))
	}
	return packed, nil
}

func unpack(packed string) (string, error) {
	r := flate.NewReader(base64.NewDecoder(base64.StdEncoding, strings.NewReader(packed)))
	raw, err := io.ReadAll(io.LimitReader(r, mostSignal))
	return string(raw), err
}

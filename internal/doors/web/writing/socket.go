package writing

import (
	"context"
	"encoding/json"
	"errors"
	"strconv"
	"time"

	"github.com/coder/websocket"
	"github.com/coder/websocket/wsjson"
	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/linkgate"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/writing"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// What a socket may do: a message is as large as any request, so many come at once and so many a second after
// that, and whoever neither sends nor takes anything for a while has gone.
const (
	messagesAtOnce    = 200
	messagesPerSecond = 40
	checkEvery        = 1500 * time.Millisecond
	aliveEvery        = 20 * time.Second
	sayWithin         = 15 * time.Second
)

// The reasons with which a socket is closed (RFC 6455, section 7.4).
const (
	closedFlood = websocket.StatusPolicyViolation
	closedEnded = websocket.StatusCode(4000)
)

// socket is the live way to a text: what is sent and told by requests otherwise goes over it as messages.
func (h *Handlers) socket(c *gin.Context) {
	who := context.Context(c)
	if c.Query("supersede") == "approved" {
		// A page cannot send the header of that name with a socket.
		who = tree.Superseding(who)
	}
	asked := c.Copy()
	h.sit(c, who, h.SessionLeft(c), func() error { return h.StillSignedIn(asked) })
}

// visitorSocket is the same way for a visitor.
func (h *Handlers) visitorSocket(c *gin.Context) {
	h.sit(c, by(c, c.Param("token")), linkgate.VisitLength, func() error { return nil })
}

// sit joins whoever asks, for so long at most; check refuses when they may not be there any longer, beside what the text
// itself asks.
func (h *Handlers) sit(c *gin.Context, who context.Context, longest time.Duration, check func() error) {
	ctx, end := context.WithTimeout(c.Request.Context(), longest)
	defer end()
	id, err := uuid.Parse(c.Param("id"))
	page := c.Query("page")
	since, err2 := strconv.Atoi(c.DefaultQuery("since", "0"))
	if err != nil || err2 != nil {
		h.Problem(c, fault.Parameter.New("a socket is that of a document, from a version on"))
		return
	}
	seat, o, err := h.Writing.Join(who, id, page, since, 0)
	if err != nil {
		h.Problem(c, err)
		return
	}
	defer seat.Leave()
	conn, err := websocket.Accept(door.Plain(c), c.Request, &websocket.AcceptOptions{CompressionMode: websocket.CompressionContextTakeover})
	if err != nil {
		return // It has been answered.
	}
	defer conn.CloseNow()
	conn.SetReadLimit(door.MaxBody)
	first, err := opening(o)
	if err != nil || write(ctx, conn, first) != nil {
		return
	}
	s := &socket{conn: conn, seat: seat, out: make(chan contract.WritingMessage, 16), messages: writing.Budget{AtOnce: messagesAtOnce, PerSecond: messagesPerSecond}}
	own := asContext{ctx, who}
	go func() {
		defer end()
		s.listen(own)
	}()
	s.tell(own, func() error {
		if err := check(); err != nil {
			return err
		}
		return seat.Check(own)
	})
}

// asContext has the life of one context and the values of another.
type asContext struct {
	context.Context
	values context.Context
}

func (a asContext) Value(key any) any { return a.values.Value(key) }

type socket struct {
	conn     *websocket.Conn
	seat     *writing.Seat
	out      chan contract.WritingMessage
	messages writing.Budget
}

func write(ctx context.Context, conn *websocket.Conn, m contract.WritingMessage) error {
	ctx, end := context.WithTimeout(ctx, sayWithin)
	defer end()
	return wsjson.Write(ctx, conn, m)
}

// tell passes on what happens, until the page goes, or may not be here any longer.
func (s *socket) tell(ctx context.Context, check func() error) {
	checks, alive := time.NewTicker(checkEvery), time.NewTicker(aliveEvery)
	defer checks.Stop()
	defer alive.Stop()
	for {
		var err error
		select {
		case <-ctx.Done():
			_ = s.conn.Close(websocket.StatusGoingAway, "")
			return
		case m := <-s.out:
			err = write(ctx, s.conn, m)
		case m, ok := <-s.seat.Told():
			if !ok {
				return
			}
			err = write(ctx, s.conn, message(m))
		case <-checks.C:
			if refused := check(); refused != nil && fault.Of(refused).Kind != fault.Internal {
				code := fault.Of(refused).Code
				_ = write(ctx, s.conn, contract.WritingMessage{Ended: &code})
				_ = s.conn.Close(closedEnded, code)
				return
			}
		case <-alive.C:
			ping, end := context.WithTimeout(ctx, sayWithin)
			err = s.conn.Ping(ping)
			end()
		}
		if err != nil {
			return
		}
	}
}

// listen takes what the page sends.
func (s *socket) listen(ctx context.Context) {
	for {
		kind, raw, err := s.conn.Read(ctx)
		if err != nil {
			return
		}
		if !s.messages.Take(time.Now()) {
			_ = s.conn.Close(closedFlood, "too many messages")
			return
		}
		var sent contract.WritingSent
		if kind != websocket.MessageText || json.Unmarshal(raw, &sent) != nil {
			_ = s.conn.Close(closedFlood, "no such message")
			return
		}
		if c := caretOf(sent.Caret); c != nil {
			s.seat.Move(*c)
		}
		if sent.Call != nil {
			s.call(ctx, sent)
		}
		if len(sent.Steps) > 0 {
			s.take(ctx, sent)
		}
	}
}

// call takes part in the call, leaves it, or passes something on to another page of it.
func (s *socket) call(ctx context.Context, sent contract.WritingSent) {
	var err error
	switch c := sent.Call; c.Act {
	case contract.CallJoin:
		err = s.seat.Call(present.Or(c.Mic, false), present.Or(c.Camera, false))
	case contract.CallLeave:
		s.seat.HangUp()
	case contract.CallSignal:
		err = s.seat.Signal(ctx, present.Or(c.To, ""), present.Or(c.Data, ""))
	default:
		err = fault.Parameter.New("there is no such act of a call")
	}
	if err != nil {
		s.answer(ctx, contract.WritingMessage{Refused: &contract.WritingRefused{Turn: sent.Turn, Code: fault.Of(err).Code}})
	}
}

func (s *socket) take(ctx context.Context, sent contract.WritingSent) {
	taken, err := s.seat.Send(ctx, sent.Version, sent.Steps)
	m := contract.WritingMessage{Taken: &contract.WritingTaken{Turn: sent.Turn, Count: taken.Count, Version: taken.Version}}
	if err != nil {
		if errors.Is(err, context.Canceled) {
			return
		}
		m = contract.WritingMessage{Refused: &contract.WritingRefused{Turn: sent.Turn, Code: fault.Of(err).Code}}
	}
	s.answer(ctx, m)
}

func (s *socket) answer(ctx context.Context, m contract.WritingMessage) {
	select {
	case s.out <- m:
	case <-ctx.Done():
	}
}

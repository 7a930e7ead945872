package cell

import (
	"encoding/binary"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"os"

	"golang.org/x/sys/unix"

	"tabularis/core/fault"
)

// What a cell says: that it is ready, a part of an answer, that it is done, or
// that the content is refused.
const (
	ready   = 'r'
	part    = 'p'
	done    = 'd'
	refused = 'f'
)

// maxHeader is how long a header may be, in bytes.
const maxHeader = 16 << 20

// request is what a cell is asked; the content's descriptor travels with it.
type request struct {
	Op   string
	Args json.RawMessage
}

// refusal is a fault.Error on its way.
type refusal struct {
	Kind                fault.Kind
	Code, Field, Detail string
}

// ask sends a request with the descriptor of the content.
func ask(c *net.UnixConn, r request, content *os.File) error {
	raw, err := json.Marshal(r)
	if err != nil {
		return fmt.Errorf("writing down a request: %w", err)
	}
	length := binary.BigEndian.AppendUint32(nil, uint32(len(raw)))
	// The descriptor goes with the length, so that it is read in one piece.
	if _, _, err := c.WriteMsgUnix(length, unix.UnixRights(int(content.Fd())), nil); err != nil {
		return err
	}
	_, err = c.Write(raw)
	return err
}

// listen receives a request.
func listen(c *net.UnixConn) (r request, content *os.File, err error) {
	var length [4]byte
	control := make([]byte, unix.CmsgSpace(4))
	n, got, _, _, err := c.ReadMsgUnix(length[:], control)
	if err != nil {
		return r, nil, err
	}
	if n == 0 {
		return r, nil, io.EOF
	}
	if _, err := io.ReadFull(c, length[n:]); err != nil {
		return r, nil, err
	}
	messages, err := unix.ParseSocketControlMessage(control[:got])
	if err != nil || len(messages) != 1 {
		return r, nil, fmt.Errorf("a request came without content: %w", err)
	}
	files, err := unix.ParseUnixRights(&messages[0])
	if err != nil || len(files) != 1 {
		return r, nil, fmt.Errorf("a request came without content: %w", err)
	}
	content = os.NewFile(uintptr(files[0]), "content")
	raw := make([]byte, min(binary.BigEndian.Uint32(length[:]), maxHeader))
	if _, err := io.ReadFull(c, raw); err != nil {
		return r, content, err
	}
	return r, content, json.Unmarshal(raw, &r)
}

// say sends one piece of an answer.
func say(w io.Writer, kind byte, header any, body []byte) error {
	raw, err := json.Marshal(header)
	if err != nil {
		return fmt.Errorf("writing down an answer: %w", err)
	}
	head := binary.BigEndian.AppendUint64(binary.BigEndian.AppendUint32([]byte{kind}, uint32(len(raw))), uint64(len(body)))
	if _, err := w.Write(append(head, raw...)); err != nil {
		return err
	}
	_, err = w.Write(body)
	return err
}

// hear receives one piece of an answer. Of the bytes that are left for answers,
// those of the piece are taken away; too large a one is errTooMuch.
func hear(r io.Reader, left *int64) (kind byte, header json.RawMessage, body []byte, err error) {
	var head [13]byte
	if _, err := io.ReadFull(r, head[:]); err != nil {
		return 0, nil, nil, err
	}
	n, m := int64(binary.BigEndian.Uint32(head[1:])), binary.BigEndian.Uint64(head[5:])
	if n > maxHeader || m > 1<<40 || n+int64(m) > *left {
		return 0, nil, nil, errTooMuch
	}
	*left -= n + int64(m)
	header, body = make([]byte, n), make([]byte, m)
	if _, err := io.ReadFull(r, header); err != nil {
		return 0, nil, nil, err
	}
	_, err = io.ReadFull(r, body)
	return head[0], header, body, err
}

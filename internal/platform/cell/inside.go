package cell

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"os"
	"runtime"
	"runtime/debug"

	"golang.org/x/sys/unix"

	"tabularis/core/fault"
)

// Work is content within a cell, and what is to be done with it.
type Work struct {
	args json.RawMessage
	// Content can only be read; writing to it ends the cell.
	Content []byte
	conn    *net.UnixConn
}

// Args reads what the handler was told.
func (w Work) Args(into any) error { return json.Unmarshal(w.args, into) }

// Send answers with a part.
func (w Work) Send(header any, body []byte) error { return say(w.conn, part, header, body) }

// Handler works on content within a cell. What it refuses is a fault.Error; any
// other failure counts as one of the content's.
type Handler func(ctx context.Context, w Work) error

// Enter turns the process into a cell, or a foreign program, if it was started as
// one, and then never returns. It stands first in main. prepare runs while files can
// still be opened and before any content is there; it gets what New was told.
func Enter(handlers map[string]Handler, prepare func(told string) error) {
	enterProgram()
	if len(os.Args) != 2 || os.Args[0] != name {
		return
	}
	if err := serve(handlers, prepare); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	os.Exit(0)
}

func serve(handlers map[string]Handler, prepare func(told string) error) error {
	// One more than a job needs, for what the runtime does beside it.
	runtime.GOMAXPROCS(2)
	debug.SetMemoryLimit(maxMemory * 3 / 4)
	file := os.NewFile(3, "parent")
	conn, err := net.FileConn(file)
	if err != nil {
		return fmt.Errorf("reaching the parent: %w", err)
	}
	_ = file.Close()
	parent, ok := conn.(*net.UnixConn)
	if !ok {
		return errors.New("the parent is no socket")
	}
	if err := prepare(os.Args[1]); err != nil {
		return err
	}
	if err := Confine(0); err != nil {
		return err
	}
	if err := say(parent, ready, nil, nil); err != nil {
		return err
	}
	for {
		r, content, err := listen(parent)
		if err != nil {
			// The parent has gone, or does not make sense.
			return nil
		}
		if err := answer(handlers, r, content, parent); err != nil {
			return err
		}
	}
}

// answer does one job. An error ends the cell.
func answer(handlers map[string]Handler, r request, content *os.File, parent *net.UnixConn) (err error) {
	defer content.Close()
	defer func() {
		// What is left in memory after a panic is not to be trusted with more.
		if p := recover(); p != nil {
			err = fmt.Errorf("panic: %v", p)
		}
	}()
	at, err := content.Stat()
	if err != nil {
		return err
	}
	w := Work{args: r.Args, conn: parent}
	if at.Size() > 0 {
		if w.Content, err = unix.Mmap(int(content.Fd()), 0, int(at.Size()), unix.PROT_READ, unix.MAP_SHARED); err != nil {
			return fmt.Errorf("reaching the content: %w", err)
		}
		defer func() { _ = unix.Munmap(w.Content) }()
	}
	handle := handlers[r.Op]
	if handle == nil {
		return fmt.Errorf("there is no %q", r.Op)
	}
	switch err := handle(context.Background(), w).(type) {
	case nil:
		return say(parent, done, nil, nil)
	case *fault.Error:
		return say(parent, refused, refusal{err.Kind, err.Code, err.Field, err.Detail}, nil)
	default:
		return err
	}
}

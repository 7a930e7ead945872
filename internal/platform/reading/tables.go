package reading

import (
	"bytes"
	"context"
	"encoding/binary"
	"encoding/json"
	"errors"
	"io"
	"time"

	"tabularis/core/table"
	"tabularis/internal/platform/cell"
	"tabularis/internal/platform/preview"
	"tabularis/internal/platform/sheets"
	"tabularis/internal/platform/turns"
)

// Table opens a spreadsheet, or separated values, as a table that is written, as its JSON.
func (r *Reader) Table(ctx context.Context, s Source) (raw []byte, err error) {
	err = turns.Await(ctx, Patience, func(ctx context.Context) error {
		return r.do(ctx, s, opTable, "", s.MediaType, whole(&raw))
	})
	return raw, err
}

func whole(into *[]byte) func(json.RawMessage, []byte) error {
	return func(_ json.RawMessage, body []byte) error {
		*into = body
		return nil
	}
}

// ErrTooMuch says that formulas take more than they may.
var ErrTooMuch = errors.New("the formulas take too long")

// Reckon says what formulas come to, in the order in which they are asked for. One that takes more than it may ends all.
func (r *Reader) Reckon(ctx context.Context, t table.Task, asker string) (results []table.Result, err error) {
	raw, err := json.Marshal(t)
	if err != nil {
		return nil, err
	}
	most := limits[opReckon]
	most.CPU /= time.Duration(max(1, r.Hurry))
	err = r.Cells.Do(ctx, cell.Job{Op: opReckon, Size: int64(len(raw)), Open: opened(raw), For: asker, Limits: most, Take: one(&results)})
	if errors.Is(err, cell.ErrKilled) {
		err = ErrTooMuch
	}
	if err == nil && len(results) != len(t.Ask) {
		err = ErrTooMuch
	}
	return results, err
}

func opened(raw []byte) func() (io.ReadCloser, error) {
	return func() (io.ReadCloser, error) { return io.NopCloser(bytes.NewReader(raw)), nil }
}

// TableFile writes a table into the spreadsheet that it came from, or into a new one where there is none.
func (r *Reader) TableFile(ctx context.Context, original *Source, book *table.Book, o sheets.Order, asker string) (raw []byte, err error) {
	return r.fileOf(ctx, opTableFile, o, book, original, asker)
}

// fileOf writes what was written into the file that it came from, or into a new one where there is none.
func (r *Reader) fileOf(ctx context.Context, op string, args, written any, original *Source, asker string) (raw []byte, err error) {
	var s Source
	if original != nil {
		s = *original
	}
	if s, err = s.after(written); err != nil {
		return nil, err
	}
	j := cell.Job{Op: op, Args: args, Size: s.Size, Open: s.Open, For: asker, Limits: limits[op], Take: whole(&raw)}
	err = turns.Await(ctx, Patience, func(ctx context.Context) error { return r.Cells.Do(ctx, j) })
	if errors.Is(err, cell.ErrKilled) {
		err = errKilled
	}
	return raw, err
}

type both struct {
	io.Reader
	io.Closer
}

// halves are what was written, and the file that it came from.
func halves(content []byte) (written, original []byte, err error) {
	if len(content) < 8 {
		return nil, nil, errKilled
	}
	long := binary.BigEndian.Uint64(content)
	if content = content[8:]; long > uint64(len(content)) {
		return nil, nil, errKilled
	}
	return content[:long], content[long:], nil
}

func openTable(_ context.Context, w cell.Work) error {
	var mediaType string
	if err := w.Args(&mediaType); err != nil {
		return err
	}
	book, err := readTable(mediaType, w.Content)
	if err != nil {
		return unreadable(err)
	}
	return send(w, book)
}

func readTable(mediaType string, content []byte) (*table.Book, error) {
	if mediaType == preview.Spreadsheet {
		return sheets.Open(content)
	}
	text := preview.Decoded(content)
	if bytes.HasPrefix(content, []byte("\ufeff")) {
		text = "\ufeff" + text
	}
	return table.ReadSeparated(text)
}

func reckon(_ context.Context, w cell.Work) error {
	var t table.Task
	if err := json.Unmarshal(w.Content, &t); err != nil {
		return err
	}
	results, err := sheets.Reckon(t)
	if err != nil {
		return unreadable(err)
	}
	return send(w, results)
}

func tableFile(_ context.Context, w cell.Work) error {
	var o sheets.Order
	if err := w.Args(&o); err != nil {
		return err
	}
	state, original, err := halves(w.Content)
	if err != nil {
		return err
	}
	book, err := table.ReadBook(state)
	if err != nil {
		return err
	}
	raw, err := sheets.File(original, book, o)
	if err != nil {
		return unreadable(err)
	}
	return w.Send(nil, raw)
}

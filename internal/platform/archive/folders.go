package archive

import (
	"errors"
	"fmt"
	"io"
	"os"
	"path"
	"time"
)

// unfinished is the ending of a file that is being written.
const unfinished = ".unfinished"

// Laid says what Lay did.
type Laid struct {
	// Written are the files that were written, Kept those that were there already.
	Written, Kept int
	Bytes         int64
}

// Lay writes entries as plain folders and files below a folder that is there, under the names
// they have in an archive. A file that is there with the size and the time that it should have is
// left alone, so that whoever begins again goes on; told hears of each that was written.
func Lay(below string, entries []Entry, told func(path string, l Laid)) (l Laid, err error) {
	root, err := os.OpenRoot(below)
	if err != nil {
		return l, fmt.Errorf("opening the folder: %w", err)
	}
	defer root.Close()
	for i, name := range Paths(entries) {
		e := entries[i]
		if there, err := root.Lstat(name); err == nil && there.Mode().IsRegular() && there.Size() == e.Size && there.ModTime().Equal(at(e)) {
			l.Kept++
			continue
		}
		if err := lay(root, name, e); err != nil {
			return l, fmt.Errorf("writing %s: %w", name, err)
		}
		l.Written, l.Bytes = l.Written+1, l.Bytes+e.Size
		told(name, l)
	}
	return l, nil
}

// at is the time of a file, as exactly as any file system keeps it.
func at(e Entry) time.Time { return e.Modified.Truncate(2 * time.Second) }

func lay(root *os.Root, name string, e Entry) error {
	if dir := path.Dir(name); dir != "." {
		if err := root.MkdirAll(dir, 0o750); err != nil {
			return err
		}
	}
	from, err := e.Open()
	if err != nil {
		return err
	}
	defer from.Close()
	to, err := root.OpenFile(name+unfinished, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o640)
	if err != nil {
		return err
	}
	n, err := io.Copy(to, from)
	if err == nil && n != e.Size {
		err = fmt.Errorf("%d bytes came instead of %d", n, e.Size)
	}
	if err = errors.Join(err, to.Sync(), to.Close()); err != nil {
		return errors.Join(err, root.Remove(name+unfinished))
	}
	if err := root.Rename(name+unfinished, name); err != nil {
		return err
	}
	return root.Chtimes(name, at(e), at(e))
}

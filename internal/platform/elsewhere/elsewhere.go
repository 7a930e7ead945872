// Package elsewhere reads other places in which files lie: folders, also of the network, WebDAV
// servers (RFC 4918) and buckets. They are only read.
package elsewhere

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/http"
	"net/url"
	"os"
	"path"
	"strings"
	"time"

	"github.com/studio-b12/gowebdav"
	"gocloud.dev/blob"
	_ "gocloud.dev/blob/s3blob" // buckets by the S3 protocol
)

// File is a file of a place. Way is the slash-separated folder way, empty or ending in a slash.
type File struct {
	Way, Name string
	Size      int64
	Modified  time.Time
	// Left says why it is not brought in: it is a link, or no plain file.
	Left string
	Open func(ctx context.Context) (io.ReadCloser, error)
}

// Place is a place in which files lie.
type Place interface {
	// Walk hands each file to each, folder by folder, until that returns an error.
	Walk(ctx context.Context, each func(f File) error) error
	Close() error
}

// deepest is how far folders lie in each other: a place that loops ends there.
const deepest = 64

// ErrDeep means that folders lie in each other without an end.
var ErrDeep = errors.New("folders lie in each other without an end")

// Open opens a place by its address: s3://name?…, http(s)://… for WebDAV, or a folder's path. The
// name and password of a WebDAV place stand in its address.
func Open(ctx context.Context, address string) (Place, error) {
	switch scheme, _, _ := strings.Cut(address, "://"); scheme {
	case "s3":
		b, err := blob.OpenBucket(ctx, address)
		if err != nil {
			return nil, fmt.Errorf("opening the bucket: %w", err)
		}
		return bucket{b}, nil
	case "http", "https":
		return openDAV(address)
	}
	root, err := os.OpenRoot(address)
	if err != nil {
		return nil, fmt.Errorf("opening the folder: %w", err)
	}
	return folder{root}, nil
}

type folder struct{ root *os.Root }

func (f folder) Close() error { return f.root.Close() }

func (f folder) Walk(ctx context.Context, each func(File) error) error {
	return fs.WalkDir(f.root.FS(), ".", func(at string, entry fs.DirEntry, err error) error {
		if err != nil {
			return fmt.Errorf("reading %s: %w", at, err)
		}
		if err := ctx.Err(); err != nil {
			return err
		}
		if entry.IsDir() {
			if strings.Count(at, "/") > deepest {
				return ErrDeep
			}
			return nil
		}
		info, err := entry.Info()
		if err != nil {
			return fmt.Errorf("reading %s: %w", at, err)
		}
		way, name := path.Split(at)
		file := File{Way: way, Name: name, Size: info.Size(), Modified: info.ModTime(), Open: func(context.Context) (io.ReadCloser, error) { return f.root.Open(at) }}
		switch {
		case entry.Type()&fs.ModeSymlink != 0:
			file.Left = "a link"
		case !entry.Type().IsRegular():
			file.Left = "no plain file"
		}
		return each(file)
	})
}

type bucket struct{ *blob.Bucket }

func (b bucket) Walk(ctx context.Context, each func(File) error) error {
	all := b.List(nil)
	for {
		o, err := all.Next(ctx)
		if err == io.EOF {
			return nil
		}
		if err != nil {
			return fmt.Errorf("listing the bucket: %w", err)
		}
		if strings.HasSuffix(o.Key, "/") {
			continue
		}
		way, name := path.Split(o.Key)
		open := func(ctx context.Context) (io.ReadCloser, error) { return b.NewReader(ctx, o.Key, nil) }
		if err := each(File{Way: way, Name: name, Size: o.Size, Modified: o.ModTime, Open: open}); err != nil {
			return err
		}
	}
}

type dav struct{ client *gowebdav.Client }

// patience is how long a WebDAV server may take to begin an answer.
const patience = time.Minute

func openDAV(address string) (Place, error) {
	at, err := url.Parse(address)
	if err != nil {
		return nil, fmt.Errorf("reading the address: %w", err)
	}
	name, password := "", ""
	if at.User != nil {
		name = at.User.Username()
		password, _ = at.User.Password()
		at.User = nil
	}
	client := gowebdav.NewClient(at.String(), name, password)
	transport := http.DefaultTransport.(*http.Transport).Clone()
	transport.ResponseHeaderTimeout = patience
	client.SetTransport(transport)
	return dav{client}, nil
}

func (dav) Close() error { return nil }

func (d dav) Walk(ctx context.Context, each func(File) error) error {
	return d.walk(ctx, "/", each, 0)
}

func (d dav) walk(ctx context.Context, at string, each func(File) error, depth int) error {
	if depth > deepest {
		return ErrDeep
	}
	if err := ctx.Err(); err != nil {
		return err
	}
	entries, err := d.client.ReadDir(at)
	if err != nil {
		return fmt.Errorf("reading %s: %w", at, err)
	}
	for _, e := range entries {
		// A server's names are names: one that leads elsewhere is left.
		if e.Name() == "" || e.Name() == "." || e.Name() == ".." || strings.Contains(e.Name(), "/") {
			continue
		}
		below := path.Join(at, e.Name())
		if e.IsDir() {
			if err := d.walk(ctx, below, each, depth+1); err != nil {
				return err
			}
			continue
		}
		way := strings.TrimPrefix(at, "/")
		if way != "" {
			way += "/"
		}
		open := func(context.Context) (io.ReadCloser, error) { return d.client.ReadStream(below) }
		if err := each(File{Way: way, Name: e.Name(), Size: e.Size(), Modified: e.ModTime(), Open: open}); err != nil {
			return err
		}
	}
	return nil
}

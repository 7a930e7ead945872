package preview

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"strings"
)

// archived is the media type of ZIP archives.
const archived = "application/zip"

const (
	// mostInner is how many files of an archive are listed, and maxInner the largest of them, in
	// bytes, that is opened.
	mostInner = 10_000
	maxInner  = maxRead
)

// File is a file within an archive, or one that is attached to a mail.
type File struct {
	Name string
	Size int64
	// Locked says that it cannot be opened: it is encrypted, or too large.
	Locked bool
}

// ErrNoInner means that there is no such file within, or that it cannot be opened.
var ErrNoInner = errors.New("there is no such file within that can be opened")

// HasInner reports whether there can be files within content of a type.
func HasInner(mediaType string) bool {
	return mediaType == archived || mediaType == mailMessage || mediaType == compoundMail
}

// directory lists an archive's files without unpacking any; cut says that there are more.
func directory(content []byte) (files []File, cut bool, err error) {
	inside, err := entries(content)
	for _, f := range inside {
		if len(files) == mostInner {
			return files, true, err
		}
		files = append(files, File{plainName(f.Name), int64(min(f.UncompressedSize64, 1<<62)), f.Flags&1 != 0 || f.UncompressedSize64 > maxInner})
	}
	return files, false, err
}

func entries(content []byte) (all []*zip.File, err error) {
	z, err := zip.NewReader(bytes.NewReader(content), int64(len(content)))
	if err != nil {
		return nil, fmt.Errorf("reading an archive: %w", err)
	}
	for _, f := range z.File {
		if !strings.HasSuffix(f.Name, "/") {
			all = append(all, f)
		}
	}
	return all, nil
}

// plainName is a name without what would hide its kind or where it stands.
func plainName(name string) string {
	name = strings.ToValidUTF8(strings.ReplaceAll(name, `\`, "/"), "\ufffd")
	return strings.Map(func(r rune) rune {
		if r < ' ' || r == 0x7f || r >= 0x202a && r <= 0x202e || r >= 0x2066 && r <= 0x2069 {
			return -1
		}
		return r
	}, name)
}

// attachedTo are the files that are attached to a mail, and its text.
func attachedTo(mediaType string, content []byte) (text string, files []attachedFile) {
	if mediaType == compoundMail {
		text, files, _ = compound(content)
		return text, files
	}
	return message(content)
}

func listed(all []attachedFile) []File {
	files := make([]File, len(all))
	for i, f := range all {
		files[i] = File{Name: plainName(f.name), Size: int64(len(f.content))}
	}
	return files
}

// Inner unpacks a file within content, counted from 0 as they are listed. ErrNoInner where there
// is none that can be opened.
func Inner(mediaType string, content []byte, n int) (name string, raw []byte, err error) {
	if mediaType != archived {
		if _, files := attachedTo(mediaType, content); n < len(files) {
			return plainName(files[n].name), files[n].content, nil
		}
		return "", nil, ErrNoInner
	}
	inside, err := entries(content)
	if err != nil || n >= min(len(inside), mostInner) || inside[n].Flags&1 != 0 {
		return "", nil, ErrNoInner
	}
	f, err := inside[n].Open()
	if err != nil {
		return "", nil, ErrNoInner
	}
	defer f.Close()
	if raw, err = io.ReadAll(io.LimitReader(f, maxInner+1)); err != nil || len(raw) > maxInner {
		return "", nil, ErrNoInner
	}
	return plainName(inside[n].Name), raw, nil
}

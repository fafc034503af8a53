// Package upload keeps the bytes of uploaded files in a folder and tells what
// they hold: by their content and never by their names.
package upload

import (
	"errors"
	"fmt"
	"image"
	_ "image/gif" // pictures that are measured and drawn small
	_ "image/jpeg"
	_ "image/png"
	"io"
	"os"
	"path/filepath"
	"regexp"
	"time"

	"github.com/gabriel-vasile/mimetype"
	_ "golang.org/x/image/webp"
)

// A Folder keeps files under the random names that it is given.
type Folder struct{ Path string }

var (
	// ErrName is returned for a name that no upload has.
	ErrName = errors.New("no name of an upload")
	// ErrOffset is returned when bytes are not the next ones.
	ErrOffset = errors.New("these are not the next bytes of the upload")
	// ErrTooMuch is returned when more bytes come than were announced.
	ErrTooMuch = errors.New("more bytes than were announced")
)

var nameForm = regexp.MustCompile(`^[A-Za-z0-9_-]{22}$`)

func (f Folder) file(name string) (string, error) {
	if !nameForm.MatchString(name) {
		return "", ErrName
	}
	return filepath.Join(f.Path, name), nil
}

// Received gives how many bytes of a file have arrived.
func (f Folder) Received(name string) (int64, error) {
	path, err := f.file(name)
	if err != nil {
		return 0, err
	}
	info, err := os.Stat(path)
	if errors.Is(err, os.ErrNotExist) {
		return 0, nil
	}
	if err != nil {
		return 0, err
	}
	return info.Size(), nil
}

// Append writes the next bytes of a file of size bytes, straight from the
// reader to the disk, and gives how many have arrived. What arrived before a
// connection broke is kept.
func (f Folder) Append(name string, offset, size int64, r io.Reader) (int64, error) {
	path, err := f.file(name)
	if err != nil {
		return 0, err
	}
	if err := os.MkdirAll(f.Path, 0o700); err != nil {
		return 0, err
	}
	out, err := os.OpenFile(path, os.O_CREATE|os.O_WRONLY, 0o600)
	if err != nil {
		return 0, err
	}
	defer out.Close()
	have, err := out.Seek(0, io.SeekEnd)
	if err != nil {
		return 0, err
	}
	if have != offset {
		return have, ErrOffset
	}
	n, err := io.Copy(out, io.LimitReader(r, size-have))
	have += n
	if err == nil {
		if extra, _ := io.ReadFull(r, make([]byte, 1)); extra > 0 {
			err = ErrTooMuch
		}
	}
	if have == size && err == nil {
		err = out.Sync()
	}
	return have, errors.Join(err, out.Close())
}

// A Content is what a file holds.
type Content struct {
	Type   string // media type
	Width  int    // pixels, of pictures that can be measured
	Height int
}

// Inspect tells what a file holds.
func (f Folder) Inspect(name string) (Content, error) {
	path, err := f.file(name)
	if err != nil {
		return Content{}, err
	}
	m, err := mimetype.DetectFile(path)
	if err != nil {
		return Content{}, err
	}
	c := Content{Type: mediaType(m.String())}
	in, err := os.Open(path)
	if err != nil {
		return c, err
	}
	defer in.Close()
	if p, _, err := image.DecodeConfig(in); err == nil {
		c.Width, c.Height = p.Width, p.Height
		if _, err := in.Seek(0, io.SeekStart); err == nil && turned(in) {
			c.Width, c.Height = p.Height, p.Width
		}
	}
	return c, nil
}

// Open opens a file for reading.
func (f Folder) Open(name string) (*os.File, error) {
	path, err := f.file(name)
	if err != nil {
		return nil, err
	}
	return os.Open(path)
}

// Remove takes a file away, with what was drawn of it; one that is not there
// is no error.
func (f Folder) Remove(name string) error {
	path, err := f.file(name)
	if err != nil {
		return err
	}
	small, err := filepath.Glob(path + ".*")
	for _, p := range append(small, path) {
		if rerr := os.Remove(p); rerr != nil && !errors.Is(rerr, os.ErrNotExist) {
			err = errors.Join(err, rerr)
		}
	}
	return err
}

// Stale lists the files that were last written before a time.
func (f Folder) Stale(before time.Time) ([]string, error) {
	entries, err := os.ReadDir(f.Path)
	if errors.Is(err, os.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("the folder of uploads: %w", err)
	}
	var names []string
	for _, e := range entries {
		info, err := e.Info()
		if err == nil && nameForm.MatchString(e.Name()) && info.ModTime().Before(before) {
			names = append(names, e.Name())
		}
	}
	return names, nil
}

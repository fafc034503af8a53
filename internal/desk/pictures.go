package desk

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"io"
	"io/fs"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/upload"
)

// Pictures are what products show: those that ship with Ruvo and those that
// the seller adds, which lie in a folder beside the database.
type Pictures struct {
	Shipped fs.FS // may be nil
	Folder  string
}

// The limits of a seller's picture.
const (
	largestPicture = 30 << 20 // bytes
	longestSide    = 1600     // pixels, after it was scaled
)

// List names the pictures, the seller's newest first and then the shipped.
func (p Pictures) List() ([]string, error) {
	names := []string{}
	entries, err := os.ReadDir(p.Folder)
	if err != nil && !errors.Is(err, os.ErrNotExist) {
		return nil, err
	}
	slices.SortFunc(entries, func(a, b os.DirEntry) int {
		x, err1 := a.Info()
		y, err2 := b.Info()
		if err1 != nil || err2 != nil {
			return 0
		}
		return y.ModTime().Compare(x.ModTime())
	})
	for _, e := range entries {
		if question.PictureName(e.Name()) {
			names = append(names, e.Name())
		}
	}
	if p.Shipped == nil {
		return names, nil
	}
	shipped, err := fs.ReadDir(p.Shipped, ".")
	for _, e := range shipped {
		if question.PictureName(e.Name()) && e.Name() != "mark.svg" {
			names = append(names, e.Name())
		}
	}
	return names, err
}

// Pictures lists the pictures that products can show.
func (d *Desk) Pictures(context.Context) ([]string, error) { return d.Shown.List() }

// AddPicture keeps a picture for products to show. It is drawn anew, so that
// what it carries besides the picture is lost, and named by its content, so
// that the same picture is kept once.
func (d *Desk) AddPicture(_ context.Context, body io.Reader, l words.Language) (api.Picture, error) {
	raw, err := io.ReadAll(io.LimitReader(body, largestPicture+1))
	if err != nil {
		return api.Picture{}, err
	}
	if len(raw) > largestPicture {
		return api.Picture{}, problem.Say(http.StatusRequestEntityTooLarge, l, "too_large", nil)
	}
	data, ending, err := upload.Redraw(bytes.NewReader(raw), longestSide)
	if errors.Is(err, upload.ErrPicture) {
		return api.Picture{}, problem.Invalid(l, []api.FieldError{problem.Field(l, "picture", "file_type", words.Params{"types": "JPEG, PNG, WEBP, GIF", "type": l.Say("files.unknown", nil)})})
	}
	if err != nil {
		return api.Picture{}, err
	}
	sum := sha256.Sum256(data)
	name := "own-" + hex.EncodeToString(sum[:8]) + "." + ending
	if err := os.MkdirAll(d.Shown.Folder, 0o700); err != nil {
		return api.Picture{}, err
	}
	path := filepath.Join(d.Shown.Folder, name)
	if err := os.WriteFile(path+".new", data, 0o600); err != nil {
		return api.Picture{}, err
	}
	return api.Picture{Name: name}, os.Rename(path+".new", path)
}

// Own finds a picture that the seller added.
func (p Pictures) Own(name string) (string, bool) {
	return filepath.Join(p.Folder, name), strings.HasPrefix(name, "own-") && question.PictureName(name)
}

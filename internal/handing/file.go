// Package handing serves the files that were handed over, and tends what goes by
// itself with time: acceptance by silence, and files whose time is over.
package handing

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/http"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
	"ruvo/internal/upload"
)

// A File is a file on its way to somebody.
type File struct {
	Name    string
	Type    string
	At      time.Time
	Inline  bool // it is to be shown, not kept
	Content io.ReadSeeker
	Close   func() error
}

// How a file is asked for.
const (
	View      = "view"      // to be shown in a page
	Download  = "download"  // to be kept
	Thumbnail = "thumbnail" // a picture, small
)

// thumbnail is how many pixels the longer side of a small picture has.
const thumbnail = 900

// Open opens a file of a handover as it is asked for. What a page cannot show is only
// ever saved.
func Open(folder upload.Folder, f *store.HandoverFile, as string, l words.Language) (*File, error) {
	if f.GoneAt != nil {
		return nil, problem.Say(http.StatusGone, l, "file_gone", nil)
	}
	shown := apiview.ShownAs(f)
	if as == Thumbnail {
		data, err := folder.Thumbnail(f.Upload, thumbnail, nil)
		if err != nil {
			return nil, problem.Missing(err, l, "no_upload")
		}
		return &File{Name: f.Name, Type: "image/jpeg", Inline: true, Content: bytes.NewReader(data), Close: func() error { return nil }}, nil
	}
	in, err := folder.Open(f.Upload)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, problem.Say(http.StatusGone, l, "file_gone", nil)
	}
	if err != nil {
		return nil, err
	}
	out := &File{Name: upload.CleanName(f.Name), Type: "application/octet-stream", Content: in, Close: in.Close}
	if info, err := in.Stat(); err == nil {
		out.At = info.ModTime()
	}
	if as == View && shown != api.HandedFileShowsOther {
		out.Type, out.Inline = f.Type, true
	}
	return out, nil
}

// Zip packs files while they are read. Those that are gone are left out.
func Zip(folder upload.Folder, files []store.HandoverFile, at time.Time) io.ReadCloser {
	r, w := io.Pipe()
	go func() {
		out := upload.NewPacker(w)
		var err error
		for i := 0; i < len(files) && err == nil; i++ {
			if files[i].GoneAt != nil {
				continue
			}
			if err = pack(out, folder, &files[i], at); errors.Is(err, fs.ErrNotExist) {
				err = nil // it was taken away meanwhile; the others are still of use
			}
		}
		if err == nil {
			err = out.Close()
		}
		w.CloseWithError(err)
	}()
	return r
}

func pack(out *upload.Packer, folder upload.Folder, f *store.HandoverFile, at time.Time) error {
	in, err := folder.Open(f.Upload)
	if err != nil {
		return fmt.Errorf("a file that was handed over: %w", err)
	}
	defer in.Close()
	return out.Put(upload.CleanName(f.Name), at, in)
}

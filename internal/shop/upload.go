package shop

import (
	"context"
	"errors"
	"io"
	"net/http"
	"strings"
	"time"
	"unicode/utf8"

	"ruvo/api"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/limit"
	"ruvo/internal/link"
	"ruvo/internal/problem"
	"ruvo/internal/store"
	"ruvo/internal/upload"
)

// keptUnbound is how long what never became an order is kept: a checkout, an
// upload.
const keptUnbound = 24 * time.Hour

// idleStart is how long an upload may be announced without a byte of it.
const idleStart = 10 * time.Minute

// What strangers may leave here without ever buying: it is swept after a day,
// and must not fill the disk before. Bytes count as they arrive.
const (
	mostLoose            = 20_000
	mostLooseBytes       = 50_000_000_000
	mostSenderLoose      = 600
	mostSenderLooseBytes = 10_000_000_000
	leastRoom            = 500_000_000 // bytes that stay free on the disk
)

// StartUpload makes room for a file. What can be told from its size is told
// before a byte of it is sent.
func (s *Shop) StartUpload(ctx context.Context, start api.UploadStart, l words.Language) (api.Upload, error) {
	var view api.Upload
	name := strings.TrimSpace(start.Name)
	if name == "" || question.Characters(name) > 255 || !utf8.ValidString(name) || strings.ContainsAny(name, "\x00\r\n/\\") {
		return view, problem.Invalid(l, []api.FieldError{problem.Field(l, "name", "longest", words.Params{"most": "255"})})
	}
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		u := store.Upload{ID: link.Secret(), Name: upload.CleanName(name), Size: start.Size, CreatedAt: s.Now().UTC(), Sender: s.Limits.Alias(limit.Sender(ctx))}
		check, err := s.checker(tx, start, l)
		if err != nil {
			return err
		}
		facts := u.Facts()
		if f := check.CheckFile(facts, l); f != nil && f.Code != "file_unfinished" {
			return problem.Invalid(l, []api.FieldError{{Key: "size", Code: f.Code, Message: f.Message(l)}})
		}
		if err := s.roomFor(tx, u.Sender, 1, l); err != nil {
			return err
		}
		view = uploadView(&u)
		return tx.AddUpload(&u)
	})
	return view, err
}

// roomFor refuses what a sender may not leave here any more: so many files, or
// another byte.
func (s *Shop) roomFor(tx *store.Tx, sender string, files int64, l words.Language) error {
	idle := s.Now().Add(-idleStart)
	all, err := tx.LooseUploads(idle)
	if err != nil {
		return err
	}
	var own store.Loose
	if sender != "" {
		if own, err = tx.LooseUploadsOf(sender, idle); err != nil {
			return err
		}
	}
	room, err := s.Uploads.Room()
	switch {
	case err == nil && room < leastRoom:
		return problem.Say(http.StatusInsufficientStorage, l, "storage_full", nil)
	case own.N+files > mostSenderLoose || own.Bytes >= mostSenderLooseBytes:
		return problem.Throttled(l, "many_uploads", idleStart)
	case all.N+files > mostLoose || all.Bytes >= mostLooseBytes:
		p := problem.Say(http.StatusServiceUnavailable, l, "uploads_full", nil)
		p.After = idleStart
		return p
	}
	return nil
}

// checker finds the question that a file is for.
func (s *Shop) checker(tx *store.Tx, start api.UploadStart, l words.Language) (question.FileChecker, error) {
	if start.Edition == nil {
		return freely{}, nil
	}
	e, err := s.Editions.Get(tx, *start.Edition)
	if err != nil {
		return nil, problem.Missing(err, l, "no_product")
	}
	spec, ok := e.Spec(question.Key(start.Question))
	if !ok {
		return freely{}, nil
	}
	if c, ok := spec.(question.FileChecker); ok {
		return c, nil
	}
	return freely{}, nil
}

// freely checks only what holds for every file; the question itself checks
// again when the file is part of its answer.
type freely struct{}

func (freely) CheckFile(f question.File, l words.Language) *question.Fault {
	switch {
	case f.Size <= 0:
		return &question.Fault{Code: "file_empty"}
	case f.Size > question.MostFileMB*1_000_000:
		return &question.Fault{Code: "file_size", Params: words.Params{"most": "2000"}}
	}
	return nil
}

// Upload says how far an upload is, so that it can go on where it stopped.
func (s *Shop) Upload(ctx context.Context, id string, l words.Language) (api.Upload, error) {
	var view api.Upload
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		u, err := s.upload(tx, id, l)
		if err == nil {
			view = uploadView(&u)
		}
		return err
	})
	if err == nil && *view.Type == "" {
		view.Received, err = s.Uploads.Received(id)
	}
	return view, err
}

func (s *Shop) upload(tx *store.Tx, id string, l words.Language) (store.Upload, error) {
	u, err := tx.Upload(id)
	return u, problem.Missing(err, l, "no_upload")
}

// AppendUpload takes the next bytes of a file. The bytes go straight to the
// disk, outside of any transaction; when the file is whole, what it holds is
// told by its content.
func (s *Shop) AppendUpload(ctx context.Context, id string, offset int64, body io.Reader, l words.Language) (api.Upload, error) {
	var u store.Upload
	err := s.Store.Read(ctx, func(tx *store.Tx) (err error) {
		if u, err = s.upload(tx, id, l); err == nil && u.Type == "" && u.OrderID == nil && !u.Desk {
			err = s.roomFor(tx, u.Sender, 0, l)
		}
		return err
	})
	if err != nil {
		return api.Upload{}, err
	}
	if u.Type != "" { // whole already: the last bytes were sent again
		return uploadView(&u), nil
	}
	if _, busy := s.uploading.LoadOrStore(id, true); busy {
		return api.Upload{}, problem.Say(http.StatusConflict, l, "upload_offset", nil)
	}
	defer s.uploading.Delete(id)
	received, err := s.Uploads.Append(id, offset, u.Size, body)
	switch {
	case errors.Is(err, upload.ErrOffset):
		return api.Upload{}, problem.Say(http.StatusConflict, l, "upload_offset", nil)
	case errors.Is(err, upload.ErrTooMuch):
		return api.Upload{}, problem.Say(http.StatusRequestEntityTooLarge, l, "too_large", nil)
	case err != nil && received <= u.Received:
		return api.Upload{}, err
	}
	u.Received = received
	if received < u.Size {
		// What arrived counts, also when the connection broke.
		kept := s.Store.Write(context.WithoutCancel(ctx), func(tx *store.Tx) error { return tx.UploadArrived(&u) })
		return uploadView(&u), errors.Join(err, kept)
	}
	holds, err := s.Uploads.Inspect(id)
	if err != nil {
		return api.Upload{}, err
	}
	u.Type, u.Width, u.Height = holds.Type, holds.Width, holds.Height
	err = s.Store.Write(ctx, func(tx *store.Tx) error { return tx.UploadArrived(&u) })
	return uploadView(&u), err
}

// DropUpload takes a file away that no order has.
func (s *Shop) DropUpload(ctx context.Context, id string, l words.Language) error {
	gone := false
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		u, err := s.upload(tx, id, l)
		if err != nil || u.OrderID != nil {
			return err
		}
		gone = true
		return tx.DropUpload(id)
	})
	if err == nil && gone {
		err = s.Uploads.Remove(id)
	}
	return err
}

// Thumbnail draws an uploaded picture small.
func (s *Shop) Thumbnail(ctx context.Context, id string, l words.Language) ([]byte, error) {
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		_, err := s.upload(tx, id, l)
		return err
	})
	if err != nil {
		return nil, err
	}
	data, err := s.Uploads.Thumbnail(id, 480, nil)
	return data, problem.Missing(err, l, "no_upload")
}

func uploadView(u *store.Upload) api.Upload {
	picture := u.Width > 0
	return api.Upload{Id: u.ID, Name: u.Name, Size: u.Size, Received: u.Received, Type: &u.Type, Width: &u.Width, Height: &u.Height, Picture: picture}
}

// Sweep takes away what never became an order within a day: checkouts with the
// names and addresses in them, and uploads; and passes that open nothing any more.
func (s *Shop) Sweep(ctx context.Context) error {
	if err := s.Store.Write(ctx, func(tx *store.Tx) error { return tx.SweepPasses(s.Now().Add(-passLife)) }); err != nil {
		return err
	}
	if err := s.Store.Write(ctx, func(tx *store.Tx) error { return tx.SweepBaskets(s.Now().Add(-basketLife)) }); err != nil {
		return err
	}
	if err := s.tellRecipients(ctx); err != nil {
		return err
	}
	for {
		n := 0
		err := s.Store.Write(ctx, func(tx *store.Tx) (err error) {
			n, err = tx.SweepCheckouts(s.Now().Add(-keptUnbound), s.Now())
			return err
		})
		if err != nil || n == 0 { // what keeps the one from going does not keep the other
			return errors.Join(err, s.SweepUploads(ctx))
		}
	}
}

// SweepUploads takes away what was never bound to a paid order within a day, and
// what was announced and never came.
func (s *Shop) SweepUploads(ctx context.Context) error {
	before := s.Now().Add(-keptUnbound)
	err := s.Store.Write(ctx, func(tx *store.Tx) error { return tx.SweepUploads(before, s.Now().Add(-idleStart)) })
	if err != nil {
		return err
	}
	stale, err := s.Uploads.Stale(before)
	if err != nil {
		return err
	}
	var gone []string
	err = s.Store.Read(ctx, func(tx *store.Tx) error {
		for _, name := range stale {
			if _, err := tx.Upload(name); errors.Is(err, store.ErrNotFound) {
				gone = append(gone, name)
			} else if err != nil {
				return err
			}
		}
		return nil
	})
	for _, name := range gone {
		err = errors.Join(err, s.Uploads.Remove(name))
	}
	return err
}

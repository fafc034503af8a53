package handing

import (
	"context"
	"errors"
	"time"

	"ruvo/internal/core/handover"
	"ruvo/internal/core/order"
	"ruvo/internal/docket"
	"ruvo/internal/message"
	"ruvo/internal/store"
	"ruvo/internal/upload"
)

// Tending is what a tender needs.
type Tending struct {
	Store    *store.Store
	Editions *docket.Editions
	Uploads  upload.Folder
	Now      func() time.Time
}

// Tend has what nobody answered for long enough accepted, tells customers whose files
// will go, and takes files away whose time is over.
func (t *Tending) Tend(ctx context.Context) error {
	return errors.Join(t.silent(ctx), t.warn(ctx), t.end(ctx))
}

// each does something with handovers that are due for it, each in a transaction of its
// own, so that one that fails holds up no other.
func (t *Tending) each(ctx context.Context, due func(*store.Tx) ([]store.Handover, error), do func(*store.Tx, *docket.Line, *store.Handover) error) error {
	var list []store.Handover
	if err := t.Store.Read(ctx, func(tx *store.Tx) (err error) {
		list, err = due(tx)
		return err
	}); err != nil {
		return err
	}
	var all error
	for _, of := range list {
		all = errors.Join(all, t.Store.Write(ctx, func(tx *store.Tx) error {
			h, err := tx.Handover(of.ID) // it may have been answered meanwhile
			if err != nil {
				return err
			}
			line, err := docket.OpenByID(tx, t.Editions, h.LineID, t.Now())
			if err != nil {
				return err
			}
			return do(tx, line, &h)
		}))
	}
	return all
}

func (t *Tending) silent(ctx context.Context) error {
	now := t.Now()
	return t.each(ctx, func(tx *store.Tx) ([]store.Handover, error) { return tx.SilentHandovers(now) }, func(tx *store.Tx, line *docket.Line, h *store.Handover) error {
		all, err := tx.Handovers(line.Row.ID)
		if err != nil || h.State != handover.Given {
			return err
		}
		h.SilentAt = nil
		if !docket.Latest(h, all) || line.State().Refused(order.Respond) != "" {
			return tx.SaveHandover(h)
		}
		if err := line.Accept(tx, h, "", now); err != nil {
			return err
		}
		return message.WriteSilence(tx, line, now)
	})
}

func (t *Tending) warn(ctx context.Context) error {
	now := t.Now()
	return t.each(ctx, func(tx *store.Tx) ([]store.Handover, error) { return tx.EndingHandovers(now) }, func(tx *store.Tx, line *docket.Line, h *store.Handover) error {
		if h.WarnAt == nil {
			return nil
		}
		h.WarnAt = nil
		if err := tx.SaveHandover(h); err != nil || h.State == handover.Withdrawn || !h.UntilAt.After(now) {
			return err
		}
		return message.WriteEnding(tx, line, h, now)
	})
}

// end takes files away. What is kept of them is that they were there: the row first, so
// that nobody is shown a file that is not there any more.
func (t *Tending) end(ctx context.Context) error {
	var gone []string
	err := t.Store.Write(ctx, func(tx *store.Tx) error {
		files, err := tx.EndedFiles(t.Now())
		if err != nil {
			return err
		}
		for i := range files {
			files[i].GoneAt = store.Time(t.Now())
			if err := tx.SaveHandoverFile(&files[i]); err != nil {
				return err
			}
		}
		for i := range files {
			given, err := tx.FileStillGiven(files[i].Upload)
			if err != nil {
				return err
			}
			if !given {
				gone = append(gone, files[i].Upload)
				if err := tx.ForgetFinished(files[i].Upload); err != nil {
					return err
				}
			}
		}
		return nil
	})
	for _, name := range gone {
		if err == nil {
			err = t.Uploads.Remove(name)
		}
	}
	return err
}

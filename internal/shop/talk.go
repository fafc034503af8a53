package shop

import (
	"context"

	"ruvo/api"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/handing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
	"ruvo/internal/talking"
)

// WriteTalk writes to the seller about an order.
func (s *Shop) WriteTalk(ctx context.Context, secret string, m api.TalkWrite, l words.Language) (api.OrderPage, error) {
	var page api.OrderPage
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, err := s.byLink(tx, secret, l)
		if err != nil {
			return err
		}
		lines, err := docket.Lines(tx, s.Editions, &o, s.Now())
		if err != nil {
			return err
		}
		if _, err := talking.Write(tx, &o, lines, talking.Said{Message: m, Customer: true, Author: o.Name, Language: l}, s.Now()); err != nil {
			return err
		}
		page, err = s.page(tx, o, l)
		return err
	})
	return page, err
}

// TalkFile opens a file that goes with a message.
func (s *Shop) TalkFile(ctx context.Context, secret string, message int64, place int, as string, l words.Language) (*handing.File, error) {
	var f *store.HandoverFile
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		o, err := s.byLink(tx, secret, l)
		if err != nil {
			return err
		}
		t, err := tx.TalkByID(message)
		if err == nil && t.OrderID != o.ID {
			err = store.ErrNotFound
		}
		if err != nil {
			return problem.Missing(err, l, "no_file")
		}
		f, err = talking.FileOf(&t, place, l)
		return err
	})
	if err != nil {
		return nil, err
	}
	return handing.Open(s.Uploads, f, as, l)
}

// talk shows what was written about an order.
func (s *Shop) talk(tx *store.Tx, o *store.Order, lines []*docket.Line) (*[]api.Talk, error) {
	return talking.Views(tx, o.ID, talking.Wording(lines))
}

package shop

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"time"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/atonce"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/docket"
	"ruvo/internal/handing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// goesOn is for how long after a file was begun to be taken a part of it belongs to that.
const goesOn = time.Hour

// gifts gives what the buyer of a line gets at once, and what is newer of it by now.
func (s *Shop) gifts(tx *store.Tx, line *docket.Line) (bought, newer []atonce.Gift, err error) {
	if line.State() != order.Placed || len(line.Edition.AtOnce) == 0 {
		return nil, nil, nil
	}
	for _, g := range line.Edition.AtOnce {
		if g.For(line.Result.Answers) {
			bought = append(bought, g)
		}
	}
	p, err := tx.ProductByID(line.Row.ProductID)
	if err != nil || p.EditionID == nil || *p.EditionID == line.Row.EditionID {
		return bought, nil, err
	}
	e, err := s.Editions.Of(tx, *p.EditionID, line.Order.Currency)
	if err != nil {
		return bought, nil, nil // it is not sold in this currency any more
	}
	return bought, atonce.Newer(bought, e.AtOnce), nil
}

// given shows what is given at once; nil for nothing.
func (s *Shop) given(tx *store.Tx, line *docket.Line) (*[]api.AtOnce, error) {
	bought, newer, err := s.gifts(tx, line)
	if err != nil || len(bought) == 0 {
		return nil, err
	}
	fetchings, err := tx.Fetchings(line.Row.ID)
	if err != nil {
		return nil, err
	}
	var views []api.AtOnce
	for i, list := range [][]atonce.Gift{newer, bought} {
		for _, g := range list {
			v := api.AtOnce{Key: g.Key, Title: g.Title, Text: line.Said(g.Text), Licence: g.Licence, Newer: i == 0, Links: []store.FinishedLink{}, Files: []api.AtOnceFile{}}
			for _, l := range g.Links {
				v.Links = append(v.Links, store.FinishedLink(l))
			}
			until := g.Until(line.Order.Since(), line.Given.Zone)
			if !until.IsZero() {
				last := calendar.DayOf(until.Add(-1).In(line.Given.Zone)).String()
				over := !until.After(s.Now())
				v.Until, v.Over = &last, &over
			}
			for _, f := range g.Files {
				file, err := s.giftFile(tx, f.File, f.Name)
				if err != nil {
					return nil, err
				}
				view := api.AtOnceFile{Upload: f.File, File: apiview.HandedFile(file)}
				if g.Downloads > 0 {
					left := max(g.Downloads-taken(fetchings, f.File), 0)
					view.Left = &left
				}
				v.Files = append(v.Files, view)
			}
			views = append(views, v)
		}
	}
	return &views, nil
}

func taken(fetchings []store.Fetching, upload string) int {
	if i := slices.IndexFunc(fetchings, func(t store.Fetching) bool { return t.Upload == upload }); i >= 0 {
		return fetchings[i].Count
	}
	return 0
}

// giftFile gives a file as files are handed to people; one that is gone says so.
func (s *Shop) giftFile(tx *store.Tx, id, name string) (*store.HandoverFile, error) {
	u, err := tx.DeskUpload(id)
	if errors.Is(err, store.ErrNotFound) {
		return &store.HandoverFile{Upload: id, Name: name, GoneAt: store.Time(s.Now())}, nil
	}
	return &store.HandoverFile{Upload: u.ID, Name: name, Size: u.Size, Type: u.Type, Width: u.Width, Height: u.Height}, err
}

// AtOnceFile opens a file that is given at once, and counts that it was taken: but for a
// small picture of it, and for a further part of one that is being taken.
func (s *Shop) AtOnceFile(ctx context.Context, secret string, id int64, upload, as string, part bool, l words.Language) (*handing.File, error) {
	var f *store.HandoverFile
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, err := s.byLink(tx, secret, l)
		if err != nil {
			return err
		}
		line, err := s.lineOf(tx, &o, id, l)
		if err != nil {
			return err
		}
		bought, newer, err := s.gifts(tx, line)
		if err != nil {
			return err
		}
		all := slices.Concat(newer, bought)
		i := slices.IndexFunc(all, func(g atonce.Gift) bool { return g.Has(upload) })
		if i < 0 {
			return problem.NotFound(l, "no_file")
		}
		g := &all[i]
		name := g.Files[slices.IndexFunc(g.Files, func(x workplan.File) bool { return x.File == upload })].Name
		if f, err = s.giftFile(tx, upload, name); err != nil || as == handing.Thumbnail {
			return err
		}
		if until := g.Until(o.Since(), line.Given.Zone); !until.IsZero() && !until.After(s.Now()) {
			return problem.Say(http.StatusGone, l, "gift_over", nil)
		}
		fetchings, err := tx.Fetchings(line.Row.ID)
		if err != nil {
			return err
		}
		// A part goes on with what was begun a while ago at most; else it begins.
		if part && slices.ContainsFunc(fetchings, func(t store.Fetching) bool { return t.Upload == upload && s.Now().Sub(t.LastAt) < goesOn }) {
			return nil
		}
		if n := taken(fetchings, upload); g.Downloads > 0 && n >= g.Downloads {
			return problem.Say(http.StatusGone, l, "gift_taken", nil)
		}
		if f.GoneAt != nil {
			return nil
		}
		return tx.Took(line.Row.ID, upload, s.Now())
	})
	if err != nil {
		return nil, err
	}
	return handing.Open(s.Uploads, f, as, l)
}

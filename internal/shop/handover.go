package shop

import (
	"context"
	"errors"
	"io"
	"net/http"
	"strconv"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/handover"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/handing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// handed finds a handover of the order that a link leads to. One that was taken back is
// not there.
func (s *Shop) handed(tx *store.Tx, secret string, id int64, l words.Language) (store.Order, store.Handover, *docket.Line, error) {
	o, err := s.byLink(tx, secret, l)
	if err != nil {
		return o, store.Handover{}, nil, err
	}
	h, err := tx.Handover(id)
	var line *docket.Line
	if err == nil {
		line, err = docket.OpenByID(tx, s.Editions, h.LineID, s.Now())
	}
	if errors.Is(err, store.ErrNotFound) || err == nil && (line.Order.ID != o.ID || h.State == handover.Withdrawn) {
		return o, h, nil, problem.NotFound(l, "no_handover")
	}
	return o, h, line, err
}

// AnswerHandover notes that the customer saw a handover, accepts it for them, or asks
// for changes. A round of changes beyond the included ones is made once the customer
// agreed to what it costs, which is then charged.
func (s *Shop) AnswerHandover(ctx context.Context, secret string, id int64, a api.HandoverAnswer, l words.Language) (api.OrderPage, error) {
	var page api.OrderPage
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, h, line, err := s.handed(tx, secret, id, l)
		if err != nil {
			return err
		}
		if a.Action == "open" {
			if h.OpenedAt == nil {
				h.OpenedAt = store.Time(s.Now())
				if err := tx.SaveHandover(&h); err != nil {
					return err
				}
			}
			page, err = s.page(tx, o, l)
			return err
		}
		all, err := tx.Handovers(h.LineID)
		if err != nil {
			return err
		}
		code := line.State().Refused(order.Respond)
		if code == "" {
			code = h.State.Refused(handover.Act(a.Action), h.Asks, docket.Latest(&h, all))
		}
		switch {
		case code != "":
			return problem.Say(http.StatusConflict, l, code, nil)
		case a.Action == "accept":
			err = line.Accept(tx, &h, o.Name, s.Now())
		default:
			err = s.askChanges(tx, line, &h, a, l)
		}
		if err != nil {
			return err
		}
		page, err = s.page(tx, line.Order, l)
		return err
	})
	return page, err
}

func (s *Shop) askChanges(tx *store.Tx, line *docket.Line, h *store.Handover, a api.HandoverAnswer, l words.Language) error {
	files, err := tx.FilesOfHandovers([]int64{h.ID})
	if err != nil {
		return err
	}
	asked, marks, fault := handover.Asked(apiview.Given(a.Words), apiview.Given(a.Marks), func(id int64) bool {
		for i := range files[h.ID] {
			f := &files[h.ID][i]
			shows := apiview.ShownAs(f)
			if f.ID == id && f.GoneAt == nil && (shows == api.HandedFileShowsPicture || shows == api.HandedFileShowsDocument) {
				return true
			}
		}
		return false
	})
	if fault != nil {
		return problem.Invalid(l, []api.FieldError{problem.Field(l, fault.Field, fault.Code, words.Params{"most": strconv.Itoa(handover.Most(fault.Code))})})
	}
	quote := line.Asks(h.Step).Quote(line.Row.Shown[h.Step])
	switch agreed := money.Amount(apiview.Given(a.Agreed)); {
	case quote.None:
		return problem.Say(http.StatusConflict, l, "rounds_none", nil)
	case quote.Price != agreed:
		return problem.Say(http.StatusConflict, l, "round_price", words.Params{"price": l.Money(quote.Price, line.Edition.Currency)})
	}
	if quote.Price > 0 {
		settled, err := s.revising().Settled(tx, line)
		if err != nil {
			return err
		}
		if settled {
			return problem.Say(http.StatusConflict, l, "rounds_settled", nil)
		}
	}
	before := line.Order.Slip
	r := &store.ChangeRequest{HandoverID: h.ID, LineID: line.Row.ID, Step: h.Step, At: s.Now().UTC(), Words: asked, Marks: marks, Price: quote.Price}
	if err := line.AskChanges(tx, s.Editions, h, r, s.Now()); err != nil {
		return err
	}
	if line.Order.Slip.Total == before.Total {
		return nil
	}
	return docket.Repriced(tx, &line.Order, before, "", s.Now())
}

// HandedFile opens a file that was handed over with the order that a link leads to, and
// notes that the customer looked at it or saved it.
func (s *Shop) HandedFile(ctx context.Context, secret string, id int64, as string, part bool, l words.Language) (*handing.File, error) {
	var f store.HandoverFile
	note := as != handing.Thumbnail && !part
	find := func(tx *store.Tx) error {
		var err error
		if f, err = tx.HandoverFile(id); err != nil {
			if _, lerr := s.byLink(tx, secret, l); lerr != nil { // what a link opens is told before what there is
				return lerr
			}
			return problem.Missing(err, l, "no_file")
		}
		if _, _, _, err := s.handed(tx, secret, f.HandoverID, l); err != nil || !note || f.GoneAt != nil {
			return err
		}
		if as == handing.Download {
			f.Downloads++
			f.DownloadedAt = store.Time(s.Now())
		} else if f.OpenedAt == nil {
			f.OpenedAt = store.Time(s.Now())
		} else {
			return nil
		}
		return tx.SaveHandoverFile(&f)
	}
	var err error
	if note {
		err = s.Store.Write(ctx, find)
	} else {
		err = s.Store.Read(ctx, find)
	}
	if err != nil {
		return nil, err
	}
	return handing.Open(s.Uploads, &f, as, l)
}

// HandedFiles packs all files of a handover into one, and tells how many bytes they have.
func (s *Shop) HandedFiles(ctx context.Context, secret string, id int64, l words.Language) (name string, size int64, body io.ReadCloser, err error) {
	var files []store.HandoverFile
	err = s.Store.Write(ctx, func(tx *store.Tx) error {
		o, h, _, err := s.handed(tx, secret, id, l)
		if err != nil {
			return err
		}
		of, err := tx.FilesOfHandovers([]int64{h.ID})
		files, name = of[h.ID], strconv.FormatInt(*o.Number, 10)+".zip"
		there := 0
		for i := range files {
			if err == nil && files[i].GoneAt == nil {
				there++
				size += files[i].Size
				files[i].Downloads++
				files[i].DownloadedAt = store.Time(s.Now())
				err = tx.SaveHandoverFile(&files[i])
			}
		}
		if err == nil && there == 0 {
			err = problem.Say(http.StatusGone, l, "file_gone", nil)
		}
		return err
	})
	if err != nil {
		return "", 0, nil, err
	}
	return name, size, handing.Zip(s.Uploads, files, s.Now()), nil
}

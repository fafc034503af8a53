package desk

import (
	"context"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/handover"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/docket"
	"ruvo/internal/handing"
	"ruvo/internal/message"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

func keyOf(s api.HandoverStep) workplan.StepKey { return workplan.StepKey(s.Key) }

// HandOver gives finished files, links and a message of an order line to its customer,
// who is told by mail. The work that made them is marked done, if that is wished.
func (d *Desk) HandOver(ctx context.Context, id int64, n api.NewHandover, l words.Language) (api.Docket, error) {
	var view api.Docket
	links, err := finishedLinks(apiview.Given(n.Links), l)
	if err != nil {
		return view, err
	}
	err = d.Store.Write(ctx, func(tx *store.Tx) error {
		line, err := d.open(tx, id, l)
		if err != nil {
			return err
		}
		g := docket.Giving{Files: n.Files, Links: links, Step: workplan.StepKey(apiview.Given(n.Step)), Whole: n.Whole, Author: Author(ctx)}
		switch {
		case n.Message != nil:
			g.Message = *n.Message
		case line.Edition.Handover != nil:
			g.Message = line.Edition.Handover.Message
		}
		switch {
		case len(g.Files) > handover.MostFiles:
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "files", "most_files", words.Params{"most": strconv.Itoa(handover.MostFiles)})})
		case len(g.Files) == 0 && len(links) == 0 && strings.TrimSpace(g.Message) == "":
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "files", "handover_empty", nil)})
		}
		if apiview.Given(n.Finish) {
			if err := settle(tx, who(ctx).user.ID, d.Now()); err != nil {
				return err
			}
			if line, err = d.finishFor(ctx, tx, line, g, l); err != nil {
				return err
			}
		}
		h, err := line.Give(tx, g, l, d.Now())
		if err != nil {
			return err
		}
		if err := message.WriteHandover(tx, line, h, d.Now()); err != nil {
			return err
		}
		view, err = d.docket(tx, line, l)
		return err
	})
	return view, err
}

// finishFor marks the work done that a handover is of: that of its step, and with the
// whole all that can be done. Work that waits for something of the customer's stays.
func (d *Desk) finishFor(ctx context.Context, tx *store.Tx, line *docket.Line, g docket.Giving, l words.Language) (*docket.Line, error) {
	for {
		next := slices.IndexFunc(line.Items, func(w store.WorkItem) bool {
			item := w.Plan()
			return w.DoneAt == nil && (g.Whole || w.Step == g.Step) && !item.Waiting()
		})
		if next < 0 {
			return line, nil
		}
		if _, err := d.act(ctx, tx, line.Items[next].ID, string(order.Finish), l); err != nil {
			return nil, err
		}
		var err error
		if line, err = d.open(tx, line.Row.ID, l); err != nil {
			return nil, err
		}
	}
}

// finishedLinks checks links that are handed over.
func finishedLinks(links []store.FinishedLink, l words.Language) ([]store.FinishedLink, error) {
	if len(links) > handover.MostLinks {
		return nil, problem.Invalid(l, []api.FieldError{problem.Field(l, "links", "most_files", words.Params{"most": strconv.Itoa(handover.MostLinks)})})
	}
	tidy := []store.FinishedLink{}
	for _, f := range links {
		f.Title, f.Address = strings.TrimSpace(f.Title), strings.TrimSpace(f.Address)
		at, err := url.Parse(f.Address)
		if err != nil || at.Scheme != "https" && at.Scheme != "http" || at.Host == "" || len(f.Address) > 2000 {
			return nil, problem.Invalid(l, []api.FieldError{problem.Field(l, "links", "link_address", words.Params{"address": f.Address})})
		}
		if question.Characters(f.Title) > 200 {
			return nil, problem.Invalid(l, []api.FieldError{problem.Field(l, "links", "longest", words.Params{"most": "200"})})
		}
		if f.Title == "" {
			f.Title = at.Host
		}
		tidy = append(tidy, f)
	}
	return tidy, nil
}

// ActOnHandover takes a handover back, or notes that the customer accepted it
// otherwise, or takes that back.
func (d *Desk) ActOnHandover(ctx context.Context, id int64, action string, l words.Language) (api.Docket, error) {
	var view api.Docket
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		h, err := tx.Handover(id)
		if err != nil {
			return problem.Missing(err, l, "no_handover")
		}
		line, err := d.open(tx, h.LineID, l)
		if err != nil {
			return err
		}
		all, err := tx.Handovers(h.LineID)
		if err != nil {
			return err
		}
		if code := h.State.Refused(handover.Act(action), h.Asks, docket.Latest(&h, all)); code != "" {
			return problem.Say(http.StatusConflict, l, code, nil)
		}
		switch handover.Act(action) {
		case handover.Accept:
			err = line.Accept(tx, &h, Author(ctx), d.Now())
		case handover.Withdraw:
			err = line.Withdraw(tx, &h, all, d.Now())
		case handover.Reopen:
			err = line.Reopen(tx, &h, d.Now())
		default:
			return problem.NotFound(l, "not_found")
		}
		if err != nil {
			return err
		}
		view, err = d.docket(tx, line, l)
		return err
	})
	return view, err
}

// HandedFile opens a file that was handed over, for the desk to look at.
func (d *Desk) HandedFile(ctx context.Context, id int64, as string, l words.Language) (*handing.File, error) {
	var f store.HandoverFile
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		f, err = tx.HandoverFile(id)
		return problem.Missing(err, l, "no_file")
	})
	if err != nil {
		return nil, err
	}
	return handing.Open(d.Uploads, &f, as, l)
}

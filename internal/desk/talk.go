package desk

import (
	"context"
	"strings"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/merge"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/handing"
	"ruvo/internal/message"
	"ruvo/internal/problem"
	"ruvo/internal/store"
	"ruvo/internal/talking"
)

// Talk writes to the customer about an order, who is told by mail. What they wrote before
// counts as read and answered.
func (d *Desk) Talk(ctx context.Context, id int64, m api.TalkWrite, l words.Language) (api.Docket, error) {
	var view api.Docket
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		line, err := d.open(tx, id, l)
		if err != nil {
			return err
		}
		lines, err := docket.Lines(tx, d.Editions, &line.Order, d.Now())
		if err != nil {
			return err
		}
		t, err := talking.Write(tx, &line.Order, lines, talking.Said{Message: m, Author: Author(ctx), Language: l}, d.Now())
		if err != nil {
			return err
		}
		if err := d.settle(tx, line.Order.ID, true); err != nil {
			return err
		}
		if err := message.WriteTalk(tx, lines, t, d.Now()); err != nil {
			return err
		}
		view, err = d.docket(tx, line, l)
		return err
	})
	return view, err
}

// SettleTalk notes that what a customer wrote was read, or that it needs no answer.
func (d *Desk) SettleTalk(ctx context.Context, id int64, settled bool, l words.Language) error {
	return d.Store.Write(ctx, func(tx *store.Tx) error {
		line, err := d.open(tx, id, l)
		if err != nil {
			return err
		}
		return d.settle(tx, line.Order.ID, settled)
	})
}

func (d *Desk) settle(tx *store.Tx, order int64, settled bool) error {
	if err := tx.ReadTalk(order, true, d.Now()); err != nil || !settled {
		return err
	}
	return tx.SettleTalk(order)
}

// TalkFile opens a file that goes with a message.
func (d *Desk) TalkFile(ctx context.Context, message int64, place int, as string, l words.Language) (*handing.File, error) {
	var f *store.HandoverFile
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		t, err := tx.TalkByID(message)
		if err != nil {
			return problem.Missing(err, l, "no_file")
		}
		f, err = talking.FileOf(&t, place, l)
		return err
	})
	if err != nil {
		return nil, err
	}
	return handing.Open(d.Uploads, f, as, l)
}

// mostOpen bounds what Today shows of what customers wrote and asked for.
const mostOpen = 100

// written fills in what customers wrote and no one answered, and the changes that they ask
// for.
func (d *Desk) written(tx *store.Tx, v *api.Today) error {
	rows, err := tx.Unanswered(mostOpen)
	if err != nil {
		return err
	}
	var talk []api.TalkOpen
	for i := range rows {
		lines, err := d.linesOf(tx, rows[i].OrderID)
		if err != nil {
			return err
		}
		t := api.TalkOpen{Line: lines[0].Row.ID, Number: *lines[0].Order.Number, Customer: lines[0].Order.Name, Talk: talking.View(&rows[i])}
		if rows[i].LineID != 0 {
			t.Line = rows[i].LineID
		}
		if rows[i].Key != "" {
			about := talking.Wording(lines)(rows[i].LineID, rows[i].Key)
			t.Talk.About = &about
		}
		talk = append(talk, t)
	}
	if talk != nil {
		v.Talk = &talk
	}
	open, err := tx.OpenAmendments()
	if err != nil {
		return err
	}
	var amendments []api.AmendmentOpen
	for i := range open {
		line, err := docket.OpenByID(tx, d.Editions, open[i].LineID, d.Now())
		if err != nil {
			return err
		}
		if line.State() != order.Placed {
			continue
		}
		amendments = append(amendments, api.AmendmentOpen{Line: line.Row.ID, Number: *line.Order.Number, Customer: line.Order.Name, Amendment: apiview.Amendment(&open[i], line)})
	}
	if amendments != nil {
		v.Amendments = &amendments
	}
	return nil
}

func (d *Desk) linesOf(tx *store.Tx, id int64) ([]*docket.Line, error) {
	o, err := tx.OrderByID(id)
	if err != nil {
		return nil, err
	}
	return docket.Lines(tx, d.Editions, &o, d.Now())
}

// Replies lists the kept answers, filled for an order line.
func (d *Desk) Replies(ctx context.Context, id int64, l words.Language) ([]api.Reply, error) {
	list := []api.Reply{}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		line, err := d.open(tx, id, l)
		if err != nil {
			return err
		}
		rows, err := tx.Replies()
		for _, r := range rows {
			list = append(list, api.Reply{Id: r.ID, Title: r.Title, Text: r.Text, Filled: line.Said(r.Text)})
		}
		return err
	})
	return list, err
}

// The limits of kept answers.
const mostReplies = 200

// KeepReply keeps an answer to be used again.
func (d *Desk) KeepReply(ctx context.Context, k api.ReplyKeep, l words.Language) error {
	r := store.Reply{ID: apiview.Given(k.Id), Title: strings.TrimSpace(k.Title), Text: strings.TrimSpace(k.Text)}
	var wrong []api.FieldError
	if n := len([]rune(r.Title)); n == 0 || n > 100 {
		wrong = append(wrong, problem.Field(l, "title", "reply_title", nil))
	}
	switch n := len([]rune(r.Text)); {
	case n == 0 || n > 5000:
		wrong = append(wrong, problem.Field(l, "text", "reply_text", nil))
	default:
		if _, err := merge.Parse(r.Text); err != nil {
			wrong = append(wrong, problem.Field(l, "text", "message_fields", nil))
		}
	}
	if len(wrong) > 0 {
		return problem.Invalid(l, wrong)
	}
	return d.Store.Write(ctx, func(tx *store.Tx) error {
		rows, err := tx.Replies()
		if err != nil {
			return err
		}
		known := r.ID == 0
		for i := range rows {
			known = known || rows[i].ID == r.ID
		}
		switch {
		case !known:
			return problem.NotFound(l, "not_found")
		case r.ID == 0 && len(rows) >= mostReplies:
			return problem.Invalid(l, []api.FieldError{problem.Field(l, "title", "list_too_long", words.Params{"most": "200"})})
		}
		return tx.SaveReply(&r)
	})
}

// DropReply takes a kept answer away.
func (d *Desk) DropReply(ctx context.Context, id int64) error {
	return d.Store.Write(ctx, func(tx *store.Tx) error { return tx.DropReply(id) })
}

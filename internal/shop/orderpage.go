package shop

import (
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"net/http"
	"slices"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/transfer"
	"ruvo/internal/core/words"
	"ruvo/internal/crediting"
	"ruvo/internal/docket"
	"ruvo/internal/link"
	"ruvo/internal/message"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// OrderPage shows an order to whoever has its private link. The first opening
// of a link that was mailed shows that the order's address is that person's:
// from then on what belongs to them is kept for their next order.
func (s *Shop) OrderPage(ctx context.Context, secret string, l words.Language) (api.OrderPage, error) {
	var page api.OrderPage
	first := false
	waits := func(tx *store.Tx) (*store.Attempt, error) {
		o, err := s.byLink(tx, secret, l)
		if err != nil {
			return nil, err
		}
		return awaited(tx, o.ID)
	}
	if _, err := s.look(ctx, waits, nil); err != nil {
		return page, err
	}
	err := s.Store.Read(ctx, func(tx *store.Tx) error {
		o, mailed, err := s.letIn(tx, secret, l)
		if err == nil {
			first = mailed && o.ProvenAt == nil
			page, err = s.page(tx, o, l)
		}
		return err
	})
	if err == nil && first {
		// The order is shown all the same; the next opening tries again.
		if err := s.Store.Write(ctx, func(tx *store.Tx) error { return s.prove(tx, secret, l) }); err != nil {
			slog.Warn("an opened mail link was not noted", "order", page.Number, "error", err)
		}
	}
	return page, err
}

func (s *Shop) prove(tx *store.Tx, secret string, l words.Language) error {
	o, _, err := s.letIn(tx, secret, l)
	if err != nil || o.ProvenAt != nil {
		return err
	}
	lines, err := docket.Lines(tx, s.Editions, &o, s.Now())
	if err != nil {
		return err
	}
	for _, line := range lines {
		if err := line.KeepForCustomer(tx, false, s.Now()); err != nil {
			return err
		}
	}
	o.ProvenAt = store.Time(s.Now())
	return tx.SaveProgress(&o)
}

// byLink finds an order by its private link.
func (s *Shop) byLink(tx *store.Tx, secret string, l words.Language) (store.Order, error) {
	o, _, err := s.letIn(tx, secret, l)
	return o, err
}

// letIn finds an order by its private link, and says whether the link was
// mailed to the order's address. A link that is not known, one that was revoked
// and one whose time is over reveal nothing else.
func (s *Shop) letIn(tx *store.Tx, secret string, l words.Language) (o store.Order, mailed bool, err error) {
	row, over, err := s.linkRow(tx, secret, l)
	if err == nil && over {
		err = problem.Say(http.StatusGone, l, "ended_link", nil)
	}
	if err != nil {
		return o, false, err
	}
	o, err = tx.OrderByID(row.OrderID)
	return o, row.Mailed, err
}

// linkRow finds a private link that nobody revoked, and says whether its time is
// over.
func (s *Shop) linkRow(tx *store.Tx, secret string, l words.Language) (row store.Link, over bool, err error) {
	row, err = tx.LinkByHash(link.Hash(secret))
	if err != nil {
		return row, false, problem.Missing(err, l, "no_link")
	}
	if row.RevokedAt != nil {
		return row, false, problem.Say(http.StatusGone, l, "revoked_link", nil)
	}
	b, err := tx.Business()
	return row, row.CreatedAt.Before(b.LinksFrom(s.Now())), err
}

// RenewLink mails a new private link to the order's address, for somebody who
// has one whose time is over. Whoever found an old link learns nothing by it.
func (s *Shop) RenewLink(ctx context.Context, secret string, l words.Language) error {
	return s.Store.Write(ctx, func(tx *store.Tx) error {
		row, over, err := s.linkRow(tx, secret, l)
		if err != nil || !over {
			return err
		}
		o, err := tx.OrderByID(row.OrderID)
		if err != nil {
			return err
		}
		if err := s.mayMail(ctx, o.Email, l); err != nil {
			return err
		}
		lines, err := docket.Lines(tx, s.Editions, &o, s.Now())
		if err != nil {
			return err
		}
		return message.WriteRelink(tx, lines, s.Now())
	})
}

func (s *Shop) page(tx *store.Tx, o store.Order, l words.Language) (api.OrderPage, error) {
	b, err := tx.Business()
	if err != nil {
		return api.OrderPage{}, err
	}
	account, err := tx.Account(o.ID)
	if err != nil {
		return api.OrderPage{}, err
	}
	when, err := apiview.WhenOf(tx, o.ID, s.Now())
	if err != nil {
		return api.OrderPage{}, err
	}
	page := api.OrderPage{
		Business: b.Name, Zone: b.Zone, Today: calendar.DayOf(s.Now().In(b.Location())).String(), Number: *o.Number, Name: o.Name, Email: o.Email, Placed: o.Since(), Slip: o.Slip.In(l), Lines: []api.OrderLine{}, Ways: []api.OrderPageWays{}, Money: apiview.Money(&o, account, when, l),
	}
	page.Money.Ledger = slices.DeleteFunc(page.Money.Ledger, func(e api.LedgerEntry) bool { return e.Kind == api.LedgerEntryKind(ledger.Fee) })
	rows, err := tx.Lines(o.ID)
	if err != nil {
		return page, err
	}
	editions, err := s.editionsOf(tx, rows)
	if err != nil {
		return api.OrderPage{}, err
	}
	for _, w := range takes(&b, editions) {
		page.Ways = append(page.Ways, api.OrderPageWays(w))
	}
	due := page.Money.DueNow
	if o.State == order.Awaiting {
		due = int(ledger.Awaited(account.Entries, o.Slip.Held))
		page.Awaiting = &api.Awaiting{Until: calendar.DayOf(o.HeldUntil.In(b.Location())).String(), Missing: due, Came: page.Money.Paid + page.Money.Held}
	}
	if slices.Contains(page.Ways, api.OrderPageWays(ledger.Transfer)) {
		page.Transfer = transferOf(b, &o, due)
	}
	former, err := apiview.Former(tx, o.ID, l)
	if err != nil {
		return page, err
	}
	page.Former = &former
	if page.Payment, err = s.lastPayment(tx, &o, l); err != nil {
		return page, err
	}
	if err := s.cancels(tx, &o, &page, l); err != nil {
		return page, err
	}
	for _, row := range rows {
		line, err := docket.Open(tx, s.Editions, b, o, row, s.Now())
		if err != nil {
			return page, err
		}
		v, err := s.lineView(tx, line, l)
		if err != nil {
			return page, err
		}
		page.Lines = append(page.Lines, v)
	}
	return page, nil
}

// transferOf says how what is due now is transferred; nil when nothing is, or
// there is no account for it.
func transferOf(b store.Business, o *store.Order, due int) *api.Transfer {
	if due == 0 || !b.Account.Given() {
		return nil
	}
	reference := transfer.Reference(*o.Number)
	v := api.Transfer{Holder: b.Account.Holder, Iban: transfer.Spaced(b.Account.IBAN), Reference: transfer.Spaced(reference), Amount: due}
	if b.Account.BIC != "" {
		v.Bic = &b.Account.BIC
	}
	if b.Account.Note != "" {
		v.Note = &b.Account.Note
	}
	if code, ok := b.Account.Code(money.Amount(due), o.Currency, reference); ok {
		v.Code = &code
	}
	return &v
}

// lastPayment tells what became of the last payment that was begun on an order's
// page; nil when there was none.
func (s *Shop) lastPayment(tx *store.Tx, o *store.Order, l words.Language) (*api.Payment, error) {
	all, err := tx.Attempts(o.ID)
	for _, a := range slices.Backward(all) {
		if a.Purpose == ledger.ToPay {
			v, err := s.paid(tx, o, a, l)
			return &v, err
		}
	}
	return nil, err
}

func (s *Shop) lineView(tx *store.Tx, line *docket.Line, l words.Language) (api.OrderLine, error) {
	p, err := tx.ProductByID(line.Row.ProductID)
	if err != nil {
		return api.OrderLine{}, err
	}
	history, err := apiview.History(tx, line, question.Briefing)
	if err != nil {
		return api.OrderLine{}, err
	}
	v := api.OrderLine{
		Id: line.Row.ID, Version: line.Row.Version, Quantity: line.Row.Quantity, Answers: api.Answers{}, Slip: line.Row.Slip.In(l),
		Page:  apiview.Page(p.Slug, line.Row.EditionID, line.Edition, question.Briefing, line.Given.Language),
		Asked: apiview.AskedViews(line.Edition, &line.Result, line.Given), Brief: api.BriefState(line.Row.Brief),
		Missing: []string{}, Open: []string{}, Locked: []string{}, History: history, Cancelled: line.Row.CancelledAt,
	}
	if v.Vouchers, err = apiview.SoldVouchers(tx, line); err != nil {
		return v, err
	}
	given, err := apiview.Handovers(tx, line, true)
	if err != nil {
		return v, err
	}
	if given != nil {
		v.Handovers = &given
	}
	v.Handed = line.Row.HandedAt
	for _, k := range order.Open(&line.Result) {
		v.Open = append(v.Open, string(k))
	}
	v.Answered, v.Total = order.Counted(&line.Result)
	if day := line.Promised(); day != "" {
		v.Promised = &day
	}
	for _, k := range line.Row.Missing {
		v.Missing = append(v.Missing, string(k))
	}
	v.Asked = slices.DeleteFunc(v.Asked, func(a api.AskedQuestion) bool {
		item, _ := line.Edition.Item(question.Key(a.Key))
		// An answer that does not appear here is still asked for when it is open.
		return item.Moment == question.Desk || item.Asked() && a.Answered && !item.Appears(question.OrderPage)
	})
	movable, err := s.movable(tx, line)
	if err != nil {
		return v, err
	}
	if len(line.With) > 0 {
		v.With = &line.With
	}
	v.Page.Booking = apiview.Booked(line.Edition, &line.Business, s.Now())
	for k, raw := range line.Row.Answers {
		item, ok := line.Edition.Item(question.Key(k))
		if !ok || item.Moment == question.Desk {
			continue
		}
		v.Answers[k] = raw
		if line.Row.ClosedAt != nil || line.State().Refused(order.Answer) != "" || item.Spec.Class() == question.ClassBooking && !movable {
			v.Locked = append(v.Locked, k)
		}
	}
	slices.Sort(v.Locked)
	return v, nil
}

// ChangeAnswers answers or changes questions of an order line. Each change is
// kept in the history, and the line's work is planned again.
//
// A change that changes the price is made once the customer agreed to the total
// that it comes to, where the product lets them; the difference is charged, or
// stands as paid too much.
func (s *Shop) ChangeAnswers(ctx context.Context, secret string, id int64, change api.AnswerChange, l words.Language) (api.OrderPage, error) {
	var page api.OrderPage
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, before, err := s.changed(tx, secret, id, change, l)
		if err != nil {
			return err
		}
		if o.Slip.Total != before.Total {
			switch {
			case change.Agreed == nil:
				return problem.Say(http.StatusConflict, l, "price_differs", nil)
			case money.Amount(*change.Agreed) != o.Slip.Total:
				return problem.Say(http.StatusConflict, l, "price_agreed", nil)
			}
			if err := docket.Repriced(tx, &o, before, "", s.Now()); err != nil {
				return err
			}
		}
		page, err = s.page(tx, o, l)
		return err
	})
	return page, err
}

// errPreview undoes a change that was only tried.
var errPreview = errors.New("only a preview")

// PreviewChange says what an order would cost with other answers, and changes
// nothing.
func (s *Shop) PreviewChange(ctx context.Context, secret string, id int64, change api.AnswerChange, l words.Language) (api.PriceChange, error) {
	var view api.PriceChange
	err := s.Store.Write(ctx, func(tx *store.Tx) error {
		o, before, err := s.changed(tx, secret, id, change, l)
		if err != nil {
			return err
		}
		if o.Slip.Total != before.Total {
			if err := docket.Repriced(tx, &o, before, "", s.Now()); err != nil {
				return err
			}
		}
		account, err := tx.Account(o.ID)
		if err != nil {
			return err
		}
		paid, _ := account.Surplus(o.Slip.Held)
		view = api.PriceChange{Before: before.In(l), After: o.Slip.In(l), Open: int(account.Balance().Open()), Overpaid: int(paid)}
		return errPreview
	})
	if errors.Is(err, errPreview) {
		err = nil
	}
	return view, err
}

// changed changes answers of a line, and gives the order as it is then with the
// slip that it had. What the change does to the price is not settled yet.
func (s *Shop) changed(tx *store.Tx, secret string, id int64, change api.AnswerChange, l words.Language) (store.Order, charge.Slip, error) {
	none := func(err error) (store.Order, charge.Slip, error) { return store.Order{}, charge.Slip{}, err }
	o, mailed, err := s.letIn(tx, secret, l)
	if err != nil {
		return none(err)
	}
	row, err := tx.LineByID(id)
	if errors.Is(err, store.ErrNotFound) || err == nil && row.OrderID != o.ID {
		return none(problem.NotFound(l, "no_line"))
	}
	if err != nil {
		return none(err)
	}
	b, err := tx.Business()
	if err != nil {
		return none(err)
	}
	line, err := docket.Open(tx, s.Editions, b, o, row, s.Now())
	if err != nil {
		return none(err)
	}
	if row.Version != change.Version {
		return none(problem.Say(http.StatusConflict, l, "conflict", nil))
	}
	if err := s.change(tx, line, change.Answers, mailed, l); err != nil {
		return none(err)
	}
	err = s.changeWide(tx, line, change.Answers, mailed, l)
	return line.Order, o.Slip, err
}

// change revises a line as its customer may: not when the brief is closed, not
// a booked time, nothing of the desk's, and nothing that changes what was paid.
func (s *Shop) change(tx *store.Tx, line *docket.Line, change map[string]json.RawMessage, mailed bool, l words.Language) error {
	settled, err := s.settled(tx, line)
	if err != nil {
		return err
	}
	movable, err := s.movable(tx, line)
	if err != nil {
		return err
	}
	before := line.Result
	was, _ := line.Booked()
	err = line.Revise(tx, docket.Revision{
		Answers: change, Author: l.Say("author.customer", nil), Proven: mailed, Language: l, Editions: s.Editions, Files: docket.Files(tx, line.Order.ID),
		Refused: func(item *product.Item) string {
			switch {
			case line.Row.ClosedAt != nil || line.State().Refused(order.Answer) != "":
				return "closed"
			case item == nil || item.Moment == question.Desk:
				return "unknown"
			case item.Spec.Class() == question.ClassBooking && !movable:
				return "booked"
			}
			return ""
		},
		Judged: func(after *evaluate.Result) []question.Fault {
			switch {
			case after.Slip.Total == line.Row.Slip.Total && after.Slip.Held == line.Row.Slip.Held:
				return nil
			case !line.Edition.Reprices && !moves(line, change) || after.Slip.Held != line.Row.Slip.Held:
				return s.dearer(line, change, after, "price_changes")
			case settled:
				return s.dearer(line, change, after, "price_settled")
			}
			return nil
		},
	}, s.Now())
	if err != nil {
		return err
	}
	moved, err := placing.Moved(tx, line, was, s.Now())
	if err != nil {
		return err
	}
	if moved {
		if err := message.WriteMoved(tx, line, was, "", s.Now()); err != nil {
			return err
		}
	}
	short, err := placing.Adjust(tx, &line.Row, line.Edition, &before, &line.Result, line.Order.Name, s.Now())
	if err == nil && len(short) > 0 {
		err = problem.Invalid(l, problem.Fields(l, "", short))
	}
	return err
}

// movable says whether the customer may move what a line books.
func (s *Shop) movable(tx *store.Tx, line *docket.Line) (bool, error) {
	if _, booked := line.Booked(); !booked || line.State().Refused(order.Cancel) != "" {
		return false, nil
	}
	c, err := crediting.Open(tx, s.Editions, &line.Order, s.Now())
	if err != nil {
		return false, err
	}
	return c.Movable(line.Row.ID), nil
}

// LineDays shows on which days, and at which times, what an order line books could
// be instead.
func (s *Shop) LineDays(ctx context.Context, secret string, id int64, asked api.DaysAsked, l words.Language) (api.BookableDays, error) {
	view := api.BookableDays{Days: []api.BookableDay{}}
	a, err := apiview.ReadAsked(asked, l)
	if err != nil {
		return view, err
	}
	err = s.Store.Read(ctx, func(tx *store.Tx) error {
		o, _, err := s.letIn(tx, secret, l)
		if err != nil {
			return err
		}
		line, err := docket.OpenByID(tx, s.Editions, id, s.Now())
		if errors.Is(err, store.ErrNotFound) || err == nil && line.Row.OrderID != o.ID {
			return problem.NotFound(l, "no_line")
		}
		if err != nil {
			return err
		}
		view, err = placing.Days(tx, line, asked, a, s.Now(), l)
		return err
	})
	return view, err
}

// moves says whether a change is of what a line books, and of nothing else.
func moves(line *docket.Line, change map[string]json.RawMessage) bool {
	k, ok := line.Edition.BookingKey()
	_, of := change[string(k)]
	return ok && of && len(change) == 1
}

// settled says that the price of an order cannot change any more: something of
// it was credited, or a payment of it is under way.
func (s *Shop) settled(tx *store.Tx, line *docket.Line) (bool, error) {
	credits, err := tx.Credits(line.Order.ID)
	if err != nil || len(credits) > 0 {
		return true, err
	}
	account, err := tx.Account(line.Order.ID)
	return err == nil && account.Coming() != nil, err
}

// changeWide gives the other lines of the order the answers that belong to
// all of it.
func (s *Shop) changeWide(tx *store.Tx, line *docket.Line, change map[string]json.RawMessage, mailed bool, l words.Language) error {
	rows, err := tx.Lines(line.Order.ID)
	if err != nil {
		return err
	}
	for _, row := range rows {
		if row.ID == line.Row.ID {
			continue
		}
		other, err := docket.Open(tx, s.Editions, line.Business, line.Order, row, s.Now())
		if err != nil {
			return err
		}
		wide := order.Shared(line.Edition, other.Edition, change)
		if len(wide) == 0 {
			continue
		}
		if err := s.change(tx, other, wide, mailed, l); err != nil {
			return err
		}
		line.Order = other.Order
	}
	return nil
}

// dearer says of a change that it would change what was paid, at the keys
// that have a price, or at all of them when the change works from afar.
func (s *Shop) dearer(line *docket.Line, change map[string]json.RawMessage, after *evaluate.Result, code string) []question.Fault {
	l := line.Given.Language
	params := words.Params{"old": l.Money(line.Row.Slip.Total, line.Edition.Currency), "new": l.Money(after.Slip.Total, line.Edition.Currency)}
	var priced, all []question.Fault
	for k := range change {
		f := question.Fault{Key: question.Key(k), Code: code, Params: params}
		all = append(all, f)
		if slices.ContainsFunc(line.Edition.Pricing.Charges, func(r charge.Compiled) bool { return r.On == f.Key }) {
			priced = append(priced, f)
		}
	}
	if len(priced) > 0 {
		return priced
	}
	return all
}

package shop

import (
	"cmp"
	"context"
	"errors"
	"net/http"
	"slices"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/transfer"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/link"
	"ruvo/internal/message"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/revising"
	"ruvo/internal/store"
)

// OrderPage shows an order to whoever has its private link. That a link was opened
// shows nothing: mail programs open them too.
func (s *Shop) OrderPage(ctx context.Context, secret string, l words.Language) (api.OrderPage, error) {
	var page api.OrderPage
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
			page, err = s.page(tx, o, l)
			unproven := mailed && o.ProvenAt == nil
			page.Unproven = &unproven
		}
		return err
	})
	return page, err
}

// Press notes that somebody is at an order's page, who pressed something there: they
// read what the seller wrote, and whoever came by a mailed link shows that the order's
// address is theirs. From then on what belongs to them is kept for their next order.
func (s *Shop) Press(ctx context.Context, secret string, l words.Language) error {
	return s.Store.Write(ctx, func(tx *store.Tx) error {
		o, mailed, err := s.letIn(tx, secret, l)
		if err != nil {
			return err
		}
		if mailed && o.ProvenAt == nil {
			if err := s.prove(tx, o); err != nil {
				return err
			}
		}
		return tx.ReadTalk(o.ID, false, s.Now())
	})
}

func (s *Shop) prove(tx *store.Tx, o store.Order) error {
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
	if err == nil && row.Recipient { // who it is for has a page of their own
		err = store.ErrNotFound
	}
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

// Relink ends the private links of an order and mails a new one to its address, for
// somebody who gave theirs away.
func (s *Shop) Relink(ctx context.Context, secret string, l words.Language) error {
	return s.Store.Write(ctx, func(tx *store.Tx) error {
		o, err := s.byLink(tx, secret, l)
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
		if err := tx.RevokeLinks(o.ID, s.Now()); err != nil {
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
	if page.Terms, err = apiview.TermsOf(tx, &o); err != nil {
		return page, err
	}
	news, err := apiview.News(tx, o.Email)
	if err != nil {
		return page, err
	}
	page.News = &news
	page.Recipient = apiview.Recipient(&o, b.Location())
	if page.Payment, err = s.lastPayment(tx, &o, l); err != nil {
		return page, err
	}
	if err := s.cancels(tx, &o, &page, l); err != nil {
		return page, err
	}
	var lines []*docket.Line
	for _, row := range rows {
		line, err := docket.Open(tx, s.Editions, b, o, row, s.Now())
		if err != nil {
			return page, err
		}
		v, err := s.lineView(tx, line, l)
		if err != nil {
			return page, err
		}
		page.Lines, lines = append(page.Lines, v), append(lines, line)
	}
	page.Talk, err = s.talk(tx, &o, lines)
	return page, err
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
	if v.AtOnce, err = s.given(tx, line); err != nil {
		return v, err
	}
	asked, err := apiview.Things(tx, line, l)
	if err != nil {
		return v, err
	}
	v.Things = &asked
	if v.Amendments, err = apiview.Amendments(tx, line); err != nil {
		return v, err
	}
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
	movable, err := s.revising().Movable(tx, line)
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
		if line.Locked(item.Key) || line.State().Refused(order.Answer) != "" || item.Spec.Class() == question.ClassBooking && !movable {
			v.Locked = append(v.Locked, k)
		}
	}
	slices.Sort(v.Locked)
	s.briefView(tx, &v, line, l)
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
		line, _, err := s.changed(tx, secret, id, change, change.Agreed, l)
		if errors.Is(err, revising.ErrPriced) {
			err = problem.Say(http.StatusConflict, l, "price_differs", nil)
		}
		if err != nil {
			return err
		}
		page, err = s.page(tx, line.Order, l)
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
		line, before, err := s.changed(tx, secret, id, change, revising.Any, l)
		if err != nil {
			return err
		}
		account, err := tx.Account(line.Order.ID)
		if err != nil {
			return err
		}
		view = apiview.PriceChange(&before, &line.Order, account, l)
		return errPreview
	})
	if errors.Is(err, errPreview) {
		err = nil
	}
	return view, err
}

// changed changes answers of a line at a price that was agreed to, and gives the line
// as it is then with the slip that its order had.
func (s *Shop) changed(tx *store.Tx, secret string, id int64, change api.AnswerChange, agreed *int, l words.Language) (*docket.Line, charge.Slip, error) {
	o, mailed, err := s.letIn(tx, secret, l)
	if err != nil {
		return nil, charge.Slip{}, err
	}
	line, err := s.lineOf(tx, &o, id, l)
	if err != nil {
		return nil, charge.Slip{}, err
	}
	if line.Row.Version != change.Version {
		return nil, charge.Slip{}, problem.Say(http.StatusConflict, l, "conflict", nil)
	}
	return line, o.Slip, s.revise(tx, line, revising.Change{Answers: change.Answers, Mailed: mailed, Agreed: agreed}, l)
}

// revise changes answers of a line as its customer may.
func (s *Shop) revise(tx *store.Tx, line *docket.Line, c revising.Change, l words.Language) error {
	c.Author, c.Language = cmp.Or(c.Author, l.Say("author.customer", nil)), l
	return s.revising().Make(tx, line, c)
}

func (s *Shop) revising() revising.Revising {
	return revising.Revising{Editions: s.Editions, Now: s.Now}
}

// lineOf opens a line of an order.
func (s *Shop) lineOf(tx *store.Tx, o *store.Order, id int64, l words.Language) (*docket.Line, error) {
	line, err := docket.OpenByID(tx, s.Editions, id, s.Now())
	if errors.Is(err, store.ErrNotFound) || err == nil && line.Row.OrderID != o.ID {
		return nil, problem.NotFound(l, "no_line")
	}
	return line, err
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
		line, err := s.lineOf(tx, &o, id, l)
		if err != nil {
			return err
		}
		view, err = placing.Days(tx, line, asked, a, s.Now(), l)
		return err
	})
	return view, err
}

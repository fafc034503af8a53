package desk

import (
	"context"
	"fmt"
	"maps"
	"net/http"
	"slices"
	"strconv"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/docket"
	"ruvo/internal/document"
	"ruvo/internal/message"
	"ruvo/internal/problem"
	"ruvo/internal/store"
	"ruvo/internal/talking"
)

// pageOfOrders is how many order lines one request lists.
const pageOfOrders = 100

// Orders lists a page of order lines, counted from 1.
func (d *Desk) Orders(ctx context.Context, asked OrderQuery, page int, l words.Language) (api.OrderList, error) {
	list := api.OrderList{Rows: []api.OrderRow{}, PageSize: pageOfOrders}
	switch {
	case page < 1:
		return list, problem.Invalid(l, []api.FieldError{problem.Field(l, "page", "least", words.Params{"least": "1"})})
	case !slices.Contains(store.LineSorts(), asked.Sort):
		return list, problem.Invalid(l, []api.FieldError{problem.Field(l, "sort", "choice", words.Params{"choices": string(store.ByCustomer + ", " + store.ByPromise)})})
	}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		f, err := asked.filter(tx, l)
		if err != nil {
			return err
		}
		f.Skip, f.Most = (page-1)*pageOfOrders, pageOfOrders+1 // one more tells whether there is more
		b, err := tx.Business()
		if err != nil {
			return err
		}
		rows, err := tx.ListLines(f)
		if err != nil {
			return err
		}
		if list.More = len(rows) > pageOfOrders; list.More {
			rows = rows[:pageOfOrders]
		}
		ids := make([]int64, len(rows))
		for i, r := range rows {
			ids[i] = r.ID
		}
		balances, err := d.balances(tx, rows)
		if err != nil {
			return err
		}
		booked, err := tx.BookingsByLine(ids)
		if err != nil {
			return err
		}
		zone := b.Location()
		for _, r := range rows {
			e, err := d.Editions.Get(tx, r.EditionID)
			if err != nil {
				return err
			}
			v := api.OrderRow{
				Line: r.ID, Number: r.Number, Title: e.Title, Customer: r.Name, Total: int(r.Slip.Total), Currency: string(r.Currency),
				Cancelled: r.State == order.Cancelled, State: r.State, Due: int(balances[r.OrderID].Open()),
				Brief: api.BriefState(r.Brief), Missing: len(r.Missing), Placed: r.Since(), Open: r.OpenItems, Handed: r.HandedAt,
				New: r.SeenAt == nil && r.CancelledAt == nil,
			}
			if asked := slices.ContainsFunc(slices.Collect(maps.Values(r.Shown)), workplan.Shown.Open); asked {
				v.Changes = &asked
			}
			if r.PromisedAt != nil {
				day := apiview.DayString(*r.PromisedAt, zone)
				v.Promised = &day
			}
			if of := booked[r.ID]; len(of) > 0 {
				k := of[0]
				at := apiview.DayString(k.StartAt, zone) + "T" + apiview.Clock(k.StartAt, zone)
				v.Booked = &at
			}
			list.Rows = append(list.Rows, v)
		}
		return nil
	})
	return list, err
}

// Docket shows one order line to the people who do the work.
func (d *Desk) Docket(ctx context.Context, id int64, l words.Language) (api.Docket, error) {
	var view api.Docket
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		line, err := d.open(tx, id, l)
		if err == nil {
			view, err = d.docket(tx, line, l)
		}
		return err
	})
	return view, err
}

// docket gathers what a docket shows: what was answered, what it costs, when it
// is due, the work, and the order's other lines.
func (d *Desk) docket(tx *store.Tx, line *docket.Line, l words.Language) (api.Docket, error) {
	v := api.Docket{
		Version: line.Row.Version, Filled: line.Row.Answers, Line: line.Row.ID, Number: *line.Order.Number, Title: line.Edition.Title,
		Quantity: line.Row.Quantity, Customer: line.Order.Name, Email: line.Order.Email, Placed: line.Order.Since(),
		Currency: string(line.Edition.Currency), Brief: api.BriefState(line.Row.Brief), Reminded: line.Row.RemindedAt,
		Cancelled: line.Row.CancelledAt,
		Slip:      line.Row.Slip.In(l), Siblings: []api.Sibling{}, Phone: order.Phone(line.Edition, &line.Result),
	}
	d.timed(&v, line)
	for _, part := range []func() error{
		func() error { return d.answered(&v, tx, line, l) },
		func() error { return d.priced(&v, tx, line, l) },
		func() (err error) {
			q, err := d.queue(tx.Context())
			if err != nil {
				return err
			}
			if v.Work, err = d.items(tx, line.Business, q, line.Items); err != nil {
				return err
			}
			return d.promised(&v, tx, line, q, l)
		},
		func() error { return d.siblings(&v, tx, line) },
		func() error {
			list, err := apiview.Handovers(tx, line, false)
			hands := handoverLine(line)
			if v.Hands, v.Handed = &hands, line.Row.HandedAt; list != nil {
				v.Handovers = &list
			}
			return err
		},
		func() (err error) {
			v.Amendments, err = apiview.Amendments(tx, line)
			return err
		},
		func() error {
			lines, err := docket.Lines(tx, d.Editions, &line.Order, d.Now())
			if err == nil {
				v.Talk, err = talking.Views(tx, line.Order.ID, talking.Wording(lines))
			}
			return err
		},
		func() (err error) {
			v.Vouchers, err = apiview.SoldVouchers(tx, line)
			return err
		},
		func() error {
			former, err := apiview.Former(tx, line.Order.ID, l)
			v.Former = &former
			return err
		},
		func() error { return d.things(tx, &v, line, l) },
		func() (err error) {
			if v.Terms, err = apiview.TermsOf(tx, &line.Order); err != nil {
				return err
			}
			v.Recipient = apiview.Recipient(&line.Order, line.Business.Location())
			v.Links, err = tx.LinksOf(line.Order.ID, line.Business.LinksFrom(d.Now()))
			return err
		},
	} {
		if err := part(); err != nil {
			return v, err
		}
	}
	return v, nil
}

// answered fills in the product's page, the answers on it with their files, and
// what was changed.
func (d *Desk) answered(v *api.Docket, tx *store.Tx, line *docket.Line, l words.Language) error {
	edition, err := tx.EditionByID(line.Row.EditionID)
	if err != nil {
		return err
	}
	p, err := tx.ProductByID(line.Row.ProductID)
	if err != nil {
		return err
	}
	files, err := d.filesOf(tx, line)
	if err != nil {
		return err
	}
	if v.History, err = apiview.History(tx, line, question.Desk); err != nil {
		return err
	}
	v.Edition = edition.Number
	v.Page = apiview.Page(p.Slug, line.Row.EditionID, line.Edition, question.Desk, l)
	v.Page.Booking = apiview.Booked(line.Edition, &line.Business, d.Now())
	rows, err := tx.BookingsOf(line.Row.ID)
	if err != nil {
		return err
	}
	if len(rows) > 0 && rows[0].Sold {
		list, err := d.bookings(tx, line.Business, rows)
		if err != nil {
			return err
		}
		if v.Booking = &list[0]; len(list) > 1 {
			v.Meetings = &list
		}
	}
	v.Answers = appearing(line, question.OnDocket, answers(line, v.History, files, l))
	v.Answered, v.Total = order.Counted(&line.Result)
	return nil
}

// priced fills in the order's money and what of it is the line's, with what the
// line costs the seller.
func (d *Desk) priced(v *api.Docket, tx *store.Tx, line *docket.Line, l words.Language) error {
	account, err := tx.Account(line.Order.ID)
	if err != nil {
		return err
	}
	whole, err := docket.Whole(tx, d.Editions, &line.Order)
	if err != nil {
		return err
	}
	when, err := apiview.WhenOf(tx, line.Order.ID, d.Now())
	if err != nil {
		return err
	}
	v.Money = apiview.Money(&line.Order, account, when, l)
	share := whole.Shares()[line.Row.Position-1]
	v.Price = int(share.Gross)
	if article := line.Edition.ArticleOf(line.Result.Answers); article != "" {
		v.Article = &article
	}
	if line.Edition.Costed() {
		cost := line.Edition.CostOf(line.Result.Answers, line.Row.Quantity)
		v.Cost, v.Margin = figure(cost), figure(share.Net-cost)
	}
	return nil
}

// timed fills in what is promised and booked.
func (d *Desk) timed(v *api.Docket, line *docket.Line) {
	if day := line.Promised(); day != "" {
		v.Promised = &day
		left := line.Business.Hours().DaysUntil(d.Now(), *line.Row.PromisedAt)
		v.DaysLeft = &left
	}
	if b, ok := line.Booked(); ok {
		zone := line.Business.Location()
		at := apiview.DayString(b.Start, zone) + "T" + apiview.Clock(b.Start, zone)
		v.Booked = &at
	}
}

// siblings fills in the order's other lines, and the wordings of what stands on
// the slip of the whole order.
func (d *Desk) siblings(v *api.Docket, tx *store.Tx, line *docket.Line) error {
	rows, err := tx.Lines(line.Order.ID)
	if err != nil {
		return err
	}
	wordings := map[string]string{}
	for i, r := range rows {
		e, err := d.Editions.Get(tx, r.EditionID)
		if err != nil {
			return err
		}
		for _, l := range r.Slip.Lines {
			if item, ok := e.Item(l.Question); ok {
				wordings[fmt.Sprintf("%d %s", i+1, l.Question)] = item.Wording
			}
		}
		if r.ID == line.Row.ID {
			continue
		}
		s := api.Sibling{Line: r.ID, Title: e.Title, Cancelled: r.CancelledAt}
		v.Siblings = append(v.Siblings, s)
		if r.Position == line.Row.Parent {
			v.Parent = &s
		}
	}
	v.Money.Wordings = &wordings
	return nil
}

// balances gives the balances of the orders of listed lines.
func (d *Desk) balances(tx *store.Tx, rows []store.ListedLine) (map[int64]ledger.Balance, error) {
	ids := make([]int64, len(rows))
	for i, r := range rows {
		ids[i] = r.OrderID
	}
	return tx.Balances(ids)
}

// appearing keeps the answers that appear at a place.
func appearing(line *docket.Line, place question.Place, list []api.DocketAnswer) []api.DocketAnswer {
	return slices.DeleteFunc(list, func(a api.DocketAnswer) bool {
		item, ok := line.Edition.Item(question.Key(a.Key))
		return ok && !item.Appears(place)
	})
}

// answers shows the brief: each question that applies, with what it read
// before its last change after work began.
func answers(line *docket.Line, history []api.Change, files []filed, l words.Language) []api.DocketAnswer {
	views := []api.DocketAnswer{}
	open := order.Open(&line.Result)
	for _, a := range line.Result.Asked {
		// An extra that the customer passed over is no part of the work.
		half := line.HalfSaid(a.Item.Key, l)
		passed := !a.Answered && half == nil && a.Item.Moment != question.Desk && !slices.Contains(open, a.Item.Key)
		if !a.Item.Asked() || passed {
			continue
		}
		v := answer(line, a.Item.Key, l)
		v.Moment, v.Missing = a.Item.Moment, !a.Answered && a.Item.Required
		v.Files, v.Half = fileViews(files, a.Item.Key), half
		// What counts as a change is what was answered before: a first answer
		// after payment is no change.
		for _, h := range history {
			if h.Key == v.Key && h.Old != "" {
				old, at := h.Old, h.At
				v.Old, v.Changed = &old, &at
				break
			}
		}
		views = append(views, v)
	}
	return views
}

// answer shows one answer in the language of the desk, whatever the customer's.
func answer(line *docket.Line, k question.Key, l words.Language) api.DocketAnswer {
	facts := line.Given
	facts.Language = l
	v := api.DocketAnswer{Key: string(k), Wording: line.Wording(k), Words: line.Result.Words(line.Edition, k, facts)}
	item, ok := line.Edition.Item(k)
	if !ok {
		return v
	}
	v.Kind, v.Moment = string(item.Kind), item.Moment
	value, answered := line.Result.Answers[k]
	if !answered {
		return v
	}
	if s, ok := value.(question.Signature); ok && len(s.Strokes) > 0 {
		v.Strokes = &s.Strokes
	}
	if doc, ok := item.Spec.(question.Documented); ok {
		text := document.HTML(doc.Document())
		v.Document = &text
	}
	if c, ok := item.Spec.(question.Coloured); ok {
		if hex := c.Colour(value); hex != "" {
			v.Colour = &hex
		}
	}
	return v
}

// briefActs are what Act does, by their names in the API.
var briefActs = map[string]order.Act{"close": order.Close, "reopen": order.Reopen, "remind": order.Remind, "remind_text": order.Remind, "relink": order.Relink, "end_links": order.Relink, "no_show": order.Fill, "showed": order.Fill}

// Act closes or reopens a brief, reminds the customer of what is missing, or
// replaces the private links, or ends them, or says that nobody came, or did: to a
// meeting of a course, or to what was booked.
func (d *Desk) Act(ctx context.Context, id int64, action string, meeting int, l words.Language) (api.Docket, error) {
	var view api.Docket
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		line, err := d.open(tx, id, l)
		if err != nil {
			return err
		}
		now := d.Now()
		act, ok := briefActs[action]
		if !ok {
			return problem.NotFound(l, "not_found")
		}
		if code := line.State().Refused(act); code != "" {
			return problem.Say(http.StatusConflict, l, code, nil)
		}
		switch action {
		case "close":
			line.Row.ClosedAt = store.Time(now)
		case "reopen":
			line.Row.ClosedAt, line.Row.Reopened = nil, true
		case "remind", "remind_text":
			phone := order.Phone(line.Edition, &line.Result)
			switch {
			case len(line.Row.Missing) == 0:
				return problem.Say(http.StatusConflict, l, "remind_complete", nil)
			case action == "remind":
				err = message.WriteReminder(tx, line, now)
			case phone == "":
				return problem.Say(http.StatusConflict, l, "no_phone", nil)
			default:
				err = message.WriteTextReminder(tx, line, phone, now)
			}
			line.Row.RemindedAt = store.Time(now)
		case "relink":
			if err = tx.RevokeLinks(line.Order.ID, now); err == nil {
				err = message.WriteRelink(tx, []*docket.Line{line}, now)
			}
			if err == nil {
				err = d.log(ctx, tx, linksReplaced, strconv.FormatInt(*line.Order.Number, 10))
			}
		case "no_show", "showed":
			err = noShow(tx, line, meeting, action == "showed", l, now)
		case "end_links":
			if err = tx.RevokeLinks(line.Order.ID, now); err == nil {
				err = d.log(ctx, tx, linksEnded, strconv.FormatInt(*line.Order.Number, 10))
			}
		}
		if err != nil {
			return err
		}
		if err := line.Keep(tx, now); err != nil {
			return err
		}
		view, err = d.docket(tx, line, l)
		return err
	})
	return view, err
}

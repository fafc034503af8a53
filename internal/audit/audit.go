// Package audit computes again what is stored of orders, and tells what does
// not agree.
package audit

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"strconv"
	"time"

	"ruvo/internal/core/agreement"
	"ruvo/internal/core/booking"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/core/stock"
	"ruvo/internal/core/voucher"
	"ruvo/internal/core/words"
	"ruvo/internal/crediting"
	"ruvo/internal/docket"
	"ruvo/internal/store"
)

// A Difference is something stored of an order that cannot be computed again.
// Its words are "check."+Code.
type Difference struct {
	Order  int64 // its number
	Line   int64 // the id of its line; 0 for the whole order
	Code   string
	Params words.Params
}

// Said puts the difference into words.
func (d Difference) Said(l words.Language) string { return l.Say("check."+d.Code, d.Params) }

// Run computes everything that was ordered again from what is stored and
// reports where that differs from what is stored: slip, answers that are
// missing, work, bookings, pieces, coupons, money. It gives the number of order
// lines looked at.
func Run(ctx context.Context, s *store.Store, now time.Time) (lines int, found []Difference, err error) {
	editions := &docket.Editions{}
	err = s.Read(ctx, func(tx *store.Tx) error {
		b, err := tx.Business()
		if err != nil {
			return err
		}
		for last := int64(0); ; {
			orders, err := tx.Ordered(last, 200)
			if err != nil {
				return err
			}
			if len(orders) == 0 {
				more, err := stocks(tx)
				if err != nil {
					return err
				}
				found = append(found, more...)
				if more, err = overlaps(tx, &b); err != nil {
					return err
				}
				found = append(found, more...)
				for code, agree := range map[string]func() (bool, error){"customers": tx.CustomersAgree, "answers": tx.AnswersAgree} {
					if same, err := agree(); err != nil {
						return err
					} else if !same {
						found = append(found, Difference{Code: code})
					}
				}
				return nil
			}
			for i := range orders {
				last = orders[i].ID
				a := auditing{tx: tx, editions: editions, business: b, order: &orders[i], now: now}
				if err := a.run(); err != nil {
					return err
				}
				lines += a.lines
				found = append(found, a.found...)
			}
		}
	})
	return lines, found, err
}

// auditing is one order under the audit.
type auditing struct {
	tx       *store.Tx
	editions *docket.Editions
	business store.Business
	order    *store.Order
	now      time.Time
	lines    int
	found    []Difference
}

func (a *auditing) differs(line int64, code string, p words.Params) {
	number := int64(0)
	if a.order.Number != nil {
		number = *a.order.Number
	}
	a.found = append(a.found, Difference{Order: number, Line: line, Code: code, Params: p})
}

func (a *auditing) run() error {
	o := a.order
	if _, err := a.tx.AgreementText(agreement.Terms, o.TermsVersion); errors.Is(err, store.ErrNotFound) {
		a.differs(0, "terms_text", words.Params{"kept": strconv.Itoa(o.TermsVersion)})
	} else if err != nil {
		return err
	}
	if o.Number == nil || (o.PlacedAt != nil) != o.State.IsPlaced() || (o.State == order.Cancelled) != (o.CancelledAt != nil) {
		a.differs(0, "state", words.Params{"state": string(o.State)})
	}
	rows, err := a.tx.Lines(o.ID)
	if err != nil {
		return err
	}
	var priced []charge.OrderLine
	var rounding money.Rounding
	for i, row := range rows {
		line, err := docket.Open(a.tx, a.editions, a.business, *o, row, a.now)
		if err != nil {
			return err
		}
		if i == 0 {
			rounding = line.Edition.Rounding
		}
		a.lines++
		priced = append(priced, docket.Priced(row.ProductID, line.Edition, &line.Result, row.Quantity, row.Parent))
		if err := a.line(line); err != nil {
			return err
		}
	}
	if len(rows) == 0 {
		a.differs(0, "no_lines", nil)
	} else if again := docket.SlipOf(o, rounding, priced); !again.Agrees(&o.Slip) || o.Total != o.Slip.Total {
		a.differs(0, "order_slip", words.Params{"now": count(again.Total), "kept": count(o.Slip.Total)})
	}
	if err := a.coupons(); err != nil {
		return err
	}
	return a.money()
}

func count[T ~int64 | ~int](n T) string { return strconv.FormatInt(int64(n), 10) }

// line looks at one order line.
func (a *auditing) line(l *docket.Line) error {
	id := l.Row.ID
	if l.Row.Placed != a.order.State.IsPlaced() {
		a.differs(id, "line_unplaced", nil)
	}
	if !l.Result.Slip.Agrees(&l.Row.Slip) {
		a.differs(id, "slip", words.Params{"now": count(l.Result.Slip.Total), "kept": count(l.Row.Slip.Total)})
	}
	if slices.ContainsFunc(l.Result.Faults, func(f question.Fault) bool { return f.Key == "quantity" }) {
		a.differs(id, "quantity", words.Params{"count": count(l.Row.Quantity)})
	}
	if err := a.booking(l); err != nil {
		return err
	}
	if err := a.pieces(l); err != nil || !a.order.State.IsPlaced() {
		return err // it has no brief and no work yet
	}
	if !slices.Equal(l.Result.Brief(l.Edition), l.Row.Missing) {
		a.differs(id, "missing", nil)
	}
	if same, err := l.AnswersAgree(a.tx); err != nil {
		return err
	} else if !same {
		a.differs(id, "line_answers", nil)
	}
	if now := l.Brief(); now != l.Row.Brief {
		a.differs(id, "brief", words.Params{"now": string(now), "kept": string(l.Row.Brief)})
	}
	if d := l.Result.Diff; !d.Empty() {
		a.differs(id, "work", words.Params{"add": count(len(d.Add)), "update": count(len(d.Update)), "drop": count(len(d.Drop))})
	}
	open := 0
	for _, i := range l.Items {
		if i.DoneAt == nil {
			open++
		}
	}
	if open != l.Row.OpenItems {
		a.differs(id, "open_items", words.Params{"now": count(open), "kept": count(l.Row.OpenItems)})
	}
	if !l.PromiseHolds() {
		a.differs(id, "promise", nil)
	}
	if !l.HandedHolds() {
		a.differs(id, "handed", nil)
	}
	return nil
}

// booking looks at the place that a line took.
func (a *auditing) booking(l *docket.Line) error {
	rows, err := a.tx.BookingsOf(l.Row.ID)
	if err != nil {
		return err
	}
	gone := len(rows) == 0
	b, booked := l.Booked()
	switch {
	case l.State() == order.Lapsed: // held for nobody, until it is taken up again
		if !gone && rows[0].Sold {
			a.differs(l.Row.ID, "booking_stays", nil)
		}
	case l.State() == order.Cancelled || !booked:
		if !gone {
			a.differs(l.Row.ID, "booking_stays", nil)
		}
	case !slices.EqualFunc(rows, b.Times(l.Edition.Booking.Ends(b)), func(row store.Booking, m question.Meeting) bool {
		return row.Sold == (l.State() == order.Placed) && row.StartAt.Equal(m.Start) && row.EndAt.Equal(m.End) && row.People == b.People && row.Meetings == b.Of
	}):
		a.differs(l.Row.ID, "booking", nil)
	}
	return nil
}

// pieces looks at what a line holds of what is counted: an order that was
// placed took its pieces and holds none, and one that awaits its transfer holds
// them and took none.
func (a *auditing) pieces(l *docket.Line) error {
	holds, err := a.tx.HoldsOf(&l.Row)
	for _, h := range holds {
		s, serr := a.tx.StockByID(h.StockID)
		if errors.Is(serr, store.ErrNotFound) { // it is counted no longer
			continue
		}
		if serr != nil {
			return serr
		}
		need := stock.Needs(stock.Key{Question: s.Question, Choice: s.Choice}, l.Result.Answers, l.Row.Quantity)
		if h.Taken && l.State() == order.Placed && h.Pieces != need {
			a.differs(l.Row.ID, "pieces_taken", words.Params{"now": count(need), "kept": count(h.Pieces)})
		}
		if !h.Taken && h.Pieces > 0 && l.State() == order.Placed || h.Taken && !a.order.State.IsPlaced() {
			a.differs(l.Row.ID, "pieces", nil)
		}
		if l.State() == order.Awaiting && h.Pieces != need {
			a.differs(l.Row.ID, "pieces_held", words.Params{"now": count(need), "kept": count(h.Pieces)})
		}
	}
	return err
}

// stocks looks at whether what is on hand of everything counted is what its
// changes come to.
func stocks(tx *store.Tx) (found []Difference, err error) {
	all, err := tx.Stocks()
	if err != nil {
		return nil, err
	}
	sums, err := tx.StockSums()
	for _, s := range all {
		if sum := sums[s.ID]; sum != s.Pieces {
			found = append(found, Difference{Code: "stock", Params: words.Params{"stock": count(s.ID), "now": count(sum), "kept": count(s.Pieces)}})
		}
	}
	return found, err
}

// overlaps looks whether anything is taken twice: a person, a room, a thing beyond its
// number, or the time of a product that each booking has for itself.
func overlaps(tx *store.Tx, b *store.Business) (found []Difference, err error) {
	resources, products, err := tx.AllTaken()
	if err != nil {
		return nil, err
	}
	look := func(list []store.LineTaken, number int) {
		taken := make([]booking.Taken, len(list))
		for i := range list {
			taken[i] = list[i].Taken
		}
		for _, i := range booking.Overlaps(taken, number) {
			found = append(found, Difference{Line: list[i].Line, Code: "overlap"})
		}
	}
	for _, r := range b.Resources {
		look(resources[r.ID], max(r.Number, 1))
	}
	for _, list := range products {
		look(slices.DeleteFunc(list, func(t store.LineTaken) bool { return !t.Private }), 1)
	}
	return found, nil
}

// coupons looks at whether the uses that are counted are those of the order.
func (a *auditing) coupons() error {
	n, err := a.tx.CouponsTaken(a.order.ID)
	want := 0
	if a.order.State == order.Placed {
		want = len(a.order.Coupons)
	}
	if err == nil && n != want {
		a.differs(0, "coupons", words.Params{"now": count(want), "kept": count(n)})
	}
	return err
}

// money looks at the order's ledger.
func (a *auditing) money() error {
	account, err := a.tx.Account(a.order.ID)
	if err != nil {
		return err
	}
	if code := account.Overdrawn(); code != "" {
		a.differs(0, code, nil)
	}
	var charged, fell money.Amount
	for _, e := range account.Entries {
		switch {
		case e.Kind != ledger.Charged:
		case e.Reason == ledger.Cancelling || e.Reason == ledger.Returning:
			fell -= e.Amount
		default:
			charged += e.Amount
		}
	}
	want := a.order.Slip.Total
	if a.order.State == order.Lapsed {
		want = 0
	}
	if charged != want {
		a.differs(0, "charged", words.Params{"now": count(want), "kept": count(charged)})
	}
	booked, err := a.tx.BookedAmount(a.order.ID)
	if err != nil {
		return err
	}
	var came money.Amount
	for _, e := range account.Entries {
		if e.Way == ledger.Transfer && (e.Kind == ledger.Paid || e.Kind == ledger.Held) {
			came += e.Amount
		}
	}
	if booked > came {
		a.differs(0, "transfers", words.Params{"now": count(booked), "kept": count(came)})
	}
	entries, err := a.tx.VoucherEntriesOf(a.order.ID)
	if err != nil {
		return err
	}
	var vouched money.Amount
	for _, e := range entries {
		switch e.Kind {
		case voucher.Used:
			vouched += e.Amount
		case voucher.Returned:
			vouched -= e.Amount
		}
	}
	if kept := ledger.Vouched(account.Entries); kept != vouched {
		a.differs(0, "vouchers", words.Params{"now": count(vouched), "kept": count(kept)})
	}
	listed, err := a.tx.ListedOpen(a.order.ID)
	if err != nil {
		return err
	}
	if open := account.Balance().Open(); open != listed {
		a.differs(0, "open", words.Params{"now": count(open), "kept": count(listed)})
	}
	if a.order.State == order.Awaiting && ledger.Awaited(account.Entries, a.order.Slip.Held) == 0 {
		a.differs(0, "not_placed", nil)
	}
	return a.credits(fell)
}

// credits computes the order's credits again. Orders that were cancelled before
// there were any have none.
func (a *auditing) credits(fell money.Amount) error {
	c, err := crediting.Open(a.tx, a.editions, a.order, a.now)
	if err != nil {
		return err
	}
	if len(c.Before) == 0 {
		if fell != 0 && a.order.State != order.Cancelled {
			a.differs(0, "charge_fell", nil)
		}
		return nil
	}
	whole, err := docket.Whole(a.tx, a.editions, a.order)
	if err != nil {
		return err
	}
	var before []charge.Credit
	var sum money.Amount
	for _, row := range c.Before {
		off := map[int]money.Amount{}
		for _, p := range row.Credit.Parts {
			off[p.Of] += p.Gross
		}
		if again := whole.Credited(before).Credit(off); shown(again) != shown(row.Credit) || row.Total != row.Credit.Total {
			a.differs(0, "credit", words.Params{"now": count(again.Total), "kept": count(row.Total)})
		}
		before, sum = append(before, row.Credit), sum+row.Total
	}
	if sum != fell {
		a.differs(0, "credits", words.Params{"now": count(sum), "kept": count(fell)})
	}
	return nil
}

// shown gives a credit as it is written down, so that two can be compared.
func shown(c charge.Credit) string {
	raw, _ := json.Marshal(c)
	return string(raw)
}

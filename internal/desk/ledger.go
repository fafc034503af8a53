package desk

import (
	"context"
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/crediting"
	"ruvo/internal/message"
	"ruvo/internal/placing"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// The moves of money that the desk makes.
const (
	moveCancel  = "cancel"  // the order, and what goes back with it
	moveRelease = "release" // the security deposit
	moveReturn  = "return"  // what was paid too much
	moveReceive = "receive" // the rest came in by other means than a card
)

var moveEvents = map[string]event{moveCancel: orderCancelled, moveRelease: depositReleased, moveReturn: moneyReturned, moveReceive: moneyReceived}

var moveActs = map[string]order.Act{moveCancel: order.Cancel, moveRelease: order.Release, moveReturn: order.Return, moveReceive: order.Receive}

// MoveMoney cancels an order or lines of it, gives back what was paid or the
// security deposit, or notes that money came in by other means than a card.
//
// What goes back is noted as an attempt together with all else, before the
// payment service is asked; so two people, a doubled click or an end of the
// process in between give nothing back twice, and what the service did not
// answer is asked about again.
func (d *Desk) MoveMoney(ctx context.Context, number int64, move string, how api.MoneyMove, author string, l words.Language) (api.OrderMoney, error) {
	if err := d.leavePayment(ctx, number, l); err != nil {
		return api.OrderMoney{}, err
	}
	var id int64
	var back []store.Attempt
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		m, err := d.moving(tx, number, move, author, l)
		if err != nil {
			return err
		}
		id = m.order.ID
		if m.account.Coming() != nil {
			return problem.Say(http.StatusConflict, l, order.WhilePaying, nil)
		}
		if back, err = m.move(move, how); err != nil {
			return err
		}
		return d.log(ctx, tx, moveEvents[move], strconv.FormatInt(number, 10))
	})
	if err != nil {
		return api.OrderMoney{}, err
	}
	for _, a := range back {
		if _, err := d.Attempts.Return(ctx, a); err != nil {
			return api.OrderMoney{}, err
		}
	}
	return d.money(ctx, id, l)
}

// moving opens an order to move its money; it says what stands against it.
func (d *Desk) moving(tx *store.Tx, number int64, move, author string, l words.Language) (*moving, error) {
	act, ok := moveActs[move]
	if !ok {
		return nil, problem.NotFound(l, "not_found")
	}
	o, err := d.order(tx, number, l)
	if err != nil {
		return nil, err
	}
	if code := o.State.Refused(act); code != "" {
		return nil, problem.Say(http.StatusConflict, l, code, nil)
	}
	account, err := tx.Account(o.ID)
	if err != nil {
		return nil, err
	}
	b, err := tx.Business()
	return &moving{Desk: d, tx: tx, order: &o, account: account, zone: b.Location(), author: author, language: l}, err
}

// money shows the money of an order as it is now.
func (d *Desk) money(ctx context.Context, id int64, l words.Language) (api.OrderMoney, error) {
	var view api.OrderMoney
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		o, err := tx.OrderByID(id)
		if err != nil {
			return err
		}
		account, err := tx.Account(id)
		if err != nil {
			return err
		}
		when, err := apiview.WhenOf(tx, id, d.Now())
		view = apiview.Money(&o, account, when, l)
		return err
	})
	return view, err
}

func (d *Desk) order(tx *store.Tx, number int64, l words.Language) (store.Order, error) {
	o, err := tx.OrderByNumber(number)
	return o, problem.Missing(err, l, "no_order")
}

// leavePayment gives up a payment of the rest that waits for the customer's
// word: the desk does not wait for it.
func (d *Desk) leavePayment(ctx context.Context, number int64, l words.Language) error {
	var all []store.Attempt
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		o, err := d.order(tx, number, l)
		if err == nil {
			all, err = tx.Attempts(o.ID)
		}
		return err
	})
	for _, a := range all {
		if err == nil && a.State == ledger.Confirm && d.Attempts.GiveUp(ctx, a) != nil {
			err = problem.Say(http.StatusConflict, l, order.WhilePaying, nil)
		}
	}
	return err
}

// moving is one move of an order's money, inside its transaction.
type moving struct {
	*Desk
	tx       *store.Tx
	order    *store.Order
	account  *ledger.Account
	zone     *time.Location
	author   string
	language words.Language
}

// move keeps what is decided, and gives the attempts that are to be made.
func (m *moving) move(move string, how api.MoneyMove) ([]store.Attempt, error) {
	by, err := m.by(how)
	if err != nil {
		return nil, err
	}
	switch move {
	case moveReceive:
		return nil, m.receive(how, by)
	case moveRelease:
		_, held := m.account.Surplus(0)
		if held == 0 {
			return nil, m.nothing()
		}
		return m.back(ledger.ToRelease, held, by)
	case moveReturn:
		return m.giveBack(how, by)
	}
	return m.cancel(how, by)
}

// by is how money moves that a person at the desk notes or asks for.
type by struct {
	way  ledger.Way // Card to ask the payment service
	at   time.Time
	note string
	part bool // as much as came in by card, which may be nothing
}

const longestNote = 500 // characters

// by reads the way, the day and the note of a move.
func (m *moving) by(how api.MoneyMove) (by, error) {
	b := by{way: ledger.Card, at: m.Now()}
	var wrong []api.FieldError
	add := func(key, code string) { wrong = append(wrong, problem.Field(m.language, key, code, nil)) }
	if how.Way != nil {
		if b.way = ledger.Way(*how.Way); b.way != ledger.Card && !slices.Contains(ledger.ByHand(), b.way) {
			add("way", "money_way")
		}
	}
	if how.Note != nil {
		if b.note = strings.TrimSpace(*how.Note); utf8.RuneCountInString(b.note) > longestNote {
			add("note", "money_note")
		}
	}
	if how.Day != nil && *how.Day != "" {
		day, err := calendar.ParseDay(*how.Day)
		switch today := calendar.DayOf(b.at.In(m.zone)); {
		case err != nil, day.After(today), day.Before(calendar.DayOf(m.order.PlacedAt.In(m.zone))):
			add("day", "money_day")
		case day != today:
			b.at = day.At(12*60, m.zone)
		}
	}
	if how.Amount != nil && (*how.Amount <= 0 || money.Amount(*how.Amount) > money.Largest) {
		add("amount", "money_amount")
	}
	if len(wrong) > 0 {
		return b, problem.Invalid(m.language, wrong)
	}
	return b, nil
}

// receive notes that money came in by other means than a card. What is more than
// is asked for stands as paid too much.
func (m *moving) receive(how api.MoneyMove, b by) error {
	amount := m.account.Balance().Open()
	if how.Amount != nil {
		amount = money.Amount(*how.Amount)
	}
	if amount == 0 {
		return m.nothing()
	}
	if b.way == ledger.Card {
		b.way = ledger.Hand
	}
	return m.add(ledger.Entry{Kind: ledger.Paid, Amount: amount, At: b.at, Way: b.way, Author: m.author, Note: b.note})
}

// giveBack gives back what was paid too much; or an amount or lines, which are
// then no longer charged. It is never more than was paid.
func (m *moving) giveBack(how api.MoneyMove, b by) ([]store.Attempt, error) {
	if how.Amount == nil && how.Lines == nil {
		surplus, _ := m.account.Surplus(0)
		if surplus == 0 {
			return nil, m.nothing()
		}
		return m.back(ledger.ToReturn, surplus, b)
	}
	if b.note == "" {
		return nil, problem.Invalid(m.language, []api.FieldError{problem.Field(m.language, "note", "money_why", nil)})
	}
	c, credit, err := m.credit(how)
	if err != nil {
		return nil, err
	}
	if most := m.account.Returnable(); credit.Total > most {
		return nil, m.tooMuch("more_than_paid", most)
	}
	if credit.Total == 0 {
		return nil, m.nothing()
	}
	if err := c.Keep(m.tx, credit, ledger.Returning, nil, m.author, b.note); err != nil {
		return nil, err
	}
	return m.back(ledger.ToReturn, credit.Total, b)
}

func (m *moving) tooMuch(code string, most money.Amount) error {
	return problem.Invalid(m.language, []api.FieldError{problem.Field(m.language, "amount", code, words.Params{"most": m.language.Amount(most, m.order.Currency)})})
}

// credit reckons what an amount, or lines, come to by line and tax.
func (m *moving) credit(how api.MoneyMove) (*crediting.Order, charge.Credit, error) {
	c, err := crediting.Open(m.tx, m.Editions, m.order, m.Now())
	if err != nil {
		return nil, charge.Credit{}, err
	}
	if how.Lines == nil {
		amount := money.Amount(*how.Amount)
		if amount > c.Total() {
			return nil, charge.Credit{}, m.tooMuch("more_than_charged", c.Total())
		}
		return c, c.Credit(c.Spread(amount)), nil
	}
	off := map[int]money.Amount{}
	var sum money.Amount
	for i, l := range c.Lines {
		if slices.Contains(*how.Lines, l.Row.ID) {
			off[i+1] = c.Left(i + 1)
			sum += off[i+1]
		}
	}
	if how.Amount != nil { // an amount off these lines
		amount := money.Amount(*how.Amount)
		if amount > sum {
			return nil, charge.Credit{}, m.tooMuch("more_than_charged", sum)
		}
		of, weights := slices.Sorted(maps.Keys(off)), []int64{}
		for _, i := range of {
			weights = append(weights, int64(max(off[i], 0)))
		}
		for k, n := range money.Split(amount, weights) {
			off[of[k]] = n
		}
	}
	return c, c.Credit(off), nil
}

// The ways to reckon what comes back when the seller cancels.
const (
	byRule   = "rule"   // what the rules say
	byAll    = "all"    // all of it
	byKept   = "keep"   // what was paid is kept, and nothing more is asked for
	byAmount = "amount" // an amount
)

// cancelled reckons what cancelling comes to.
func (m *moving) cancelled(c *crediting.Order, ids []int64, how api.MoneyMove) ([]charge.Cancelled, error) {
	kind := byRule
	if how.How != nil {
		kind = string(*how.How)
	}
	all := func(_ int, left money.Amount) *money.Amount { return &left }
	spread := func(amount money.Amount) crediting.Choice {
		var of []int
		var weights []int64
		for _, x := range c.Cancelling(ids, all) {
			if x.Left > 0 {
				of, weights = append(of, x.Of), append(weights, int64(x.Left))
			}
		}
		off := map[int]money.Amount{}
		for i, n := range money.Split(amount, weights) {
			off[of[i]] = n
		}
		return func(of int, _ money.Amount) *money.Amount { n := off[of]; return &n }
	}
	switch kind {
	case byRule:
		return c.Cancelling(ids, nil), nil
	case byAll:
		return c.Cancelling(ids, all), nil
	case byKept:
		return c.Cancelling(ids, spread(min(m.account.Balance().Open(), total(c.Cancelling(ids, all))))), nil
	}
	if how.Amount == nil {
		return nil, problem.Invalid(m.language, []api.FieldError{problem.Field(m.language, "amount", "required", nil)})
	}
	if most := total(c.Cancelling(ids, all)); money.Amount(*how.Amount) > most {
		return nil, m.tooMuch("more_than_charged", most)
	}
	return c.Cancelling(ids, spread(money.Amount(*how.Amount))), nil
}

func total(list []charge.Cancelled) money.Amount {
	var sum money.Amount
	for _, c := range list {
		sum += c.Off
	}
	return sum
}

// cancel cancels lines of an order, or all that is left of it.
func (m *moving) cancel(how api.MoneyMove, b by) ([]store.Attempt, error) {
	c, err := crediting.Open(m.tx, m.Editions, m.order, m.Now())
	if err != nil {
		return nil, err
	}
	ids, err := m.lines(c, how)
	if err != nil {
		return nil, err
	}
	list, err := m.cancelled(c, ids, how)
	if err != nil {
		return nil, err
	}
	credit := c.Credit(order.Offs(list))
	if err := placing.Cancel(m.tx, m.Editions, m.order, ids, how.Restock != nil && *how.Restock, m.author, m.Now()); err != nil {
		return nil, err
	}
	if err := c.Keep(m.tx, credit, ledger.Cancelling, list, m.author, b.note); err != nil {
		return nil, err
	}
	if m.account, err = m.tx.Account(m.order.ID); err != nil {
		return nil, err
	}
	surplus, held := m.account.Surplus(m.order.State.Deposit(m.order.Slip.Held))
	attempts, err := m.back(ledger.ToReturn, surplus, by{way: ledger.Card, at: b.at, note: b.note, part: true})
	if err != nil {
		return nil, err
	}
	released, err := m.back(ledger.ToRelease, held, by{way: ledger.Card, at: b.at, note: b.note, part: true})
	if err != nil {
		return nil, err
	}
	return append(attempts, released...), message.WriteCancelled(m.tx, c.Those(ids), credit.Total, surplus, m.Now())
}

// lines gives the lines that are to be cancelled: those that are named, with the
// add-ons that belong to them, or all that are left.
func (m *moving) lines(c *crediting.Order, how api.MoneyMove) ([]int64, error) {
	ids := c.Alive()
	if how.Lines != nil {
		ids = c.With(*how.Lines)
	}
	if len(ids) == 0 {
		return nil, m.nothing()
	}
	return ids, nil
}

func (m *moving) nothing() error {
	return problem.Say(http.StatusConflict, m.language, "nothing_open", nil)
}

func (m *moving) add(entries ...ledger.Entry) error {
	m.account.Entries = append(m.account.Entries, entries...)
	return m.tx.AddEntries(m.order, entries, m.zone)
}

// back gives money back: by card it notes attempts, for as much as came in so,
// and leaves the rest to be given back otherwise; by other means it notes that
// this was done.
func (m *moving) back(p ledger.Purpose, amount money.Amount, b by) ([]store.Attempt, error) {
	if amount == 0 {
		return nil, nil
	}
	if b.way != ledger.Card {
		kind := ledger.Returned
		if p == ledger.ToRelease {
			kind = ledger.Released
		}
		return nil, m.add(ledger.Entry{Kind: kind, Amount: amount, At: b.at, Way: b.way, Author: m.author, Note: b.note})
	}
	list, left, err := m.Attempts.Back(m.tx, m.order, p, amount, m.author, b.note)
	if err == nil && left == amount && !b.part {
		return nil, m.tooMuch("not_by_card", 0)
	}
	return list, err
}

// PreviewMove says what giving back or cancelling would come to, and changes
// nothing.
func (d *Desk) PreviewMove(ctx context.Context, number int64, move string, how api.MoneyMove, l words.Language) (api.MovePreview, error) {
	view := api.MovePreview{Lines: []api.CancelledLine{}, Taxes: []charge.Tax{}}
	err := d.Store.Read(ctx, func(tx *store.Tx) error {
		m, err := d.moving(tx, number, move, "", l)
		if err != nil {
			return err
		}
		if _, err := m.by(how); err != nil {
			return err
		}
		var c *crediting.Order
		var credit charge.Credit
		if move == moveCancel {
			if c, err = crediting.Open(tx, d.Editions, m.order, d.Now()); err != nil {
				return err
			}
			ids, err := m.lines(c, how)
			if err != nil {
				return err
			}
			list, err := m.cancelled(c, ids, how)
			if err != nil {
				return err
			}
			view.Lines = apiview.Cancelled(c, list, l)
			credit = c.Credit(order.Offs(list))
			if len(ids) == len(c.Alive()) {
				_, held := m.account.Surplus(0)
				view.Held = int(held)
			}
		} else {
			if c, credit, err = m.credit(how); err != nil {
				return err
			}
			if most := m.account.Returnable(); credit.Total > most {
				return m.tooMuch("more_than_paid", most)
			}
			view.Lines = apiview.Credited(c, credit, l)
		}
		view.Taxes, view.Total = credit.Taxes, int(credit.Total)
		after := m.account.After(credit.Total, move == moveReturn)
		view.ByCard, view.Otherwise, view.Open = int(after.ByCard), int(after.Otherwise), int(after.Open)
		return nil
	})
	return view, err
}

package desk

import (
	"context"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
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
	moveFree    = "free"    // what an order holds that awaits its transfer is given free
	moveAccept  = "accept"  // an order is taken up before its transfer came in
)

var moveEvents = map[string]event{moveCancel: orderCancelled, moveRelease: depositReleased, moveReturn: moneyReturned, moveReceive: moneyReceived, moveFree: orderFreed, moveAccept: orderAccepted}

var moveActs = map[string]order.Act{moveCancel: order.Cancel, moveRelease: order.Release, moveReturn: order.Return, moveReceive: order.Receive, moveFree: order.GiveFree, moveAccept: order.Accept}

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
	case moveFree:
		return nil, placing.Lapse(m.tx, m.Editions, m.order, m.author, false, m.Now())
	case moveAccept:
		return nil, placing.Place(m.tx, m.Editions, m.order, m.Now())
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
		case err != nil, day.After(today), day.Before(calendar.DayOf(m.order.Since().In(m.zone))):
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
// is asked for stands as paid too much. An order that awaited it is placed.
func (m *moving) receive(how api.MoneyMove, b by) error {
	amount := m.account.Balance().Open()
	if m.order.State == order.Awaiting {
		amount = ledger.Awaited(m.account.Entries, m.order.Slip.Held)
	}
	if how.Amount != nil {
		amount = money.Amount(*how.Amount)
	}
	if amount == 0 {
		return m.nothing()
	}
	if b.way == ledger.Card {
		b.way = ledger.Hand
	}
	_, err := placing.Receive(m.tx, m.Editions, m.order, ledger.Entry{Amount: amount, At: b.at, Way: b.way, Author: m.author, Note: b.note}, false, m.Now())
	return err
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

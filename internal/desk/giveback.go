package desk

import (
	"context"
	"maps"
	"slices"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/crediting"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

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
		if how.Amount == nil {
			return nil, charge.Credit{}, problem.Invalid(m.language, []api.FieldError{problem.Field(m.language, "amount", "required", nil)})
		}
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
		view.ByCard, view.ByVoucher, view.Otherwise, view.Open = int(after.ByCard), int(after.ByVoucher), int(after.Otherwise), int(after.Open)
		return nil
	})
	return view, err
}

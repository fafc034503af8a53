package store

import (
	"maps"
	"slices"
	"sync"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
)

// A FigureRow is an order's share of a figure as it is kept. Like entries of a
// ledger they are only added.
type FigureRow struct {
	ID       int64
	OrderID  int64
	Day      string
	Currency money.Currency
	Figure   ledger.Figure
	Percent  string
	Net      money.Amount
	Amount   money.Amount
	N        int
}

// TableName is figures.
func (FigureRow) TableName() string { return "figures" }

// AddFigures keeps an order's shares of figures on the day of an instant.
func (tx *Tx) AddFigures(o *Order, shares []ledger.Share, at time.Time, zone *time.Location) error {
	day := calendar.DayOf(at.In(zone)).String()
	rows := make([][]any, len(shares))
	for i, s := range shares {
		rows[i] = []any{o.ID, day, o.Currency, s.Figure, s.Percent, s.Net, s.Amount, s.N}
	}
	return tx.insert("figures (order_id, day, currency, figure, percent, net, amount, n)", rows)
}

// A DaySum is what entries of one kind and way, or shares of one figure, come to
// on a day.
type DaySum struct {
	Day    string // "2026-11-24"
	What   string // a ledger.Kind or ledger.Figure
	Way    ledger.Way
	Rate   string // of a tax
	Net    money.Amount
	Amount money.Amount
	N      int
}

type dayKey struct {
	currency        money.Currency
	day, what, rate string
	way             ledger.Way
}

// An Unsettled is an order of which something is open, paid too much or held.
type Unsettled struct {
	Currency money.Currency
	Balance  ledger.Balance
	Parts    []ledger.Part
}

// running are sums over all ledgers, kept in memory: entries are only added, so
// sums go on from the last one that was counted, and nobody waits for hundreds
// of thousands to be added up again.
type running struct {
	mu     sync.Mutex
	entry  int64 // the last one that was counted
	figure int64
	days   map[dayKey]DaySum
	open   map[int64]Unsettled
}

type dayRow struct {
	Currency    money.Currency
	Day, What   string
	Way         ledger.Way
	Rate        string
	Net, Amount money.Amount
	N           int
}

// catchUp counts what was added since. It must run in a reading transaction,
// which sees nothing that may still be undone.
func (r *running) catchUp(tx *Tx) error {
	var last struct{ Entry, Figure int64 }
	if err := tx.db.Raw("SELECT COALESCE((SELECT MAX(id) FROM ledger_entries), 0) AS entry, COALESCE((SELECT MAX(id) FROM figures), 0) AS figure").Scan(&last).Error; err != nil {
		return err
	}
	if r.days == nil {
		r.days, r.open = map[dayKey]DaySum{}, map[int64]Unsettled{}
	}
	if last.Figure > r.figure {
		var rows []dayRow
		err := tx.db.Raw(`SELECT currency, day, figure AS what, percent AS rate, SUM(net) AS net, SUM(amount) AS amount, SUM(n) AS n
			FROM figures WHERE id > ? AND id <= ? GROUP BY 1, 2, 3, 4`, r.figure, last.Figure).Scan(&rows).Error
		if err != nil {
			return err
		}
		r.add(rows)
		r.figure = last.Figure
	}
	if last.Entry > r.entry {
		var rows []dayRow
		err := tx.db.Raw(`SELECT currency, day, kind AS what, way, SUM(amount) AS amount, COUNT(*) AS n
			FROM ledger_entries WHERE id > ? AND id <= ? GROUP BY 1, 2, 3, 4`, r.entry, last.Entry).Scan(&rows).Error
		if err != nil {
			return err
		}
		if err := r.balance(tx, last.Entry); err != nil {
			return err
		}
		r.add(rows)
		r.entry = last.Entry
	}
	return nil
}

func (r *running) add(rows []dayRow) {
	for _, row := range rows {
		k := dayKey{row.Currency, row.Day, row.What, row.Rate, row.Way}
		s := r.days[k]
		s.Day, s.What, s.Rate, s.Way = row.Day, row.What, row.Rate, row.Way
		s.Net, s.Amount, s.N = s.Net+row.Net, s.Amount+row.Amount, s.N+row.N
		r.days[k] = s
	}
}

// balance looks at the orders again whose ledgers grew.
func (r *running) balance(tx *Tx, last int64) error {
	const moves = `SUM(CASE kind WHEN 'charged' THEN amount WHEN 'returned' THEN amount WHEN 'waived' THEN -amount WHEN 'paid' THEN -amount ELSE 0 END) <> 0
		OR SUM(CASE kind WHEN 'held' THEN amount WHEN 'released' THEN -amount ELSE 0 END) <> 0`
	var rows []struct {
		OrderID int64
		Open    bool
	}
	err := tx.db.Raw(`SELECT order_id, `+moves+` AS open FROM ledger_entries
		WHERE order_id IN (SELECT order_id FROM ledger_entries WHERE id > ? AND id <= ?) GROUP BY order_id`, r.entry, last).Scan(&rows).Error
	if err != nil {
		return err
	}
	var open []int64
	for _, row := range rows {
		delete(r.open, row.OrderID)
		if row.Open {
			open = append(open, row.OrderID)
		}
	}
	for part := range slices.Chunk(open, 500) {
		entries, err := list[Entry](tx, "order_id, id", "order_id IN ?", part)
		if err != nil {
			return err
		}
		for len(entries) > 0 {
			id := entries[0].OrderID
			n := slices.IndexFunc(entries, func(e Entry) bool { return e.OrderID != id })
			if n < 0 {
				n = len(entries)
			}
			all := ledgerOf(entries[:n])
			r.open[id], entries = Unsettled{entries[0].Currency, ledger.Sum(all), ledger.Parts(all)}, entries[n:]
		}
	}
	return nil
}

// DaySums sums entries and figures of a currency by day, from one day to
// another.
func (tx *Tx) DaySums(c money.Currency, from, to string) ([]DaySum, error) {
	tx.running.mu.Lock()
	defer tx.running.mu.Unlock()
	if err := tx.running.catchUp(tx); err != nil {
		return nil, err
	}
	var list []DaySum
	for k, s := range tx.running.days {
		if k.currency == c && k.day >= from && k.day <= to {
			list = append(list, s)
		}
	}
	return list, nil
}

// Unsettled gives every order of which something is open, paid too much or held.
func (tx *Tx) Unsettled() (map[int64]Unsettled, error) {
	tx.running.mu.Lock()
	defer tx.running.mu.Unlock()
	if err := tx.running.catchUp(tx); err != nil {
		return nil, err
	}
	return maps.Clone(tx.running.open), nil
}

// Unbalanced lists the orders of which something is open, overpaid or held, the
// oldest first, after one.
func (tx *Tx) Unbalanced(after int64, most int) ([]int64, error) {
	tx.running.mu.Lock()
	defer tx.running.mu.Unlock()
	if err := tx.running.catchUp(tx); err != nil {
		return nil, err
	}
	var ids []int64
	for id := range tx.running.open {
		if id > after {
			ids = append(ids, id)
		}
	}
	slices.Sort(ids)
	return ids[:min(len(ids), most)], nil
}

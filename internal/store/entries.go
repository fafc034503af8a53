package store

import (
	"gorm.io/gorm"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
)

// An EntryFilter chooses entries of all ledgers, or shares of a figure. Empty
// fields choose all.
type EntryFilter struct {
	Currency money.Currency
	From, To string // days
	Kinds    []ledger.Kind
	Way      ledger.Way
	Figure   ledger.Figure
	Percent  string
}

// A ListedEntry is an entry, or a share of a figure, with its order.
type ListedEntry struct {
	Entry
	Number   int64
	Customer string
	Line     int64 // the first line of the order
	Figure   ledger.Figure
	Percent  string
	Net      money.Amount
	N        int
}

func (f EntryFilter) apply(db *gorm.DB) *gorm.DB {
	if f.Currency != "" {
		db = db.Where("e.currency = ?", f.Currency)
	}
	if f.From != "" {
		db = db.Where("e.day >= ?", f.From)
	}
	if f.To != "" {
		db = db.Where("e.day <= ?", f.To)
	}
	if f.Figure != "" {
		db = db.Where("e.figure = ?", f.Figure)
		if f.Percent != "" {
			db = db.Where("e.percent = ?", f.Percent)
		}
		return db
	}
	if len(f.Kinds) > 0 {
		db = db.Where("e.kind IN ?", f.Kinds)
	}
	switch f.Way {
	case "":
	case ledger.AnyMoney:
		db = db.Where("e.way <> ?", ledger.Voucher)
	default:
		db = db.Where("e.way = ?", f.Way)
	}
	return db
}

func (f EntryFilter) table() string {
	if f.Figure != "" {
		return "figures e"
	}
	return "ledger_entries e"
}

// ListEntries lists entries, the newest first, from before an id on; 0 begins.
func (tx *Tx) ListEntries(f EntryFilter, before int64, most int) ([]ListedEntry, error) {
	var rows []ListedEntry
	db := f.apply(tx.db.Table(f.table()).Joins("JOIN orders o ON o.id = e.order_id"))
	if before > 0 {
		db = db.Where("e.id < ?", before)
	}
	err := db.Select("e.*, o.number, o.name AS customer, (SELECT MIN(l.id) FROM order_lines l WHERE l.order_id = o.id) AS line").
		Order("e.id DESC").Limit(most).Scan(&rows).Error
	return rows, err
}

// SumEntries adds up what ListEntries lists: how many, and what they come to.
func (tx *Tx) SumEntries(f EntryFilter) (n int, net, amount money.Amount, err error) {
	var sum struct {
		N           int
		Net, Amount money.Amount
	}
	what := "COUNT(*) AS n, COALESCE(SUM(e.amount), 0) AS amount"
	if f.Figure != "" {
		what += ", COALESCE(SUM(e.net), 0) AS net"
	}
	err = f.apply(tx.db.Table(f.table())).Select(what).Scan(&sum).Error
	return sum.N, sum.Net, sum.Amount, err
}

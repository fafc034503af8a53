// Package statement holds what a bank says of transfers, and finds out which
// orders they are of.
package statement

import (
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/money"
)

// A Row is one transfer of a statement.
type Row struct {
	Day       calendar.Day // on which the bank booked it
	Amount    money.Amount // in minor units; below zero when it went out
	Currency  money.Currency
	Payer     string
	Text      string // what the payer wrote
	Reference string // of the creditor, where the statement has a place for it
	Bank      string // the bank's own name for it; empty in tables
	Reversal  bool   // takes an earlier one back
	Identity  string // the same whenever the same transfer is read again
}

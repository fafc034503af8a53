package standin

import (
	"context"
	"errors"
	"testing"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/port"
	"ruvo/internal/store"
	"ruvo/internal/storetest"
)

func open(t *testing.T) *store.Store {
	t.Helper()
	s, err := store.Open(storetest.Folder(t))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

func TestCards(t *testing.T) {
	ctx := context.Background()
	bank := &Cards{Store: open(t)}
	charge := func(attempt, number string, want ledger.State) {
		t.Helper()
		r, err := bank.Charge(ctx, attempt, 100, number)
		if err != nil || r.State != want {
			t.Errorf("%s: %+v, %v", attempt, r, err)
		}
	}
	charge("a", CardWorks, ledger.Settled)
	charge("b", CardDeclined, ledger.Refused)
	charge("c", CardConfirms, ledger.Confirm)
	charge("d", "4242424242424242", ledger.Refused)
	charge("a", CardDeclined, ledger.Settled) // the same attempt keeps its outcome
	confirm := func(attempt string, approve bool, want ledger.State) {
		t.Helper()
		r, err := bank.Confirm(ctx, attempt, approve)
		if err != nil || r.State != want {
			t.Errorf("%s: %+v, %v", attempt, r, err)
		}
	}
	confirm("c", true, ledger.Settled)
	confirm("c", false, ledger.Settled) // too late
	charge("e", CardConfirms, ledger.Confirm)
	confirm("e", false, ledger.Refused)
	confirm("b", true, ledger.Refused) // nothing to confirm
	if _, err := bank.Confirm(ctx, "ghost", true); !errors.Is(err, port.ErrNoAttempt) {
		t.Errorf("%v", err)
	}
	// A no to what never arrived keeps it from arriving later.
	confirm("late", false, ledger.Refused)
	charge("late", CardWorks, ledger.Refused)
	for range 2 { // given back once
		if r, err := bank.Return(ctx, "back", 40); err != nil || r.State != ledger.Settled {
			t.Errorf("%+v, %v", r, err)
		}
	}
	if r, err := bank.Ask(ctx, "c"); err != nil || r.State != ledger.Settled {
		t.Errorf("%+v, %v", r, err)
	}
	if _, err := bank.Ask(ctx, "ghost"); !errors.Is(err, port.ErrNoAttempt) {
		t.Errorf("%v", err)
	}
	if err := bank.Store.Read(ctx, func(tx *store.Tx) error {
		books, err := tx.CardCharges()
		var sum money.Amount
		for _, c := range books {
			if c.Outcome == string(ledger.Settled) {
				sum += c.Amount
			}
		}
		if sum != 100+100-40 {
			t.Errorf("the books come to %d: %+v", sum, books)
		}
		return err
	}); err != nil {
		t.Error(err)
	}
}

package audit

import (
	"context"

	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
	"ruvo/internal/port"
	"ruvo/internal/store"
)

// Service holds the payment service's own list of what it moved against the
// attempts that are settled here, each way. What is still asked about may be on
// the list already, and is no difference.
func Service(ctx context.Context, s *store.Store, list []port.Moved) (found []Difference, err error) {
	err = s.Read(ctx, func(tx *store.Tx) error {
		attempts, err := tx.AllAttempts()
		if err != nil {
			return err
		}
		here := make(map[string]store.AttemptOf, len(attempts))
		for _, a := range attempts {
			here[a.Name] = a
		}
		for _, m := range list {
			a, known := here[m.Attempt]
			delete(here, m.Attempt)
			moved, fee := m.Amount, m.Fee
			if a.Purpose.Back() {
				moved = -moved
			}
			switch p := (words.Params{"attempt": m.Attempt, "amount": count(m.Amount)}); {
			case !known:
				found = append(found, Difference{Code: "service_unknown", Params: p})
			case a.State.Waiting():
			case a.State != ledger.Settled:
				found = append(found, Difference{Order: a.Number, Code: "service_moved", Params: p})
			case moved != a.Amount || fee != a.Fee || m.Currency != "" && m.Currency != a.Currency:
				found = append(found, Difference{Order: a.Number, Code: "service_amount", Params: words.Params{"kept": count(a.Amount), "now": count(moved), "fee": count(fee)}})
			}
		}
		for _, a := range attempts {
			if _, left := here[a.Name]; left && a.State == ledger.Settled {
				found = append(found, Difference{Order: a.Number, Code: "service_missing", Params: words.Params{"attempt": a.Name, "amount": count[money.Amount](a.Amount)}})
			}
		}
		return nil
	})
	return found, err
}

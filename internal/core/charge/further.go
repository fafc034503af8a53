package charge

import "ruvo/internal/core/money"

// Further is rounds of changes beyond those that a price includes, which the customer
// asked for and agreed to pay.
type Further struct {
	Of    string // the step that is done again, in the seller's words
	Count int
	Price money.Amount // of each
}

// further adds what further rounds cost. Nothing is taken off them: they were agreed to
// at their price, after the order.
func (m *making) further() {
	for _, f := range m.Further {
		if f.Count == 0 || f.Price == 0 {
			continue
		}
		line := Line{Part: PartRounds, Label: f.Of, Amount: f.Price.Times(int64(f.Count))}
		line.because(because(Reason{Code: whyRounds, Count: wholes(f.Count)}, f.Price.Exactly()))
		m.add(line)
	}
}

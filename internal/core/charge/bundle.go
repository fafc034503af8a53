package charge

import (
	"slices"

	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// A Bundle is several products together at a price of their own: those that are
// offered with a product, one of each. What their answers add comes on top.
type Bundle struct {
	Price money.Amount `json:"price"`           // of one of each, in minor units
	Label string       `json:"label,omitempty"` // the slip's words
	// Products are those of which there must be one of each; an edition's
	// add-ons.
	Products []int64 `json:"-"`
}

// Validate says what is wrong with it.
func (b *Bundle) Validate() error {
	switch {
	case b == nil:
		return nil
	case b.Price < 0 || b.Price > money.Largest:
		return words.Tell("charge.bundle_price_between")
	case len(b.Label) > 200:
		return words.Tell("charge.limit_label_too_long")
	}
	return nil
}

// bundles takes off what products cost less together, split over them by what
// their own prices are (largest remainder), so that each rate of tax has its
// share.
func (m *totalling) bundles() {
	for i := range m.Lines {
		b := m.Lines[i].Bundle
		if b == nil || len(b.Products) == 0 {
			continue
		}
		sets := -1
		for _, p := range b.Products {
			n := 0
			for k := range m.Lines {
				if m.Lines[k].Of == i+1 && m.Lines[k].Product == p {
					n += m.Lines[k].Quantity
				}
			}
			if sets < 0 || n < sets {
				sets = n
			}
		}
		if sets <= 0 {
			continue
		}
		m.bundle(i, b, sets)
	}
}

// bundle takes off what so many sets of a bundle cost less. The units of a
// product that are in none keep their price.
func (m *totalling) bundle(at int, b *Bundle, sets int) {
	weights := make([]int64, len(m.Lines))
	left := map[int64]int{}
	for _, p := range b.Products {
		left[p] = sets
	}
	var sum money.Amount
	for k := range m.Lines {
		l := &m.Lines[k]
		n := min(left[l.Product], l.Quantity)
		if l.Of != at+1 || n <= 0 || !slices.Contains(b.Products, l.Product) {
			continue
		}
		left[l.Product] -= n
		own := money.Amount(0)
		for _, row := range l.Slip.Lines {
			if row.Part == PartBase {
				own += row.Amount
			}
		}
		own = money.Split(own, []int64{int64(n), int64(l.Quantity - n)})[0]
		own = min(max(own, 0), m.each[k].left)
		weights[k] = int64(own)
		sum += own
	}
	off := min(sum-b.Price.Times(int64(sets)), m.room)
	if off <= 0 {
		return
	}
	shares := money.Split(off, weights)
	for k, s := range shares {
		m.each[k].left -= s
		m.each[k].sum -= s
	}
	m.room -= off
	m.cuts = append(m.cuts, cut{line: len(m.slip.Lines), of: shares})
	m.slip.Lines = append(m.slip.Lines, Line{
		Part: PartBundle, Of: at + 1, Label: b.Label, Amount: -off,
		Reasons: []Reason{{Code: whyBundle, Amount: b.Price.Times(int64(sets)).Fine(), Of: sum.Fine()}},
	})
}

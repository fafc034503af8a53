package earn

import (
	"cmp"
	"slices"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/money"
)

// A Kind is what earnings are told of.
type Kind string

const (
	ByProduct  Kind = "product"
	ByExtra    Kind = "extra"  // what an answer adds to the price, alone
	ByChoice   Kind = "choice" // all of the order lines with it
	ByStep     Kind = "step"   // its share of what is left, by its minutes
	ByCustomer Kind = "customer"
)

// Kinds lists them.
func Kinds() []Kind { return []Kind{ByProduct, ByExtra, ByChoice, ByStep, ByCustomer} }

// Figures are what came in, went out and was worked.
type Figures struct {
	Income   money.Amount // without tax
	Fees     money.Amount // that payment services kept
	Cost     money.Amount
	Minutes  int
	Measured int // of the minutes; the others are as planned
}

// Left gives what is left of the income.
func (f Figures) Left() money.Amount { return f.Income - f.Fees - f.Cost }

// PerHour gives what is left for an hour of work; false without any.
func (f Figures) PerHour() (money.Amount, bool) {
	if f.Minutes == 0 {
		return 0, false
	}
	return money.HalfUp.Round(decimal.NewFromInt(int64(f.Left()) * 60).Div(decimal.NewFromInt(int64(f.Minutes)))), true
}

func (f *Figures) add(o Figures) {
	f.Income += o.Income
	f.Fees += o.Fees
	f.Cost += o.Cost
	f.Minutes += o.Minutes
	f.Measured += o.Measured
}

// A Line is an order line as it earned.
type Line struct {
	ID       int64
	Product  string // by which it is told apart
	Customer string
	Figures
	Extras  map[string]Figures // what answers added, with the minutes that they take
	Choices []string
	Steps   map[string]Figures // only minutes
}

// A Row is the earnings of one product, extra, choice, step or customer.
type Row struct {
	Key   string
	Lines []int64
	Figures
}

// By adds up lines, the most that is left first.
func By(kind Kind, lines []Line) []Row {
	rows := map[string]*Row{}
	put := func(key string, l *Line, f Figures) {
		r := rows[key]
		if r == nil {
			r = &Row{Key: key}
			rows[key] = r
		}
		r.Lines = append(r.Lines, l.ID)
		r.add(f)
	}
	for i := range lines {
		l := &lines[i]
		switch kind {
		case ByProduct:
			put(l.Product, l, l.Figures)
		case ByCustomer:
			put(l.Customer, l, l.Figures)
		case ByChoice:
			for _, c := range l.Choices {
				put(c, l, l.Figures)
			}
		case ByExtra:
			for k, f := range l.Extras {
				put(k, l, f)
			}
		case ByStep:
			for k, f := range l.byStep() {
				put(k, l, f)
			}
		}
	}
	all := make([]Row, 0, len(rows))
	for _, r := range rows {
		slices.Sort(r.Lines)
		all = append(all, *r)
	}
	slices.SortFunc(all, func(a, b Row) int { return cmp.Or(cmp.Compare(b.Left(), a.Left()), cmp.Compare(a.Key, b.Key)) })
	return all
}

// byStep shares what the line earned among its steps, by their minutes, to the last
// coin.
func (l *Line) byStep() map[string]Figures {
	keys := make([]string, 0, len(l.Steps))
	for k := range l.Steps {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	weights := make([]int64, len(keys))
	sum := int64(0)
	for i, k := range keys {
		weights[i] = int64(l.Steps[k].Minutes)
		sum += weights[i]
	}
	if sum == 0 {
		return nil
	}
	income, fees, cost := money.Split(l.Income, weights), money.Split(l.Fees, weights), money.Split(l.Cost, weights)
	of := map[string]Figures{}
	for i, k := range keys {
		f := l.Steps[k]
		f.Income, f.Fees, f.Cost = income[i], fees[i], cost[i]
		of[k] = f
	}
	return of
}

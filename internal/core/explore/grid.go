package explore

import (
	"maps"
	"slices"
	"strconv"

	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A Grid is the prices of two questions against each other, everything else
// answered as it is.
type Grid struct {
	Rows, Columns []string // in words
	Cells         [][]Cell // by row
}

// A Cell is one price of a grid. Fault is the first fault that stands against
// such an order; nil without any.
type Cell struct {
	Total money.Amount
	Fault *question.Fault
}

// mostGrid is how many values of a question a grid shows.
const mostGrid = 20

// A ticked value is one that a question of a grid can have.
type tick struct {
	value    question.Value
	quantity int
	words    string
}

// GridOf computes a grid of two questions; QuantityKey stands for the number of
// units. It is an error that names the question when it has no values to show.
func GridOf(e *product.Edition, answers question.Answers, f evaluate.Given, rows, columns question.Key) (Grid, error) {
	down, err := ticks(e, rows, f)
	if err != nil {
		return Grid{}, err
	}
	across, err := ticks(e, columns, f)
	if err != nil {
		return Grid{}, err
	}
	if rows == columns {
		return Grid{}, words.Tell("grid.two_questions")
	}
	g := Grid{Cells: make([][]Cell, len(down))}
	for _, t := range across {
		g.Columns = append(g.Columns, t.words)
	}
	for i, r := range down {
		g.Rows = append(g.Rows, r.words)
		g.Cells[i] = make([]Cell, len(across))
		for k, c := range across {
			given := maps.Clone(answers)
			if given == nil {
				given = question.Answers{}
			}
			at := f
			r.put(given, rows, &at)
			c.put(given, columns, &at)
			res := evaluate.Evaluate(e, given, at)
			g.Cells[i][k] = Cell{Total: res.Slip.Total}
			// Only what these two answers lead to stands against a cell.
			for n, fault := range res.Faults {
				if fault.Key == rows || fault.Key == columns || fault.Code == "price_beyond" || fault.Code == "price_none" {
					g.Cells[i][k].Fault = &res.Faults[n]
					break
				}
			}
		}
	}
	return g, nil
}

func (t *tick) put(answers question.Answers, k question.Key, f *evaluate.Given) {
	switch {
	case k == question.QuantityKey:
		f.Quantity = t.quantity
	case t.value == nil:
		delete(answers, k)
	default:
		answers[k] = t.value
	}
}

// ticks lists what a question of a grid can have: no answer, where it need not be
// answered, and up to so many answers.
func ticks(e *product.Edition, k question.Key, f evaluate.Given) ([]tick, error) {
	var list []tick
	if k == question.QuantityKey {
		for n := 1; n <= min(e.Units(), mostGrid); n++ {
			list = append(list, tick{quantity: n, words: f.Language.Fill("noun.unit", "count", strconv.Itoa(n))})
			list[n-1].words = strconv.Itoa(n) + " " + list[n-1].words
		}
		return list, nil
	}
	item, ok := e.Item(k)
	if !ok || !Tabled(item) {
		return nil, words.Tell("grid.no_values", "wording", k)
	}
	if !item.Required {
		list = append(list, tick{words: "–"})
	}
	around := newSearch(e, f.Ordered).around[k]
	values, _ := item.Spec.(question.Sampled).Samples(around)
	for _, v := range values {
		if len(list) == mostGrid {
			break
		}
		list = append(list, tick{value: v, words: item.Spec.Words(v, question.Env{Currency: e.Currency, Language: f.Language, Zone: f.Zone})})
	}
	return list, nil
}

// Tabled says whether a question's answers can stand in a grid: choices, yes or
// no, and numbers.
func Tabled(item *product.Item) bool {
	_, sampled := item.Spec.(question.Sampled)
	return sampled && item.Scope != question.OfUnit && item.Moment.Rank() <= question.Paying.Rank() && !item.Off &&
		slices.Contains([]question.Class{question.ClassOne, question.ClassYesNo, question.ClassNumber, question.ClassSeveral}, item.Spec.Class())
}

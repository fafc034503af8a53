// Package stock decides whether there is enough on hand for an order line: of
// the product, and of the choices that are counted.
package stock

import (
	"cmp"
	"slices"
	"strconv"

	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// A Key names what is counted: the product itself, or a choice of a question.
type Key struct {
	Question question.Key
	Choice   string
}

// A Shelf is what is left of a product for one order line.
type Shelf struct {
	Left map[Key]int
	// Closes are those that close the whole product once they are sold out.
	Closes map[Key]bool
}

// Needs gives how many pieces an order line takes of what is counted. A chosen
// choice is there in every unit; of counted choices there are as many as were
// counted, and what is asked of each unit is there in those units.
func Needs(k Key, answers question.Answers, quantity int) int {
	quantity = max(quantity, 1)
	if k == (Key{}) {
		return quantity
	}
	v, ok := answers[k.Question]
	if !ok || !v.Answered() {
		return 0
	}
	n, counted := question.Times(v, k.Choice)
	if !counted {
		n *= int64(quantity)
	}
	return int(n)
}

// keys lists what is counted in a fixed order.
func (s *Shelf) keys() []Key {
	keys := make([]Key, 0, len(s.Left))
	for k := range s.Left {
		keys = append(keys, k)
	}
	slices.SortFunc(keys, func(a, b Key) int {
		return cmp.Or(cmp.Compare(a.Question, b.Question), cmp.Compare(a.Choice, b.Choice))
	})
	return keys
}

// Closed says whether the product cannot be had at all: it is sold out, or a
// choice is that closes it.
func (s *Shelf) Closed() bool {
	if s == nil {
		return false
	}
	for k, left := range s.Left {
		if left <= 0 && (k == (Key{}) || s.Closes[k]) {
			return true
		}
	}
	return false
}

// Check says of what an order line takes more than is left.
func (s *Shelf) Check(answers question.Answers, quantity int) []question.Fault {
	if s == nil {
		return nil
	}
	if s.Closed() {
		return []question.Fault{{Key: "quantity", Code: "sold_out"}}
	}
	var faults []question.Fault
	for _, k := range s.keys() {
		left := s.Left[k]
		if Needs(k, answers, quantity) <= left {
			continue
		}
		f := question.Fault{Key: k.Question, Code: "stock_left", Params: words.Params{"left": strconv.Itoa(max(left, 0))}}
		if k == (Key{}) {
			f.Key = "quantity"
		}
		if left <= 0 {
			f.Code, f.Params = "sold_out_choice", nil
		}
		faults = append(faults, f)
	}
	return faults
}

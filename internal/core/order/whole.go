package order

import (
	"bytes"
	"encoding/json"
	"slices"
	"strconv"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// The limits of one order.
const (
	MostLines     = 50
	MostFileBytes = 10_000_000_000 // of all files that were ever its own
	MostCoupons   = 10
)

// Wide are the answers that belong to a whole order, noted line by line.
type Wide map[question.Key]json.RawMessage

// Note wants the answers that belong to the whole order to be the same on all
// of its lines, and notes those of one line.
func (w Wide) Note(r *evaluate.Result, answers map[string]json.RawMessage) []question.Fault {
	var wrong []question.Fault
	for _, a := range r.Asked {
		k := a.Item.Key
		if a.Item.Scope != question.OfOrder || !a.Answered {
			continue
		}
		if other, ok := w[k]; ok && !bytes.Equal(other, answers[string(k)]) {
			wrong = append(wrong, question.Fault{Key: k, Code: "order_wide"})
		}
		w[k] = answers[string(k)]
	}
	return wrong
}

// Shared gives of a change what belongs to the whole order both on the line
// where it was made and on another one.
func Shared(here, there *product.Edition, change map[string]json.RawMessage) map[string]json.RawMessage {
	wide := map[string]json.RawMessage{}
	for k, raw := range change {
		a, ok1 := here.Item(question.Key(k))
		b, ok2 := there.Item(question.Key(k))
		if ok1 && ok2 && a.Scope == question.OfOrder && b.Scope == question.OfOrder {
			wide[k] = raw
		}
	}
	return wide
}

// Form says whether a product has no price of its own and is there to order
// others with. What is asked with the order, beside the choosing, may cost
// something without making it more than that.
func Form(e *product.Edition) bool {
	return len(e.AddOns) > 0 && e.Price == 0 && !slices.ContainsFunc(e.Pricing.Charges, func(r charge.Compiled) bool {
		item, ok := e.Item(r.On)
		return !ok || item.Moment == question.Choosing
	})
}

// A Taken is a line of an order as its add-ons see it.
type Taken struct {
	Product  int64
	Edition  *product.Edition // nil for one that is not on sale
	Quantity int
	Parent   int // the line, from 1, that it is an add-on of; 0 for none
}

// AddOn checks that an add-on stands after the line that it belongs to, that
// this line's product offers it, in that number, and that an order form has at
// least one.
func AddOn(lines []Taken, at int) []question.Fault {
	line := lines[at]
	if line.Edition == nil {
		return nil
	}
	if Form(line.Edition) && !slices.ContainsFunc(lines, func(l Taken) bool { return l.Parent == at+1 }) {
		return []question.Fault{{Key: "add_ons", Code: "choose_one"}}
	}
	if line.Parent == 0 {
		return nil
	}
	if line.Parent < 1 || line.Parent > at || lines[line.Parent-1].Parent != 0 || lines[line.Parent-1].Edition == nil {
		return []question.Fault{{Key: "product", Code: "add_on"}}
	}
	of := lines[line.Parent-1].Edition
	i := slices.IndexFunc(of.AddOns, func(a product.AddOn) bool { return a.Product == line.Product })
	switch {
	case i < 0:
		return []question.Fault{{Key: "product", Code: "add_on"}}
	case line.Quantity > of.AddOns[i].Units() && line.Quantity <= line.Edition.Units():
		return []question.Fault{{Key: "quantity", Code: "quantity", Params: words.Params{"most": strconv.Itoa(of.AddOns[i].Units())}}}
	}
	return nil
}

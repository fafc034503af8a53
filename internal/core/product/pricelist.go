package product

import (
	"slices"
	"strconv"
	"strings"

	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// A PriceList is what a product costs in one further currency: each of its
// amounts, given by the seller. Nothing is ever converted.
type PriceList struct {
	Currency money.Currency `json:"currency"`
	// Amounts are by the places of AmountAt.
	Amounts map[string]Listed `json:"amounts,omitempty"`
}

// A Listed is one amount of a price list, or a formula that has some in it, and
// what stood in its place in the product's own currency when it was given.
type Listed struct {
	Amount     money.Fine `json:"amount,omitempty"`
	Formula    string     `json:"formula,omitempty"`
	Was        money.Fine `json:"was,omitempty"`
	WasFormula string     `json:"was_formula,omitempty"`
}

// given says whether there is anything for a place.
func (l Listed) given(at AmountAt) bool {
	if at.Formula != "" {
		return strings.TrimSpace(l.Formula) != ""
	}
	return l.Amount != 0
}

// mostLists bounds the price lists of a product.
const mostLists = 20

// Listable lists all amounts of a draft that a price list gives, with those that
// sheets brought in.
func (d Draft) Listable() []AmountAt {
	var list []AmountAt
	c := d.copied()
	c.eachAmountOf(true, func(at AmountAt, a *money.Amount, fine *money.Fine, f *string) {
		at.was(a, fine, f)
		list = append(list, at)
	})
	return list
}

// In gives a draft as a price list prices it. Missing are the amounts that the
// list does not give, and old those that were given when another amount stood
// there.
func (d Draft) In(list PriceList) (next Draft, missing, old []AmountAt) {
	next = d.copied()
	next.Currency, next.PriceLists = list.Currency, nil
	for i := range next.Questions {
		next.Questions[i].Currency = ""
	}
	next.eachAmountOf(true, func(at AmountAt, a *money.Amount, fine *money.Fine, f *string) {
		at.was(a, fine, f)
		l := list.Amounts[at.Place]
		switch {
		case !l.given(at):
			missing = append(missing, at)
			return
		case l.Was != at.Was || l.WasFormula != at.Formula:
			old = append(old, at)
		}
		switch {
		case f != nil:
			*f = l.Formula
		case fine != nil:
			*fine = l.Amount
		default:
			*a = l.Amount.Amount(d.Rounding)
		}
	})
	return next, missing, old
}

// priceLists makes an edition of each price list that is whole, and finds what is
// wrong with it that is not wrong with the product itself. What is not whole does
// not stop the product from being sold in its own currency.
func (c *check) priceLists() {
	e := c.edition
	if len(e.PriceLists) > mostLists {
		c.wrong(InProduct, listsKey, "finding.lists_many", "most", mostLists)
		e.PriceLists = e.PriceLists[:mostLists]
	}
	seen := map[money.Currency]bool{}
	for _, list := range e.PriceLists {
		_, err := list.Currency.Digits()
		twice := seen[list.Currency]
		seen[list.Currency] = true
		if err != nil || twice || list.Currency == e.Currency {
			c.refuse(InProduct, listsKey, "finding.list_currency", "currency", list.Currency, "own", e.Currency)
			continue
		}
		draft, missing, old := e.Draft.In(list)
		for _, list := range []struct {
			code string
			at   []AmountAt
		}{{"finding.list_missing", missing}, {"finding.list_old", old}} {
			if len(list.at) > 0 {
				c.findings = append(c.findings, Find(false, InProduct, listsKey, words.Tell(list.code, "currency", draft.Currency, "amounts", named(list.at))))
			}
		}
		priced, findings := Compile(draft)
		more := InList(draft.Currency, findings, c.findings)
		c.findings = append(c.findings, more...)
		if len(missing) > 0 || Broken(more) {
			continue
		}
		if e.in == nil {
			e.in = map[money.Currency]*Edition{}
		}
		e.in[draft.Currency] = priced
	}
}

const listsKey = "price_lists"

// InList gives the findings of a price list that a product does not have itself.
func InList(c money.Currency, list, own []Finding) []Finding {
	var more []Finding
	for _, f := range list {
		if slices.ContainsFunc(own, func(o Finding) bool {
			return o.Part == f.Part && o.Key == f.Key && o.message.Code == f.message.Code
		}) {
			continue
		}
		in := Find(f.Error, InProduct, listsKey, words.Tell("finding.in_list", "currency", c, "what", f.message))
		in.Whole = true
		more = append(more, in)
	}
	return more
}

// named names amounts, the first few of them.
func named(list []AmountAt) words.Spoken {
	return func(l words.Language) string {
		const most = 4
		var names []string
		for i, at := range list {
			if i == most {
				names = append(names, l.Fill("finding.list_more", "count", strconv.Itoa(len(list)-most)))
				break
			}
			name := at.What(l)
			if at.Of != "" {
				name = at.Of + ", " + name
			}
			names = append(names, name)
		}
		return strings.Join(names, "; ")
	}
}

// In gives the edition as it is sold in a currency: itself in its own. There is
// none where it has no price list.
func (e *Edition) In(c money.Currency) (*Edition, bool) {
	if c == "" || c == e.Currency {
		return e, true
	}
	in, ok := e.in[c]
	return in, ok
}

// renamedLists gives price lists with the places of a draft before keys were
// renamed in it as they are afterwards, and the names in their formulas.
func (d Draft) renamedLists(before []AmountAt, m mentions) []PriceList {
	after := d.Listable()
	lists := slices.Clone(d.PriceLists)
	for i := range lists {
		amounts := make(map[string]Listed, len(lists[i].Amounts))
		for n, at := range before {
			l, ok := lists[i].Amounts[at.Place]
			if !ok || n >= len(after) {
				continue
			}
			l.Formula, l.WasFormula = m.formula(l.Formula), m.formula(l.WasFormula)
			amounts[after[n].Place] = l
		}
		lists[i].Amounts = amounts
	}
	return lists
}

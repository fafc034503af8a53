package product

import (
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// inFrancs gives a draft a price list in which every amount is twice what it is.
func inFrancs(d Draft) Draft {
	list := PriceList{Currency: "CHF", Amounts: map[string]Listed{}}
	for _, at := range d.Listable() {
		list.Amounts[at.Place] = Listed{Amount: 2 * at.Was, Formula: at.Formula, Was: at.Was, WasFormula: at.Formula}
	}
	d.PriceLists = []PriceList{list}
	return d
}

func lists(found []Finding) string {
	var list []string
	for _, f := range found {
		if f.Key == listsKey {
			list = append(list, f.Said(words.English))
		}
	}
	return strings.Join(list, "\n")
}

// An edition is sold in the currency of each of its price lists, at the amounts
// of that list, and in no other.
func TestPriceLists(t *testing.T) {
	d := inFrancs(everywhere())
	e, found := Compile(d)
	if said := lists(found); said != "" {
		t.Fatal(said)
	}
	in, ok := e.In("CHF")
	if !ok || in.Currency != "CHF" || in.Price != 2 || in.Draft.Charges[0].Rate.Amount.Amount("") != 20 || in.Limits.Least == nil || *in.Limits.Least != 38 || in.Pricing.Currency != "CHF" {
		t.Errorf("%+v", in)
	}
	if own, ok := e.In("EUR"); !ok || own != e {
		t.Error("it is not sold in its own currency")
	}
	if _, ok := e.In("USD"); ok {
		t.Error("it is sold in a currency that it has no list of")
	}
	if e.Price != 1 {
		t.Error("the product's own price changed")
	}
}

// What a list lacks is named, and the product not sold by it; what was given when another
// amount stood there is told.
func TestWhatIsWrongWithAPriceList(t *testing.T) {
	d := inFrancs(everywhere())
	delete(d.PriceLists[0].Amounts, "price")
	delete(d.PriceLists[0].Amounts, "charges...1.formula")
	e, found := Compile(d)
	if said := lists(found); said != "It is not sold in CHF yet, as there is no amount for: price; Oil, formula." {
		t.Errorf("%s", said)
	}
	if _, ok := e.In("CHF"); ok {
		t.Error("it is sold by a list that is not whole")
	}
	d = inFrancs(everywhere())
	d.Price = 3
	_, found = Compile(d)
	if said := lists(found); said != "In CHF these were given when another amount stood there: price. Look at them again." {
		t.Errorf("%s", said)
	}
	d = inFrancs(Draft{Title: "Lamp", Currency: "EUR", Price: 1, Charges: []charge.Charge{{Label: "Oil", Effect: charge.Adds, Rate: charge.Rate{Formula: "quantity * 2"}}}})
	if _, found = Compile(d); Broken(found) {
		t.Fatalf("%+v", Told(found, words.English))
	}
	d.PriceLists[0].Amounts["charges...1.formula"] = Listed{Formula: "quantity * no_such", WasFormula: "quantity * 2"}
	if e, found = Compile(d); !strings.Contains(lists(found), "In CHF: ") || !Broken(found) {
		t.Errorf("%s", lists(found))
	}
	if _, ok := e.In("CHF"); ok {
		t.Error("it is sold by a list that cannot be computed")
	}
	for _, c := range []string{"EUR", "XX", ""} {
		d := everywhere()
		d.PriceLists = []PriceList{{Currency: money.Currency(c)}}
		if _, found := Compile(d); !strings.Contains(lists(found), "A price list needs a currency") {
			t.Errorf("%q: %s", c, lists(found))
		}
	}
}

// An amount of a list stays with its charge when charges come, go and move, and
// when keys are renamed.
func TestPriceListsFollowTheirCharges(t *testing.T) {
	d := inFrancs(everywhere())
	d.Charges = append([]charge.Charge{d.Charges[2], {On: "gift", Label: "New", Rate: charge.Rate{Percent: new(decimal.NewFromInt(5))}}}, d.Charges[:2]...)
	d = d.Rename("wick", "thread").Rename("oil", "fuel")
	e, found := Compile(d)
	if said := lists(found); said != "" {
		t.Fatal(said)
	}
	in, _ := e.In("CHF")
	for _, c := range in.Draft.Charges {
		if c.On == "thread" && c.Choice == "flat" && *c.Rate.Amount != money.Amount(20).Fine() || c.Choice == "round" && *c.Rate.Difference != -28 {
			t.Errorf("%+v", c)
		}
	}
}

package product

import (
	"encoding/json"
	"reflect"
	"slices"
	"strings"
	"testing"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"

	"github.com/shopspring/decimal"
)

func setting(s string) json.RawMessage { return json.RawMessage(s) }

func everywhere() Draft {
	a := func(n money.Amount) *money.Amount { return &n }
	special := []charge.Special{{AtLeast: 2, Portion: charge.Portion{Amount: a(7)}}}
	return Draft{
		Title: "Lamp", Currency: "EUR", Price: 1, Cost: 2, Deposit: 3, Prices: special, Bands: []charge.Band{{After: 4, Amount: money.Fine(500_000)}}, Limits: charge.Limits{Least: a(19), Most: a(20)}, Bundle: &charge.Bundle{Price: 22}, Booking: &booking.Rule{Fixed: []booking.FixedStay{{Name: "Christmas", Price: a(23)}}}, Payment: &charge.Parts{Portion: charge.Portion{Amount: a(4)}},
		Values: []NamedFormula{{Name: "oil", Formula: "quantity * 5", Otherwise: new(decimal.RequireFromString("2.5"))}},
		Questions: []Question{
			{Question: question.Question{Key: "wick", Kind: "one_choice", Wording: "Wick", Settings: setting(`{"choices":[{"code":"flat","label":"Flat","cost":5},{"code":"round","label":"Round","when":{"answer":"gift","op":"at_most","value":15}}]}`)}},
			{Question: question.Question{Key: "gift", Kind: "amount", Wording: "A gift", Settings: setting(`{"least":6,"most":8,"suggestions":[7,8]}`)}},
			{When: &condition.Condition{Answer: "gift", Op: condition.Is, Value: setting("14")}, Question: question.Question{Key: "guests", Kind: "repeat", Wording: "Guests", Settings: setting(`{"questions":[{"key":"dish","kind":"several_choices","moment":"choosing","wording":"Dish","settings":{"choices":[{"code":"soup","label":"Soup","cost":9}]}}]}`)}},
		},
		Sheets: []SheetUse{{Sheet: 3, Figures: []SheetFigure{{Place: "charges.way..1.rate", Amount: new(money.Amount(21).Fine())}}}},
		Steps:  []workplan.Step{{Key: "thank", Title: "Thank them", When: &condition.Condition{Answer: "gift", Op: condition.AtLeast, Value: setting("16")}, Acceptance: &workplan.Acceptance{Price: 18}}},
		Charges: []charge.Charge{
			{On: "wick", Choice: "flat", Rate: charge.Rate{Amount: new(money.Amount(10).Fine())}, Bands: []charge.Band{{After: 2, Amount: money.Amount(11).Fine()}}, Least: a(12), Most: a(13), Prices: special},
			{Label: "Oil", Rate: charge.Rate{Formula: "oil * 2"}, When: &condition.Condition{All: []condition.Condition{
				{Fact: condition.Quantity, Op: condition.AtLeast, Value: setting("3")}, {Answer: "wick", Op: condition.Is, Value: setting(`"flat"`)},
				{Answer: "gift", Op: condition.Between, Value: setting("[17,18]")}}}},
			{On: "wick", Choice: "round", Rate: charge.Rate{Difference: a(-14)}},
		},
	}
}

func TestAmountsNamesEveryAmount(t *testing.T) {
	var got []string
	for _, at := range everywhere().Amounts() {
		got = append(got, strings.TrimSpace(strings.Join([]string{at.Place, "|", at.Of, "|", at.What(words.English), at.Formula}, " ")))
	}
	want := []string{
		"price |  | price", "values.oil.formula | oil | formula quantity * 5", "values.oil.otherwise | oil | amount without a result 2.5",
		"bands.1 |  | charge from number 5 on", "prices.1 |  | other price 1", "least_price |  | least of a line", "most_price |  | most of a line", "fixed.Christmas.fixed_price | Christmas | price of the fixed stay", "bundle |  | price of all together", "cost |  | cost", "deposit |  | security deposit",
		"part |  | to be paid now", "questions.wick.choices.flat.cost | Wick, Flat | cost", "questions.gift.least | A gift | least", "questions.gift.most | A gift | most",
		"questions.gift.suggestions.1 | A gift | suggestion 1", "questions.gift.suggestions.2 | A gift | suggestion 2",
		"questions.guests.questions.dish.choices.soup.cost | Guests, Soup | cost",
		"charges.wick.flat.1.rate | Wick, Flat | charge", "charges.wick.flat.1.bands.1 | Wick, Flat | charge from number 3 on", "charges.wick.flat.1.least | Wick, Flat | least",
		"charges.wick.flat.1.most | Wick, Flat | most", "charges.wick.flat.1.prices.1 | Wick, Flat | other price 1", "charges...1.formula | Oil | formula oil * 2",
		"charges.wick.round.1.difference | Wick, Round | difference in price",
		"steps.thank.round | Thank them | price of a further round of changes",
		"sheets.3.charges.way..1.rate |  | figure of a sheet",
		"questions.wick.choices.round.when.1 | Wick, Round | compared with, in a condition",
		"questions.guests.when.1 | Guests | compared with, in a condition",
		"charges...1.when.1 | Oil | compared with, in a condition", "charges...1.when.2 | Oil | compared with, in a condition",
		"steps.thank.when.1 | Thank them | compared with, in a condition",
	}
	for i := range max(len(got), len(want)) {
		if i >= len(got) || i >= len(want) || got[i] != want[i] {
			t.Fatalf("at %d:\n%s", i, strings.Join(got, "\n"))
		}
	}
}

// No amount can be added to a draft and forgotten here: all that reflection
// finds are shown.
func TestAmountsForgetsNone(t *testing.T) {
	d := everywhere()
	seen := map[any]bool{}
	(&d).eachAmount(func(_ AmountAt, a *money.Amount, fine *money.Fine, _ *string) {
		seen[a], seen[fine] = true, true
	})
	fields := map[string]bool{}
	amounts := []reflect.Type{reflect.TypeFor[money.Amount](), reflect.TypeFor[money.Fine]()}
	var walk func(v reflect.Value, path string)
	walk = func(v reflect.Value, path string) {
		switch {
		case slices.Contains(amounts, v.Type()):
			fields[path] = true
			if !seen[v.Addr().Interface()] {
				t.Errorf("%s is not shown", path)
			}
		case v.Kind() == reflect.Pointer && !v.IsNil():
			walk(v.Elem(), path)
		case v.Kind() == reflect.Slice:
			for i := range v.Len() {
				walk(v.Index(i), path)
			}
		case v.Kind() == reflect.Struct:
			for i := range v.NumField() {
				if f := v.Type().Field(i); f.IsExported() {
					walk(v.Field(i), path+"."+f.Name)
				}
			}
		}
	}
	walk(reflect.ValueOf(&d), "")

	// The same walk over the types counts what a draft can have at all.
	all := map[string]bool{}
	var types func(t reflect.Type, path string, depth int)
	types = func(t reflect.Type, path string, depth int) {
		switch {
		case depth > 6:
		case slices.Contains(amounts, t):
			all[path] = true
		case t.Kind() == reflect.Pointer || t.Kind() == reflect.Slice:
			types(t.Elem(), path, depth+1)
		case t.Kind() == reflect.Struct:
			for i := range t.NumField() {
				if f := t.Field(i); f.IsExported() {
					types(f.Type, path+"."+f.Name, depth+1)
				}
			}
		}
	}
	types(reflect.TypeFor[Draft](), "", 0)
	for path := range all {
		// Some charge has each of them.
		if !fields[path] {
			t.Errorf("%s: the example has none", path)
		}
	}
}

func TestRepriced(t *testing.T) {
	d := everywhere()
	next, missing := d.Repriced("JPY", map[string]money.Fine{"price": money.Amount(160).Fine(), "questions.gift.least": money.Amount(900).Fine()}, map[string]string{"charges...1.formula": "oil * 300", "values.oil.formula": " "})
	if len(missing) != 29 || missing[0].Place != "values.oil.formula" {
		t.Errorf("%d missing: %+v", len(missing), missing)
	}
	if next.Currency != "JPY" || next.Price != 160 || next.Charges[1].Rate.Formula != "oil * 300" || !strings.Contains(string(next.Questions[1].Settings), `"least":900`) {
		t.Errorf("%+v", next)
	}
	if d.Currency != "EUR" || d.Price != 1 || d.Charges[1].Rate.Formula != "oil * 2" || !strings.Contains(string(d.Questions[1].Settings), `"least":6`) {
		t.Errorf("the draft itself changed: %+v", d)
	}
	given := map[string]money.Fine{}
	formulas := map[string]string{}
	for _, at := range d.Amounts() {
		if at.Formula != "" {
			formulas[at.Place] = at.Formula
		} else {
			given[at.Place] = at.Was * 160
		}
	}
	next, missing = d.Repriced("JPY", given, formulas)
	if len(missing) > 0 || next.Charges[0].Bands[0].Amount != money.Amount(1760).Fine() || next.Bands[0].Amount != money.Amount(80).Fine() || *next.Charges[2].Rate.Difference != -2240 {
		t.Errorf("%+v of %+v", missing, next)
	}
	raw, _ := json.Marshal(next)
	for _, want := range []string{`"value":2240`, `"value":2400`, `"value":[2720,2880]`, `"value":2560`, `"fact":"quantity","op":"at_least","value":3`, `"value":"flat"`} {
		if !strings.Contains(string(raw), want) {
			t.Errorf("it lacks %s:\n%s", want, raw)
		}
	}
}

// What a sheet brings in with amounts in another currency is found, question by
// question, and is not asked for anew in the product.
func TestSheetInAnotherCurrency(t *testing.T) {
	sheet := Sheet{ID: 7, Currency: "EUR", Rule: SheetRule{All: true}, Questions: []Question{
		{Question: question.Question{Key: "gift", Kind: "amount", Moment: question.Choosing, Wording: "A gift", Settings: setting(`{"least":600}`)}},
		{Question: question.Question{Key: "why", Kind: "short_text", Moment: question.Choosing, Wording: "Why?"}, When: &condition.Condition{Answer: "gift", Op: condition.AtLeast, Value: setting("900")}},
		{Question: question.Question{Key: "who", Kind: "short_text", Moment: question.Choosing, Wording: "Who?"}},
	}}
	d := Draft{Title: "Lamp", Currency: "JPY", Price: 100}
	found := func(d Draft) (keys []string) {
		_, findings := Compile(d)
		for _, f := range findings {
			if f.Is(SheetCurrency) && f.Error {
				keys = append(keys, f.Key)
			}
		}
		return keys
	}
	with := d.With(1, []Sheet{sheet})
	if keys := found(with); !slices.Equal(keys, []string{"gift", "why"}) {
		t.Errorf("found %v", keys)
	}
	if list := with.Amounts(); len(list) != 1 || list[0].Place != "price" {
		t.Errorf("%+v", list)
	}
	sheet.Currency = "JPY"
	if keys := found(with.With(1, []Sheet{sheet})); len(keys) > 0 {
		t.Errorf("found %v", keys)
	}
}

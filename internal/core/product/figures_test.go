package product

import (
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
)

// wrapping is a sheet that asks for wrapping, charges for it and has it done.
func wrapping() Sheet {
	five, ten := money.Amount(500).Fine(), decimal.NewFromInt(10)
	return Sheet{ID: 7, Name: "Wrapping", Currency: "EUR", Rule: SheetRule{All: true}, Questions: []Question{
		ask("wrap", "one_choice", question.Choosing, `{"choices":[{"code":"silk","label":"Silk"},{"code":"box","label":"Box"}]}`),
		ask("words", "short_text", question.Choosing, ""),
	}, SheetContent: SheetContent{
		Values: []NamedFormula{{Name: "effort", Formula: "words > 9 ? 2 : 1"}},
		Charges: []charge.Charge{
			{On: "wrap", Choice: "silk", Effect: charge.Adds, Rate: charge.Rate{Amount: &five}, Prices: []charge.Special{{AtLeast: 3, Portion: charge.Portion{Percent: &ten}}}},
			{On: "wrap", Choice: "box", Effect: charge.Adds, Rate: charge.Rate{Amount: new(money.Amount(700).Fine())}},
			{On: "words", Label: "A card", Effect: charge.Adds, Rate: charge.Rate{Formula: "effort * 1.5"}},
		},
		Steps: []workplan.Step{{Key: "wrap_it", Title: "Wrap it", Minutes: workplan.Minutes{Fixed: 15}, Needs: []question.Key{"wrap"}, Start: workplan.Start{On: workplan.OnPayment}, Due: workplan.Due{Rule: workplan.WorkingDays, Count: 2}}},
	}}
}

// A product has the charges and steps of its sheets, with figures of its own
// where it says so, and loses them with the sheet.
func TestASheetCarriesPricesAndWork(t *testing.T) {
	sheet := wrapping()
	if f := sheet.Check(); Broken(f) {
		t.Fatalf("%+v", f)
	}
	own := Draft{Title: "Lamp", Currency: "EUR", Price: 2000, Charges: []charge.Charge{{Label: "Post", Effect: charge.Adds, Rate: charge.Rate{Amount: new(money.Amount(300).Fine())}}}}
	slip := func(d Draft, answers question.Answers) string {
		e, f := Compile(d)
		if Broken(f) {
			t.Fatalf("%+v", f)
		}
		s := e.Pricing.Make(charge.Input{Answers: answers, Quantity: 1}).In(words.English)
		var lines []string
		for _, l := range s.Lines {
			lines = append(lines, l.Label+" "+words.English.Amount(l.Amount, "EUR"))
		}
		return strings.Join(lines, ", ")
	}
	silk := question.Answers{"wrap": question.One("silk"), "words": question.Text("for you, from me")}
	linked := own.With(1, []Sheet{sheet})
	if got, want := slip(linked, silk), "Lamp 20.00, Post 3.00, Silk 5.00, A card 3.00"; got != want {
		t.Errorf("%s, want %s", got, want)
	}
	if len(linked.Steps) != 1 || linked.Steps[0].Minutes.Fixed != 15 || linked.Steps[0].Sheet != 7 {
		t.Errorf("%+v", linked.Steps)
	}
	if again := linked.With(1, []Sheet{sheet}); len(again.Charges) != 4 || len(again.Steps) != 1 || len(again.Values) != 1 || len(again.Questions) != 2 {
		t.Errorf("what a sheet brought in is there twice: %+v", again)
	}
	if left := linked.Own(); len(left.Charges) != 1 || len(left.Steps) != 0 || len(left.Values) != 0 || len(left.Questions) != 0 {
		t.Errorf("%+v", left)
	}
	six, twenty := money.Amount(600).Fine(), 20
	own.Sheets = []SheetUse{{Sheet: 7, Figures: []SheetFigure{{Place: "charges.wrap.silk.1.rate", Amount: &six}, {Place: "steps.wrap_it.minutes", Minutes: &twenty}, {Place: "charges.gone..1.rate", Amount: &six}}}}
	here := own.With(1, []Sheet{sheet})
	if got, want := slip(here, silk), "Lamp 20.00, Post 3.00, Silk 6.00, A card 3.00"; got != want {
		t.Errorf("%s, want %s", got, want)
	}
	if here.Steps[0].Minutes.Fixed != 20 || sheet.Steps[0].Minutes.Fixed != 15 || *sheet.Charges[0].Rate.Amount != money.Amount(500).Fine() {
		t.Errorf("the sheet itself changed, or the product did not: %+v", here.Steps)
	}
	// A charge that comes before does not take another one's figure.
	sheet.Charges = append([]charge.Charge{{On: "words", Label: "Ink", Effect: charge.Adds, Rate: charge.Rate{Amount: new(money.Amount(50).Fine())}}}, sheet.Charges...)
	if got, want := slip(own.With(1, []Sheet{sheet}), silk), "Lamp 20.00, Post 3.00, Silk 6.00, Ink 0.50, A card 3.00"; got != want {
		t.Errorf("%s, want %s", got, want)
	}
}

func TestFiguresOfASheet(t *testing.T) {
	var got []string
	for _, f := range wrapping().Figures() {
		got = append(got, f.Place+" | "+f.Of+" | "+f.What(words.English))
	}
	want := "charges.wrap.silk.1.rate | About wrap, Silk | charge\ncharges.wrap.silk.1.prices.1.percent | About wrap, Silk | other price 1\n" +
		"charges.wrap.box.1.rate | About wrap, Box | charge\nsteps.wrap_it.minutes | Wrap it | minutes"
	if strings.Join(got, "\n") != want {
		t.Errorf("got\n%s\nwant\n%s", strings.Join(got, "\n"), want)
	}
	if keys := wrapping().Priced(); len(keys) != 2 || keys[0] != "wrap" {
		t.Errorf("%v", keys)
	}
	loose := wrapping()
	loose.Charges[2].On = ""
	if f := loose.Check(); !Broken(f) {
		t.Error("a sheet charges for no question of its own")
	}
	// In a product of another currency its amounts mean nothing.
	_, found := Compile(Draft{Title: "Lamp", Currency: "JPY", Price: 1}.With(1, []Sheet{wrapping()}))
	n := 0
	for _, f := range found {
		if f.Is(SheetCurrency) {
			n++
		}
	}
	if n != 2 {
		t.Errorf("%+v", found)
	}
}

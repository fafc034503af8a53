package explore

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/coretest"
)

// What is left until after payment and always costs something is found, unless answers
// may change the price then, or some of it is free.
func TestLaterAnswersThatCost(t *testing.T) {
	rooms := coretest.Ask("rooms", "count", `{"least": 1, "most": 9}`)
	rooms.Required, rooms.Later = true, true
	each := charge.Charge{On: "rooms", Effect: charge.Adds, Rate: charge.Rate{Amount: new(money.Amount(500).Fine())}, Per: charge.Answer}
	told := func(change func(*product.Draft)) bool {
		d := product.Draft{Title: "Tour", Currency: "EUR", Questions: []product.Question{rooms}, Charges: []charge.Charge{each}}
		change(&d)
		return slices.ContainsFunc(Review(coretest.Compiled(t, d), coretest.Now, time.UTC), func(f product.Finding) bool { return f.Is("finding.later_costs") })
	}
	if !told(func(*product.Draft) {}) {
		t.Error("an answer that nobody could give was not found")
	}
	for what, change := range map[string]func(*product.Draft){
		"answers may change the price": func(d *product.Draft) { d.Reprices = true },
		"it is asked before":           func(d *product.Draft) { d.Questions[0].Later = false },
		"some of it is free":           func(d *product.Draft) { d.Charges[0].Included = 2 },
	} {
		if told(change) {
			t.Errorf("%s, and it was found all the same", what)
		}
	}
}

// Each row is a product with one weakness, and what the check says of it.
func TestReview(t *testing.T) {
	five := money.Amount(500)
	choice := func(key question.Key, settings string) product.Question {
		return coretest.Ask(key, "one_choice", settings)
	}
	priced := func(on question.Key, codes ...string) (list []charge.Charge) {
		for _, c := range codes {
			list = append(list, charge.Charge{On: on, Choice: c, Effect: charge.Adds, Rate: charge.Rate{Amount: new(five.Fine())}})
		}
		return list
	}
	under := func(q product.Question, c condition.Condition) product.Question {
		q.When = &c
		return q
	}
	must := func(q product.Question) product.Question {
		q.Required = true
		return q
	}
	reworded := func(q product.Question, wording string) product.Question {
		q.Wording = wording
		return q
	}
	var many []product.Question
	for i := range 16 {
		many = append(many, coretest.Ask(question.Key("q"+string(rune('a'+i))), "yes_no", ""))
	}
	is := func(k question.Key, v string) condition.Condition {
		return condition.Condition{Answer: k, Op: condition.Is, Value: json.RawMessage(v)}
	}
	nineteen := decimal.NewFromInt(19)
	for says, d := range map[string]product.Draft{
		"can never be asked": {Questions: []product.Question{choice("a", choicesOf(2)), under(coretest.Ask("b", "yes_no", ""), condition.Condition{All: []condition.Condition{is("a", `"c0"`), is("a", `"c1"`)}})}},
		"The choice “B” of “About pick” is never offered": {Questions: []product.Question{coretest.Ask("yes", "yes_no", ""),
			choice("pick", `{"choices":[{"code":"a","label":"A"},{"code":"b","label":"B","when":{"all":[{"answer":"yes","op":"is","value":true},{"answer":"yes","op":"is","value":false}]}}]}`)}},
		"none of its choices is ever offered": {Questions: []product.Question{coretest.Ask("yes", "yes_no", ""),
			must(choice("pick", `{"choices":[{"code":"b","label":"B","when":{"all":[{"answer":"yes","op":"is","value":true},{"answer":"yes","op":"is","value":false}]}}]}`))}},
		"nobody can decline it":          {Price: 900, Questions: []product.Question{must(choice("wrap", choicesOf(2)))}, Charges: priced("wrap", "c0", "c1")},
		"can be more than the price":     {Price: 100, Questions: []product.Question{coretest.Ask("off", "yes_no", "")}, Charges: []charge.Charge{{On: "off", Effect: charge.TakesOff, Rate: charge.Rate{Amount: new(five.Fine())}}}},
		"Is the tax taken twice?":        {Price: 100, Tax: nineteen, Charges: []charge.Charge{{Label: "VAT", Effect: charge.Adds, Rate: charge.Rate{Percent: &nineteen}}}},
		"has an amount in its words (“€": {Questions: []product.Question{reworded(coretest.Ask("wrap", "yes_no", ""), "Gift wrapping (+ €5)?")}},
		"has an amount in its words (“+": {Questions: []product.Question{choice("a", `{"choices":[{"code":"a","label":"Large +4.50"}]}`)}},
		"asks for the name, which":       {Questions: []product.Question{reworded(coretest.Ask("who", "short_text", ""), "Your full name")}},
		"asks for the mail address":      {Questions: []product.Question{reworded(coretest.Ask("who", "mail", ""), "Your e-mail address")}},
		"16 questions stand before":      {Questions: many},
	} {
		d.Title, d.Currency = "Thing", "EUR"
		e, findings := product.Compile(d)
		findings = append(findings, Review(e, coretest.Now, time.UTC)...)
		if !slices.ContainsFunc(findings, func(f product.Finding) bool { return strings.Contains(f.Said(words.English), says) }) {
			t.Errorf("nobody says %q, but %+v", says, findings)
		}
	}
	// What looks like these and is none of them.
	sound := product.Draft{Title: "Thing", Currency: "EUR", Price: 1000, Questions: []product.Question{
		coretest.Ask("yes", "yes_no", ""), under(coretest.Ask("more", "yes_no", ""), is("yes", "true")), under(coretest.Ask("many", "yes_no", ""), condition.Condition{Fact: condition.Quantity, Op: condition.AtLeast, Value: []byte("2")}),
		under(coretest.Ask("club", "yes_no", ""), condition.Condition{Fact: condition.Group, Op: condition.Is, Value: json.RawMessage(`"club"`)}),
		choice("wrap", choicesOf(2)), reworded(coretest.Ask("to", "short_text", ""), "Name of who is photographed"), reworded(coretest.Ask("send", "mail", ""), "Mail address of who gets it"),
		reworded(coretest.Ask("size", "short_text", ""), "A map of 2.50 metres, or 30 × 40"),
	}, Charges: priced("wrap", "c0", "c1"), MostUnits: 3}
	e := coretest.Compiled(t, sound)
	if found := Review(e, coretest.Now, time.UTC); len(found) > 0 {
		t.Errorf("%+v", found)
	}
}

func TestTextsThatAreChoices(t *testing.T) {
	e := coretest.Compiled(t, product.Draft{Questions: []product.Question{coretest.Ask("way", "short_text", ""), coretest.Ask("name", "short_text", "")}})
	var ways, names []string
	for i := range 12 {
		ways = append(ways, []string{"by train", "By train ", "by car"}[i%3])
		names = append(names, strings.Repeat("x", i+1))
	}
	found := Few(e, map[question.Key][]string{"way": ways, "name": names})
	if len(found) != 1 || !strings.Contains(found[0].Said(words.English), "the last 12 answers were only these: by car, by train.") || found[0].Error {
		t.Errorf("%+v", found)
	}
	if found := Few(e, map[question.Key][]string{"way": ways[:9]}); len(found) > 0 {
		t.Errorf("%+v", found)
	}
}

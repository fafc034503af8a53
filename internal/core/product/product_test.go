package product

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
)

func ask(key question.Key, kind question.KindName, m question.Moment, settings string) Question {
	return Question{Question: question.Question{Key: key, Kind: kind, Moment: m, Wording: "About " + string(key), Settings: json.RawMessage(settings)}}
}

func when(q Question, key question.Key) Question {
	q.When = &condition.Condition{Answer: key, Op: condition.Answered}
	return q
}

func step(key workplan.StepKey) workplan.Step {
	return workplan.Step{Key: key, Title: "Do " + string(key), Start: workplan.Start{On: workplan.OnPayment}, Due: workplan.Due{Rule: workplan.WorkingDays, Count: 1}}
}

// sound is a draft with nothing wrong with it.
func sound() Draft {
	five := money.Amount(500)
	return Draft{
		Title: "Chart", Currency: "EUR", Price: 2400, Tax: decimal.NewFromInt(19),
		Questions: []Question{
			ask("title", "short_text", question.Choosing, ""),
			ask("gift", "yes_no", question.Choosing, ""),
			when(ask("card", "long_text", question.Briefing, ""), "gift"),
			ask("about", "note", question.Briefing, `{"text":"For {{title}} of order {{order}}"}`),
			ask("size", "one_choice", question.Choosing, `{"choices":[{"code":"s","label":"Small"}]}`),
		},
		Charges: []charge.Charge{{On: "gift", Effect: charge.Adds, Rate: charge.Rate{Amount: new(five.Fine())}}},
		Steps:   []workplan.Step{step("letter")},
	}
}

func TestSoundDraft(t *testing.T) {
	e, findings := Compile(sound())
	if len(findings) > 0 {
		t.Fatalf("%+v", findings)
	}
	if len(e.Items) != 5 || len(e.Order) != 5 || len(e.Plan.Steps) != 1 || len(e.Pricing.Charges) != 1 {
		t.Errorf("%d questions, %d steps, %d charges", len(e.Items), len(e.Plan.Steps), len(e.Pricing.Charges))
	}
	if _, ok := e.Item("title"); !ok {
		t.Error("a question is not found by its key")
	}
}

// Each row breaks a sound draft in one way, and names a part of what the
// product check says.
func TestCheckFindsMistakes(t *testing.T) {
	week := calendar.Week{1: {{From: 540, To: 720}}}
	rule := booking.Rule{Week: week, Length: 60, Grid: 60, Places: 1, Horizon: 30}
	for _, c := range []struct {
		name   string
		change func(*Draft)
		says   string
	}{
		{"no title", func(d *Draft) { d.Title = "" }, "needs a title"},
		{"a currency that is none", func(d *Draft) { d.Currency = "EURO" }, "ISO 4217"},
		{"a price below zero", func(d *Draft) { d.Price = -1 }, "below zero"},
		{"absurd tax", func(d *Draft) { d.Tax = decimal.NewFromInt(101) }, "between 0 and 100"},
		{"too many units", func(d *Draft) { d.MostUnits = 20000 }, "most units"},
		{"a text of a megabyte", func(d *Draft) { d.Description = strings.Repeat("x", 1<<20) }, "longer than"},
		{"too many questions", func(d *Draft) {
			for range 700 {
				d.Questions = append(d.Questions, ask("x", "yes_no", question.Choosing, ""))
			}
		}, "can have 600 questions"},
		{"a key that is none", func(d *Draft) { d.Questions[0].Key = "Title!" }, "lower-case letters"},
		{"a key of every order", func(d *Draft) { d.Questions[1].Key = "customer" }, "fact of every order"},
		{"a key twice", func(d *Draft) { d.Questions[1].Key = "title" }, `Two questions have the key "title"`},
		{"a moment that is none", func(d *Draft) { d.Questions[0].Moment = "someday" }, "must be asked while"},
		{"a kind that is none", func(d *Draft) { d.Questions[0].Kind = "telepathy" }, "no such kind"},
		{"settings that are wrong", func(d *Draft) { d.Questions[0].Settings = json.RawMessage(`{"most":-4}`) }, "length must lie"},
		{"no wording", func(d *Draft) { d.Questions[0].Wording = "" }, "needs a wording"},
		{"later after payment", func(d *Draft) { d.Questions[2].Later = true }, "cannot be left until later"},
		{"a cycle of two", func(d *Draft) {
			d.Questions[0] = when(d.Questions[0], "gift")
			d.Questions[1] = when(d.Questions[1], "title")
		}, "title → gift → title"},
		{"waits on itself", func(d *Draft) { d.Questions[0] = when(d.Questions[0], "title") }, "title → title"},
		{"a condition over nothing", func(d *Draft) { d.Questions[0] = when(d.Questions[0], "ghost") }, `compares "ghost"`},
		{"a condition over what comes later", func(d *Draft) { d.Questions[0] = when(d.Questions[0], "card") }, "only asked later"},
		{"a merge field of nothing", func(d *Draft) { d.Questions[3].Settings = json.RawMessage(`{"text":"{{ghost}}"}`) }, "{{ghost}}"},
		{"a merge field of what comes later", func(d *Draft) {
			d.Questions[3].Moment = question.Choosing
			d.Questions[3].Settings = json.RawMessage(`{"text":"{{card}}"}`)
		}, "only asked later"},
		{"a merge field left open", func(d *Draft) { d.Questions[3].Settings = json.RawMessage(`{"text":"{{#title}}"}`) }, "does not work"},
		{"a charge on nothing", func(d *Draft) { d.Charges[0].On = "ghost" }, "is not there"},
		{"a charge after payment", func(d *Draft) { d.Charges[0].On = "card" }, "cannot change the price"},
		{"a charge on no choice", func(d *Draft) { d.Charges[0].On, d.Charges[0].Choice = "size", "xl" }, `the choice "xl"`},
		{"letters of a yes", func(d *Draft) { d.Charges[0].Per = charge.Character }, "letters cannot be counted"},
		{"counting a text", func(d *Draft) { d.Charges[0].On, d.Charges[0].Per = "title", charge.Answer }, "cannot be counted"},
		{"an amount nobody sets", func(d *Draft) { d.Charges[0].Rate = charge.Rate{Answered: true} }, "does not ask for an amount"},
		{"two rates", func(d *Draft) { p := decimal.NewFromInt(5); d.Charges[0].Rate.Percent = &p }, "needs one rate"},
		{"a booking without a rule", func(d *Draft) { d.Questions = append(d.Questions, ask("time", "booking", question.Choosing, "")) }, "no booking rule"},
		{"a rule without a booking", func(d *Draft) { d.Booking = &rule }, "no question asks for the booking"},
		{"a rule that never opens", func(d *Draft) {
			never := rule
			never.Week = calendar.Week{}
			d.Booking, d.Questions = &never, append(d.Questions, ask("time", "booking", question.Choosing, ""))
		}, "no room"},
		{"a booking at the wrong moment", func(d *Draft) {
			d.Booking, d.Questions = &rule, append(d.Questions, ask("time", "booking", question.Briefing, ""))
		}, "must be asked while choosing"},
		{"two bookings", func(d *Draft) {
			d.Booking, d.Questions = &rule, append(d.Questions, ask("time", "booking", question.Choosing, ""), ask("time2", "booking", question.Choosing, ""))
		}, "one booking"},
		{"many bookable units", func(d *Draft) {
			d.Booking, d.MostUnits, d.Questions = &rule, 3, append(d.Questions, ask("time", "booking", question.Choosing, ""))
		}, "one at a time"},
		{"a booking left until later", func(d *Draft) {
			q := ask("time", "booking", question.Choosing, "")
			q.Later = true
			d.Booking, d.Questions = &rule, append(d.Questions, q)
		}, "before payment"},
		{"a step needs nothing there", func(d *Draft) { d.Steps[0].Needs = []question.Key{"ghost"} }, `needs the answer "ghost"`},
		{"a step shows nothing there", func(d *Draft) { d.Steps[0].Instructions = "{{ghost}}" }, "{{ghost}}"},
		{"a step twice", func(d *Draft) { d.Steps = append(d.Steps, step("letter")) }, `key "letter"`},
		{"a step after none", func(d *Draft) { d.Steps[0].Start = workplan.Start{On: workplan.AfterStep, Step: "ghost"} }, "no such step"},
		{"steps in a circle", func(d *Draft) {
			a, b := step("a"), step("b")
			a.Start, b.Start = workplan.Start{On: workplan.AfterStep, Step: "b"}, workplan.Start{On: workplan.AfterStep, Step: "a"}
			d.Steps = []workplan.Step{a, b}
		}, "wait on each other"},
		{"a step before no booking", func(d *Draft) { d.Steps[0].Due.Rule = workplan.DaysBeforeBooking }, "not bookable"},
		{"a step without a title", func(d *Draft) { d.Steps[0].Title = "" }, "needs a title"},
		{"a condition of a step", func(d *Draft) { d.Steps[0].When = &condition.Condition{Answer: "ghost", Op: condition.Answered} }, "does not work"},
	} {
		d := sound()
		c.change(&d)
		e, findings := Compile(d)
		if !Broken(findings) || !says(findings, c.says) {
			t.Errorf("%s: want %q, found %+v", c.name, c.says, findings)
		}
		if e == nil {
			t.Errorf("%s: there is nothing to try", c.name)
		}
	}
}

func says(findings []Finding, text string) bool {
	for _, f := range findings {
		if f.Error && strings.Contains(f.Said(words.English), text) {
			return true
		}
	}
	return false
}

func TestNoWorkIsOnlyAWarning(t *testing.T) {
	d := sound()
	d.Steps = nil
	if _, findings := Compile(d); Broken(findings) || len(findings) != 1 {
		t.Errorf("%+v", findings)
	}
}

// Charges stand on the slip in the order of their questions, whatever the
// order in which they were added.
func TestChargesFollowTheirQuestions(t *testing.T) {
	one := money.Amount(100)
	d := sound()
	d.Charges = []charge.Charge{
		{On: "size", Choice: "s", Effect: charge.Adds, Rate: charge.Rate{Amount: new(one.Fine())}},
		{On: "gift", Effect: charge.Adds, Rate: charge.Rate{Amount: new(one.Fine())}},
		{On: "title", Effect: charge.Adds, Rate: charge.Rate{Amount: new(one.Fine())}, Per: charge.Character},
	}
	e, _ := Compile(d)
	var order []string
	for _, c := range e.Pricing.Charges {
		order = append(order, string(c.On))
	}
	if got := strings.Join(order, " "); got != "title gift size" {
		t.Errorf("charges in the order %s", got)
	}
}

// A draft comes back from its stored form as it was.
func TestDraftComesBack(t *testing.T) {
	a, err := json.Marshal(sound())
	if err != nil {
		t.Fatal(err)
	}
	var d Draft
	if err := json.Unmarshal(a, &d); err != nil {
		t.Fatal(err)
	}
	b, _ := json.Marshal(d)
	if string(a) != string(b) {
		t.Errorf("%s came back as %s", a, b)
	}
}

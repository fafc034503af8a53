package evaluate

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/coretest"
)

func is(key question.Key, value string) *condition.Condition {
	return &condition.Condition{Answer: key, Op: condition.Is, Value: json.RawMessage(value)}
}

func paths(list []question.Fault) string {
	var parts []string
	for _, f := range list {
		parts = append(parts, f.Name()+" "+f.Code)
	}
	return strings.Join(parts, ", ")
}

// A section that is not asked takes its questions along, and they come back
// with their old answers.
func TestSectionsAndSwitchedOffQuestions(t *testing.T) {
	section, inside, off := coretest.Ask("part", "section", ""), coretest.Ask("name", "short_text", ""), coretest.Ask("old", "short_text", "")
	section.When = is("gift", "true")
	inside.Section, inside.Required, off.Off, off.Required = "part", true, true, true
	reader := coretest.Ask("more", "short_text", "")
	reader.When = &condition.Condition{Answer: "name", Op: condition.Answered}
	e := coretest.Compiled(t, product.Draft{Questions: []product.Question{reader, section, inside, off, coretest.Ask("gift", "yes_no", "")}})
	for answers, want := range map[string]string{
		`{"gift":false,"name":"Ada","old":"x","more":"y"}`: "gift | | gift",
		`{"gift":true,"name":"Ada","old":"x","more":"y"}`:  "more part name gift | | gift more name",
		`{"gift":true}`: "part name gift | name required | gift",
	} {
		r := Evaluate(e, coretest.Decode(t, e, answers), asGiven())
		var counted []string
		for k := range r.Answers {
			counted = append(counted, string(k))
		}
		slices.Sort(counted)
		if got := asked(r) + " | " + paths(r.Faults) + " | " + strings.Join(counted, " "); strings.ReplaceAll(got, "|  |", "| |") != want {
			t.Errorf("%s: %q, want %q", answers, got, want)
		}
	}
}

// A choice that is not offered any more counts nowhere, and counts again when
// it is offered again.
func TestChoicesUnderConditions(t *testing.T) {
	pick := coretest.Ask("pick", "one_choice", `{"choices":[{"code":"a","label":"A"},{"code":"b","label":"B","picture":"b.svg","when":{"answer":"large","op":"is","value":true}}],"main":true}`)
	pick.Required = true
	five := money.Amount(500)
	e := coretest.Compiled(t, product.Draft{Questions: []product.Question{pick, coretest.Ask("large", "yes_no", "")},
		Charges: []charge.Charge{{On: "pick", Choice: "b", Effect: charge.Adds, Rate: charge.Rate{Amount: new(five.Fine())}}}})
	for answers, want := range map[string]string{
		`{"pick":"b","large":true}`:  "500 b.svg ",
		`{"pick":"b","large":false}`: "0  pick required",
		`{"pick":"a"}`:               "0  ",
	} {
		r := Evaluate(e, coretest.Decode(t, e, answers), asGiven())
		if got := fmt.Sprintf("%d %s %s", r.Slip.Total, r.Picture, paths(r.Faults)); got != want {
			t.Errorf("%s: %q, want %q", answers, got, want)
		}
		for _, a := range r.Asked {
			if offered := len(a.Hidden) == 0; a.Item.Key == "pick" && offered != strings.Contains(answers, `"large":true`) {
				t.Errorf("%s: %v is hidden", answers, a.Hidden)
			}
		}
	}
}

// What is asked of each unit is priced for each, and missing for each.
func TestUnits(t *testing.T) {
	name, wrap := coretest.Ask("name", "short_text", ""), coretest.Ask("wrap", "one_choice", `{"choices":[{"code":"plain","label":"Plain"},{"code":"silk","label":"Silk"}]}`)
	name.Scope, name.Required, name.Later, wrap.Scope = question.OfUnit, true, true, question.OfUnit
	letter, silk := money.Amount(10), money.Amount(300)
	e := coretest.Compiled(t, product.Draft{Price: 1000, MostUnits: 5, Questions: []product.Question{name, wrap}, Charges: []charge.Charge{
		{On: "name", Effect: charge.Adds, Rate: charge.Rate{Amount: new(letter.Fine())}, Per: charge.Character, Included: 3},
		{On: "wrap", Choice: "silk", Effect: charge.Adds, Rate: charge.Rate{Amount: new(silk.Fine())}},
	}})
	for _, c := range []struct {
		quantity int
		answers  string
		later    bool
		total    money.Amount
		faults   string
		missing  int
	}{
		{1, `{"name":["Adele"]}`, false, 1020, "", 0},
		{2, `{"name":["Adele","Bo"],"wrap":["silk","silk"]}`, false, 2000 + 20 + 600, "", 0},
		{3, `{"name":["Adele","Bo"],"wrap":["silk",null,"plain"]}`, false, 3000 + 20 + 300, "name.2 required", 1},
		{3, `{"name":["Adele","Bo"]}`, true, 3000 + 20, "", 1},
		{1, `{"name":["Adele","Bodil"],"wrap":["plain","silk"]}`, false, 1020, "", 0},
		{2, `{}`, false, 2000, "name required", 1},
	} {
		f := asGiven()
		f.Quantity, f.Later = c.quantity, map[question.Key]bool{"name": c.later}
		r := Evaluate(e, coretest.Decode(t, e, c.answers), f)
		if r.Slip.Total != c.total || paths(r.Faults) != c.faults || len(r.Missing) != c.missing {
			t.Errorf("%d × %s: %d, %q, missing %v", c.quantity, c.answers, r.Slip.Total, paths(r.Faults), r.Missing)
		}
	}
}

// Counted choices are priced by their counts, entries and files by how many.
func TestCountedAnswers(t *testing.T) {
	tea, entry, day := money.Amount(150), money.Amount(900), money.Amount(5000)
	e := coretest.Compiled(t, product.Draft{Questions: []product.Question{
		coretest.Ask("drinks", "several_choices", `{"counted":true,"choices":[{"code":"tea","label":"Tea"},{"code":"milk","label":"Milk"}]}`),
		coretest.Ask("names", "repeat", `{"questions":[{"key":"name","kind":"short_text","wording":"Name"}]}`),
		coretest.Ask("stay", "date_span", ""),
	}, Charges: []charge.Charge{
		{On: "drinks", Choice: "tea", Effect: charge.Adds, Rate: charge.Rate{Amount: new(tea.Fine())}},
		{On: "names", Effect: charge.Adds, Rate: charge.Rate{Amount: new(entry.Fine())}, Per: charge.Answer, Included: 1},
		{On: "stay", Effect: charge.Adds, Rate: charge.Rate{Amount: new(day.Fine())}, Per: charge.Answer},
	}})
	r := Evaluate(e, coretest.Decode(t, e, `{"drinks":{"tea":3,"milk":2},"names":[{"name":"Ada"},{"name":"Ben"},{"name":"Cleo"}],"stay":{"from":"2026-12-09","to":"2026-12-11"}}`), asGiven())
	if r.Slip.Total != 450+1800+15000 || len(r.Faults) > 0 {
		t.Errorf("%+v, %v", r.Slip, r.Faults)
	}
	if why := r.Slip.In(words.English).Lines[0].Why; why != "1.50 × 3" {
		t.Error(why)
	}
}

// Property: the order in which questions stand changes nothing but the order
// in which they are shown: what is asked, wrong, missing and to pay stays.
func TestTheOrderOfQuestionsChangesNothing(t *testing.T) {
	d := product.Draft{Title: "Thing", Currency: "EUR", Price: 1000}
	rnd := rand.New(rand.NewPCG(7, 7))
	for i := range 24 {
		q := coretest.Ask(question.Key(fmt.Sprintf("q%d", i)), "yes_no", "")
		q.Required = i%3 == 0
		if i > 0 && i%2 == 0 {
			q.When = is(question.Key(fmt.Sprintf("q%d", rnd.IntN(i))), "true")
		}
		d.Questions = append(d.Questions, q)
	}
	amount := money.Amount(100)
	for i := 0; i < 24; i += 4 {
		d.Charges = append(d.Charges, charge.Charge{On: question.Key(fmt.Sprintf("q%d", i)), Effect: charge.Adds, Rate: charge.Rate{Amount: new(amount.Fine())}})
	}
	sorted := func(list []string) string { slices.Sort(list); return strings.Join(list, ",") }
	tell := func(d product.Draft, answers string) string {
		e, _ := product.Compile(d)
		r := Evaluate(e, coretest.Decode(t, e, answers), asGiven())
		var lines []string
		for _, l := range r.Slip.Lines {
			lines = append(lines, fmt.Sprint(l.Label, l.Amount))
		}
		return fmt.Sprint(sorted(strings.Fields(asked(r))), sorted(strings.Split(paths(r.Faults), ", ")), sorted(lines), r.Slip.Total)
	}
	for range 200 {
		answers := map[string]bool{}
		for i := range 24 {
			if rnd.IntN(3) > 0 {
				answers[fmt.Sprintf("q%d", i)] = rnd.IntN(2) == 0
			}
		}
		raw, _ := json.Marshal(answers)
		mixed := d
		mixed.Questions = slices.Clone(d.Questions)
		rnd.Shuffle(len(mixed.Questions), func(i, j int) {
			mixed.Questions[i], mixed.Questions[j] = mixed.Questions[j], mixed.Questions[i]
		})
		if a, b := tell(d, string(raw)), tell(mixed, string(raw)); a != b {
			t.Fatalf("%s:\n%s\n%s", raw, a, b)
		}
	}
}

// A slow, obvious evaluator: ask everything, then drop what is not asked and
// what is not offered, again and again until nothing changes. It knows nothing
// of the order of evaluation.
func slowly(d product.Draft, given map[string]string) map[string]string {
	counted := map[string]string{}
	holds := func(c *condition.Condition) bool {
		return c == nil || counted[string(c.Answer)] == strings.Trim(string(c.Value), `"`)
	}
	for range len(d.Questions) + 2 {
		next := map[string]string{}
		for _, q := range d.Questions {
			asked := func(q product.Question) bool { return !q.Off && holds(q.When) }
			in := q.Section == "" || slices.ContainsFunc(d.Questions, func(s product.Question) bool { return s.Key == q.Section && asked(s) })
			if q.Kind == "section" || !in || !asked(q) {
				continue
			}
			var s struct{ Choices []question.Choice }
			json.Unmarshal(q.Settings, &s)
			for _, ch := range s.Choices {
				when, _ := condition.Read(ch.When)
				if ch.Code == given[string(q.Key)] && (len(ch.When) == 0 || holds(when)) {
					next[string(q.Key)] = ch.Code
				}
			}
		}
		counted = next
	}
	return counted
}

// Property: with conditions on questions, on sections and on choices, in any
// order, what counts is what the slow evaluator finds.
func TestAskingAgreesWithRepeatUntilStable(t *testing.T) {
	rnd := rand.New(rand.NewPCG(11, 4))
	codes := []string{"a", "b", "c"}
	for round := range 150 {
		var d product.Draft
		d.Title, d.Currency = "Thing", "EUR"
		on := func(before int) *condition.Condition {
			if before == 0 || rnd.IntN(2) == 0 {
				return nil
			}
			return is(question.Key(fmt.Sprintf("q%d", rnd.IntN(before))), `"`+codes[rnd.IntN(3)]+`"`)
		}
		sections := []question.Key{""}
		for i := range 14 {
			if i%5 == 0 {
				s := coretest.Ask(question.Key(fmt.Sprintf("s%d", i)), "section", "")
				s.When = on(i)
				d.Questions = append(d.Questions, s)
				sections = append(sections, s.Key)
			}
			var choices []string
			for _, code := range codes {
				when := ""
				if c := on(i); c != nil && rnd.IntN(2) == 0 {
					raw, _ := json.Marshal(c)
					when = `,"when":` + string(raw)
				}
				choices = append(choices, fmt.Sprintf(`{"code":%q,"label":%q%s}`, code, code, when))
			}
			q := coretest.Ask(question.Key(fmt.Sprintf("q%d", i)), "one_choice", `{"choices":[`+strings.Join(choices, ",")+`]}`)
			q.When, q.Off, q.Section = on(i), rnd.IntN(12) == 0, sections[rnd.IntN(len(sections))]
			d.Questions = append(d.Questions, q)
		}
		rnd.Shuffle(len(d.Questions), func(i, j int) { d.Questions[i], d.Questions[j] = d.Questions[j], d.Questions[i] })
		e, findings := product.Compile(d)
		if product.Broken(findings) {
			t.Fatalf("round %d: %+v", round, findings)
		}
		for range 10 {
			given := map[string]string{}
			for i := range 14 {
				if rnd.IntN(4) > 0 {
					given[fmt.Sprintf("q%d", i)] = codes[rnd.IntN(3)]
				}
			}
			raw, _ := json.Marshal(given)
			got := map[string]string{}
			for k, v := range Evaluate(e, coretest.Decode(t, e, string(raw)), asGiven()).Answers {
				got[string(k)] = string(v.(question.One))
			}
			if want := slowly(d, given); fmt.Sprint(got) != fmt.Sprint(want) {
				t.Fatalf("round %d, %s:\n%v, want\n%v", round, raw, got, want)
			}
		}
	}
}

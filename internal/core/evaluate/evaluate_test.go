package evaluate

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/booking"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
	"ruvo/internal/coretest"
)

func asGiven() Given {
	return Given{Quantity: 1, Now: coretest.Now, Zone: time.UTC, Language: words.English}
}

func asked(r Result) string {
	var keys []string
	for _, a := range r.Asked {
		keys = append(keys, string(a.Item.Key))
	}
	return strings.Join(keys, " ")
}

func faults(list []question.Fault) string {
	var parts []string
	for _, f := range list {
		parts = append(parts, fmt.Sprintf("%s %s", f.Key, f.Code))
	}
	return strings.Join(parts, ", ")
}

// One chart, from nothing answered to everything.
func TestChart(t *testing.T) {
	e := coretest.Sample(t, "sky-chart")
	for _, c := range []struct {
		answers string
		later   string
		upto    question.Moment
		faults  string
		missing string
		total   money.Amount
	}{
		{`{}`, "", question.Choosing, "night required, place required, title required, paper required, size required", "night place title paper size", 2400},
		{`{}`, "title", question.Choosing, "night required, place required, paper required, size required", "night place title paper size", 2400},
		{`{}`, "night", question.Choosing, "night not_later, place required, title required, paper required, size required", "night place title paper size", 2400},
		{`{"night":"2014-06-14","place":"Lofthus","title":"The night we met in Lofthus harbour","paper":"midnight","size":"large"}`, "", question.Paying, "", "", 3900},
		{`{"night":"2014-06-14","place":"Lofthus","title":"The night we met in Lofthus harbour","paper":"midnight","size":"large","rush":true}`, "", question.Paying, "", "", 5070},
		{`{"night":"2014-06-14","place":"Lofthus","paper":"midnight","size":"small","gift":true}`, "title recipient", question.Paying, "", "title recipient dedication", 2400},
		{`{"night":"2014-06-14","place":"Lofthus","paper":"midnight","size":"small","gift":true}`, "title recipient", question.Briefing, "dedication required", "title recipient dedication", 2400},
		{`{"night":"1850-01-01","place":"Lofthus","paper":"gold","size":"small","title":"x"}`, "", question.Choosing, "night earliest, paper choice", "", 2400},
		{`{"night":"2014-06-14","place":"Lofthus","paper":"sand","size":"wall","title":"x","gift":false,"recipient":"Bea","dedication":"kept, not counted"}`, "", question.Briefing, "", "", 4900},
	} {
		f := asGiven()
		f.Later = map[question.Key]bool{}
		for k := range strings.FieldsSeq(c.later) {
			f.Later[question.Key(k)] = true
		}
		r := Evaluate(e, coretest.Decode(t, e, c.answers), f)
		var missing []string
		for _, k := range r.Missing {
			missing = append(missing, string(k))
		}
		if got := faults(r.Upto(e, c.upto)); got != c.faults {
			t.Errorf("%s: faults %q, want %q", c.answers, got, c.faults)
		}
		if got := strings.Join(missing, " "); got != c.missing {
			t.Errorf("%s: missing %q, want %q", c.answers, got, c.missing)
		}
		if r.Slip.Total != c.total {
			t.Errorf("%s: costs %d, want %d", c.answers, r.Slip.Total, c.total)
		}
	}
}

// What is not asked counts nowhere: not in the answers, the price, the notes
// or the work; and it counts again when the question comes back.
func TestHiddenAnswersDoNotCount(t *testing.T) {
	e := coretest.Sample(t, "sky-chart")
	f := asGiven()
	f.Work = &Work{Hours: &calendar.Hours{Zone: time.UTC, Week: calendar.Week{2: {{From: 540, To: 1020}}}}, Paid: coretest.Now, Briefed: coretest.Now}
	with := `{"night":"2014-06-14","place":"L","title":"x","paper":"sand","size":"small","recipient":"Bea","dedication":"Hi","gift":%s}`
	for gift, want := range map[string]struct {
		counts bool
		steps  int
	}{"true": {true, 4}, "false": {false, 3}, "null": {false, 3}} {
		r := Evaluate(e, coretest.Decode(t, e, fmt.Sprintf(with, gift)), f)
		if _, ok := r.Answers["recipient"]; ok != want.counts {
			t.Errorf("gift %s: the recipient counts: %v", gift, ok)
		}
		if len(r.Work) != want.steps {
			t.Errorf("gift %s: %d steps, want %d", gift, len(r.Work), want.steps)
		}
		if strings.Contains(asked(r), "dedication") != want.counts {
			t.Errorf("gift %s: asked %s", gift, asked(r))
		}
	}
	r := Evaluate(e, coretest.Decode(t, e, fmt.Sprintf(with, "true")), f)
	i := slices.IndexFunc(r.Asked, func(a Asked) bool { return a.Item.Key == "about_card" })
	if i < 0 || !strings.Contains(r.Asked[i].Text, "**Bea**") {
		t.Errorf("the note reads %+v", r.Asked)
	}
}

// A missing answer is a gap that people at the desk see, and nothing to
// customers.
func TestGaps(t *testing.T) {
	e := coretest.Sample(t, "sky-chart")
	f := asGiven()
	f.Later = map[question.Key]bool{"title": true, "recipient": true}
	f.Work = &Work{Hours: &calendar.Hours{Zone: time.UTC}, Paid: coretest.Now}
	r := Evaluate(e, coretest.Decode(t, e, `{"night":"2014-06-14","place":"L","paper":"sand","size":"small","gift":true}`), f)
	if got := r.Work[1].Instructions; got != "“[Title on the chart: not answered yet]” on Sand, Small, 30 × 40 cm" {
		t.Errorf("at the desk: %s", got)
	}
	for _, a := range r.Asked {
		if strings.Contains(a.Text, "not answered") {
			t.Errorf("the customer reads %s", a.Text)
		}
	}
}

// What a customer types cannot act as markup in a note.
func TestNotesEscapeAnswers(t *testing.T) {
	e := coretest.Sample(t, "sky-chart")
	r := Evaluate(e, coretest.Decode(t, e, `{"gift":true,"recipient":"[x](http://evil.example.org) <script>"}`), asGiven())
	for _, a := range r.Asked {
		if strings.Contains(a.Text, "](") || strings.Contains(a.Text, "<script>") && !strings.Contains(a.Text, `\<script\>`) {
			t.Errorf("the note reads %s", a.Text)
		}
	}
}

func TestEvening(t *testing.T) {
	e := coretest.Sample(t, "evening-under-the-stars")
	start := calendar.Day{Year: 2026, Month: 11, Number: 27}.At(18*60+30, time.UTC)
	f := asGiven()
	f.Checks = Against(nil, &booking.Query{Now: coretest.Now, Zone: time.UTC, Taken: []booking.Taken{{Start: start, End: start.Add(150 * time.Minute), People: 5}}}, nil)
	for people, want := range map[int]string{3: "", 4: "evening opening_full", 9: "evening people_most", 0: "evening people_least"} {
		in := fmt.Sprintf(`{"evening":{"start":%q,"people":%d},"languages":["en"]}`, start.Format(time.RFC3339), people)
		r := Evaluate(e, coretest.Decode(t, e, in), f)
		if got := faults(r.Upto(e, question.Paying)); got != want {
			t.Errorf("%d people: %q, want %q", people, got, want)
		}
	}
	f.Checks = Held // once it is sold, it is not checked against itself
	r := Evaluate(e, coretest.Decode(t, e, fmt.Sprintf(`{"evening":{"start":%q,"people":4},"languages":["en"],"blankets":2}`, start.Format(time.RFC3339))), f)
	if len(r.Upto(e, question.Paying)) > 0 || r.Slip.Total != 2*2400+2*1800+2*450 {
		t.Errorf("%s, %d", faults(r.Faults), r.Slip.Total)
	}
}

func TestQuantity(t *testing.T) {
	e := coretest.Sample(t, "gift-voucher")
	for quantity, want := range map[int]string{1: "", 2: "spare required", 10: "spare required", 11: "quantity quantity, spare required", 0: "quantity quantity", -1: "quantity quantity", 1 << 40: "quantity quantity, spare required"} {
		f := asGiven()
		f.Quantity = quantity
		r := Evaluate(e, coretest.Decode(t, e, `{"value":2500,"name":"Mira"}`), f)
		if got := faults(r.Upto(e, question.Choosing)); got != want {
			t.Errorf("%d vouchers: %q, want %q", quantity, got, want)
		}
		if r.Slip.Total < 2500 || r.Slip.Total > 25000 {
			t.Errorf("%d vouchers cost %d", quantity, r.Slip.Total)
		}
	}
}

// The order of the questions never changes what is asked, what is wrong, or
// the total.
func TestQuestionOrderDoesNotMatter(t *testing.T) {
	r := rand.New(rand.NewPCG(61, 62))
	for range 200 {
		d, answers := large(r, 12)
		one, _ := product.Compile(d)
		shuffled := d
		shuffled.Questions = slices.Clone(d.Questions)
		r.Shuffle(len(shuffled.Questions), func(i, j int) {
			shuffled.Questions[i], shuffled.Questions[j] = shuffled.Questions[j], shuffled.Questions[i]
		})
		two, _ := product.Compile(shuffled)
		a, b := Evaluate(one, answers, asGiven()), Evaluate(two, answers, asGiven())
		if a.Slip.Total != b.Slip.Total || len(a.Asked) != len(b.Asked) || len(a.Faults) != len(b.Faults) || len(a.Answers) != len(b.Answers) {
			t.Fatalf("in one order %d and %s, in another %d and %s", a.Slip.Total, asked(a), b.Slip.Total, asked(b))
		}
	}
}

// large makes a product of n questions, half of them conditional, three in
// four priced, and answers to all of it. Only amounts are charged, as a share
// of the price so far depends on the order.
func large(r *rand.Rand, n int) (product.Draft, question.Answers) {
	d := product.Draft{Title: "Large", Currency: "EUR", Price: 5000, Tax: decimal.NewFromInt(19)}
	answers := question.Answers{}
	for i := range n {
		k := question.Key(fmt.Sprintf("q%d", i))
		q := product.Question{Question: question.Question{Key: k, Moment: question.Choosing, Wording: string(k), Required: i%3 == 0}}
		c := charge.Charge{On: k, Effect: charge.Adds}
		a := money.Amount(r.Int64N(900) + 1)
		c.Rate.Amount = new(a.Fine())
		switch i % 4 {
		case 0:
			q.Kind = "short_text"
			answers[k] = question.Text(strings.Repeat("letters ", r.IntN(4)))
			c.Per, c.Included, c.Noun, c.Nouns = charge.Character, 4, "letter", "letters"
		case 1:
			q.Kind, q.Settings = "one_choice", json.RawMessage(`{"choices":[{"code":"a","label":"A"},{"code":"b","label":"B"}]}`)
			answers[k] = question.One([]string{"a", "b"}[r.IntN(2)])
			c.Choice = "a"
		case 2:
			q.Kind = "number"
			answers[k] = question.Number{Decimal: decimal.NewFromInt(r.Int64N(9))}
			c.Per = charge.Answer
		case 3:
			q.Kind = "yes_no"
			answers[k] = question.YesNo(r.IntN(2) == 0)
		}
		if i > 0 && i%2 == 0 {
			q.When = &condition.Condition{Answer: question.Key(fmt.Sprintf("q%d", r.IntN(i))), Op: condition.Answered}
		}
		d.Questions = append(d.Questions, q)
		if i%4 != 3 {
			d.Charges = append(d.Charges, c)
		}
	}
	return d, answers
}

// The work of a plan and its diff come with the evaluation when asked for.
func TestWorkComesWithIt(t *testing.T) {
	e := coretest.Sample(t, "photo-rescue")
	f := asGiven()
	f.Work = &Work{Hours: &calendar.Hours{Zone: time.UTC, Week: calendar.Week{2: {{From: 540, To: 1020}}, 3: {{From: 540, To: 1020}}}}, Paid: coretest.Now, Briefed: coretest.Now}
	r := Evaluate(e, coretest.Decode(t, e, `{"pictures":7,"damage":["torn"],"notes":"Keep the crease"}`), f)
	var minutes []int
	for _, i := range r.Work {
		minutes = append(minutes, i.Minutes)
	}
	if !slices.Equal(minutes, []int{24, 175, 8}) {
		t.Errorf("the work takes %v minutes", minutes)
	}
	if len(r.Diff.Add) != 3 || len(r.Diff.Update)+len(r.Diff.Drop) != 0 {
		t.Errorf("the diff is %+v", r.Diff)
	}
	f.Work.Existing = r.Diff.Add
	if again := Evaluate(e, coretest.Decode(t, e, `{"pictures":7,"damage":["torn"],"notes":"Keep the crease"}`), f); !again.Diff.Empty() {
		t.Errorf("a second time: %+v", again.Diff)
	}
	if r.Work[0].Step != "receive" || r.Work[0].After != "" || r.Work[1].After != workplan.StepKey("receive") {
		t.Errorf("%+v", r.Work)
	}
}

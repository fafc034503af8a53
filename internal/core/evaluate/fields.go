package evaluate

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/merge"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// mergeField gives the value of a merge field of a text that customers see,
// escaped for Markdown; what is not answered is nothing to them.
func (r *Result) mergeField(e *product.Edition, f *Given, env *question.Env, name string) string {
	if fact, ok := orderField(e, f, name); ok {
		return merge.EscapeMarkdown(fact)
	}
	item, ok := e.Item(question.Key(name))
	if !ok {
		return merge.EscapeMarkdown(r.bookedField(e, f, env, name))
	}
	if v, ok := r.Answers[item.Key]; ok {
		return merge.EscapeMarkdown(item.Spec.Words(v, *env))
	}
	return ""
}

// deskField gives the value of a merge field of the work plan: plain text, and
// a visible gap where a required answer is missing.
func (r *Result) deskField(e *product.Edition, f *Given, env *question.Env, name string) string {
	if fact, ok := orderField(e, f, name); ok {
		return fact
	}
	k := question.Key(name)
	item, ok := e.Item(k)
	if !ok {
		return r.bookedField(e, f, env, name)
	}
	if v, ok := r.Answers[k]; ok {
		return item.Spec.Words(v, *env)
	}
	if slices.Contains(r.Missing, k) {
		return env.Language.Say("gap", words.Params{"wording": item.Wording})
	}
	return ""
}

// bookedField gives a merge field of what is booked or measured; empty while that is
// not known.
func (r *Result) bookedField(e *product.Edition, f *Given, env *question.Env, name string) string {
	counted := map[string]charge.Per{charge.NamePeople: charge.Person, charge.NameHours: charge.Hour, charge.NameDays: charge.Day, charge.NameNights: charge.Night}
	if p, is := counted[name]; is {
		if n := e.Measured(p, r.Answers); n > 0 {
			return env.Language.Number(n.Decimal())
		}
		return ""
	}
	m := e.Facts(r.Answers, f.Zone)
	switch {
	case name == product.FieldBookedWith:
		return strings.Join(f.With, ", ")
	case m.First == (calendar.Day{}):
		return ""
	case name == charge.NameDay:
		return env.Language.Day(m.First)
	case name == charge.NameWeekday:
		return env.Language.Weekdays([]time.Weekday{m.First.Weekday()})
	case name == charge.NameSeason && e.Booking != nil:
		return e.Booking.Named(m.First)
	case name == product.FieldBegins && m.Timed:
		return fmt.Sprintf("%02d:%02d", m.Minute/60, m.Minute%60)
	}
	return ""
}

// orderField gives a merge field that every order has.
func orderField(e *product.Edition, f *Given, name string) (string, bool) {
	switch name {
	case "product":
		return e.Title, true
	case "order":
		return f.Order, true
	case "customer":
		return f.Customer, true
	case "quantity":
		return strconv.Itoa(f.Quantity), true
	case "voucher_codes":
		return f.VoucherCodes, true
	}
	return "", false
}

// Fill fills the merge fields of a text that the customer is sent, in plain text and in
// their language. Unknown names a field that nothing has which they may see.
func (r *Result) Fill(e *product.Edition, f Given, t *merge.Template) (text, unknown string) {
	for _, name := range t.Fields() {
		item, asked := e.Item(question.Key(name))
		switch {
		case asked && item.Moment != question.Desk, slices.Contains(product.OrderFields(), name), slices.Contains(product.BookedFields(), name):
		default:
			return "", name
		}
	}
	env := question.Env{Today: calendar.DayOf(f.Now.In(f.Zone)), Zone: f.Zone, Currency: e.Currency, Language: f.Language, Units: units(e, &f), Answers: r.Answers}
	return t.Render(func(name string) string {
		if item, asked := e.Item(question.Key(name)); asked && slices.Contains(r.Missing, item.Key) {
			return ""
		}
		return r.deskField(e, &f, &env, name)
	}), ""
}

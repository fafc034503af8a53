package message

import (
	"cmp"
	"fmt"
	"maps"
	"strconv"
	"strings"
	"time"

	"ruvo/internal/core/agreement"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/ledger"
	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/transfer"
	"ruvo/internal/core/voucher"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
	"ruvo/internal/document"
	"ruvo/internal/ics"
	"ruvo/internal/link"
	"ruvo/internal/store"
)

// WriteOrder writes the mail that an order brings with it.
func WriteOrder(tx *store.Tx, b store.Business, o store.Order, lines []*docket.Line, now time.Time) error {
	missing := ""
	l := words.Language(o.Language)
	if q := openQuestions(lines); q != "" {
		missing = l.Say("mail.missing", words.Params{"questions": q})
	}
	missing = brought(lines) + codes(b, lines) + missing
	if told := receipt(lines); told != "" {
		missing = l.Say("mail.told", words.Params{"answers": told}) + missing
	}
	for _, d := range o.Slip.Due {
		if d.Day != "" {
			missing = l.Fill("mail.due", "amount", l.Money(d.Amount, o.Currency), "when", d.Said(l)) + missing
		}
	}
	if len(o.Slip.Due) > 1 && b.Account.Given() {
		missing = l.Fill("mail.transfer", "holder", b.Account.Holder, "iban", transfer.Spaced(b.Account.IBAN), "reference", transfer.Spaced(transfer.Reference(*o.Number))) + missing
	}
	if o.Slip.Held > 0 {
		missing = l.Fill("mail.held", "amount", l.Money(o.Slip.Held, o.Currency)) + missing
	}
	paid := l.Fill("mail.paid", "total", l.Money(o.Slip.Now(), o.Currency))
	if v := o.Slip.Vouched(); v > 0 {
		paid = l.Fill("mail.paid_voucher", "total", l.Money(o.Slip.Now(), o.Currency), "amount", l.Money(v, o.Currency))
	}
	if o.OrderedAt != nil {
		entries, err := tx.Entries(o.ID)
		if err != nil {
			return err
		}
		if in := ledger.Sum(entries).Kept(); in > 0 {
			paid = l.Fill("mail.came", "amount", l.Money(in, o.Currency))
		} else {
			paid = l.Say("mail.unpaid", nil)
		}
	}
	// Customers keep what they agreed to: on a durable medium, as Directive 2011/83/EU,
	// article 8(7), has it for contracts made at a distance (cited from memory).
	terms, err := tx.AgreementText(agreement.Terms, o.TermsVersion)
	if err != nil {
		return err
	}
	if terms.Of().Asked() {
		missing += l.Say("mail.terms", words.Params{"version": strconv.Itoa(terms.Version), "text": document.Text(terms.Text)})
	}
	return sendAlong(tx, b, o, lines, "order", fmt.Sprintf("order-%d", o.ID), words.Params{"missing": missing, "paid": paid}, along{calendar: calendarOf(lines, false, now)}, now)
}

// brought names what an order brings at once, which lies on its page.
func brought(lines []*docket.Line) string {
	said := ""
	for _, line := range lines {
		for i := range line.Edition.AtOnce {
			if g := &line.Edition.AtOnce[i]; g.For(line.Result.Answers) {
				said += "– " + g.Title + "\n"
			}
		}
	}
	if said == "" {
		return ""
	}
	return words.Language(lines[0].Order.Language).Fill("mail.at_once", "what", said)
}

// codes names the vouchers that an order sold, with what each is worth.
func codes(b store.Business, lines []*docket.Line) string {
	said := ""
	for _, line := range lines {
		l := words.Language(line.Order.Language)
		for _, v := range line.Vouchers {
			said += l.Fill("mail.voucher", "code", voucher.Spaced(v.Code), "amount", l.Money(v.Worth, v.Currency))
			if until := v.State(0, 0).Until; v.Until != "" {
				said += l.Fill("mail.voucher_until", "day", l.Day(until))
			}
			said += "\n"
		}
		if said != "" && line == lines[len(lines)-1] {
			said += l.Fill("mail.voucher_look", "link", b.Address+"/voucher") + "\n\n"
		}
	}
	return said
}

// WriteAwaiting writes that an order is taken and awaits its transfer: how much
// goes where, with the payment code as a picture, and until when all of it is
// held.
func WriteAwaiting(tx *store.Tx, lines []*docket.Line, now time.Time) error {
	return awaited(tx, lines, "awaiting", fmt.Sprintf("awaiting-%d-%d", lines[0].Order.ID, now.UnixNano()), now)
}

// WriteTransferReminder reminds of a transfer that did not come in yet, or of
// what is missing of it.
func WriteTransferReminder(tx *store.Tx, lines []*docket.Line, now time.Time) error {
	return awaited(tx, lines, "owing", fmt.Sprintf("owing-%d-%d", lines[0].Order.ID, now.UnixNano()), now)
}

func awaited(tx *store.Tx, lines []*docket.Line, kind, key string, now time.Time) error {
	b, o := lines[0].Business, lines[0].Order
	l := words.Language(o.Language)
	entries, err := tx.Entries(o.ID)
	if err != nil {
		return err
	}
	amount := ledger.Awaited(entries, o.Slip.Held)
	came := ""
	if in := ledger.Sum(entries).Kept() + ledger.Sum(entries).Security(); in > 0 {
		came = l.Fill("mail.came", "amount", l.Money(in, o.Currency)) + " "
	}
	reference := transfer.Reference(*o.Number)
	more := l.Fill("mail.account", "holder", b.Account.Holder, "iban", transfer.Spaced(b.Account.IBAN), "reference", transfer.Spaced(reference))
	if !b.Account.Given() { // it was taken away meanwhile
		more = ""
	}
	code, coded := b.Account.Code(amount, o.Currency, reference)
	if coded {
		more += l.Say("mail.code", nil)
	}
	if b.Account.Note != "" {
		more += b.Account.Note + "\n\n"
	}
	return send(tx, b, o, lines, kind, key, words.Params{
		"amount": l.Money(amount, o.Currency), "came": came, "account": more, "until": l.Day(calendar.DayOf(store.When(o.HeldUntil).In(b.Location()))),
	}, code, now)
}

// WriteLate writes that a transfer came in after what it was for was given free,
// and taken by somebody else.
func WriteLate(tx *store.Tx, lines []*docket.Line, amount money.Amount, now time.Time) error {
	b, o := lines[0].Business, lines[0].Order
	l := words.Language(o.Language)
	return write(tx, b, o, lines, "late", fmt.Sprintf("late-%d-%d", o.ID, now.UnixNano()), words.Params{"amount": l.Money(amount, o.Currency)}, now)
}

// WriteLapsed writes that what an order held was given free, since its transfer
// did not come in, or its customer wished it so; back is what came in of it and is
// given back.
func WriteLapsed(tx *store.Tx, lines []*docket.Line, back money.Amount, self bool, now time.Time) error {
	b, o := lines[0].Business, lines[0].Order
	l := words.Language(o.Language)
	told := ""
	if back > 0 {
		told = l.Fill("mail.lapsed_back", "amount", l.Money(back, o.Currency))
	}
	kind := "lapsed"
	if self {
		kind = "given_up"
	}
	return write(tx, b, o, lines, kind, fmt.Sprintf("lapsed-%d-%d", o.ID, now.UnixNano()), words.Params{"told": told}, now)
}

// WriteCancelled writes that an order, or products of it, are cancelled, what is
// no longer charged, and what goes back; lines are what is cancelled.
func WriteCancelled(tx *store.Tx, lines []*docket.Line, credit, back money.Amount, now time.Time) error {
	b, o := lines[0].Business, lines[0].Order
	l := words.Language(o.Language)
	told := l.Fill("mail.uncharged", "amount", l.Money(credit, o.Currency))
	if back > 0 {
		told += " " + l.Fill("mail.back", "amount", l.Money(back, o.Currency))
	}
	return sendAlong(tx, b, o, lines, "cancelled", fmt.Sprintf("cancelled-%d-%d", o.ID, now.UnixNano()), words.Params{"told": told}, along{calendar: calendarOf(lines, true, now)}, now)
}

// WriteMoved writes that what a line books is at another time, with a word of the
// seller's, if there is one.
func WriteMoved(tx *store.Tx, line *docket.Line, was question.Booking, word string, now time.Time) error {
	k, ok := line.Edition.BookingKey()
	if !ok {
		return nil
	}
	item, _ := line.Edition.Item(k)
	env := question.Env{Zone: line.Given.Zone, Currency: line.Edition.Currency, Language: line.Given.Language}
	if word != "" {
		word += "\n\n"
	}
	lines := []*docket.Line{line}
	calendar := calendarOf(lines, false, now)
	if gone := line.Gone(was); len(gone) > 0 {
		calendar += ics.Write(ics.Cancel, "", gone, now)
	}
	return sendAlong(tx, line.Business, line.Order, lines, "moved", fmt.Sprintf("moved-%d-%d", line.Row.ID, now.UnixNano()), words.Params{
		"was": item.Spec.Words(was, env), "is": strings.Join(append([]string{line.Result.Words(line.Edition, k, line.Given)}, line.With...), ", "), "word": word,
	}, along{calendar: calendar}, now)
}

// WritePromise writes by which day an order line will be ready after all, with a word
// of the seller's, if there is one.
func WritePromise(tx *store.Tx, line *docket.Line, word string, now time.Time) error {
	if word != "" {
		word += "\n\n"
	}
	day := calendar.DayOf(line.Row.PromisedAt.In(line.Given.Zone))
	return write(tx, line.Business, line.Order, []*docket.Line{line}, "promise", fmt.Sprintf("promise-%d-%d", line.Row.ID, now.UnixNano()),
		words.Params{"day": line.Given.Language.Day(day), "word": word}, now)
}

// WriteTurn writes that what somebody waited for came free, with the address at which
// they take it.
func WriteTurn(tx *store.Tx, b store.Business, w store.Wait, title, slug, secret string, now time.Time) error {
	l := words.Language(w.Language)
	at := func(t time.Time) string {
		local := t.In(b.Location())
		return l.DayTime(calendar.DayOf(local), local.Hour()*60+local.Minute())
	}
	when := at(w.StartAt)
	if last := calendar.DayOf(w.EndAt.In(b.Location())); last != calendar.DayOf(w.StartAt.In(b.Location())) { // a stay, or a course
		when += " – " + l.Day(last)
	}
	p := words.Params{"name": w.Name, "product": title, "when": when, "until": at(store.When(w.OfferedUntil)), "business": b.Name, "link": b.Address + "/p/" + slug + "?turn=" + secret}
	return tx.WriteMessage(store.Message{
		Key: fmt.Sprintf("turn-%d", w.ID), Way: store.ByMail, Recipient: w.Email, Subject: l.Say("mail.turn.subject", p), Body: l.Say("mail.turn.body", p), CreatedAt: now.UTC(),
	})
}

// WriteReminder writes a mail that names what is still to answer.
func WriteReminder(tx *store.Tx, line *docket.Line, now time.Time) error {
	return write(tx, line.Business, line.Order, []*docket.Line{line}, "remind", fmt.Sprintf("remind-%d-%d", line.Row.ID, now.UnixNano()),
		words.Params{"questions": openQuestions([]*docket.Line{line})}, now)
}

// WriteTextReminder writes a text message to a phone that names what is still to
// answer.
func WriteTextReminder(tx *store.Tx, line *docket.Line, phone string, now time.Time) error {
	private, err := link.New(tx, line.Order.ID, now)
	if err != nil {
		return err
	}
	p := params(line.Business, line.Order, []*docket.Line{line}, private)
	p["questions"] = openQuestions([]*docket.Line{line})
	return tx.WriteMessage(store.Message{
		Key: fmt.Sprintf("remind-%d-%d", line.Row.ID, now.UnixNano()), Way: store.ByText, Recipient: phone,
		Body: words.Language(line.Order.Language).Say("text.remind", p), CreatedAt: now.UTC(),
	})
}

// WriteRelink writes a mail with a link that replaces the earlier ones.
func WriteRelink(tx *store.Tx, lines []*docket.Line, now time.Time) error {
	b, o := lines[0].Business, lines[0].Order
	return write(tx, b, o, lines, "relink", fmt.Sprintf("relink-%d-%d", o.ID, now.UnixNano()), words.Params{}, now)
}

// WriteWarning writes to the owner that somebody tries passwords: for whose mail
// address, empty for many, and from where. One a day is enough.
func WriteWarning(tx *store.Tx, b store.Business, owner store.User, email, from string, now time.Time) error {
	l := words.Language(b.Language)
	p := words.Params{"name": owner.Name, "business": b.Name, "email": cmp.Or(email, l.Say("mail.warning.many", nil)), "from": from, "log": b.Address + "/desk/log"}
	return tx.WriteMessage(store.Message{
		Key: fmt.Sprintf("warning-%s-%s", email, now.UTC().Format(time.DateOnly)), Way: store.ByMail, Recipient: owner.Email,
		Subject: l.Say("mail.warning.subject", p), Body: l.Say("mail.warning.body", p), CreatedAt: now.UTC(),
	})
}

// receipt lists the answers that appear on the receipt.
func receipt(lines []*docket.Line) string {
	var all []string
	for _, line := range lines {
		for _, a := range line.Result.Asked {
			if a.Answered && a.Item.Appears(question.Receipt) {
				all = append(all, a.Item.Wording+": "+strings.ReplaceAll(line.Result.Words(line.Edition, a.Item.Key, line.Given), "\n", ", "))
			}
		}
	}
	return strings.Join(all, "\n")
}

// openQuestions lists the wordings of what is still to answer.
func openQuestions(lines []*docket.Line) string {
	var all []string
	for _, line := range lines {
		for _, k := range line.Row.Missing {
			all = append(all, line.Wording(k))
		}
	}
	return strings.Join(all, "; ")
}

func write(tx *store.Tx, b store.Business, o store.Order, lines []*docket.Line, kind, key string, p words.Params, now time.Time) error {
	return send(tx, b, o, lines, kind, key, p, "", now)
}

func send(tx *store.Tx, b store.Business, o store.Order, lines []*docket.Line, kind, key string, p words.Params, code string, now time.Time) error {
	return sendAlong(tx, b, o, lines, kind, key, p, along{code: code}, now)
}

// along is what goes along with a mail.
type along struct {
	code     string // of a payment
	calendar string
}

// calendarOf writes what lines book as a calendar; empty for nothing.
func calendarOf(lines []*docket.Line, cancelled bool, now time.Time) string {
	var events []ics.Event
	for _, line := range lines {
		events = append(events, line.Events(nil, cancelled)...)
	}
	if len(events) == 0 {
		return ""
	}
	return ics.Write(ics.MethodFor(events[0]), "", events, now)
}

func sendAlong(tx *store.Tx, b store.Business, o store.Order, lines []*docket.Line, kind, key string, p words.Params, a along, now time.Time) error {
	private, err := link.NewMailed(tx, o.ID, now)
	if err != nil {
		return err
	}
	all := params(b, o, lines, private)
	maps.Copy(all, p)
	l := words.Language(o.Language)
	return tx.WriteMessage(store.Message{
		Key: key, Way: store.ByMail, Recipient: o.Email, Subject: l.Say("mail."+kind+".subject", all), Body: l.Say("mail."+kind+".body", all), Code: a.code, Calendar: a.calendar, CreatedAt: now.UTC(),
	})
}

// booked says what lines book, each on a line of its own, and what that takes; a
// course with all of its meetings.
func booked(lines []*docket.Line) string {
	said := ""
	for _, line := range lines {
		k, ok := line.Edition.BookingKey()
		b, is := line.Booked()
		if !ok || !is {
			continue
		}
		said += strings.Join(append([]string{line.Result.Words(line.Edition, k, line.Given)}, line.With...), ", ") + "\n"
		for _, m := range b.Meetings {
			local := m.Start.In(line.Given.Zone)
			said += "  " + line.Given.Language.DayTime(calendar.DayOf(local), local.Hour()*60+local.Minute()) + "–" + m.End.In(line.Given.Zone).Format("15:04") + "\n"
		}
	}
	if said != "" {
		said += "\n"
	}
	return said
}

// params gives what messages on an order are filled with, a private link of
// its own in each.
func params(b store.Business, o store.Order, lines []*docket.Line, private string) words.Params {
	var products []string
	for _, line := range lines {
		products = append(products, line.Edition.Title)
	}
	return words.Params{
		"name": o.Name, "number": strconv.FormatInt(*o.Number, 10), "business": b.Name, "products": strings.Join(products, ", "),
		"total": words.Language(o.Language).Money(o.Slip.Now(), o.Currency), "link": b.Address + "/o/" + private,
		"booked": booked(lines),
	}
}

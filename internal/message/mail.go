package message

import (
	"cmp"
	"fmt"
	"maps"
	"strconv"
	"strings"
	"time"

	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
	"ruvo/internal/core/transfer"
	"ruvo/internal/core/words"
	"ruvo/internal/docket"
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
	return write(tx, b, o, lines, "order", fmt.Sprintf("order-%d", o.ID), words.Params{"missing": missing}, now)
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
	return write(tx, b, o, lines, "cancelled", fmt.Sprintf("cancelled-%d-%d", o.ID, now.UnixNano()), words.Params{"told": told}, now)
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
	private, err := link.NewMailed(tx, o.ID, now)
	if err != nil {
		return err
	}
	all := params(b, o, lines, private)
	maps.Copy(all, p)
	l := words.Language(o.Language)
	return tx.WriteMessage(store.Message{
		Key: key, Way: store.ByMail, Recipient: o.Email, Subject: l.Say("mail."+kind+".subject", all), Body: l.Say("mail."+kind+".body", all), CreatedAt: now.UTC(),
	})
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
	}
}

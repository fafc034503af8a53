package docket

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"fmt"
	"strings"
	"time"

	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/store"
)

// NewLink makes a private link to an order, 128 random bits, and keeps its
// hash. The link itself is known only to whom it is given.
func NewLink(tx *store.Tx, order int64, now time.Time) (string, error) {
	bits := make([]byte, 16)
	rand.Read(bits)
	link := base64.RawURLEncoding.EncodeToString(bits)
	return link, tx.AddLink(store.Link{Hash: LinkHash(link), OrderID: order, CreatedAt: now.UTC()})
}

// LinkHash gives the form in which a private link is kept.
func LinkHash(link string) string {
	sum := sha256.Sum256([]byte(link))
	return hex.EncodeToString(sum[:])
}

// WriteOrderMail writes the mail that an order brings with it.
func WriteOrderMail(tx *store.Tx, b store.Business, o store.Order, lines []*Line, now time.Time) error {
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
	if o.Slip.Held > 0 {
		missing = l.Fill("mail.held", "amount", l.Money(o.Slip.Held, o.Currency)) + missing
	}
	return write(tx, b, o, lines, "order", fmt.Sprintf("order-%d", o.ID), words.Params{"missing": missing}, now)
}

// WriteReminder writes a mail that names what is still to answer.
func WriteReminder(tx *store.Tx, line *Line, now time.Time) error {
	return write(tx, line.Business, line.Order, []*Line{line}, "remind", fmt.Sprintf("remind-%d-%d", line.Row.ID, now.UnixNano()),
		words.Params{"questions": openQuestions([]*Line{line})}, now)
}

// WriteRelink writes a mail with a link that replaces the earlier ones.
func WriteRelink(tx *store.Tx, line *Line, now time.Time) error {
	return write(tx, line.Business, line.Order, []*Line{line}, "relink", fmt.Sprintf("relink-%d-%d", line.Order.ID, now.UnixNano()), words.Params{}, now)
}

// receipt lists the answers that appear on the receipt.
func receipt(lines []*Line) string {
	var all []string
	for _, line := range lines {
		for _, a := range line.Result.Asked {
			if a.Answered && a.Item.Appears(question.Receipt) {
				all = append(all, a.Item.Wording+": "+strings.ReplaceAll(line.Result.Words(line.Edition, a.Item.Key, line.Facts), "\n", ", "))
			}
		}
	}
	return strings.Join(all, "\n")
}

// openQuestions lists the wordings of what is still to answer.
func openQuestions(lines []*Line) string {
	var all []string
	for _, line := range lines {
		for _, k := range line.Row.Missing {
			all = append(all, line.Wording(k))
		}
	}
	return strings.Join(all, "; ")
}

func write(tx *store.Tx, b store.Business, o store.Order, lines []*Line, kind, key string, p words.Params, now time.Time) error {
	link, err := NewLink(tx, o.ID, now)
	if err != nil {
		return err
	}
	var products []string
	for _, line := range lines {
		products = append(products, line.Edition.Title)
	}
	l := words.Language(o.Language)
	p["name"], p["number"], p["business"] = o.Name, itoa(*o.Number), b.Name
	p["products"], p["total"], p["link"] = strings.Join(products, ", "), l.Money(o.Slip.Now(), o.Currency), b.Address+"/o/"+link
	return tx.WriteMail(store.Mail{
		Key: key, Recipient: o.Email, Subject: l.Say("mail."+kind+".subject", p), Body: l.Say("mail."+kind+".body", p), CreatedAt: now.UTC(),
	})
}

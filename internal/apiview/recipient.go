package apiview

import (
	"time"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/store"
)

// ReadRecipient reads what a buyer says of whom an order is for.
func ReadRecipient(w *api.RecipientWish, today calendar.Day) (order.Recipient, []question.Fault) {
	r := order.Recipient{Name: w.Name, Email: Given(w.Email), Words: Given(w.Words), Answers: Given(w.Answers), Files: Given(w.Files)}
	var unread []question.Fault
	if from := Given(w.From); from != "" {
		day, err := calendar.ParseDay(from)
		if err != nil {
			unread = []question.Fault{{Key: "recipient.from", Code: "day"}}
		} else {
			r.From = &day
		}
	}
	r, wrong := r.Read(today)
	return r, append(wrong, unread...)
}

// Recipient shows whom an order is for; nil for the buyer.
func Recipient(o *store.Order, zone *time.Location) *api.Recipient {
	r := o.Recipient
	if r == nil {
		return nil
	}
	v := api.Recipient{Name: r.Name, Email: r.Email, Words: r.Words, Answers: r.Answers, Files: r.Files, Told: o.ToldAt}
	if r.From != nil {
		day := r.From.String()
		v.From = &day
	}
	if o.ToldAt == nil {
		v.Tells = o.TellAt
	}
	return &v
}

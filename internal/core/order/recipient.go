package order

import (
	"strings"
	"time"
	"unicode/utf8"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
)

// A Recipient is for whom somebody else ordered. They are told on a day, and are never
// shown what it cost.
type Recipient struct {
	Name  string        `json:"name"`
	Email string        `json:"email,omitempty"` // empty: the buyer passes the link on
	Words string        `json:"words,omitempty"` // of the buyer to them
	From  *calendar.Day `json:"from,omitempty"`  // before which they are not told; nil: at once
	// Answers has them see what the buyer chose, Files what is handed over.
	Answers bool `json:"answers,omitempty"`
	Files   bool `json:"files,omitempty"`
}

const (
	longestWords = 1000 // characters of what the buyer writes
	farthestDay  = 730  // days from the order until the recipient is told
)

// Read takes over what a buyer said of who it is for, in one form.
func (r Recipient) Read(today calendar.Day) (Recipient, []question.Fault) {
	var wrong []question.Fault
	say := func(key, code string) {
		wrong = append(wrong, question.Fault{Key: question.Key("recipient." + key), Code: code})
	}
	r.Name, r.Words = strings.TrimSpace(r.Name), strings.TrimSpace(strings.ReplaceAll(r.Words, "\r\n", "\n"))
	if r.Name == "" || question.Characters(r.Name) > 120 || !utf8.ValidString(r.Name) || strings.ContainsAny(r.Name, "\r\n\x00") {
		say("name", "recipient_name")
	}
	if typed := strings.TrimSpace(r.Email); typed != "" {
		if r.Email = question.MailAddress(typed); r.Email == "" {
			say("email", "email")
		}
	}
	if len(r.Words) > 64*longestWords || question.Characters(r.Words) > longestWords || !utf8.ValidString(r.Words) || strings.ContainsRune(r.Words, 0) {
		say("words", "recipient_words")
	}
	if r.From != nil {
		switch n := r.From.Since(today); {
		case n > farthestDay:
			say("from", "recipient_from")
		case n <= 0: // a day that has come is no day to wait for
			r.From = nil
		}
	}
	return r, wrong
}

// TellAt gives from when on the recipient is told of an order that is placed now: the
// morning of their day, at eight as is common practice for mails.
func (r Recipient) TellAt(now time.Time, zone *time.Location) time.Time {
	if r.From == nil {
		return now
	}
	if at := r.From.At(8*60, zone); at.After(now) {
		return at
	}
	return now
}

// Asks says whether a question is one that the recipient answers.
func (r *Recipient) Asks(q *question.Question) bool {
	return r != nil && q.Recipient && q.Moment == question.Briefing
}

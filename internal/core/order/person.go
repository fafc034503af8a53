package order

import (
	"strings"
	"time"
	"unicode/utf8"

	"ruvo/internal/core/question"
)

// Person checks and reads the two things that are always asked.
func Person(name, email string) (string, string, []question.Fault) {
	var wrong []question.Fault
	name = strings.TrimSpace(name)
	if name == "" || question.Characters(name) > 120 || len(name) > 2000 || !utf8.ValidString(name) || strings.ContainsAny(name, "\r\n\x00") {
		wrong = append(wrong, question.Fault{Key: "name", Code: "name"})
	}
	address := question.MailAddress(email)
	if address == "" {
		wrong = append(wrong, question.Fault{Key: "email", Code: "email"})
	}
	return name, address, wrong
}

// LinkTime is how long after placing the checkout's name gives its private
// link once more, for a browser whose first answer was lost on the way.
const LinkTime = 10 * time.Minute

// LinkRefused gives the code of what stands against giving a private link to
// whoever knows the checkout's name: the name is no key for ever, and none at
// all once the desk replaced the link.
func LinkRefused(s State, placed time.Time, replaced bool, now time.Time) string {
	if code := s.Refused(LinkOnce); code != "" {
		return code
	}
	if replaced || now.Sub(placed) > LinkTime {
		return "link_sent"
	}
	return ""
}

package words

import "fmt"

// A Message is something that is still to be said: the code of a text with what
// fills its gaps. Whoever finds a mistake tells it so; whoever shows it says it
// in the reader's language. A Message is an error, too, whose own words are
// English, for logs.
type Message struct {
	Code  string
	pairs []any
}

// Tell makes a message. Each gap's name stands before its value: a text, a
// number, another message or error, a Told, or a Spoken.
func Tell(code string, pairs ...any) *Message { return &Message{code, pairs} }

// Told is what has a message of its own.
type Told interface{ Told() *Message }

// Spoken is a value that reads differently in each language.
type Spoken func(Language) string

// Say gives the message's words in a language.
func (m *Message) Say(l Language) string {
	return l.say(m.Code, func(name string) string {
		for i := 0; i+1 < len(m.pairs); i += 2 {
			if m.pairs[i] == name {
				return spoken(m.pairs[i+1], l)
			}
		}
		return ""
	})
}

func spoken(v any, l Language) string {
	switch v := v.(type) {
	case string:
		return v
	case *Message:
		return v.Say(l)
	case Told:
		return v.Told().Say(l)
	case Spoken:
		return v(l)
	}
	return fmt.Sprint(v)
}

// Error gives the message in English.
func (m *Message) Error() string { return m.Say(English) }

// Of says an error in a language: its message, if it has one.
func Of(err error, l Language) string { return spoken(any(err), l) }

package cards

import (
	"errors"
	"slices"
)

// When notices are sent, against when the customer is led back.
const (
	NoticeBefore   = ""         // before
	NoticeAfter    = "after"    // a few seconds after
	NoticeTwice    = "twice"    // before, and once more after
	NoticeLate     = "late"     // a minute after
	NoticeNever    = "never"    //
	NoticeShuffled = "shuffled" // what happened later first
)

// What is asked of the customer's bank.
const (
	ConfirmsByCard = ""       // as the card's number says
	ConfirmsAlways = "always" // every card wants a confirmation
	ConfirmsNever  = "never"  //
)

// What becomes of cards.
const (
	DeclinesByCard = "" // as the card's number says
	DeclinesMoney  = "declined"
	DeclinesOld    = "expired"
	DeclinesLost   = "blocked"
	DeclinesLimit  = "limit"
)

// Whether requests are answered.
const (
	SilentNever  = ""       //
	SilentBefore = "before" // nothing happens, and nothing is answered
	SilentAfter  = "after"  // what is asked for happens, and nothing is answered
)

// What becomes of money that goes back.
const (
	ReturnsAtOnce  = ""
	ReturnsLater   = "later"   // once it is told to go back at once again
	ReturnsRefused = "refused" //
)

// A Behaviour is how the service behaves; the zero value is well.
type Behaviour struct {
	Notices  string `json:"notices"`
	Confirms string `json:"confirms"`
	Declines string `json:"declines"`
	Silent   string `json:"silent"`
	Returns  string `json:"returns"`
}

// A choice is one thing that can be set, with what it can be set to.
type choice struct {
	Name    string
	Label   string
	Options []option
	at      func(*Behaviour) *string
}

type option struct{ Value, Label string }

var choices = []choice{
	{"notices", "Notices about payments are sent", []option{
		{NoticeBefore, "before the customer is led back"}, {NoticeAfter, "some seconds after"}, {NoticeTwice, "twice, once before and once after"},
		{NoticeLate, "a minute late"}, {NoticeNever, "never"}, {NoticeShuffled, "in the wrong order"},
	}, func(b *Behaviour) *string { return &b.Notices }},
	{"confirms", "The customer’s bank asks for a confirmation", []option{
		{ConfirmsByCard, "as the card says"}, {ConfirmsAlways, "of every card"}, {ConfirmsNever, "of no card"},
	}, func(b *Behaviour) *string { return &b.Confirms }},
	{"declines", "Cards are", []option{
		{DeclinesByCard, "taken or declined as their number says"}, {DeclinesMoney, "declined: not enough money"}, {DeclinesOld, "declined: expired"},
		{DeclinesLost, "declined: blocked"}, {DeclinesLimit, "declined: above the limit"},
	}, func(b *Behaviour) *string { return &b.Declines }},
	{"silent", "Requests of the shop are", []option{
		{SilentNever, "answered"}, {SilentBefore, "lost on their way"}, {SilentAfter, "done, and the answers are lost"},
	}, func(b *Behaviour) *string { return &b.Silent }},
	{"returns", "Money goes back", []option{
		{ReturnsAtOnce, "at once"}, {ReturnsLater, "later, when this is set to “at once” again"}, {ReturnsRefused, "never: it is refused"},
	}, func(b *Behaviour) *string { return &b.Returns }},
}

// Validate says what is wrong with a behaviour.
func (b Behaviour) Validate() error {
	for _, c := range choices {
		if !slices.ContainsFunc(c.Options, func(o option) bool { return o.Value == *c.at(&b) }) {
			return errors.New(c.Name + " is none of the choices")
		}
	}
	return nil
}

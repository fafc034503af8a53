package e2e

import (
	"ruvo/internal/standin/cards"
	"testing"
	"time"
)

// The bank begins a payment, and its answer is lost: nobody is asked to pay
// again, also after a reload, and the payment goes on once the bank is heard.
func TestTheBankIsSilent(t *testing.T) {
	h := open(t)
	must(t, h.bank.Behave(t.Context(), cards.Behaviour{Silent: cards.SilentAfter}))
	phone := h.visitor(390, 844)
	fillChart(phone)
	phone.press("button", "Add to basket", ".product-bar")
	phone.press("button", "Check out")
	phone.types("Your name", "Maren Oduya")
	phone.types("Mail address", "maren.new@example.org")
	phone.press("button", "Go on to the payment")
	phone.press("button", "Pay €")
	phone.sees("there is no need to pay again")
	phone.reload()
	phone.sees("there is no need to pay again")
	must(t, h.bank.Behave(t.Context(), cards.Behaviour{}))
	h.ahead.Add(int64(time.Minute))
	must(t, h.server.Attempts.Round(t.Context()))
	phone.sees("Your payment is not finished")
	phone.press("link", "Go on to the payment")
	phone.card("9900 0000 0000 0002")
	phone.sees("Your order 1043 is paid.")

	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/orders?text=1043")
	desk.sees("charged", ".ledger")
	desk.sees("by card", ".ledger")
}

// The desk's bar is one row on a phone, and reaches every place.
func TestTheDeskOnAPhone(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.signIn()
	p.press("button", "Places: Today")
	p.press("option", "Money")
	p.sees("Waits to be settled")
	p.until("the bar is one row", "document.querySelector('header').getBoundingClientRect().height < 72")
	p.until("nothing stands out to the side", "document.documentElement.scrollWidth <= 390")
	p.press("button", "Places: Money")
	p.press("option", "Work")
	p.until("the place is Work", "location.pathname === '/desk/work'")
}

// A condition can say that an answer lies between two others.
func TestBetween(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products")
	p.press("link", "Photo rescue")
	p.press("button", "Licence for commercial use", ".path")
	p.press("button", "Add a condition", ".bench-middle")
	p.chooses("Which answer", "How many pictures?", ".condition")
	p.chooses("How it compares", "is between", ".condition")
	p.types("from", "3", ".condition")
	p.types("to", "5", ".condition")
	p.sees("draft is kept", ".bench-head")
	p.types("How many pictures?", "4", ".live")
	p.press("tick", "Paying", ".live")
	p.sees("Licence for commercial use", ".live")
	p.press("tick", "Choosing", ".live")
	p.types("How many pictures?", "6", ".live")
	p.press("tick", "Paying", ".live")
	p.sees("How did you hear of us?", ".live")
	p.misses("Licence for commercial use", ".live")
}

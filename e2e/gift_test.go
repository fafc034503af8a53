package e2e

import (
	"strings"
	"testing"

	"ruvo/internal/link"
)

// giftOf makes a link for whom the newest order of a customer is.
func (h *house) giftOf(customer string) string {
	h.t.Helper()
	return "/gift/" + h.linked(customer, link.NewGift)
}

// Somebody orders an evening for somebody else, who answers what they are asked on a
// phone of their own and sees no price; the desk sees for whom it is.
func TestAnEveningForSomebodyElse(t *testing.T) {
	h := open(t)
	phone := h.visitor(390, 844)
	phone.goTo("/p/red-lamp")
	phone.press("button", "Add to basket", ".product-bar")
	phone.press("button", "Check out")
	phone.types("Your name", "Wanda Fjell")
	phone.types("Mail address", "wanda@example.org")
	phone.press("tick", "It is for somebody else")
	phone.press("button", "Go on to the payment")
	phone.sees("Say who it is for", ".recipient") // nobody yet
	phone.types("Who is it for?", "Nils Aas")
	phone.types("A few words to them", "For your nights out.")
	pay(phone)
	phone.sees("Your order 1043 is paid.")
	phone.sees("You hand the link over yourself.")
	phone.press("button", "Get a link to hand over")
	phone.sees("Only Nils Aas should have it")
	lamp := strings.TrimPrefix(phone.leads(`section[aria-label="For Nils Aas"] .notice a`), h.url)
	other := h.visitor(390, 844)
	other.goTo(lamp)
	other.sees("Nils Aas, this is for you")
	other.sees("For your nights out.")
	other.misses("€")

	// The sample's own: told by mail, with questions.
	matti := h.visitor(390, 844)
	matti.goTo(h.giftOf("Ines Varga"))
	matti.sees("Matti Solheim, this is for you")
	matti.sees("Wool blankets with hot tea")
	matti.types("What should we know about your guests?", "Four of us, one on crutches.")
	matti.sees("✓ saved", ".to-answer")
	matti.sees("Complete, thank you.", ".to-answer")
	matti.misses("€")
	matti.reload()
	matti.sees("Four of us, one on crutches.", ".order")

	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/orders?text=Ines%20Varga")
	desk.sees("Matti Solheim", ".docket")
	desk.sees("one on crutches", ".brief")
}

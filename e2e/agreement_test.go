package e2e

import "testing"

// The terms of sale change while somebody is at the checkout: they are told, see the new
// ones, and go on. What they agreed to stands in the docket with all else that happened,
// and news is stopped with one press.
func TestTermsAndNews(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	fillChart(p)
	p.press("button", "Add to basket", ".product-bar")
	p.press("button", "Check out")
	p.types("Your name", "Wanda Fjell")
	p.types("Mail address", "wanda@example.org")
	p.press("tick", "Write me news")
	p.sees("Read the text, version 2")

	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/products/checkout")
	d.press("button", "Change the text", `[aria-labelledby="agreement-terms-head"]`)
	d.types("Text", "Clouds are nobody's fault.")
	d.press("button", "Put it up as version 3")
	d.sees("version 3, since")
	d.sees("Read the text, version 3", ".phone")

	p.press("button", "Go on to the payment")
	p.sees("The terms of sale changed meanwhile.")
	p.press("button", "Terms of sale", ".missing")
	p.sees("Read the text, version 3")
	pay(p)
	p.sees("Your order 1043 is paid.")
	p.sees("Read the text, version 3")
	p.sees("that news may be written to you.", ".news")
	d.goTo("/desk/orders/customers?news=yes")
	d.sees("Wanda Fjell", ".rows")
	p.press("button", "Stop it", ".news")
	p.sees("No news is written to you.", ".news")
	p.reload()
	p.sees("No news is written to you.", ".news")

	d.reload()
	d.sees("Hanne Solbakk", ".rows")
	d.misses("Wanda Fjell", ".rows")
	d.goTo("/desk/orders?text=1043")
	d.press("button", "What happened", ".docket-parts")
	d.sees("Terms of sale, version 3", "#docket-documents")
	d.sees("paid by card", ".happened")
	d.press("option", "answers", "#docket-happened")
	d.sees("Nothing of this kind yet.")
	d.press("link", "Wanda Fjell", ".docket")
	d.sees("not wanted")
	d.press("button", "They agreed elsewhere")
	d.sees("noted by Ilse Brandt")
	d.sees("may be written")
}

package e2e

import "testing"

// The seller lays the checkout out, sees it at once at the size of a phone, and customers
// go through it so: step by step, with what is missing listed and a jump to it.
func TestTheCheckoutIsArranged(t *testing.T) {
	h := open(t)
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/products/checkout")
	d.sees("Step 1 of 2", ".phone")
	d.sees("I order for a business", ".phone")
	// What the products ask is put in another order, by the keyboard.
	asked := func(keys string) string {
		return `[...document.querySelectorAll(".phone [data-question]")].map((q) => q.dataset.question).join(" ") === "` + keys + `"`
	}
	d.until("it is asked first", asked("rush fund heard"))
	d.carries("Put my chart before the others", 1, 2)
	d.until("it is asked last", asked("fund heard rush"))
	d.press("tick", "I order for a business", ".sheet")
	d.misses("I order for a business", ".phone")
	d.press("tick", "step by step")
	d.sees("Step 1 of 4", ".phone")
	d.sees("kept; customers see it so")

	p := h.visitor(390, 844)
	p.goTo("/p/sky-chart")
	p.picks("The night", "2014-06-14")
	p.types("The place", "Lofthus")
	p.types("Title on the chart", "Us")
	p.press("tick", "Midnight")
	p.press("tick", "Large")
	p.press("button", "Add to basket", ".product-bar")
	p.press("button", "Check out")
	p.sees("Step 1 of 4")
	p.misses("How did you hear of us?")
	p.press("button", "Go on")
	p.sees("Step 2 of 4")
	p.sees("How did you hear of us?")
	p.press("button", "Go on")
	p.sees("Step 3 of 4")
	p.back() // goes a step back, with what was typed
	p.sees("Step 2 of 4")
	p.reload()
	p.sees("Step 2 of 4")
	p.press("button", "Go on")
	p.sees("Step 3 of 4")
	p.misses("I order for a business")
	p.press("button", "Go on to the payment")
	p.sees("2 things are still needed:")
	p.press("button", "Mail address", ".missing")
	p.sees("Step 1 of 4")
	p.types("Mail address", "wanda@example.org")
	p.types("Your name", "Wanda Fjell")
	p.press("button", "Go on")
	p.sees("Step 2 of 4")
	p.press("button", "Go on")
	p.sees("Step 3 of 4")
	pay(p)
	p.sees("Your order 1043 is paid.")
}

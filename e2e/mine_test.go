package e2e

import "testing"

// A customer comes back on another phone: signs in by a mail, finds their orders, and
// what is kept of them is filled in. The seller sees who that is.
func TestComingBackOnAnotherPhone(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/mine")
	p.types("Mail address", "ravi@example.org")
	p.press("button", "Send me the link")
	p.sees("a mail with a link is on its way")
	p.goTo(h.passOf())
	p.press("button", "Sign in here")
	p.sees("You are signed in as ravi@example.org.")
	p.press("link", "Your orders")
	p.sees("Hello, Ravi Thornquist")
	p.sees("Nights in the observatory cabin", ".my-order")
	p.sees("Is there a place for a bicycle at the cabin?", `[aria-label="Messages"]`)
	p.reload()
	p.press("button", "Open order 1035")
	p.sees("Your order 1035")

	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/orders?text=1035")
	d.press("link", "Ravi Thornquist", ".docket")
	d.sees("Is there a place for a bicycle at the cabin?", ".customer-columns")
	d.types("Note", "Comes by bicycle")
	d.press("button", "Add a fact")
	d.types("What", "Bicycle")
	d.types("Bicycle", "red")
	d.press("button", "Keep it")
	d.sees("✓ saved")
	d.press("link", "Customers")
	d.types("Name or mail address", "thorn")
	d.presses("\r")
	d.sees("Ravi Thornquist", ".rows")
	d.press("button", "Take in a table …")
	d.types("Or put its text here", "mail,name,Town\nnova@example.org,Nova Brandt,Bergen\nnobody,,")
	d.press("button", "Take it in", ".ant-modal")
	d.sees("1 person is new", ".ant-modal")
	d.sees("Row 3:", ".ant-modal")
	d.press("button", "Done", ".ant-modal")
}

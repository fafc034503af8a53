package e2e

import "testing"

// The seller asks one more thing of one order; the customer answers it on the order's page
// as they type, and the docket has it. A fact of a product is answered for every order.
func TestOneMoreThing(t *testing.T) {
	h := open(t)
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/orders?text=Leandro")
	d.press("button", "Ask one more thing …")
	d.press("button", "Ask ", ".ant-modal-footer")
	d.sees("Write what you would like to know", ".ant-modal")
	d.types("What would you like to know?", "Which door do we knock at?", ".ant-modal")
	d.press("button", "Ask ", ".ant-modal-footer")
	d.sees("Which door do we knock at?", ".things")
	d.sees("not answered yet", ".things")
	p := h.visitor(390, 844)
	p.goTo(h.linkOf("Leandro Fioravanti"))
	p.sees("One more thing")
	p.types("Which door do we knock at?", "The blue one")
	p.sees("✓ saved")
	p.reload()
	p.until("it is there", `[...document.querySelectorAll("input")].some((i) => i.value === "The blue one")`)
	// What is typed without a connection stays, through a reload, and goes by itself.
	p.offline(true)
	p.types("Which door do we knock at?", "The blue one, at the back")
	p.until("it waits", `!ruvo.text('[aria-label="One more thing"]').includes("✓ saved")`)
	p.offline(false)
	p.reload()
	p.until("it is there still", `[...document.querySelectorAll("input")].some((i) => i.value === "The blue one, at the back")`)
	p.sees("✓ saved")
	d.reload()
	d.sees("The blue one, at the back", ".things")

	d.press("button", "Ask one more thing …")
	d.types("What would you like to know?", "May we see the wall?", ".ant-modal")
	d.chooses("Answered with", "files", ".ant-modal")
	d.press("button", "Ask ", ".ant-modal-footer")
	d.sees("May we see the wall?", ".things")
	p.reload()
	p.dropsInto("May we see the wall?", picture(t, "wall.png", 320, 240))
	p.sees("wall.png", `[aria-label="One more thing"]`)
	p.until("both are saved", `[...document.querySelectorAll('[aria-label="One more thing"] [role=status]')].filter((e) => e.textContent.includes("saved")).length === 2`)
	d.reload()
	d.until("the picture is there", `document.querySelector(".things .proof img")?.naturalWidth > 0`)

	d.goTo("/desk/products/1")
	d.press("button", "Name of the finished file", ".path")
	d.types("Name of the finished file", "chart.pdf", `fieldset[aria-label="The same for every order"]`)
	d.sees("draft is kept", ".bench-head")
	d.reload()
	d.press("button", "Name of the finished file", ".path")
	d.until("it is there", `[...document.querySelectorAll("fieldset input")].some((i) => i.value === "chart.pdf")`)
}

package e2e

import (
	"strings"
	"testing"
)

// A dinner is priced by the day, by what each guest is and eats, with the meal at
// a tax of its own and no less than for a table; the price is the same on the
// phone, in the basket and at the desk.
func TestADinnerForSomeGuests(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/")
	p.sees("Dinner under the dome")
	p.goTo("/p/dinner-under-the-dome")
	p.press("button", "Add to basket", ".product-bar")
	p.sees("Please answer this.", `[data-question="sitting"]`)
	p.press("button", "Friday 27 November")
	p.press("button", "18:00–21:00 12 left")
	p.press("button", "+ guest")
	p.types("Name", "Ada Quill", `[data-question="diners"]`)
	p.press("tick", "Lamb", `[data-question="diners"]`)
	p.press("button", "+ guest")
	p.sees("Please answer this.", `[data-question="diners"] [aria-label="guest 2"]`) // the page stands still once their plate is asked for
	p.press("button", "Yes", `[data-question="diners"]`)
	p.press("tick", "Roots", `[data-question="diners"]`)
	p.press("button", "see what is in it")
	// Friday: 2 people × 45.60, a meal for 26.00 and one for 15.00, lamb for 4.50,
	// and 2 per cent of it all.
	p.sees("Friday and Saturday: 45.60 instead of 38.00", ".product-bar")
	p.sees("1 child × 15.00", ".product-bar")
	p.sees("Stargazers’ pension fund", ".product-bar")
	p.sees("€139.43", ".product-bar")
	p.press("button", "Add to basket", ".product-bar")
	p.sees("Your basket")
	p.sees("€139.43")
	p.sees("7 %")
	p.goTo("/checkout")
	p.types("Your name", "Ada Quill")
	p.types("Mail address", "ada@example.org")
	pay(p)
	p.sees("Your order 1043 is paid.")
	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/orders?text=1043")
	desk.sees("Smaller plates for children", ".order-open")
	h.audit()
}

// At the bench a seller asks why a price is what it is, as a customer of a group
// and on another day, looks at prices as a table, and changes the order of the slip.
func TestWhyThisPrice(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products/7") // a lamp with other prices
	p.press("tick", "Slip", ".live")
	p.press("button", "Red lamp", ".live-slip")
	p.sees("list price 9.50 → 9.50", ".slip-steps")
	p.sees("the customer is in no group", ".slip-steps")
	p.press("tick", "Try it", ".live")
	p.chooses("Tried as a customer of the group", "Night schools", ".live")
	p.sees("8.20 instead of 9.50", ".live-slip")
	p.goTo("/desk/products/1")
	p.press("tick", "Slip", ".live")
	p.press("button", "Prices as a table", ".live")
	p.sees("63.70", ".price-grid")
	p.until("the grid can be saved", `decodeURIComponent(document.querySelector('a[download="prices.csv"]').href).includes("49.00,63.70,49.00")`)
	p.chooses("down", "Put my chart before the others", ".ant-modal")
	p.sees("Size of the file", ".price-grid-head")
	p.press("button", "Close")

	p.goTo("/desk/products/13")
	p.press("button", "Price and payment", ".path")
	p.until("the fund is last", `[...document.querySelectorAll(".slip-order-row")].at(-1).innerText.includes("pension fund")`)
	p.carries("Red wine", 5, 1)
	p.sees("In an order of its own", ".slip-order")
	p.sees("draft is kept", ".bench-head")
	p.reload()
	p.press("button", "Price and payment", ".path")
	p.until("the fund stands before the red wine", `((rows) => rows.findIndex((r) => r.includes("pension")) < rows.findIndex((r) => r.includes("Red wine")))([...document.querySelectorAll(".slip-order-row")].map((r) => r.innerText))`)
	p.press("button", "In the order of the questions again")
	p.misses("In an order of its own", ".slip-order")
}

// A formula that can have no result stops publishing until the seller says what
// it costs then; what sells nothing is told beforehand; an amount below the
// smallest coin is taken as it is; what no answer can mend is told in the shop
// where the price is.
func TestPricesWithoutSilence(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products/10")
	p.press("button", "Printed on", ".path")
	p.types("Number for cloth", "60", ".rate-table")
	p.until("the table stands in the formula", `ruvo.value("field", "Formula of charge 1").includes("\"cloth\", 60, 72)")`)
	p.types("Formula of charge 1", "5200 / height", ".charges")
	p.press("button", "How high?", ".path")
	p.types("Least", "0", ".bench-middle")
	p.press("button", "Printed on", ".path")
	p.sees("can divide by zero. Say which amount it is then", ".charges")
	p.until("nothing can be published", `ruvo.find("button", "Publish edition 2").disabled`)
	p.types("Formula of charge 1, without a result", "39", ".charges")
	p.misses("can divide by zero", ".charges")
	p.press("button", "Words below, if you like", ".path")
	p.types("Amount of charge 3", "0.004", ".charges")
	p.sees("adds 0.004", ".charges")
	p.sees("draft is kept", ".bench-head")
	p.reload()
	p.press("button", "Words below, if you like", ".path")
	p.until("the amount is kept", `ruvo.value("field", "Amount of charge 3") === "0.004"`)
	p.press("button", "Printed on", ".path")
	p.types("Formula of charge 1", "999999999", ".charges")
	p.sees("draft is kept", ".bench-head")
	p.press("button", "Publish edition 2")
	p.press("button", "Publish edition 2", ".ant-modal")
	p.sees("edition 2 is on sale", ".bench-head")
	p.goTo("/p/mural")
	p.types("How wide is the wall?", "200")
	p.types("How high?", "200")
	p.press("tick", "Film")
	p.sees("This comes to more than can be charged.", ".product-whole")
}

// A sheet carries a price and a step; a product has one figure of its own, sees
// what the sheet says, and goes back to it.
func TestASheetWithAPrice(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products/1")
	p.press("button", "More", ".bench-head")
	p.press("option", "Questions into a sheet")
	p.chooses("Which questions", "Title on the chart", ".ant-modal")
	p.until("it needs a name", `ruvo.find("button", "Take them into the sheet").disabled`)
	p.types("Name of the sheet", "Lettering", ".ant-modal")
	p.press("button", "Take them into the sheet")
	p.sees("Lettering", ".path")
	p.press("button", "Title on the chart", ".path")
	p.sees("What the sheet charges for it", ".bench-middle")
	p.types("Title on the chart: charge here", "0.75", ".bench-middle")
	p.types("Title on the chart", strings.Repeat("x", 30), ".live")
	p.sees("6 letters after 24 × 0.75", ".live-slip")
	p.press("button", "Title on the chart: charge as in the sheet again")
	p.sees("6 letters after 24 × 0.60", ".live-slip")
	p.press("link", "Lettering", ".path")
	p.sees("Where it is used")
	p.press("button", "Title on the chart", ".path")
	p.types("Amount of charge 1", "0.80", ".charges")
	p.sees("adds 0.80 for each letter after 24", ".charges")
	p.sees("its draft changes", ".sheet-using")
	p.press("button", "The last orders under it")
	p.sees("Nothing of this product was ordered yet.", ".ant-modal")
	p.press("button", "Publish the sheet", ".ant-modal")
	p.sees("No product changes.", ".sheet-using")
}

// Two products together cost less; the slip says so on the page, in the basket and
// at the desk, and the tax of each has its share.
func TestTwoTogether(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/p/first-night-set")
	p.sees("One of each costs €11.50 together.")
	p.press("button", "Add Red lamp")
	p.sees("€12.00", ".product-bar") // with the packing of small orders
	p.press("button", "Add Cards of the season’s sky")
	p.press("tick", "English")
	p.press("button", "see what is in it")
	p.sees("together 11.50 instead of 13.70", ".product-bar")
	p.press("button", "Add to basket", ".product-bar")
	p.sees("Your basket")
	p.sees("Lamp and cards together")
	p.goTo("/checkout")
	p.types("Your name", "Ada Quill")
	p.types("Mail address", "ada@example.org")
	pay(p)
	p.sees("Your order 1043 is paid.")
	p.sees("€11.50")
	h.audit()
}

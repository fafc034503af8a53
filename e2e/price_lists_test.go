package e2e

import "testing"

// A customer sees and pays francs; what is sold in euro only says so. The seller
// gives a price list, is told what it lacks, and tries the product by it.
func TestPricesInFrancs(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/")
	p.sees("from €24.00")
	p.press("button", "Prices in CHF")
	p.sees("from CHF 27.00")
	p.sees("only in EUR")
	p.goTo("/p/gift-voucher")
	p.sees("This is sold in EUR only")
	fillChart(p)
	p.press("button", "Add to basket")
	p.sees("Your basket")
	p.sees("CHF 44.25")
	p.reload()
	p.sees("CHF 44.25")
	p.press("button", "Check out")
	p.types("Your name", "Maren Oduya")
	p.types("Mail address", "maren@example.org")
	pay(p)
	p.sees("is paid.")
	p.sees("CHF 44.25")
	p.press("button", "Prices in EUR")
	p.sees("CHF 44.25") // it was ordered so

	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/products/7") // the red lamp
	d.press("button", "Price and payment", ".path")
	d.chooses("Add a price list", "CHF")
	d.sees("It is not sold in CHF yet, as there is no amount for: price")
	d.types("price in CHF", "11")
	d.misses("for: price")
	d.press("button", "Undo")
	d.goTo("/desk/products/1")
	d.press("button", "Price and payment", ".path")
	d.types("Price of one, tax included", "25")
	d.sees("given at 24.00 EUR")
	d.press("button", "it is right price in CHF")
	d.misses("given at 24.00 EUR")
	d.chooses("Tried in the currency", "CHF")
	d.sees("CHF 27.00", ".live-slip")
	d.goTo("/desk/money?currency=CHF")
	d.sees("44.25")
	h.audit()
}

// What is taken along is tried with the product, at the price of the bundle.
func TestTryingWithWhatIsTakenAlong(t *testing.T) {
	h := open(t)
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/products/14")
	d.press("button", "Take along")
	d.press("button", "one Red lamp more")
	d.press("button", "one Cards of the season’s sky more")
	d.sees("With what is taken along, before it is answered")
	d.sees("together")
	d.press("button", "one Red lamp less")
	d.misses("together")
}

// A choice of a sheet is counted once for all of its products.
func TestCountingAChoiceOfASheet(t *testing.T) {
	h := open(t)
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/products/1")
	d.press("button", "More", ".bench-head")
	d.press("option", "Questions into a sheet")
	d.chooses("Which questions", "Paper colour", ".ant-modal")
	d.types("Name of the sheet", "Papers", ".ant-modal")
	d.press("button", "Take them into the sheet")
	d.sees("Papers", ".path")
	d.goTo("/desk/products/stock")
	d.chooses("Product to count", "Papers")
	d.chooses("What of it to count", "Moss")
	d.types("Pieces on hand", "8")
	d.press("button", "Begin to count")
	d.sees("once for all products that use the sheet")
}

package e2e

import (
	"regexp"
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// In the basket, quantities and answers are changed where they stand, a line is taken
// once more, and one that was taken out is put back.
func TestTheBasketInPlace(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/p/sky-chart")
	p.picks("The night", "2014-06-14")
	p.types("The place", "Lofthus")
	p.types("Title on the chart", "Us")
	p.press("tick", "Midnight")
	p.press("tick", "Large")
	p.press("button", "Add to basket", ".product-bar")
	p.sees("Total €36.00", ".slip")
	p.press("button", "Change Size of the file", ".basket-line")
	p.press("tick", "Small", ".basket-line")
	p.sees("Total €24.00", ".slip")
	p.press("button", "Done", ".basket-line")
	p.press("button", "Change The place", ".basket-line")
	p.types("The place", "Bergen", ".basket-line")
	p.press("button", "Done", ".basket-line")
	p.sees("Bergen", ".basket-line")
	p.press("button", "Once more", ".basket-line")
	p.sees("Total €48.00", ".slip")
	p.press("button", "Take out", ".basket-line")
	p.sees("Total €24.00", ".slip")
	p.press("button", "Put it back")
	p.sees("Total €48.00", ".slip")
	p.goTo("/p/photo-rescue")
	p.types("How many pictures?", "3")
	p.press("button", "Add to basket", ".product-bar")
	p.sees("Your basket")
	p.reload()
	p.until("three lines are there", `document.querySelectorAll(".basket-line").length === 3`)
}

// All answers of a product stand in a table that is searched and narrowed by pressing
// what was chosen, and are looked at one by one.
func TestAllAnswersOfAProduct(t *testing.T) {
	h := open(t)
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/orders?product=1")
	d.press("link", "All answers of it")
	d.sees("Answers: Sky chart for your night")
	d.sees("Paper colour", ".answer-plots")
	d.press("button", "Moss", ".answer-plots")
	d.sees("only Moss")
	d.misses("Wine", ".answer-table")
	d.until("the address says so", `location.search.includes("what=Moss")`)
	d.press("button", "only Moss")
	d.press("column", "The night")
	d.until("the earliest night comes first", `document.querySelector(".answer-table tbody tr.ant-table-row")?.innerText.includes("1970")`)
	d.until("the heading says so", `[...document.querySelectorAll('.answer-table th[aria-sort="ascending"]')].some((e) => e.innerText.includes("The night"))`)
	d.press("column", "The night")
	d.until("the latest night comes first", `document.querySelector(".answer-table tbody tr.ant-table-row")?.innerText.includes("Farnholt")`)
	d.types("Only rows with", "nowhere at all")
	d.sees("No order has that.")
	d.types("Only rows with", "Tromsdal")
	d.sees("Leandro Fioravanti", ".answer-table")
	d.misses("Cosima Vandermeer", ".answer-table")
	d.press("button", "One by one")
	d.sees("Leandro Fioravanti", ".ant-modal")
	d.press("link", "Open the order", ".ant-modal")
	d.sees("Tromsdal", ".brief")
	d.back()
	d.until("what was searched for is still there", `ruvo.value("field", "Only rows with") === "Tromsdal"`)
	d.sees("Leandro Fioravanti", ".answer-table")
	d.misses("Cosima Vandermeer", ".answer-table")
}

// However many orders there are, one goes through their answers page by page, and one by
// one across the pages.
func TestAnswersAcrossPages(t *testing.T) {
	h := open(t)
	must(t, h.store.Multiply(t.Context(), 600, func(int) {}))
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/products/1/answers?page=2")
	d.sees("101 to 200", "main")
	d.press("button", "One by one")
	d.sees("101 of", ".ant-modal")
	first := d.reads(".ant-modal .ant-modal-title")
	d.press("button", "← Before", ".ant-modal")
	d.sees("100 of", ".ant-modal")
	d.until("it is that of the page before", `location.search === "" && document.querySelector(".ant-modal .brief")`)
	d.presses(kb.ArrowRight)
	d.until("it is the first of the second page again", `ruvo.text(".ant-modal .ant-modal-title") === `+quote(first))
	d.press("button", "Close", ".ant-modal")
	d.press("button", "a friend", ".answer-plots")
	d.sees("only a friend")
	d.until("it begins at the beginning", `ruvo.text("main").includes("1 to 100")`)
}

// No question that may wait blocks a sale: at the checkout too it is told later.
func TestLaterAtTheCheckout(t *testing.T) {
	h := open(t)
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/sheets/2")
	d.press("button", "How did you hear of us?", ".path")
	d.press("tick", "Must be answered", ".bench-middle")
	d.press("tick", "may be left until after paying", ".bench-middle")
	d.sees("is kept")
	d.press("button", "Publish the sheet")
	d.sees("No product changes.", ".sheet-using")
	p := h.visitor(390, 844)
	inCheckout(p)
	p.press("button", "Go on to the payment")
	p.sees("Please answer this.", `[data-question="heard"]`)
	p.press("tick", "I will tell you later", `[data-question="heard"]`)
	p.reload()
	p.until("it is still later", `document.querySelector('[data-question="heard"] .question-later input').checked`)
	pay(p)
	p.sees("Your order 1043 is paid.")
	p.press("tick", "a fair", ".to-answer")
	p.sees("Complete, thank you.", ".to-answer")
	p.sees("We have all that we need for the sky over", ".to-answer")
}

// A basket is kept by mail, brought back beside what is there, and goes along with whoever
// signs in: what is ordered on one device leaves the other.
func TestTheBasketComesAlong(t *testing.T) {
	h := open(t)
	phone := h.visitor(390, 844)
	phone.goTo("/p/red-lamp")
	phone.press("button", "Add to basket", ".product-bar")
	phone.press("button", "Keep it for later")
	phone.types("Mail address", "ottilie@example.org")
	phone.press("button", "Mail me the link")
	phone.sees("A mail with the link to this basket is on its way.")
	laptop := h.visitor(1280, 800)
	laptop.goTo("/p/oak-frame")
	laptop.press("tick", "30 × 40 cm")
	laptop.press("button", "Add to basket")
	laptop.sees("Your basket")
	laptop.goTo(h.mailed(regexp.MustCompile(`/basket/[\w-]{22}`)))
	laptop.sees("One line comes into your basket")
	laptop.press("button", "Bring it back")
	laptop.sees("Red lamp", "main")
	laptop.sees("Oak frame for your chart")

	for _, p := range []*person{laptop, phone} {
		p.goTo("/mine")
		p.types("Mail address", "ottilie@example.org")
		p.press("button", "Send me the link")
		p.sees("a mail with a link is on its way")
		p.goTo(h.passOf())
		p.press("button", "Sign in here")
		p.sees("You are signed in as ottilie@example.org.")
	}
	phone.goTo("/basket")
	phone.sees("Oak frame for your chart")
	laptop.goTo("/basket")
	laptop.sees("Oak frame for your chart")
	laptop.press("button", "Take out", ".basket-line")
	laptop.sees("Taken out of the basket.")
	laptop.until("it is kept", `JSON.parse(localStorage.getItem("ruvo.told")).value.entries.length === 1`)
	phone.reload()
	phone.until("one line is left", `document.querySelectorAll(".basket-line").length === 1`)
}

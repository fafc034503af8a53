package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
)

// TestScreenshots draws the main views of the sample business into the folder
// that RUVO_SCREENSHOTS names; `make screenshots` does.
func TestScreenshots(t *testing.T) {
	folder := os.Getenv("RUVO_SCREENSHOTS")
	if folder == "" {
		t.Skip("RUVO_SCREENSHOTS names no folder")
	}
	h := open(t)
	h.post()
	desk := h.visitor(1280, 800)
	phone := h.visitor(390, 844)
	shop := h.visitor(1280, 800)

	shop.goTo("/")
	shop.sees("Gift voucher")
	shop.shoot(folder, "shop-front")
	phone.goTo(h.giftOf("Ines Varga"))
	phone.sees("Matti Solheim, this is for you")
	phone.shoot(folder, "phone-gift")
	phone.goTo(h.linkOf("Leandro Fioravanti"))
	phone.until("the picture is shown", `document.querySelector(".handed img")?.naturalWidth > 0`)
	phone.shoot(folder, "phone-handed")
	fillChart(phone)
	phone.sees("39.00", ".product-bar")
	phone.press("button", "Add to basket", ".product-bar")
	phone.sees("Your basket")
	phone.press("button", "Check out")
	phone.types("Your name", "Maren Oduya")
	phone.types("Mail address", "maren@example.org")
	phone.shoot(folder, "phone-checkout")
	pay(phone)
	phone.sees("Thank you, Maren Oduya")
	phone.goTo(h.linkOf("Ravi Thornquist"))
	phone.press("button", "+ guest")
	phone.types("Name", "Ravi Thornquist", `[data-question="guests"]`)
	phone.draws(".strokes", [][2]float64{{0.08, 0.7}, {0.16, 0.2}, {0.22, 0.72}, {0.3, 0.4}, {0.36, 0.7}, {0.5, 0.5}, {0.6, 0.66}, {0.8, 0.35}})
	phone.until("nothing moves", `document.querySelectorAll(".strokes polyline").length === 1`)
	phone.shoot(folder, "phone-order")
	shop.goTo("/p/evening-under-the-stars")
	shop.press("button", "Friday 27 November")
	shop.press("button", "18:30")
	shop.sees("48.00", ".product-slip")
	shop.press("tick", "English")
	shop.press("button", "Add to basket", ".product-slip")
	shop.sees("Your basket")
	shop.shoot(folder, "shop-basket")

	desk.signIn()
	desk.shoot(folder, "desk-today")
	desk.goTo("/desk/products")
	desk.sees("Photo rescue")
	desk.press("link", "Sky chart for your night")
	desk.press("button", "Title on the chart", ".path")
	desk.types("Title on the chart", "The night we met in Lofthus harbour", ".live")
	desk.sees("5 letters after 24", ".live")
	desk.shoot(folder, "desk-product")
	desk.goTo("/desk/products/5")
	desk.press("button", "When it can be booked", ".path")
	desk.sees("A stay can begin on")
	desk.press("button", "Wed", ".weekday-picks")
	desk.sees("would not fit this rule")
	desk.shoot(folder, "desk-booking")
	desk.goTo("/desk/orders")
	desk.press("link", "1021")
	desk.sees("The night we nearly met")
	desk.shoot(folder, "desk-orders")
	desk.goTo("/desk/work")
	desk.sees("Give or move")
	desk.sees("Will be late")
	desk.shoot(folder, "desk-work")
	desk.press("link", "By step")
	desk.press("link", "Letter the title")
	desk.sees("Paper colour")
	desk.shoot(folder, "desk-worksheet")
	desk.goTo("/desk/calendar")
	desk.sees("Evening under the stars")
	desk.until("the evening is shown", `(window.scrollTo(0, 520), window.scrollY > 0)`)
	desk.shoot(folder, "desk-calendar")
	desk.goTo("/desk/orders/customers/of?email=cosima@example.org")
	desk.types("Note", "Walks the coast every autumn, and sends a card.")
	desk.press("button", "Add a fact")
	desk.types("What", "Heard of us")
	desk.types("Heard of us", "at a fair")
	desk.press("button", "Keep it")
	desk.sees("✓ saved")
	desk.shoot(folder, "desk-customer")
	desk.goTo("/desk/products/3/stops")
	desk.chooses("Compared with", "compared with edition 1")
	desk.sees("only in edition 1", ".stops")
	desk.shoot(folder, "desk-stops")
	desk.goTo("/desk/products/1")
	desk.press("button", "Rehearse", ".bench-head")
	desk.press("button", "Begin a rehearsal")
	desk.sees("Walk on", ".rehearsal-list")
	fillChartAt(shop, desk.leads(".rehearsal-list a"))
	shop.sees("39.00", ".product-slip")
	shop.until("the top is seen", `(window.scrollTo(0, 0), window.scrollY === 0)`)
	shop.shoot(folder, "shop-rehearsal")
	desk.goTo("/desk/money")
	desk.sees("Waits to be settled")
	desk.shoot(folder, "desk-money")
	desk.goTo("/desk/money/earnings")
	desk.sees("left of")
	desk.shoot(folder, "desk-earnings")
	desk.goTo("/desk/work/handover")
	desk.drops(named(t, "1021 front.png", "1021 back.png", "1025.png", "Bram Kettleby chart.png", "1018-1.png", "1018-2.png", "1018-3.png", "sky.png")...)
	desk.sees("Hand over 7 files", "aside")
	desk.shoot(folder, "desk-handover")
}

// fillChart answers a chart that costs 50.70 once it is hurried.
func fillChart(p *person) {
	p.t.Helper()
	fillChartAt(p, "/p/sky-chart")
}

// fillChartAt does so on the page at a path, such as that of a rehearsal.
func fillChartAt(p *person, path string) {
	p.t.Helper()
	p.goTo(path)
	p.picks("The night", "2014-06-14")
	p.types("The place", "Lofthus, Norway")
	p.types("Title on the chart", "The night we met in Lofthus harbour")
	p.press("tick", "Midnight")
	p.press("tick", "Large")
	p.press("button", "No")
	// A slip that grows moves what stands below it.
	p.until("the slip is settled", `document.querySelector('.slip[aria-busy="false"]') && !document.querySelector('.slip[aria-busy="true"]')`)
}

// pay goes from the checkout's first step through the payment.
func pay(p *person) {
	p.t.Helper()
	p.press("button", "Go on to the payment")
	p.press("button", "Pay ")
	p.card("9900 0000 0000 0002")
}

// card pays with a card on the page of the payment service.
func (p *person) card(number string) {
	p.t.Helper()
	p.fillCard(number)
	p.press("button", "Pay ")
}

func (p *person) fillCard(number string) {
	p.t.Helper()
	p.types("Card number", number)
	p.types("Last month", "08/29")
	p.types("Code on the back", "123")
}

func (p *person) shoot(folder, name string) {
	p.t.Helper()
	p.until("all pictures are there", `[...document.images].every((i) => i.complete || i.loading === "lazy")`)
	must(p.t, chromedp.Do(p.ctx, chromedp.Evaluate[chromedp.Void]("document.fonts.ready.then(() => document.activeElement?.blur?.())", chromedp.EvalAwaitPromise)))
	png, err := chromedp.Run(p.ctx, chromedp.CaptureScreenshot())
	must(p.t, err)
	must(p.t, os.MkdirAll(folder, 0o755))
	must(p.t, os.WriteFile(filepath.Join(folder, name+".png"), png, 0o644))
}

package e2e

import (
	"testing"
	"time"

	"github.com/chromedp/chromedp"
)

// Two people and a helper work a day: what is promised before it is paid, a rush that is
// sold, a late day mended by a drag, work done on a phone, a worksheet on paper, forty
// files handed over at once, changes made in a round, minutes learned and a what-if.
func TestADayOfWork(t *testing.T) {
	h := open(t)
	shop := h.visitor(390, 844)
	shop.goTo("/p/sky-chart")
	shop.picks("The night", "2014-06-14")
	shop.types("The place", "Lofthus")
	shop.types("Title on the chart", "The night we met")
	shop.press("tick", "Midnight")
	shop.press("tick", "Large")
	shop.press("button", "No", `[data-question="gift"]`)
	shop.sees("ready by Mon 30 Nov 2026", ".product-bar")
	shop.press("button", "Add to basket", ".product-bar")
	shop.press("button", "Check out")
	shop.press("button", "Yes", `[data-question="rush"]`)
	shop.sees("Ready by Wed 25 Nov 2026", ".slip")
	shop.types("Your name", "Wanda Fjell")
	shop.types("Mail address", "wanda@example.org")
	pay(shop)
	shop.sees("Promised Wed 25 Nov")

	// Ilse sees the rush first, and mends a day that would be late.
	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/work")
	desk.sees("Wanda Fjell")
	from, to := desk.handle("Fold the boxes for winter"), desk.middle(`[data-cell="Mats Kroll 2026-11-30"]`)
	desk.drags(from, [2]float64{from[0] + 200, from[1] - 100}, to, [2]float64{to[0] + 2, to[1] + 2})
	desk.sees("in time again", ".foresight-moves")
	desk.press("button", "Do it", ".ant-modal")
	desk.misses("Will be late: 1036")

	// Mats packs, with his phone in one hand.
	helper := h.visitor(390, 844)
	helper.signIn()
	helper.goTo("/desk/work")
	helper.press("link", "Mine")
	helper.chooses("Who I am", "Mats Kroll")
	helper.press("button", "Start Close the box")
	helper.sees("0 min so far")
	h.ahead.Add(int64(12 * time.Minute))
	helper.press("button", "Done Close the box")
	helper.misses("Close the box 1039")

	// Tobin letters from paper, and all that is lettered goes out at once.
	desk.goTo("/desk/work/1/letter")
	desk.sees("Wanda Fjell", ".worksheet")
	sheet, err := chromedp.Run(desk.ctx, chromedp.PrintToPDF())
	must(t, err)
	if len(sheet) < 10_000 {
		t.Errorf("the worksheet prints in %d bytes", len(sheet))
	}
	desk.press("link", "Hand over", ".sheet-tools")
	desk.drops(forty(t, "1017", "1018", "1020", "1021", "1023", "1025", "1028", "1032")...)
	desk.sees("Hand over 40 files", "aside")
	desk.reload() // the files are at the server
	desk.sees("Hand over 40 files", "aside")
	desk.press("button", "Hand over 40 files", "aside")
	desk.sees("Handed over: 8 orders", "aside")

	// One customer wants it otherwise, gets it, and likes it.
	customer := h.visitor(390, 844)
	customer.goTo(h.linkOf("1021"))
	customer.press("button", "Ask for changes", ".handed")
	customer.types("In words", "Darker, please", ".ask-changes")
	customer.press("button", "Ask for these changes")
	customer.sees("changes are being made", ".handed")
	desk.goTo("/desk/orders?text=1021")
	desk.sees("Darker, please", ".docket")
	desk.press("button", "Start Letter the title", ".docket")
	desk.sees("0 min so far", ".docket")
	h.ahead.Add(int64(12 * time.Minute))
	desk.press("button", "Hand over", ".docket")
	desk.drops(picture(t, "1021-darker.png", 640, 480))
	desk.sees("1021-darker.png", ".give-form")
	desk.press("button", "Hand over", ".give-form")
	desk.sees("waits for an answer", ".given")
	customer.reload()
	customer.press("button", "I like it", ".handed")
	customer.misses("I like it", ".handed")
	customer.sees("accepted", ".handed")

	// What the day taught.
	desk.goTo("/desk/work/learned/1/compute")
	desk.press("button", "Take the learned minutes over")
	desk.sees("The learned minutes are in the draft.")
	desk.goTo("/desk/money/what-if")
	desk.types("Hours of Mats Kroll, per cent more", "50")
	desk.chooses("Further people, each like", "Tobin Aske")
	desk.press("button", "Compare")
	desk.sees("difference", ".what-if-both")
	desk.press("button", "Take it over")
	desk.sees("Tobin Aske 2: rename them there")
	desk.press("button", "Undo")
	desk.sees("The settings are as before.")
}

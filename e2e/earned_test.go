package e2e

import "testing"

// Figures lead to their orders; learned minutes are taken over with what they change;
// a what-if is set beside how it is, and kept only when it is taken over.
func TestWhatItEarns(t *testing.T) {
	h := open(t)
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/money")
	d.press("link", "What it earns")
	d.sees("an hour")
	d.press("button", "Sky chart for your night", ".earnings")
	d.sees("Orders of Sky chart for your night", ".earning-orders")
	d.sees("Leandro Fioravanti", ".earning-orders")
	d.press("tick", "Steps")
	d.sees("Letter the title", ".earnings")
	d.reload()
	d.sees("Letter the title", ".earnings")
	d.press("button", "Letter the title", ".earnings")
	d.press("link", "1016", ".earning-orders")
	d.sees("Home is in the north", ".brief")
	d.back()
	d.sees("Orders of Letter the title", ".earning-orders")

	d.goTo("/desk/work")
	d.press("link", "How long it takes")
	d.sees("half of it", "table")
	d.press("link", "Compute the sky")
	d.sees("as learned")
	d.sees("items that wait would take")
	d.pressTimes(2, "button", "Take the learned minutes over")
	d.sees("The learned minutes are in the draft.")
	d.press("link", "Look at the draft")
	d.sees("draft", ".bench-head")
	d.press("button", "Undo")

	d.goTo("/desk/money/what-if")
	d.types("Prices of Sky chart for your night, per cent more", "10")
	d.types("Minutes of Sky chart for your night, per cent more", "30")
	d.types("Hours of Mats Kroll, per cent more", "-50")
	d.press("button", "Compare")
	d.sees("difference", ".what-if-both")
	d.sees("Load by week, what if")
	d.press("button", "Take it over")
	d.sees("The prices and minutes are in the drafts.")
	phone := h.visitor(390, 844) // nothing of it is sold yet
	phone.goTo("/p/sky-chart")
	phone.sees("€24.00")
}

package e2e

import (
	"fmt"
	"strings"
	"testing"
	"time"
)

// middle gives where the middle of an element stands.
func (p *person) middle(selector string) [2]float64 {
	p.t.Helper()
	box := fmt.Sprintf("document.querySelector(%q)", selector)
	p.until(selector+" is there", box+" !== null")
	at, err := ask[struct{ X, Y float64 }](p, fmt.Sprintf("(() => { const b = %s.getBoundingClientRect(); return { X: b.x + b.width / 2, Y: b.y + b.height / 2 }; })()", box))
	must(p.t, err)
	return [2]float64{at.X, at.Y}
}

// The shop says by when it will be ready, and which day a rush buys; the order keeps
// that with why. A day that will be late is foreseen at the desk, and mended by a drag
// that says what it moves; it can be taken back, or mended by what is offered.
func TestPromisesAndTheSchedule(t *testing.T) {
	h := open(t)
	shop := h.visitor(390, 844)
	shop.goTo("/p/sky-chart")
	shop.press("button", "see what is in it")
	shop.sees("Ready by Mon 30 Nov 2026", ".product-bar")
	shop.sees("if you answer the rest today", ".product-bar")

	shop.goTo("/p/sky-chart")
	shop.picks("The night", "2014-06-14")
	shop.types("The place", "Lofthus")
	shop.press("tick", "I will tell you later")
	shop.press("tick", "Midnight")
	shop.press("tick", "Large")
	shop.press("button", "Add to basket", ".product-bar")
	shop.sees("Ready by Mon 30 Nov 2026", ".basket-line")
	shop.press("button", "Check out")
	shop.sees("+30 % · ready by Wed 25 Nov 2026")
	shop.press("button", "Yes", `[data-question="rush"]`)
	shop.sees("Ready by Wed 25 Nov 2026", ".slip")

	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.sees("Will be late: 1036", ".late")
	desk.goTo("/desk/work")
	desk.sees("Promised Thu 26 Nov, done Fri 27 Nov as it stands.", ".late")
	toMonday := func() {
		t.Helper()
		from, to := desk.handle("Fold the boxes for winter"), desk.middle(`[data-cell="Mats Kroll 2026-11-30"]`)
		desk.drags(from, [2]float64{from[0] + 200, from[1] - 100}, to, [2]float64{to[0] + 2, to[1] + 2})
		desk.sees("It will be done on Mon 30 Nov", ".ant-modal")
		desk.sees("1036 Ottilie Vance", ".foresight-moves")
		desk.sees("in time again", ".foresight-moves")
	}
	toMonday()
	desk.press("button", "Leave it as it was")
	desk.sees("Will be late: 1036", ".late") // nothing was done
	toMonday()
	desk.press("button", "Do it", ".ant-modal")
	desk.sees("“Fold the boxes for winter” is where you put it.")
	desk.misses("Will be late: 1036")
	desk.press("button", "Undo", ".notice.good")
	desk.sees("Will be late: 1036", ".late")
	desk.press("button", "Put “Fold the boxes for winter” last", ".late")
	desk.misses("Will be late: 1036")
	desk.reload()
	desk.sees("Give or move")
	desk.misses("Will be late: 1036")

	// Work that no order brings, and whose work is whose.
	desk.press("button", "Add work")
	desk.press("button", "Add work", ".ant-modal")
	desk.sees("It needs a title of 200 letters at most.", ".ant-modal")
	desk.types("What is to be done", "Buy red ink", ".ant-modal")
	desk.chooses("Who does it", "Mats Kroll", ".ant-modal")
	desk.press("button", "Add work", ".ant-modal")
	desk.sees("Buy red ink")
	desk.press("link", "Mine")
	desk.chooses("Who I am", "Mats Kroll")
	desk.sees("Buy red ink")
	desk.misses("Letter the title")
	desk.press("button", "Give or move Buy red ink")
	desk.types("Note", "The one in the tall bottle", ".ant-modal")
	desk.press("button", "Do it", ".ant-modal")
	desk.sees("The one in the tall bottle")
	desk.press("button", "Done Buy red ink")
	desk.misses("Buy red ink", ".work-row")

	// Another day is promised, with a word.
	desk.goTo("/desk/orders/35")
	desk.press("button", "Why, or another day")
	desk.sees("of work waited before it.")
	desk.picks("Promise another day", "2026-12-04")
	desk.types("A word with it", "The printer rests.")
	desk.press("button", "Promise it")
	desk.sees("Fri 4 Dec", ".docket")
	h.post()
	desk.goTo("/desk/outbox")
	desk.sees("ready by Fri 4 Dec 2026")
}

// handle gives where the handle of an item stands, scrolled into sight below the board.
func (p *person) handle(title string) [2]float64 {
	p.t.Helper()
	row := fmt.Sprintf(`[...document.querySelectorAll(".work-row")].find((r) => r.innerText.includes(%q))`, title)
	p.until(title+" is in sight", fmt.Sprintf(`(() => { const r = %s; if (!r) return false; r.scrollIntoView({ block: "end" }); const b = r.getBoundingClientRect(); return b.bottom <= innerHeight + 1 && b.top > 300; })()`, row))
	at, err := ask[struct{ X, Y float64 }](p, fmt.Sprintf("(() => { const b = %s.querySelector('.work-state').getBoundingClientRect(); return { X: b.x + b.width / 2, Y: b.y + b.height / 2 }; })()", row))
	must(p.t, err)
	return [2]float64{at.X, at.Y}
}

// A step is made for each guest, in the editor, and tried out with two of them.
func TestStepsForEachEntry(t *testing.T) {
	h := open(t)
	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/products/13")
	for _, comes := range []string{"When does your bus arrive?", "3 fields · about 35 s", "3 fields · about 57 s"} {
		desk.sees(comes, ".path") // which moves what comes after it
	}
	desk.press("button", "Write the place card for {{part}}")
	desk.sees("when “Name” is answered")
	desk.chooses("It is done", "for each person")
	desk.sees("is kept")
	desk.chooses("It is done", "for each entry of a list")
	desk.chooses("It goes to", "Ilse Brandt")
	desk.types("Checklist", "Spelt as told")
	desk.press("button", "Add a paper made from the answers")
	desk.types("Title of the paper", "Names for the table")
	desk.press("button", "Longer with a choice")
	desk.types("Title", "Write {{nothing}}")
	desk.press("option", "Check 1", ".live")
	desk.sees("{{nothing}}", ".live")
}

// A worksheet is laid out as it is worked from, several items are begun at once, and
// done one at a time on a screen beside the work; labels and answers come along.
func TestDoingTheWork(t *testing.T) {
	h := open(t)
	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/work/1/letter")
	desk.chooses("Grouped by", "by Size of the file")
	desk.sees("Large, 50 × 70 cm", ".worksheet-group")
	desk.press("button", "Columns")
	desk.press("tick", "The place", ".layout-list")
	desk.sees("The place", ".worksheet thead")
	desk.press("button", "Move The place left", ".layout-list")
	desk.until("it moved", `[...document.querySelectorAll(".worksheet th")].map((h) => h.innerText).join("|").includes("The place|The night")`)
	desk.reload()
	desk.sees("The place", ".worksheet thead")
	desk.sees("Large, 50 × 70 cm", ".worksheet-group")
	desk.press("tick", "tick 1023")
	desk.press("button", "Start 1")
	desk.sees("Ilse Brandt: 0 min so far", ".worksheet")
	h.ahead.Add(int64(10 * time.Minute))
	desk.press("link", "One at a time")
	desk.sees("Letter the title", ".workbench")
	for range 12 { // until the one that runs
		if strings.Contains(desk.reads(".workbench-item"), "Ilse Brandt: ") {
			break
		}
		desk.presses("j")
	}
	desk.press("button", "Pause Space")
	desk.sees("took 10 min", ".workbench-item")
	desk.press("button", "took 10 min Letter the title", ".workbench-item")
	desk.types("Minutes that it took", "8")
	desk.press("button", "Correct it")
	desk.sees("took 8 min", ".workbench-item")
	desk.presses("\r")
	desk.misses("took 8 min")
	desk.presses("\u001b")
	desk.sees("CSV")
	desk.misses("1023", ".worksheet")
	desk.press("link", "Labels")
	desk.sees("Maren Oduya", ".labels")
	desk.until("the codes are drawn", `[...document.querySelectorAll(".label img")].every((i) => i.complete && i.naturalWidth > 0)`)
}

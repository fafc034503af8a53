package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// Questions appear and disappear as others are answered, in a chain, and come
// back with what was typed.
func TestAChainOfConditions(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/p/sky-chart")
	p.press("button", "Yes", `[data-question="gift"]`)
	p.types("Who is it for?", "Bea")
	p.press("button", "No", `[data-question="gift"]`)
	p.misses("Who is it for?")
	p.press("button", "Yes", `[data-question="gift"]`)
	p.until("the name is back", `ruvo.value("field", "Who is it for?") === "Bea"`)
	p.press("tick", "Brass")
	p.sees("Brass, #b08d3c; text in black", `[data-question="line"]`)
	p.press("tick", "Brass") // an optional answer can be taken back
	p.misses("Brass, #b08d3c", `[data-question="line"]`)
	p.types("Colour, written like #1f2a44", "#fa8072")
	p.sees("salmon, #fa8072", `[data-question="line"]`)
}

// A voucher's words are asked for each voucher, and copied from the first.
func TestVouchersForSeveral(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/p/gift-voucher")
	p.press("button", "€25.00")
	p.press("button", "one more")
	p.press("button", "one more")
	p.sees("3 of 3", `[data-question="words"]`)
	p.types("1 of 3 Words on the voucher", "For the dark")
	p.press("button", "Copy the first to all")
	p.until("all have it", `ruvo.value("field", "3 of 3 Words on the voucher") === "For the dark"`)
	p.types("2 of 3 Words on the voucher", "For the light")
	p.types("Name on the voucher", "Bea")
	p.press("button", "Yes", `[data-question="spare"]`)
	p.press("button", "Add to basket", ".product-bar")
	p.sees("1: For the dark 2: For the light 3: For the dark")
	p.press("button", "Check out")
	p.types("Your name", "Ada Quill")
	p.types("Mail address", "ada@example.org")
	p.types("Send it to", "nobody")
	p.press("button", "Go on to the payment")
	p.sees("Give a mail address such as name@example.org.", `[data-question="send_to"]`)
	p.types("Send it to", "bea@example.org")
	p.misses("Give a mail address", `[data-question="send_to"]`) // what was wrong is no more
	pay(p)
	p.sees("Your order 1043 is paid.")
}

// What belongs to the whole order is asked once at checkout.
func TestAskedOnceForTheWholeOrder(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	fillChart(p)
	p.press("button", "Add to basket", ".product-slip")
	p.sees("Your basket")
	p.goTo("/p/photo-rescue")
	p.types("How many pictures?", "3")
	p.press("button", "Add to basket", ".product-slip")
	p.sees("Photo rescue")
	p.press("button", "Check out")
	p.press("tick", "a fair")
	p.until("it is asked once", `document.querySelectorAll('[data-question="heard"]').length === 1`)
	p.types("Your name", "Ada Quill")
	p.types("Mail address", "ada@example.org")
	pay(p)
	p.sees("Your order 1043 is paid.")
	p.until("it stands on both lines", `document.body.innerText.split("a fair").length === 3`)
}

// A ready-made enquiry costs nothing, so no card is asked for; at the desk its
// own question is filled in, and what was typed wrong is told.
func TestAnEnquiryFromReadyMadeToPlan(t *testing.T) {
	h := open(t)
	desk, p := h.visitor(1280, 800), h.visitor(390, 844)
	desk.signIn()
	desk.goTo("/desk/products")
	desk.types("Title of a new product", "A sky for your hall")
	desk.chooses("Title of a new product: begin with", "Enquiry")
	desk.press("button", "Add Title of a new product")
	desk.sees("not on sale yet")
	desk.press("button", "Publish edition 1")
	desk.sees("edition 1 is on sale")
	p.goTo("/p/a-sky-for-your-hall")
	p.types("What do you have in mind?", "A ceiling of stars for the dance in May")
	p.gives("pictures", picture(t, "hall.png", 80, 60))
	p.types("Caption of hall.png", "The hall")
	p.press("button", "Add to basket", ".product-bar")
	p.sees("hall.png: The hall")
	p.press("button", "Check out")
	p.types("Your name", "Ada Quill")
	p.types("Mail address", "ada@example.org")
	p.press("button", "Go on to the payment")
	p.sees("This order costs nothing, so no card is needed.")
	p.press("button", "Place the order")
	p.sees("Your order 1043 is paid.")
	desk.goTo("/desk/orders?text=1043")
	desk.sees("A ceiling of stars for the dance in May", ".brief")
	desk.until("the picture is there", `document.querySelector(".proof img")?.naturalWidth > 0`)
	desk.press("button", "fill in Our plan")
	desk.types("Our plan", "Four hundred lamps and a dimmer")
	desk.press("button", "Save", ".fill")
	desk.sees("Four hundred lamps and a dimmer", ".brief")
	desk.reload()
	desk.sees("Four hundred lamps and a dimmer", ".brief")
	desk.sees("Save these as CSV")
	desk.goTo("/desk/orders?text=Hanne")
	desk.press("button", "fill in Code of the key box")
	desk.types("Code of the key box", "12", ".fill")
	desk.press("button", "Save", ".fill")
	desk.sees("Write four to six digits.", ".fill")
}

// A picture is cropped to its shape while a draft is tried; the whole picture
// stays.
func TestCroppingAPicture(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products/3")
	p.press("button", "Your scans", ".path")
	p.press("tick", "Pictures are cropped to a shape")
	p.sees("draft has changes", ".bench-head")
	p.press("option", "After", ".live")
	p.gives("scans", picture(t, "wide.png", 900, 450))
	p.press("button", "Crop", ".live")
	p.sees("The part that is wanted")
	p.until("the picture is there to be cropped", `document.querySelector(".cropper img")?.naturalWidth > 0`)
	p.press("button", "Keep this part")
	p.until("only the part is shown", `parseFloat(document.querySelector(".live .thumb img").style.width) > 130`)
	p.misses("Choose the part of this picture", ".live")
}

// The path is walked with the keyboard alone: a row is opened, moved and moved
// back without a mouse.
func TestTheBenchByKeyboard(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products/1")
	p.sees("The place", ".path")
	p.focuses("The place")
	p.presses(kb.Enter)
	p.until("it is open", `ruvo.value("field", "What people read") === "The place"`)
	p.carries("The place", 3, 1)
	p.until("it moved", order+`.includes("Title on the chart | The place")`)
	p.sees("draft is kept", ".bench-head")
	p.focuses("Undo")
	p.presses(kb.Enter)
	p.until("it is back", order+`.includes("The place | Title on the chart")`)
}

// Every kind, and each way of drawing choices, can be added at the bench; it is
// drawn in the live pane at once, and at most its own settings want attention.
func TestEveryKindAtTheBench(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products")
	p.types("Title of a new product", "All of it")
	p.press("button", "Add Title of a new product")
	p.press("button", "Add a question Choosing")
	p.sees("What is asked?")
	kinds, err := ask[[]string](p, `[...document.querySelectorAll(".picker-name")].map((e) => e.innerText)`)
	must(t, err)
	if len(kinds) != 30 {
		t.Errorf("%d kinds: %q", len(kinds), kinds)
	}
	p.press("button", "Close")
	for i, kind := range kinds {
		if kind == "Booking" {
			continue
		}
		p.press("button", "Add a question Choosing")
		p.press("button", kind, ".ant-modal")
		p.until("the picker is gone", `!document.querySelector(".picker")`)
		p.until(kind+" is selected on the path", fmt.Sprintf(`document.querySelectorAll(".path .path-line.sortable").length === %d`, i+1-skipped(kinds[:i])))
		p.until(kind+" is drawn", `document.querySelectorAll(".live [data-question], .live .question-heading, .live .prose, .live .shown-picture").length > 0`)
		p.sees(kind[:min(len(kind), 5)], ".bench-middle")
	}
	p.misses("mistake", ".bench-head")
	p.misses("failed to draw")
	p.press("button", "Publish edition 1")
	p.sees("edition 1 is on sale", ".bench-head")
	shop := h.visitor(390, 844)
	shop.goTo("/p/all-of-it")
	shop.sees("Several choices")
	shop.press("button", "Add to basket", ".product-bar")
	shop.sees("Your basket")
}

func skipped(kinds []string) int {
	n := 0
	for _, k := range kinds {
		if k == "Booking" {
			n++
		}
	}
	return n
}

// A condition is built of nested groups and reads as a sentence.
func TestConditionsReadAsSentences(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products/1")
	p.press("row", "Who is it for?")
	p.sees("when “Is it a gift?” is yes", ".condition")
	p.press("button", "and …", ".condition")
	p.sees("when “Is it a gift?” is yes and “The night” is answered", ".condition")
	p.press("button", "Add a group", ".condition")
	p.sees("and (“The night” is answered or “The night” is answered)", ".condition")
	p.chooses("How these conditions join", "any of these holds", ".condition")
	p.sees("when “Is it a gift?” is yes or “The night” is answered or", ".condition")
	p.sees("Depends on: The night, Is it a gift?")
	p.press("row", "Is it a gift?")
	p.sees("Needed by: Who is it for?, about_card, Words for the card, Write the card")
}

// The desk speaks German too: the new places have no English words left in them.
func TestTheNewPlacesInGerman(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.press("button", "Ilse Brandt")
	p.press("option", "Deutsch")
	p.goTo("/desk/products")
	p.sees("Bögen")
	p.sees("Verwendet von", ".sheets")
	p.sees("Evening under the stars", ".sheets")
	p.press("link", "Before you come")
	p.sees("Was das Veröffentlichen ändert")
	p.sees("durch die Regel")
	p.goTo("/desk/products/5")
	p.press("row", "Which cabin?")
	p.sees("Einmal gefragt für")
	p.sees("Gebraucht von: Baskets from the farm")
	p.press("button", "Frage hinzufügen Auswählen", ".path")
	p.sees("Was wird gefragt?")
	p.sees("Dateien und Zusagen")
}

// Whatever can be counted has its price for each, set beside its question, and
// its minutes for each in a step.
func TestWhatIsCountedHasItsPrice(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products")
	p.types("Title of a new product", "A night in the dome")
	p.press("button", "Add Title of a new product")
	p.press("button", "Price and payment", ".path")
	p.types("Price of one, tax included", "20")
	for i, kind := range []string{"Count", "List of entries", "Files", "First and last day"} {
		p.press("button", "Add a question Choosing")
		p.press("button", kind, ".ant-modal")
		p.until("the picker is gone", `!document.querySelector(".picker")`)
		p.types("What people read", kind+" of it")
		p.press("button", "Add a charge")
		p.chooses(fmt.Sprintf("What charge %d counts", i+1), "for each answered")
		p.sees("after the first", ".charges")
	}
	p.press("button", "Add a step")
	for _, kind := range []string{"Files", "Count"} {
		p.chooses("Counted answer", kind+" of it")
		p.sees("and for each of", ".bench-middle")
	}
	p.misses("mistake", ".bench-head")
	p.sees("€20.00", ".live-slip")
	p.pressTimes(3, "button", "one more", ".live")
	p.sees("€23.00", ".live-slip")
	p.sees("3 pieces × 1.00", ".live-slip")
}

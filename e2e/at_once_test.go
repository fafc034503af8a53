package e2e

import (
	"fmt"
	"testing"
)

// A product of nothing but files is a whole shop: paid, and there. Its seller adds one at
// the bench.
func TestGivenAtOnce(t *testing.T) {
	h := open(t)
	phone := h.visitor(390, 844)
	phone.goTo("/p/winter-skies")
	phone.press("tick", "For screens and for the wall")
	phone.press("button", "Add to basket", ".product-bar")
	phone.press("button", "Check out")
	phone.types("Your name", "Wanda Fjell")
	phone.types("Mail address", "wanda@example.org")
	pay(phone)
	phone.sees("Yours at once", ".docket")
	phone.until("the pictures are shown", `[...document.querySelectorAll(".at-once img")].length === 2 && [...document.querySelectorAll(".at-once img")].every((i) => i.naturalWidth > 0)`)
	phone.sees("can be taken 5 times more", ".at-once")
	phone.press("button", "Read", ".at-once")
	phone.until("the first page is drawn", `document.querySelector(".look canvas")?.dataset.drawn === "1"`)
	phone.press("button", "Done", ".look")
	phone.reload()
	phone.sees("can be taken 4 times more", ".at-once")

	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/products/18")
	desk.press("button", "The product itself", ".path")
	desk.until("what is given is there", `ruvo.value("field", "Title of what is given") === "Two skies for screens"`)
	desk.until("only the panes scroll", `document.documentElement.scrollHeight <= window.innerHeight`)
	desk.dropsInto("Files beside the work", named(t, "east.png", "west.png", "zenith.png", "dusk.png")...)
	desk.sees("east.png", ".bench-middle") // perhaps still on its way
	for i, address := range []string{"https://sky.example.org/east", "https://sky.example.org/west"} {
		desk.press("button", "Add a link")
		desk.types(fmt.Sprintf("Title of link %d", i+1), address[len("https://sky.example.org/"):])
		desk.types(fmt.Sprintf("Address of link %d", i+1), address)
	}
	// All came in side by side, while something else was typed, and none took another's place.
	desk.until("all files are there", `document.querySelectorAll(".bench-middle .gift")[0].querySelectorAll("a").length === 6`)
	desk.until("it is kept", `document.querySelector(".bench-head").textContent.includes("draft is kept")`)
	desk.press("button", "Publish edition 2")
	desk.sees("edition 2 is on sale", ".bench-head")
	desk.reload()
	desk.press("button", "The product itself", ".path")
	desk.sees("One earlier buyer does not know that there is something newer on sale.", ".bench-middle")
	desk.pressTimes(2, "button", "Tell them")
	desk.sees("One earlier buyer is told by mail.", ".bench-middle")
	phone.reload()
	for _, name := range []string{"east.png", "west.png", "zenith.png", "dusk.png"} {
		phone.sees(name, ".at-once")
	}
	phone.until("both links lead on", `document.querySelectorAll('.at-once a[href^="https://sky.example.org/"]').length === 2`)
}

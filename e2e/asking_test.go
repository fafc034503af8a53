package e2e

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math/rand/v2"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// picture makes a PNG file that is hard to pack, so that its size is known to
// be about wide × high × 3 bytes.
func picture(t *testing.T, name string, wide, high int) string {
	t.Helper()
	img := image.NewNRGBA(image.Rect(0, 0, wide, high))
	rnd := rand.New(rand.NewPCG(1, 2))
	for y := range high {
		for x := range wide {
			img.SetNRGBA(x, y, color.NRGBA{uint8(rnd.UintN(256)), uint8(rnd.UintN(256)), uint8(rnd.UintN(256)), 255})
		}
	}
	var b bytes.Buffer
	must(t, png.Encode(&b, img))
	return written(t, name, b.Bytes())
}

func written(t *testing.T, name string, data []byte) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), name)
	must(t, os.WriteFile(path, data, 0o600))
	return path
}

// gives puts files into the field of a question.
func (p *person) gives(question string, files ...string) {
	p.t.Helper()
	must(p.t, chromedp.Do(p.ctx, chromedp.SetUploadFiles(`[data-question="`+question+`"] input[type=file]`, files)))
}

// Scans are sent from a phone after payment: a wrong kind and a small picture
// are refused with words, a lost connection is waited for and then tried again
// by hand, and what arrived stands on the docket.
func TestFilesFromAPhone(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/p/photo-rescue")
	p.types("How many pictures?", "3")
	p.press("button", "Add to basket", ".product-bar")
	p.sees("Your basket")
	p.press("button", "Check out")
	p.types("Your name", "Maren Oduya")
	p.types("Mail address", "maren@example.org")
	pay(p)
	p.sees("Thank you")
	scans := `[data-question="scans"]`
	p.gives("scans", written(t, "words.png", []byte("these are only words")), picture(t, "stamp.png", 60, 40))
	p.sees("words.png", scans)
	p.sees("stamp.png", scans)
	p.types("What must stay as it is?", "The freckles")
	p.sees("This file holds PLAIN. Choose one of these: pictures.", scans)
	p.sees("This picture has 60 × 40 pixels; at least 600 × 400 are needed.", scans)
	p.press("button", "Take words.png away")
	p.press("button", "Take stamp.png away")

	// The connection breaks after the first piece.
	h.cut.Store(1)
	p.gives("scans", picture(t, "pier.png", 700, 500))
	p.sees("%", scans)
	p.sees("The connection is lost", scans)
	h.cut.Store(0)
	p.press("button", "Take pier.png away") // there once it has arrived
	h.cut.Store(1)
	p.gives("scans", picture(t, "pier.png", 700, 500))
	p.sees("Try again", scans) // offered when waiting has not helped
	h.cut.Store(0)
	p.press("button", "Try again", scans)
	p.types("Caption of pier.png", "The pier, with the ferry")
	p.sees("✓ saved", ".to-answer")
	p.sees("Complete, thank you.", ".to-answer")
	p.reload()
	p.sees("pier.png: The pier, with the ferry", ".answers")
	p.until("the picture is shown", `document.querySelector(".proofs img")?.naturalWidth > 0`)

	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/orders?text=1043")
	desk.sees("pier.png: The pier, with the ferry", ".brief")
	desk.until("the picture is on the docket", `document.querySelector(".proof img")?.naturalWidth > 0`)
	desk.sees("Save all files as a zip file")
}

// severed lets the first piece of an upload through and breaks the connection
// at the next ones, while the house says so.
func (h *house) severed(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		sending := r.Method == http.MethodPatch && strings.HasPrefix(r.URL.Path, "/api/shop/uploads/")
		if sending && h.cut.Load() > 0 && r.Header.Get("Upload-Offset") != "0" {
			panic(http.ErrAbortHandler)
		}
		next.ServeHTTP(w, r)
	})
}

// A cabin is asked for on a phone: in parts, with cards, counts and an address;
// afterwards guests, house rules and a signature; and the phone number is
// offered again at the next order.
func TestACabinFromAPhone(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/p/observatory-cabin?q.from=nowhere")
	p.sees("The link that you followed carries something that does not fit here: nowhere")
	p.press("button", "Go on without it")
	p.misses("nowhere")
	p.sees("Part 1 of 2")
	p.press("button", "Add to basket", ".product-bar")
	p.sees("Please answer this.", `[data-question="stay"]`)
	p.press("tick", "Juniper")
	p.misses("Please answer this.", `[data-question="cabin"]`)
	p.press("button", "Month after", `[data-question="stay"]`)
	p.press("button", "Tuesday 8 December", `[data-question="stay"]`)
	p.sees("It begins on Wed, Thu, Fri, Sat, Sun only.", `[data-question="stay"]`)
	p.taps("stay", "2026-12-16")
	p.sees("Now the day of departure.", `[data-question="stay"]`)
	p.taps("stay", "2026-12-19")
	p.sees("Wed 16 Dec 2026 to Sat 19 Dec 2026, 3 nights", `[data-question="stay"]`)
	p.until("the picture follows the choice", `document.querySelector(".product-picture").src.endsWith("cabin-juniper.svg")`)
	p.press("button", "one more", `[data-question="beds"]`)
	p.press("tick", "I will tell you later")
	p.press("button", "Go on")
	p.sees("For small children", `[data-question="baskets"]`)
	p.press("button", "one Breakfast more")
	p.press("button", "one Breakfast more")
	p.sees("€376.00", ".product-bar")
	p.press("button", "Back")
	p.press("tick", "Larch")
	p.press("button", "Go on")
	p.misses("For small children", `[data-question="baskets"]`)
	p.reload() // nothing typed is lost
	p.sees("€336.00", ".product-bar")
	p.press("button", "Add to basket", ".product-bar")
	p.sees("2 × Breakfast")
	p.press("button", "Check out")
	p.types("Your name", "Ada Quill")
	p.types("Mail address", "ada@example.org")
	p.types("Phone", "12")
	p.types("Name", "Ada Quill", `[data-question="invoice"]`)
	p.types("Postcode", "1446")
	p.press("button", "Go on to the payment")
	p.sees("This is no telephone number. Write it like", `[data-question="phone"]`)
	p.sees("This postcode does not fit the country. Write it like 12345.", `[data-question="invoice"]`)
	p.types("Phone", "030 23125 014")
	p.types("Street and number", "Hill 3")
	p.types("Postcode", "14467")
	p.types("City", "Potsdam")
	pay(p)

	p.sees("Thank you, Ada Quill. Your order 1043 is paid.")
	p.press("button", "+ guest")
	p.types("Name", "Ada Quill", `[data-question="guests"]`)
	p.press("button", "+ guest")
	p.press("tick", "I agree")
	p.sees("Please answer this.", `[data-question="guests"]`)
	p.types("Name", "Ben", `section[aria-label="guest 2"]`)
	p.press("button", "Move guest 2 up")
	p.sees("guest 2 Ada Quill", `[data-question="guests"]`)
	p.press("button", "Read the text, version 3")
	p.sees("Outside only red light after dark")
	p.draws(".strokes", [][2]float64{{0.1, 0.7}, {0.3, 0.2}, {0.4, 0.7}, {0.6, 0.3}, {0.8, 0.6}})
	p.until("the signature is at the server", `(fetch("/api/shop/orders/" + location.pathname.slice(3)).then((r) => r.json()).then((o) => { window.signed = o.lines[0].answers.signed !== undefined; }), window.signed === true)`)
	p.reload()
	p.sees("Ben Ada Quill", ".answers")
	p.sees("signed by hand, Tue 24 Nov 2026, 09:30", ".answers")
	p.sees("Still to answer")

	p.goTo("/p/observatory-cabin")
	p.taps("stay", "2026-12-09")
	p.taps("stay", "2026-12-12")
	p.press("tick", "Larch")
	p.press("button", "one more", `[data-question="beds"]`)
	p.press("tick", "I will tell you later")
	p.press("button", "Add to basket", ".product-bar")
	p.press("button", "Check out")
	p.sees("last time: +493023125014")
	p.press("button", "Use it again Phone")
	p.until("the number is taken over", `ruvo.value("field", "Phone") === "+493023125014"`)
}

// draws moves the mouse over a field with its button held.
func (p *person) draws(field string, way [][2]float64) {
	p.t.Helper()
	box, err := ask[struct{ X, Y, W, H float64 }](p, fmt.Sprintf(`((e) => { e.scrollIntoView({block: "center"}); const r = e.getBoundingClientRect(); return {X: r.x, Y: r.y, W: r.width, H: r.height} })(document.querySelector(%s))`, quote(field)))
	must(p.t, err)
	var points [][2]float64
	for _, at := range way {
		points = append(points, [2]float64{box.X + at[0]*box.W, box.Y + at[1]*box.H})
	}
	p.drags(points...)
}

// drags presses the mouse at the first point, moves it over the others and
// lets go at the last.
func (p *person) drags(points ...[2]float64) {
	p.t.Helper()
	first, last := points[0], points[len(points)-1]
	must(p.t, chromedp.Do(p.ctx, chromedp.MouseEvent(chromedp.MousePressed, first[0], first[1], chromedp.ButtonLeft, chromedp.ClickCount(1))))
	for i, at := range points[1:] {
		from := points[i]
		for step := 1; step <= 4; step++ {
			share := float64(step) / 4
			must(p.t, chromedp.Do(p.ctx, chromedp.MouseEvent("mouseMoved", from[0]+(at[0]-from[0])*share, from[1]+(at[1]-from[1])*share, chromedp.ButtonLeft)))
		}
	}
	must(p.t, chromedp.Do(p.ctx, chromedp.MouseEvent("mouseReleased", last[0], last[1], chromedp.ButtonLeft, chromedp.ClickCount(1))))
}

// spot gives where something stands.
func (p *person) spot(role, name string, within ...string) [2]float64 {
	p.t.Helper()
	args := quote(role, name, strings.Join(within, " "))
	p.until(fmt.Sprintf("the %s %q can be reached", role, name), fmt.Sprintf("(window.aim = ruvo.spot(%s))", args))
	at, err := ask[struct{ X, Y float64 }](p, "window.aim")
	must(p.t, err)
	return [2]float64{at.X, at.Y}
}

// order gives the wordings on the path in the order in which they stand.
const order = `[...document.querySelectorAll(".path .path-line .path-row, .path h3")].map((e) => (e.querySelector("span") ?? e).innerText.replace(/^if /, "")).join(" | ")`

func (p *person) presses(keys ...string) {
	p.t.Helper()
	for _, k := range keys {
		must(p.t, chromedp.Do(p.ctx, chromedp.KeyEvent(k)))
	}
}

// Questions are dragged with the mouse and moved with the keyboard, within a
// moment, into another one, and into and out of a section; and all of it can
// be undone after the page was closed.
func TestMovingQuestions(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products/5")
	p.sees("Firewood", ".path")
	from, to := p.spot("button", "Move Beds to make", ".path"), p.spot("button", "Which cabin?", ".path")
	p.drags(from, [2]float64{from[0], to[1] + 2}, [2]float64{from[0], to[1] - 4})
	p.until("beds stand first", order+`.includes("Your stay | Beds to make | Which cabin?")`)
	p.sees("draft has changes", ".bench-head")

	// With the keyboard: out of the section, to the next moment.
	p.carries("Firewood", 10, 4)
	p.until("firewood is asked at checkout", order+`.includes("Address for the invoice | Firewood")`)
	p.sees("draft is kept", ".bench-head") // it has been let go
	p.press("button", "Firewood", ".path")
	p.until("and stands in no section", `!document.querySelector("#section") || document.querySelector(".bench-middle").innerText.includes("at checkout")`)
	p.sees("draft is kept", ".bench-head")

	p.reload()
	p.press("button", "Undo")
	p.until("firewood is back", order+`.includes("Baskets from the farm | Firewood")`)
	p.press("button", "Undo")
	p.until("beds are back", order+`.includes("Your nights | Beds to make")`)
	p.press("button", "Redo")
	p.until("beds stand first again", order+`.includes("Your stay | Beds to make")`)

	// Choices are moved in the same way.
	p.press("button", "Which cabin?", ".path")
	p.carries("Larch", 1, 1)
	p.until("Juniper stands first", `ruvo.value("field", "Label of choice 1") === "Juniper"`)
	p.press("button", "More of Juniper")
	p.press("button", "Add a condition", ".choice-more")
	p.sees("is answered", ".choice-more")
}

// carries takes something with the keyboard, moves it down so many places from
// where it is, and lets go.
func (p *person) carries(what string, place, down int) {
	p.t.Helper()
	p.focuses("Move " + what)
	p.presses(" ")
	for i := range down + 1 {
		p.sees(fmt.Sprintf("%s is at place %d.", what, place+i))
		if i < down {
			p.presses(kb.ArrowDown)
		}
	}
	p.presses(" ")
}

func (p *person) focuses(button string) {
	p.t.Helper()
	args := quote("button", button)
	p.until("the button "+button, fmt.Sprintf("ruvo.find(%s)", args))
	_, err := ask[bool](p, fmt.Sprintf("(ruvo.find(%s).focus(), true)", args))
	must(p.t, err)
}

// A question's key follows its wording, the live pane answers while it is
// typed, conditions chain, and the draft is compared with what is on sale.
func TestAskingAtTheBench(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products")
	p.types("Title of a new product", "Night walk")
	p.chooses("Title of a new product: begin with", "Visit")
	p.press("button", "Add Title of a new product")
	p.sees("Who is coming?", ".path")
	p.press("button", "Add a question Choosing")
	p.press("button", "One choice, picture cards")
	p.types("What people read", "Which lantern?")
	p.until("the key follows", `ruvo.value("field", "Key") === "which_lantern"`)
	p.sees("Which lantern?", ".live")
	p.press("button", "Add a question Choosing")
	p.press("button", "Colour", ".ant-modal")
	p.types("What people read", "Its colour")
	p.press("button", "Add a condition")
	p.chooses("Which answer", "Which lantern?", ".condition")
	p.sees("Depends on: Which lantern?")
	p.misses("Its colour", ".live")
	p.press("tick", "Choice 1", ".live")
	p.sees("Its colour", ".live")
	p.press("tick", "Moss", ".live")
	p.sees("Moss, #21463f; text in white", ".live")
	p.press("button", "Which lantern?", ".path")
	p.sees("Needed by: Its colour")
	p.press("button", "Take away")
	p.sees("Take it away all the same?")
	p.press("button", "Leave it as it was", ".ant-popover")
	p.press("button", "Publish edition 1")
	p.sees("edition 1 is on sale", ".bench-head")
	p.types("What people read", "Which light?")
	p.sees("draft is kept", ".bench-head")
	p.until("a published key stays", `ruvo.value("field", "Key") === "which_lantern"`)
	p.press("button", "More", ".bench-head")
	p.press("option", "What the draft changes")
	p.sees("“Which lantern?” reads “Which light?”.")
	p.press("button", "Close")
	p.press("button", "More", ".bench-head")
	p.press("option", "Earlier editions")
	p.press("button", "Edition 1")
	p.press("button", "Bring edition 1 back as the draft")
	p.sees("Which lantern?", ".path")
	p.misses("draft has changes", ".bench-head")
}

// Somebody who opens what another one edits is told, and told when it changes.
func TestTwoAtOneProductAreTold(t *testing.T) {
	h := open(t)
	one, two := h.visitor(1280, 800), h.visitor(1280, 800)
	one.signIn()
	two.signIn()
	one.goTo("/desk/products/3")
	one.sees("Your scans", ".path")
	two.goTo("/desk/products/3")
	two.sees("Ilse Brandt has this product open too.")
	one.sees("Ilse Brandt has this product open too.")
	one.press("button", "The product itself", ".path")
	one.types("Title", "Photo repair", ".bench-middle")
	one.sees("draft has changes", ".bench-head")
	one.sees("draft is kept", ".bench-head") // the whole title, and not what was typed of it until a pause
	two.sees("Ilse Brandt changed this draft meanwhile.")
	two.press("button", "Look at the newer state")
	two.sees("Photo repair", ".bench-head")
}

// A sheet is changed, shows whom it reaches, and reaches them when published.
func TestSheets(t *testing.T) {
	h := open(t)
	p, shop := h.visitor(1280, 800), h.visitor(390, 844)
	p.signIn()
	p.goTo("/desk/products")
	p.press("button", "Take Before you come away")
	p.sees("It is used by Evening under the stars, Nights in the observatory cabin, Dinner under the dome. Detach it there first.")
	p.goTo("/desk/products")
	p.press("link", "Before you come")
	p.press("button", "Add a question Paying")
	p.press("button", "Yes or no", ".ant-modal")
	p.types("What people read", "Do you bring a dog?")
	p.sees("Evening under the stars gets a new edition", ".sheet-using")
	p.press("button", "Publish the sheet")
	p.sees("No product changes.", ".sheet-using")
	p.goTo("/desk/products/2")
	p.sees("edition 2 is on sale", ".bench-head")
	p.press("button", "Do you bring a dog?", ".path")
	p.types("What people read here", "Is a dog coming?")
	p.sees("Is a dog coming?", ".path")
	p.press("button", "Detach the sheet here")
	p.until("it is the product's own", `ruvo.find("button", "Move Is a dog coming?")`)
	shop.goTo("/p/evening-under-the-stars")
	shop.press("button", "19:00")
	shop.press("tick", "English")
	shop.press("button", "Add to basket", ".product-bar")
	shop.press("button", "Check out")
	shop.sees("Do you bring a dog?")
}

package e2e

import (
	"fmt"
	"net/http"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"

	"ruvo/demo"
)

func TestBadSignIn(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.goTo("/desk/orders")
	p.types("Mail address", demo.Email)
	p.types("Password", "not this")
	p.press("button", "Sign in")
	p.sees("The mail address or the password is not right.")
	p.types("Password", demo.Password)
	p.press("button", "Sign in")
	p.sees("all products") // where they wanted to go
	p.press("button", "Ilse Brandt")
	p.press("option", "Sign out")
	p.sees("Your desk")
	p.goTo("/desk/outbox")
	p.sees("Your desk")
}

// A product is edited while an order runs: the bench shows at once what the
// change does, the shop sells the new edition, the order keeps the old one.
func TestProductEditedWhileAnOrderRuns(t *testing.T) {
	h := open(t)
	buyer, desk := h.visitor(390, 844), h.visitor(1280, 800)
	inCheckout(buyer)
	pay(buyer)
	buyer.sees("Your order 1043 is paid.")

	desk.signIn()
	desk.press("link", "Products")
	desk.press("link", "Sky chart for your night")
	desk.press("button", "Title on the chart", ".path")
	desk.types("Title on the chart", "Nine lettrs and more than twenty-four", ".live")
	desk.sees("after 24 × 0.60", ".live-slip")
	desk.types("after the first", "10")
	desk.sees("after 10 × 0.60", ".live-slip")
	desk.types("What people read", "Words on the chart")
	desk.sees("Words on the chart", ".live")
	desk.sees("draft has changes", ".bench-head")
	desk.sees("draft is kept", ".bench-head")
	desk.press("button", "Publish edition 2")
	desk.sees("orders would come out differently", ".ant-modal")
	desk.press("button", "Publish edition 2", ".ant-modal")
	desk.sees("edition 2 is on sale", ".bench-head")

	buyer.reload()
	buyer.sees("Title on the chart")
	buyer.sees("5 letters after 24 × 0.60")
	buyer.goTo("/p/sky-chart")
	buyer.sees("Words on the chart +0.60 a letter after 10")
	desk.goTo("/desk/orders?text=1043")
	desk.sees("edition 1", ".docket")
}

// The product check speaks while the mistake is typed, and publishing waits.
func TestMistakesAreFoundWhileTyping(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products")
	p.types("Title of a new product", "Lesson: the winter sky")
	p.press("button", "Add")
	p.sees("not on sale yet", ".bench-head")
	p.press("button", "Price and payment", ".path")
	p.types("Price of one, tax included", "35")
	p.sees("€35.00", ".live-slip")
	p.press("button", "Add a question Choosing")
	p.press("button", "Short text", ".picker")
	p.types("What people read", "Your telescope")
	p.press("button", "Add a step")
	p.types("Instructions", "Bring a map for {{telescop}}")
	p.sees("1 mistake", ".bench-head")
	p.sees("merge field {{telescop}}, and there is no question with that key", ".bench-middle")
	p.types("Instructions", "Bring a map for {{your_telescope}}")
	p.misses("mistake", ".bench-head")
	p.press("button", "The product itself", ".path")
	p.press("button", "When it can be booked", ".path")
	p.press("button", "Make it bookable")
	p.sees("10:00–11:00", ".live") // at 9:30, a day ahead
	p.press("button", "Publish edition 1")
	p.sees("edition 1 is on sale", ".bench-head")
	p.goTo("/p/lesson-the-winter-sky")
	p.sees("Your telescope")
	p.sees("10:00–11:00")
}

// Two people edit one product: the later one is told, and what they typed
// stays before them.
func TestTwoEditors(t *testing.T) {
	h := open(t)
	one, two := h.visitor(1280, 800), h.visitor(1280, 800)
	for _, p := range []*person{one, two} {
		p.signIn()
		p.goTo("/desk/products/1")
		p.press("button", "The place", ".path")
	}
	one.types("What people read", "The town")
	one.sees("draft has changes", ".bench-head")
	two.types("What people read", "The village")
	two.sees("Somebody else changed this in the meantime.")
	two.sees("The village", ".live")
	two.press("button", "Look at the newer state")
	two.sees("The town", ".path")
	one.press("button", "Undo")
	one.sees("The place", ".path")
}

// held counts the drafts that come in and lets them wait, as a slow line does,
// or breaks the line.
func (h *house) held(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodPut && h.refuse.Load() {
			panic(http.ErrAbortHandler)
		}
		if r.Method != http.MethodGet && strings.Contains(r.URL.Path, "/draft") {
			h.drafts.Add(1)
			select {
			case h.came <- struct{}{}:
			default: // nobody waits for so many
			}
			h.holding.Lock()
			defer h.holding.Unlock()
		}
		next.ServeHTTP(w, r)
	})
}

// awaitsDraft waits until more drafts came in than before.
func (h *house) awaitsDraft(before int64) {
	h.t.Helper()
	late := time.After(patience)
	for h.drafts.Load() == before {
		select {
		case <-h.came:
		case <-late:
			h.t.Fatal("no draft came in")
		}
	}
}

// Over a slow line somebody goes on typing here and there: what came meanwhile
// is kept with one more request, and they are never taken for somebody else.
func TestTypingOnWhileTheLineIsSlow(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products/1")
	p.press("button", "The place", ".path")
	h.holding.Lock()
	p.types("What people read", "The town")
	h.awaitsDraft(0)
	for from, to := range map[string]string{"Title on the chart": "Its title", "Is it a gift?": "A gift?", "The night": "The date"} {
		p.press("button", from, ".path")
		p.types("What people read", to)
	}
	h.holding.Unlock()
	p.sees("draft has changes", ".bench-head")
	p.misses("keeping", ".bench-head")
	p.misses("Somebody else changed this")
	if n := h.drafts.Load(); n != 2 {
		t.Errorf("%d drafts were sent", n)
	}
	p.reload()
	p.sees("The town", ".path")
	p.sees("Its title", ".path")
	p.sees("A gift?", ".path")
	p.sees("The date", ".path")
}

// Undo pressed more often than there is something to undo goes back to the
// beginning, one after the other, and what is typed meanwhile is not lost.
func TestUndoPressedFastOnASlowLine(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products/1")
	for from, to := range map[string]string{"The place": "The town", "The night": "The date"} {
		p.press("button", from, ".path")
		p.types("What people read", to)
		p.misses("keeping", ".bench-head")
		p.sees("draft is kept", ".bench-head")
	}
	h.holding.Lock()
	p.pressTimes(4, "button", "Undo")
	h.holding.Unlock()
	p.sees("The place", ".path")
	p.sees("The night", ".path")
	p.sees("draft is kept", ".bench-head")
	p.misses("Somebody else changed this")
	p.press("button", "Redo")
	p.sees("draft has changes", ".bench-head")
	sent := h.drafts.Load()
	h.holding.Lock()
	p.press("button", "Undo")
	h.awaitsDraft(sent)
	p.press("button", "Title on the chart", ".path")
	p.types("What people read", "Its title")
	h.holding.Unlock()
	p.sees("draft is kept", ".bench-head")
	p.reload()
	p.sees("Its title", ".path")
}

// Orders are sorted by pressing a heading, both ways; going back goes back.
func TestOrdersSortedByAHeading(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/orders")
	first := func(name string) { p.t.Helper(); p.sees(name, ".order-list tbody tr:nth-child(1)") }
	first("1040")
	p.press("column", "Customer")
	first("Amparo Ferreol")
	p.press("column", "Customer")
	first("Yara Lindenau")
	p.press("column", "Order")
	first("1001")
	p.back()
	first("Yara Lindenau")
	p.reload()
	first("Yara Lindenau")
	p.press("column", "Brief, promised")
	p.misses("no day promised yet", ".order-list tbody tr:nth-child(1)")
	p.press("button", "More filters")
	p.sees("any money", ".filters")
	p.chooses("Product", "Photo rescue")
	p.misses("Sky chart", ".order-list tbody")
	p.sees("any money", ".filters") // they stay while other orders come
}

// Thousands of orders are one scroll: more of them come as one gets there, and the keys
// go on through them.
func TestManyOrdersInOneScroll(t *testing.T) {
	h := open(t)
	must(t, h.store.Multiply(t.Context(), 1200, func(int) {}))
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/orders")
	p.sees("Sky chart", ".order-list tbody")
	rows := func(n int) string { return fmt.Sprintf(`document.querySelectorAll(".order-row").length >= %d`, n) }
	for n := 200; n <= 1000; n += 200 {
		p.until("more orders are there", fmt.Sprintf(`(document.querySelector(".order-list").scrollTo(0, 1e9), %s)`, rows(n)))
	}
	p.until("none is there twice", `((all) => new Set(all).size === all.length)([...document.querySelectorAll(".order-row")].map((r) => r.dataset.line))`)
	p.press("column", "Customer")
	p.sees("Amparo Ferreol", ".order-list tbody tr:nth-child(1)")
	p.until("it begins at the beginning", `document.querySelector(".order-list").scrollTop === 0`)
	p.presses("j")
	p.until("the second is open", `document.querySelectorAll(".order-row")[1].classList.contains("on")`)
}

// What could not be kept stays before its writer, and nothing is published
// without it.
func TestPublishingOverABrokenLine(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products/1")
	p.press("button", "The place", ".path")
	p.types("What people read", "The town")
	p.sees("draft has changes", ".bench-head")
	h.refuse.Store(true)
	p.types("What people read", "The village")
	p.press("button", "Publish edition 2")
	p.sees("draft is not kept", ".bench-head")
	p.sees("edition 1 is on sale", ".bench-head")
	p.sees("The village", ".path")
	h.refuse.Store(false)
	p.press("button", "Try again", ".bench-refused")
	p.sees("draft is kept", ".bench-head")
	p.press("button", "Publish edition 2")
	p.sees("edition 2 is on sale", ".bench-head")
	shop := h.visitor(390, 844)
	shop.goTo("/p/sky-chart")
	shop.sees("The village")

	p.goTo("/desk/products")
	p.press("link", "Before you come")
	h.refuse.Store(true)
	p.types("What people read", "Something else")
	p.sees("draft is not kept", ".bench-head")
	h.refuse.Store(false)
	p.press("button", "Try again", ".bench-refused")
	p.sees("draft is kept", ".bench-head")
	p.sees("Something else", ".path")
}

func TestWorksheet(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.press("link", "Work", ".desk-bar")
	p.press("link", "By step")
	p.press("link", "Letter the title")
	p.sees("Lift-off → Lift-off, at last")
	p.sees("waits for “Title on the chart”")
	p.press("button", "copy Title on the chart")
	p.sees("copied")
	p.press("tick", "tick 1023")
	p.press("tick", "tick 1025")
	p.press("button", "Mark 2 done")
	p.sees("Done: 2 items")
	p.misses("Lift-off, at last")
	p.press("button", "Undo")
	p.sees("Lift-off, at last")
}

func TestKeyboard(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	key := func(k string) { t.Helper(); must(t, chromedp.Do(p.ctx, chromedp.KeyEvent(k))) }
	for k, sees := range map[string]string{"2": "Title of a new product", "4": "By step", "5": "all people, rooms and things", "6": "Waits to be settled", "1": "Waits for me"} {
		key(k)
		if k == "2" {
			p.until("the products", `ruvo.find("field", "Title of a new product")`)
			continue
		}
		p.sees(sees)
	}
	key("3")
	p.sees("1040", ".order-open")
	key("j")
	p.sees("1039", ".order-open .docket-stub")
	for range 20 { // an order has several lines, and is further down than is shown at first
		key("j")
	}
	p.until("the order that is open is in sight", `((r, box) => r.top > box.top && r.bottom < box.bottom + 1 && r.top > 400)(document.querySelector(".order-row.on").getBoundingClientRect(), document.querySelector(".order-list").getBoundingClientRect())`)
	for range 20 {
		key("k")
	}
	p.sees("1039", ".order-open .docket-stub")
	p.until("so is one above the first that was shown", `((r, head) => r.top >= head.bottom - 1)(document.querySelector(".order-row.on").getBoundingClientRect(), document.querySelector(".order-table thead").getBoundingClientRect())`)
	key("k")
	p.sees("1040", ".order-open .docket-stub")
	key("?")
	p.sees("the six places")
	key("\x1b")
	p.misses("the six places")
	key("/")
	p.until("the search has the focus", `document.activeElement === ruvo.find("field", "Search orders")`)
	p.types("Search orders", "jorun\r")
	p.sees("Jorun Pettibone", ".order-open")
	if path := p.path(); !strings.HasPrefix(path, "/desk/orders") {
		t.Errorf("the search leads to %s", path)
	}
}

func TestFiltersAndEmptyStates(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/orders")
	p.chooses("Brief", "waiting")
	p.sees("missing", ".order-list")
	p.misses("● complete", ".order-list")
	p.chooses("Product", "Gift voucher")
	p.sees("Isadora Quenby", ".order-list")
	p.goTo("/desk/orders?text=nobody+at+all")
	p.sees("No order fits these filters.")
	p.press("button", "Show all")
	p.sees("Anselm Birkwood", ".order-list")
	p.press("link", "1030")
	p.sees("Greta Mahlstein", ".docket")
	p.press("button", "More")
	p.press("option", "Remind of what is missing")
	p.sees("reminded today", ".docket")
	p.press("button", "More")
	p.press("option", "Close the brief")
	p.sees("■ closed", ".docket")
}

// Every view stands up to axe-core's rules for WCAG 2.2 A and AA.
func TestAccessibility(t *testing.T) {
	axe, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	must(t, err)
	h := open(t)
	h.post()
	desk, phone, shop := h.visitor(1280, 800), h.visitor(390, 844), h.visitor(1280, 800)
	check := func(p *person, view string) {
		t.Helper()
		_, err := chromedp.Run(p.ctx, chromedp.Evaluate[chromedp.Void](string(axe)))
		must(t, err)
		found, err := chromedp.Run(p.ctx, chromedp.Evaluate[[]string](`axe.run(document, {runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"], resultTypes: ["violations"]}).then((r) =>
			r.violations.filter((v) => v.impact === "serious" || v.impact === "critical").map((v) => v.id + ": " + v.nodes.slice(0, 3).map((n) => n.html.slice(0, 160)).join(" | ")))`, chromedp.EvalAwaitPromise))
		must(t, err)
		for _, f := range found {
			t.Errorf("%s: %s", view, f)
		}
	}
	for _, p := range []*person{shop, phone} {
		p.goTo("/")
		p.sees("Gift voucher")
		check(p, "front")
		for _, slug := range []string{"sky-chart", "evening-under-the-stars", "photo-rescue", "gift-voucher", "telescope-hire", "mural", "star-party", "oak-frame", "six-evenings", "observatory-cabin"} {
			p.goTo("/p/" + slug)
			p.until("the slip is there", `document.querySelector(".slip-total")`)
			check(p, slug)
		}
		p.press("button", "Go on")
		p.sees("Baskets from the farm")
		check(p, "the cabin's second part")
		inCheckout(p)
		check(p, "checkout")
		pay(p)
		p.sees("Thank you")
		check(p, "order page")
		p.goTo("/basket")
		p.sees("What you choose will be here.")
		check(p, "empty basket")
	}
	asked := h.visitor(390, 844)
	asked.goTo(h.linkOf("Ravi Thornquist"))
	asked.press("button", "+ guest")
	asked.sees("Your signature")
	check(asked, "order page with every kind")
	desk.goTo("/desk")
	desk.sees("Sign in")
	check(desk, "sign-in")
	desk.signIn()
	check(desk, "today")
	for path, sees := range map[string]string{
		"/desk/products": "Photo rescue", "/desk/products/1": "Asked only when", "/desk/products/2": "Try it", "/desk/products/5": "Your stay", "/desk/sheets/1": "What publishing will change", "/desk/orders": "Brief", "/desk/work": "By step",
		"/desk/work?by=step": "Letter the title", "/desk/work/1/letter": "Paper colour", "/desk/calendar": "all people, rooms and things", "/desk/calendar?view=board&day=2026-12-01": "Tobin Aske", "/desk/orders/new?product=17": "Place the order", "/desk/products/10": "Try it",
		"/desk/products/stock": "Low", "/desk/products/groups": "Night schools", "/desk/money": "Money", "/desk/money/coupons": "OLD-COMET", "/desk/money/entries": "entries come to", "/desk/money/terms": "Terms", "/desk/outbox": "Mail and text messages are simulated", "/desk/log": "published a product", "/desk/sessions": "this one",
	} {
		desk.goTo(path)
		desk.sees(sees)
		check(desk, path)
	}
	for path, sees := range map[string]string{
		"/desk/products/rehearsals": "Rehearsals will be here", "/desk/products/checkout": "Step 1 of 2", "/desk/products/1/stops": "Title on the chart", "/desk/products/1/answers": "Paper colour", "/desk/sheets/2/answers": "a friend",
		"/desk/orders/customers": "Cosima Vandermeer", "/desk/orders/customers/of?email=cosima@example.org": "Given on top", "/desk/work/handover": "Hand over", "/desk/money/earnings": "left of",
	} {
		desk.goTo(path)
		desk.sees(sees)
		check(desk, path)
	}
	desk.goTo("/desk/products/1")
	desk.press("button", "Rehearse", ".bench-head")
	desk.press("button", "Begin a rehearsal")
	desk.sees("Walk on", ".rehearsal-list")
	check(desk, "to rehearse")
	base := desk.leads(".rehearsal-list a")
	shop.goTo(base)
	shop.until("the slip is there", `document.querySelector(".slip-total")`)
	check(shop, "a rehearsal")
	for path, sees := range map[string]string{h.giftOf("Ines Varga"): "this is for you", h.linkOf("Ines Varga"): "For Matti Solheim", "/mine": "Send me the link"} {
		phone.goTo(path)
		phone.sees(sees)
		check(phone, sees)
	}
	desk.goTo("/desk/products/5")
	desk.press("button", "Which cabin?", ".path")
	desk.press("button", "More of Larch")
	desk.sees("Offered only when")
	check(desk, "a choice in full")
	desk.press("button", "Add a question Choosing")
	desk.sees("Files and promises")
	check(desk, "the kinds of question")
	desk.goTo("/desk/orders?text=Hanne")
	desk.sees("signed by hand")
	check(desk, "a docket with every kind")
}

// The list of orders has the columns that somebody chose, over a reload, until an order is
// opened.
func TestColumnsOfTheOrders(t *testing.T) {
	h := open(t)
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/orders")
	d.sees("Brief", ".order-open")
	d.chooses("More columns", "Work left")
	d.chooses("More columns", "Booked")
	d.sees("Work left", ".order-list thead")
	d.reload()
	d.sees("Booked", ".order-list thead")
	d.press("link", "1021")
	d.sees("The night we nearly met", ".order-open")
	d.misses("Work left", ".order-list thead")
}

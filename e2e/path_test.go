package e2e

import (
	"math"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
)

// The whole path: a chart is bought on a phone with its title left for later,
// paid, answered on the order page, worked on at the desk, changed by the
// customer in the middle of it, and finished.
func TestWholePath(t *testing.T) {
	h := open(t)
	phone := h.visitor(390, 844)
	phone.goTo("/")
	phone.press("link", "Sky chart for your night")
	phone.picks("The night", "2014-06-14")
	phone.types("The place", "Lofthus, Norway")
	phone.press("tick", "I will tell you later")
	phone.press("tick", "Wine")
	phone.press("tick", "Large")
	phone.press("button", "Yes")
	phone.types("Who is it for?", "Bea")
	phone.sees("€36.00", ".product-bar")
	phone.press("button", "Add to basket", ".product-bar")

	phone.sees("Your basket")
	phone.sees("you tell us later")
	phone.press("button", "Check out")
	phone.sees("Step 1 of 2")
	phone.types("Your name", "Maren Oduya")
	phone.types("Mail address", "maren.new@example.org")
	pay(phone)

	phone.sees("Thank you, Maren Oduya. Your order 1043 is paid.")
	phone.sees("6 of 9 answered")
	phone.sees("We wait for your answers")
	phone.types("Title on the chart", "The night we met")
	phone.types("Words for the card", "Ten years.")
	phone.sees("Complete, thank you.")
	phone.sees("8 of 9 answered")

	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/orders?text=1043")
	desk.sees("The night we met", ".brief")
	desk.sees("Large, 50 × 70 cm", ".slip")
	desk.press("button", "Done Compute the sky")
	desk.press("button", "Start Letter the title")
	desk.sees("Undo Letter the title")

	phone.reload()
	phone.press("button", "Change Title on the chart")
	phone.types("Title on the chart", "The night we left")
	phone.sees("✓ saved", ".answer-edit")
	phone.press("button", "Done", ".answer-edit")
	phone.sees("The night we left", ".answers")

	desk.reload()
	desk.sees("▲ changed", ".order-list")
	desk.sees("The night we met → The night we left", ".brief")
	desk.sees("changed Title on the chart: The night we met → The night we left", ".docket")
	desk.press("button", "Done Letter the title")
	desk.misses("changed Title on the chart", ".docket")
	desk.press("button", "Done Write the card")
	desk.sees("Undo Write the card") // whose row is smaller then, and moves what comes after it
	desk.press("button", "Done Hand over the file")
	desk.sees("● complete", ".order-list")
	desk.sees("all done", ".order-row.on")
	desk.press("button", "Undo Hand over the file")
	desk.sees("in 3 days", ".order-row.on")

	h.post()
	desk.goTo("/desk/outbox")
	desk.sees("maren.new@example.org")
	desk.press("button", "Tue 24 Nov")
	desk.sees("Your order page, with everything you answered")
	desk.sees("Still to answer: Title on the chart; Words for the card.")
}

func TestDeclinedCardThenPaid(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	inCheckout(p)
	p.press("button", "Go on to the payment")
	p.press("button", "Pay €")
	p.card("9900 0000 0000 0003")
	p.sees("This is no card number.")
	p.card("9900 0000 0000 0101")
	p.sees("not enough money on the card. Nothing was charged.")
	p.press("button", "Pay €")
	p.card("9900 0000 0000 0002")
	p.sees("Your order 1043 is paid.")
}

func TestConfirmingAtTheBank(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	inCheckout(p)
	p.press("button", "Go on to the payment")
	p.press("button", "Pay €")
	p.card("9900 0000 0000 0200")
	p.sees("Your bank asks")
	p.press("button", "No, do not pay")
	p.sees("The payment was not confirmed. Nothing was charged.")
	p.press("button", "Pay €")
	p.card("9900 0000 0000 0200")
	p.press("button", "Yes, pay €39.00")
	p.sees("Your order 1043 is paid.")
}

// inCheckout takes a chart for 39.00 to the first step of the checkout.
func inCheckout(p *person) {
	p.t.Helper()
	fillChart(p)
	p.press("button", "Add to basket")
	p.sees("Your basket")
	p.press("button", "Check out")
	p.types("Your name", "Ada Quill")
	p.types("Mail address", "ada@example.org")
}

// A doubled click on pay makes one order.
func TestDoubledClickOnPay(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	inCheckout(p)
	p.press("button", "Go on to the payment")
	p.pressTimes(3, "button", "Pay €")
	p.fillCard("9900 0000 0000 0002")
	p.pressTimes(3, "button", "Pay €")
	p.sees("Your order 1043 is paid.")
	// Going back finds an empty basket and nothing to pay a second time.
	p.back()
	p.misses("Thank you")
	p.goTo("/checkout?step=pay")
	p.sees("The basket is empty, so there is nothing to pay.")
	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/orders?text=ada%40example.org")
	desk.sees("1043", ".order-list")
	if n := strings.Count(desk.reads(".order-list"), "Ada Quill"); n != 1 {
		t.Errorf("%d orders were made", n)
	}
}

// Two buyers want the last three places of one evening. The second is told at
// the checkout, and can have them once the first one's time is over.
func TestTwoBuyersAndOneLastPlace(t *testing.T) {
	h := open(t)
	one, two := h.visitor(1280, 800), h.visitor(390, 844)
	for _, p := range []*person{one, two} {
		p.goTo("/p/evening-under-the-stars")
		p.press("button", "one more")
		p.sees("3 people")
		p.press("button", "Saturday 28 November")
		p.press("button", "18:30–21:00 3 left")
		p.press("tick", "English")
		p.sees("66.00")
		p.press("button", "Add to basket")
		p.sees("Your basket")
		p.press("button", "Check out")
		p.types("Your name", "Ada Quill")
		p.types("Mail address", "ada@example.org")
	}
	one.press("button", "Go on to the payment")
	one.sees("Step 2 of 2")
	two.press("button", "Go on to the payment")
	two.sees("That time is taken. Choose another one.")

	h.ahead.Store(int64(16 * time.Minute))
	two.press("button", "Go on to the payment")
	two.sees("Step 2 of 2")
	one.press("button", "Pay €")
	one.sees("That time is taken. Choose another one.")
	two.press("button", "Pay €")
	two.card("9900 0000 0000 0002")
	two.sees("Your order 1043 is paid.")
}

// A reload, going back and another window lose nothing that was typed.
func TestReloadKeepsEverything(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	fillChart(p)
	p.sees("€39.00", ".product-bar")
	p.reload()
	p.sees("€39.00", ".product-bar")
	p.until("the title is still there", `ruvo.value("field", "Title on the chart") === "The night we met in Lofthus harbour"`)
	p.press("button", "Add to basket", ".product-bar")
	p.sees("Your basket")
	p.reload()
	p.sees("The night we met in Lofthus harbour")
	p.press("link", "Change")
	p.press("tick", "Small")
	p.sees("€27.00", ".product-bar")
	p.press("button", "Keep the changes", ".product-bar")
	p.sees("Small, 30 × 40 cm")
	p.press("button", "Check out")
	p.types("Your name", "Ada Quill")
	p.types("Mail address", "ada@example.org")
	p.press("button", "Yes")
	p.sees("€35.10")
	p.reload()
	p.until("the name is still there", `ruvo.value("field", "Your name") === "Ada Quill"`)
	p.sees("€35.10")
	p.press("button", "Go on to the payment")
	p.sees("Step 2 of 2")
	p.back()
	p.sees("Step 1 of 2")
	p.goTo("/basket")
	p.press("button", "Take out")
	p.sees("Taken out of the basket.")
	p.press("button", "Put it back")
	p.sees("Small, 30 × 40 cm")
}

// Wrong input is told at its field, what is missing all at once.
func TestWrongInput(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.goTo("/p/sky-chart")
	p.press("button", "Add to basket")
	p.sees("5 questions still to answer")
	p.sees("Please answer this.", `[data-question="night"]`)
	p.sees("Please answer this.", `[data-question="size"]`)
	p.picks("The night", "1850-01-01")
	p.sees("Choose Mon 1 Jan 1900 or a later day.", `[data-question="night"]`)
	p.picks("The night", "2014-06-14")
	p.misses("Please answer this.", `[data-question="night"]`)
	p.types("Title on the chart", strings.Repeat("x", 50))
	p.sees("40 of 40", `[data-question="title"]`) // typing stops at the limit

	p.goTo("/p/photo-rescue")
	p.types("How many pictures?", "lots")
	p.sees("Write a number, in digits.", `[data-question="pictures"]`)
	p.types("How many pictures?", "61")
	p.sees("Give at most 60.", `[data-question="pictures"]`)
	p.types("How many pictures?", "7")
	p.sees("4 pictures after 3 × 6.00", ".product-slip")

	p.goTo("/p/gift-voucher")
	p.types("Worth", "5")
	p.sees("Give at least €10.00.", `[data-question="value"]`)
	p.press("button", "€50.00")
	p.sees("€50.00", ".product-slip")
	p.press("button", "one more")
	p.sees("50.00 × 2", ".product-slip")
	p.sees("One name on all of them?")

	p.goTo("/p/ghost")
	p.sees("This product is not sold here.")
	p.goTo("/o/AAAAAAAAAAAAAAAAAAAAAA")
	p.sees("This link does not open an order.")
	p.goTo("/no/such/page")
	p.sees("There is nothing at this address.")
}

// An answer's price that arrives late is never shown as that of a newer one.
func TestAnOldPriceIsNeverShownAsNew(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.goTo("/p/sky-chart")
	p.sees("€24.00", ".product-slip")
	// Replies to the large file are held back until they are let go.
	_, err := ask[bool](p, `(() => {
		const real = window.fetch;
		window.held = [];
		window.fetch = async (request, options) => {
			const body = await request.clone().text();
			const reply = await real(request, options);
			if (body.includes('"large"')) await new Promise((go) => window.held.push(go));
			return reply;
		};
		return true;
	})()`)
	must(t, err)
	p.press("tick", "Large")
	p.until("the reply is held back", "window.held.length > 0")
	p.sees("computing …", ".product-slip")
	p.press("tick", "Wall")
	p.sees("€49.00", ".product-slip")
	_, err = ask[bool](p, "(window.held.forEach((go) => go()), true)")
	must(t, err)
	p.press("tick", "I will tell you later")
	p.sees("€49.00", ".product-slip")
	if text := p.reads(".product-slip"); strings.Contains(text, "€36.00") {
		t.Errorf("the slip shows an old price: %s", text)
	}
}

// late holds the API's replies back for as long as h.slow says, as a slow
// network does.
func (h *house) late(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/api/") {
			if h.away.Load() {
				panic(http.ErrAbortHandler)
			}
			time.Sleep(time.Duration(h.slow.Load()))
			h.silent.RLock()
			defer h.silent.RUnlock()
		}
		next.ServeHTTP(w, r)
	})
}

// What was wrong above a field goes when the server says so, and other faults come; the
// field that somebody types in by then stands where it stood, whether what goes is in
// sight or far above.
func TestTheFieldAtHandStandsStill(t *testing.T) {
	h := open(t)
	for _, guests := range []int{1, 2} {
		p := h.visitor(390, 844)
		p.goTo("/p/dinner-under-the-dome")
		p.press("button", "Add to basket", ".product-bar")
		p.sees("Please answer this.", `[data-question="sitting"]`)
		p.press("button", "Friday 27 November")
		h.silent.Lock()
		p.press("button", "18:00–21:00")
		for range guests {
			p.press("button", "+ guest")
		}
		if guests == 1 {
			p.types("Name", "Ada Quill", `[data-question="diners"]`)
		} else {
			p.types("Red, a bottle", "2")
		}
		stands := func() float64 {
			t.Helper()
			top, err := ask[float64](p, `document.activeElement.getBoundingClientRect().top`)
			must(t, err)
			return top
		}
		p.sees("Please answer this.", `[data-question="sitting"]`)
		before := stands()
		h.silent.Unlock()
		p.misses("Please answer this.", `[data-question="sitting"]`)
		_, err := chromedp.Run(p.ctx, chromedp.Evaluate[bool](`new Promise((tell) => requestAnimationFrame(() => requestAnimationFrame(() => requestAnimationFrame(() => tell(true)))))`, chromedp.EvalAwaitPromise))
		must(t, err)
		if after := stands(); math.Abs(after-before) > 1 {
			t.Errorf("with %d guests, the field that is typed in moved from %v to %v", guests, before, after)
		}
	}
}

// What arrives from the server pushes nothing away from who aims at it: layout
// shifts of the pages on the way to paying, as the Layout Instability API of browsers counts
// them, stay within 0.01.
func TestShopPagesStandStill(t *testing.T) {
	h := open(t)
	h.slow.Store(int64(100 * time.Millisecond)) // the page is painted before its content is there
	for _, size := range [][2]int64{{390, 844}, {1280, 800}} {
		p := h.visitor(size[0], size[1])
		fillChart(p)
		p.press("button", "Add to basket")
		p.sees("Your basket")
		for page, sees := range map[string]string{
			"/p/sky-chart": "Add to basket", "/p/evening-under-the-stars": "Add to basket", "/p/observatory-cabin": "Add to basket", "/p/photo-rescue": "Add to basket",
			"/basket": "Total", "/checkout": "Go on to the payment", "/checkout?step=pay": "Tax included",
		} {
			p.goTo(page)
			p.sees(sees)
			p.until("all is there", `document.fonts.status === "loaded" && [...document.images].every((i) => i.complete || i.loading === "lazy")`)
			moved, err := ask[struct {
				By   float64
				What []string
			}](p, `(() => {
				const o = new PerformanceObserver(() => {});
				o.observe({ type: "layout-shift", buffered: true });
				const moves = o.takeRecords().filter((e) => !e.hadRecentInput);
				const name = (n) => n?.className || n?.parentElement?.className || n?.nodeName;
				const what = (s) => name(s.node) + " from " + s.previousRect.y + " to " + s.currentRect.y;
				return { By: moves.reduce((sum, e) => sum + e.value, 0), What: moves.flatMap((e) => e.sources.map(what)) };
			})()`)
			must(t, err)
			if moved.By > 0.01 {
				t.Errorf("%s at %d × %d moves by %.3f: %q", page, size[0], size[1], moved.By, moved.What)
			}
		}
	}
}

func TestTheShopInGerman(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/p/sky-chart")
	p.press("button", "Deutsch") // before the page's questions have arrived
	p.sees("In den Korb", ".product-bar")
	p.sees("+0,60 je letter nach 24", `[data-question="title"]`)
	p.press("button", "English") // and with the bar at the bottom
	p.sees("+0.60 a letter after 24", `[data-question="title"]`)
	p.press("button", "Deutsch")
	p.sees("+0,60 je letter nach 24", `[data-question="title"]`)
	p.press("tick", "Large")
	p.sees("36,00", ".product-bar")
	p.press("button", "In den Korb", ".product-bar")
	p.sees("Bitte beantworten.", `[data-question="night"]`)
	p.reload()
	p.sees("In den Korb")
}

package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// A course is booked on a phone as one, after it began for what is left of it; its
// customer moves it into another one, and who finds one booked up waits for it.
func TestACourseOnThePhone(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/p/six-evenings")
	p.press("button", "one less") // one person
	p.sees("booked up", ".courses")
	p.press("button", "All dates In spring")
	p.sees("Wednesday 31 March, 19:00–20:30", ".courses")
	p.press("button", "This autumn")
	p.sees("It has begun: 4 of 6 meetings are left.", ".courses")
	p.sees("€120.00", ".product-bar")
	p.press("button", "Tell me when a place comes free After the new year")
	p.types("Your name", "Ada Quill", ".booking-wait")
	p.types("Mail address", "nobody", ".booking-wait")
	p.press("button", "Tell me", ".booking-wait")
	p.sees("Give a mail address such as name@example.org.", ".booking-wait")
	p.types("Mail address", "ada@example.org", ".booking-wait")
	p.press("button", "Tell me", ".booking-wait")
	p.sees("You get a mail when it comes free.")
	p.press("button", "Add to basket", ".product-bar")
	p.press("button", "Check out")
	p.types("Your name", "Ada Quill")
	p.types("Mail address", "ada@example.org")
	pay(p)
	p.sees("4 meetings of 6, from Wed 25 Nov 2026, 19:00 to Wed 16 Dec 2026, 1 person")
	p.sees("Tobin Aske")
	p.sees("Wednesday 16 December, 19:00–20:30", ".booked-meetings")
	p.reload()
	p.sees("4 meetings of 6")

	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/calendar?view=week&day=2026-12-02")
	d.press("button", "4 bookings, 5 people")
	d.sees("meeting 4 of 6", ".calendar-together")
	d.goTo("/desk/calendar?view=day&day=2026-12-02")
	d.sees("Ada Quill", ".calendar-grid")
	d.focuses("Ada Quill")
	d.press("button", "Ada Quill", ".calendar-grid")
	d.press("button", "Move …", ".calendar-card")
	d.chooses("What is moved", "the whole of it, into In spring: Wed 24 Feb 2027 – Wed 31 Mar 2027, 8 left", ".ant-modal")
	d.sees("The order costs €60.00 more then.", ".ant-modal")
	d.press("button", "Leave it as it was")
	d.goTo("/desk/orders?text=Ada+Quill")
	d.press("link", "1043")
	d.press("button", "Wed 9 Dec, 19:00 Move …")
	d.sees("only meeting 5 of 6", ".ant-modal")
	d.picks("Day", "2026-12-10")
	d.press("button", "Move it", ".ant-modal")
	d.sees("Thu 10 Dec, 19:00", ".booked-meetings")
	d.goTo("/desk/calendar?view=day&day=2027-02-24")
	d.sees("In spring, 1 of 6: 8 of 8 places are left.", ".calendar-why")
	h.audit()
}

// What is booked up is waited for by two taps on a stay.
func TestWaitingForAStay(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/p/observatory-cabin")
	p.press("tick", "Juniper")
	p.press("button", "Month after")
	p.press("button", "Wednesday 9 December: sold out")
	p.sees("It is booked up. Tap the last day too", ".opening-day")
	p.press("button", "Saturday 12 December")
	p.sees("Wednesday 9 December – Saturday 12 December", ".booking-wish")
	p.types("Your name", "Ada Quill", ".booking-wait")
	p.types("Mail address", "ada@example.org", ".booking-wait")
	p.press("button", "Tell me", ".booking-wait")
	p.sees("You get a mail when it comes free.")
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/calendar?view=week&day=2026-12-09")
	d.sees("Ada Quill, 1 person · Nights in the observatory cabin")
}

// A time is kept by hand from an empty spot of the calendar, seen by customers and let
// go; a free time becomes an order for somebody who calls.
func TestKeepingATimeAndTakingAnOrder(t *testing.T) {
	h := open(t)
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/calendar?view=day&day=2026-12-04")
	d.press("button", "free · A lesson at the telescope")
	d.sees("Fri 4 Dec, 10:00", ".ant-modal")
	d.types("Reason", "The roof is mended", ".ant-modal")
	d.press("button", "Keep it free", ".ant-modal")
	d.sees("The roof is mended", ".calendar-kept")
	d.sees("10:00: Kept free by hand: The roof is mended", ".calendar-why")
	d.press("button", "The roof is mended")
	d.press("button", "Let it go")
	d.misses("The roof is mended", ".calendar-grid")
	at := d.emptySpot()
	d.drags(at, [2]float64{at[0], at[1] + 40}, [2]float64{at[0], at[1] + 80}) // an hour and a half
	d.sees("Fri 4 Dec, 09:00", ".ant-modal")
	d.until("it is as long as it was drawn", `document.querySelector("#keep-ends").value === "10:30"`)
	d.press("button", "Cancel", ".ant-modal")
	d.press("button", "free · A lesson at the telescope")
	d.press("link", "A lesson at the telescope, 10:00–10:45")
	d.sees("36.00", ".new-order-side")
	d.press("button", "Place the order")
	d.sees("Give your name, in at most 120 characters.")
	d.types("For whom", "Orla Fenwick")
	d.types("Mail address", "orla@example.org")
	d.chooses("What is due now", "was paid in cash")
	d.pressTimes(2, "button", "Place the order")
	d.sees("Orla Fenwick", ".order-open")
	d.sees("Fri 4 Dec, 10:00")
	d.back()
	d.sees("New order")
	d.goTo("/desk/calendar?view=day&day=2026-12-04")
	d.sees("Orla Fenwick", ".calendar-grid")
	d.presses(kb.Escape)
	h.audit()
}

// emptySpot gives a place at nine in the first column of the calendar, beside what is
// in it.
func (p *person) emptySpot() [2]float64 {
	p.t.Helper()
	var at [2]float64
	raw, err := chromedp.Run(p.ctx, chromedp.Evaluate[[]float64](`(() => {
		const column = document.querySelector(".calendar-column").getBoundingClientRect();
		const hour = [...document.querySelectorAll(".calendar-axis span")].find((s) => s.textContent === "09:00").getBoundingClientRect();
		return [column.right - 20, hour.top + 2];
	})()`))
	must(p.t, err)
	copy(at[:], raw)
	return at
}

package e2e

import (
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// A month is looked through by keys, a day that has no room is not taken, and what
// somebody else books is seen.
func TestAMonthOfEvenings(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/p/evening-under-the-stars")
	p.sees("November 2026", ".months")
	p.sees("Wednesday 25 November", ".opening-day")
	p.press("button", "Friday 27 November")
	p.sees("Friday 27 November", ".opening-day")
	p.focuses("Friday 27 November: free")
	p.presses(kb.ArrowRight, kb.Enter)
	p.sees("Saturday 28 November", ".opening-day")
	p.presses(kb.ArrowDown)
	p.sees("December 2026", ".months")
	p.presses(kb.Enter)
	p.sees("Saturday 5 December", ".opening-day")
	p.presses(kb.PageDown)
	p.sees("January 2027", ".months")
	p.press("button", "Month before")
	p.sees("December 2026", ".months")
	p.press("button", "Friday 25 December: closed") // a holiday
	p.sees("Saturday 5 December", ".opening-day")
	p.press("button", "The next free day")
	p.sees("Wednesday 9 December", ".opening-day")
}

// What is set of the business is kept as it is edited, told what it closes before
// it does, and taken back.
func TestSettingTheBusiness(t *testing.T) {
	h := open(t)
	d := h.visitor(1280, 800)
	d.signIn()
	d.press("button", "Ilse Brandt")
	d.press("option", "Settings")
	d.sees("What customers read")
	d.types("Mail address", "hello@fernlight.example.org")
	d.sees("kept; last changed by Ilse Brandt")
	d.reload()
	d.until("it was kept", `ruvo.value("field", "Mail address") === "hello@fernlight.example.org"`)
	d.press("button", "Add days off")
	d.picks("Last day off", "2026-11-28")
	d.sees("openings would close.")
	d.sees("bookings stand in them:")
	d.press("button", "Leave it as it was")
	d.misses("openings would close.")
	d.press("button", "Add days off")
	d.picks("Last day off", "2026-11-28")
	d.press("button", "Do it")
	d.misses("openings would close.")
	p := h.visitor(390, 844)
	p.goTo("/p/evening-under-the-stars")
	p.sees("Wednesday 2 December", ".opening-day")
	p.sees("hello@fernlight.example.org")
	d.goTo("/desk/calendar")
	d.picks("Why is it open or closed on", "2026-11-27")
	d.sees("You are closed", ".calendar-why")
	d.picks("Why is it open or closed on", "2026-12-01")
	d.sees("It has no hours on this weekday: Tue.", ".calendar-why")
	d.goTo("/desk/settings")
	d.press("button", "Undo the last change")
	d.until("the days off are gone", `!ruvo.find("button", "Take these days off away")`)
	p.reload()
	p.sees("Wednesday 25 November", ".opening-day")
	h.audit()
}

package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
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
	d.goTo("/desk/calendar?view=day&day=2026-11-27")
	d.sees("You are closed", ".calendar-why")
	d.goTo("/desk/calendar?view=day&day=2026-12-01")
	d.sees("It has no hours on this weekday: Tue.", ".calendar-why")
	d.goTo("/desk/settings")
	d.press("button", "Undo the last change")
	d.until("the days off are gone", `!ruvo.find("button", "Take these days off away")`)
	p.reload()
	p.sees("Wednesday 25 November", ".opening-day")
	h.audit()
}

// A lesson is booked on a phone, with somebody, as long as one likes; its customer
// moves it on the order page, its seller on the calendar, by hand and by keys, and is
// told what that breaks.
func TestALessonIsBookedAndMoved(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/p/lesson-at-the-telescope")
	p.press("button", "1 h 30 min")
	p.press("button", "Tobin Aske")
	p.press("button", "Month after")
	p.sees("December 2026", ".months")
	p.press("button", "Wednesday 2 December: free")
	p.press("button", "15:15–16:45")
	p.sees("€72.00", ".product-bar")
	p.press("button", "Add to basket", ".product-bar")
	p.press("button", "Check out")
	p.types("Your name", "Ada Quill")
	p.types("Mail address", "ada@example.org")
	pay(p)
	p.sees("Wed 2 Dec 2026, 15:15–16:45, 1 person")
	p.sees("Tobin Aske, The dome")
	p.press("button", "Move it Your lesson")
	p.press("button", "Thursday 3 December: free")
	p.press("button", "16:00–17:30")
	p.press("button", "Save")
	p.sees("Thu 3 Dec 2026, 16:00–17:30")

	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/calendar?view=week&day=2026-12-03")
	d.sees("Ada Quill", ".calendar-grid")
	d.focuses("Ada Quill")
	must(t, chromedp.Do(d.ctx, chromedp.KeyEvent(kb.ArrowRight, chromedp.KeyModifiers(chromedp.ModifierAlt))))
	d.presses(kb.Enter)
	d.sees("Fri 4 Dec 2026, 16:00–17:30")
	d.sees("That time is not offered.") // Tobin is not there on Fridays
	d.press("button", "Leave it as it was")
	at := d.spot("button", "Ada Quill", ".calendar-grid")
	d.drags(at, [2]float64{at[0] + 4, at[1] - 30}, [2]float64{at[0], at[1] - 27}) // half an hour earlier
	d.sees("Thu 3 Dec 2026, 15:30–17:00")
	d.types("A word to the customer", "The dome is warmer then.")
	d.press("button", "Move it anyway") // beside the grid of starts
	d.sees("15:30–17:00", ".calendar-grid")
	d.goTo("/desk/calendar?view=board&day=2026-12-03")
	d.sees("Tobin Aske", ".calendar-board")
	d.focuses("Ada Quill") // first in the row of Tobin
	must(t, chromedp.Do(d.ctx, chromedp.KeyEvent(kb.ArrowUp, chromedp.KeyModifiers(chromedp.ModifierAlt))))
	d.presses(kb.Enter)
	d.sees("Thu 3 Dec 2026, 15:30–17:00")
	d.sees("Ilse Brandt, The dome", ".ant-modal")
	d.press("button", "Move it anyway")
	d.misses("A word to the customer")
	d.press("button", "Ada Quill", ".calendar-board")
	d.sees("Ilse Brandt, The dome", ".calendar-card")
	d.sees("A lesson at the telescope", ".calendar-card")
	d.press("link", "Order 1043")
	d.sees("Ilse Brandt, The dome")
	p.reload()
	p.sees("Thu 3 Dec 2026, 15:30–17:00")
	h.audit()
}

// People are kept in the settings: what an absence closes is said before; a calendar
// that they keep elsewhere closes its times; and a program reads what is booked.
func TestPeopleAndCalendarsInSettings(t *testing.T) {
	h := open(t)
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/settings")
	d.press("button", "Add a person")
	d.types("Name", "Nils Okafor", ".resource[open]")
	d.sees("kept; last changed by Ilse Brandt")
	d.press("button", "Nils Okafor")
	d.press("button", "Ilse Brandt", "details.resource:nth-of-type(4)")
	d.press("button", "Add an absence", ".resource[open]")
	d.picks("Last day off", "2026-12-24")
	d.sees("openings would close.")
	d.press("button", "Leave it as it was")
	d.press("button", "Make an address")
	d.sees("Copy this address now; it is not shown again.")
	address, err := ask[string](d, `ruvo.value("field", "Private address")`)
	must(t, err)
	_, path, _ := strings.Cut(address, "/api/feeds/")
	text, err := ask[string](d, fmt.Sprintf(`((x) => (x.open("GET", "/api/feeds/" + %q, false), x.send(), x.responseText))(new XMLHttpRequest())`, path))
	must(t, err)
	if !strings.Contains(text, "SUMMARY:Ines Varga: Evening under the stars") {
		t.Errorf("%.400s", text)
	}
	file := filepath.Join(t.TempDir(), "choir.ics")
	must(t, os.WriteFile(file, []byte("BEGIN:VCALENDAR\nVERSION:2.0\nBEGIN:VEVENT\nUID:1\nDTSTART:20261201T120000Z\nDTEND:20261201T200000Z\nSUMMARY:Choir\nEND:VEVENT\nEND:VCALENDAR\n"), 0o600))
	must(t, chromedp.Do(d.ctx, chromedp.SetUploadFiles(`input[accept^=".ics"]`, []string{file})))
	d.sees("Larch cabin: choir.ics")
	d.sees("1 time, until Tue 1 Dec")
	d.press("button", "Take it away")
	d.misses("choir.ics")
}

// A lesson that is booked up is waited for on a phone; when it comes free, the mail
// leads back to it, and it is booked.
func TestWaitingForALesson(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/p/lesson-at-the-telescope")
	p.press("button", "Month after")
	p.press("button", "Wednesday 2 December: free")
	p.press("button", "14:30–15:15")
	p.sees("€36.00", ".product-bar")
	p.press("button", "Add to basket", ".product-bar")
	p.press("button", "Check out")
	p.types("Your name", "Ada Quill")
	p.types("Mail address", "ada@example.org")
	pay(p)
	p.sees("Thank you, Ada Quill.")

	q := h.visitor(390, 844)
	q.goTo("/p/lesson-at-the-telescope")
	q.press("button", "Month after")
	q.press("button", "Wednesday 2 December: free")
	q.press("button", "Tell me when a time of this day comes free")
	q.press("button", "14:30–15:15", ".booking-wait")
	q.types("Your name", "Nils Okafor", ".booking-wait")
	q.types("Mail address", "nils", ".booking-wait")
	q.press("button", "Tell me", ".booking-wait")
	q.sees("mail address", ".booking-wait .question-fault")
	q.types("Mail address", "nils@example.org", ".booking-wait")
	q.press("button", "Tell me", ".booking-wait")
	q.sees("It is held for you for 12 hours then.")
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/calendar?view=day&day=2026-12-02")
	d.sees("Nils Okafor")

	p.press("button", "Cancel …")
	p.press("button", "Yes, cancel it")
	p.sees("This order is cancelled.")
	must(t, h.server.Waiting.Round(t.Context()))
	h.post()
	body, _ := h.box.Text("turn-3") // after two of the sample business
	_, turn, _ := strings.Cut(body, "/p/")
	q.goTo("/p/" + strings.Fields(turn)[0])
	q.sees("It is your turn: this is held for you until")
	q.sees("€36.00", ".product-bar")
	q.press("button", "Add to basket", ".product-bar")
	q.press("button", "Check out")
	q.types("Your name", "Nils Okafor")
	q.types("Mail address", "nils@example.org")
	pay(q)
	q.sees("Wed 2 Dec 2026, 14:30–15:15, 1 person")
	h.audit()
}

package e2e

import (
	"testing"

	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
)

// offline takes a window's connection away, or gives it back.
func (p *person) offline(is bool) {
	p.t.Helper()
	_, err := chromedp.Call(p.ctx, network.EmulateNetworkConditionsByRule, network.EmulateNetworkConditionsByRuleParams{
		MatchedNetworkConditions: []*network.Conditions{{Offline: is, DownloadThroughput: -1, UploadThroughput: -1}},
	})
	must(p.t, err)
	_, err = chromedp.Call(p.ctx, network.OverrideNetworkState, network.OverrideNetworkStateParams{Offline: is, DownloadThroughput: -1, UploadThroughput: -1})
	must(p.t, err)
}

// briefed buys a chart on a phone whose title and card are told later, and gives the way
// to its order page.
func (h *house) briefed() (*person, string) {
	h.t.Helper()
	phone := h.visitor(390, 844)
	phone.goTo("/p/sky-chart")
	phone.picks("The night", "2014-06-14")
	phone.types("The place", "Lofthus")
	phone.press("tick", "I will tell you later")
	phone.press("tick", "Midnight")
	phone.press("tick", "Large")
	phone.press("button", "Yes", `[data-question="gift"]`)
	phone.types("Who is it for?", "Bea")
	phone.press("button", "Add to basket", ".product-bar")
	phone.press("button", "Check out")
	phone.types("Your name", "Wanda Fjell")
	phone.types("Mail address", "wanda@example.org")
	pay(phone)
	phone.sees("Your order 1043 is paid.")
	return phone, phone.path()
}

// A brief saves itself, without a connection too, on two devices at once; what is not
// known yet is said, and a moment tells that nothing is missing.
func TestTheBriefSavesItself(t *testing.T) {
	h := open(t)
	phone, link := h.briefed()
	phone.sees("2 answers are missing. What you write is saved by itself.", ".to-answer")
	phone.press("tick", "I do not know yet", `[data-question="title"]`)
	phone.sees("One you do not know yet.", ".to-answer")
	phone.types("Words for the card", "Ten")
	phone.sees("✓ saved", ".to-answer")
	phone.offline(true)
	phone.types("Words for the card", "Ten years.")
	phone.sees("No connection. It is kept here", ".to-answer")
	phone.offline(false)
	phone.sees("✓ saved", ".to-answer")

	laptop := h.visitor(1280, 800)
	laptop.goTo(link)
	laptop.sees("Ten years.", ".answers")
	phone.press("tick", "I do not know yet", `[data-question="title"]`) // now it is known
	phone.sees("✓ saved", ".to-answer")
	phone.offline(true)
	phone.types("Title on the chart", "From the phone")
	phone.sees("No connection. It is kept here", ".to-answer")
	laptop.reload()
	laptop.types("Title on the chart", "From the laptop")
	laptop.sees("✓ saved", ".to-answer")
	phone.offline(false)
	phone.sees("This was changed on another device meanwhile.", ".to-answer")
	phone.press("button", "Keep what I wrote here", ".to-answer")
	phone.sees("Complete, thank you.", ".to-answer")
	laptop.reload()
	laptop.sees("From the phone", ".answers")

	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/orders?text=1043")
	desk.sees("From the phone", ".brief")
	phone.types("Words for the card", "")
	phone.sees("✓ saved", ".to-answer")
	desk.reload()
	desk.sees("does not count yet", ".brief")
}

// What was typed without a connection while the brief closed is not lost: it is offered
// to be asked for.
func TestTypedWhileTheBriefCloses(t *testing.T) {
	h := open(t)
	phone, _ := h.briefed()
	phone.sees("2 answers are missing.", ".to-answer")
	phone.types("Title on the chart", "Us")
	phone.types("Words for the card", "Ten")
	phone.sees("Complete, thank you.", ".to-answer")
	phone.offline(true)
	phone.types("Words for the card", "Ten years.")
	phone.sees("No connection. It is kept here", ".to-answer")
	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/orders?text=1043")
	desk.press("button", "More", ".docket")
	desk.press("option", "Close the brief")
	desk.sees("closed", ".docket")
	phone.offline(false)
	phone.sees("The answers were closed before this was sent.")
	phone.press("button", "Ask for this change")
	phone.sees("You asked on")
	desk.reload()
	desk.sees("Ten years.", ".brief")
}

// While the server is away, a page that was there stays with all that is typed in it,
// says that it is old, and goes on by itself.
func TestPagesStayWhileTheServerIsAway(t *testing.T) {
	h := open(t)
	phone, desk := h.visitor(390, 844), h.visitor(1280, 800)
	phone.goTo("/p/sky-chart")
	phone.types("The place", "Lofthus")
	desk.signIn()
	desk.goTo("/desk/orders?text=1041")
	desk.types("Write", "The chart is", ".docket")
	h.away.Store(true)
	for _, p := range []*person{phone, desk} {
		p.until("who returns to the window is told that it is old", `(window.dispatchEvent(new Event("visibilitychange")), ruvo.text(".unreached").includes("What is new does not come through."))`)
	}
	phone.types("Title on the chart", "The night we met")
	phone.sees("The connection is lost.")
	phone.until("the place is still there", `ruvo.value("field", "The place") === "Lofthus"`)
	desk.until("the message is still there", `ruvo.value("field", "Write") === "The chart is"`)
	h.away.Store(false)
	phone.misses("The connection is lost.")
	phone.misses("What is new does not come through.")
	desk.misses("What is new does not come through.")
}

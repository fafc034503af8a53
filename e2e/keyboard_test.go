package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// tabsTo goes with the Tab key alone to something of a role and a name.
func (p *person) tabsTo(role, name string) {
	p.t.Helper()
	there := fmt.Sprintf("document.activeElement === ruvo.find(%s, %s)", quote(role), quote(name))
	for range 150 {
		p.presses(kb.Tab)
		if on, err := ask[bool](p, there); err != nil || on {
			must(p.t, err)
			return
		}
	}
	p.t.Fatalf("the Tab key does not come to the %s %q", role, name)
}

// enters types into what has the focus, and expects it there.
func (p *person) enters(text string) {
	p.t.Helper()
	must(p.t, chromedp.Do(p.ctx, chromedp.KeyEvent(text)))
	p.until("it is typed", "document.activeElement.value === "+quote(text))
}

// A purchase and its brief need no mouse: from the shop's front page to “complete, thank
// you”, by Tab, Space, arrows and Enter.
func TestByKeyboardAlone(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.goTo("/")
	p.sees("Red lamp")
	p.tabsTo("link", "Sky chart for your night")
	p.presses(kb.Enter)
	p.sees("Add to basket", ".product-slip")
	p.tabsTo("field", "The night")
	must(t, chromedp.Do(p.ctx, chromedp.KeyEvent("06142014")))
	p.tabsTo("field", "The place")
	p.enters("Lofthus")
	p.tabsTo("tick", "I will tell you later")
	p.presses(" ")
	p.tabsTo("tick", "Midnight")
	p.presses(" ")
	p.tabsTo("tick", "Small")
	p.presses(" ", kb.ArrowDown, kb.ArrowDown)
	p.sees("€36.00", ".product-slip")
	p.tabsTo("button", "Add to basket")
	p.presses(kb.Enter)
	p.sees("Your basket")
	p.tabsTo("button", "Check out")
	p.presses(kb.Enter)
	p.tabsTo("field", "Your name")
	p.enters("Wanda Fjell")
	p.tabsTo("field", "Mail address")
	p.enters("wanda@example.org")
	p.tabsTo("button", "Go on to the payment")
	p.presses(kb.Enter)
	p.sees("Step 2 of 2")
	p.tabsTo("button", "Pay €36.00")
	p.presses(kb.Enter)
	p.sees("Simulated")
	p.tabsTo("field", "Card number")
	p.enters("9900000000000002")
	p.tabsTo("field", "Last month")
	p.enters("08/29")
	p.tabsTo("field", "Code on the back")
	p.enters("123")
	p.presses(kb.Enter)
	p.sees("Your order 1043 is paid.")
	p.tabsTo("field", "Title on the chart")
	p.enters("Us")
	p.sees("Complete, thank you.", ".to-answer")
}

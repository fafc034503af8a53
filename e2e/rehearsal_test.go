package e2e

import (
	"strings"
	"testing"

	"ruvo/internal/store"
)

// figures gives what the business's own money and orders come to.
func (h *house) figures() string {
	h.t.Helper()
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/money")
	p.sees("Oct 2026 757.00", "main")
	p.sees("1042 Jannes", "main")
	return p.reads("main") + p.reads(".desk-bar")
}

// leads gives the path to which a link leads.
func (p *person) leads(link string) string {
	p.t.Helper()
	path, err := ask[string](p, "document.querySelector("+quote(link)+").getAttribute('href')")
	must(p.t, err)
	return path
}

// A draft is walked by a stranger, worked on at a desk of its own on another day, and
// swept: nothing of it is ever found in the business itself.
func TestRehearsalLeavesNoTrace(t *testing.T) {
	h := open(t)
	before := h.figures()
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/products/1")
	d.press("button", "The place", ".path")
	d.types("What people read", "The town")
	d.sees("draft is kept", ".bench-head")
	d.press("button", "Rehearse", ".bench-head")
	d.press("button", "Begin a rehearsal")
	d.sees("Walk on", ".rehearsal-list")
	base := strings.TrimSuffix(d.leads(".rehearsal-list a"), "/p/sky-chart")

	phone := h.visitor(390, 844)
	phone.goTo(base + "/p/sky-chart")
	phone.sees("Nothing here counts", ".rehearsal")
	phone.sees("The town", "main")
	phone.picks("The night", "2014-06-14")
	phone.types("The town", "Lofthus")
	phone.types("Title on the chart", "Us")
	phone.press("tick", "Midnight")
	phone.press("tick", "Large")
	phone.press("button", "Add to basket", ".product-bar")
	phone.press("button", "Check out")
	phone.types("Your name", "Wanda Fjell")
	phone.types("Mail address", "wanda@example.org")
	pay(phone)
	phone.sees("Your order 1001 is paid.")
	phone.sees("Rehearsal", ".rehearsal")
	phone.press("link", "Mails", ".rehearsal")
	phone.press("button", "Your order 1001", "main")
	phone.sees("This mail belongs to a rehearsal.", "main")
	if to := phone.leads("details[open] a"); !strings.HasPrefix(to, h.url+base+"/o/") {
		t.Errorf("the mail leads to %s", to)
	}

	// What the browser keeps of it is apart from the shop's.
	phone.goTo("/p/sky-chart")
	phone.misses("Nothing here counts")
	phone.goTo("/basket")
	phone.sees("What you choose will be here.")

	phone.goTo(base + "/desk/orders")
	phone.sees("Sign in at the desk") // a stranger with the link has no desk

	d.goTo(base + "/desk/orders?text=1001")
	d.sees("Wanda Fjell", ".order-list")
	d.sees("Nothing here counts", ".rehearsal")
	d.misses("Products", ".desk-places")
	d.press("button", "Next day", ".rehearsal")
	d.until("it is tomorrow", `document.querySelector("#rehearsal-day").value === "2026-11-25"`)

	if after := h.figures(); after != before {
		t.Errorf("the rehearsal left a trace:\n%s\n%s", before, after)
	}
	d.goTo("/desk/products/rehearsals")
	d.sees("Sky chart for your night", "main")
	d.press("button", "Sweep all")
	d.press("button", "Sweep all", ".ant-popconfirm")
	d.sees("Rehearsals will be here.")
	phone.goTo(base + "/p/sky-chart")
	phone.sees("This rehearsal is over.", ".rehearsal")
	must(t, h.store.Read(t.Context(), func(tx *store.Tx) error {
		orders, err := tx.Ordered(0, 1000)
		for _, o := range orders {
			if o.Email == "wanda@example.org" {
				t.Errorf("%+v", o)
			}
		}
		return err
	}))
}

// A draft is walked by the program, which shows how far it came; a draft that stops
// customers is told with the answers that they gave.
func TestAProductIsWalkedByItself(t *testing.T) {
	h := open(t)
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/products/1")
	d.press("button", "Rehearse", ".bench-head")
	d.press("button", "Have it walked 10 times")
	d.sees("Every walk came to the end")
	d.sees("got what they ordered 10", ".walk-stages")
}

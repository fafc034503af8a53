package e2e

import (
	"strconv"
	"strings"
	"testing"
	"time"

	"ruvo/demo"
	"ruvo/internal/store"
)

// Where one is signed in can be seen and ended, and the log says so; what is
// chosen in it stands in the address.
func TestLogAndSignIns(t *testing.T) {
	h := open(t)
	p, phone := h.visitor(1280, 800), h.visitor(390, 844)
	phone.signIn()
	p.signIn()
	p.press("button", "Ilse Brandt")
	p.press("option", "Where you are signed in")
	p.sees("this one")
	p.press("button", "End the sign-in from 127.0.0.1")
	p.misses("End the sign-in")
	p.until("one sign-in", `document.querySelectorAll(".ant-table-row").length === 1`)
	phone.reload()
	phone.sees("Your desk")
	p.press("button", "Ilse Brandt")
	p.press("option", "Log")
	p.sees("ended a sign-in in another browser")
	p.chooses("Topic", "Prices and terms")
	p.misses("ended a sign-in")
	p.sees("published a product")
	p.reload()
	p.sees("published a product")
	p.misses("ended a sign-in")
	p.types("Who, from where or about what", "nobody of that name\n")
	p.sees("Nothing fits these filters.")
	p.back()
	p.sees("published a product")
	p.picks("To day", "2020-01-01")
	p.sees("Nothing fits these filters.")
	p.press("button", "Show all")
	p.sees("ended a sign-in")
}

// A session that ended while somebody was away asks them to sign in again, and
// what they had typed is still there.
func TestSigningInAgainKeepsWhatWasTyped(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/money/terms")
	p.types("Few are left from", "7")
	h.ahead.Store(int64(61 * time.Minute))
	p.press("button", "Keep these terms")
	p.sees("Your desk")
	p.misses("Terms of orders")
	p.types("Mail address", demo.Email)
	p.types("Password", demo.Password)
	p.press("button", "Sign in")
	p.sees("Terms of orders")
	p.until("what was typed", `document.querySelector("#few").value === "7"`)
	p.press("button", "Keep these terms")
	p.sees("● kept")
}

// The desk ends the links to an order; whoever has one learns it, and gets in
// again by a new one.
func TestEndingPrivateLinks(t *testing.T) {
	h := open(t)
	link := h.linkOf("Fenna")
	p, desk := h.visitor(390, 844), h.visitor(1280, 800)
	p.goTo(link)
	p.sees("Your order 10")
	desk.signIn()
	desk.goTo("/desk/orders?text=Fenna")
	desk.press("button", "More", ".docket")
	desk.press("option", "End the private links")
	desk.sees("no private link leads to it any more", ".docket")
	p.reload()
	p.sees("This link was ended, or replaced by a newer one.")
	desk.press("button", "More", ".docket")
	desk.press("option", "Send a new link and end the old ones")
	desk.misses("no private link leads to it any more", ".docket")
}

// What is kept in a browser ends after 30 days, or when it is asked to forget;
// what language one reads stays.
func TestABrowserForgets(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	kept := func() string {
		t.Helper()
		keys, err := ask[[]string](p, "Object.keys(localStorage).filter((k) => k.startsWith('ruvo.')).sort()")
		must(t, err)
		return strings.Join(keys, " ")
	}
	age := func(days int) {
		t.Helper()
		_, err := ask[bool](p, strings.ReplaceAll(`(Object.keys(localStorage).forEach((k) => { try { const v = JSON.parse(localStorage.getItem(k)); if (v && v.at) localStorage.setItem(k, JSON.stringify({...v, at: v.at - DAYS * 86400000})) } catch {} }), localStorage.setItem("ruvo.old", "nonsense"), true)`, "DAYS", strconv.Itoa(days)))
		must(t, err)
	}
	inCheckout(p)
	p.press("button", "Deutsch")
	p.press("button", "English")
	age(29)
	p.reload()
	p.sees("Sky chart for your night")
	p.until("the name is kept", `[...document.querySelectorAll("input")].some((e) => e.value === "Ada Quill")`)
	if got := kept(); strings.Contains(got, "ruvo.old") {
		t.Errorf("nonsense is kept: %s", got)
	}
	p.types("Your name", "Ada Q") // what is touched lasts longer
	age(31)
	p.goTo("/")
	p.sees("Sky chart for your night")
	p.misses("Basket 1")
	if got := kept(); got != "ruvo.language" {
		t.Errorf("after 31 days are kept %s", got)
	}
	inCheckout(p)
	p.press("button", "Forget me here")
	p.sees("Your orders stay.")
	p.press("button", "Forget me here", ".ant-popover")
	p.until("the front page", `location.pathname === "/"`)
	p.misses("Basket 1")
	if got := kept(); got != "ruvo.language" {
		t.Errorf("a browser that was asked to forget keeps %s", got)
	}
}

// A link whose time is over gets its customer a new one by mail. Once a mail is
// out its link stands in no database, but where the stand-in delivered it.
func TestAnEndedLinkIsRenewed(t *testing.T) {
	h := open(t)
	link := h.linkOf("Fenna")
	h.ahead.Store(int64(366 * 24 * time.Hour))
	p := h.visitor(390, 844)
	p.goTo(link)
	p.sees("The time of this link is over.")
	p.press("button", "Mail me a new link")
	p.sees("A mail with a new link is on its way")
	h.post()
	must(t, h.store.Read(t.Context(), func(tx *store.Tx) error {
		all, err := tx.LatestMessages(1)
		if len(all) != 1 || !strings.Contains(all[0].Body, "/o/…") {
			t.Errorf("%+v", all)
		}
		return err
	}))
	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/outbox")
	desk.press("button", "A new link to your order")
	desk.until("the link", `document.querySelector("details[open] a")`)
	at, err := ask[string](desk, `document.querySelector("details[open] a").getAttribute("href")`)
	must(t, err)
	p.goTo(strings.TrimPrefix(at, h.url))
	p.sees("Your order 10")
	p.reload()
	p.sees("Your order 10")
}

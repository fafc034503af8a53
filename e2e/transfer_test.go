package e2e

import (
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/chromedp/chromedp"

	"ruvo/internal/core/calendar"
	"ruvo/internal/core/transfer"
	"ruvo/internal/standin/bank"
)

// byTransfer orders the chart by bank transfer.
func byTransfer(p *person) {
	p.t.Helper()
	inCheckout(p)
	p.press("button", "Go on to the payment")
	p.press("tick", "By bank transfer")
	p.press("button", "Order, and transfer €39.00")
	p.sees("Your order 1043 is noted.")
}

// statement writes a statement with transfers of the demo's account to a file.
func (h *house) statement(name string, list ...bank.Transfer) string {
	h.t.Helper()
	raw, err := bank.Statement{Account: "DE52000000000012345678", Transfers: list}.CAMT()
	must(h.t, err)
	path := filepath.Join(h.t.TempDir(), name)
	must(h.t, os.WriteFile(path, raw, 0o600))
	return path
}

// A customer orders by transfer at the phone; at the desk the statement of the
// bank is read, and the order is placed. What is not clear is decided by hand.
func TestATransferIsImported(t *testing.T) {
	h := open(t)
	phone, desk := h.visitor(390, 844), h.visitor(1280, 800)
	byTransfer(phone)
	phone.sees("Please transfer €39.00")
	phone.sees("RF70 1043")
	phone.sees("Scan it with your banking app.")
	phone.sees("waits for your transfer")
	phone.reload()
	phone.sees("Please transfer €39.00")
	link := phone.path()
	phone.goTo("/checkout?step=pay") // the basket is empty, and nothing is ordered twice
	phone.sees("nothing to pay")

	desk.signIn()
	desk.sees("3 orders wait for their transfer")
	desk.press("link", "3 orders wait for their transfer")
	desk.sees("Orla Fenwick")
	day := calendar.DayOf(h.now())
	one := bank.Transfer{Day: day, Amount: 3900, Currency: "EUR", Payer: "Quill, Ada", Reference: transfer.Reference(1043)}
	likely := bank.Transfer{Day: day, Amount: 3600, Currency: "EUR", Payer: "FENWICK ORLA", Text: "my chart"}
	stray := bank.Transfer{Day: day, Amount: 1200, Currency: "EUR", Payer: "Somebody Else", Text: "hello"}
	file := h.statement("november.xml", one, likely, stray)
	must(t, chromedp.Do(desk.ctx, chromedp.SetUploadFiles(`.drop input[type=file]`, []string{file})))
	desk.sees("november.xml")
	desk.sees("€39.00 came in; the order is placed.")
	desk.press("button", "Book on 1041, Orla Fenwick")
	desk.sees("€36.00 came in; the order is placed.")
	desk.press("button", "of order …")
	desk.types("Number of the order", "77")
	desk.press("button", "Book it")
	desk.sees("There is no order with this number.")
	desk.press("button", "of no order")
	desk.sees("set aside")
	desk.press("button", "Take it back")
	desk.sees("of no known order")
	desk.press("button", "booked 2")
	desk.misses("Somebody Else")
	phone.goTo(link)
	phone.sees("We have all we need")
	phone.misses("Please transfer")
	h.audit()
}

// The service of the demo's bank gives statements that somebody made up; one that
// is no statement is refused with a word.
func TestTheSimulatedBank(t *testing.T) {
	h := open(t)
	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/money/transfers")
	desk.press("link", "Make a statement up at the simulated bank")
	desk.sees("Make up transfers")
	desk.press("button", "Save as CSV")
	desk.sees("Make up a transfer first.")
	desk.press("link", "Back to the desk")
	bad := filepath.Join(t.TempDir(), "holiday.jpg")
	must(t, os.WriteFile(bad, []byte("\xff\xd8\xff\xe0\x00\x10JFIF"), 0o600))
	desk.sees("Statements that were read")
	must(t, chromedp.Do(desk.ctx, chromedp.SetUploadFiles(`.drop input[type=file]`, []string{bad})))
	desk.sees("Nothing was read:")
	desk.sees("It is neither a table nor XML")
}

// What does not come in is given free after its days; a customer who pays by card
// instead, or an order that the desk takes up, is placed.
func TestATransferIsWaitedFor(t *testing.T) {
	h := open(t)
	p, desk := h.visitor(1280, 800), h.visitor(390, 844)
	byTransfer(p)
	desk.signIn()
	desk.goTo("/desk/orders?text=1043")
	desk.press("link", "1043")
	desk.sees("waits for its transfer", ".order-open")
	desk.sees("Work begins once the order is placed.")
	p.press("button", "Pay €39.00 by card instead")
	p.card("9900 0000 0000 0101")
	p.sees("not enough money on the card")
	p.sees("Please transfer €39.00")
	p.press("button", "Pay €39.00 by card instead")
	p.card("9900 0000 0000 0002")
	p.sees("Thank you. All of it is paid.")
	p.misses("waits for your transfer")

	byCard := p.path()
	inCheckout(p)
	p.press("button", "Go on to the payment")
	p.press("tick", "By bank transfer")
	p.press("button", "Order, and transfer €39.00")
	p.sees("Scan it with your banking app.")
	p.press("button", "I do not want it any more")
	p.press("button", "Give it up", ".ant-popover")
	p.sees("This order was given free")
	p.misses("Please transfer")
	p.misses("is paid")
	p.goTo(byCard)
	p.misses("given free")

	desk.goTo("/desk/orders?text=1041")
	desk.press("link", "1041")
	desk.press("button", "Take it up before it came in …")
	desk.press("button", "Take it up", ".ant-popover")
	desk.sees("€36.00 of the order open")
	desk.goTo("/desk/orders?text=1042")
	desk.press("link", "1042")
	desk.press("button", "Give it free …")
	desk.press("button", "Give it free", ".ant-popover")
	desk.sees("given free", ".order-open")
	h.ahead.Store(int64(20 * 24 * time.Hour))
	must(t, h.server.Clerk.Round(t.Context()))
	h.audit()
}

package e2e

import (
	"testing"
	"time"

	"ruvo/internal/standin/cards"
)

// The customer closes the payment page and finds it again; then they leave it,
// and pay all the same, with a card that is declined first.
func TestThePaymentPageIsClosedAndFoundAgain(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	inCheckout(p)
	p.press("button", "Go on to the payment")
	p.press("button", "Pay €39.00")
	p.sees("Card number")
	p.goTo("/") // closed
	p.goTo("/checkout?step=pay")
	p.sees("Your payment is not finished")
	p.press("link", "Go on to the payment")
	p.sees("Card number")
	p.press("button", "Go back without paying")
	p.sees("You went back without paying. Nothing was charged.")
	p.reload()
	p.press("button", "Pay €39.00")
	p.sees("Card number")
	p.back() // with the browser's button
	p.sees("Your payment is not finished")
	p.press("button", "Do not pay this way")
	p.sees("Nothing was charged.")
	p.press("button", "Pay €39.00")
	p.card("9900 0000 0000 0101")
	p.sees("not enough money on the card")
	p.press("button", "Pay €39.00")
	p.card("9900 0000 0000 0002")
	p.sees("Your order 1036 is paid.")
}

// At the desk the service is told how to behave, and customers meet it.
func TestTheServiceBehavesAsItIsTold(t *testing.T) {
	h := open(t)
	desk, p := h.visitor(1280, 800), h.visitor(390, 844)
	stranger := h.visitor(390, 844)
	stranger.goTo(cards.Control)
	stranger.sees("Sign in")
	desk.signIn()
	desk.press("button", "Ilse Brandt")
	desk.press("link", "Simulated payments")
	desk.sees("What it was asked for of late")
	desk.until("the choice is made", `(() => { const s = document.querySelector("#declines"); s.value = "expired"; return s.value === "expired" })()`)
	desk.press("button", "Behave like this")
	desk.sees("Kept. The next payment meets it.")
	inCheckout(p)
	pay(p)
	p.sees("The card has expired. Nothing was charged.")
	must(t, h.bank.Behave(t.Context(), cards.Behaviour{Confirms: cards.ConfirmsAlways, Notices: cards.NoticeNever}))
	p.press("button", "Pay €39.00")
	p.card("9900 0000 0000 0002")
	p.press("button", "Yes, pay EUR 39.00")
	p.sees("Your order 1036 is paid.")
	desk.reload()
	desk.sees("refused: expired")
}

// A customer cancels on the order page as far as the rule lets them; beyond it
// they are told to write.
func TestACustomerCancels(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/p/evening-under-the-stars")
	p.press("button", "one more")
	p.press("button", "18:30–21:00 8 left") // on Friday, three days ahead
	p.press("tick", "English")
	p.sees("66.00")
	p.press("button", "Add to basket")
	p.press("button", "Check out")
	p.sees("Up to 2 days before the booking: 50 % come back.")
	p.types("Your name", "Ada Quill")
	p.types("Mail address", "ada@example.org")
	pay(p)
	p.sees("Your order 1036 is paid.")
	p.press("button", "Cancel …")
	p.sees("Up to 2 days before the booking: 50 % of 66.00", ".ant-modal")
	p.sees("€33.00 go back to the card.", ".ant-modal")
	p.press("button", "Yes, cancel it")
	p.sees("This order is cancelled.")
	p.sees("€33.00 was given back.")
	p.reload()
	p.sees("This order is cancelled.")
	h.audit()

	other := h.visitor(1280, 800)
	other.goTo("/p/evening-under-the-stars")
	other.press("button", "one more")
	other.press("button", "18:30–21:00 8 left")
	other.press("tick", "English")
	other.press("button", "Add to basket")
	other.press("button", "Check out")
	other.types("Your name", "Bea Quill")
	other.types("Mail address", "bea@example.org")
	pay(other)
	other.sees("Your order 1037 is paid.")
	h.ahead.Store(int64(2 * 24 * time.Hour)) // the day before
	other.reload()
	other.sees("It can no longer be cancelled here. Write to Fernlight Sky Studio if you have to.")
}

// The desk gives a part back with a reason, notes what came in, and cancels one
// of two lines.
func TestMoneyAtTheDesk(t *testing.T) {
	h := open(t)
	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/orders?text=1030")
	desk.press("button", "It came in …", ".order-open")
	desk.types("How much came in?", "100", ".ant-modal")
	desk.chooses("How", "in cash", ".ant-modal")
	desk.types("Note", "over the counter", ".ant-modal")
	desk.sees("€217.20 stay open.", ".ant-modal")
	desk.press("button", "Note it", ".ant-modal")
	desk.sees("€217.20 of the order open", ".order-open")
	desk.press("button", "Show the ledger")
	desk.sees("in cash · Ilse Brandt · over the counter", ".ledger")
	desk.press("button", "Give money back …", ".order-open")
	desk.types("How much?", "900", ".ant-modal")
	desk.sees("This is more than is still charged of it: 528.66.", ".ant-modal")
	desk.types("How much?", "320", ".ant-modal")
	desk.sees("This is more than was paid and not given back yet: 311.46.", ".ant-modal")
	desk.types("How much?", "10", ".ant-modal")
	desk.sees("€10.00 go back to the card.", ".ant-modal")
	desk.press("button", "Give it back", ".ant-modal")
	desk.sees("Say why; it stands in the ledger.", ".ant-modal")
	desk.types("Why? It stands in the ledger.", "for the wait", ".ant-modal")
	desk.press("button", "Give it back", ".ant-modal")
	desk.sees("for the wait", ".ledger")
	desk.sees("€217.20 of the order open", ".order-open")
	h.audit()
}

// A part that is due before work begins is overdue once work has begun: Today
// and Money say so, and the customer pays it, or all that is open.
func TestAPartIsOverdue(t *testing.T) {
	h := open(t)
	desk, p := h.visitor(1280, 800), h.visitor(390, 844)
	desk.signIn()
	desk.misses("overdue", ".today")
	desk.goTo("/desk/orders?text=1030")
	desk.press("button", "Start Draw the wall")
	desk.sees("due before work begins ▲ overdue", ".order-money")
	desk.goTo("/desk")
	desk.sees("€158.60 of order 1030, due before work begins", ".today")
	desk.goTo("/desk/money")
	desk.sees("before work begins ▲ overdue")
	p.goTo(h.linkOf("Casimir Holt"))
	p.sees("before work begins ▲ overdue")
	p.press("button", "Pay €158.60")
	p.sees("Card number")
	p.back()
	p.sees("€158.60 wait on the page of the payment service.")
	p.press("button", "Do not pay this way")
	p.press("button", "Pay all of it: €317.20")
	p.card("9900 0000 0000 0002")
	p.sees("Thank you. All of it is paid.")
	desk.goTo("/desk")
	desk.misses("overdue", ".today")
	h.audit()
}

// The bench makes as many parts as somebody wants, and says what each comes to.
func TestManyPartsAtTheBench(t *testing.T) {
	h := open(t)
	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/products/3")
	desk.press("button", "Price and payment", ".path")
	desk.chooses("When it is paid", "in parts", ".bench-middle")
	desk.press("button", "Add a part in between", ".bench-middle")
	desk.types("Per cent of part 2", "25", ".bench-middle")
	desk.chooses("When part 2 is paid", "after the order", ".bench-middle")
	desk.chooses("When the rest is paid", "at handover", ".bench-middle")
	desk.types("How many pictures?", "4", ".live")
	desk.sees("Due now", ".live-slip")
	desk.sees("Due by Tue 8 Dec 2026", ".live-slip")
	desk.sees("Due at handover", ".live-slip")
}

// An answer that changes the price after payment: the customer sees the
// difference, agrees, and pays it; a cheaper one stands as paid too much, and the
// desk gives it back. Both slips stay to be seen.
func TestAnAnswerChangesThePrice(t *testing.T) {
	h := open(t)
	desk, p := h.visitor(1280, 800), h.visitor(390, 844)
	desk.signIn()
	desk.goTo("/desk/products/1")
	desk.press("button", "Price and payment", ".path")
	desk.press("tick", "it may change the price", ".bench-middle")
	desk.press("button", "Publish edition 2")
	desk.sees("edition 2 is on sale", ".bench-head")
	inCheckout(p)
	pay(p)
	p.sees("Your order 1036 is paid.")
	p.press("button", "Change Title on the chart")
	p.types("Title on the chart", "The night we met in Lofthus harbour, when it rained", ".answer-edit")
	p.press("button", "Save", ".answer-edit")
	p.sees("This costs €", ".ant-modal")
	p.press("button", "Leave it as it was", ".ant-modal")
	p.press("button", "Save", ".answer-edit")
	p.press("button", "Agree and save", ".ant-modal")
	p.sees("Saved. We see what you changed.")
	p.until("the answer is closed", `document.querySelector(".answer-edit") === null`)
	p.sees("Still to pay: €")
	p.sees("Until Tue 24 Nov, 09:30 it cost €39.00")
	p.press("button", "Pay €")
	p.card("9900 0000 0000 0002")
	p.sees("Thank you. All of it is paid.")
	p.press("button", "Change Title on the chart")
	p.types("Title on the chart", "Lofthus", ".answer-edit")
	p.press("button", "Save", ".answer-edit")
	p.sees("less", ".ant-modal")
	p.press("button", "Agree and save", ".ant-modal")
	p.sees("more than this costs now. Fernlight Sky Studio gives it back.")
	desk.goTo("/desk/orders?text=1036")
	desk.sees("Paid too much", ".order-open")
	desk.press("button", "Give it back …", ".order-open")
	desk.press("button", "Give it back", ".ant-modal")
	desk.until("it is given back", `!ruvo.find("button", "Give it back …")`)
	desk.press("button", "Show the ledger")
	desk.sees("an answer changed the price", ".ledger")
	h.audit()
}

// What is open is transferred: to the account of the business, with a reference
// and a code to scan; the desk notes that it came in. A wrong account is told.
func TestTransferringWhatIsOpen(t *testing.T) {
	h := open(t)
	desk, p := h.visitor(1280, 800), h.visitor(390, 844)
	p.goTo(h.linkOf("Casimir Holt"))
	p.press("button", "Or by bank transfer")
	p.sees("RF33 1030") // RF, the check digits of 1030, and the number
	p.sees("€158.60", ".transfer")
	p.until("there is a code to scan", `document.querySelector(".transfer svg path, .transfer svg rect")`)
	desk.signIn()
	desk.goTo("/desk/money/terms")
	desk.types("Account (IBAN)", "DE00 1234 5678")
	desk.press("button", "Keep these terms")
	desk.sees("has a typing mistake")
	desk.types("Account (IBAN)", "GB82 WEST 1234 5698 7654 32")
	desk.press("button", "Keep these terms")
	desk.sees("kept")
	p.reload()
	p.press("button", "Or by bank transfer")
	p.sees("GB82 WEST 1234 5698 7654 32")
	desk.goTo("/desk/orders?text=1030")
	desk.press("button", "It came in …", ".order-open")
	desk.types("How much came in?", "158.60", ".ant-modal")
	desk.press("button", "Note it", ".ant-modal")
	desk.sees("€158.60 of the order open", ".order-open")
	p.reload()
	p.sees("Still to pay: €158.60")
	h.audit()
}

package e2e

import (
	"strings"
	"testing"
)

// A voucher is bought, its code is typed at checkout as the coupon box takes
// both, it pays all of one order and is looked at; the seller sees it, and
// blocks it when it was lost.
func TestAVoucherThatPays(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.goTo("/p/gift-voucher")
	p.types("Worth", "60")
	p.types("Name on the voucher", "Bea")
	p.press("button", "Add to basket", ".product-slip")
	p.press("button", "Check out")
	p.types("Your name", "Maren Oduya")
	p.types("Mail address", "maren@example.org")
	p.sees("Voucher: taxed when it is used", ".side")
	pay(p)
	p.sees("It pays at checkout, also in parts.")
	code := strings.TrimSpace(p.reads(".docket code"))

	p.goTo("/voucher")
	p.types("Code", "ABCD")
	p.press("button", "Look")
	p.sees("There is no voucher with this code.")
	p.types("Code", code)
	p.press("button", "Look")
	p.sees("€60.00", ".voucher-rest")

	fillChart(p)
	p.press("button", "Add to basket", ".product-slip")
	p.press("button", "I have a coupon or a voucher")
	p.types("Code", code)
	p.press("button", "Use it")
	p.sees("pays €39.00, €21.00 stay on it")
	p.sees("To pay now", ".side")
	p.press("button", "Check out")
	p.sees("−39.00", ".side")
	p.press("button", "Go on to the payment")
	p.sees("Your voucher pays all that is due now, so no card is needed.")
	p.press("button", "Place the order")
	p.sees("is paid.")
	p.sees("pays", ".slip-due")

	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/money/vouchers")
	desk.types("Code, order or buyer", code)
	desk.sees("€21.00")
	desk.press("button", "Expand row")
	desk.sees("paid with it")
	desk.press("button", "Block "+code)
	desk.types("Why", "lost in the post")
	desk.press("button", "Block", ".ant-modal")
	desk.sees("lost in the post")

	p.goTo("/voucher")
	p.types("Code", code)
	p.press("button", "Look")
	p.sees("This voucher was blocked.")
	h.audit()
}

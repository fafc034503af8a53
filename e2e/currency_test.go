package e2e

import (
	"fmt"
	"strings"
	"testing"

	"ruvo/internal/core/money"
	"ruvo/internal/core/words"
)

// What the server writes of an amount is what the interface writes, which leaves it to
// the browser's own library for international text, ICU.
func TestAmountsReadTheSameEverywhere(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.goTo("/")
	for _, l := range []words.Language{words.English, words.German} {
		for _, c := range []money.Currency{"EUR", "CHF", "USD", "GBP", "JPY", "AUD", "CAD", "BHD", "ISK", "INR", "KRW", "NZD", "PLN", "SEK", "XAF"} {
			for _, a := range []money.Amount{0, 5, 5070, -123456789} {
				digits, err := c.Digits()
				must(t, err)
				want, err := ask[string](p, fmt.Sprintf(`new Intl.NumberFormat(%q, {style: "currency", currency: %q, minimumFractionDigits: %d, maximumFractionDigits: %d}).format(%s)`, l, c, digits, digits, a.Plain(c)))
				must(t, err)
				want = strings.ReplaceAll(want, "-", "−")
				if got := l.Money(a, c); got != want {
					t.Errorf("%s writes %d %s as %q, the browser as %q", l, a, c, got, want)
				}
			}
		}
	}
}

// The business changes its currency: no amount is taken for one of the new
// currency, and what still misses one is named.
func TestAnotherCurrency(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/money/terms")
	p.types("Currency", "JPY")
	p.press("option", "JPY")
	p.sees("In EUR they were: Packing of small orders €2.50", ".notice")
	p.press("button", "Keep these terms")
	p.sees("Order charge 1 needs either an amount or per cent.")
	p.types("Amount, order charge 1", "300")
	p.press("button", "Keep these terms")
	p.sees("Not sold until their amounts are given in JPY", ".notice")
	shop := h.visitor(390, 844)
	shop.goTo("/p/photo-rescue")
	shop.sees("This product is not sold here.")

	p.press("link", "Photo rescue", ".notice")
	p.sees("You sell in JPY now", ".bench")
	p.press("button", "Give the amounts in JPY")
	p.types("Photo rescue: price", "4500", ".ant-modal")
	p.press("button", "Take these amounts")
	p.sees("Give this amount in JPY.", ".ant-modal")
	p.types("More pictures: charge", "900", ".ant-modal")
	p.types("Torn, with parts missing: charge", "1500", ".ant-modal")
	p.types("Mend the pictures: price of a further round of changes", "2000", ".ant-modal")
	p.press("button", "Take these amounts")
	p.sees("¥4,500", ".live")
	p.sees("draft is kept", ".bench-head")
	p.press("button", "Publish edition 3")
	p.sees("edition 3 is on sale", ".bench-head")
	shop.reload()
	shop.sees("¥4,500")
	p.goTo("/desk/money/terms")
	p.sees("Not sold until their amounts are given in JPY", ".notice")
	p.misses("Photo rescue", ".notice")
}

// A condition compares an amount with an amount, not with its cents.
func TestConditionOnAnAmount(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products/4")
	p.press("button", "Send the voucher", ".path")
	p.press("button", "Add a condition")
	p.chooses("Which answer", "Worth")
	p.chooses("How it compares", "is at least")
	p.sees("is at least 1.00", ".condition")
	p.types("Compared with", "7.50")
	p.sees("when “Worth” is at least 7.50", ".condition")
	p.sees("draft is kept", ".bench-head")
	p.reload()
	p.press("button", "Send the voucher", ".path")
	p.sees("is at least 7.50", ".condition")
}

// A sheet's amounts are given anew at the sheet.
func TestASheetsOtherCurrency(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products")
	p.press("link", "Before you come")
	p.press("button", "Add a question Choosing")
	p.press("button", "Amount the customer sets")
	p.types("Least", "5")
	p.sees("draft is kept", ".bench-head")
	p.goTo("/desk/money/terms")
	p.types("Currency", "JPY")
	p.press("option", "JPY")
	p.types("Amount, order charge 1", "300")
	p.press("button", "Keep these terms")
	p.press("link", "Before you come", ".notice")
	p.sees("no product with this sheet can be bought", ".bench")
	p.press("button", "Give the amounts in JPY")
	p.types("least", "800", ".ant-modal")
	p.press("button", "Take these amounts")
	p.misses("no product with this sheet can be bought", ".bench")
	p.sees("draft is kept", ".bench-head")
	p.reload()
	p.misses("no product with this sheet can be bought", ".bench")
}

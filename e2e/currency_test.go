package e2e

import "testing"

// The business changes its currency: no amount is taken for one of the new
// currency, and what still misses one is named.
func TestAnotherCurrency(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/money/terms")
	p.types("Currency", "JPY")
	p.press("option", "JPY")
	p.sees("In EUR they were: Packing of small orders EUR 2.50", ".notice")
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
	p.press("button", "Take these amounts")
	p.sees("¥4,500", ".live")
	p.sees("draft is kept", ".bench-head")
	p.press("button", "Publish edition 2")
	p.sees("edition 2 is on sale", ".bench-head")
	shop.reload()
	shop.sees("¥4,500")
	p.goTo("/desk/money/terms")
	p.sees("Not sold until their amounts are given in JPY", ".notice")
	p.misses("Photo rescue", ".notice")
}

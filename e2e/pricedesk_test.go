package e2e

import "testing"

// A charge is built from its boxes, reads as a sentence, and counts at once on
// the slip beside it.
func TestChargeReadsAsASentence(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products")
	p.press("link", "A telescope for some nights")
	p.press("button", "How many people look through it?", ".path")
	p.types("Amount of charge 1", "18.50", ".charges")
	p.types("at most", "92.50", ".charges")
	p.types("one is called", "guest", ".charges")
	p.types("several", "guests", ".charges")
	p.sees("adds 18.50 for each guest after 2, per night, at most 92.50", ".charges")
	p.press("tick", "per night", ".charges")
	p.sees("adds 18.50 for each guest after 2, at most 92.50", ".charges")
	p.sees("draft is kept", ".bench-head")
	p.chooses("What charge 1 counts", "for each unit ordered", ".charges")
	p.sees("adds 18.50 for each unit after 2, at most 92.50", ".charges")
	p.press("button", "Undo")
	p.sees("adds 18.50 for each guest after 2, at most 92.50", ".charges")
	p.sees("draft is kept", ".bench-head")
	p.reload()
	p.press("button", "How many people look through it?", ".path")
	p.sees("adds 18.50 for each guest after 2, at most 92.50", ".charges")
}

// Bands, other prices and a condition are edited below a charge.
func TestBandsAndOtherPricesAtTheBench(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products")
	p.press("link", "A telescope for some nights")
	p.press("button", "Price and payment", ".path")
	p.sees("One costs at least €14.00", ".bench-middle")
	p.press("button", "Insure it against falling over?", ".path")
	p.sees("adds 3.00 for each night; 2.00 for those from 4, 1.00 from 8", ".charges")
	p.press("tick", "each part at its own band", ".charges")
	p.sees("adds 3.00 for each night; all of them at 2.00 from 4, 1.00 from 8", ".charges")
}

// A price in parts: what is due now and later stands on the slip being tried.
func TestPaymentInPartsAtTheBench(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products")
	p.press("link", "Sky chart for your night")
	p.press("button", "Price and payment", ".path")
	p.chooses("When it is paid", "in parts", ".bench-middle")
	p.types("Per cent of the part now", "25", ".bench-middle")
	p.sees("Due now", ".live")
	p.press("button", "Publish edition 2")
	p.sees("edition 2 is on sale", ".bench-head")
	shop := h.visitor(390, 844)
	fillChart(shop)
	shop.sees("Due now", ".product-slip")
}

// Many codes are made at once, used, and switched off again.
func TestCouponsAtTheDesk(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/money/coupons")
	p.press("button", "Make coupons")
	p.types("Code", "new moon")
	p.press("button", "Make it")
	p.sees("capital letters", ".make .question-fault")
	p.types("Code", "FAIR")
	p.chooses("How it is given", "an amount")
	p.types("Takes off", "4.00")
	p.types("Uses in all", "1")
	p.types("So many codes at once", "3")
	p.pressTimes(2, "button", "Make 3 coupons")
	p.until("three codes are made beside the six of the sample business", `[...document.querySelectorAll("code")].filter((c) => c.innerText.startsWith("FAIR-")).length === 9`)
	p.press("button", "Switch off NEW-MOON")
	p.sees("Switch on")
	shop := h.visitor(1280, 800)
	fillChart(shop)
	shop.press("button", "Add to basket", ".product-slip")
	shop.sees("Your basket")
	shop.press("button", "I have a coupon or a voucher")
	shop.types("Code", "NEW-MOON")
	shop.press("button", "Use it")
	shop.sees("There is no coupon or voucher with this code.")
}

// The terms of whole orders reach the shop's slip at once, and wrong ones are
// refused at their place.
func TestTermsOfOrders(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/money/terms")
	p.types("On the slip as, order charge 1", "", ".desk-page")
	p.press("button", "Keep these terms")
	p.sees("Order charge 1 needs words for the slip.", ".desk-page")
	p.types("On the slip as, order charge 1", "Packing")
	p.press("button", "Keep these terms")
	p.sees("kept")
	p.reload()
	p.until("the word is kept", `ruvo.value("field", "On the slip as, order charge 1") === "Packing"`)
}

// Groups are made, filled by hand and by a domain, and taken away.
func TestGroupsAtTheDesk(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.signIn()
	p.goTo("/desk/products/groups")
	p.types("Name of a new group", "The trade")
	p.press("button", "Add Name of a new group")
	p.sees("Sign-up link:")
	p.types("Mail addresses for The trade", "maren@example.org, nowhere")
	p.press("button", "Add them The trade")
	p.sees("“nowhere” is not a mail address")
	p.sees("0 members")
	p.types("Mail addresses for The trade", "maren@example.org")
	p.press("button", "Add them The trade")
	p.sees("maren@example.org")
	shop := h.visitor(390, 844)
	shop.goTo("/join")
	shop.types("Mail address", "maren@example.org")
	shop.press("button", "Send me the link")
	shop.sees("a mail with a link is on its way")
	shop.goTo(h.passOf())
	shop.press("button", "Sign in here")
	shop.sees("You see the prices of “The trade” now.")
}

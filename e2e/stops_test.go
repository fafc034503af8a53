package e2e

import "testing"

// What a customer does is counted as far as they come, with no cookie and nothing else
// that would know them again, and shown along the questions.
func TestWhereCustomersStop(t *testing.T) {
	h := open(t)
	p := h.visitor(390, 844)
	p.goTo("/p/mural")
	p.types("How wide is the wall?", "300")
	p.types("How high?", "200")
	p.sees("€", ".product-bar")
	p.goTo("/") // which sends what is left
	p.sees("Sky chart")
	if cookies, err := ask[string](p, "document.cookie"); err != nil || cookies != "" {
		t.Errorf("there are cookies: %s %v", cookies, err)
	}
	p.goTo("/p/mural")
	p.sees("€", ".product-bar")
	p.goTo("/")
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/products/10/stops")
	d.sees("Where customers stop: Your night on a wall")
	d.sees("opened the page 1", ".stops")
	d.sees("came back to it 1", ".stops")
	d.sees("began to answer 1", ".stops")
	d.sees("estimated", ".stops")
	d.goTo("/desk/products/1/stops")
	d.sees("Title on the chart", ".stops")
	// An edition is compared with the one before, which asked more.
	d.goTo("/desk/products/3/stops")
	d.sees("edition 2, on sale")
	d.misses("What is the story of your pictures?")
	d.chooses("Compared with", "compared with edition 1")
	d.sees("What is the story of your pictures? only in edition 1", ".stops")
	d.until("two editions are drawn", `document.querySelectorAll(".stops-bar.second").length > 5`)
	d.chooses("Edition", "edition 1")
	d.sees("What is the story of your pictures?", ".stops")
}

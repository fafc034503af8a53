package e2e

import (
	"os"
	"testing"

	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
)

func TestLook(t *testing.T) {
	if os.Getenv("LOOK") != "csp" {
		t.Skip()
	}
	h := open(t)
	p := h.visitor(1280, 800)
	_, err := chromedp.Call(p.ctx, page.AddScriptToEvaluateOnNewDocument, page.AddScriptToEvaluateOnNewDocumentParams{Source: `
	window.bad = [];
	new MutationObserver((all) => { for (const m of all) for (const n of m.addedNodes) if (n.nodeName === "STYLE" && !n.nonce) window.bad.push(n.outerHTML.slice(0, 300)) }).observe(document, {childList: true, subtree: true});
	document.addEventListener("securitypolicyviolation", (e) => window.bad.push("VIOLATION " + e.sourceFile + ":" + e.lineNumber + ":" + e.columnNumber + " " + e.sample));
	`})
	must(t, err)
	p.signIn()
	for _, path := range []string{"/desk/products/1", "/desk/money/coupons", "/desk/products/stock"} {
		p.goTo(path)
		p.sees("Orders")
		bad, err := ask[[]string](p, "window.bad")
		t.Log(path, bad, err)
	}
	p.goTo("/desk/products/1")
	p.press("button", "Title on the chart", ".path")
	p.sees("after the first")
	bad, err := ask[[]string](p, "window.bad")
	t.Log(bad, err)
}

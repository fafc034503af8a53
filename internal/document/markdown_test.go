package document

import (
	"strings"
	"testing"
)

// Sellers' Markdown becomes plain prose; nothing in it can act on the page.
func TestHTML(t *testing.T) {
	for in, want := range map[string]string{
		"":                          "",
		"**bold** and *slanted*":    "<p><strong>bold</strong> and <em>slanted</em></p>\n",
		"1. one\n2. two":            "<ol>\n<li>one</li>\n<li>two</li>\n</ol>\n",
		"[us](https://example.org)": `<p><a href="https://example.org" rel="nofollow noreferrer">us</a></p>` + "\n",
	} {
		if got := HTML(in); got != want {
			t.Errorf("%q becomes %q, want %q", in, got, want)
		}
	}
}

// Sources: the usual shapes of script injection, as the OWASP cheat sheet on
// cross-site scripting lists them (from memory).
func TestHTMLIsSafe(t *testing.T) {
	for _, in := range []string{
		`<script>alert(1)</script>`, `<img src=x onerror=alert(1)>`, `[x](javascript:alert(1))`, `[x](data:text/html;base64,PHNjcmlwdD4=)`,
		`<svg onload=alert(1)>`, `<a href="javascript:alert(1)">x</a>`, `<iframe src="https://example.org"></iframe>`, `<style>*{display:none}</style>`,
		`<form action="/api"><input></form>`, "![x](https://example.org/track.png)", `<p style="position:fixed">x</p>`, `<div onclick="x()">y</div>`,
	} {
		out := strings.ToLower(HTML(in))
		for _, bad := range []string{"<script", "<img", "javascript:", "data:", "<svg", "<iframe", "<style", "<form", "<input", "style=", "onclick", "onerror"} {
			if strings.Contains(out, bad) {
				t.Errorf("%s becomes %s", in, out)
			}
		}
	}
}

// What a mail shows of a seller's Markdown reads like a letter. The forms are those of the
// CommonMark specification 0.31 (headings, lists, links, emphasis, code; cited from memory).
func TestText(t *testing.T) {
	for in, want := range map[string]string{
		"## What you buy\n\nTime under the *sky*.\nNothing is **shipped**.\n\n## Paying\nAt once.": "What you buy\n\nTime under the sky.\nNothing is shipped.\n\nPaying\n\nAt once.",
		"You can\n\n- cancel\n- move\n\n3. write\n4. call":                                         "You can\n\n- cancel\n- move\n\n3. write\n4. call",
		"See [the rules](https://example.org/rules) or <https://example.org>.":                     "See the rules (https://example.org/rules) or https://example.org.",
		"    a\n    b\n\n`code` 5 < 6 <b>bold</b>":                                                 "a\nb\n\ncode 5 < 6 bold",
		"": "",
	} {
		if got := Text(in); got != want {
			t.Errorf("%q reads %q, not %q", in, got, want)
		}
	}
}

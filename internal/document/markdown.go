// Package document renders what people read outside the application's own
// screens.
package document

import (
	"bytes"

	"github.com/microcosm-cc/bluemonday"
	"github.com/yuin/goldmark"
)

var (
	markdown = goldmark.New()
	safe     = func() *bluemonday.Policy {
		p := bluemonday.NewPolicy()
		p.AllowStandardURLs()
		p.AllowElements("p", "br", "strong", "em", "ul", "ol", "li", "h2", "h3", "h4", "blockquote", "code", "hr")
		p.AllowAttrs("href").OnElements("a")
		p.RequireNoReferrerOnLinks(true)
		p.RequireNoFollowOnLinks(true)
		return p
	}()
)

// HTML renders a seller's Markdown and leaves out everything that could act
// on the page that shows it.
func HTML(text string) string {
	if text == "" {
		return ""
	}
	var out bytes.Buffer
	if err := markdown.Convert([]byte(text), &out); err != nil {
		return ""
	}
	return safe.Sanitize(out.String())
}

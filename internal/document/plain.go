package document

import (
	"regexp"
	"strconv"
	"strings"

	"github.com/yuin/goldmark/ast"
	"github.com/yuin/goldmark/text"
)

var gap = regexp.MustCompile(`\n{3,}`)

// Text renders a seller's Markdown as it reads without markup, for mails: headings and
// paragraphs apart, lists with dashes or numbers, and links with their address behind.
func Text(source string) string {
	raw := []byte(source)
	var out strings.Builder
	ast.Walk(markdown.Parser().Parse(text.NewReader(raw)), func(n ast.Node, entering bool) (ast.WalkStatus, error) {
		switch n := n.(type) {
		case *ast.Text:
			if entering {
				out.Write(n.Segment.Value(raw))
				if n.SoftLineBreak() || n.HardLineBreak() {
					out.WriteByte('\n')
				}
			}
		case *ast.String:
			if entering {
				out.Write(n.Value)
			}
		case *ast.AutoLink:
			if entering {
				out.Write(n.URL(raw))
			}
		case *ast.Link:
			if !entering {
				out.WriteString(" (" + string(n.Destination) + ")")
			}
		case *ast.CodeBlock, *ast.FencedCodeBlock:
			if entering {
				out.Write(n.Lines().Value(raw))
				out.WriteByte('\n')
			}
		case *ast.ListItem:
			if entering {
				out.WriteString(mark(n))
			}
		case *ast.TextBlock:
			if !entering {
				out.WriteByte('\n')
			}
		case *ast.Heading, *ast.Paragraph, *ast.List:
			if !entering {
				out.WriteString("\n\n")
			}
		}
		return ast.WalkContinue, nil
	})
	return strings.TrimSpace(gap.ReplaceAllString(out.String(), "\n\n"))
}

// mark gives what stands before an item of a list.
func mark(item *ast.ListItem) string {
	list, ok := item.Parent().(*ast.List)
	if !ok || !list.IsOrdered() {
		return "- "
	}
	at := list.Start
	for before := item.PreviousSibling(); before != nil; before = before.PreviousSibling() {
		at++
	}
	return strconv.Itoa(at) + ". "
}

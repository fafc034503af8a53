// Package atonce knows what every buyer of a product gets as soon as it is paid: files,
// links or a text that are the same for all of them, or for those with a choice.
package atonce

import (
	"net/url"
	"slices"
	"strings"
	"time"

	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/core/workplan"
)

// A Gift is given at once. It is no handover: what is made for an order comes later.
type Gift struct {
	Key       string          `json:"key"` // stays the same from edition to edition
	Title     string          `json:"title"`
	Text      string          `json:"text,omitempty"` // with merge fields
	Files     []workplan.File `json:"files,omitempty"`
	Links     []Link          `json:"links,omitempty"`
	Licence   string          `json:"licence,omitempty"` // what may be done with it
	Of        question.Key    `json:"of,omitempty"`      // only with one of these choices
	Codes     []string        `json:"codes,omitempty"`
	Downloads int             `json:"downloads,omitempty"` // of each file; zero for any number
	Days      int             `json:"days,omitempty"`      // for which it can be had; zero for ever
}

// A Link leads to something that is given.
type Link struct {
	Title   string `json:"title"`
	Address string `json:"address"`
}

// The limits of gifts.
const (
	Most          = 20 // of a product
	mostFiles     = 20
	mostLinks     = 20
	mostDownloads = 1000
	mostDays      = 3650
	longestTitle  = 200
	longestText   = 5000
)

// Validate says what is wrong with a gift.
func (g *Gift) Validate() error {
	switch {
	case g.Key == "" || len(g.Key) > 40:
		return words.Tell("atonce.key")
	case strings.TrimSpace(g.Title) == "" || len([]rune(g.Title)) > longestTitle:
		return words.Tell("atonce.title", "most", longestTitle)
	case len([]rune(g.Text)) > longestText || len([]rune(g.Licence)) > longestText:
		return words.Tell("atonce.text", "most", longestText)
	case len(g.Files) > mostFiles || len(g.Links) > mostLinks:
		return words.Tell("atonce.many", "most", mostFiles)
	case g.Text == "" && len(g.Files) == 0 && len(g.Links) == 0:
		return words.Tell("atonce.empty")
	case g.Downloads < 0 || g.Downloads > mostDownloads:
		return words.Tell("atonce.downloads", "most", mostDownloads)
	case g.Days < 0 || g.Days > mostDays:
		return words.Tell("atonce.days", "most", mostDays)
	}
	for _, l := range g.Links {
		if u, err := url.Parse(l.Address); err != nil || u.Scheme != "https" && u.Scheme != "http" || u.Host == "" {
			return words.Tell("atonce.link")
		}
	}
	return nil
}

// For says whether somebody with these answers gets it.
func (g *Gift) For(answers question.Answers) bool {
	if g.Of == "" {
		return true
	}
	v, answered := answers[g.Of]
	return answered && slices.ContainsFunc(g.Codes, func(code string) bool {
		n, _ := question.Times(v, code)
		return n > 0
	})
}

// Until gives when it can no longer be had: at the end of its last day; zero for never.
func (g *Gift) Until(placed time.Time, zone *time.Location) time.Time {
	if g.Days == 0 || placed.IsZero() {
		return time.Time{}
	}
	local := placed.In(zone)
	return time.Date(local.Year(), local.Month(), local.Day()+g.Days+1, 0, 0, 0, 0, zone)
}

// Has says whether a file is one of its.
func (g *Gift) Has(file string) bool {
	return slices.ContainsFunc(g.Files, func(f workplan.File) bool { return f.File == file })
}

// Newer gives the gifts as a later edition has them, where it has others of the same key:
// with other files, links or text.
func Newer(bought, now []Gift) []Gift {
	var list []Gift
	for i := range now {
		at := slices.IndexFunc(bought, func(g Gift) bool { return g.Key == now[i].Key })
		if at >= 0 && differs(&bought[at], &now[i]) {
			list = append(list, now[i])
		}
	}
	return list
}

func differs(a, b *Gift) bool {
	return a.Text != b.Text || !slices.Equal(a.Files, b.Files) || !slices.Equal(a.Links, b.Links)
}

package handover

import (
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"

	"ruvo/internal/core/merge"
)

// A Candidate is an order line that finished files can be for.
type Candidate struct {
	Line     int64
	Number   int64 // of the order
	Customer string
	Parts    []string // what the parts of its open work are called
	Files    []string // the names of those that the customer sent
	Wanted   bool     // it is one of those that are handed over now
}

// By is what a file was known by.
type By string

const (
	ByNumber   By = "number"   // the order's number stands in its name
	ByPattern  By = "pattern"  // its name is made as the pattern says
	ByFile     By = "file"     // it is called like a file that the customer sent
	ByCustomer By = "customer" // the customer's name stands in its name
)

// A Match is the order lines that a file can be for, the likeliest first; several
// where its name does not decide.
type Match struct {
	Lines []int64
	By    By
}

// PatternFields are the merge fields of a pattern that files are named by.
func PatternFields() []string {
	return []string{"order", "customer", "question", "part", "name", "number"}
}

// A Pattern is how finished files are named.
type Pattern struct {
	form   *regexp.Regexp
	fields []string
}

// ParsePattern reads a pattern with merge fields; false where it has fields that are
// no PatternFields, or cannot be read.
func ParsePattern(text string) (*Pattern, bool) {
	template, err := merge.Parse(text)
	if err != nil {
		return nil, false
	}
	p := &Pattern{}
	for _, f := range template.Fields() {
		if !slices.Contains(PatternFields(), f) {
			return nil, false
		}
	}
	text = stem(text)
	form := regexp.QuoteMeta(text)
	for _, f := range PatternFields() {
		form = regexp.MustCompile(`\\\{\\\{\s*`+f+`\s*\\\}\\\}`).ReplaceAllString(form, "\x00"+f+"\x00")
	}
	parts := strings.Split(form, "\x00")
	for i := 1; i < len(parts); i += 2 {
		p.fields = append(p.fields, parts[i])
		if parts[i] == "order" || parts[i] == "number" {
			parts[i] = `(\d+)`
		} else {
			parts[i] = `(.+?)`
		}
	}
	p.form, err = regexp.Compile("(?i)^" + strings.Join(parts, "") + "$")
	return p, err == nil && len(p.fields) > 0
}

// fits says whether a file of this name can be the candidate's.
func (p *Pattern) fits(base string, c *Candidate) bool {
	found := p.form.FindStringSubmatch(base)
	if found == nil {
		return false
	}
	decides := false
	for i, f := range p.fields {
		v, fits := plain(found[i+1]), true
		switch f {
		case "order":
			n, err := strconv.ParseInt(found[i+1], 10, 64)
			fits = err == nil && n == c.Number
		case "customer":
			fits = v == plain(c.Customer)
		case "part":
			fits = slices.ContainsFunc(c.Parts, func(part string) bool { return plain(part) == v })
		case "name":
			fits = slices.ContainsFunc(c.Files, func(file string) bool { return plain(stem(file)) == v })
			if !fits && len(p.fields) > 1 { // a name of the seller's own
				continue
			}
		default:
			continue
		}
		if !fits {
			return false
		}
		decides = true
	}
	return decides
}

// Find finds the order lines that a file is for, by its name. Pattern may be nil.
func Find(name string, pattern *Pattern, all []Candidate) Match {
	base := stem(name)
	numbers, said := Numbers(base), plain(base)
	ways := []struct {
		by   By
		fits func(c *Candidate) bool
	}{
		{ByPattern, func(c *Candidate) bool { return pattern != nil && pattern.fits(base, c) }},
		{ByNumber, func(c *Candidate) bool { return slices.Contains(numbers, c.Number) }},
		{ByFile, func(c *Candidate) bool {
			return slices.ContainsFunc(c.Files, func(f string) bool { return plain(stem(f)) == said && said != "" })
		}},
		{ByCustomer, func(c *Candidate) bool { own := plain(c.Customer); return own != "" && strings.Contains(said, own) }},
	}
	for _, way := range ways {
		var found []*Candidate
		for i := range all {
			if way.fits(&all[i]) {
				found = append(found, &all[i])
			}
		}
		if len(found) > 0 {
			return Match{narrowed(found, said), way.by}
		}
	}
	return Match{}
}

// narrowed gives those of several lines that a name tells apart: by what is handed over
// now, and by a part or a file of theirs.
func narrowed(found []*Candidate, said string) []int64 {
	for _, better := range []func(c *Candidate) bool{
		func(c *Candidate) bool { return c.Wanted },
		func(c *Candidate) bool {
			return slices.ContainsFunc(append(slices.Clone(c.Parts), c.Files...), func(of string) bool { own := plain(stem(of)); return own != "" && strings.Contains(said, own) })
		},
	} {
		some := slices.DeleteFunc(slices.Clone(found), func(c *Candidate) bool { return !better(c) })
		if len(some) > 0 {
			found = some
		}
	}
	lines := make([]int64, len(found))
	for i, c := range found {
		lines[i] = c.Line
	}
	return lines
}

var digits = regexp.MustCompile(`\d+`)

// Numbers gives the numbers in a file's name that can be those of orders.
func Numbers(name string) (all []int64) {
	for _, run := range digits.FindAllString(name, -1) {
		if n, err := strconv.ParseInt(run, 10, 64); err == nil && n > 0 && !slices.Contains(all, n) {
			all = append(all, n)
		}
	}
	return all
}

var labelled = regexp.MustCompile(`/desk/orders/(\d+)/?$`)

// Scanned reads what a scanner read from a label, or what somebody typed in its place:
// an order line, or the number of an order; zero for neither.
func Scanned(text string) (line, number int64) {
	text = strings.TrimSpace(text)
	if at := labelled.FindStringSubmatch(text); at != nil {
		line, _ = strconv.ParseInt(at[1], 10, 64)
		return line, 0
	}
	number, _ = strconv.ParseInt(strings.TrimPrefix(text, "#"), 10, 64)
	return 0, number
}

// stem gives a file's name without its ending.
func stem(name string) string {
	if dot := strings.LastIndexByte(name, '.'); dot > 0 {
		return name[:dot]
	}
	return name
}

// plain gives a text as names are compared: letters and digits alone, without case and
// accents.
func plain(s string) string {
	return strings.Map(func(r rune) rune {
		if !unicode.IsLetter(r) && !unicode.IsDigit(r) {
			return -1
		}
		return unicode.ToLower(r)
	}, norm.NFD.String(s))
}

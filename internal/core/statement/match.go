package statement

import (
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"

	"ruvo/internal/core/money"
	"ruvo/internal/core/transfer"
)

// reference finds what may be a creditor reference of ours in a payer's text,
// with spaces wherever they like.
var reference = regexp.MustCompile(`(?i)\bRF ?(?:\d ?){3,21}`)

// OrderOf gives the number of the order that a transfer names by its reference:
// in the place for it, or in what the payer wrote. Its check digits must be
// right.
func (r *Row) OrderOf() (number int64, ok bool) {
	if number, ok = transfer.OrderOf(r.Reference); ok {
		return number, true
	}
	for _, text := range []string{r.Text, r.Reference, r.Payer} {
		for _, found := range reference.FindAllString(text, 4) {
			// Another number may follow it, and be taken for a part of it.
			for words := strings.Fields(found); len(words) > 0; words = words[:len(words)-1] {
				if number, ok = transfer.OrderOf(strings.Join(words, "")); ok {
					return number, true
				}
			}
		}
	}
	return 0, false
}

// An Open is an order of which money is awaited.
type Open struct {
	Number  int64
	Name    string
	Amounts []money.Amount // what may come in at once: what is due, or all that is open
}

// mostProposed is how many orders are proposed for one transfer.
const mostProposed = 3

// Propose gives the numbers of the orders that a transfer may be of, the likeliest
// first: those of which this amount is awaited, and whose number or whose
// customer's name it tells.
func (r *Row) Propose(open []Open) []int64 {
	type likely struct {
		number int64
		rank   int
	}
	var list []likely
	payer := tokens(r.Payer + " " + r.Text)
	for _, o := range open {
		if !slices.Contains(o.Amounts, r.Amount) {
			continue
		}
		number := slices.Contains(payer, strconv.FormatInt(o.Number, 10))
		named := alike(tokens(o.Name), payer)
		switch {
		case number && named:
			list = append(list, likely{o.Number, 0})
		case number:
			list = append(list, likely{o.Number, 1})
		case named:
			list = append(list, likely{o.Number, 2})
		}
	}
	slices.SortStableFunc(list, func(a, b likely) int { return a.rank - b.rank })
	var numbers []int64
	for _, l := range list[:min(len(list), mostProposed)] {
		numbers = append(numbers, l.number)
	}
	return numbers
}

// alike says whether a name stands among other words: each of its words, or their
// first letters, and at least one of two letters or more.
func alike(name, among []string) bool {
	whole := false
	for _, n := range name {
		found := false
		for _, a := range among {
			if a == n {
				found, whole = true, whole || len(n) > 1
			} else if len(a) == 1 && strings.HasPrefix(n, a) {
				found = true
			}
		}
		if !found {
			return false
		}
	}
	return whole
}

// Fold gives a text small and without marks.
func Fold(s string) string {
	plain, _, err := transform.String(transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC), s)
	if err != nil {
		plain = s
	}
	return strings.TrimSpace(strings.ToLower(plain))
}

// tokens gives the words of a text, so that they can be compared: banks write
// "Mueller" for "Müller", and some leave the marks out.
func tokens(s string) []string {
	s = strings.ReplaceAll(Fold(s), "ß", "ss")
	s = strings.NewReplacer("ae", "a", "oe", "o", "ue", "u").Replace(s)
	return strings.FieldsFunc(s, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
}

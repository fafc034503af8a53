// Package tally says what answers to one question come to: how often each choice was
// taken, which words were written, and where numbers lie.
package tally

import (
	"math"
	"slices"
	"strings"
	"unicode"

	"ruvo/internal/core/earn"
)

// shortest is how many letters a word has at least that is counted: shorter ones mostly
// say nothing.
const shortest = 4

// mostWords is how many words of one text are counted.
const mostWords = 100

// wordsOf gives the words of a text that are counted, each once, in small letters.
func wordsOf(text string) []string {
	var all []string
	for _, w := range strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsNumber(r) }) {
		if len(all) < mostWords && len([]rune(w)) >= shortest && !slices.Contains(all, w) {
			all = append(all, w)
		}
	}
	return all
}

// Numbers tells where numbers lie.
type Numbers struct {
	N                                  int
	Least, Lower, Median, Upper, Great float64
	Bins                               []Bin
}

// A Bin is how many numbers lie from one on and below the next; the last holds its end
// too.
type Bin struct {
	From, To float64
	N        int
}

// Lie tells where numbers lie: their quartiles by definition 7 of Hyndman and Fan (1996),
// and a histogram with as many bins as Sturges' rule says (1926): 1 + log2 n, rounded up.
func Lie(values []float64) Numbers {
	sorted := slices.Sorted(slices.Values(values))
	t := Numbers{N: len(sorted)}
	if t.N == 0 {
		return t
	}
	t.Least, t.Great = sorted[0], sorted[t.N-1]
	t.Lower, t.Median, t.Upper = earn.Quantile(sorted, 0.25), earn.Quantile(sorted, 0.5), earn.Quantile(sorted, 0.75)
	if t.Least == t.Great {
		t.Bins = []Bin{{t.Least, t.Great, t.N}}
		return t
	}
	bins := int(math.Ceil(1 + math.Log2(float64(t.N))))
	wide := (t.Great - t.Least) / float64(bins)
	for i := range bins {
		t.Bins = append(t.Bins, Bin{From: t.Least + float64(i)*wide, To: t.Least + float64(i+1)*wide})
	}
	t.Bins[bins-1].To = t.Great
	for _, v := range sorted {
		t.Bins[min(int((v-t.Least)/wide), bins-1)].N++
	}
	return t
}

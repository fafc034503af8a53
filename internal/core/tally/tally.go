// Package tally counts many answers to one question: how often each choice was taken,
// which words were written, and where numbers lie.
package tally

import (
	"cmp"
	"math"
	"slices"
	"strings"
	"unicode"

	"ruvo/internal/core/earn"
)

// A Count is how often something was said.
type Count struct {
	What string
	N    int
}

// Counts counts what was said, the most frequent first, those alike by their names; at
// most so many.
func Counts(said []string, most int) []Count {
	n := map[string]int{}
	for _, s := range said {
		n[s]++
	}
	list := make([]Count, 0, len(n))
	for what, k := range n {
		list = append(list, Count{what, k})
	}
	slices.SortFunc(list, func(a, b Count) int { return cmp.Or(b.N-a.N, strings.Compare(a.What, b.What)) })
	return list[:min(len(list), most)]
}

// shortest is how many letters a word has at least that is counted: shorter ones mostly
// say nothing.
const shortest = 4

// Words counts the words of texts, each once a text, in small letters.
func Words(texts []string, most int) []Count {
	var all []string
	for _, text := range texts {
		seen := map[string]bool{}
		for _, w := range strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsNumber(r) }) {
			if len([]rune(w)) >= shortest && !seen[w] {
				seen[w], all = true, append(all, w)
			}
		}
	}
	return Counts(all, most)
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

// Of tells where numbers lie: their quartiles by definition 7 of Hyndman and Fan (1996),
// and a histogram with as many bins as Sturges' rule says (1926): 1 + log2 n, rounded up.
func Of(values []float64) Numbers {
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

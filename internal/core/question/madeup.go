package question

import (
	"math/rand/v2"
	"regexp/syntax"
	"strings"
)

// Inventive is a Spec that makes up answers as people might give them, valid mostly, to
// try a product with. A file of an answer that was made up has no name yet.
type Inventive interface {
	MakeUp(r *rand.Rand, env Env) Value
}

// mostTries is how often an answer is made up until one is valid.
const mostTries = 40

// MakeUp makes up a valid answer; none when that cannot be done, such as for a pattern
// that hardly anything matches. The same source gives the same answer. Files, which are
// checked once they are there, are taken for good.
func MakeUp(spec Spec, r *rand.Rand, env Env) (Value, bool) {
	env.Files = nil
	for range mostTries {
		v := madeUp(spec, r, env)
		if v == nil || !v.Answered() {
			continue
		}
		if len(spec.Check(v, env)) == 0 || waitsForFiles(v) {
			return v, true
		}
	}
	return nil, false
}

func madeUp(spec Spec, r *rand.Rand, env Env) Value {
	switch s := spec.(type) {
	case Inventive:
		return s.MakeUp(r, env)
	case Sampled:
		if values, _ := s.Samples(nil); len(values) > 0 {
			return values[r.IntN(len(values))]
		}
	}
	return nil
}

// waitsForFiles says whether an answer that was made up has files that are still to be
// sent, which all have the same name meanwhile.
func waitsForFiles(v Value) bool {
	f, ok := v.(Filed)
	return ok && len(f.Uploads()) > 0
}

var madeUpWords = strings.Fields("bright quiet north river lantern Ada winter seven orchard Milo harbour soft velvet comet granite Ines early signal")

// wordsOf makes up a text of at least and at most so many characters.
func wordsOf(r *rand.Rand, least, most int) string {
	n := least
	if room := min(most, least+60) - least; room > 0 {
		n += r.IntN(room + 1)
	}
	var b strings.Builder
	for b.Len() < max(n, 1) {
		if b.Len() > 0 {
			b.WriteByte(' ')
		}
		b.WriteString(madeUpWords[r.IntN(len(madeUpWords))])
	}
	return strings.TrimSpace(b.String()[:max(n, 1)])
}

// matching makes up a text that a pattern (RE2) matches, as long as it looks at nothing
// around the text.
func matching(r *rand.Rand, pattern string) string {
	parsed, err := syntax.Parse(pattern, syntax.Perl)
	if err != nil {
		return ""
	}
	var b strings.Builder
	var write func(*syntax.Regexp)
	times := func(re *syntax.Regexp, least, most int) {
		if most < 0 {
			most = least + 4
		}
		for range least + r.IntN(most-least+1) {
			write(re.Sub[0])
		}
	}
	write = func(re *syntax.Regexp) {
		switch re.Op {
		case syntax.OpLiteral:
			b.WriteString(string(re.Rune))
		case syntax.OpCharClass:
			if len(re.Rune) == 0 { // matches nothing
				return
			}
			at := 2 * r.IntN(len(re.Rune)/2)
			low, high := re.Rune[at], min(re.Rune[at+1], max(re.Rune[at], 0x24f)) // letters that are easily read
			b.WriteRune(low + rune(r.IntN(int(high-low)+1)))
		case syntax.OpAnyChar, syntax.OpAnyCharNotNL:
			b.WriteByte(byte('a' + r.IntN(26)))
		case syntax.OpCapture:
			write(re.Sub[0])
		case syntax.OpStar:
			times(re, 0, -1)
		case syntax.OpPlus:
			times(re, 1, -1)
		case syntax.OpQuest:
			times(re, 0, 1)
		case syntax.OpRepeat:
			times(re, re.Min, re.Max)
		case syntax.OpConcat:
			for _, s := range re.Sub {
				write(s)
			}
		case syntax.OpAlternate:
			write(re.Sub[r.IntN(len(re.Sub))])
		}
	}
	write(parsed)
	return b.String()
}

package condition

import (
	"github.com/shopspring/decimal"

	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// Names says what the keys in a condition stand for.
type Names struct {
	Class func(question.Key) (question.Class, bool)
	// Entry gives the names within an entry of a list; nil where there is no list.
	Entry func(list question.Key) *Names
}

// entries reads what of a list's entries is compared.
func (t *Test) entries(c *Condition, n Names, depth int, parts *int) error {
	if c.Entries == nil && c.Sum == "" {
		return nil
	}
	var within *Names
	if n.Entry != nil && t.fact == "" && t.class == question.ClassList {
		within = n.Entry(c.Answer)
	}
	if within == nil {
		return &KeyError{t.key, words.Tell("condition.no_list")}
	}
	var err error
	if c.Entries != nil {
		if t.entry, err = compile(c.Entries, *within, depth+1, parts); err != nil {
			return err
		}
	}
	if t.sum = c.Sum; t.sum != "" {
		if class, ok := within.Class(t.sum); !ok || class != question.ClassNumber {
			return &KeyError{t.sum, words.Tell("condition.no_number_to_add")}
		}
	}
	return nil
}

// ofEntries gives how many entries of a list meet the test's condition, or what
// they answer together.
func (t *Test) ofEntries(v question.Value, facts Facts) (question.Terms, bool) {
	list, ok := v.(question.Repeat)
	if !ok {
		return question.Terms{}, false
	}
	sum, n := decimal.Zero, 0
	for _, e := range list.Entries {
		if !t.entry.Holds(e, facts) {
			continue
		}
		n++
		if v, ok := e[t.sum]; ok && v.Answered() {
			sum = sum.Add(v.Terms().Number)
		}
	}
	if t.sum == "" {
		sum = decimal.NewFromInt(int64(n))
	}
	return question.Terms{Number: sum}, n > 0
}

// ReadsEntries says whether the test looks at what entries of a list say.
func (t *Test) ReadsEntries(list question.Key) bool {
	if t == nil {
		return false
	}
	if t.join == leaf && t.key == list && (t.entry != nil || t.sum != "") {
		return true
	}
	for _, p := range t.parts {
		if p.ReadsEntries(list) {
			return true
		}
	}
	return false
}

// EachCode shows the codes of choices that answers are compared with; within is
// the list whose entries they are of, if any.
func (t *Test) EachCode(visit func(within, key question.Key, code string)) { t.eachCode("", visit) }

func (t *Test) eachCode(within question.Key, visit func(within, key question.Key, code string)) {
	if t == nil {
		return
	}
	if t.fact == "" && (t.class == question.ClassOne || t.class == question.ClassSeveral) {
		for _, code := range t.codes {
			visit(within, t.key, code)
		}
	}
	if t.entry != nil {
		t.entry.eachCode(t.key, visit)
	}
	for _, p := range t.parts {
		p.eachCode(within, visit)
	}
}

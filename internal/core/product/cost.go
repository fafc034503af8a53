package product

import (
	"slices"
	"strings"

	"ruvo/internal/core/money"
	"ruvo/internal/core/question"
)

// ArticleOf composes the article code of an order line: the product's own and
// those of the chosen choices, in the questions' order, joined by hyphens.
func (e *Edition) ArticleOf(answers question.Answers) string {
	parts := []string{}
	if e.Article != "" {
		parts = append(parts, e.Article)
	}
	e.chosen(answers, func(ch question.Choice, _ int64, _ bool) {
		if ch.Article != "" {
			parts = append(parts, ch.Article)
		}
	})
	return strings.Join(parts, "-")
}

// CostOf gives what an order line costs the seller: the product's own cost and
// that of the chosen choices, for each unit. Of counted choices there are as
// many as were counted, and what is asked of each unit is there for those units.
func (e *Edition) CostOf(answers question.Answers, quantity int) money.Amount {
	units := int64(max(quantity, 1))
	cost := e.Cost.Times(units)
	e.chosen(answers, func(ch question.Choice, n int64, counted bool) {
		if !counted {
			n = units
		}
		cost += money.Amount(ch.Cost).Times(n)
	})
	return cost
}

// Costed says whether the product tells any cost.
func (e *Edition) Costed() bool {
	if e.Cost > 0 {
		return true
	}
	for i := range e.Items {
		if spec, ok := e.Items[i].Spec.(question.Choosable); ok && slices.ContainsFunc(spec.All(), func(c question.Choice) bool { return c.Cost > 0 }) {
			return true
		}
	}
	return false
}

// chosen calls back for each chosen choice, with how often it was chosen when
// that was counted.
func (e *Edition) chosen(answers question.Answers, each func(ch question.Choice, n int64, counted bool)) {
	for i := range e.Items {
		spec, ok := e.Items[i].Spec.(question.Choosable)
		if !ok {
			continue
		}
		v, ok := answers[e.Items[i].Key]
		if !ok || !v.Answered() {
			continue
		}
		for _, ch := range spec.All() {
			if n, counted := question.Times(v, ch.Code); n > 0 {
				each(ch, n, counted)
			}
		}
	}
}

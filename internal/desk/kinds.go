package desk

import (
	"ruvo/api"
	"ruvo/internal/core/condition"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
)

// Kinds tells what each kind of question can do, so that the editors of the
// bench offer what fits and nothing else.
func (d *Desk) Kinds() api.Kinds {
	v := api.Kinds{Kinds: []api.KindFact{}, Ops: map[string][]string{}, Reserved: product.FactNames(), KeyForm: "^" + question.KeyForm + "$"}
	for _, k := range question.Kinds() {
		f := api.KindFact{Kind: string(k.Name), Compares: api.KindFactCompares(condition.ClassName(k.Class)), Repeats: k.Repeats, Money: question.IsMoney(k.Name)}
		if k.Counts != "" {
			counts := api.KindFactCounts(k.Counts)
			f.Counts = &counts
		}
		v.Kinds = append(v.Kinds, f)
	}
	for class, ops := range condition.OpsByClass() {
		list := make([]string, len(ops))
		for i, o := range ops {
			list[i] = string(o)
		}
		v.Ops[class] = list
	}
	return v
}

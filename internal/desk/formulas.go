package desk

import (
	"errors"
	"strconv"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/formula"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
)

// says gives each charge of a draft as a sentence.
func says(d product.Draft, l words.Language) []string {
	list := make([]string, len(d.Charges))
	for i := range d.Charges {
		list[i] = d.Charges[i].Sentence(d.Currency, l)
	}
	return list
}

// results gives what each formula of a draft comes to for the answers that are
// being tried.
func results(e *product.Edition, r *evaluate.Result, f evaluate.Given) []api.FormulaResult {
	list := []api.FormulaResult{}
	for _, v := range r.Formulas(e, f) {
		view := api.FormulaResult{Part: api.FormulaResultPart(v.Part), Key: strconv.Itoa(v.Number)}
		if why := unresolved(v.Why); why != "" {
			text := f.Language.Fill(why)
			view.Problem = &text
		} else {
			text := f.Language.Number(v.Result.Round(6))
			view.Result = &text
		}
		list = append(list, view)
	}
	return list
}

func unresolved(err error) string {
	switch {
	case errors.Is(err, formula.ErrDivision):
		return "formula.division"
	case errors.Is(err, formula.ErrTable):
		return "formula.table"
	case err != nil:
		return "formula.range"
	}
	return ""
}

// names lists what a formula of a product can read, for the editor to complete.
func names(e *product.Edition, l words.Language) []api.FormulaName {
	list := []api.FormulaName{}
	for i := range e.Items {
		item := &e.Items[i]
		if item.Off || !item.Asked() || item.Moment.Rank() > question.Paying.Rank() || !item.InFormulas() {
			continue
		}
		n := api.FormulaName{Name: string(item.Key), Words: item.Wording}
		if all, ok := item.Spec.(question.Choosable); ok && item.Kind == "one_choice" {
			codes := []string{}
			for _, c := range all.All() {
				codes = append(codes, c.Code)
			}
			n.Codes = &codes
		}
		list = append(list, n)
	}
	for _, v := range e.Values {
		list = append(list, api.FormulaName{Name: v.Name, Words: v.Formula})
	}
	for _, n := range charge.FormulaNames() {
		list = append(list, api.FormulaName{Name: n, Words: l.Fill("name." + n)})
	}
	return list
}

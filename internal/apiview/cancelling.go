package apiview

import (
	"slices"

	"ruvo/api"
	"ruvo/internal/core/charge"
	"ruvo/internal/core/money"
	"ruvo/internal/core/order"
	"ruvo/internal/core/words"
	"ruvo/internal/crediting"
)

// Cancelled shows what becomes of the charge of lines that are cancelled.
func Cancelled(c *crediting.Order, list []charge.Cancelled, l words.Language) []api.CancelledLine {
	views := []api.CancelledLine{}
	for _, x := range list {
		v := part(c, x.Of, x.Left, x.Off, l)
		v.Words = x.Said(c.Row.Currency, l)
		self := x.Of == 0 || order.SelfCancel([]charge.Cancelled{x})
		v.Self = &self
		views = append(views, v)
	}
	return views
}

// Credited shows what a credit takes off each line, once it is taken.
func Credited(c *crediting.Order, credit charge.Credit, l words.Language) []api.CancelledLine {
	views := []api.CancelledLine{}
	for of := range len(c.Lines) + 1 {
		if off := credit.Of(of); off != 0 {
			views = append(views, part(c, of, c.Left(of)+off, off, l))
		}
	}
	return views
}

func part(c *crediting.Order, of int, left, off money.Amount, l words.Language) api.CancelledLine {
	v := api.CancelledLine{Title: l.Say("cancel.whole", nil), Left: int(left), Off: int(off)}
	if of > 0 {
		line := c.Lines[of-1]
		v.Title, v.Line = line.Edition.Title, &line.Row.ID
	}
	return v
}

// A RuleSet are the rules of one product.
type RuleSet struct {
	Title string
	Rules *charge.Cancelling
}

// CancelRules shows rules in words, those that several products share once.
func CancelRules(sets []RuleSet, c money.Currency, l words.Language) []api.CancelRules {
	views := []api.CancelRules{}
	for _, s := range sets {
		said := s.Rules.Said(c, l)
		if said == nil {
			said = []string{}
		}
		i := slices.IndexFunc(views, func(v api.CancelRules) bool { return slices.Equal(v.Rules, said) })
		if i < 0 {
			i = len(views)
			views = append(views, api.CancelRules{Titles: []string{}, Rules: said})
		}
		if !slices.Contains(views[i].Titles, s.Title) {
			views[i].Titles = append(views[i].Titles, s.Title)
		}
	}
	return views
}

package condition

import "ruvo/internal/core/question"

// Whole is what conditions on one order line read of the whole order. The zero Whole is
// that of an order of which nothing else is known.
type Whole struct {
	Products   []string `json:"products,omitempty"`   // by the names in their addresses
	Categories []string `json:"categories,omitempty"` // without doubles, none empty
	Gift       bool     `json:"-"`                    // it is for somebody else
	Business   bool     `json:"-"`                    // a business orders
	Language   string   `json:"-"`                    // a BCP 47 tag
}

// terms gives a fact of the whole order as an answer would be compared.
func (w *Whole) terms(of Fact) (question.Terms, bool) {
	switch of {
	case Products:
		return question.Terms{Codes: w.Products}, len(w.Products) > 0
	case Categories:
		return question.Terms{Codes: w.Categories}, len(w.Categories) > 0
	case IsGift:
		return question.YesNo(w.Gift).Terms(), true
	case IsBusiness:
		return question.YesNo(w.Business).Terms(), true
	}
	return question.Terms{Codes: []string{w.Language}}, w.Language != ""
}

// Alone is an order of one product of a category, empty for none, of which nothing else
// is known but its customer's language.
func Alone(product, category, language string) Whole {
	w := Whole{Products: []string{product}, Language: language}
	if category != "" {
		w.Categories = []string{category}
	}
	return w
}

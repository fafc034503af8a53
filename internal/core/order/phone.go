package order

import (
	"ruvo/internal/core/evaluate"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
)

// Phone gives the number, in E.164, at which the customer of an order line can
// be reached: the first answer to a question for the customer's own number. It
// is empty when there is none; another number can be somebody else's.
func Phone(e *product.Edition, r *evaluate.Result) string {
	for i := range e.Items {
		item := &e.Items[i]
		if item.Kind != "phone" || item.Scope != question.OfCustomer {
			continue
		}
		if number, ok := r.Answers[item.Key].(question.Phone); ok && number.E164 != "" {
			return number.E164
		}
	}
	return ""
}

package docket

import (
	"ruvo/internal/core/product"
	"ruvo/internal/core/words"
	"ruvo/internal/store"
)

// Unsold says why nobody can buy an edition: it cannot be computed as it was
// published, or its amounts are in a currency that the business has left.
func Unsold(b *store.Business, e *product.Edition) []product.Finding {
	found := e.Lacks()
	if f, other := OtherCurrency(b, e); other {
		found = append(found[:len(found):len(found)], f)
	}
	return found
}

// OtherCurrency finds that the amounts of a product are not in the business's
// currency. They are never taken for amounts of it.
func OtherCurrency(b *store.Business, e *product.Edition) (product.Finding, bool) {
	return product.Find(true, product.InProduct, "", words.Tell("finding.currency", "old", e.Currency, "new", b.Currency)),
		e.Currency != b.Currency
}

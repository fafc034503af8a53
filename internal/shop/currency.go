package shop

import (
	"context"

	"ruvo/internal/core/money"
	"ruvo/internal/core/product"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/store"
)

type currencyKey struct{}

// WithCurrency tells which currency a customer wishes to see and to pay.
func WithCurrency(ctx context.Context, c money.Currency) context.Context {
	return context.WithValue(ctx, currencyKey{}, c)
}

// currency gives the one in which a customer is shown prices, and pays: what they
// wish, when the business sells in it, or the business's own.
func currency(ctx context.Context, b *store.Business) money.Currency {
	if c, ok := ctx.Value(currencyKey{}).(money.Currency); ok && b.Sells(c) {
		return c
	}
	return b.Currency
}

// in gives an edition as a customer sees it: in their currency, or in its own
// when it is not sold in that.
func in(ctx context.Context, b *store.Business, e *product.Edition) *product.Edition {
	if priced, ok := e.In(currency(ctx, b)); ok {
		return priced
	}
	return e
}

// otherCurrency finds that a line of a basket is not sold in the currency of the
// order. Nothing is converted, so such a line cannot be ordered.
func otherCurrency(e *product.Edition, c money.Currency) []question.Fault {
	if e.Currency == c {
		return nil
	}
	return []question.Fault{{Key: question.QuantityKey, Code: "not_in_currency", Params: words.Params{"currency": string(c), "own": string(e.Currency)}}}
}

package web

import "context"

func (h *handlers) GetMyBasket(ctx context.Context, _ GetMyBasketRequestObject) (GetMyBasketResponseObject, error) {
	v, err := h.Shop.MyBasket(ctx, speak(ctx))
	return GetMyBasket200JSONResponse(v), err
}

func (h *handlers) MergeMyBasket(ctx context.Context, r MergeMyBasketRequestObject) (MergeMyBasketResponseObject, error) {
	v, err := h.Shop.MergeBasket(ctx, *r.Body, speak(ctx))
	return MergeMyBasket200JSONResponse(v), err
}

func (h *handlers) KeepBasket(ctx context.Context, r KeepBasketRequestObject) (KeepBasketResponseObject, error) {
	return KeepBasket204Response{}, h.Shop.KeepBasket(ctx, r.Body.Email, r.Body.Entries, speak(ctx))
}

func (h *handlers) GetKeptBasket(ctx context.Context, r GetKeptBasketRequestObject) (GetKeptBasketResponseObject, error) {
	v, err := h.Shop.KeptBasket(ctx, r.Secret, speak(ctx))
	return GetKeptBasket200JSONResponse(v), err
}

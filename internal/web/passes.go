package web

import (
	"context"

	"ruvo/api"
	"ruvo/internal/shop"
)

func (h *handlers) GetPass(ctx context.Context, _ GetPassRequestObject) (GetPassResponseObject, error) {
	v, err := h.Shop.Pass(ctx)
	return GetPass200JSONResponse(v), err
}

func (h *handlers) AskPass(ctx context.Context, r AskPassRequestObject) (AskPassResponseObject, error) {
	return AskPass204Response{}, h.Shop.AskPass(ctx, *r.Body, speak(ctx))
}

func (h *handlers) DropPass(ctx context.Context, _ DropPassRequestObject) (DropPassResponseObject, error) {
	jar := cookies(ctx)
	err := h.Shop.DropPass(ctx, jar.get(passCookie))
	jar.drop(passCookie)
	return DropPass200JSONResponse(api.Pass{}), err
}

func (h *handlers) OpenPass(ctx context.Context, r OpenPassRequestObject) (OpenPassResponseObject, error) {
	invite := ""
	if r.Body.Invite != nil {
		invite = *r.Body.Invite
	}
	jar := cookies(ctx)
	email, secret, err := h.Shop.OpenPass(ctx, r.Body.Token, invite, jar.get(passCookie), speak(ctx))
	if err != nil {
		return nil, err
	}
	jar.set(passCookie, secret, shop.PassTime)
	v, err := h.Shop.Pass(shop.WithCustomer(ctx, email))
	return OpenPass200JSONResponse(v), err
}

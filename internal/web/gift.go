package web

import (
	"context"

	"ruvo/internal/apiview"
)

func (h *handlers) GetGift(ctx context.Context, r GetGiftRequestObject) (GetGiftResponseObject, error) {
	v, err := h.Shop.Gift(ctx, r.Link, speak(ctx))
	return GetGift200JSONResponse(v), err
}

func (h *handlers) SaveGiftBrief(ctx context.Context, r SaveGiftBriefRequestObject) (SaveGiftBriefResponseObject, error) {
	v, err := h.Shop.SaveGiftBrief(ctx, r.Link, r.Line, *r.Body, speak(ctx))
	return SaveGiftBrief200JSONResponse(v), err
}

func (h *handlers) GetGiftFile(ctx context.Context, r GetGiftFileRequestObject) (GetGiftFileResponseObject, error) {
	f, err := h.Shop.GiftFile(ctx, r.Link, r.File, string(apiview.Given(r.Params.As)), speak(ctx))
	if err != nil {
		return nil, err
	}
	return served{f, apiview.Given(r.Params.Range)}, nil
}

func (h *handlers) SetRecipient(ctx context.Context, r SetRecipientRequestObject) (SetRecipientResponseObject, error) {
	v, err := h.Shop.SetRecipient(ctx, r.Link, *r.Body, speak(ctx))
	return SetRecipient200JSONResponse(v), err
}

func (h *handlers) LinkRecipient(ctx context.Context, r LinkRecipientRequestObject) (LinkRecipientResponseObject, error) {
	v, err := h.Shop.LinkRecipient(ctx, r.Link, r.Body.Mail, speak(ctx))
	return LinkRecipient200JSONResponse(v), err
}

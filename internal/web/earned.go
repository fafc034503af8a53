package web

import (
	"context"

	"ruvo/internal/apiview"
	"ruvo/internal/desk"
)

func (h *handlers) GetEarnings(ctx context.Context, r GetEarningsRequestObject) (GetEarningsResponseObject, error) {
	p := r.Params
	v, err := h.Desk.Earned(ctx, desk.EarnedQuery{
		By: string(p.By), From: apiview.Given(p.From), To: apiview.Given(p.To), Currency: apiview.Given(p.Currency), Key: apiview.Given(p.Key),
	}, speak(ctx))
	return GetEarnings200JSONResponse(v), err
}

func (h *handlers) ListLearned(ctx context.Context, _ ListLearnedRequestObject) (ListLearnedResponseObject, error) {
	v, err := h.Desk.Learned(ctx, speak(ctx))
	return ListLearned200JSONResponse(v), err
}

func (h *handlers) GetLearned(ctx context.Context, r GetLearnedRequestObject) (GetLearnedResponseObject, error) {
	v, err := h.Desk.LearnedStep(ctx, r.Product, r.Step, speak(ctx))
	return GetLearned200JSONResponse(v), err
}

func (h *handlers) TakeMinutes(ctx context.Context, r TakeMinutesRequestObject) (TakeMinutesResponseObject, error) {
	v, err := h.Desk.TakeMinutes(ctx, r.Product, r.Step, r.Body.Version, speak(ctx))
	return TakeMinutes200JSONResponse(v), err
}

func (h *handlers) AskWhatIf(ctx context.Context, r AskWhatIfRequestObject) (AskWhatIfResponseObject, error) {
	v, err := h.Desk.WhatIf(ctx, *r.Body, speak(ctx))
	return AskWhatIf200JSONResponse(v), err
}

func (h *handlers) TakeWhatIf(ctx context.Context, r TakeWhatIfRequestObject) (TakeWhatIfResponseObject, error) {
	v, err := h.Desk.TakeWhatIf(ctx, *r.Body, speak(ctx))
	return TakeWhatIf200JSONResponse(v), err
}

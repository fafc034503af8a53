package web

import (
	"context"

	"ruvo/internal/apiview"
	"ruvo/internal/desk"
)

func (h *handlers) MoveMoney(ctx context.Context, r MoveMoneyRequestObject) (MoveMoneyResponseObject, error) {
	v, err := h.Desk.MoveMoney(ctx, r.Number, string(r.Action), *r.Body, desk.Author(ctx), speak(ctx))
	return MoveMoney200JSONResponse(v), err
}

func (h *handlers) PreviewMove(ctx context.Context, r PreviewMoveRequestObject) (PreviewMoveResponseObject, error) {
	v, err := h.Desk.PreviewMove(ctx, r.Number, string(r.Action), *r.Body, speak(ctx))
	return PreviewMove200JSONResponse(v), err
}

func (h *handlers) CancelOrder(ctx context.Context, r CancelOrderRequestObject) (CancelOrderResponseObject, error) {
	v, err := h.Shop.Cancel(ctx, r.Link, *r.Body, speak(ctx))
	return CancelOrder200JSONResponse(v), err
}

func (h *handlers) PreviewAnswers(ctx context.Context, r PreviewAnswersRequestObject) (PreviewAnswersResponseObject, error) {
	v, err := h.Shop.PreviewChange(ctx, r.Link, r.Line, *r.Body, speak(ctx))
	return PreviewAnswers200JSONResponse(v), err
}

func (h *handlers) PreviewCancel(ctx context.Context, r PreviewCancelRequestObject) (PreviewCancelResponseObject, error) {
	v, err := h.Shop.PreviewCancel(ctx, r.Link, *r.Body, speak(ctx))
	return PreviewCancel200JSONResponse(v), err
}

func (h *handlers) PayRest(ctx context.Context, r PayRestRequestObject) (PayRestResponseObject, error) {
	v, err := h.Shop.PayRest(ctx, r.Link, *r.Body, speak(ctx))
	return PayRest200JSONResponse(v), err
}

func (h *handlers) LeaveRest(ctx context.Context, r LeaveRestRequestObject) (LeaveRestResponseObject, error) {
	v, err := h.Shop.LeaveRest(ctx, r.Link, speak(ctx))
	return LeaveRest200JSONResponse(v), err
}

func (h *handlers) GetMoney(ctx context.Context, r GetMoneyRequestObject) (GetMoneyResponseObject, error) {
	p := r.Params
	v, err := h.Desk.Money(ctx, desk.MoneyQuery{By: apiview.Given(p.By), From: apiview.Given(p.From), To: apiview.Given(p.To), After: apiview.Given(p.After), Currency: apiview.Given(p.Currency)}, speak(ctx))
	return GetMoney200JSONResponse(v), err
}

func (h *handlers) ListEntries(ctx context.Context, r ListEntriesRequestObject) (ListEntriesResponseObject, error) {
	p := r.Params
	v, err := h.Desk.Entries(ctx, desk.EntryQuery{
		From: apiview.Given(p.From), To: apiview.Given(p.To), Kind: apiview.Given(p.Kind), Way: apiview.Given(p.Way), Figure: apiview.Given(p.Figure), Percent: apiview.Given(p.Percent), Before: apiview.Given(p.Before),
		Currency: apiview.Given(p.Currency),
	}, speak(ctx))
	return ListEntries200JSONResponse(v), err
}

func (h *handlers) ExportEntries(ctx context.Context, r ExportEntriesRequestObject) (ExportEntriesResponseObject, error) {
	p := r.Params
	d, err := h.Desk.ExportEntries(ctx, desk.EntryQuery{From: apiview.Given(p.From), To: apiview.Given(p.To), Kind: apiview.Given(p.Kind), Way: apiview.Given(p.Way)}, speak(ctx))
	if err != nil {
		return nil, err
	}
	return ExportEntries200TextcsvResponse{Body: d.Body, ContentLength: d.Size, Headers: ExportEntries200ResponseHeaders{ContentDisposition: attachment(d)}}, nil
}

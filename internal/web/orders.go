package web

import (
	"context"

	"ruvo/internal/apiview"
)

func (h *handlers) SeeOrder(ctx context.Context, r SeeOrderRequestObject) (SeeOrderResponseObject, error) {
	return SeeOrder204Response{}, h.Desk.SeeOrder(ctx, r.Line, speak(ctx))
}

func (h *handlers) GetAnswerTable(ctx context.Context, r GetAnswerTableRequestObject) (GetAnswerTableResponseObject, error) {
	v, err := h.Desk.AnswerTable(ctx, r.Id, apiview.Given(r.Params.Page), speak(ctx))
	return GetAnswerTable200JSONResponse(v), err
}

func (h *handlers) GetSheetAnswers(ctx context.Context, r GetSheetAnswersRequestObject) (GetSheetAnswersResponseObject, error) {
	v, err := h.Desk.SheetAnswers(ctx, r.Id, apiview.Given(r.Params.Page), speak(ctx))
	return GetSheetAnswers200JSONResponse(v), err
}

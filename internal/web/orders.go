package web

import (
	"context"
	"strings"

	"ruvo/api"
	"ruvo/internal/apiview"
	"ruvo/internal/desk"
)

func (h *handlers) SeeOrder(ctx context.Context, r SeeOrderRequestObject) (SeeOrderResponseObject, error) {
	return SeeOrder204Response{}, h.Desk.SeeOrder(ctx, r.Line, speak(ctx))
}

func (h *handlers) GetAnswerTable(ctx context.Context, r GetAnswerTableRequestObject) (GetAnswerTableResponseObject, error) {
	v, err := h.Desk.AnswerTable(ctx, r.Id, answerQuery(api.GetSheetAnswersParams(r.Params)), speak(ctx))
	return GetAnswerTable200JSONResponse(v), err
}

func (h *handlers) GetSheetAnswers(ctx context.Context, r GetSheetAnswersRequestObject) (GetSheetAnswersResponseObject, error) {
	v, err := h.Desk.SheetAnswers(ctx, r.Id, answerQuery(r.Params), speak(ctx))
	return GetSheetAnswers200JSONResponse(v), err
}

func answerQuery(p api.GetSheetAnswersParams) desk.AnswerQuery {
	return desk.AnswerQuery{
		Page: apiview.Given(p.Page), Text: strings.TrimSpace(apiview.Given(p.Text)), Question: apiview.Given(p.Question), What: apiview.Given(p.What),
		Sort: string(apiview.Given(p.Sort)), By: apiview.Given(p.By), Turned: apiview.Given(p.Turned),
	}
}

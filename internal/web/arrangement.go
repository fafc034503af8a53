package web

import "context"

func (h *handlers) GetArrangement(ctx context.Context, _ GetArrangementRequestObject) (GetArrangementResponseObject, error) {
	v, err := h.Desk.Arrangement(ctx)
	return GetArrangement200JSONResponse(v), err
}

func (h *handlers) PutArrangement(ctx context.Context, r PutArrangementRequestObject) (PutArrangementResponseObject, error) {
	v, err := h.Desk.Arrange(ctx, *r.Body, speak(ctx))
	return PutArrangement200JSONResponse(v), err
}

func (h *handlers) GetCheckoutQuestions(ctx context.Context, _ GetCheckoutQuestionsRequestObject) (GetCheckoutQuestionsResponseObject, error) {
	v, err := h.Desk.CheckoutQuestions(ctx)
	return GetCheckoutQuestions200JSONResponse(v), err
}

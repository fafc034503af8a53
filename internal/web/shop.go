package web

import "context"

// handlers answer the operations of the contract.
type handlers struct{ *Server }

func (h *handlers) GetHealth(ctx context.Context, _ GetHealthRequestObject) (GetHealthResponseObject, error) {
	_, err := h.Shop.Front(ctx)
	return GetHealth200JSONResponse{Status: "ok"}, err
}

func (h *handlers) GetShop(ctx context.Context, _ GetShopRequestObject) (GetShopResponseObject, error) {
	v, err := h.Shop.Front(ctx)
	return GetShop200JSONResponse(v), err
}

func (h *handlers) GetShopProduct(ctx context.Context, r GetShopProductRequestObject) (GetShopProductResponseObject, error) {
	v, err := h.Shop.Product(ctx, r.Slug, speak(ctx))
	return GetShopProduct200JSONResponse(v), err
}

func (h *handlers) EvaluateProduct(ctx context.Context, r EvaluateProductRequestObject) (EvaluateProductResponseObject, error) {
	v, err := h.Shop.Evaluate(ctx, r.Slug, *r.Body, speak(ctx))
	return EvaluateProduct200JSONResponse(v), err
}

func (h *handlers) GetOpenings(ctx context.Context, r GetOpeningsRequestObject) (GetOpeningsResponseObject, error) {
	v, err := h.Shop.Openings(ctx, r.Slug, speak(ctx))
	return GetOpenings200JSONResponse(v), err
}

func (h *handlers) Wait(ctx context.Context, r WaitRequestObject) (WaitResponseObject, error) {
	v, err := h.Shop.Wait(ctx, r.Slug, *r.Body, speak(ctx))
	return Wait200JSONResponse(v), err
}

func (h *handlers) GetTurn(ctx context.Context, r GetTurnRequestObject) (GetTurnResponseObject, error) {
	v, err := h.Shop.Turn(ctx, r.Secret, speak(ctx))
	return GetTurn200JSONResponse(v), err
}

func (h *handlers) LeaveTurn(ctx context.Context, r LeaveTurnRequestObject) (LeaveTurnResponseObject, error) {
	return LeaveTurn204Response{}, h.Shop.LeaveTurn(ctx, r.Secret, speak(ctx))
}

func (h *handlers) AskDays(ctx context.Context, r AskDaysRequestObject) (AskDaysResponseObject, error) {
	v, err := h.Shop.Days(ctx, r.Slug, *r.Body, speak(ctx))
	return AskDays200JSONResponse(v), err
}

func (h *handlers) EvaluateBasket(ctx context.Context, r EvaluateBasketRequestObject) (EvaluateBasketResponseObject, error) {
	v, err := h.Shop.Basket(ctx, *r.Body, speak(ctx))
	return EvaluateBasket200JSONResponse(v), err
}

func (h *handlers) PutCheckout(ctx context.Context, r PutCheckoutRequestObject) (PutCheckoutResponseObject, error) {
	v, err := h.Shop.PutCheckout(ctx, r.Checkout, *r.Body, speak(ctx))
	return PutCheckout200JSONResponse(v), err
}

func (h *handlers) GetCheckout(ctx context.Context, r GetCheckoutRequestObject) (GetCheckoutResponseObject, error) {
	v, err := h.Shop.Checkout(ctx, r.Checkout, speak(ctx))
	return GetCheckout200JSONResponse(v), err
}

func (h *handlers) PayCheckout(ctx context.Context, r PayCheckoutRequestObject) (PayCheckoutResponseObject, error) {
	v, err := h.Shop.Pay(ctx, r.Checkout, *r.Body, speak(ctx))
	return PayCheckout200JSONResponse(v), err
}

func (h *handlers) LeaveCheckout(ctx context.Context, r LeaveCheckoutRequestObject) (LeaveCheckoutResponseObject, error) {
	v, err := h.Shop.Leave(ctx, r.Checkout, speak(ctx))
	return LeaveCheckout200JSONResponse(v), err
}

func (h *handlers) GetOrderPage(ctx context.Context, r GetOrderPageRequestObject) (GetOrderPageResponseObject, error) {
	v, err := h.Shop.OrderPage(ctx, r.Link, speak(ctx))
	return GetOrderPage200JSONResponse(v), err
}

func (h *handlers) PatchAnswers(ctx context.Context, r PatchAnswersRequestObject) (PatchAnswersResponseObject, error) {
	v, err := h.Shop.ChangeAnswers(ctx, r.Link, r.Line, *r.Body, speak(ctx))
	return PatchAnswers200JSONResponse(v), err
}

func (h *handlers) SaveBrief(ctx context.Context, r SaveBriefRequestObject) (SaveBriefResponseObject, error) {
	v, err := h.Shop.SaveBrief(ctx, r.Link, r.Line, *r.Body, speak(ctx))
	return SaveBrief200JSONResponse(v), err
}

func (h *handlers) AskAmendment(ctx context.Context, r AskAmendmentRequestObject) (AskAmendmentResponseObject, error) {
	v, err := h.Shop.AskAmendment(ctx, r.Link, r.Line, *r.Body, speak(ctx))
	return AskAmendment200JSONResponse(v), err
}

func (h *handlers) WithdrawAmendment(ctx context.Context, r WithdrawAmendmentRequestObject) (WithdrawAmendmentResponseObject, error) {
	v, err := h.Shop.WithdrawAmendment(ctx, r.Link, r.Amendment, speak(ctx))
	return WithdrawAmendment200JSONResponse(v), err
}

func (h *handlers) RelinkOrder(ctx context.Context, r RelinkOrderRequestObject) (RelinkOrderResponseObject, error) {
	return RelinkOrder204Response{}, h.Shop.Relink(ctx, r.Link, speak(ctx))
}

func (h *handlers) RenewLink(ctx context.Context, r RenewLinkRequestObject) (RenewLinkResponseObject, error) {
	return RenewLink204Response{}, h.Shop.RenewLink(ctx, r.Link, speak(ctx))
}

func (h *handlers) AskLineDays(ctx context.Context, r AskLineDaysRequestObject) (AskLineDaysResponseObject, error) {
	v, err := h.Shop.LineDays(ctx, r.Link, r.Line, *r.Body, speak(ctx))
	return AskLineDays200JSONResponse(v), err
}

package web

import "context"

func (h *handlers) GetTerms(ctx context.Context, _ GetTermsRequestObject) (GetTermsResponseObject, error) {
	v, err := h.Desk.Terms(ctx)
	return GetTerms200JSONResponse(v), err
}

func (h *handlers) PutTerms(ctx context.Context, r PutTermsRequestObject) (PutTermsResponseObject, error) {
	v, err := h.Desk.PutTerms(ctx, *r.Body, speak(ctx))
	return PutTerms200JSONResponse(v), err
}

func (h *handlers) GetCoupons(ctx context.Context, _ GetCouponsRequestObject) (GetCouponsResponseObject, error) {
	v, err := h.Desk.Coupons(ctx, speak(ctx))
	return GetCoupons200JSONResponse(v), err
}

func (h *handlers) AddCoupons(ctx context.Context, r AddCouponsRequestObject) (AddCouponsResponseObject, error) {
	v, err := h.Desk.AddCoupons(ctx, *r.Body, speak(ctx))
	return AddCoupons200JSONResponse(v), err
}

func (h *handlers) SwitchCoupon(ctx context.Context, r SwitchCouponRequestObject) (SwitchCouponResponseObject, error) {
	v, err := h.Desk.SwitchCoupon(ctx, r.Id, r.Action == "off", speak(ctx))
	return SwitchCoupon200JSONResponse(v), err
}

func (h *handlers) SettleOrder(ctx context.Context, r SettleOrderRequestObject) (SettleOrderResponseObject, error) {
	author, err := h.author(ctx)
	if err != nil {
		return nil, err
	}
	v, err := h.Desk.Settle(ctx, r.Number, string(r.Action), *r.Body, author, speak(ctx))
	return SettleOrder200JSONResponse(v), err
}

func (h *handlers) PayRest(ctx context.Context, r PayRestRequestObject) (PayRestResponseObject, error) {
	v, err := h.Shop.PayRest(ctx, r.Link, *r.Body, speak(ctx))
	return PayRest200JSONResponse(v), err
}

func (h *handlers) ConfirmRest(ctx context.Context, r ConfirmRestRequestObject) (ConfirmRestResponseObject, error) {
	v, err := h.Shop.ConfirmRest(ctx, r.Link, r.Body.Approve, speak(ctx))
	return ConfirmRest200JSONResponse(v), err
}

func (h *handlers) ReplayDraft(ctx context.Context, r ReplayDraftRequestObject) (ReplayDraftResponseObject, error) {
	v, err := h.Desk.Replay(ctx, r.Id, *r.Body, speak(ctx))
	return ReplayDraft200JSONResponse(v), err
}

func (h *handlers) GetMoney(ctx context.Context, _ GetMoneyRequestObject) (GetMoneyResponseObject, error) {
	v, err := h.Desk.Money(ctx, speak(ctx))
	return GetMoney200JSONResponse(v), err
}

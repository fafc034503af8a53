package web

import "context"

func (h *handlers) GetTerms(ctx context.Context, _ GetTermsRequestObject) (GetTermsResponseObject, error) {
	v, err := h.Desk.Terms(ctx, speak(ctx))
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

package web

import (
	"context"

	"ruvo/internal/apiview"
)

func (h *handlers) LookAtVoucher(ctx context.Context, r LookAtVoucherRequestObject) (LookAtVoucherResponseObject, error) {
	v, err := h.Shop.Voucher(ctx, r.Body.Code, speak(ctx))
	return LookAtVoucher200JSONResponse(v), err
}

func (h *handlers) PayRestByVoucher(ctx context.Context, r PayRestByVoucherRequestObject) (PayRestByVoucherResponseObject, error) {
	v, err := h.Shop.PayRestByVoucher(ctx, r.Link, r.Body.Code, speak(ctx))
	return PayRestByVoucher200JSONResponse(v), err
}

func (h *handlers) GetVouchers(ctx context.Context, r GetVouchersRequestObject) (GetVouchersResponseObject, error) {
	v, err := h.Desk.Vouchers(ctx, apiview.Given(r.Params.Text), apiview.Given(r.Params.Left), apiview.Given(r.Params.Before))
	return GetVouchers200JSONResponse(v), err
}

func (h *handlers) GetVoucher(ctx context.Context, r GetVoucherRequestObject) (GetVoucherResponseObject, error) {
	v, err := h.Desk.Voucher(ctx, r.Id, speak(ctx))
	return GetVoucher200JSONResponse(v), err
}

func (h *handlers) BlockVoucher(ctx context.Context, r BlockVoucherRequestObject) (BlockVoucherResponseObject, error) {
	v, err := h.Desk.BlockVoucher(ctx, r.Id, *r.Body, speak(ctx))
	return BlockVoucher200JSONResponse(v), err
}

package web

import (
	"context"

	"ruvo/internal/apiview"
)

func (h *handlers) ListCustomers(ctx context.Context, r ListCustomersRequestObject) (ListCustomersResponseObject, error) {
	v, err := h.Desk.Customers(ctx, apiview.Given(r.Params.Text), string(apiview.Given(r.Params.Sort)), apiview.Given(r.Params.News), apiview.Given(r.Params.Page))
	return ListCustomers200JSONResponse(v), err
}

func (h *handlers) GetCustomer(ctx context.Context, r GetCustomerRequestObject) (GetCustomerResponseObject, error) {
	v, err := h.Desk.Customer(ctx, r.Params.Email, speak(ctx))
	return GetCustomer200JSONResponse(v), err
}

func (h *handlers) NoteCustomer(ctx context.Context, r NoteCustomerRequestObject) (NoteCustomerResponseObject, error) {
	v, err := h.Desk.NoteCustomer(ctx, *r.Body, speak(ctx))
	return NoteCustomer200JSONResponse(v), err
}

func (h *handlers) MergeCustomers(ctx context.Context, r MergeCustomersRequestObject) (MergeCustomersResponseObject, error) {
	v, err := h.Desk.MergeCustomers(ctx, *r.Body, speak(ctx))
	return MergeCustomers200JSONResponse(v), err
}

func (h *handlers) ImportCustomers(ctx context.Context, r ImportCustomersRequestObject) (ImportCustomersResponseObject, error) {
	v, err := h.Desk.ImportCustomers(ctx, r.Body.Table, speak(ctx))
	return ImportCustomers200JSONResponse(v), err
}

func (h *handlers) ExportCustomers(ctx context.Context, _ ExportCustomersRequestObject) (ExportCustomersResponseObject, error) {
	f, err := h.Desk.ExportCustomers(ctx)
	return ExportCustomers200TextcsvResponse{Body: f.Body, Headers: ExportCustomers200ResponseHeaders{ContentDisposition: attachment(f)}}, err
}

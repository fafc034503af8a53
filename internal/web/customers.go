package web

import (
	"context"

	"ruvo/internal/apiview"
)

func (h *handlers) ListCustomers(ctx context.Context, r ListCustomersRequestObject) (ListCustomersResponseObject, error) {
	v, err := h.Desk.Customers(ctx, apiview.Given(r.Params.Text), string(apiview.Given(r.Params.Sort)), apiview.Given(r.Params.Page))
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

func (h *handlers) ListFilters(ctx context.Context, _ ListFiltersRequestObject) (ListFiltersResponseObject, error) {
	v, err := h.Desk.SavedFilters(ctx)
	return ListFilters200JSONResponse(v), err
}

func (h *handlers) SaveFilter(ctx context.Context, r SaveFilterRequestObject) (SaveFilterResponseObject, error) {
	v, err := h.Desk.SaveFilter(ctx, *r.Body, speak(ctx))
	return SaveFilter200JSONResponse(v), err
}

func (h *handlers) DropFilter(ctx context.Context, r DropFilterRequestObject) (DropFilterResponseObject, error) {
	v, err := h.Desk.DropFilter(ctx, r.Filter)
	return DropFilter200JSONResponse(v), err
}

func (h *handlers) SeeOrder(ctx context.Context, r SeeOrderRequestObject) (SeeOrderResponseObject, error) {
	return SeeOrder204Response{}, h.Desk.SeeOrder(ctx, r.Line, speak(ctx))
}

func (h *handlers) GetAnswerTable(ctx context.Context, r GetAnswerTableRequestObject) (GetAnswerTableResponseObject, error) {
	v, err := h.Desk.AnswerTable(ctx, r.Id, speak(ctx))
	return GetAnswerTable200JSONResponse(v), err
}

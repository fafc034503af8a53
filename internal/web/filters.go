package web

import "context"

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

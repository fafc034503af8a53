package web

import "context"

func (h *handlers) CountStops(ctx context.Context, r CountStopsRequestObject) (CountStopsResponseObject, error) {
	if cookies(ctx).get(sessionCookie) != "" && h.rehearsal == nil {
		return CountStops204Response{}, nil // whoever works at the desk is no customer
	}
	return CountStops204Response{}, h.Shop.Count(ctx, r.Slug, *r.Body, speak(ctx))
}

func (h *handlers) GetStops(ctx context.Context, r GetStopsRequestObject) (GetStopsResponseObject, error) {
	days := 30
	if r.Params.Days != nil {
		days = *r.Params.Days
	}
	v, err := h.Desk.Stops(ctx, r.Id, days, speak(ctx))
	return GetStops200JSONResponse(v), err
}

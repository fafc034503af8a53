package web

import (
	"context"

	"ruvo/internal/desk"
)

func (h *handlers) GetReadyMade(ctx context.Context, _ GetReadyMadeRequestObject) (GetReadyMadeResponseObject, error) {
	v, err := desk.Readymade(speak(ctx))
	return GetReadyMade200JSONResponse(v), err
}

func (h *handlers) GetSheets(ctx context.Context, _ GetSheetsRequestObject) (GetSheetsResponseObject, error) {
	v, err := h.Desk.Sheets(ctx)
	return GetSheets200JSONResponse(v), err
}

func (h *handlers) AddSheet(ctx context.Context, r AddSheetRequestObject) (AddSheetResponseObject, error) {
	v, err := h.Desk.AddSheet(ctx, *r.Body, speak(ctx))
	return AddSheet200JSONResponse(v), err
}

func (h *handlers) GetSheet(ctx context.Context, r GetSheetRequestObject) (GetSheetResponseObject, error) {
	v, err := h.Desk.Sheet(ctx, r.Id, speak(ctx))
	return GetSheet200JSONResponse(v), err
}

func (h *handlers) PutSheet(ctx context.Context, r PutSheetRequestObject) (PutSheetResponseObject, error) {
	v, err := h.Desk.PutSheet(ctx, r.Id, *r.Body, speak(ctx))
	return PutSheet200JSONResponse(v), err
}

func (h *handlers) DropSheet(ctx context.Context, r DropSheetRequestObject) (DropSheetResponseObject, error) {
	return DropSheet204Response{}, h.Desk.DropSheet(ctx, r.Id, speak(ctx))
}

func (h *handlers) PublishSheet(ctx context.Context, r PublishSheetRequestObject) (PublishSheetResponseObject, error) {
	v, err := h.Desk.PublishSheet(ctx, r.Id, r.Body.Version, speak(ctx))
	return PublishSheet200JSONResponse(v), err
}

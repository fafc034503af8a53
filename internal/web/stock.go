package web

import (
	"context"
	"ruvo/internal/desk"
)

func (h *handlers) GetStock(ctx context.Context, _ GetStockRequestObject) (GetStockResponseObject, error) {
	v, err := h.Desk.Stock(ctx)
	return GetStock200JSONResponse(v), err
}

func (h *handlers) StartStock(ctx context.Context, r StartStockRequestObject) (StartStockResponseObject, error) {
	v, err := h.Desk.StartStock(ctx, *r.Body, desk.Author(ctx), speak(ctx))
	return StartStock200JSONResponse(v), err
}

func (h *handlers) ChangeStock(ctx context.Context, r ChangeStockRequestObject) (ChangeStockResponseObject, error) {
	v, err := h.Desk.ChangeStock(ctx, *r.Body, desk.Author(ctx), speak(ctx))
	return ChangeStock200JSONResponse(v), err
}

func (h *handlers) DropStock(ctx context.Context, r DropStockRequestObject) (DropStockResponseObject, error) {
	v, err := h.Desk.DropStock(ctx, r.Id)
	return DropStock200JSONResponse(v), err
}

func (h *handlers) GetStockChanges(ctx context.Context, r GetStockChangesRequestObject) (GetStockChangesResponseObject, error) {
	v, err := h.Desk.StockMoves(ctx, r.Id)
	return GetStockChanges200JSONResponse(v), err
}

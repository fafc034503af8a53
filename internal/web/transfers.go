package web

import (
	"context"
	"io"
	"net/http"

	"ruvo/internal/apiview"
	"ruvo/internal/desk"
)

func (h *handlers) GetTransfers(ctx context.Context, _ GetTransfersRequestObject) (GetTransfersResponseObject, error) {
	v, err := h.Desk.Transfers(ctx, speak(ctx))
	return GetTransfers200JSONResponse(v), err
}

func (h *handlers) DecideTransfer(ctx context.Context, r DecideTransferRequestObject) (DecideTransferResponseObject, error) {
	v, err := h.Desk.DecideTransfer(ctx, r.Id, *r.Body, speak(ctx))
	return DecideTransfer200JSONResponse(v), err
}

func (h *handlers) ReadStatement(ctx context.Context, r ReadStatementRequestObject) (ReadStatementResponseObject, error) {
	v, err := h.Desk.ReadStatement(ctx, r.Params.Name, http.MaxBytesReader(nil, io.NopCloser(r.Body), desk.LargestStatement), speak(ctx))
	return ReadStatement200JSONResponse(v), err
}

func (h *handlers) GetStatement(ctx context.Context, r GetStatementRequestObject) (GetStatementResponseObject, error) {
	p := r.Params
	v, err := h.Desk.Statement(ctx, r.Id, string(apiview.Given(p.Outcome)), apiview.Given(p.After), speak(ctx))
	return GetStatement200JSONResponse(v), err
}

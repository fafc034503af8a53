package web

import "context"

func (h *handlers) ReplayDraft(ctx context.Context, r ReplayDraftRequestObject) (ReplayDraftResponseObject, error) {
	v, err := h.Desk.Replay(ctx, r.Id, *r.Body, speak(ctx))
	return ReplayDraft200JSONResponse(v), err
}

func (h *handlers) ReplaySheet(ctx context.Context, r ReplaySheetRequestObject) (ReplaySheetResponseObject, error) {
	v, err := h.Desk.ReplaySheet(ctx, r.Id, speak(ctx))
	return ReplaySheet200JSONResponse(v), err
}

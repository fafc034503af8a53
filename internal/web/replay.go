package web

import "context"

func (h *handlers) ReplayDraft(ctx context.Context, r ReplayDraftRequestObject) (ReplayDraftResponseObject, error) {
	v, err := h.Desk.Replay(ctx, r.Id, *r.Body, speak(ctx))
	return ReplayDraft200JSONResponse(v), err
}

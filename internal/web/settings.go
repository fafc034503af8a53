package web

import "context"

func (h *handlers) GetSettings(ctx context.Context, _ GetSettingsRequestObject) (GetSettingsResponseObject, error) {
	v, err := h.Desk.Settings(ctx)
	return GetSettings200JSONResponse(v), err
}

func (h *handlers) PutSettings(ctx context.Context, r PutSettingsRequestObject) (PutSettingsResponseObject, error) {
	v, err := h.Desk.PutSettings(ctx, *r.Body, speak(ctx))
	return PutSettings200JSONResponse(v), err
}

func (h *handlers) PreviewSettings(ctx context.Context, r PreviewSettingsRequestObject) (PreviewSettingsResponseObject, error) {
	v, err := h.Desk.PreviewSettings(ctx, *r.Body, speak(ctx))
	return PreviewSettings200JSONResponse(v), err
}

func (h *handlers) UndoSettings(ctx context.Context, r UndoSettingsRequestObject) (UndoSettingsResponseObject, error) {
	v, err := h.Desk.UndoSettings(ctx, r.Body.Version, speak(ctx))
	return UndoSettings200JSONResponse(v), err
}

func (h *handlers) WhyDay(ctx context.Context, r WhyDayRequestObject) (WhyDayResponseObject, error) {
	v, err := h.Desk.WhyDay(ctx, r.Day, speak(ctx))
	return WhyDay200JSONResponse(v), err
}

package web

import "context"

func (h *handlers) SayNews(ctx context.Context, r SayNewsRequestObject) (SayNewsResponseObject, error) {
	v, err := h.Shop.SayNews(ctx, r.Link, r.Body.Agreed, speak(ctx))
	return SayNews200JSONResponse(v), err
}

func (h *handlers) SayMyNews(ctx context.Context, r SayMyNewsRequestObject) (SayMyNewsResponseObject, error) {
	v, err := h.Shop.SayMyNews(ctx, r.Body.Agreed, speak(ctx))
	return SayMyNews200JSONResponse(v), err
}

func (h *handlers) GetAgreements(ctx context.Context, _ GetAgreementsRequestObject) (GetAgreementsResponseObject, error) {
	v, err := h.Desk.Agreements(ctx)
	return GetAgreements200JSONResponse(v), err
}

func (h *handlers) AddAgreement(ctx context.Context, r AddAgreementRequestObject) (AddAgreementResponseObject, error) {
	v, err := h.Desk.AddAgreement(ctx, *r.Body, speak(ctx))
	return AddAgreement200JSONResponse(v), err
}

func (h *handlers) NoteNews(ctx context.Context, r NoteNewsRequestObject) (NoteNewsResponseObject, error) {
	v, err := h.Desk.NoteNews(ctx, *r.Body, speak(ctx))
	return NoteNews200JSONResponse(v), err
}

func (h *handlers) ExportNews(ctx context.Context, _ ExportNewsRequestObject) (ExportNewsResponseObject, error) {
	f, err := h.Desk.ExportNews(ctx)
	return ExportNews200TextcsvResponse{Body: f.Body, Headers: ExportNews200ResponseHeaders{ContentDisposition: attachment(f)}}, err
}

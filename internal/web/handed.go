package web

import (
	"context"
	"io"
	"mime"
	"net/http"
	"time"

	"ruvo/internal/apiview"
	"ruvo/internal/desk"
	"ruvo/internal/handing"
)

// served answers with a file, or the part of it that was asked for (RFC 9110, 14): a
// player jumps in sound and film so.
type served struct {
	*handing.File
	part string // the request's Range
}

// slowest is how slow a line may be on which a large file is still received, in bytes a
// second: beyond what any reply has for its time, so much longer.
const slowest = 64 << 10

// patient gives a reply the time that its bytes need on a slow line.
func patient(w http.ResponseWriter, bytes int64) {
	until := time.Now().Add(Patience.Reply + time.Duration(bytes/slowest)*time.Second)
	_ = http.NewResponseController(w).SetWriteDeadline(until) // a writer without one has no end
}

func (s served) serve(w http.ResponseWriter) error {
	defer s.Close()
	if size, err := s.Content.Seek(0, io.SeekEnd); err == nil {
		patient(w, size)
	}
	h := w.Header()
	h.Set("Content-Type", s.Type)
	// What is shown runs nothing and loads nothing, whatever is in it.
	h.Set("Content-Security-Policy", "default-src 'none'; img-src 'self'; media-src 'self'; sandbox")
	h.Set("Cache-Control", "private, no-cache")
	if !s.Inline {
		h.Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": s.Name}))
	}
	r := &http.Request{Method: http.MethodGet, Header: http.Header{}}
	if s.part != "" {
		r.Header.Set("Range", s.part)
	}
	http.ServeContent(w, r, "", s.At, s.Content)
	return nil
}

func (s served) VisitGetHandedFileResponse(w http.ResponseWriter) error { return s.serve(w) }
func (s served) VisitGetBesideFileResponse(w http.ResponseWriter) error { return s.serve(w) }
func (s served) VisitGetGivenFileResponse(w http.ResponseWriter) error  { return s.serve(w) }
func (s served) VisitGetGiftFileResponse(w http.ResponseWriter) error   { return s.serve(w) }
func (s served) VisitGetTalkFileResponse(w http.ResponseWriter) error   { return s.serve(w) }
func (s served) VisitGetAtOnceResponse(w http.ResponseWriter) error     { return s.serve(w) }
func (s served) VisitGetDeskTalkFileResponse(w http.ResponseWriter) error {
	return s.serve(w)
}

func (h *handlers) GetHandedFile(ctx context.Context, r GetHandedFileRequestObject) (GetHandedFileResponseObject, error) {
	part := apiview.Given(r.Params.Range)
	f, err := h.Shop.HandedFile(ctx, r.Link, r.File, string(apiview.Given(r.Params.As)), part != "" && part != "bytes=0-", speak(ctx))
	if err != nil {
		return nil, err
	}
	return served{f, part}, nil
}

func (h *handlers) GetGivenFile(ctx context.Context, r GetGivenFileRequestObject) (GetGivenFileResponseObject, error) {
	f, err := h.Desk.HandedFile(ctx, r.File, string(apiview.Given(r.Params.As)), speak(ctx))
	if err != nil {
		return nil, err
	}
	return served{f, apiview.Given(r.Params.Range)}, nil
}

func (h *handlers) GetBesideFile(ctx context.Context, r GetBesideFileRequestObject) (GetBesideFileResponseObject, error) {
	f, err := h.Desk.BesideFile(ctx, r.Upload, string(apiview.Given(r.Params.As)), speak(ctx))
	if err != nil {
		return nil, err
	}
	return served{f, apiview.Given(r.Params.Range)}, nil
}

func (h *handlers) GetHandedFiles(ctx context.Context, r GetHandedFilesRequestObject) (GetHandedFilesResponseObject, error) {
	name, size, body, err := h.Shop.HandedFiles(ctx, r.Link, r.Handover, speak(ctx))
	if err != nil {
		return nil, err
	}
	named := attachment(desk.Download{Name: name})
	return zipped{GetHandedFiles200ApplicationzipResponse{Body: body, Headers: GetHandedFiles200ResponseHeaders{ContentDisposition: named}}, body, size}, nil
}

// zipped stops the packing when whoever asked for it goes away.
type zipped struct {
	GetHandedFiles200ApplicationzipResponse
	io.Closer
	size int64
}

func (z zipped) VisitGetHandedFilesResponse(w http.ResponseWriter) error {
	defer z.Close()
	patient(w, z.size)
	return z.GetHandedFiles200ApplicationzipResponse.VisitGetHandedFilesResponse(w)
}

func (h *handlers) AnswerHandover(ctx context.Context, r AnswerHandoverRequestObject) (AnswerHandoverResponseObject, error) {
	v, err := h.Shop.AnswerHandover(ctx, r.Link, r.Handover, *r.Body, speak(ctx))
	return AnswerHandover200JSONResponse(v), err
}

func (h *handlers) StartFinished(ctx context.Context, r StartFinishedRequestObject) (StartFinishedResponseObject, error) {
	v, err := h.Desk.StartFinished(ctx, *r.Body, speak(ctx))
	return StartFinished200JSONResponse(v), err
}

func (h *handlers) MatchFinished(ctx context.Context, r MatchFinishedRequestObject) (MatchFinishedResponseObject, error) {
	v, err := h.Desk.MatchFinished(ctx, *r.Body, speak(ctx))
	return MatchFinished200JSONResponse(v), err
}

func (h *handlers) HandOver(ctx context.Context, r HandOverRequestObject) (HandOverResponseObject, error) {
	v, err := h.Desk.HandOver(ctx, r.Line, *r.Body, speak(ctx))
	return HandOver200JSONResponse(v), err
}

func (h *handlers) ActOnHandover(ctx context.Context, r ActOnHandoverRequestObject) (ActOnHandoverResponseObject, error) {
	v, err := h.Desk.ActOnHandover(ctx, r.Handover, string(r.Body.Action), speak(ctx))
	return ActOnHandover200JSONResponse(v), err
}

package web

import "context"

func (h *handlers) AskThing(ctx context.Context, r AskThingRequestObject) (AskThingResponseObject, error) {
	v, err := h.Desk.AskThing(ctx, r.Line, *r.Body, speak(ctx))
	return AskThing200JSONResponse(v), err
}

func (h *handlers) DropThing(ctx context.Context, r DropThingRequestObject) (DropThingResponseObject, error) {
	v, err := h.Desk.DropThing(ctx, r.Thing, speak(ctx))
	return DropThing200JSONResponse(v), err
}

func (h *handlers) AnswerThing(ctx context.Context, r AnswerThingRequestObject) (AnswerThingResponseObject, error) {
	v, err := h.Shop.AnswerThing(ctx, r.Link, r.Thing, r.Body.Value, speak(ctx))
	return AnswerThing200JSONResponse(v), err
}

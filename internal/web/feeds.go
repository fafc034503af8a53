package web

import (
	"context"
	"strings"
)

func (h *handlers) GetFeeds(ctx context.Context, _ GetFeedsRequestObject) (GetFeedsResponseObject, error) {
	v, err := h.Desk.Feeds(ctx)
	return GetFeeds200JSONResponse(v), err
}

func (h *handlers) AddFeed(ctx context.Context, r AddFeedRequestObject) (AddFeedResponseObject, error) {
	v, err := h.Desk.AddFeed(ctx, *r.Body, speak(ctx))
	return AddFeed200JSONResponse(v), err
}

func (h *handlers) EndFeed(ctx context.Context, r EndFeedRequestObject) (EndFeedResponseObject, error) {
	v, err := h.Desk.EndFeed(ctx, r.Id)
	return EndFeed200JSONResponse(v), err
}

func (h *handlers) PutClosed(ctx context.Context, r PutClosedRequestObject) (PutClosedResponseObject, error) {
	v, err := h.Desk.PutClosed(ctx, r.Id, *r.Body, speak(ctx))
	return PutClosed200JSONResponse(v), err
}

func (h *handlers) GetFeed(ctx context.Context, r GetFeedRequestObject) (GetFeedResponseObject, error) {
	text, err := h.Desk.Feed(ctx, r.Secret, speak(ctx))
	if err != nil {
		return nil, err
	}
	return GetFeed200TextcalendarResponse{Body: strings.NewReader(text), ContentLength: int64(len(text)), Headers: GetFeed200ResponseHeaders{ContentDisposition: new(`inline; filename="calendar.ics"`)}}, nil
}

func (h *handlers) GetBookingFile(ctx context.Context, r GetBookingFileRequestObject) (GetBookingFileResponseObject, error) {
	text, err := h.Shop.BookingFile(ctx, r.Link, r.Line, speak(ctx))
	if err != nil {
		return nil, err
	}
	return GetBookingFile200TextcalendarResponse{Body: strings.NewReader(text), ContentLength: int64(len(text)), Headers: GetBookingFile200ResponseHeaders{ContentDisposition: new(`attachment; filename="booking.ics"`)}}, nil
}

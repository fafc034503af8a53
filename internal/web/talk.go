package web

import (
	"context"

	"ruvo/internal/apiview"
)

func (h *handlers) WriteTalk(ctx context.Context, r WriteTalkRequestObject) (WriteTalkResponseObject, error) {
	v, err := h.Shop.WriteTalk(ctx, r.Link, *r.Body, speak(ctx))
	return WriteTalk200JSONResponse(v), err
}

func (h *handlers) PressOrder(ctx context.Context, r PressOrderRequestObject) (PressOrderResponseObject, error) {
	return PressOrder204Response{}, h.Shop.Press(ctx, r.Link, speak(ctx))
}

func (h *handlers) GetMine(ctx context.Context, _ GetMineRequestObject) (GetMineResponseObject, error) {
	v, err := h.Shop.Mine(ctx, speak(ctx))
	return GetMine200JSONResponse(v), err
}

func (h *handlers) KeepMine(ctx context.Context, r KeepMineRequestObject) (KeepMineResponseObject, error) {
	v, err := h.Shop.KeepMine(ctx, r.Key, r.Body.Answer, speak(ctx))
	return KeepMine200JSONResponse(v), err
}

func (h *handlers) OpenMine(ctx context.Context, r OpenMineRequestObject) (OpenMineResponseObject, error) {
	v, err := h.Shop.OpenMine(ctx, r.Number, speak(ctx))
	return OpenMine200JSONResponse(v), err
}

func (h *handlers) GetTalkFile(ctx context.Context, r GetTalkFileRequestObject) (GetTalkFileResponseObject, error) {
	f, err := h.Shop.TalkFile(ctx, r.Link, r.Message, r.Place, string(apiview.Given(r.Params.As)), speak(ctx))
	if err != nil {
		return nil, err
	}
	return served{f, apiview.Given(r.Params.Range)}, nil
}

func (h *handlers) GetAtOnce(ctx context.Context, r GetAtOnceRequestObject) (GetAtOnceResponseObject, error) {
	part := apiview.Given(r.Params.Range)
	f, err := h.Shop.AtOnceFile(ctx, r.Link, r.Line, r.Upload, string(apiview.Given(r.Params.As)), part != "" && part != "bytes=0-", speak(ctx))
	if err != nil {
		return nil, err
	}
	return served{f, part}, nil
}

func (h *handlers) CountBuyers(ctx context.Context, r CountBuyersRequestObject) (CountBuyersResponseObject, error) {
	v, err := h.Desk.Buyers(ctx, r.Id, speak(ctx))
	return CountBuyers200JSONResponse(v), err
}

func (h *handlers) TellBuyers(ctx context.Context, r TellBuyersRequestObject) (TellBuyersResponseObject, error) {
	v, err := h.Desk.TellBuyers(ctx, r.Id, speak(ctx))
	return TellBuyers200JSONResponse(v), err
}

func (h *handlers) AnswerTalk(ctx context.Context, r AnswerTalkRequestObject) (AnswerTalkResponseObject, error) {
	v, err := h.Desk.Talk(ctx, r.Line, *r.Body, speak(ctx))
	return AnswerTalk200JSONResponse(v), err
}

func (h *handlers) SettleTalk(ctx context.Context, r SettleTalkRequestObject) (SettleTalkResponseObject, error) {
	return SettleTalk204Response{}, h.Desk.SettleTalk(ctx, r.Line, r.What == "settle", speak(ctx))
}

func (h *handlers) GetDeskTalkFile(ctx context.Context, r GetDeskTalkFileRequestObject) (GetDeskTalkFileResponseObject, error) {
	f, err := h.Desk.TalkFile(ctx, r.Message, r.Place, string(apiview.Given(r.Params.As)), speak(ctx))
	if err != nil {
		return nil, err
	}
	return served{f, apiview.Given(r.Params.Range)}, nil
}

func (h *handlers) ListReplies(ctx context.Context, r ListRepliesRequestObject) (ListRepliesResponseObject, error) {
	v, err := h.Desk.Replies(ctx, r.Line, speak(ctx))
	return ListReplies200JSONResponse(v), err
}

func (h *handlers) KeepReply(ctx context.Context, r KeepReplyRequestObject) (KeepReplyResponseObject, error) {
	return KeepReply204Response{}, h.Desk.KeepReply(ctx, *r.Body, speak(ctx))
}

func (h *handlers) DropReply(ctx context.Context, r DropReplyRequestObject) (DropReplyResponseObject, error) {
	return DropReply204Response{}, h.Desk.DropReply(ctx, r.Reply)
}

func (h *handlers) AnswerAmendment(ctx context.Context, r AnswerAmendmentRequestObject) (AnswerAmendmentResponseObject, error) {
	v, err := h.Desk.AnswerAmendment(ctx, r.Amendment, *r.Body, speak(ctx))
	return AnswerAmendment200JSONResponse(v), err
}

func (h *handlers) PreviewAmendment(ctx context.Context, r PreviewAmendmentRequestObject) (PreviewAmendmentResponseObject, error) {
	v, err := h.Desk.PreviewAmendment(ctx, r.Amendment, speak(ctx))
	return PreviewAmendment200JSONResponse(v), err
}

func (h *handlers) PreviewFill(ctx context.Context, r PreviewFillRequestObject) (PreviewFillResponseObject, error) {
	v, err := h.Desk.PreviewFill(ctx, r.Line, *r.Body, speak(ctx))
	return PreviewFill200JSONResponse(v), err
}

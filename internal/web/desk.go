package web

import (
	"context"

	"ruvo/internal/apiview"
	"ruvo/internal/core/order"
	"ruvo/internal/core/question"
	"ruvo/internal/desk"
	"ruvo/internal/store"
)

func (h *handlers) GetToday(ctx context.Context, _ GetTodayRequestObject) (GetTodayResponseObject, error) {
	v, err := h.Desk.Today(ctx, speak(ctx))
	return GetToday200JSONResponse(v), err
}

func (h *handlers) GetProducts(ctx context.Context, _ GetProductsRequestObject) (GetProductsResponseObject, error) {
	v, err := h.Desk.Products(ctx)
	return GetProducts200JSONResponse(v), err
}

func (h *handlers) AddProduct(ctx context.Context, r AddProductRequestObject) (AddProductResponseObject, error) {
	v, err := h.Desk.AddProduct(ctx, *r.Body, speak(ctx))
	return AddProduct200JSONResponse(v), err
}

func (h *handlers) GetDeskProduct(ctx context.Context, r GetDeskProductRequestObject) (GetDeskProductResponseObject, error) {
	v, err := h.Desk.Product(ctx, r.Id, speak(ctx))
	return GetDeskProduct200JSONResponse(v), err
}

func (h *handlers) PutDraft(ctx context.Context, r PutDraftRequestObject) (PutDraftResponseObject, error) {
	v, err := h.Desk.PutDraft(ctx, r.Id, *r.Body, desk.Author(ctx), speak(ctx))
	return PutDraft200JSONResponse(v), err
}

func (h *handlers) TravelDraft(ctx context.Context, r TravelDraftRequestObject) (TravelDraftResponseObject, error) {
	v, err := h.Desk.Travel(ctx, r.Id, r.Body.Version, r.Direction == "redo", speak(ctx))
	return TravelDraft200JSONResponse(v), err
}

func (h *handlers) AttendProduct(ctx context.Context, r AttendProductRequestObject) (AttendProductResponseObject, error) {
	v, err := h.Desk.Attend(ctx, r.Id, r.Window, desk.Author(ctx), speak(ctx))
	return AttendProduct200JSONResponse(v), err
}

func (h *handlers) GetDifferences(ctx context.Context, r GetDifferencesRequestObject) (GetDifferencesResponseObject, error) {
	from := 0
	if r.Params.From != nil {
		from = *r.Params.From
	}
	v, err := h.Desk.Differences(ctx, r.Id, from, speak(ctx))
	return GetDifferences200JSONResponse(v), err
}

func (h *handlers) GetEditions(ctx context.Context, r GetEditionsRequestObject) (GetEditionsResponseObject, error) {
	v, err := h.Desk.EditionsOf(ctx, r.Id, speak(ctx))
	return GetEditions200JSONResponse(v), err
}

func (h *handlers) GetEdition(ctx context.Context, r GetEditionRequestObject) (GetEditionResponseObject, error) {
	v, err := h.Desk.Edition(ctx, r.Id, r.Number, speak(ctx))
	return GetEdition200JSONResponse(v), err
}

func (h *handlers) PublishDraft(ctx context.Context, r PublishDraftRequestObject) (PublishDraftResponseObject, error) {
	v, err := h.Desk.Publish(ctx, r.Id, r.Body.Version, speak(ctx))
	return PublishDraft200JSONResponse(v), err
}

func (h *handlers) TakeQuestions(ctx context.Context, r TakeQuestionsRequestObject) (TakeQuestionsResponseObject, error) {
	v, err := h.Desk.TakeQuestions(ctx, r.Id, *r.Body, desk.Author(ctx), speak(ctx))
	return TakeQuestions200JSONResponse(v), err
}

func (h *handlers) GetPriceGrid(ctx context.Context, r GetPriceGridRequestObject) (GetPriceGridResponseObject, error) {
	v, err := h.Desk.Grid(ctx, r.Id, *r.Body, speak(ctx))
	return GetPriceGrid200JSONResponse(v), err
}

func (h *handlers) TryDraft(ctx context.Context, r TryDraftRequestObject) (TryDraftResponseObject, error) {
	v, err := h.Desk.Try(ctx, r.Id, *r.Body, speak(ctx))
	return TryDraft200JSONResponse(v), err
}

func (h *handlers) TryDays(ctx context.Context, r TryDaysRequestObject) (TryDaysResponseObject, error) {
	v, err := h.Desk.TryDays(ctx, r.Id, *r.Body, speak(ctx))
	return TryDays200JSONResponse(v), err
}

func (h *handlers) DocketDays(ctx context.Context, r DocketDaysRequestObject) (DocketDaysResponseObject, error) {
	v, err := h.Desk.DocketDays(ctx, r.Line, *r.Body, speak(ctx))
	return DocketDays200JSONResponse(v), err
}

func (h *handlers) MoveBooking(ctx context.Context, r MoveBookingRequestObject) (MoveBookingResponseObject, error) {
	v, err := h.Desk.MoveBooking(ctx, r.Line, *r.Body, speak(ctx))
	return MoveBooking200JSONResponse(v), err
}

func (h *handlers) PreviewBooking(ctx context.Context, r PreviewBookingRequestObject) (PreviewBookingResponseObject, error) {
	v, err := h.Desk.PreviewBooking(ctx, r.Line, *r.Body, speak(ctx))
	return PreviewBooking200JSONResponse(v), err
}

func (h *handlers) GetOrders(ctx context.Context, r GetOrdersRequestObject) (GetOrdersResponseObject, error) {
	var q desk.OrderQuery
	p := r.Params
	if p.Brief != nil {
		q.Brief = order.Brief(*p.Brief)
	}
	q.Product, q.Work, q.Text = apiview.Given(p.Product), string(apiview.Given(p.Work)), apiview.Given(p.Text)
	q.New, q.Money, q.Answers = apiview.Given(p.New), string(apiview.Given(p.Money)), apiview.Given(p.Answers)
	q.FromDay, q.ToDay, q.Customer = apiview.Given(p.From), apiview.Given(p.To), apiview.Given(p.Customer)
	q.Sort, q.Turned = store.LineSort(apiview.Given(p.Sort)), apiview.Given(p.Turned)
	page := 1
	if p.Page != nil {
		page = *p.Page
	}
	v, err := h.Desk.Orders(ctx, q, page, speak(ctx))
	return GetOrders200JSONResponse(v), err
}

func (h *handlers) GetDocket(ctx context.Context, r GetDocketRequestObject) (GetDocketResponseObject, error) {
	v, err := h.Desk.Docket(ctx, r.Line, speak(ctx))
	return GetDocket200JSONResponse(v), err
}

func (h *handlers) ActOnDocket(ctx context.Context, r ActOnDocketRequestObject) (ActOnDocketResponseObject, error) {
	meeting := 0
	if r.Params.Meeting != nil {
		meeting = *r.Params.Meeting
	}
	v, err := h.Desk.Act(ctx, r.Line, string(r.Action), meeting, speak(ctx))
	return ActOnDocket200JSONResponse(v), err
}

func (h *handlers) GetWork(ctx context.Context, r GetWorkRequestObject) (GetWorkResponseObject, error) {
	v, err := h.Desk.Work(ctx, apiview.Given(r.Params.Most), apiview.Given(r.Params.Person))
	return GetWork200JSONResponse(v), err
}

func (h *handlers) PromiseLine(ctx context.Context, r PromiseLineRequestObject) (PromiseLineResponseObject, error) {
	v, err := h.Desk.Promise(ctx, r.Line, *r.Body, speak(ctx))
	return PromiseLine200JSONResponse(v), err
}

func (h *handlers) GetLoad(ctx context.Context, _ GetLoadRequestObject) (GetLoadResponseObject, error) {
	v, err := h.Desk.Load(ctx)
	return GetLoad200JSONResponse(v), err
}

func (h *handlers) GetLateHelp(ctx context.Context, r GetLateHelpRequestObject) (GetLateHelpResponseObject, error) {
	v, err := h.Desk.LateHelp(ctx, r.Line, speak(ctx))
	return GetLateHelp200JSONResponse(v), err
}

func (h *handlers) AddItem(ctx context.Context, r AddItemRequestObject) (AddItemResponseObject, error) {
	v, err := h.Desk.AddItem(ctx, *r.Body, speak(ctx))
	return AddItem200JSONResponse(v), err
}

func (h *handlers) DecideItem(ctx context.Context, r DecideItemRequestObject) (DecideItemResponseObject, error) {
	v, err := h.Desk.Decide(ctx, r.Item, *r.Body, speak(ctx))
	return DecideItem200JSONResponse(v), err
}

func (h *handlers) DropItem(ctx context.Context, r DropItemRequestObject) (DropItemResponseObject, error) {
	return DropItem204Response{}, h.Desk.DropItem(ctx, r.Item, speak(ctx))
}

func (h *handlers) ForeseeItem(ctx context.Context, r ForeseeItemRequestObject) (ForeseeItemResponseObject, error) {
	v, err := h.Desk.Foresee(ctx, r.Item, *r.Body, speak(ctx))
	return ForeseeItem200JSONResponse(v), err
}

func (h *handlers) GetPaper(ctx context.Context, r GetPaperRequestObject) (GetPaperResponseObject, error) {
	v, err := h.Desk.Paper(ctx, r.Item, r.Paper, speak(ctx))
	return GetPaper200JSONResponse(v), err
}

func (h *handlers) PutMe(ctx context.Context, r PutMeRequestObject) (PutMeResponseObject, error) {
	v, err := h.Desk.PutMe(ctx, r.Body.Person, speak(ctx))
	return PutMe200JSONResponse(v), err
}

func (h *handlers) GetSteps(ctx context.Context, _ GetStepsRequestObject) (GetStepsResponseObject, error) {
	v, err := h.Desk.Steps(ctx)
	return GetSteps200JSONResponse(v), err
}

func (h *handlers) GetWorksheet(ctx context.Context, r GetWorksheetRequestObject) (GetWorksheetResponseObject, error) {
	if r.Params.From != nil {
		v, err := h.Desk.WorksheetPage(ctx, r.Product, r.Step, *r.Params.From, speak(ctx))
		return GetWorksheet200JSONResponse(v), err
	}
	v, err := h.Desk.Worksheet(ctx, r.Product, r.Step, speak(ctx))
	return GetWorksheet200JSONResponse(v), err
}

func (h *handlers) LayOutWorksheet(ctx context.Context, r LayOutWorksheetRequestObject) (LayOutWorksheetResponseObject, error) {
	v, err := h.Desk.LayOut(ctx, r.Product, r.Step, *r.Body, speak(ctx))
	return LayOutWorksheet200JSONResponse(v), err
}

func (h *handlers) ActOnWork(ctx context.Context, r ActOnWorkRequestObject) (ActOnWorkResponseObject, error) {
	v, err := h.Desk.ActOnWork(ctx, r.Body.Items, string(r.Action), speak(ctx))
	return ActOnWork200JSONResponse(v), err
}

func (h *handlers) GetCalendar(ctx context.Context, r GetCalendarRequestObject) (GetCalendarResponseObject, error) {
	v, err := h.Desk.Calendar(ctx, r.Params.From, r.Params.To, speak(ctx))
	return GetCalendar200JSONResponse(v), err
}

func (h *handlers) KeepTime(ctx context.Context, r KeepTimeRequestObject) (KeepTimeResponseObject, error) {
	v, err := h.Desk.KeepTime(ctx, *r.Body, speak(ctx))
	return KeepTime200JSONResponse(v), err
}

func (h *handlers) LetTimeGo(ctx context.Context, r LetTimeGoRequestObject) (LetTimeGoResponseObject, error) {
	return LetTimeGo204Response{}, h.Desk.LetTimeGo(ctx, r.Id, speak(ctx))
}

func (h *handlers) PlaceOrder(ctx context.Context, r PlaceOrderRequestObject) (PlaceOrderResponseObject, error) {
	v, err := h.Shop.PlaceByHand(ctx, *r.Body, desk.Author(ctx), speak(ctx))
	return PlaceOrder200JSONResponse(v), err
}

func (h *handlers) GetOutbox(ctx context.Context, _ GetOutboxRequestObject) (GetOutboxResponseObject, error) {
	v, err := h.Desk.Outbox(ctx)
	return GetOutbox200JSONResponse(v), err
}

func (h *handlers) GetKinds(context.Context, GetKindsRequestObject) (GetKindsResponseObject, error) {
	return GetKinds200JSONResponse(h.Desk.Kinds()), nil
}

func (h *handlers) RenameKey(_ context.Context, r RenameKeyRequestObject) (RenameKeyResponseObject, error) {
	return RenameKey200JSONResponse(r.Body.Draft.Rename(question.Key(r.Body.From), question.Key(r.Body.To))), nil
}

func (h *handlers) Reprice(ctx context.Context, r RepriceRequestObject) (RepriceResponseObject, error) {
	v, err := h.Desk.Reprice(ctx, r.Id, *r.Body, speak(ctx))
	return Reprice200JSONResponse(v), err
}

package web

import (
	"bytes"
	"context"
	"io"
	"mime"

	"ruvo/internal/apiview"
	"ruvo/internal/core/order"
	"ruvo/internal/desk"
	"ruvo/internal/upload"
)

// largestPiece bounds what one request adds to an upload.
const largestPiece = 32 << 20 // bytes

func (h *handlers) StartUpload(ctx context.Context, r StartUploadRequestObject) (StartUploadResponseObject, error) {
	v, err := h.Shop.StartUpload(ctx, *r.Body, speak(ctx))
	return StartUpload200JSONResponse(v), err
}

func (h *handlers) GetUpload(ctx context.Context, r GetUploadRequestObject) (GetUploadResponseObject, error) {
	v, err := h.Shop.Upload(ctx, r.Upload, speak(ctx))
	return GetUpload200JSONResponse(v), err
}

func (h *handlers) AppendUpload(ctx context.Context, r AppendUploadRequestObject) (AppendUploadResponseObject, error) {
	v, err := h.Shop.AppendUpload(ctx, r.Upload, r.Params.UploadOffset, io.LimitReader(r.Body, largestPiece), speak(ctx))
	return AppendUpload200JSONResponse(v), err
}

func (h *handlers) DropUpload(ctx context.Context, r DropUploadRequestObject) (DropUploadResponseObject, error) {
	return DropUpload204Response{}, h.Shop.DropUpload(ctx, r.Upload, speak(ctx))
}

func (h *handlers) GetThumbnail(ctx context.Context, r GetThumbnailRequestObject) (GetThumbnailResponseObject, error) {
	data, err := h.Shop.Thumbnail(ctx, r.Upload, speak(ctx))
	return GetThumbnail200ImagejpegResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data))}, err
}

func (h *handlers) GetKnown(ctx context.Context, r GetKnownRequestObject) (GetKnownResponseObject, error) {
	v, err := h.Shop.Known(ctx, r.Link, speak(ctx))
	return GetKnown200JSONResponse(v), err
}

// attachment names a file that a browser saves and does not show.
func attachment(d desk.Download) *string {
	s := mime.FormatMediaType("attachment", map[string]string{"filename": upload.CleanName(d.Name)})
	return &s
}

func (h *handlers) GetFile(ctx context.Context, r GetFileRequestObject) (GetFileResponseObject, error) {
	as := ""
	if r.Params.As != nil {
		as = string(*r.Params.As)
	}
	d, err := h.Desk.File(ctx, r.Line, r.Upload, as, speak(ctx))
	if err != nil {
		return nil, err
	}
	// What a customer sent is only ever saved; only what was drawn here is shown.
	kind := "application/octet-stream"
	if as == "thumbnail" {
		kind = d.Type
	}
	return GetFile200ApplicationoctetStreamResponse{Body: d.Body, ContentLength: d.Size, Headers: GetFile200ResponseHeaders{ContentDisposition: attachment(d), ContentType: &kind}}, nil
}

func (h *handlers) GetFiles(ctx context.Context, r GetFilesRequestObject) (GetFilesResponseObject, error) {
	d, err := h.Desk.Files(ctx, r.Line, speak(ctx))
	if err != nil {
		return nil, err
	}
	return GetFiles200ApplicationzipResponse{Body: d.Body, Headers: GetFiles200ResponseHeaders{ContentDisposition: attachment(d)}}, nil
}

func (h *handlers) ExportOrders(ctx context.Context, r ExportOrdersRequestObject) (ExportOrdersResponseObject, error) {
	var q desk.OrderQuery
	p := r.Params
	if p.Brief != nil {
		q.Brief = order.Brief(*p.Brief)
	}
	q.Product, q.Work, q.Text = apiview.Given(p.Product), string(apiview.Given(p.Work)), apiview.Given(p.Text)
	q.New, q.Money, q.Answers = apiview.Given(p.New), string(apiview.Given(p.Money)), apiview.Given(p.Answers)
	q.FromDay, q.ToDay, q.Customer = apiview.Given(p.From), apiview.Given(p.To), apiview.Given(p.Customer)
	d, err := h.Desk.ExportOrders(ctx, q, speak(ctx))
	if err != nil {
		return nil, err
	}
	return ExportOrders200TextcsvResponse{Body: d.Body, ContentLength: d.Size, Headers: ExportOrders200ResponseHeaders{ContentDisposition: attachment(d)}}, nil
}

func (h *handlers) ExportCalendar(ctx context.Context, r ExportCalendarRequestObject) (ExportCalendarResponseObject, error) {
	d, err := h.Desk.ExportCalendar(ctx, r.Params.From, r.Params.To, speak(ctx))
	if err != nil {
		return nil, err
	}
	return ExportCalendar200TextcsvResponse{Body: d.Body, ContentLength: d.Size, Headers: ExportCalendar200ResponseHeaders{ContentDisposition: attachment(d)}}, nil
}

func (h *handlers) ExportWorksheet(ctx context.Context, r ExportWorksheetRequestObject) (ExportWorksheetResponseObject, error) {
	d, err := h.Desk.ExportWorksheet(ctx, r.Product, r.Step, speak(ctx))
	if err != nil {
		return nil, err
	}
	return ExportWorksheet200TextcsvResponse{Body: d.Body, ContentLength: d.Size, Headers: ExportWorksheet200ResponseHeaders{ContentDisposition: attachment(d)}}, nil
}

func (h *handlers) PrintWorksheet(ctx context.Context, r PrintWorksheetRequestObject) (PrintWorksheetResponseObject, error) {
	d, err := h.Desk.PrintWorksheet(ctx, r.Product, r.Step, string(apiview.Given(r.Params.Paper)), apiview.Given(r.Params.Large), speak(ctx))
	if err != nil {
		return nil, err
	}
	return PrintWorksheet200ApplicationpdfResponse{Body: d.Body, ContentLength: d.Size, Headers: PrintWorksheet200ResponseHeaders{ContentDisposition: attachment(d)}}, nil
}

func (h *handlers) GetLabelCode(ctx context.Context, r GetLabelCodeRequestObject) (GetLabelCodeResponseObject, error) {
	d, err := h.Desk.LabelCode(ctx, r.Line, speak(ctx))
	if err != nil {
		return nil, err
	}
	return GetLabelCode200ImagepngResponse{Body: d.Body, ContentLength: d.Size}, nil
}

func (h *handlers) ExportSheetFiles(ctx context.Context, r ExportSheetFilesRequestObject) (ExportSheetFilesResponseObject, error) {
	d, err := h.Desk.SheetFiles(ctx, r.Product, r.Step, apiview.Given(r.Params.Pattern), speak(ctx))
	if err != nil {
		return nil, err
	}
	return ExportSheetFiles200ApplicationzipResponse{Body: d.Body, Headers: ExportSheetFiles200ResponseHeaders{ContentDisposition: attachment(d)}}, nil
}

func (h *handlers) GetPictures(ctx context.Context, _ GetPicturesRequestObject) (GetPicturesResponseObject, error) {
	v, err := h.Desk.Pictures(ctx)
	return GetPictures200JSONResponse(v), err
}

func (h *handlers) AddPicture(ctx context.Context, r AddPictureRequestObject) (AddPictureResponseObject, error) {
	v, err := h.Desk.AddPicture(ctx, r.Body, speak(ctx))
	return AddPicture200JSONResponse(v), err
}

func (h *handlers) FillDocket(ctx context.Context, r FillDocketRequestObject) (FillDocketResponseObject, error) {
	v, err := h.Desk.Fill(ctx, r.Line, *r.Body, desk.Author(ctx), speak(ctx))
	return FillDocket200JSONResponse(v), err
}

package apiview

import (
	"slices"
	"strings"
	"time"

	"ruvo/api"
	"ruvo/internal/core/handover"
	"ruvo/internal/docket"
	"ruvo/internal/store"
)

// Handovers shows what was handed over of an order line, the newest first. Customers do
// not see what was taken back.
func Handovers(tx *store.Tx, l *docket.Line, customer bool) ([]api.Handover, error) {
	all, err := tx.Handovers(l.Row.ID)
	if err != nil || len(all) == 0 {
		return nil, err
	}
	ids := make([]int64, len(all))
	for i := range all {
		ids[i] = all[i].ID
	}
	files, err := tx.FilesOfHandovers(ids)
	if err != nil {
		return nil, err
	}
	requests, err := tx.ChangeRequests(l.Row.ID)
	if err != nil {
		return nil, err
	}
	views := []api.Handover{}
	for i := range all {
		h := &all[i]
		if customer && h.State == handover.Withdrawn {
			continue
		}
		v := handoverView(h, l.Business.Location())
		v.Latest = docket.Latest(h, all)
		for _, f := range files[h.ID] {
			v.Files = append(v.Files, HandedFile(&f))
		}
		if a := l.Asks(h.Step); a != nil {
			quote := a.Quote(l.Row.Shown[h.Step])
			v.Left, v.None = quote.Left, quote.None
			if quote.Price > 0 {
				price := int(quote.Price)
				v.Price = &price
			}
		}
		if s := l.Edition.Plan.Step(h.Step); s != nil {
			title := s.Called()
			v.Step = &title
		}
		for k := range requests {
			if requests[k].HandoverID == h.ID {
				v.Requests = append(v.Requests, ChangeRequest(&requests[k], l, files[h.ID]))
			}
		}
		views = append(views, v)
	}
	return views, nil
}

func handoverView(h *store.Handover, zone *time.Location) api.Handover {
	v := api.Handover{
		Id: h.ID, State: api.HandoverState(h.State), Whole: h.Whole, Message: h.Message, Links: h.Links, Files: []api.HandedFile{}, Requests: []api.ChangeRequest{},
		Made: h.MadeAt, By: text(h.MadeBy), Asks: h.Asks, Opened: h.OpenedAt, Answered: h.AnsweredAt, AnsweredBy: text(h.AnsweredBy),
	}
	if v.Links == nil {
		v.Links = []store.FinishedLink{}
	}
	v.Silent, v.Until = lastDay(h.SilentAt, zone), lastDay(h.UntilAt, zone)
	return v
}

// lastDay gives the day that ends at an instant.
func lastDay(end *time.Time, zone *time.Location) *string {
	if end == nil {
		return nil
	}
	day := DayString(end.Add(-time.Minute), zone)
	return &day
}

// HandedFile shows a file that was handed over.
func HandedFile(f *store.HandoverFile) api.HandedFile {
	v := api.HandedFile{
		Id: f.ID, Name: f.Name, Size: f.Size, Type: f.Type, Shows: ShownAs(f), Opened: f.OpenedAt, Downloaded: f.DownloadedAt, Gone: f.GoneAt,
	}
	if f.Width > 0 {
		v.Width, v.Height = &f.Width, &f.Height
	}
	if f.Downloads > 0 {
		v.Downloads = &f.Downloads
	}
	return v
}

// ShownAs says as what a page can show a file: only what browsers show without running
// anything of it.
func ShownAs(f *store.HandoverFile) api.HandedFileShows {
	kind, _, _ := strings.Cut(f.Type, ";")
	switch {
	case slices.Contains([]string{"image/jpeg", "image/png", "image/gif", "image/webp"}, kind):
		return api.HandedFileShowsPicture
	case slices.Contains([]string{"audio/mpeg", "audio/wav", "audio/ogg", "audio/flac", "audio/aac", "audio/x-m4a", "audio/mp4"}, kind):
		return api.HandedFileShowsSound
	case slices.Contains([]string{"video/mp4", "video/webm", "video/ogg", "video/quicktime"}, kind):
		return api.HandedFileShowsFilm
	case kind == "application/pdf":
		return api.HandedFileShowsDocument
	}
	return api.HandedFileShowsOther
}

// ChangeRequest shows what a customer asked to be changed.
func ChangeRequest(r *store.ChangeRequest, l *docket.Line, files []store.HandoverFile) api.ChangeRequest {
	v := api.ChangeRequest{Id: r.ID, At: r.At, Words: r.Words, Marks: r.Marks, Files: []api.HandedFile{}}
	if v.Marks == nil {
		v.Marks = []handover.Mark{}
	}
	for i := range files {
		if slices.ContainsFunc(r.Marks, func(m handover.Mark) bool { return m.File == files[i].ID }) {
			v.Files = append(v.Files, HandedFile(&files[i]))
		}
	}
	if r.Price > 0 {
		price := int(r.Price)
		v.Price = &price
	}
	v.Done = slices.ContainsFunc(l.Items, func(w store.WorkItem) bool { return w.Request == r.ID && w.DoneAt != nil })
	return v
}

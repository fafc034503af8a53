package rehearsal

import (
	"bytes"
	"context"
	"encoding/base64"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"

	"ruvo/api"
	"ruvo/internal/core/calendar"
	"ruvo/internal/core/question"
)

func (w *walk) today() calendar.Day { return calendar.DayOf(w.now().In(w.zone)) }

// booked takes one of the times that are free for what was answered so far.
func (w *walk) booked(ctx context.Context, n *line) (question.Value, error) {
	raw, err := question.Encode(n.answers)
	if err != nil {
		return nil, err
	}
	today := w.today()
	ask := api.DaysAsked{Answers: raw, Quantity: n.quantity, People: 1 + w.r.IntN(2), From: today.String(), To: today.Add(120).String()}
	page, err := w.server.Shop.Product(ctx, n.slug, w.said)
	if err != nil {
		return nil, err
	}
	if b := page.Booking; b != nil && len(b.Lengths) > 1 {
		ask.Length = &b.Lengths[w.r.IntN(len(b.Lengths))]
	}
	for _, people := range []int{ask.People, 1, 2, 4, 8} { // some take only groups
		ask.People = people
		free, err := w.free(ctx, n.slug, ask)
		if err != nil {
			return nil, err
		}
		if len(free) > 0 {
			return free[w.r.IntN(len(free))], nil
		}
	}
	return nil, errors.New(w.said.Say("walk.nothing_free", nil))
}

// free lists what can be booked.
func (w *walk) free(ctx context.Context, slug string, ask api.DaysAsked) ([]question.Booking, error) {
	found, err := w.server.Shop.Days(ctx, slug, ask, w.said)
	if err != nil {
		return nil, err
	}
	var free []question.Booking
	if found.Courses != nil {
		for _, c := range *found.Courses {
			if !c.Room || c.Why != nil || len(c.Times) == 0 {
				continue
			}
			b := question.Booking{Start: c.Times[0].Start, End: c.Times[len(c.Times)-1].End, People: ask.People, Of: c.Of}
			for _, t := range c.Times {
				b.Meetings = append(b.Meetings, question.Meeting{Start: t.Start, End: t.End})
			}
			free = append(free, b)
		}
		return free, nil
	}
	var begins []api.BookableDay
	for _, d := range found.Days {
		for _, o := range d.Openings {
			if o.Room {
				free = append(free, question.Booking{Start: o.Start, End: o.End, People: ask.People})
			}
		}
		if d.At != nil && (d.State == api.BookableDayStateFree || d.State == api.BookableDayStateFew) {
			begins = append(begins, d)
		}
	}
	if len(free) > 0 || len(begins) == 0 {
		return free, nil
	}
	begin := begins[w.r.IntN(len(begins))]
	from, err := calendar.ParseDay(begin.Day)
	if err != nil {
		return nil, err
	}
	ask.Begin, ask.From, ask.To = &begin.Day, begin.Day, from.Add(60).String()
	if found, err = w.server.Shop.Days(ctx, slug, ask, w.said); err != nil {
		return nil, err
	}
	for _, d := range found.Days {
		if d.At != nil && (d.State == api.BookableDayStateFree || d.State == api.BookableDayStateFew) && d.At.After(*begin.At) {
			free = append(free, question.Booking{Start: *begin.At, End: *d.At, People: ask.People})
		}
	}
	return free, nil
}

// send sends the files of an answer that was made up, and names them in it: those of a
// list of entries too.
func (w *walk) send(ctx context.Context, spec question.Spec, v question.Value) error {
	switch v := v.(type) {
	case question.Files:
		return w.sendAll(ctx, spec, v)
	case question.Repeat:
		entries, ok := spec.(question.Listing)
		if !ok {
			break
		}
		for _, e := range v.Entries {
			for k, of := range e {
				each, _ := entries.EntrySpec(k)
				if err := w.send(ctx, each, of); err != nil {
					return err
				}
			}
		}
	case question.Units:
		each, ok := spec.(interface{ Each() question.Spec })
		if !ok {
			break
		}
		for _, of := range v.Each {
			if err := w.send(ctx, each.Each(), of); err != nil {
				return err
			}
		}
	}
	return nil
}

func (w *walk) sendAll(ctx context.Context, spec question.Spec, list question.Files) error {
	wanting, ok := spec.(question.Wanting)
	if !ok {
		return errors.New(w.said.Say("walk.no_file", nil))
	}
	data, name, wide, high := file(wanting)
	if data == nil {
		return errors.New(w.said.Say("walk.no_file", nil))
	}
	for i := range list {
		u, err := w.server.Shop.StartUpload(ctx, api.UploadStart{Name: name, Size: int64(len(data))}, w.said)
		if err == nil {
			_, err = w.server.Shop.AppendUpload(ctx, u.Id, 0, bytes.NewReader(data), w.said)
		}
		if err != nil {
			return err
		}
		list[i].File, list[i].Name = u.Id, name
		if shape := wanting.Wants().Shape; shape != nil && wide > 0 {
			list[i].Crop = shape.Within(wide, high)
		}
	}
	return nil
}

// file makes up a file that is taken; nil when none that can be made up is.
func file(of question.Wanting) (data []byte, name string, wide, high int) {
	want := of.Wants()
	for _, kind := range []string{"image/png", "image/jpeg"} {
		if want.Takes(kind) {
			var b bytes.Buffer
			sky := image.NewRGBA(image.Rect(0, 0, want.Wide, want.High))
			for i := range min(want.Wide, want.High) {
				sky.Set(i, i, color.RGBA{200, 210, 240, 255})
			}
			if kind == "image/png" {
				_ = png.Encode(&b, sky)
				return b.Bytes(), "made-up.png", want.Wide, want.High
			}
			_ = jpeg.Encode(&b, sky, nil)
			return b.Bytes(), "made-up.jpg", want.Wide, want.High
		}
	}
	silence, _ := base64.StdEncoding.DecodeString("UklGRiQAAABXQVZFZm10IBAAAAABAAEAQB8AAEAfAAABAAgAZGF0YQAAAAA=")
	for _, other := range []struct {
		kind, name string
		data       []byte
	}{
		{"application/pdf", "made-up.pdf", []byte("%PDF-1.4\n1 0 obj<</Type/Catalog>>endobj\ntrailer<</Root 1 0 R>>\n%%EOF\n")},
		{"text/plain", "made-up.txt", []byte("made up\n")},
		{"audio/wave", "made-up.wav", silence},
		{"application/zip", "made-up.zip", append([]byte("PK\x05\x06"), make([]byte, 18)...)},
	} {
		if want.Takes(other.kind) {
			return other.data, other.name, 0, 0
		}
	}
	return nil, "", 0, 0
}

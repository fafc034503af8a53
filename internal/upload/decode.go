package upload

import (
	"context"
	"fmt"
	"image"
	"image/color"
	"io"
	"time"

	"golang.org/x/sync/semaphore"

	"ruvo/internal/core/question"
)

// The bounds of decoding. A picture that would take more is not drawn; it is a
// file like any other.
const (
	mostMemory = 512 << 20        // bytes, of all pictures that are decoded at once
	decodeTime = 20 * time.Second // until one is given up
)

// memory is what pictures take while they are decoded: small ones at the same
// time, and a large one while nothing else does.
var memory = semaphore.NewWeighted(mostMemory)

// errLate ends the decoding of a picture that takes too long: it may be a small
// one on a busy machine.
var errLate = fmt.Errorf("it takes too long: %w", ErrPicture)

// impatient is a reader that gives nothing more after a time.
type impatient struct {
	io.Reader
	until time.Time
	late  bool
}

func (r *impatient) Read(p []byte) (int, error) {
	if time.Now().After(r.until) {
		r.late = true
		return 0, errLate
	}
	return r.Reader.Read(p)
}

// decode reads a picture the way it is meant to be seen, and hands it to who
// uses it, or gives it up when it takes longer than patience. What it takes is reckoned from its head, before anything is read.
func decode(in io.ReadSeeker, patience time.Duration, use func(image.Image) error) error {
	facts, jpeg := scanJPEG(in)
	if _, err := in.Seek(0, io.SeekStart); err != nil {
		return err
	}
	c, kind, err := image.DecodeConfig(&impatient{Reader: in, until: time.Now().Add(patience)})
	if err != nil || c.Width < 1 || c.Height < 1 || c.Width > question.MostPixels/c.Height || jpeg != (kind == "jpeg") {
		return ErrPicture
	}
	takes := int64(float64(c.Width) * float64(c.Height) * perPixel(kind, c.ColorModel, facts))
	if takes > mostMemory {
		return ErrPicture
	}
	if _, err := in.Seek(0, io.SeekStart); err != nil {
		return err
	}
	if err := memory.Acquire(context.Background(), takes); err != nil {
		return err
	}
	defer memory.Release(takes)
	// Its time begins now: what it waited for others is none of its fault.
	limited := &impatient{Reader: in, until: time.Now().Add(patience)}
	img, _, err := image.Decode(limited)
	if limited.late {
		return errLate
	}
	if err != nil {
		return ErrPicture
	}
	return use(upright{img, facts.way}.image())
}

// perPixel gives how many bytes Go's decoders take for each pixel at most.
func perPixel(kind string, model color.Model, f jpegFacts) float64 {
	switch kind {
	case "jpeg":
		bytes := f.samples
		if f.progressive {
			bytes += 4 * f.samples // coefficients are kept until the last scan
		}
		if f.components == 4 {
			bytes += 8 // converted twice
		}
		return bytes
	case "png":
		if _, indexed := model.(color.Palette); indexed {
			return 2
		}
		switch model {
		case color.GrayModel:
			return 2
		case color.RGBA64Model, color.NRGBA64Model:
			return 12
		}
		return 6 // interlaced ones are put together of seven
	case "webp":
		return 12
	}
	return 4
}

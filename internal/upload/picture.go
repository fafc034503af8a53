package upload

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"io"
	"io/fs"
	"math"
	"mime"
	"os"
	"strconv"
	"time"

	"golang.org/x/image/draw"

	"ruvo/internal/core/question"
)

// ErrPicture is returned for what is no picture that can be drawn, or one of
// more pixels than are decoded.
var ErrPicture = fmt.Errorf("no picture that can be drawn: %w", fs.ErrNotExist)

func mediaType(s string) string {
	t, _, err := mime.ParseMediaType(s)
	if err != nil {
		return s
	}
	return t
}

// turned says whether a picture is shown with its sides exchanged.
func turned(in io.ReadSeeker) bool {
	facts, _ := scanJPEG(in)
	return facts.way >= 5
}

// upright shows a picture turned and mirrored as its orientation says.
type upright struct {
	image.Image
	way int
}

func (u upright) image() image.Image {
	if u.way == 1 {
		return u.Image
	}
	return u
}

// Bounds exchanges the sides for the ways that lie on a side.
func (u upright) Bounds() image.Rectangle {
	b := u.Image.Bounds()
	if u.way >= 5 {
		return image.Rect(0, 0, b.Dy(), b.Dx())
	}
	return image.Rect(0, 0, b.Dx(), b.Dy())
}

// At finds the pixel of the stored picture that is seen at a place.
func (u upright) At(x, y int) color.Color {
	b := u.Image.Bounds()
	w, h := b.Dx()-1, b.Dy()-1
	switch u.way {
	case 2:
		x = w - x
	case 3:
		x, y = w-x, h-y
	case 4:
		y = h - y
	case 5:
		x, y = y, x
	case 6:
		x, y = y, h-x
	case 7:
		x, y = w-y, h-x
	case 8:
		x, y = w-y, x
	}
	return u.Image.At(b.Min.X+x, b.Min.Y+y)
}

// fit scales a picture down until its longer side has at most so many pixels.
func fit(img image.Image, longest int) image.Image {
	b := img.Bounds()
	scale := float64(longest) / float64(max(b.Dx(), b.Dy()))
	if scale >= 1 {
		return img
	}
	small := image.NewRGBA(image.Rect(0, 0, max(int(math.Round(float64(b.Dx())*scale)), 1), max(int(math.Round(float64(b.Dy())*scale)), 1)))
	draw.ApproxBiLinear.Scale(small, small.Bounds(), img, b, draw.Src, nil)
	return small
}

// onPaper lays a picture on white, as JPEG has no transparency.
func onPaper(img image.Image) image.Image {
	b := img.Bounds()
	paper := image.NewRGBA(image.Rect(0, 0, b.Dx(), b.Dy()))
	draw.Draw(paper, paper.Bounds(), image.White, image.Point{}, draw.Src)
	draw.Draw(paper, paper.Bounds(), img, b.Min, draw.Over)
	return paper
}

// Thumbnail draws a picture small, as JPEG, cropped when a part is given. What
// was drawn once is kept beside the file.
func (f Folder) Thumbnail(name string, longest int, crop *question.Crop) ([]byte, error) {
	path, err := f.file(name)
	if err != nil {
		return nil, err
	}
	path += fmt.Sprintf(".%d", longest)
	if crop != nil {
		path += fmt.Sprintf("-%.4f-%.4f-%.4f-%.4f", crop.X, crop.Y, crop.W, crop.H)
	}
	if drawn, err := os.ReadFile(path); err == nil {
		return drawn, nil
	}
	var out bytes.Buffer
	if err := f.picture(name, crop, func(img image.Image) error {
		return jpeg.Encode(&out, onPaper(fit(img, longest)), &jpeg.Options{Quality: 82})
	}); err != nil {
		return nil, err
	}
	if err := os.WriteFile(path+".new", out.Bytes(), 0o600); err == nil {
		err = os.Rename(path+".new", path)
		if err != nil {
			os.Remove(path + ".new")
		}
	}
	return out.Bytes(), nil // a full disk only costs the keeping
}

// Cropped draws the wanted part of a picture in full size, as PNG.
func (f Folder) Cropped(name string, crop question.Crop) ([]byte, error) {
	var out bytes.Buffer
	err := f.picture(name, &crop, func(img image.Image) error { return png.Encode(&out, img) })
	return out.Bytes(), err
}

// picture decodes a file's picture, or a part of it. What could not be decoded
// once is not tried again, unless more of the file arrived since.
func (f Folder) picture(name string, crop *question.Crop, use func(image.Image) error) error {
	in, err := f.Open(name)
	if err != nil {
		return err
	}
	defer in.Close()
	info, err := in.Stat()
	if err != nil {
		return err
	}
	failed, size := in.Name()+".failed", strconv.FormatInt(info.Size(), 10)
	if failedBefore(failed, size) {
		return ErrPicture
	}
	decoded := false
	err = decode(in, decodeTime, func(img image.Image) error {
		decoded = true
		if crop != nil {
			part := within(img.Bounds(), *crop)
			if part.Empty() {
				return ErrPicture
			}
			img = window{img, part}
		}
		return use(img)
	})
	if !decoded && errors.Is(err, ErrPicture) {
		if errors.Is(err, errLate) {
			size += late
		}
		_ = os.WriteFile(failed, []byte(size), 0o600) // without it, it is only tried again
	}
	return err
}

// late is what is noted of a picture that took too long, which is tried again
// after a while.
const (
	late  = " late"
	again = time.Hour
)

// failedBefore reads what was noted of a file of a size.
func failedBefore(failed, size string) bool {
	before, err := os.ReadFile(failed)
	if err != nil || string(before) == size {
		return err == nil
	}
	info, err := os.Stat(failed)
	return err == nil && string(before) == size+late && time.Since(info.ModTime()).Abs() < again
}

// within gives a part of a picture in its pixels.
func within(b image.Rectangle, crop question.Crop) image.Rectangle {
	at := func(share float64, of int) int { return int(math.Round(share * float64(of))) }
	return image.Rect(at(crop.X, b.Dx()), at(crop.Y, b.Dy()), at(crop.X+crop.W, b.Dx()), at(crop.Y+crop.H, b.Dy())).Add(b.Min).Intersect(b)
}

// A window shows a part of a picture, which it does not copy.
type window struct {
	image.Image
	part image.Rectangle
}

// Bounds are those of the part.
func (w window) Bounds() image.Rectangle { return image.Rect(0, 0, w.part.Dx(), w.part.Dy()) }

// At gives a pixel of the part.
func (w window) At(x, y int) color.Color { return w.Image.At(w.part.Min.X+x, w.part.Min.Y+y) }

// Redraw makes a picture of the shop from what a seller uploads: decoded,
// scaled to the longest side, and encoded anew, so that nothing but the
// picture is left. It gives the file's ending.
func Redraw(in io.ReadSeeker, longest int) (data []byte, ending string, err error) {
	var out bytes.Buffer
	err = decode(in, decodeTime, func(img image.Image) error {
		img = fit(img, longest)
		if o, ok := img.(interface{ Opaque() bool }); ok && !o.Opaque() {
			ending = "png"
			return png.Encode(&out, img)
		}
		ending = "jpg"
		return jpeg.Encode(&out, onPaper(img), &jpeg.Options{Quality: 86})
	})
	return out.Bytes(), ending, err
}

package upload

import (
	"bytes"
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
	"sync"

	"github.com/rwcarlsen/goexif/exif"
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

// orientation gives how a camera held the picture (Exif tag 0x0112), 1 when
// it does not say.
func orientation(r io.Reader) int {
	x, err := exif.Decode(r)
	if err != nil {
		return 1
	}
	tag, err := x.Get(exif.Orientation)
	if err != nil {
		return 1
	}
	n, err := tag.Int(0)
	if err != nil || n < 1 || n > 8 {
		return 1
	}
	return n
}

// turned says whether a picture is shown with its sides exchanged.
func turned(path string) bool {
	in, err := os.Open(path)
	if err != nil {
		return false
	}
	defer in.Close()
	return orientation(in) >= 5
}

// drawing is taken while a picture is decoded: the largest takes half a
// gigabyte, so one at a time is enough.
var drawing sync.Mutex

// decode reads a picture the way it is meant to be seen.
func decode(in io.ReadSeeker) (image.Image, error) {
	c, _, err := image.DecodeConfig(in)
	if err != nil || c.Width < 1 || c.Height < 1 || c.Width > question.MostPixels/c.Height {
		return nil, ErrPicture
	}
	if _, err := in.Seek(0, io.SeekStart); err != nil {
		return nil, err
	}
	way := orientation(in)
	if _, err := in.Seek(0, io.SeekStart); err != nil {
		return nil, err
	}
	drawing.Lock()
	defer drawing.Unlock()
	img, _, err := image.Decode(in)
	if err != nil {
		return nil, ErrPicture
	}
	return upright{img, way}.image(), nil
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
	img, err := f.picture(name, crop)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	if err := jpeg.Encode(&out, onPaper(fit(img, longest)), &jpeg.Options{Quality: 82}); err != nil {
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
	img, err := f.picture(name, &crop)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	err = png.Encode(&out, img)
	return out.Bytes(), err
}

func (f Folder) picture(name string, crop *question.Crop) (image.Image, error) {
	in, err := f.Open(name)
	if err != nil {
		return nil, err
	}
	defer in.Close()
	img, err := decode(in)
	if err != nil || crop == nil {
		return img, err
	}
	b := img.Bounds()
	at := func(share float64, of int) int { return int(math.Round(share * float64(of))) }
	part := image.Rect(at(crop.X, b.Dx()), at(crop.Y, b.Dy()), at(crop.X+crop.W, b.Dx()), at(crop.Y+crop.H, b.Dy())).Add(b.Min).Intersect(b)
	if part.Empty() {
		return nil, ErrPicture
	}
	out := image.NewRGBA(image.Rect(0, 0, part.Dx(), part.Dy()))
	draw.Draw(out, out.Bounds(), img, part.Min, draw.Src)
	return out, nil
}

// Redraw makes a picture of the shop from what a seller uploads: decoded,
// scaled to the longest side, and encoded anew, so that nothing but the
// picture is left. It gives the file's ending.
func Redraw(in io.ReadSeeker, longest int) (data []byte, ending string, err error) {
	img, err := decode(in)
	if err != nil {
		return nil, "", err
	}
	img = fit(img, longest)
	var out bytes.Buffer
	if o, ok := img.(interface{ Opaque() bool }); ok && !o.Opaque() {
		err = png.Encode(&out, img)
		return out.Bytes(), "png", err
	}
	err = jpeg.Encode(&out, onPaper(img), &jpeg.Options{Quality: 86})
	return out.Bytes(), "jpg", err
}

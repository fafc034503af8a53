package upload

import (
	"bytes"
	"encoding/binary"
	"errors"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"ruvo/internal/core/question"
)

const (
	one = "AAAAAAAAAAAAAAAAAAAAAA"
	two = "BBBBBBBBBBBBBBBBBBBBBB"
)

// halves is a picture whose left half is red and whose right half is blue.
func halves(wide, high int) image.Image {
	img := image.NewRGBA(image.Rect(0, 0, wide, high))
	for y := range high {
		for x := range wide {
			c := color.RGBA{220, 30, 30, 255}
			if x >= wide/2 {
				c = color.RGBA{30, 30, 220, 255}
			}
			img.SetRGBA(x, y, c)
		}
	}
	return img
}

func encoded(t testing.TB, encode func(*bytes.Buffer) error) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := encode(&b); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

func put(t testing.TB, f Folder, name string, data []byte) {
	t.Helper()
	f.Remove(name)
	if n, err := f.Append(name, 0, int64(len(data)), bytes.NewReader(data)); err != nil || n != int64(len(data)) {
		t.Fatal(n, err)
	}
}

// Bytes come in pieces, each after the last; what arrived before a break stays.
func TestAppend(t *testing.T) {
	f := Folder{t.TempDir() + "/new"}
	if n, err := f.Received(one); n != 0 || err != nil {
		t.Error(n, err)
	}
	for _, step := range []struct {
		offset int64
		piece  string
		have   int64
		err    error
	}{
		{0, "hello ", 6, nil}, {0, "hello ", 6, ErrOffset}, {7, "x", 6, ErrOffset}, {6, "wor", 9, nil}, {9, "ld and more", 11, ErrTooMuch},
	} {
		have, err := f.Append(one, step.offset, 11, strings.NewReader(step.piece))
		if have != step.have || !errors.Is(err, step.err) {
			t.Errorf("%q at %d: %d, %v", step.piece, step.offset, have, err)
		}
	}
	for _, bad := range []string{"", "..", "../AAAAAAAAAAAAAAAAAAA", "AAAAAAAAAAAAAAAAAAAAA/", strings.Repeat("A", 23)} {
		if _, err := f.Append(bad, 0, 1, strings.NewReader("x")); !errors.Is(err, ErrName) {
			t.Errorf("%q: %v", bad, err)
		}
	}
	put(t, f, two, []byte("x"))
	old := time.Now().Add(-time.Hour)
	if err := os.Chtimes(f.Path+"/"+one, old, old); err != nil {
		t.Fatal(err)
	}
	if stale, err := f.Stale(time.Now().Add(-time.Minute)); err != nil || len(stale) != 1 || stale[0] != one {
		t.Error(stale, err)
	}
	for range 2 {
		if err := f.Remove(one); err != nil {
			t.Errorf("what is gone cannot be removed: %v", err)
		}
	}
}

// A file is what it holds. The files are made here, by the encoders of the
// standard library or from the signatures that their formats publish.
func TestInspect(t *testing.T) {
	f := Folder{t.TempDir()}
	img := halves(40, 30)
	for want, data := range map[string][]byte{
		"image/png":       encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, img) }),
		"image/jpeg":      encoded(t, func(b *bytes.Buffer) error { return jpeg.Encode(b, img, nil) }),
		"image/gif":       encoded(t, func(b *bytes.Buffer) error { return gif.Encode(b, img, nil) }),
		"application/pdf": []byte("%PDF-1.7\n1 0 obj\n<<>>\nendobj\n"),
		"application/zip": append([]byte("PK\x03\x04\x14\x00\x00\x00\x08\x00"), make([]byte, 60)...),
		"text/html":       []byte("<!DOCTYPE html><script>alert(1)</script>"),
		"image/svg+xml":   []byte(`<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>`),
		"text/plain":      []byte("just words"),
	} {
		put(t, f, one, data)
		c, err := f.Inspect(one)
		if err != nil || c.Type != want {
			t.Errorf("%s is told to be %q, %v", want, c.Type, err)
		}
		if measured := c.Width == 40 && c.Height == 30; measured != slices.Contains([]string{"image/png", "image/jpeg", "image/gif"}, want) {
			t.Errorf("%s measures %d × %d", want, c.Width, c.Height)
		}
	}
}

// withOrientation puts an Exif block with the tag 0x0112 into a JPEG file
// (Exif 2.3, and TIFF 6.0 for its frame; from memory).
func withOrientation(picture []byte, way uint16) []byte {
	tiff := []byte("MM\x00\x2a\x00\x00\x00\x08\x00\x01")
	tiff = binary.BigEndian.AppendUint16(tiff, 0x0112)
	tiff = binary.BigEndian.AppendUint16(tiff, 3)
	tiff = binary.BigEndian.AppendUint32(tiff, 1)
	tiff = binary.BigEndian.AppendUint16(tiff, way)
	tiff = append(tiff, 0, 0, 0, 0, 0, 0)
	body := append([]byte("Exif\x00\x00"), tiff...)
	out := append([]byte{}, picture[:2]...)
	out = append(out, 0xff, 0xe1)
	out = binary.BigEndian.AppendUint16(out, uint16(len(body)+2))
	out = append(out, body...)
	return append(out, picture[2:]...)
}

// A picture that a camera held on its side is measured, drawn and cropped the
// way it is meant to be seen.
func TestTurnedPictures(t *testing.T) {
	f := Folder{t.TempDir()}
	flat := encoded(t, func(b *bytes.Buffer) error { return jpeg.Encode(b, halves(64, 32), nil) })
	red := func(c color.Color) bool { r, _, b, _ := c.RGBA(); return r > b }
	// For each way: the size it is seen in, and whether its upper left is red.
	for way, want := range map[uint16]struct {
		wide, high int
		red        bool
	}{1: {64, 32, true}, 2: {64, 32, false}, 3: {64, 32, false}, 4: {64, 32, true}, 5: {32, 64, true}, 6: {32, 64, true}, 7: {32, 64, false}, 8: {32, 64, false}} {
		put(t, f, one, withOrientation(flat, way))
		c, err := f.Inspect(one)
		if err != nil || c.Width != want.wide || c.Height != want.high {
			t.Errorf("way %d measures %d × %d, %v", way, c.Width, c.Height, err)
		}
		small, err := f.Thumbnail(one, 32, nil)
		if err != nil {
			t.Fatal(err)
		}
		img, err := jpeg.Decode(bytes.NewReader(small))
		if err != nil || red(img.At(2, 2)) != want.red || max(img.Bounds().Dx(), img.Bounds().Dy()) != 32 {
			t.Errorf("way %d: red at the upper left %v, %v", way, red(img.At(2, 2)), img.Bounds())
		}
	}
}

func TestCroppedAndRedrawn(t *testing.T) {
	f := Folder{t.TempDir()}
	put(t, f, one, encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, halves(100, 50)) }))
	raw, err := f.Cropped(one, question.Crop{X: 0.5, Y: 0, W: 0.5, H: 1})
	if err != nil {
		t.Fatal(err)
	}
	img, err := png.Decode(bytes.NewReader(raw))
	if r, _, b, _ := img.At(3, 3).RGBA(); err != nil || img.Bounds().Dx() != 50 || img.Bounds().Dy() != 50 || r > b {
		t.Errorf("%v, %v", img.Bounds(), err)
	}
	put(t, f, two, []byte("no picture"))
	if _, err := f.Thumbnail(two, 32, nil); !errors.Is(err, ErrPicture) {
		t.Errorf("words are drawn: %v", err)
	}
	// A file that claims to be larger than anything that is decoded.
	bomb := encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, halves(4, 4)) })
	binary.BigEndian.PutUint32(bomb[16:], 60_000)
	binary.BigEndian.PutUint32(bomb[20:], 60_000)
	put(t, f, two, bomb)
	if _, err := f.Thumbnail(two, 32, nil); !errors.Is(err, ErrPicture) {
		t.Errorf("a bomb is drawn: %v", err)
	}
	data, ending, err := Redraw(bytes.NewReader(encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, halves(900, 300)) })), 300)
	if c, _, cerr := image.DecodeConfig(bytes.NewReader(data)); err != nil || cerr != nil || ending != "jpg" || c.Width != 300 || c.Height != 100 {
		t.Errorf("%s, %+v, %v", ending, c, err)
	}
	clear := image.NewRGBA(image.Rect(0, 0, 10, 10))
	if _, ending, err := Redraw(bytes.NewReader(encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, clear) })), 300); err != nil || ending != "png" {
		t.Errorf("%s, %v", ending, err)
	}
	if _, _, err := Redraw(strings.NewReader("<svg/>"), 300); !errors.Is(err, ErrPicture) {
		t.Error(err)
	}
}

// A thumbnail is drawn once for each part that is wanted, and goes with its
// file.
func TestThumbnailsAreKept(t *testing.T) {
	f := Folder{t.TempDir()}
	put(t, f, one, encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, halves(100, 50)) }))
	whole, err := f.Thumbnail(one, 40, nil)
	if err != nil {
		t.Fatal(err)
	}
	part, err := f.Thumbnail(one, 40, &question.Crop{X: 0.5, Y: 0, W: 0.5, H: 1})
	if err != nil || bytes.Equal(whole, part) {
		t.Fatalf("the part looks like the whole: %v", err)
	}
	kept, err := os.ReadDir(f.Path)
	if err != nil || len(kept) != 3 {
		t.Errorf("%v, %v", kept, err)
	}
	if err := os.Truncate(f.Path+"/"+one, 0); err != nil { // so it cannot be drawn again
		t.Fatal(err)
	}
	again, err := f.Thumbnail(one, 40, nil)
	if err != nil || !bytes.Equal(again, whole) {
		t.Errorf("it was drawn anew: %v", err)
	}
	if stale, err := f.Stale(time.Now().Add(time.Hour)); err != nil || len(stale) != 1 {
		t.Errorf("%v, %v", stale, err)
	}
	if err := f.Remove(one); err != nil {
		t.Fatal(err)
	}
	if left, _ := os.ReadDir(f.Path); len(left) != 0 {
		t.Errorf("%v stays", left)
	}
}

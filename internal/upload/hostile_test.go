package upload

import (
	"bytes"
	"encoding/binary"
	"errors"
	"hash/crc32"
	"image"
	"image/gif"
	"image/jpeg"
	"image/png"
	"io"
	"os"
	"strconv"
	"testing"
	"time"
)

// looping is a JPEG of which a camera's directories point at each other: the
// first at the second, the second at the first, and each at itself as a
// directory of its own.
func looping() []byte {
	tiff := []byte("MM\x00*\x00\x00\x00\x08")
	directory := func(next uint32) {
		tiff = binary.BigEndian.AppendUint16(tiff, 2)
		for _, tag := range []uint16{0x8769, 0x014a} { // the Exif directory, sub-directories
			tiff = binary.BigEndian.AppendUint16(tiff, tag)
			tiff = binary.BigEndian.AppendUint16(tiff, 4)
			tiff = binary.BigEndian.AppendUint32(tiff, 1)
			tiff = binary.BigEndian.AppendUint32(tiff, 8)
		}
		tiff = binary.BigEndian.AppendUint32(tiff, next)
	}
	directory(38)
	directory(8)
	b := []byte{0xff, 0xd8, 0xff, 0xe1}
	b = binary.BigEndian.AppendUint16(b, uint16(len(tiff)+8))
	b = append(append(b, "Exif\x00\x00"...), tiff...)
	return append(b, 0xff, 0xc0, 0, 11, 8, 0, 8, 0, 8, 1, 1, 0x11, 0, 0xff, 0xda, 0, 8, 1, 1, 0, 0, 63, 0, 0xff, 0xd9)
}

// deep is a PNG whose head promises so many pixels of 16 bits.
func deep(t testing.TB, wide, high uint32) []byte {
	b := encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, image.NewNRGBA64(image.Rect(0, 0, 2, 2))) })
	binary.BigEndian.PutUint32(b[16:], wide)
	binary.BigEndian.PutUint32(b[20:], high)
	binary.BigEndian.PutUint32(b[29:], crc32.ChecksumIEEE(b[12:29]))
	return b
}

// fourth is the head of a progressive JPEG of four components.
func fourth(wide, high uint16) []byte {
	b := []byte{0xff, 0xd8, 0xff, 0xc2, 0, 20, 8}
	b = binary.BigEndian.AppendUint16(b, high)
	b = binary.BigEndian.AppendUint16(b, wide)
	b = append(b, 4)
	for c := range byte(4) {
		b = append(b, c+1, 0x11, 0)
	}
	return append(b, 0xff, 0xda, 0, 14, 4, 1, 0, 2, 0, 3, 0, 4, 0, 0, 0, 0, 0xff, 0xd9)
}

// A small file that would take the server's memory is told to be no picture
// before anything is decoded, and is one allocation of little.
func TestHostilePictures(t *testing.T) {
	f := Folder{t.TempDir()}
	for name, b := range map[string][]byte{
		"directories that point at each other": looping(),
		"a deep picture":                       deep(t, 10_900, 10_900),
		"four progressive components":          fourth(11_000, 10_900),
		"more pixels than any":                 deep(t, 60_000, 60_000),
		"no height":                            deep(t, 10, 0),
		"segments without an end":              append([]byte{0xff, 0xd8}, bytes.Repeat([]byte{0xff, 0xe1, 0, 2}, 10_000)...),
		"a segment shorter than itself":        {0xff, 0xd8, 0xff, 0xe1, 0, 1},
		"nothing after its head":               {0xff, 0xd8, 0xff},
	} {
		put(t, f, one, b)
		if got := testing.AllocsPerRun(1, func() { _, _ = f.Inspect(one) }); got > 20_000 {
			t.Errorf("%s: measured with %.0f allocations", name, got)
		}
		if _, err := f.Thumbnail(one, 32, nil); !errors.Is(err, ErrPicture) {
			t.Errorf("%s is drawn: %v", name, err)
		}
		if err := f.Remove(one); err != nil {
			t.Error(err)
		}
		if left, _ := os.ReadDir(f.Path); len(left) > 0 {
			t.Errorf("%s leaves %v", name, left)
		}
	}
}

// A phone's pictures and scans are within the bounds; what Go's decoders would
// take more for is not. The bytes for each pixel are reckoned by hand from the
// decoders' buffers.
func TestWhatPicturesTake(t *testing.T) {
	for _, c := range []struct {
		name   string
		head   []byte
		within bool
	}{
		{"12 megapixels, 16 bits", deep(t, 4000, 3000), true},
		{"44 megapixels, 16 bits", deep(t, 7000, 6300), true},
		{"50 megapixels, 16 bits", deep(t, 10_000, 5000), false},
		{"24 megapixels, four progressive components", fourth(6000, 4000), false},
		{"18 megapixels, four progressive components", fourth(4900, 3700), true},
	} {
		reached := decode(bytes.NewReader(c.head), time.Minute, func(image.Image) error { return nil })
		facts, _ := scanJPEG(bytes.NewReader(c.head))
		conf, kind, err := image.DecodeConfig(bytes.NewReader(c.head))
		takes := float64(conf.Width) * float64(conf.Height) * perPixel(kind, conf.ColorModel, facts)
		if err != nil || (takes <= mostMemory) != c.within || !errors.Is(reached, ErrPicture) {
			t.Errorf("%s takes %.0f MB, %v", c.name, takes/(1<<20), err)
		}
	}
}

// A picture that takes too long is given up, and one that failed is not tried
// again until more of it is there.
func TestPatienceAndMemory(t *testing.T) {
	f := Folder{t.TempDir()}
	whole := encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, halves(40, 20)) })
	if err := decode(bytes.NewReader(whole), -time.Second, func(image.Image) error { return nil }); !errors.Is(err, ErrPicture) {
		t.Errorf("beyond its time it is drawn: %v", err)
	}
	put(t, f, one, whole[:len(whole)-30])
	for range 2 {
		if _, err := f.Thumbnail(one, 32, nil); !errors.Is(err, ErrPicture) {
			t.Errorf("half of it is drawn: %v", err)
		}
	}
	failed := f.Path + "/" + one + ".failed"
	if size, err := os.ReadFile(failed); err != nil || string(size) != strconv.Itoa(len(whole)-30) {
		t.Errorf("it is remembered as %q, %v", size, err)
	}
	if err := os.WriteFile(f.Path+"/"+one, whole, 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := f.Thumbnail(one, 32, nil); err != nil {
		t.Errorf("the rest of it came, and it is not drawn: %v", err)
	}
	if err := os.WriteFile(failed, []byte(strconv.Itoa(len(whole))), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := f.Thumbnail(one, 33, nil); !errors.Is(err, ErrPicture) {
		t.Errorf("what failed is tried again: %v", err)
	}
	// What took too long, and may have been unlucky, is tried again after a while.
	if err := decode(bytes.NewReader(whole), time.Minute, func(image.Image) error { return nil }); err != nil {
		t.Error(err)
	}
	if err := os.WriteFile(failed, []byte(strconv.Itoa(len(whole))+late), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := f.Thumbnail(one, 34, nil); !errors.Is(err, ErrPicture) {
		t.Errorf("what was late is tried again at once: %v", err)
	}
	old := time.Now().Add(-again - time.Minute)
	if err := os.Chtimes(failed, old, old); err != nil {
		t.Fatal(err)
	}
	if _, err := f.Thumbnail(one, 34, nil); err != nil {
		t.Errorf("what was late an hour ago is not tried again: %v", err)
	}
}

// Whatever arrives is measured and drawn, or told to be no picture.
func FuzzPictures(f *testing.F) {
	small := halves(20, 10)
	for _, seed := range [][]byte{
		looping(), fourth(8, 8), deep(f, 2, 2),
		withOrientation(encoded(f, func(b *bytes.Buffer) error { return jpeg.Encode(b, small, nil) }), 6),
		encoded(f, func(b *bytes.Buffer) error { return gif.Encode(b, small, nil) }),
		[]byte("RIFF\x1a\x00\x00\x00WEBPVP8L\x0d\x00\x00\x00\x2f\x00\x00\x00\x10\x07\x10\x11\x11\x88\x88\xfe\x07\x00"),
	} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, b []byte) {
		if facts, _ := scanJPEG(bytes.NewReader(b)); facts.way < 1 || facts.way > 8 {
			t.Errorf("%+v", facts)
		}
		if c, _, err := image.DecodeConfig(bytes.NewReader(b)); err == nil && c.Width*c.Height > 1<<20 {
			return // as large as is allowed takes its time
		}
		err := decode(bytes.NewReader(b), time.Minute, func(img image.Image) error {
			return jpeg.Encode(io.Discard, onPaper(fit(img, 32)), nil)
		})
		if err != nil && !errors.Is(err, ErrPicture) {
			t.Error(err)
		}
	})
}

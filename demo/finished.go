package demo

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"hash/fnv"
	"image"
	"image/color"
	"image/png"
	"math"
	"math/rand/v2"
	"path/filepath"
	"strings"
	"time"

	"codeberg.org/go-pdf/fpdf"
)

// made makes a finished file of the studio by the ending of its name: a chart of a sky
// that never was, as a picture or on paper, a mended photograph, or the sound of a
// night. The same name gives the same file.
func made(name string) ([]byte, error) {
	switch ext := filepath.Ext(name); {
	case ext == ".pdf":
		return booklet(name)
	case ext == ".wav":
		return crickets(), nil
	case strings.Contains(name, "chart"):
		return chart(name)
	}
	return draw(name)
}

// chart draws stars on a round sky, with some of them joined.
func chart(name string) ([]byte, error) {
	h := fnv.New64a()
	h.Write([]byte(name))
	rnd := rand.New(rand.NewPCG(h.Sum64(), 2))
	const wide, high = 900, 1200
	papers := []color.RGBA{{20, 28, 51, 255}, {91, 42, 60, 255}, {35, 68, 63, 255}, {48, 44, 72, 255}}
	paper, star := papers[rnd.IntN(len(papers))], color.RGBA{242, 234, 211, 255}
	img := image.NewRGBA(image.Rect(0, 0, wide, high))
	const cx, cy, r = wide / 2.0, 500.0, 370.0
	for y := range high {
		for x := range wide {
			c := paper
			switch d := math.Hypot(float64(x)-cx, float64(y)-cy); {
			case math.Abs(d-r) < 1.6, math.Abs(d-r-14) < 0.8:
				c = star
			case d < r: // the band of the galaxy
				if band := math.Abs(float64(y) - cy - 0.6*(float64(x)-cx)); band < 90 {
					glow := uint8(26 * (1 - band/90))
					c = color.RGBA{paper.R + glow, paper.G + glow, paper.B + glow, 255}
				}
			}
			if x < 26 || y < 26 || x >= wide-26 || y >= high-26 {
				c = color.RGBA{paper.R + 10, paper.G + 10, paper.B + 10, 255}
			}
			img.SetRGBA(x, y, c)
		}
	}
	at := func() (int, int) {
		turn, far := rnd.Float64()*2*math.Pi, r*0.95*math.Sqrt(rnd.Float64())
		return int(cx + far*math.Cos(turn)), int(cy + far*math.Sin(turn))
	}
	for range 420 {
		x, y := at()
		dot(img, x, y, 1, star)
	}
	for range 9 { // what the eye joins
		x, y := at()
		for range 3 + rnd.IntN(3) {
			nx, ny := x+rnd.IntN(120)-60, y+rnd.IntN(120)-60
			if math.Hypot(float64(nx)-cx, float64(ny)-cy) > r-8 {
				break
			}
			line(img, x, y, nx, ny, color.RGBA{176, 141, 60, 255})
			dot(img, nx, ny, 2+rnd.IntN(2), star)
			x, y = nx, ny
		}
	}
	for i := range 2 { // where the title is lettered
		half := 190 - 90*i
		line(img, wide/2-half, 990+60*i, wide/2+half, 990+60*i, star)
	}
	var out bytes.Buffer
	err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&out, img)
	return out.Bytes(), err
}

func line(img *image.RGBA, x, y, tx, ty int, c color.RGBA) {
	steps := max(max(tx-x, x-tx), max(ty-y, y-ty), 1)
	for i := range steps + 1 {
		img.SetRGBA(x+(tx-x)*i/steps, y+(ty-y)*i/steps, c)
	}
}

// booklet is a chart on paper, with a page on how to hang it.
func booklet(name string) ([]byte, error) {
	sky, err := chart(strings.TrimSuffix(name, ".pdf") + ".png")
	if err != nil {
		return nil, err
	}
	doc := fpdf.New("P", "mm", "A4", "")
	doc.SetCreationDate(time.Date(2026, 1, 2, 0, 0, 0, 0, time.UTC))
	doc.SetModificationDate(time.Date(2026, 1, 2, 0, 0, 0, 0, time.UTC))
	doc.SetCompression(true)
	doc.AddPage()
	doc.RegisterImageOptionsReader("sky", fpdf.ImageOptions{ImageType: "PNG"}, bytes.NewReader(sky))
	doc.ImageOptions("sky", 15, 15, 180, 240, false, fpdf.ImageOptions{}, 0, "")
	doc.AddPage()
	doc.SetFont("Helvetica", "B", 20)
	doc.MultiCell(0, 12, "Hanging your sky", "", "L", false)
	doc.SetFont("Helvetica", "", 12)
	for i, text := range []string{"Print it at its own size, on paper of 200 g or more.", "Hang it where no sun falls: the night keeps its colour for longer.", "North is up. Hold it over your head and it is as it was."} {
		doc.MultiCell(0, 8, fmt.Sprintf("%d. %s", i+1, text), "", "L", false)
	}
	var out bytes.Buffer
	err = doc.Output(&out)
	return out.Bytes(), err
}

// crickets are some seconds of a summer night, as a WAV of one channel.
func crickets() []byte {
	const rate, seconds = 8000, 4
	var out bytes.Buffer
	put := func(v any) { _ = binary.Write(&out, binary.LittleEndian, v) } // a buffer takes all
	out.WriteString("RIFF")
	put(uint32(36 + 2*rate*seconds))
	out.WriteString("WAVEfmt ")
	put(uint32(16))
	put([]uint16{1, 1})
	put([]uint32{rate, 2 * rate})
	put([]uint16{2, 16})
	out.WriteString("data")
	put(uint32(2 * rate * seconds))
	for i := range rate * seconds {
		at := float64(i) / rate
		chirp := math.Max(0, math.Sin(2*math.Pi*2.2*at)) * math.Max(0, math.Sin(2*math.Pi*31*at))
		put(int16(5200 * chirp * math.Sin(2*math.Pi*3300*at)))
	}
	return out.Bytes()
}

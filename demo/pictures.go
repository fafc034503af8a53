package demo

import (
	"bytes"
	"hash/fnv"
	"image"
	"image/color"
	"image/png"
	"math"
	"math/rand/v2"
	"sync"
)

var drawn sync.Map // pictures by their names

// draw draws an old photograph of a night that never was: a hill under stars,
// faded, with a crease and dust. The same name gives the same picture.
func draw(name string) ([]byte, error) {
	if p, ok := drawn.Load(name); ok {
		return p.([]byte), nil
	}
	h := fnv.New64a()
	h.Write([]byte(name))
	rnd := rand.New(rand.NewPCG(h.Sum64(), 1))
	const wide, high = 720, 480
	img := image.NewRGBA(image.Rect(0, 0, wide, high))
	warm, hill, swing, lean := rnd.Float64()*30, 280+rnd.Float64()*90, 16+rnd.Float64()*44, rnd.Float64()*6
	for y := range high {
		for x := range wide {
			ridge := hill + swing*math.Sin(lean+float64(x)/170) + 12*math.Sin(float64(x)/31)
			light := 40 + 70*float64(y)/high
			if float64(y) > ridge {
				light = 26 - 12*(float64(y)-ridge)/high
			}
			light += rnd.Float64() * 9 // grain
			if edge := min(x, y, wide-1-x, high-1-y); edge < 26 {
				light = 196 + rnd.Float64()*12 // the white border of the print
			}
			img.SetRGBA(x, y, color.RGBA{tone(light + warm), tone(light + warm*0.6), tone(light - warm*0.2), 255})
		}
	}
	for range 160 {
		dot(img, 30+rnd.IntN(wide-60), 30+rnd.IntN(int(hill)-90), 1+rnd.IntN(2), color.RGBA{236, 228, 206, 255})
	}
	for range 90 { // dust
		dot(img, rnd.IntN(wide), rnd.IntN(high), 1, color.RGBA{214, 208, 196, 255})
	}
	for y := range high { // the crease
		x := wide/2 + int(60*lean) + int(5*math.Sin(float64(y)/40))
		img.SetRGBA(min(x, wide-1), y, color.RGBA{206, 198, 184, 255})
	}
	var out bytes.Buffer
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&out, img); err != nil {
		return nil, err
	}
	drawn.Store(name, out.Bytes())
	return out.Bytes(), nil
}

func tone(v float64) uint8 { return uint8(max(0, min(255, v))) }

func dot(img *image.RGBA, x, y, r int, c color.RGBA) {
	for dy := -r; dy <= r; dy++ {
		for dx := -r; dx <= r; dx++ {
			if dx*dx+dy*dy <= r*r {
				img.SetRGBA(x+dx, y+dy, c)
			}
		}
	}
}

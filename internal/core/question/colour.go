package question

import (
	"fmt"
	"math"

	"golang.org/x/image/colornames"
)

// luminance gives the relative luminance of an sRGB colour written #rrggbb
// (WCAG 2.2, "relative luminance").
func luminance(hex string) float64 {
	var rgb [3]uint8
	fmt.Sscanf(hex, "#%02x%02x%02x", &rgb[0], &rgb[1], &rgb[2])
	var linear [3]float64
	for i, c := range rgb {
		s := float64(c) / 255
		if s <= 0.04045 {
			linear[i] = s / 12.92
		} else {
			linear[i] = math.Pow((s+0.055)/1.055, 2.4)
		}
	}
	return 0.2126*linear[0] + 0.7152*linear[1] + 0.0722*linear[2]
}

// Contrast gives the contrast ratio of two colours, from 1 to 21 (WCAG 2.2,
// "contrast ratio").
func Contrast(a, b string) float64 {
	x, y := luminance(a), luminance(b)
	return (max(x, y) + 0.05) / (min(x, y) + 0.05)
}

// NearestName gives the name of the nearest colour among the colour keywords
// of SVG 1.1, and whether it is that very colour.
func NearestName(hex string) (name string, exact bool) {
	var r, g, b int
	fmt.Sscanf(hex, "#%02x%02x%02x", &r, &g, &b)
	best := math.MaxInt
	for _, n := range colornames.Names {
		c := colornames.Map[n]
		dr, dg, db := r-int(c.R), g-int(c.G), b-int(c.B)
		// Weights after how strongly each part is seen.
		if d := 3*dr*dr + 4*dg*dg + 2*db*db; d < best {
			best, name = d, n
		}
	}
	return name, best == 0
}

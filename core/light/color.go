package light

import (
	"math"

	"github.com/lucasb-eyer/go-colorful"
)

// Chromaticity returns the CIE 1931 x and y of a black body at the given
// temperature in kelvin, from 1667 to 25000 and clamped to that range.
// (Cubic approximation of the Planckian locus, Kim et al., US patent 7024034 B2,
// as cited in ISO/CIE 11664 literature; error below 0.001.)
func Chromaticity(kelvin float64) (x, y float64) {
	t := math.Min(25000, math.Max(1667, kelvin))
	if t <= 4000 {
		x = -0.2661239e9/(t*t*t) - 0.2343589e6/(t*t) + 0.8776956e3/t + 0.179910
	} else {
		x = -3.0258469e9/(t*t*t) + 2.1070379e6/(t*t) + 0.2226347e3/t + 0.240390
	}
	switch {
	case t <= 2222:
		y = -1.1063814*x*x*x - 1.34811020*x*x + 2.18555832*x - 0.20219683
	case t <= 4000:
		y = -0.9549476*x*x*x - 1.37418593*x*x + 2.09137015*x - 0.16748867
	default:
		y = 3.0817580*x*x*x - 5.87338670*x*x + 3.75112997*x - 0.37001483
	}
	return x, y
}

// Swatch returns the color of a light as "#rrggbb" in sRGB (IEC 61966-2-1), as bright
// as the screen can show that chromaticity: a swatch shows the tone, not the brightness.
func Swatch(x, y float64) string {
	if y <= 0 {
		return "#000000"
	}
	r, g, b := colorful.XyzToLinearRgb(x/y, 1, (1-x-y)/y)
	r, g, b = math.Max(0, r), math.Max(0, g), math.Max(0, b)
	if top := math.Max(r, math.Max(g, b)); top > 0 {
		r, g, b = r/top, g/top, b/top
	}
	return colorful.LinearRgb(r, g, b).Clamped().Hex()
}

// FromSwatch returns the chromaticity of a color written as "#rrggbb"; it is false
// when the text is not such a color or is black, which has no chromaticity.
func FromSwatch(hex string) (x, y float64, ok bool) {
	c, err := colorful.Hex(hex)
	if err != nil {
		return 0, 0, false
	}
	bigX, bigY, bigZ := c.Xyz()
	sum := bigX + bigY + bigZ
	if sum < 1e-6 {
		return 0, 0, false
	}
	return bigX / sum, bigY / sum, true
}

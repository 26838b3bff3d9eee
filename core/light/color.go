package light

import (
	"github.com/lucasb-eyer/go-colorful"
)

// Swatch returns the color of a light as "#rrggbb" in sRGB (IEC 61966-2-1), as bright
// as the screen can show that chromaticity: a swatch shows the tone, not the brightness.
func Swatch(c XY) string {
	if c.Y <= 0 {
		return "#000000"
	}
	return colorful.LinearRgb(c.linearRGB()).Clamped().Hex()
}

// FromSwatch returns the chromaticity of a color written as "#rrggbb"; it is false
// when the text is not such a color or is black, which has no chromaticity.
func FromSwatch(hex string) (XY, bool) {
	c, err := colorful.Hex(hex)
	if err != nil {
		return XY{}, false
	}
	x, y, z := c.Xyz()
	if x+y+z < 1e-6 {
		return XY{}, false
	}
	return chromaticityOf(x, y, z), true
}

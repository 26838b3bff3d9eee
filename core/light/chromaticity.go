package light

import (
	"math"

	"github.com/lucasb-eyer/go-colorful"

	"amvek/core/thing"
)

// XY is a chromaticity: the tone of a light without its brightness, as CIE 1931 x and y (ISO/CIE 11664-3).
type XY struct {
	X float64 `json:"x" minimum:"0" maximum:"1"`
	Y float64 `json:"y" minimum:"0" maximum:"1"`
}

// White is the chromaticity of illuminant D65 (ISO/CIE 11664-2), the white of sRGB.
var White = XY{0.3127, 0.3290}

// Of returns the chromaticity of a color.
func Of(v thing.Value) XY { return XY{v.Number, v.Second} }

// Value returns the color of a chromaticity.
func (c XY) Value() thing.Value { return thing.Color(c.X, c.Y) }

// Tristimulus returns CIE 1931 X, Y and Z of the chromaticity at a luminance Y (ISO/CIE 11664-3, 7.3). Y of the chromaticity must be
// above 0.
func (c XY) Tristimulus(luminance float64) (x, y, z float64) {
	return c.X * luminance / c.Y, luminance, (1 - c.X - c.Y) * luminance / c.Y
}

// chromaticityOf returns the chromaticity of tristimulus values; it is [White] where there is no light.
func chromaticityOf(x, y, z float64) XY {
	if sum := x + y + z; sum > 1e-12 {
		return XY{x / sum, y / sum}
	}
	return White
}

// UV returns u′ and v′ of the CIE 1976 uniform chromaticity scale (ISO/CIE 11664-5), in which equal distances look about equally
// large where the brightness is the same.
func (c XY) UV() (u, v float64) {
	d := -2*c.X + 12*c.Y + 3
	return 4 * c.X / d, 9 * c.Y / d
}

// fromUV is what [XY.UV] undoes.
func fromUV(u, v float64) XY {
	d := 6*u - 16*v + 12
	return XY{9 * u / d, 4 * v / d}
}

// Apart returns how far two chromaticities are apart on the uniform chromaticity scale.
func (c XY) Apart(from XY) float64 {
	u, v := c.UV()
	fromU, fromV := from.UV()
	return math.Hypot(u-fromU, v-fromV)
}

// linearRGB returns the shares of the sRGB primaries (IEC 61966-2-1) that make the chromaticity, the largest of them 1. What sRGB
// cannot show is brought to its edge.
func (c XY) linearRGB() (r, g, b float64) {
	if c.Y <= 0 {
		return 0, 0, 0
	}
	r, g, b = colorful.XyzToLinearRgb(c.Tristimulus(1))
	r, g, b = max(0, r), max(0, g), max(0, b)
	if top := max(r, g, b); top > 0 {
		return r / top, g / top, b / top
	}
	return 0, 0, 0
}

// HueSaturation returns the hue in degrees, from 0 to 360, and the saturation in percent of a chromaticity, as devices have them
// that know no other way: those of HSV (Smith 1978) of the brightest sRGB color of that tone.
func (c XY) HueSaturation() (hue, saturation float64) {
	h, s, _ := colorful.LinearRgb(c.linearRGB()).Hsv()
	return h, s * 100
}

// FromHueSaturation returns the chromaticity of a hue in degrees and a saturation in percent, see [XY.HueSaturation].
func FromHueSaturation(hue, saturation float64) XY {
	hue = math.Mod(math.Mod(hue, 360)+360, 360)
	return chromaticityOf(colorful.Hsv(hue, min(max(saturation, 0), 100)/100, 1).Xyz())
}

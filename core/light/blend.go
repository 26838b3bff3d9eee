package light

import (
	"math"

	"github.com/lucasb-eyer/go-colorful"
)

// tone returns a and b of OKLab (Ottosson 2020) of a chromaticity at a luminance of 1: at the same brightness, distances in it look
// about equally large, and hues stay the same along straight lines through the middle.
func (c XY) tone() (a, b float64) {
	_, a, b = colorful.XyzToOkLab(c.Tristimulus(1))
	return a, b
}

// ofTone is what [XY.tone] undoes. The lightness is searched that goes with a luminance of 1, since OKLab's depends on the tone.
func ofTone(a, b float64) XY {
	from, to := 0.2, 2.5
	for range 50 {
		l := (from + to) / 2
		if _, y, _ := colorful.OkLabToXyz(l, a, b); y < 1 {
			from = l
		} else {
			to = l
		}
	}
	return chromaticityOf(colorful.OkLabToXyz((from+to)/2, a, b))
}

// Between returns the chromaticity at a share of the way from one to another, from 0 to 1, in OKLab: the steps of such a fade look
// equally large, and what lies between two colors is what one expects there.
func (c XY) Between(to XY, share float64) XY {
	return c.way(to, share, func(a, b, toA, toB float64) (float64, float64) { return a + (toA-a)*share, b + (toB-b)*share })
}

// Around returns the chromaticity at a share of the way from one to another around the circle of hues, the shorter way, in OKLCh:
// unlike [XY.Between] it does not go through white where the two are opposite each other.
func (c XY) Around(to XY, share float64) XY {
	return c.way(to, share, func(a, b, toA, toB float64) (float64, float64) {
		from, end := math.Atan2(b, a), math.Atan2(toB, toA)
		hue := from + math.Remainder(end-from, 2*math.Pi)*share
		chroma := math.Hypot(a, b) + (math.Hypot(toA, toB)-math.Hypot(a, b))*share
		return chroma * math.Cos(hue), chroma * math.Sin(hue)
	})
}

// way returns the chromaticity at a share of the way to another, by what lies between the tones of both. Its ends are exact.
func (c XY) way(to XY, share float64, between func(a, b, toA, toB float64) (float64, float64)) XY {
	switch {
	case share <= 0 || c == to:
		return c
	case share >= 1:
		return to
	}
	a, b := c.tone()
	toA, toB := to.tone()
	return ofTone(between(a, b, toA, toB))
}

// Contrast returns how different two chromaticities look at the same brightness: their distance in OKLab.
func (c XY) Contrast(to XY) float64 {
	a, b := c.tone()
	toA, toB := to.tone()
	return math.Hypot(a-toA, b-toB)
}

// Along returns the chromaticity at a share of the way along a palette, from its first color at 0 to its last at 1. Each piece of the
// way is as long as its two colors look different. A palette of one color is that color everywhere; one of none is white.
func Along(palette []XY, share float64) XY {
	if len(palette) == 0 {
		return White
	}
	lengths, whole := make([]float64, len(palette)-1), 0.0
	for i := range lengths {
		lengths[i] = palette[i].Contrast(palette[i+1])
		whole += lengths[i]
	}
	at := min(max(share, 0), 1) * whole
	for i, length := range lengths {
		if at <= length {
			if length == 0 {
				return palette[i]
			}
			return palette[i].Between(palette[i+1], at/length)
		}
		at -= length
	}
	return palette[len(palette)-1]
}

// Spread returns so many colors of a palette for as many lamps, evenly by how different they look: the first and the last color of
// the palette among them. Where there are no more lamps than colors, the colors themselves, taken evenly.
func Spread(palette []XY, count int) []XY {
	all := make([]XY, count)
	for i := range all {
		switch {
		case count == 1:
			all[i] = Along(palette, 0)
		case count <= len(palette):
			all[i] = palette[int(math.Round(float64(i)*float64(len(palette)-1)/float64(count-1)))]
		default:
			all[i] = Along(palette, float64(i)/float64(count-1))
		}
	}
	return all
}

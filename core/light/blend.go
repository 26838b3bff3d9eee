package light

import (
	"math"
	"slices"

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
	switch {
	case share <= 0 || c == to:
		return c
	case share >= 1:
		return to
	}
	a, b := c.tone()
	toA, toB := to.tone()
	return ofTone(a+(toA-a)*share, b+(toB-b)*share)
}

// Around returns the chromaticity at a share of the way from one to another around the circle of hues, the shorter way, in OKLCh:
// unlike [XY.Between] it does not go through white where the two are opposite each other.
func (c XY) Around(to XY, share float64) XY {
	switch {
	case share <= 0 || c == to:
		return c
	case share >= 1:
		return to
	}
	a, b := c.tone()
	toA, toB := to.tone()
	from, end := math.Atan2(b, a), math.Atan2(toB, toA)
	way := math.Remainder(end-from, 2*math.Pi)
	hue := from + way*share
	chroma := math.Hypot(a, b) + (math.Hypot(toA, toB)-math.Hypot(a, b))*share
	return ofTone(chroma*math.Cos(hue), chroma*math.Sin(hue))
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

// Tones returns at most so many colors that stand for those of a picture, the most frequent first: the middles of groups of pixels
// that look alike (Lloyd's algorithm in OKLab, begun with the pixels that are farthest from each other, so that the same picture always
// gives the same). Pixels are sRGB, each part from 0 to 255. What is nearly black says nothing of a light and is passed over.
func Tones(pixels [][3]uint8, most int) []XY {
	type point struct{ l, a, b float64 }
	var points []point
	for _, p := range pixels {
		c := colorful.Color{R: float64(p[0]) / 255, G: float64(p[1]) / 255, B: float64(p[2]) / 255}
		if l, a, b := c.OkLab(); l > darkest {
			points = append(points, point{l, a, b})
		}
	}
	if len(points) == 0 || most <= 0 {
		return nil
	}
	apart := func(p, q point) float64 { return math.Hypot(math.Hypot(p.a-q.a, p.b-q.b), (p.l-q.l)/2) } // tone counts more than lightness
	var middle point
	for _, p := range points {
		middle.l, middle.a, middle.b = middle.l+p.l, middle.a+p.a, middle.b+p.b
	}
	n := float64(len(points))
	middle = point{middle.l / n, middle.a / n, middle.b / n}
	farthest := func(from []point) (point, float64) {
		best, most := points[0], -1.0
		for _, p := range points {
			least := math.Inf(1)
			for _, f := range from {
				least = min(least, apart(p, f))
			}
			if least > most {
				best, most = p, least
			}
		}
		return best, most
	}
	first, _ := farthest([]point{middle})
	middles := []point{first}
	for len(middles) < most {
		next, far := farthest(middles)
		if far < alike {
			break
		}
		middles = append(middles, next)
	}
	counts := make([]int, len(middles))
	for range rounds {
		sums := make([]point, len(middles))
		clear(counts)
		for _, p := range points {
			best := 0
			for i := range middles {
				if apart(p, middles[i]) < apart(p, middles[best]) {
					best = i
				}
			}
			sums[best] = point{sums[best].l + p.l, sums[best].a + p.a, sums[best].b + p.b}
			counts[best]++
		}
		for i, s := range sums {
			if n := float64(counts[i]); n > 0 {
				middles[i] = point{s.l / n, s.a / n, s.b / n}
			}
		}
	}
	order := make([]int, len(middles))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(i, j int) int { return counts[j] - counts[i] })
	var tones []XY
	for _, i := range order {
		if counts[i] > 0 {
			tones = append(tones, chromaticityOf(colorful.OkLabToXyz(middles[i].l, middles[i].a, middles[i].b)))
		}
	}
	return tones
}

const (
	// darkest is the lightness of OKLab below which a pixel says nothing of a light.
	darkest = 0.15
	// alike is how far two colors of a picture are apart that are told apart at least.
	alike = 0.04
	// rounds is how often the middles of groups of pixels are worked out.
	rounds = 12
)

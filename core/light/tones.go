package light

import (
	"math"
	"slices"

	"github.com/lucasb-eyer/go-colorful"
)

const (
	// darkest is the lightness of OKLab below which a pixel says nothing of a light.
	darkest = 0.15
	// alike is how far two colors of a picture are apart that are told apart at least.
	alike = 0.04
	// rounds is how often the middles of groups of pixels are worked out.
	rounds = 12
)

// Tones returns at most so many colors that stand for those of a picture, the most frequent first: the middles of groups of pixels
// that look alike (Lloyd's algorithm in OKLab, begun with the pixels that are farthest from each other, so that the same picture always
// gives the same). Pixels are sRGB, each part from 0 to 255. What is nearly black says nothing of a light and is passed over.
func Tones(pixels [][3]uint8, most int) []XY {
	var points []shade
	for _, p := range pixels {
		c := colorful.Color{R: float64(p[0]) / 255, G: float64(p[1]) / 255, B: float64(p[2]) / 255}
		if l, a, b := c.OkLab(); l > darkest {
			points = append(points, shade{l, a, b})
		}
	}
	if len(points) == 0 || most <= 0 {
		return nil
	}
	middles := scattered(points, most)
	var counts []int
	for range rounds {
		middles, counts = gathered(points, middles)
	}
	order := make([]int, len(middles))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(i, j int) int { return counts[j] - counts[i] })
	var tones []XY
	for _, i := range order {
		if m := middles[i]; counts[i] > 0 {
			tones = append(tones, chromaticityOf(colorful.OkLabToXyz(m.l, m.a, m.b)))
		}
	}
	return tones
}

// shade is a color of a picture in OKLab.
type shade struct{ l, a, b float64 }

// apart is how different two shades look as tones of a light, of which the lightness counts less.
func (p shade) apart(q shade) float64 {
	return math.Hypot(math.Hypot(p.a-q.a, p.b-q.b), (p.l-q.l)/2)
}

// nearest returns the index of the one of several that is most like it, and how far that is.
func (p shade) nearest(of []shade) (index int, apart float64) {
	apart = math.Inf(1)
	for i := range of {
		if d := p.apart(of[i]); d < apart {
			index, apart = i, d
		}
	}
	return index, apart
}

// mean is the middle of so many shades that add up to a sum.
func (p shade) mean(count int) shade {
	n := float64(count)
	return shade{p.l / n, p.a / n, p.b / n}
}

func (p shade) plus(q shade) shade { return shade{p.l + q.l, p.a + q.a, p.b + q.b} }

// scattered returns at most so many of some shades that are far from each other.
func scattered(points []shade, most int) []shade {
	farthest := func(from []shade) (best shade, far float64) {
		far = -1
		for _, p := range points {
			if _, apart := p.nearest(from); apart > far {
				best, far = p, apart
			}
		}
		return best, far
	}
	var sum shade
	for _, p := range points {
		sum = sum.plus(p)
	}
	first, _ := farthest([]shade{sum.mean(len(points))})
	chosen := []shade{first}
	for len(chosen) < most {
		next, far := farthest(chosen)
		if far < alike {
			break
		}
		chosen = append(chosen, next)
	}
	return chosen
}

// gathered returns the middles of the shades that are nearest to each of some middles, and how many those are; where there are none, a
// middle stays.
func gathered(points, middles []shade) (moved []shade, counts []int) {
	moved, counts = slices.Clone(middles), make([]int, len(middles))
	sums := make([]shade, len(middles))
	for _, p := range points {
		i, _ := p.nearest(middles)
		sums[i] = sums[i].plus(p)
		counts[i]++
	}
	for i, count := range counts {
		if count > 0 {
			moved[i] = sums[i].mean(count)
		}
	}
	return moved, counts
}

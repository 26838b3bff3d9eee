package light

import "math"

// Gamut is what a lamp can show: the triangle of its three primaries.
type Gamut [3]XY

// SRGB is the gamut of sRGB (IEC 61966-2-1).
var SRGB = Gamut{{0.64, 0.33}, {0.30, 0.60}, {0.15, 0.06}}

// onEdge is how far outside a point may lie, by rounding, and still count as shown.
const onEdge = 1e-9

// side is above 0 where c lies to the left of the way from a to b.
func side(a, b, c XY) float64 { return (b.X-a.X)*(c.Y-a.Y) - (b.Y-a.Y)*(c.X-a.X) }

// Shows reports whether the lamp can show a chromaticity.
func (g Gamut) Shows(c XY) bool {
	if math.Abs(side(g[0], g[1], g[2])) < onEdge {
		return false // one color, or those along a line: see [Gamut.Nearest]
	}
	left, right := false, false
	for i := range g {
		s := side(g[i], g[(i+1)%len(g)], c)
		left, right = left || s > onEdge, right || s < -onEdge
	}
	return !left || !right
}

// Nearest returns the chromaticity that the lamp can show and that looks least different from another: nearest on the CIE 1976
// uniform chromaticity scale (ISO/CIE 11664-5). Straight lines stay straight on it, so the edges of the triangle are its edges there.
func (g Gamut) Nearest(c XY) XY {
	if g.Shows(c) {
		return c
	}
	u, v := c.UV()
	best, least := c, math.Inf(1)
	for i := range g {
		au, av := g[i].UV()
		bu, bv := g[(i+1)%len(g)].UV()
		du, dv := bu-au, bv-av
		share := 0.0
		if length := du*du + dv*dv; length > 0 {
			share = min(max(((u-au)*du+(v-av)*dv)/length, 0), 1)
		}
		pu, pv := au+share*du, av+share*dv
		if d := math.Hypot(u-pu, v-pv); d < least {
			best, least = fromUV(pu, pv), d
		}
	}
	return best
}

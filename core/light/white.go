package light

import "math"

// The range in which white has a temperature here, in kelvin: from embers to a blue sky.
const (
	Warmest = 1000
	Coolest = 25000
)

// planckian returns u and v of the CIE 1960 scale of a black body at a temperature in kelvin. (Krystek, Color Research and
// Application 10, 1985: rational approximation, within 8·10⁻⁵ of the locus from 1000 to 15,000 K.)
func planckian(kelvin float64) (u, v float64) {
	t := kelvin
	u = (0.860117757 + 1.54118254e-4*t + 1.28641212e-7*t*t) / (1 + 8.42420235e-4*t + 7.08145163e-7*t*t)
	v = (0.317398726 + 4.22806245e-5*t + 4.20481691e-8*t*t) / (1 - 2.89741816e-5*t + 1.61456053e-7*t*t)
	return u, v
}

// OfWhite returns the chromaticity of a black body at a temperature in kelvin, from 1000 to 25,000 and clamped to that range.
func OfWhite(kelvin float64) XY {
	u, v := planckian(min(Coolest, max(Warmest, kelvin)))
	return fromUV(u, v*1.5)
}

// uv1960 returns u and v of the CIE 1960 scale, in which temperatures of white are compared (CIE 15:2018, 9.5).
func (c XY) uv1960() (u, v float64) {
	u, v = c.UV()
	return u, v / 1.5
}

// Temperature returns the correlated color temperature of a chromaticity in kelvin (CIE 15:2018, 9.5) and how far from the black
// body it lies, Duv (ANSI C78.377): greener where it is above 0, pinker where below. Beyond a Duv of 0.05 either way it is no white,
// and the temperature says nothing.
func (c XY) Temperature() (kelvin, duv float64) {
	u, v := c.uv1960()
	distance := func(mired float64) float64 {
		pu, pv := planckian(1e6 / mired)
		return math.Hypot(u-pu, v-pv)
	}
	// The nearest of a grid first: seen from far away, the curve has more than one place that is nearest around it.
	const low, high, steps = 1e6 / Coolest, 1e6 / Warmest, 48
	step := (high - low) / steps
	best := low
	for i := 0; i <= steps; i++ {
		if at := low + float64(i)*step; distance(at) < distance(best) {
			best = at
		}
	}
	// Golden section search between its neighbors; equal steps of reciprocal temperature look about equally large.
	from, to := max(low, best-step), min(high, best+step)
	const golden = 0.6180339887498949
	for to-from > 1e-7 {
		if a, b := to-golden*(to-from), from+golden*(to-from); distance(a) < distance(b) {
			to = b
		} else {
			from = a
		}
	}
	mired := (from + to) / 2
	duv = distance(mired)
	if _, pv := planckian(1e6 / mired); v < pv {
		duv = -duv
	}
	return 1e6 / mired, duv
}

// NearestWhite returns the temperature of the white that looks most like a chromaticity, within a lamp's range in kelvin.
func (c XY) NearestWhite(warmest, coolest float64) float64 {
	kelvin, _ := c.Temperature()
	return min(max(kelvin, warmest), coolest)
}

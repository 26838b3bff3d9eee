package light

import "math"

// Where the cube root of the CIE 1976 lightness function begins (ISO/CIE 11664-4).
const (
	labKappa   = 24389.0 / 27
	labEpsilon = 216.0 / 24389
	fullLight  = 100
)

// Luminance returns the share of full light that looks like a share of full lightness, both from 0 to 1: the inverse of CIE 1976
// lightness L* (ISO/CIE 11664-4).
func Luminance(lightness float64) float64 {
	l := lightness * fullLight
	if l <= labKappa*labEpsilon {
		return l / labKappa
	}
	f := (l + 16) / 116
	return f * f * f
}

// Lightness is what [Luminance] undoes: how light a share of full light looks.
func Lightness(luminance float64) float64 {
	if luminance <= labEpsilon {
		return labKappa * luminance / fullLight
	}
	return (116*math.Cbrt(luminance) - 16) / fullLight
}

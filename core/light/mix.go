package light

import "math"

// Emitter is one of the sources of light in a lamp: its chromaticity, and how much light it gives when it is driven fully, in any
// unit that is the same for all of them.
type Emitter struct {
	XY
	Flux float64
}

// MixWhites returns how far a warm and a cool white are to be driven, each from 0 to 1, so that together they look like a
// temperature in kelvin as nearly as they can, at a share of the most light that they give at that temperature.
func MixWhites(warm, cool Emitter, kelvin, level float64) (warmDrive, coolDrive float64) {
	// The share of the light that comes from the cool one. Their mixture lies on the line between them (Grassmann's laws,
	// ISO/CIE 11664-3), on which the temperature only rises.
	from, to := 0.0, 1.0
	for range 60 {
		share := (from + to) / 2
		if at, _ := mixed(warm.XY, cool.XY, share).Temperature(); at < kelvin {
			from = share
		} else {
			to = share
		}
	}
	share := (from + to) / 2
	warmDrive, coolDrive = (1-share)/warm.Flux, share/cool.Flux
	full := max(warmDrive, coolDrive)
	return warmDrive / full * level, coolDrive / full * level
}

// mixed returns the chromaticity of two lights, a share of whose luminance comes from the second.
func mixed(a, b XY, share float64) XY {
	ax, ay, az := a.Tristimulus(1 - share)
	bx, by, bz := b.Tristimulus(share)
	return chromaticityOf(ax+bx, ay+by, az+bz)
}

// Separate returns how far three primaries and a white are to be driven, each from 0 to 1, so that together they have a
// chromaticity, at a share of the most light that they give of it. As much as can be comes from the white one, which gives the most
// light for its power. What the primaries cannot show is brought to what looks least different.
func Separate(wanted XY, level float64, primaries [3]Emitter, white Emitter) (drives [3]float64, whiteDrive float64) {
	wanted = Gamut{primaries[0].XY, primaries[1].XY, primaries[2].XY}.Nearest(wanted)
	all := solve(primaries, wanted, 1) // the light of each primary that makes it alone
	per := solve(primaries, white.XY, 1)
	most := math.Inf(1) // of the white: as much as leaves no primary below nothing
	for i := range all {
		if per[i] > 1e-12 {
			most = min(most, all[i]/per[i])
		}
	}
	whiteLight := max(0, min(most, 1))
	full := whiteLight / white.Flux
	for i := range all {
		drives[i] = max(0, all[i]-whiteLight*per[i]) / primaries[i].Flux
		full = max(full, drives[i])
	}
	for i := range drives {
		drives[i] *= level / full
	}
	return drives, whiteLight / white.Flux * level / full
}

// solve returns how much light of each of three primaries makes a chromaticity at a luminance; less than nothing where they cannot
// (Cramer's rule).
func solve(primaries [3]Emitter, c XY, luminance float64) (light [3]float64) {
	var columns [3][3]float64
	for i, p := range primaries {
		columns[i][0], columns[i][1], columns[i][2] = p.Tristimulus(1)
	}
	var wanted [3]float64
	wanted[0], wanted[1], wanted[2] = c.Tristimulus(luminance)
	whole := determinant(columns)
	for i := range light {
		replaced := columns
		replaced[i] = wanted
		light[i] = determinant(replaced) / whole
	}
	return light
}

func determinant(c [3][3]float64) float64 {
	return c[0][0]*(c[1][1]*c[2][2]-c[1][2]*c[2][1]) - c[1][0]*(c[0][1]*c[2][2]-c[0][2]*c[2][1]) + c[2][0]*(c[0][1]*c[1][2]-c[0][2]*c[1][1])
}

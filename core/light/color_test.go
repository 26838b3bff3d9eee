package light_test

import (
	"math"
	"testing"

	"github.com/lucasb-eyer/go-colorful"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/light"
	"amvek/core/thing"
)

// shown draws a chromaticity that a gamut shows.
func shown(t *rapid.T, g light.Gamut) light.XY {
	share := rapid.Float64Range(0, 1)
	a, b := share.Draw(t, "one share"), share.Draw(t, "other share")
	if a+b > 1 {
		a, b = 1-a, 1-b
	}
	return light.XY{
		X: g[0].X + a*(g[1].X-g[0].X) + b*(g[2].X-g[0].X),
		Y: g[0].Y + a*(g[1].Y-g[0].Y) + b*(g[2].Y-g[0].Y),
	}
}

// differs is the CIEDE2000 difference of two chromaticities at the same luminance.
func differs(a, b light.XY) float64 {
	color := func(c light.XY) colorful.Color { return colorful.Xyz(c.Tristimulus(0.5)) }
	return color(a).DistanceCIEDE2000(color(b)) * 100
}

// Points of the Planckian locus (CIE 15:2004, table T.3).
func TestWhitesAreBlackBodies(t *testing.T) {
	for _, c := range []struct{ kelvin, x, y float64 }{
		{1000, 0.6528, 0.3444}, {2000, 0.5267, 0.4133}, {2700, 0.4599, 0.4106}, {4000, 0.3805, 0.3768}, {6500, 0.3135, 0.3237}, {10000, 0.2807, 0.2884},
	} {
		at := light.OfWhite(c.kelvin)
		assert.InDelta(t, c.x, at.X, 0.0005, c.kelvin)
		assert.InDelta(t, c.y, at.Y, 0.0005, c.kelvin)
	}
	assert.Equal(t, light.OfWhite(light.Warmest), light.OfWhite(3))
	assert.Equal(t, light.OfWhite(light.Coolest), light.OfWhite(1e9))
}

// The standard illuminants and some of the fluorescent ones (CIE 15:2018, tables 5 and 10; ISO/CIE 11664-2). Duv after Ohno, LEUKOS 10
// (2014): D65 and D50 are a little greener than a black body, the equal-energy one a little pinker.
func TestTemperaturesOfStandardIlluminants(t *testing.T) {
	for _, c := range []struct {
		name              string
		x, y, kelvin, duv float64
	}{
		{"A", 0.44758, 0.40745, 2856, 0}, {"D50", 0.34567, 0.35851, 5001, 0.0032}, {"D55", 0.33243, 0.34744, 5501, 0.0033},
		{"D65", 0.31272, 0.32903, 6502, 0.0032}, {"D75", 0.29903, 0.31488, 7505, 0.0031}, {"E", 1.0 / 3, 1.0 / 3, 5455, -0.0044},
		{"FL2", 0.37208, 0.37529, 4225, 0.0018}, {"FL11", 0.38052, 0.37713, 3999, 0.0001},
	} {
		kelvin, duv := light.XY{X: c.x, Y: c.y}.Temperature()
		assert.InEpsilon(t, c.kelvin, kelvin, 0.002, c.name)
		assert.InDelta(t, c.duv, duv, 0.0004, c.name)
	}
}

func TestATemperatureComesBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		mired := rapid.Float64Range(1e6/light.Coolest, 1e6/light.Warmest).Draw(t, "mired")
		kelvin, duv := light.OfWhite(1e6 / mired).Temperature()
		require.InDelta(t, mired, 1e6/kelvin, 0.05)
		require.InDelta(t, 0, duv, 1e-5)
	})
	assert.Equal(t, 4000.0, light.OfWhite(2000).NearestWhite(4000, 6000), "as near as the lamp can")
}

// The uniform chromaticity of D65 and of the sRGB primaries.
func TestTheUniformScale(t *testing.T) {
	for _, c := range []struct {
		of   light.XY
		u, v float64
	}{{light.White, 0.1978, 0.4683}, {light.SRGB[0], 0.4507, 0.5229}, {light.SRGB[1], 0.1250, 0.5625}, {light.SRGB[2], 0.1754, 0.1579}} {
		u, v := c.of.UV()
		assert.InDelta(t, c.u, u, 0.0001)
		assert.InDelta(t, c.v, v, 0.0001)
	}
}

func TestLightnessIsThatOfCIE1976(t *testing.T) {
	for _, c := range []struct{ luminance, lightness float64 }{{0, 0}, {0.001, 0.0090}, {0.01, 0.0899}, {0.1842, 0.5}, {0.5, 0.7607}, {1, 1}} {
		assert.InDelta(t, c.lightness, light.Lightness(c.luminance), 0.0001)
	}
	rapid.Check(t, func(t *rapid.T) {
		l := rapid.Float64Range(0, 1).Draw(t, "lightness")
		require.InDelta(t, l, light.Lightness(light.Luminance(l)), 1e-9)
	})
}

func TestHueAndSaturation(t *testing.T) {
	for hue, c := range map[float64]light.XY{0: light.SRGB[0], 120: light.SRGB[1], 240: light.SRGB[2]} {
		h, s := c.HueSaturation()
		assert.InDelta(t, 0, math.Remainder(h-hue, 360), 0.2)
		assert.InDelta(t, 100, s, 0.2)
	}
	_, s := light.White.HueSaturation()
	assert.InDelta(t, 0, s, 0.3)
	assert.Equal(t, light.FromHueSaturation(30, 50), light.FromHueSaturation(390, 50))
	assert.Equal(t, light.FromHueSaturation(30, 100), light.FromHueSaturation(30, 5000))
	rapid.Check(t, func(t *rapid.T) {
		c := shown(t, light.SRGB)
		require.Less(t, differs(c, light.FromHueSaturation(c.HueSaturation())), 0.05)
	})
}

func TestWhatALampCannotShowBecomesWhatLooksLeastDifferent(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := shown(t, light.SRGB)
		require.True(t, light.SRGB.Shows(in))
		require.Equal(t, in, light.SRGB.Nearest(in))
		out := light.XY{X: rapid.Float64Range(0.01, 0.73).Draw(t, "x"), Y: rapid.Float64Range(0.01, 0.83).Draw(t, "y")}
		near := light.SRGB.Nearest(out)
		require.True(t, light.SRGB.Nearest(near).Apart(near) < 1e-6)
		require.LessOrEqual(t, out.Apart(near), out.Apart(in)+1e-9, "nothing that it shows is nearer")
	})
	point := light.Gamut{light.White, light.White, light.White}
	assert.InDelta(t, 0, point.Nearest(light.SRGB[0]).Apart(light.White), 1e-9, "a lamp of one color shows that")
}

func TestTwoWhitesMakeTheTemperaturesBetweenThem(t *testing.T) {
	warm, cool := light.Emitter{XY: light.OfWhite(2200), Flux: 600}, light.Emitter{XY: light.OfWhite(6500), Flux: 1000}
	rapid.Check(t, func(t *rapid.T) {
		kelvin, level := rapid.Float64Range(1500, 8000).Draw(t, "kelvin"), rapid.Float64Range(0.01, 1).Draw(t, "level")
		w, c := light.MixWhites(warm, cool, kelvin, level)
		require.InDelta(t, level, max(w, c), 1e-9)
		require.GreaterOrEqual(t, min(w, c), 0.0)
		at := together([]light.Emitter{warm, cool}, []float64{w, c})
		got, duv := at.Temperature()
		require.InEpsilon(t, min(max(kelvin, 2200), 6500), got, 0.002)
		require.LessOrEqual(t, duv, 1e-4, "between two whites it is a little pinker than a black body")
	})
}

// together is the chromaticity of emitters that are driven so far.
func together(all []light.Emitter, drives []float64) light.XY {
	var x, y, z float64
	for i, e := range all {
		dx, dy, dz := e.Tristimulus(drives[i] * e.Flux)
		x, y, z = x+dx, y+dy, z+dz
	}
	return light.XY{X: x / (x + y + z), Y: y / (x + y + z)}
}

func TestPrimariesAndWhiteMakeEachColorOfTheirTriangle(t *testing.T) {
	primaries := [3]light.Emitter{{XY: light.XY{X: 0.69, Y: 0.30}, Flux: 60}, {XY: light.XY{X: 0.17, Y: 0.70}, Flux: 140}, {XY: light.XY{X: 0.14, Y: 0.05}, Flux: 25}}
	gamut := light.Gamut{primaries[0].XY, primaries[1].XY, primaries[2].XY}
	white := light.Emitter{XY: light.OfWhite(4000), Flux: 400}
	rapid.Check(t, func(t *rapid.T) {
		c := shown(t, gamut)
		level := rapid.Float64Range(0.01, 1).Draw(t, "level")
		d, w := light.Separate(c, level, primaries, white)
		drives := append(d[:], w)
		for _, one := range drives {
			require.GreaterOrEqual(t, one, 0.0)
			require.LessOrEqual(t, one, level+1e-9)
		}
		require.Less(t, c.Apart(together(append(primaries[:], white), drives)), 1e-6)
		least := math.Inf(1)
		for _, one := range d {
			least = min(least, one)
		}
		require.True(t, least < 1e-9 || w == 0, "as much as can be comes from the white one")
	})
	d, w := light.Separate(white.XY, 1, primaries, white)
	assert.InDelta(t, 1, w, 1e-9)
	assert.InDelta(t, 0, d[0]+d[1]+d[2], 1e-6)
}

func TestFadesAreEvenAndEndWhereTheyShould(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a, b := shown(t, light.SRGB), shown(t, light.SRGB)
		require.Equal(t, a, a.Between(b, 0))
		require.Equal(t, b, a.Between(b, 1))
		share := rapid.Float64Range(0, 1).Draw(t, "share")
		whole := a.Contrast(b)
		require.InDelta(t, share*whole, a.Contrast(a.Between(b, share)), 5e-4+whole*1e-3) // the published matrices are inverse to four digits
		require.InDelta(t, 0, a.Contrast(a.Between(a, share)), 1e-9)
		around := a.Around(b, share)
		require.False(t, math.IsNaN(around.X+around.Y))
		require.InDelta(t, 0, b.Contrast(a.Around(b, 0.999999)), 1e-3)
	})
	red, cyan := light.SRGB[0], light.FromHueSaturation(180, 100)
	_, through := red.Between(cyan, 0.5).HueSaturation()
	_, around := red.Around(cyan, 0.5).HueSaturation()
	assert.Less(t, through, around, "opposite colors meet near white, and around the circle they stay colors")
}

func TestAPaletteIsSpreadEvenly(t *testing.T) {
	palette := []light.XY{light.SRGB[0], light.FromHueSaturation(40, 90), light.FromHueSaturation(200, 80)}
	assert.Equal(t, palette, light.Spread(palette, 3))
	assert.Equal(t, []light.XY{palette[0], palette[2]}, light.Spread(palette, 2))
	many := light.Spread(palette, 9)
	assert.Equal(t, palette[0], many[0])
	assert.InDelta(t, 0, many[8].Contrast(palette[2]), 1e-9)
	whole := palette[0].Contrast(palette[1]) + palette[1].Contrast(palette[2])
	for i := 1; i < len(many); i++ {
		assert.LessOrEqual(t, many[i-1].Contrast(many[i]), whole/8+1e-3)
	}
	assert.Equal(t, []light.XY{palette[1], palette[1]}, light.Spread(palette[1:2], 2), "of one color, all have it")
	assert.Equal(t, []light.XY{light.White}, light.Spread(nil, 1))
	assert.Empty(t, light.Spread(palette, 0))
	same := []light.XY{palette[0], palette[0]}
	assert.Equal(t, palette[0], light.Along(same, 0.5), "a palette without a way")
}

func TestTheTonesOfAPicture(t *testing.T) {
	var pixels [][3]uint8
	add := func(n int, r, g, b uint8) {
		for i := range n {
			wobble := uint8(i % 5)
			pixels = append(pixels, [3]uint8{r - wobble, g + wobble, b})
		}
	}
	add(60, 240, 120, 20) // a sunset
	add(30, 30, 60, 200)  // over the sea
	add(500, 5, 4, 6)     // at night
	tones := light.Tones(pixels, 5)
	require.Len(t, tones, 2, "what is alike is one, and what is black is none")
	hue, _ := tones[0].HueSaturation()
	assert.InDelta(t, 28, hue, 6, "the most frequent first")
	hue, _ = tones[1].HueSaturation()
	assert.InDelta(t, 230, hue, 12)
	assert.Equal(t, tones, light.Tones(pixels, 5), "the same picture gives the same")
	assert.Empty(t, light.Tones(nil, 5))
	assert.Empty(t, light.Tones(pixels, 0))
	assert.Len(t, light.Tones(pixels, 1), 1)
}

func TestSwatchKeepsTheTone(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		hex := "#" + rapid.StringMatching(`[0-9a-f]{6}`).Draw(t, "color")
		c, ok := light.FromSwatch(hex)
		if !ok {
			return
		}
		again, ok := light.FromSwatch(light.Swatch(c))
		require.True(t, ok)
		require.Less(t, math.Hypot(again.X-c.X, again.Y-c.Y), 0.03, hex)
	})
	assert.Equal(t, "#ffffff", light.Swatch(light.White), "D65 is white in sRGB")
	_, ok := light.FromSwatch("#000000")
	assert.False(t, ok, "black has no tone")
	assert.Equal(t, light.XY{X: 0.3, Y: 0.4}, light.Of(thing.Color(0.3, 0.4)))
	assert.Equal(t, thing.Color(0.3, 0.4), light.XY{X: 0.3, Y: 0.4}.Value())
}

// A color through every form and back: what is lost is not seen. The largest difference is measured as color_delta_e_max.
func TestColorsComeBackFromEveryForm(t *testing.T) {
	worst := 0.0
	const steps = 60
	for i := range steps {
		for j := range steps - i {
			a, b := (float64(i)+0.5)/steps, (float64(j)+0.5)/steps
			g := light.SRGB
			c := light.XY{X: g[0].X + a*(g[1].X-g[0].X) + b*(g[2].X-g[0].X), Y: g[0].Y + a*(g[1].Y-g[0].Y) + b*(g[2].Y-g[0].Y)}
			back := light.FromHueSaturation(c.HueSaturation())
			worst = max(worst, differs(c, back), differs(c, c.Between(light.White, 1e-12)))
		}
	}
	assert.Less(t, worst, 0.5)
}

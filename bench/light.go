package main

import (
	"github.com/lucasb-eyer/go-colorful"

	"amvek/core/light"
)

// measureLight measures by how much a color differs, to the eye, that went through each form in which devices have it and back.
func measureLight() []figure {
	const steps = 200
	worst := 0.0
	g := light.SRGB
	for i := range steps {
		for j := range steps - i {
			a, b := (float64(i)+0.5)/steps, (float64(j)+0.5)/steps
			c := light.XY{X: g[0].X + a*(g[1].X-g[0].X) + b*(g[2].X-g[0].X), Y: g[0].Y + a*(g[1].Y-g[0].Y) + b*(g[2].Y-g[0].Y)}
			for _, back := range []light.XY{light.FromHueSaturation(c.HueSaturation()), c.Between(light.White, 1e-9)} {
				worst = max(worst, difference(c, back))
			}
			if swatch, is := light.FromSwatch(light.Swatch(c)); is {
				worst = max(worst, difference(c, swatch)) // eight bits a part
			}
		}
	}
	return []figure{{Name: "color_delta_e_max", Value: worst, Unit: "ΔE00"}}
}

// difference is the CIEDE2000 difference of two chromaticities at half luminance (ISO/CIE 11664-6).
func difference(a, b light.XY) float64 {
	color := func(c light.XY) colorful.Color { return colorful.Xyz(c.Tristimulus(0.5)) }
	return color(a).DistanceCIEDE2000(color(b)) * 100
}

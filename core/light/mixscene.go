package light

import (
	"math"
	"slices"

	"amvek/core/thing"
)

// MixScenes returns values between those of two scenes: share 0 is the first, 1 the second. How bright is mixed evenly to the eye,
// white by reciprocal temperature, colors in OKLab; a white and a color of one lamp become a color. What cannot be between, such as on
// and off, is as in the scene that is nearer. What only one of them sets is as there. Formulas and day curves count as what they
// have come to.
func MixScenes(a, b []Target, share float64, property func(device, name string) *thing.Property) (mixed []Target) {
	share = min(max(share, 0), 1)
	nearer := func(x, y thing.Value) thing.Value {
		if share < 0.5 {
			return x
		}
		return y
	}
	sets := func(all []Target, device string, role thing.Role) *Target {
		for i := range all {
			if p := property(all[i].Device, all[i].Property); all[i].Device == device && p != nil && p.Role == role {
				return &all[i]
			}
		}
		return nil
	}
	for _, t := range a {
		t = Target{Device: t.Device, Property: t.Property, Value: t.Value}
		p := property(t.Device, t.Property)
		if p == nil {
			continue
		}
		other := slices.IndexFunc(b, func(x Target) bool { return x.Device == t.Device && x.Property == t.Property })
		switch {
		case other >= 0 && p.Type == thing.TypeNumber && t.Value.Kind == thing.KindNumber && b[other].Value.Kind == thing.KindNumber:
			t.Value = thing.Number(mixedNumber(p, t.Value.Number, b[other].Value.Number, share))
		case other >= 0 && t.Value.Kind == thing.KindColor && b[other].Value.Kind == thing.KindColor:
			t.Value = Of(t.Value).Between(Of(b[other].Value), share).rounded().Value()
		case other >= 0:
			t.Value = nearer(t.Value, b[other].Value)
		case p.Role == thing.RoleColorTemperature && sets(b, t.Device, thing.RoleColor) != nil:
			of := sets(b, t.Device, thing.RoleColor)
			t.Property, t.Value = of.Property, OfWhite(t.Value.Number).Between(Of(of.Value), share).rounded().Value()
		case p.Role == thing.RoleColor && sets(b, t.Device, thing.RoleColorTemperature) != nil:
			of := sets(b, t.Device, thing.RoleColorTemperature)
			t.Value = Of(t.Value).Between(OfWhite(of.Value.Number), share).rounded().Value()
		}
		mixed = append(mixed, t)
	}
	for _, t := range b {
		p := property(t.Device, t.Property)
		there := slices.ContainsFunc(mixed, func(x Target) bool { return x.Device == t.Device && x.Property == t.Property })
		if p == nil || there || TrackOf(p) == WhiteTrack && (sets(mixed, t.Device, thing.RoleColor) != nil || sets(mixed, t.Device, thing.RoleColorTemperature) != nil) {
			continue
		}
		mixed = append(mixed, Target{Device: t.Device, Property: t.Property, Value: t.Value})
	}
	return mixed
}

// mixedNumber is between two values of a property, on the scale on which equal steps of it look equally large, as the property takes it.
func mixedNumber(p *thing.Property, a, b, share float64) float64 {
	var v float64
	switch p.Role {
	case thing.RoleBrightness:
		of := func(x float64) float64 { return Lightness((x - p.Minimum) / (p.Maximum - p.Minimum)) }
		v = p.Minimum + Luminance(of(a)+(of(b)-of(a))*share)*(p.Maximum-p.Minimum)
	case thing.RoleColorTemperature:
		v = 1e6 / (1e6/a + (1e6/b-1e6/a)*share)
	default:
		v = a + (b-a)*share
	}
	if grain := p.Resolution; grain > 0 {
		v = p.Minimum + math.Round((v-p.Minimum)/grain)*grain
	}
	if p.Limited() {
		v = min(max(v, p.Minimum), p.Maximum)
	}
	return v
}

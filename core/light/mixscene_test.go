package light_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"amvek/core/light"
	"amvek/core/thing"
)

// mixable are the properties of a lamp of colors and whites, and a switch.
func mixable(_, name string) *thing.Property {
	switch name {
	case "brightness":
		return &thing.Property{Name: name, Role: thing.RoleBrightness, Type: thing.TypeNumber, Maximum: 100, Resolution: 1, Writable: true}
	case "white":
		return &thing.Property{Name: name, Role: thing.RoleColorTemperature, Type: thing.TypeNumber, Minimum: 2200, Maximum: 6500, Resolution: 1, Writable: true}
	case "color":
		return &thing.Property{Name: name, Role: thing.RoleColor, Type: thing.TypeColor, Writable: true}
	case "power":
		return &thing.Property{Name: name, Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true}
	}
	return nil
}

func set(device, property string, v thing.Value) light.Target {
	return light.Target{Device: device, Property: property, Value: v}
}

func TestTwoScenesAreMixed(t *testing.T) {
	a := []light.Target{
		set("a", "brightness", thing.Number(100)), set("a", "white", thing.Number(4000)), set("s", "power", thing.Boolean(true)),
		set("c", "white", thing.Number(2700)), set("d", "brightness", thing.Number(30)), set("gone", "none", thing.Number(1)),
	}
	b := []light.Target{
		set("a", "brightness", thing.Number(0)), set("a", "white", thing.Number(2400)), set("s", "power", thing.Boolean(false)),
		set("c", "color", light.SRGB[0].Value()), set("e", "brightness", thing.Number(70)),
	}
	at := func(share float64) map[string]thing.Value {
		all := map[string]thing.Value{}
		for _, x := range light.MixScenes(a, b, share, mixable) {
			all[x.Device+" "+x.Property] = x.Value
		}
		return all
	}
	half := at(0.5)
	assert.Equal(t, thing.Number(18), half["a brightness"], "half as light to the eye")
	assert.Equal(t, thing.Number(3000), half["a white"])
	assert.Equal(t, thing.Number(30), half["d brightness"], "what only one sets is as there")
	assert.Equal(t, thing.Number(70), half["e brightness"])
	assert.NotContains(t, half, "c white", "a white and a color become a color")
	assert.Greater(t, half["c color"].Number, light.OfWhite(2700).X)
	assert.Less(t, half["c color"].Number, light.SRGB[0].X)
	assert.Equal(t, thing.Boolean(true), at(0.4)["s power"], "what cannot be between is as in the nearer one")
	assert.Equal(t, thing.Boolean(false), at(0.6)["s power"])
	assert.NotContains(t, half, "gone none")
}

// At its ends a mixture is one of the two, and in between never brighter than both, nor darker.
func TestMixturesLieBetweenLaw(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		level := rapid.IntRange(0, 100)
		x, y := float64(level.Draw(t, "a")), float64(level.Draw(t, "b"))
		share := rapid.Float64Range(0, 1).Draw(t, "share")
		a, b := []light.Target{set("a", "brightness", thing.Number(x))}, []light.Target{set("a", "brightness", thing.Number(y))}
		assert.Equal(t, a, light.MixScenes(a, b, 0, mixable))
		assert.Equal(t, b, light.MixScenes(a, b, 1, mixable))
		v := light.MixScenes(a, b, share, mixable)[0].Value.Number
		assert.GreaterOrEqual(t, v, min(x, y))
		assert.LessOrEqual(t, v, max(x, y))
	})
}

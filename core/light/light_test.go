package light_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/light"
	"amvek/core/thing"
)

// Points of the Planckian locus, CIE 15:2004 table T.3 to within the approximation's error.
func TestChromaticityOfBlackBodies(t *testing.T) {
	for _, c := range []struct{ kelvin, x, y float64 }{{2000, 0.5267, 0.4133}, {2700, 0.4599, 0.4106}, {4000, 0.3805, 0.3768}, {6500, 0.3135, 0.3237}} {
		x, y := light.Chromaticity(c.kelvin)
		assert.InDelta(t, c.x, x, 0.002, c.kelvin)
		assert.InDelta(t, c.y, y, 0.002, c.kelvin)
	}
}

func TestSwatchKeepsTheTone(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		hex := "#" + rapid.StringMatching(`[0-9a-f]{6}`).Draw(t, "color")
		x, y, ok := light.FromSwatch(hex)
		if !ok {
			return
		}
		again, bgain, ok := light.FromSwatch(light.Swatch(x, y))
		require.True(t, ok)
		require.Less(t, math.Hypot(again-x, bgain-y), 0.03, hex)
	})
	assert.Equal(t, "#ffffff", light.Swatch(0.3127, 0.3290), "D65 is white in sRGB")
	_, _, ok := light.FromSwatch("#000000")
	assert.False(t, ok, "black has no tone")
}

func TestCaptureKeepsOnlyWhatMatters(t *testing.T) {
	brightness := &thing.Property{Name: "brightness", Role: thing.RoleBrightness, Writable: true}
	tone := &thing.Property{Name: "colorTemperature", Role: thing.RoleColorTemperature, Writable: true}
	sensor := &thing.Property{Name: "light", Role: thing.RoleIlluminance}
	targets := light.Capture([]light.Captured{
		{Device: "off", Property: brightness, Value: thing.Number(0)}, {Device: "off", Property: tone, Value: thing.Number(2700)},
		{Device: "on", Property: brightness, Value: thing.Number(40)}, {Device: "on", Property: tone, Value: thing.Number(2400)},
		{Device: "unheard", Property: brightness}, {Device: "eye", Property: sensor, Value: thing.Number(3)},
	})
	assert.Equal(t, []light.Target{
		{Device: "off", Property: "brightness", Value: thing.Number(0)},
		{Device: "on", Property: "brightness", Value: thing.Number(40)}, {Device: "on", Property: "colorTemperature", Value: thing.Number(2400)},
	}, targets)
}

func TestSceneCheckNamesTheTarget(t *testing.T) {
	lookup := func(device, _ string) *thing.Property {
		switch device {
		case "lamp":
			return &thing.Property{Title: "Brightness", Type: thing.TypeNumber, Maximum: 100, Writable: true}
		case "eye":
			return &thing.Property{Title: "Light", Type: thing.TypeNumber}
		}
		return nil
	}
	good := light.Target{Device: "lamp", Property: "brightness", Value: thing.Number(1)}
	for wrong, scene := range map[string]light.Scene{
		"title:":            {},
		"fadeSeconds:":      {Title: "x", FadeSeconds: -1},
		"targets[1]: this":  {Title: "x", Targets: []light.Target{good, good}},
		"targets[0]: there": {Title: "x", Targets: []light.Target{{Device: "attic"}}},
		"read but not set":  {Title: "x", Targets: []light.Target{{Device: "eye", Value: thing.Number(1)}}},
		"from 0 to 100":     {Title: "x", Targets: []light.Target{{Device: "lamp", Property: "brightness", Value: thing.Number(101)}}},
	} {
		assert.ErrorContains(t, scene.Check(lookup), wrong)
	}
	assert.NoError(t, (&light.Scene{Title: "x", Targets: []light.Target{good}}).Check(lookup))
}

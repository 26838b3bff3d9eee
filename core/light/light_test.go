package light_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amvek/core/light"
	"amvek/core/thing"
)

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
		"no such day curve": {Title: "x", Targets: []light.Target{{Device: "lamp", Property: "brightness", Value: thing.Number(1), Curve: "evening"}}},
		"from 0 to 100":     {Title: "x", Targets: []light.Target{{Device: "lamp", Property: "brightness", Value: thing.Number(101)}}},
	} {
		assert.ErrorContains(t, scene.Check(lookup, noCurve), wrong)
	}
	assert.NoError(t, (&light.Scene{Title: "x", Targets: []light.Target{good}}).Check(lookup, noCurve))
}

func noCurve(string) bool { return false }

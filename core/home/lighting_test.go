package home_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"amvek/core/home"
	"amvek/core/thing"
)

func tuned(by *home.Lighting) *home.Device {
	return &home.Device{
		Title: "Lamp", Connection: "c", Hardware: "h", Lighting: by, Description: thing.Description{Properties: []thing.Property{
			{Name: "brightness", Title: "Brightness", Role: thing.RoleBrightness, Type: thing.TypeNumber, Maximum: 100, Writable: true},
			{Name: "white", Title: "White", Role: thing.RoleColorTemperature, Type: thing.TypeNumber, Minimum: 2200, Maximum: 6500, Writable: true},
		}},
	}
}

func TestTheWhitesOfALampAreNarrowedAndAsBeforeAgain(t *testing.T) {
	d := tuned(&home.Lighting{White: &home.WhiteRange{Warmest: 2700, Coolest: 5000}})
	shared := d.Description.Properties
	assert.NoError(t, d.Check())
	d.FitLighting()
	white := d.Description.Property("white")
	assert.Equal(t, [2]float64{2700, 5000}, [2]float64{white.Minimum, white.Maximum})
	assert.Equal(t, thing.Number(5000), white.Narrow(thing.Number(6500)))
	assert.NoError(t, white.Check(thing.Number(6500)), "a scene may say so, and gets the nearest")
	assert.Error(t, white.Check(thing.Number(7000)))
	assert.InDelta(t, 6500, shared[1].Maximum, 0, "who else has the description keeps it")

	d.FitLighting()
	assert.NoError(t, d.Check(), "fitted twice it is the same")
	assert.Equal(t, &thing.NumberRange{Least: 2200, Most: 6500}, d.Description.Property("white").Full)
	d.Lighting = nil
	d.FitLighting()
	assert.Equal(t, tuned(nil), d)
}

func TestHowALampCannotBeDriven(t *testing.T) {
	for place, wrong := range map[string]*home.Lighting{
		"lighting/leastLevel": {LeastLevel: 61}, "lighting/fades": {Fades: "somebody"},
		"fewer kelvins": {White: &home.WhiteRange{Warmest: 5000, Coolest: 5000}},
		"2200 to 6500":  {White: &home.WhiteRange{Warmest: 2000, Coolest: 5000}},
	} {
		assert.ErrorContains(t, tuned(wrong).Check(), place)
	}
	plain := tuned(&home.Lighting{White: &home.WhiteRange{Warmest: 2700, Coolest: 5000}})
	plain.Description.Properties = plain.Description.Properties[:1]
	assert.ErrorContains(t, plain.Check(), "no whites")
	plain.Description.Properties[0].Role = thing.RoleSpeed
	assert.ErrorContains(t, plain.Check(), "no lamp")
}

func TestWhoFadesALamp(t *testing.T) {
	d := tuned(nil)
	level, white := &d.Description.Properties[0], &d.Description.Properties[1]
	assert.True(t, d.FadedByHub(level) && d.FadedByHub(white), "it cannot")
	level.Fades = true
	assert.False(t, d.FadedByHub(level) || d.FadedByHub(white), "it can, with its white")
	d.Lighting = &home.Lighting{Fades: home.ByHub}
	assert.True(t, d.FadedByHub(level) && d.FadedByHub(white))
	d.Lighting = &home.Lighting{Fades: home.ByItself}
	assert.False(t, d.FadedByHub(white))
	assert.False(t, tuned(nil).FadedByHub(&thing.Property{Role: thing.RolePower}))
}

package thing_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/thing"
)

func seeing() thing.Description {
	return thing.Description{Properties: []thing.Property{
		{Name: "motion", Title: "Motion", Role: thing.RoleMotion, Type: thing.TypeBoolean},
		{Name: "light", Title: "Light", Role: thing.RoleIlluminance, Type: thing.TypeNumber, Unit: thing.UnitLux, Maximum: 1000, Resolution: 0.1},
	}}
}

func TestAReadingWithoutTheLampsIsAddedSaidAnewAndTakenAway(t *testing.T) {
	d := seeing()
	assert.Nil(t, d.WithoutLamps("light"))
	require.NoError(t, d.TakeOff(&thing.Without{Of: "light", Lamps: map[string]float64{"lamp": 60}}))
	p := d.WithoutLamps("light")
	require.NotNil(t, p)
	assert.Equal(t, "lightWithoutLamps", p.Name)
	assert.Equal(t, "Light without the lamps", p.Title)
	assert.Equal(t, thing.RoleIlluminance, p.Role)
	assert.False(t, p.Writable)
	require.NoError(t, d.TakeOff(&thing.Without{Of: "light", Lamps: map[string]float64{"lamp": 50}}))
	assert.Len(t, d.Properties, 3, "in its place")
	assert.InDelta(t, 50, d.WithoutLamps("light").Without.Lamps["lamp"], 0)
	require.NoError(t, d.CheckWithout())

	// Described anew, it keeps it as long as the other reading is there.
	anew, other := seeing(), thing.Description{Properties: seeing().Properties[:1]}
	anew.CarryOver(&d)
	assert.NotNil(t, anew.WithoutLamps("light"))
	anew.CarryOver(&d)
	assert.Len(t, anew.Properties, 3, "once")
	other.CarryOver(&d)
	assert.Len(t, other.Properties, 1)

	require.NoError(t, d.TakeOff(&thing.Without{Of: "light"}))
	assert.Len(t, d.Properties, 2)
	require.NoError(t, d.TakeOff(&thing.Without{Of: "light"}), "once more is nothing")
}

func TestWhatCannotBeTakenOff(t *testing.T) {
	lamps := map[string]float64{"lamp": 60}
	for name, wrong := range map[string]thing.Without{
		"no such reading": {Of: "dark", Lamps: lamps}, "no number": {Of: "motion", Lamps: lamps},
		"below nothing": {Of: "light", Lamps: map[string]float64{"lamp": -1}}, "no end": {Of: "light", Lamps: map[string]float64{"lamp": math.Inf(1)}},
		"no number at all": {Of: "light", Lamps: map[string]float64{"lamp": math.NaN()}},
	} {
		d := seeing()
		assert.Error(t, d.TakeOff(&wrong), name)
		assert.Len(t, d.Properties, 2, name)
	}
	d := seeing()
	require.NoError(t, d.TakeOff(&thing.Without{Of: "light", Lamps: lamps}))
	assert.Error(t, d.TakeOff(&thing.Without{Of: "lightWithoutLamps", Lamps: lamps}), "of one that is without them already")
	d.Properties = d.Properties[2:]
	assert.Error(t, d.CheckWithout(), "what it is of is gone")
}

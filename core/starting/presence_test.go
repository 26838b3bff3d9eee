package starting_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/almanac"
	"amvek/core/rule"
	"amvek/core/starting"
	"amvek/core/thing"
)

func TestALightThatComesByItself(t *testing.T) {
	property := func(device, name string) *thing.Property {
		switch device + "/" + name {
		case "eye/motion", "seat/motion":
			return &thing.Property{Name: name, Role: thing.RoleMotion, Type: thing.TypeBoolean}
		case "eye/light":
			return &thing.Property{Name: name, Role: thing.RoleIlluminance, Type: thing.TypeNumber}
		case "lamp/brightness":
			return &thing.Property{Name: name, Role: thing.RoleBrightness, Type: thing.TypeNumber, Maximum: 100, Writable: true}
		case "strip/power":
			return &thing.Property{Name: name, Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true}
		}
		return nil
	}
	lamps := []thing.Ref{{Device: "lamp", Name: "brightness"}, {Device: "strip", Name: "power"}}
	p := starting.Presence{
		Sensors: []thing.Ref{{Device: "eye", Name: "motion"}, {Device: "seat", Name: "motion"}}, Dark: &thing.Ref{Device: "eye", Name: "light"}, Below: 40,
		FromOff: true, Modes: []string{"in"}, Scene: "evening", Seconds: 480,
	}
	r, err := p.Rule("Landing", lamps, property)
	require.NoError(t, err)
	assert.Equal(t, "Landing by itself", r.Title)
	assert.Len(t, r.Whenever.Any, 2, "any of them begins it, and all must be clear")
	require.Len(t, r.Provided.All, 3)
	assert.Equal(t, rule.Above, r.Provided.All[1].None[0].Comparison)
	assert.Equal(t, thing.Boolean(true), r.Provided.All[1].None[1].Value)
	assert.Equal(t, []rule.Step{{Kind: rule.StepHold, Scene: "evening"}}, r.Do)

	night := almanac.Daily{Anchor: almanac.ByClock, Clock: "22:30"}
	p.Parts = []starting.PresencePart{{From: almanac.Daily{Anchor: almanac.BySunset}, To: night, Scene: "late"}, {From: night, To: almanac.Daily{Anchor: almanac.BySunrise}, Scene: "night"}}
	p.FadeSeconds = 30
	r, err = p.Rule("Landing", lamps, property)
	require.NoError(t, err)
	assert.InDelta(t, 30, r.BackFadeSeconds, 0)
	require.Len(t, r.Do, 1)
	assert.Equal(t, &rule.Window{From: p.Parts[0].From, To: night}, r.Do[0].Condition.Between)
	assert.Equal(t, []rule.Step{{Kind: rule.StepHold, Scene: "late"}}, r.Do[0].Then)
	assert.Equal(t, []rule.Step{{Kind: rule.StepHold, Scene: "night"}}, r.Do[0].Else[0].Then)
	assert.Equal(t, []rule.Step{{Kind: rule.StepHold, Scene: "evening"}}, r.Do[0].Else[0].Else)

	plain := starting.Presence{Sensors: p.Sensors[:1], Scene: "evening"}
	r, err = plain.Rule("Landing", lamps, property)
	require.NoError(t, err)
	assert.Nil(t, r.Provided)
	for place, wrong := range map[string]starting.Presence{
		"sensors": {Scene: "evening"}, "what sees": {Sensors: []thing.Ref{{Device: "lamp", Name: "brightness"}}}, "dark": {Sensors: p.Sensors, Dark: &p.Sensors[0]},
	} {
		_, err := wrong.Rule("Landing", lamps, property)
		assert.ErrorContains(t, err, place)
	}
}

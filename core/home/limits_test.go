package home_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"amvek/core/cover"
	"amvek/core/home"
	"amvek/core/thing"
)

// Each limit is tried at it and one past it.
func TestTheExactLimitsOfDocuments(t *testing.T) {
	calendar := func(minutes int, address string) error {
		return (&home.Calendar{Title: "Bins", Address: address, EveryMinutes: minutes}).Check()
	}
	variable := func(v home.Variable) error {
		v.Title = "V"
		return v.Check()
	}
	house := func(latitude, longitude float64) error {
		return (&home.Home{Title: "Mill", Zone: "UTC", NamePattern: "{what}", Latitude: latitude, Longitude: longitude}).Check()
	}
	agreement := func(tries int) error { return (&home.Agreement{Policy: home.SetAgain, Tries: tries}).Check() }
	label := func(labels ...string) error {
		return (&home.Device{Title: "Lamp", Connection: "c", Hardware: "h", Labels: labels}).Check()
	}
	const ics = "https://calendar.example/a.ics"
	for name, err := range map[string]error{
		"every minute": calendar(1, ics), "once a day": calendar(24*60, ics), "webcal": calendar(60, " webcal://calendar.example/a.ics "),
		"a point":     variable(home.Variable{Type: thing.TypeNumber, Minimum: 5, Maximum: 5}),
		"two options": variable(home.Variable{Type: thing.TypeOption, Options: []string{"a", "b"}}),
		"the poles":   house(90, 180), "the other": house(-90, -180),
		"no tries": agreement(0), "ten tries": agreement(home.MaximumTries),
		"a letter": label("a"), "forty": label(strings.Repeat("é", 40)),
	} {
		assert.NoError(t, err, name)
	}
	for name, err := range map[string]error{
		"more than every minute": calendar(0, ics), "less than once a day": calendar(24*60+1, ics), "ftp": calendar(60, "ftp://calendar.example/a"),
		"no host": calendar(60, "https:///a.ics"), "no address": calendar(60, "%%"),
		"the wrong way round": variable(home.Variable{Type: thing.TypeNumber, Minimum: 5.01, Maximum: 5}),
		"one option":          variable(home.Variable{Type: thing.TypeOption, Options: []string{"a"}}),
		"twice an option":     variable(home.Variable{Type: thing.TypeOption, Options: []string{"a", "b", "a"}}),
		"an empty option":     variable(home.Variable{Type: thing.TypeOption, Options: []string{"a", " "}}),
		"beyond the pole":     house(90.1, 0), "beyond the other": house(-90.1, 0), "east of it": house(0, 180.1), "west of it": house(0, -180.1),
		"minus one try": agreement(-1), "eleven tries": agreement(home.MaximumTries + 1), "no policy": (&home.Agreement{}).Check(),
		"no label": label(" "), "forty-one": label(strings.Repeat("x", 41)), "twice": label("a", "b", "a"),
		"a group twice":      (&home.Group{Title: "G", Devices: []string{"a", "b", "a"}}).Check(),
		"a group of nothing": (&home.Group{Title: "G", Devices: []string{""}}).Check(),
		"a group unnamed":    (&home.Group{Title: " ", Devices: []string{"a"}}).Check(),
	} {
		assert.Error(t, err, name)
	}
	assert.NoError(t, (&home.Group{Title: "G", Devices: []string{"a", "b"}}).Check())
}

func TestHowOftenAValueIsSetAgain(t *testing.T) {
	assert.Equal(t, 2, (&home.Agreement{Policy: home.SetAgain}).Times())
	assert.Equal(t, 5, (&home.Agreement{Policy: home.SetAgain, Tries: 5}).Times())
}

func TestAVariableBeginsNearestToNothing(t *testing.T) {
	number := func(minimum, maximum float64) thing.Value {
		return (&home.Variable{Type: thing.TypeNumber, Minimum: minimum, Maximum: maximum}).First()
	}
	assert.Equal(t, thing.Number(0), number(-5, 5))
	assert.Equal(t, thing.Number(10), number(10, 25))
	assert.Equal(t, thing.Number(-3), number(-9, -3))
	assert.Equal(t, thing.Number(0), number(0, 0))
	assert.Equal(t, thing.Text("a"), (&home.Variable{Type: thing.TypeOption, Options: []string{"a", "b"}}).First())
	assert.Equal(t, thing.Boolean(true), (&home.Variable{Type: thing.TypeBoolean, Initial: thing.Boolean(true)}).First())
	computed := (&home.Variable{Type: thing.TypeNumber, Expression: "1 + 1"}).Property("v")
	assert.False(t, computed.Writable)
	assert.Equal(t, "1 + 1", computed.Computed)
	plain := (&home.Variable{Type: thing.TypeNumber}).Property("v")
	assert.True(t, plain.Writable)
	assert.InDelta(t, 0.01, plain.Resolution, 0)
	yes := (&home.Variable{Type: thing.TypeBoolean}).Property("v")
	assert.Equal(t, "yes", yes.Say(thing.Boolean(true)))
}

func TestOnlyAShutterHasATravel(t *testing.T) {
	device := home.Device{Title: "Blind", Connection: "c", Hardware: "h", Travel: map[string]cover.Travel{"position": {UpSeconds: 20, DownSeconds: 20}}}
	assert.ErrorContains(t, device.Check(), "no shutter")
	device.Description.Properties = []thing.Property{{Name: "position", Type: thing.TypeNumber, Maximum: 100, Writable: true, Cover: &thing.Cover{}}}
	assert.NoError(t, device.Check())
	device.Travel["position"] = cover.Travel{UpSeconds: -1, DownSeconds: 20}
	assert.Error(t, device.Check())
}

func TestNamesThatAPersonWouldConfuse(t *testing.T) {
	near := func(a, b string) bool {
		_, is := home.NearDuplicate(a, []string{"something else", b})
		return is
	}
	for _, c := range []struct {
		a, b string
		is   bool
	}{
		{"Galley lamp", "Galley lamps", true}, {"Galley lamps", "Galley lamp", true}, {"Galley lamp", "Galley lampss", false},
		{"Galley lamp", "alley lamp", true}, {"Galley lamp", "Gally lamp", true}, {"Galley lamp", "Balley lamp", true},
		{"Galley lamp", "Galley lamp 2", false}, {"Galley lamp 12", "Galley lamp 13", false}, {"Galley 1 lamp", "Galley lamp", false},
		{"Étage 1 lampe", "étage 1 lampe", true}, {"abcdef", "abcdeg", true}, {"abcde", "abcdf", false}, {"abcde", "abcdef", false}, {"a", "A!", true},
		{"Galley lamp", "Valley damp", false},
	} {
		assert.Equal(t, c.is, near(c.a, c.b), "%s and %s", c.a, c.b)
	}
}

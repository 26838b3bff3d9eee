package home_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/home"
	"amvek/core/thing"
)

func TestProposeNameFillsThePatternAndNumbersOnlyWhenNeeded(t *testing.T) {
	taken := []string{"Galley lamp"}
	propose := func(pattern string, of home.Naming) string {
		return home.ProposeName(pattern, of, func(name string) bool { return slices.Contains(taken, name) })
	}
	assert.Equal(t, "Landing lamp", propose("{room} {what}", home.Naming{Room: "Landing", What: "lamp"}))
	assert.Equal(t, "Galley lamp 2", propose("{room} {what}", home.Naming{Room: "Galley", What: "lamp"}))
	assert.Equal(t, "Lamp", propose("{room} {what}", home.Naming{What: "lamp"}), "without a room no gap is left")
	assert.Equal(t, "Galley lamp 1", propose("{room} {what} {number}", home.Naming{Room: "Galley", What: "lamp"}))
	assert.Equal(t, "Élan lamp", propose("{maker} {what}", home.Naming{Maker: "élan", What: "lamp"}))
}

func TestCheckPattern(t *testing.T) {
	assert.NoError(t, home.CheckPattern("{room}: {what} {number}"))
	assert.ErrorContains(t, home.CheckPattern("lamp"), "at least one of")
	assert.ErrorContains(t, home.CheckPattern("{room} {color}"), "may stand in braces")
}

func TestNearDuplicates(t *testing.T) {
	for _, c := range []struct {
		name, other string
		near        bool
	}{
		{"Stair lamp", "stair-lamp", true},
		{"Stair lamp", "Stairs lamp", true},
		{"Stair lamp", "Stair lanp", true},
		{"Stair lamp 1", "Stair lamp 2", false},
		{"Lamp", "Damp", false}, // too short to judge by one letter
		{"Stair lamp", "Worktop lamps", false},
	} {
		_, near := home.NearDuplicate(c.name, []string{c.other})
		assert.Equal(t, c.near, near, "%s and %s", c.name, c.other)
	}
}

func TestHomeCheck(t *testing.T) {
	good := home.Home{Title: "Mill", Zone: "Europe/London", NamePattern: "{what}"}
	assert.NoError(t, good.Check())
	for field, change := range map[string]func(*home.Home){
		"title": func(h *home.Home) { h.Title = "" }, "latitude": func(h *home.Home) { h.Latitude = 91 },
		"zone": func(h *home.Home) { h.Zone = "Mill/Time" }, "namePattern": func(h *home.Home) { h.NamePattern = "" },
	} {
		bad := good
		change(&bad)
		assert.ErrorContains(t, bad.Check(), field)
	}
}

func TestModesAreSaidByTheirNamesAndListsAreChecked(t *testing.T) {
	modes := home.UsualModes()
	require.NoError(t, modes.Check())
	p := modes.Property()
	assert.Equal(t, "Asleep", p.Say(thing.Text("mode-asleep")))
	assert.ErrorContains(t, p.Check(thing.Text("mode-none")), "In, Out, Asleep, Away")
	for name, wrong := range map[string]home.Modes{
		"one":          {Modes: modes.Modes[:1]},
		"no name":      {Modes: append([]home.Mode{{ID: "x", Title: " "}}, modes.Modes...)},
		"twice a name": {Modes: append([]home.Mode{{ID: "x", Title: "away"}}, modes.Modes...)},
		"twice an id":  {Modes: append([]home.Mode{{ID: "mode-in", Title: "Other"}}, modes.Modes...)},
	} {
		assert.Error(t, wrong.Check(), name)
	}
}

func TestVariablesBeginAtAValueThatTheyCanHave(t *testing.T) {
	for _, v := range []home.Variable{
		{Title: "A", Type: thing.TypeBoolean},
		{Title: "B", Type: thing.TypeNumber, Minimum: 10, Maximum: 25},
		{Title: "C", Type: thing.TypeNumber, Minimum: -9, Maximum: -3},
		{Title: "D", Type: thing.TypeOption, Options: []string{"one", "other"}},
		{Title: "E", Type: thing.TypeText},
		{Title: "F", Type: thing.TypeNumber, Maximum: 30, Initial: thing.Number(19)},
	} {
		require.NoError(t, v.Check(), v.Title)
		p := v.Property("v")
		assert.NoError(t, p.Check(v.First()), v.Title)
	}
	for _, v := range []home.Variable{
		{Title: " ", Type: thing.TypeBoolean}, {Title: "A", Type: "shape"}, {Title: "B", Type: thing.TypeNumber, Minimum: 2, Maximum: 1},
		{Title: "C", Type: thing.TypeOption, Options: []string{"one"}}, {Title: "D", Type: thing.TypeBoolean, Initial: thing.Number(1)},
	} {
		assert.Error(t, v.Check(), v.Title)
	}
}

func TestWhatIsALamp(t *testing.T) {
	dims := thing.Property{Name: "level", Role: thing.RoleBrightness, Writable: true}
	seen := thing.Property{Name: "seen", Role: thing.RoleBrightness}
	power := thing.Property{Name: "power", Role: thing.RolePower, Writable: true}
	second := thing.Property{Name: "second", Role: thing.RolePower, Writable: true}
	for _, c := range []struct {
		lamp bool
		has  []thing.Property
		by   string
	}{
		{false, []thing.Property{power, dims}, "level"},
		{true, []thing.Property{power, second}, "power"},
		{false, []thing.Property{power}, ""},
		{true, []thing.Property{seen}, ""},
	} {
		d := home.Device{Lamp: c.lamp, Description: thing.Description{Properties: c.has}}
		assert.Equal(t, c.by, d.Light(), "%+v", c)
	}
}

func TestWhatASceneTakes(t *testing.T) {
	property := func(name string, role thing.Role, writable bool) *thing.Property {
		return &thing.Property{Name: name, Role: role, Writable: writable}
	}
	brightness, color, white := property("b", thing.RoleBrightness, true), property("c", thing.RoleColor, true), property("w", thing.RoleColorTemperature, true)
	lock, volume, power := property("l", thing.RoleLock, true), property("v", thing.RoleVolume, true), property("p", thing.RolePower, true)
	setting := property("s", thing.RoleOption, true)
	setting.Setting = &thing.Setting{}
	d := home.Device{Description: thing.Description{Properties: []thing.Property{*brightness, *color, *white, *power}}}
	for _, p := range []*thing.Property{brightness, color, white} {
		assert.True(t, d.InLight(p), p.Name)
	}
	assert.False(t, d.InLight(power))
	assert.True(t, d.Captured(), "its power")
	assert.False(t, (&home.Device{Description: thing.Description{Properties: []thing.Property{*brightness, *lock, *setting}}}).Captured())
	dark := home.Device{Description: thing.Description{Properties: []thing.Property{*white}}}
	assert.False(t, dark.InLight(white), "a color without a light")
	for p, in := range map[*thing.Property]bool{
		volume: true, power: true, lock: false, setting: false, property("t", thing.RoleTemperature, false): false,
		property("h", thing.RoleHandler, true): false, property("a", thing.RoleSpeech, true): false,
	} {
		assert.Equal(t, in, d.InScene(p), p.Name)
		assert.False(t, (&home.Device{AttendedOnly: true}).InScene(p), p.Name)
	}
}

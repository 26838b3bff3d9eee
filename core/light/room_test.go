package light_test

import (
	"encoding/json"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/light"
	"amvek/core/thing"
)

func dimmable(device string, at float64) light.Lamp {
	p := &thing.Property{Name: "brightness", Role: thing.RoleBrightness, Type: thing.TypeNumber, Maximum: 100, Resolution: 1, Writable: true}
	return light.Lamp{Device: device, Light: p, At: thing.Number(at)}
}

func switched(device string, on bool, joins float64) light.Lamp {
	p := &thing.Property{Name: "power", Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true}
	return light.Lamp{Device: device, Light: p, At: thing.Boolean(on), Circuit: light.Circuit{JoinsAbove: joins}}
}

func tunable(device string, at, kelvin float64) light.Lamp {
	l := dimmable(device, at)
	l.White = &thing.Property{
		Name: "colorTemperature", Role: thing.RoleColorTemperature, Type: thing.TypeNumber, Minimum: 2200, Maximum: 6500, Resolution: 10, Writable: true,
	}
	l.Kelvin = kelvin
	return l
}

func colored(device string, at float64) light.Lamp {
	l := tunable(device, at, 2700)
	l.Color = &thing.Property{Name: "color", Role: thing.RoleColor, Type: thing.TypeColor, Writable: true}
	return l
}

// done does something to lamps and returns what they were told, and takes that they obey.
func done(lamps []light.Lamp, verb light.Verb, value thing.Value) map[string]thing.Value {
	told := map[string]thing.Value{}
	shares := light.Shares(lamps)
	for _, t := range light.Do(lamps, verb, value) {
		told[t.Device+" "+t.Property] = t.Value
		for i := range lamps {
			switch l := &lamps[i]; {
			case l.Device != t.Device:
			case t.Property == l.Light.Name:
				l.At = t.Value
			case l.White != nil && t.Property == l.White.Name:
				l.Kelvin = t.Value.Number
			}
		}
	}
	for i := range lamps {
		lamps[i].Share = shares[lamps[i].Device] // remembered, also of those that were not told anything
	}
	return told
}

func TestALevelForAllKeepsProportions(t *testing.T) {
	lamps := []light.Lamp{dimmable("ceiling", 80), dimmable("left", 40), dimmable("off", 0), switched("strip", false, 90)}
	assert.InDelta(t, 80, light.LevelOf(lamps), 1e-9)
	assert.Equal(t, map[string]thing.Value{"ceiling brightness": thing.Number(40), "left brightness": thing.Number(20)},
		done(lamps, light.LevelTo, thing.Number(40)), "what is off stays off")
	assert.Equal(t, map[string]thing.Value{"ceiling brightness": thing.Number(100), "left brightness": thing.Number(50), "strip power": thing.Boolean(true)},
		done(lamps, light.LevelTo, thing.Number(100)), "a switched one joins above its limit")
	assert.Equal(t, map[string]thing.Value{"ceiling brightness": thing.Number(95), "left brightness": thing.Number(48)},
		done(lamps, light.LevelBy, thing.Number(-5)), "and is left alone while the limit is not passed")
	assert.Equal(t, thing.Boolean(false), done(lamps, light.LevelBy, thing.Number(-10))["strip power"])
}

func TestADarkRoomComesOnByALevel(t *testing.T) {
	lamps := []light.Lamp{dimmable("a", 0), dimmable("b", 0), switched("c", false, 0), switched("d", false, 20)}
	assert.Empty(t, light.Do(lamps, light.LevelBy, thing.Number(-10)), "dark cannot become darker")
	assert.Equal(t, map[string]thing.Value{"a brightness": thing.Number(30), "b brightness": thing.Number(30), "d power": thing.Boolean(true)},
		done(lamps, light.LevelTo, thing.Number(30)))
	assert.Equal(t, map[string]thing.Value{"a brightness": thing.Number(0), "b brightness": thing.Number(0), "d power": thing.Boolean(false)},
		done(lamps, light.LevelTo, thing.Number(0)))
	only := []light.Lamp{switched("x", true, 0)}
	assert.InDelta(t, 100, light.LevelOf(only), 1e-9, "where all only switch")
	assert.Empty(t, light.Do(nil, light.LevelTo, thing.Number(50)))
}

// Dimmed as far as it goes and up again, by any steps, lamps are as bright beside each other as they were.
func TestProportionsComeBackFromTheDark(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var lamps []light.Lamp
		for i := range rapid.IntRange(1, 5).Draw(t, "lamps") {
			lamps = append(lamps, dimmable(string(rune('a'+i)), float64(rapid.IntRange(0, 100).Draw(t, "level"))))
		}
		before := light.LevelOf(lamps)
		if before == 0 {
			return
		}
		first := make([]float64, len(lamps))
		for i := range lamps {
			first[i] = lamps[i].Level()
		}
		for range rapid.IntRange(1, 10).Draw(t, "steps") {
			done(lamps, light.LevelBy, thing.Number(float64(rapid.IntRange(-60, 60).Draw(t, "by"))))
			require.GreaterOrEqual(t, light.LevelOf(lamps), 1.0, "a step darker never puts it out")
			for i := range lamps {
				require.Equal(t, first[i] > 0, lamps[i].Level() > 0, "nothing comes on or goes out")
			}
		}
		done(lamps, light.LevelTo, thing.Number(before))
		for i := range lamps {
			require.InDelta(t, first[i], lamps[i].Level(), 1)
		}
	})
}

func TestToneIsSharedByWhateverEachLampCan(t *testing.T) {
	lamps := []light.Lamp{tunable("white", 50, 2700), colored("color", 50), dimmable("plain", 50), tunable("dark", 0, 3000), tunable("own", 50, 3000)}
	lamps[4].OwnTone = true
	told := done(lamps, light.ColorTo, light.SRGB[0].Value())
	assert.Equal(t, light.SRGB[0].Value(), told["color color"])
	assert.Equal(t, thing.Number(2200), told["white colorTemperature"], "the nearest white that it has")
	assert.Len(t, told, 2, "what is off, what has one tone, and what keeps its own are left")
	assert.Equal(t, map[string]thing.Value{"white colorTemperature": thing.Number(4000), "color colorTemperature": thing.Number(4000)},
		done(lamps, light.WhiteTo, thing.Number(4000)))
	assert.Equal(t, map[string]thing.Value{"white colorTemperature": thing.Number(4440), "color colorTemperature": thing.Number(4440)},
		done(lamps, light.WhiteBy, thing.Number(1)), "25 reciprocal megakelvin cooler")
	assert.Equal(t, thing.Number(2200), done(lamps, light.WhiteBy, thing.Number(-50))["white colorTemperature"], "as warm as it goes")
	assert.Equal(t, thing.Number(6500), done(lamps, light.WhiteBy, thing.Number(1000))["white colorTemperature"])
	colorOnly := colored("c", 10)
	colorOnly.White = nil
	assert.Equal(t, light.OfWhite(3000).Value(), done([]light.Lamp{colorOnly}, light.WhiteTo, thing.Number(3000))["c color"])
}

func TestAllOffAndFull(t *testing.T) {
	lamps := []light.Lamp{tunable("a", 0, 2200), switched("b", false, 100), colored("c", 30)}
	assert.Equal(t, map[string]thing.Value{
		"a brightness": thing.Number(100), "a colorTemperature": thing.Number(4000), "b power": thing.Boolean(true),
		"c brightness": thing.Number(100), "c colorTemperature": thing.Number(4000),
	}, done(lamps, light.Full, thing.Value{}))
	assert.Equal(t, map[string]thing.Value{"a brightness": thing.Number(0), "b power": thing.Boolean(false), "c brightness": thing.Number(0)},
		done(lamps, light.Off, thing.Value{}))
	assert.Empty(t, light.Do(lamps, light.Off, thing.Value{}), "what is off is not told so again")
	assert.Empty(t, light.Do(lamps, light.Next, thing.Value{}))
	for _, v := range []light.Verb{light.Off, light.LevelBy, light.ColorTo, light.NextOff} {
		assert.True(t, v.Known())
	}
	assert.False(t, light.Verb("glow").Known())
}

type mill struct{}

func (mill) HasRoom(id string) bool  { return id == "mill" }
func (mill) HasLamp(id string) bool  { return id == "lamp" }
func (mill) HasScene(id string) bool { return id == "evening" }
func (mill) HasLight(id string) bool { return id == "light" }
func (mill) HasCurve(id string) bool { return id == "day" }

func TestWhatIsWrongWithARoomsLightIsSaidWhereItIs(t *testing.T) {
	good := func() light.RoomLight {
		return light.RoomLight{Title: "Mill", Rooms: []string{"mill"}, Lamps: []string{"lamp"}, Scenes: []light.RoomScene{{Scene: "evening", Skip: true}}}
	}
	fine := good()
	require.NoError(t, fine.Check(mill{}))
	assert.Empty(t, fine.Stepped(), "the seasonal one is skipped")
	fine.Without = []string{"strip"}
	assert.True(t, fine.Has("ceiling", "mill"))
	assert.False(t, fine.Has("strip", "mill"))
	assert.False(t, fine.Has("ceiling", "hall"))
	assert.True(t, fine.Has("lamp", "hall"))
	for place, change := range map[string]func(r *light.RoomLight){
		"title":     func(r *light.RoomLight) { r.Title = " " },
		"rooms":     func(r *light.RoomLight) { r.Rooms, r.Lamps = nil, nil },
		"rooms[0]":  func(r *light.RoomLight) { r.Rooms[0] = "cellar" },
		"rooms[1]":  func(r *light.RoomLight) { r.Rooms = append(r.Rooms, "mill") },
		"lamps[0]":  func(r *light.RoomLight) { r.Lamps[0] = "kettle" },
		"scenes[0]": func(r *light.RoomLight) { r.Scenes[0].Scene = "noon" },
		"scenes[1]": func(r *light.RoomLight) { r.Scenes = append(r.Scenes, r.Scenes[0]) },
		"curve":     func(r *light.RoomLight) { r.Curve = "night" },
		"circuits.lamp: there is no such day curve": func(r *light.RoomLight) {
			r.Circuits = map[string]light.Circuit{"lamp": {Curve: "night"}}
		},
		"circuits.lamp": func(r *light.RoomLight) { r.Circuits = map[string]light.Circuit{"lamp": {JoinsAbove: 101}} },
	} {
		r := good()
		change(&r)
		assert.ErrorContains(t, r.Check(mill{}), place)
	}
}

func FuzzRoomLight(f *testing.F) {
	f.Add([]byte(`{"title":"Mill","rooms":["mill"],"circuits":{"lamp":{"joinsAbove":30}},"scenes":[{"scene":"evening"}]}`))
	f.Fuzz(func(_ *testing.T, data []byte) {
		var r light.RoomLight
		if json.Unmarshal(data, &r) == nil {
			_ = r.Check(mill{})
		}
	})
}

func TestASceneOfAPalette(t *testing.T) {
	palette := []light.XY{light.SRGB[0], light.SRGB[2]}
	lamps := []light.Lamp{colored("a", 0), tunable("b", 0, 2700), colored("c", 0), dimmable("d", 0), switched("e", false, 80), switched("f", true, 20)}
	targets := light.FromPalette(lamps, palette, 60)
	at := map[string]thing.Value{}
	for _, x := range targets {
		at[x.Device+" "+x.Property] = x.Value
	}
	assert.Equal(t, light.SRGB[0].Value(), at["a color"])
	assert.Equal(t, light.SRGB[2].Value(), at["c color"])
	assert.Equal(t, thing.Number(60), at["d brightness"])
	assert.Equal(t, thing.Boolean(false), at["e power"], "it joins above")
	assert.Equal(t, thing.Boolean(true), at["f power"])
	assert.Contains(t, at, "b colorTemperature")
	dark := light.FromPalette(lamps[:1], palette, 0)
	assert.Equal(t, []light.Target{{Device: "a", Property: "brightness", Value: thing.Number(0)}}, dark)
	assert.NotPanics(t, func() { light.FromPalette(lamps, nil, 50) }, "no colors are white")
	seen := map[string]bool{}
	for _, p := range light.Palettes() {
		assert.False(t, seen[p.ID], p.ID)
		seen[p.ID] = true
		assert.GreaterOrEqual(t, len(p.Colors), 3)
		for _, c := range p.Colors {
			assert.True(t, light.SRGB.Shows(c), p.Title)
		}
	}
}

func TestWhatGoesWithWhatIsDoneToARoom(t *testing.T) {
	for name, c := range map[string]struct {
		verb  light.Verb
		value thing.Value
		wrong string
	}{
		"a level":               {light.LevelTo, thing.Number(100), ""},
		"too much":              {light.LevelTo, thing.Number(101), "from 0 to 100 %"},
		"no number at all":      {light.LevelTo, thing.Number(math.NaN()), "from 0 to 100 %"},
		"a level that is a yes": {light.LevelTo, thing.Boolean(true), "it takes a number"},
		"a white":               {light.WhiteTo, thing.Number(1000), ""},
		"a white of embers out": {light.WhiteTo, thing.Number(999), "from 1000 to 25000 K"},
		"a step darker":         {light.LevelBy, thing.Number(-10), ""},
		"a color":               {light.ColorTo, thing.Color(0.3, 0.3), ""},
		"a color by number":     {light.ColorTo, thing.Number(3), "it takes a color"},
		"off":                   {light.Off, thing.Value{}, ""},
		"off by ten":            {light.Off, thing.Number(10), "it takes no value"},
	} {
		t.Run(name, func(t *testing.T) {
			if err := c.verb.Check(c.value); c.wrong == "" {
				assert.NoError(t, err)
			} else {
				assert.ErrorContains(t, err, c.wrong)
			}
		})
	}
}

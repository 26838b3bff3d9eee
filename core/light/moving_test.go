package light_test

import (
	"encoding/json"
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/light"
	"amvek/core/thing"
)

var effectKinds = []light.EffectKind{light.Drift, light.Candle, light.Embers, light.Storm, light.Pulse, light.Sunrise}

func isThere(string) bool { return true }

// anyEffect draws an effect with any settings that pass its check.
func anyEffect(t *rapid.T) *light.Effect {
	depth := rapid.Float64Range(0, 100).Draw(t, "depth")
	e := &light.Effect{
		Kind: rapid.SampledFrom(effectKinds).Draw(t, "kind"), Lights: []string{"light"}, Depth: &depth,
		Travel: rapid.SampledFrom([]light.Travel{"", light.Together, light.Onward, light.ByChance}).Draw(t, "travel"),
		Pace:   rapid.Float64Range(1, 1000).Draw(t, "pace"), Level: rapid.Float64Range(1, 100).Draw(t, "level"),
		RoundSeconds: rapid.Float64Range(0.34, 3600).Draw(t, "round"),
	}
	for range rapid.IntRange(0, 5).Draw(t, "colors") {
		e.Palette = append(e.Palette, light.FromHueSaturation(rapid.Float64Range(0, 360).Draw(t, "hue"), rapid.Float64Range(0, 100).Draw(t, "saturation")).Value())
	}
	require.NoError(t, e.Check(isThere, isThere))
	return e
}

// Whatever is set, an effect stays within its brightness, its colors are colors, and the same chance does the same.
func TestEffectsAreBoundedAndTheSameAgainLaw(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		e := anyEffect(t)
		seed := rapid.Uint64().Draw(t, "seed")
		lamps := rapid.IntRange(1, 12).Draw(t, "lamps")
		lamp := rapid.IntRange(0, lamps-1).Draw(t, "lamp")
		at := time.Duration(rapid.Float64Range(0, 7200).Draw(t, "at") * float64(time.Second))
		g := e.At(at, lamp, lamps, seed)
		assert.GreaterOrEqual(t, g.Level, 0.0)
		assert.LessOrEqual(t, g.Level, e.Level/100+1e-9)
		assert.True(t, g.Color.X > 0 && g.Color.Y > 0 && g.Color.X+g.Color.Y < 1, "%v", g.Color)
		assert.Equal(t, g, e.At(at, lamp, lamps, seed))
	})
}

// A drift comes back to where it was after a round, and a pulse after as many as there are colors, unless chance leads.
func TestEffectsArePeriodicLaw(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		e := anyEffect(t)
		e.Kind = rapid.SampledFrom([]light.EffectKind{light.Drift, light.Pulse}).Draw(t, "periodic")
		if e.Travel == light.ByChance {
			e.Travel = light.Together
		}
		round := e.Round()
		if e.Kind == light.Pulse {
			round *= time.Duration(max(1, len(e.Palette)))
		}
		at := time.Duration(rapid.Float64Range(0, 600).Draw(t, "at") * float64(time.Second))
		a, b := e.At(at, 1, 3, 1), e.At(at+round, 1, 3, 1)
		assert.InDelta(t, a.Level, b.Level, 1e-4)
		assert.InDelta(t, a.Color.X, b.Color.X, 1e-3)
		assert.InDelta(t, a.Color.Y, b.Color.Y, 1e-3)
	})
}

// flashes counts pairs of opposing changes of 10 % or more of full light, the darker below 80 % (WCAG 2.2, 2.3.1), and returns the most
// within any one second.
func flashes(level func(at time.Duration) float64, span time.Duration) (most int) {
	const step = 10 * time.Millisecond
	var ends []time.Duration
	extreme, rising, swings := level(0), true, 0
	for at := step; at < span; at += step {
		v := level(at)
		switch {
		case rising && v > extreme, !rising && v < extreme:
			extreme = v
		case math.Abs(v-extreme) >= 0.1 && min(v, extreme) < 0.8:
			rising, extreme = !rising, v
			if swings++; swings%2 == 0 {
				ends = append(ends, at)
			}
		}
	}
	for i := range ends {
		count := 1
		for j := i + 1; j < len(ends) && ends[j]-ends[i] < time.Second; j++ {
			count++
		}
		most = max(most, count)
	}
	return most
}

// Nothing flashes more often than three times within a second, however fast and deep, unless the owner allowed that.
func TestNothingFlashesMoreThanThreeTimesASecondLaw(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		e := anyEffect(t)
		seed := rapid.Uint64().Draw(t, "seed")
		most := flashes(func(at time.Duration) float64 { return e.At(at, 0, 1, seed).Level }, 20*time.Second)
		assert.LessOrEqual(t, most, 3, "%+v", e)
	})
}

func TestNothingFlashesAtTheFastestAndDeepest(t *testing.T) {
	deepest := 100.0
	for _, kind := range effectKinds {
		e := &light.Effect{Kind: kind, Lights: []string{"light"}, Pace: 1000, Depth: &deepest, RoundSeconds: 0.34}
		for seed := range uint64(30) {
			most := flashes(func(at time.Duration) float64 { return e.At(at, 0, 1, seed).Level }, 25*time.Second)
			assert.LessOrEqual(t, most, 3, "%s, %d", kind, seed)
		}
	}
}

func TestAnOwnerMayAllowFlashing(t *testing.T) {
	fast := &light.Effect{Kind: light.Pulse, Lights: []string{"light"}, RoundSeconds: 0.15}
	assert.ErrorContains(t, fast.Check(isThere, isThere), "more than three pulses a second")
	fast.Flashing = true
	require.NoError(t, fast.Check(isThere, isThere))
	assert.Greater(t, flashes(func(at time.Duration) float64 { return fast.At(at, 0, 1, 1).Level }, 5*time.Second), 3, "what counts flashes sees them")
}

func TestEachEffectIsItself(t *testing.T) {
	at := func(e *light.Effect, seconds float64, lamp int) light.Glow {
		return e.At(time.Duration(seconds*float64(time.Second)), lamp, 4, 7)
	}
	drift := &light.Effect{Kind: light.Drift, RoundSeconds: 40, Palette: []thing.Value{light.SRGB[0].Value(), light.SRGB[2].Value()}}
	assert.Equal(t, light.SRGB[0], at(drift, 0, 0).Color, "from its first color")
	assert.InDelta(t, light.SRGB[2].X, at(drift, 20, 0).Color.X, 1e-3, "to its second half a round later")
	assert.InDelta(t, at(drift, 10, 0).Color.X, at(drift, 20, 1).Color.X, 1e-3, "and onward from lamp to lamp")
	drift = &light.Effect{Kind: light.Drift, Travel: light.ByChance}
	assert.NotEqual(t, at(drift, 90, 0).Color, at(drift, 90, 1).Color)

	candle := &light.Effect{Kind: light.Candle}
	assert.NotEqual(t, at(candle, 3, 0), at(candle, 3, 1), "each burns by itself")
	kelvin, _ := at(candle, 3, 0).Color.Temperature()
	assert.InDelta(t, 1850, kelvin, 20)

	embers := &light.Effect{Kind: light.Embers}
	dim, bright := light.Glow{Level: 1}, light.Glow{}
	for s := range 600 {
		g := at(embers, float64(s)/2, 0)
		if g.Level < dim.Level {
			dim = g
		}
		if g.Level > bright.Level {
			bright = g
		}
	}
	assert.Greater(t, dim.Color.X, bright.Color.X, "redder the darker")
	assert.Greater(t, bright.Level, 4*dim.Level)

	storm := &light.Effect{Kind: light.Storm}
	assert.Equal(t, at(storm, 40, 0), at(storm, 40, 3), "all see the same sky")
	struck, dark := 0, 0
	for s := range 6000 {
		if at(storm, float64(s)/100, 0).Level > 0.3 {
			struck++
		} else {
			dark++
		}
	}
	assert.Greater(t, struck, 20, "there is lightning within a minute")
	assert.Greater(t, dark, 5000, "and it is dark mostly")

	pulse := &light.Effect{Kind: light.Pulse, RoundSeconds: 2}
	assert.Less(t, at(pulse, 0, 0).Level, at(pulse, 1, 0).Level)

	dawn := &light.Effect{Kind: light.Sunrise, RoundSeconds: 100}
	last := 0.0
	for s := range 100 {
		g := at(dawn, float64(s), 0)
		assert.GreaterOrEqual(t, g.Level, last, "it only rises")
		last = g.Level
	}
	assert.InDelta(t, 1, at(dawn, 100, 0).Level, 1e-9)
	assert.Equal(t, at(dawn, 100, 0), at(dawn, 500, 0), "and stays")
	assert.Equal(t, 100*time.Second, dawn.Lasts())
	assert.Zero(t, candle.Lasts())
}

func TestWhatAnEffectMakesOfLampsThatCanLess(t *testing.T) {
	e := &light.Effect{Kind: light.Drift}
	g := light.Glow{Level: 0.5, Color: light.SRGB[0]}
	shown := func(l light.Lamp) map[string]thing.Value {
		all := map[string]thing.Value{}
		for _, target := range e.Shown(g, &l) {
			all[target.Property] = target.Value
		}
		return all
	}
	assert.Equal(t, map[string]thing.Value{"brightness": thing.Number(50)}, shown(dimmable("a", 0)))
	color := shown(colored("b", 0))
	assert.Equal(t, thing.Number(50), color["brightness"])
	assert.InDelta(t, 0.64, color["color"].Number, 1e-3)
	white := shown(tunable("c", 0, 2700))
	assert.Equal(t, tunable("c", 0, 2700).White.Minimum, white["colorTemperature"].Number, "the white that is nearest to red")
	assert.Empty(t, shown(switched("d", true, 0)), "relays are not made to flicker")
	e.Kind = light.Sunrise
	assert.Equal(t, thing.Boolean(true), shown(switched("d", false, 40))["power"], "but come with the sun")
	g.Level = 0
	assert.Equal(t, thing.Number(1), shown(dimmable("a", 0))["brightness"], "what moves is not off in between")
}

func TestWhatIsWrongWithAnEffectIsSaidWhereItIs(t *testing.T) {
	depth := 101.0
	for place, e := range map[string]light.Effect{
		"kind":                              {Kind: "disco"},
		"lights: choose":                    {Kind: light.Candle},
		"lights[0]":                         {Kind: light.Candle, Lights: []string{"attic"}},
		"lamps[0]: there is no such lamp":   {Kind: light.Candle, Lamps: []string{"kettle"}},
		"lamps[1]: it is there twice":       {Kind: light.Candle, Lamps: []string{"lamp", "lamp"}},
		"palette[0]":                        {Kind: light.Candle, Lamps: []string{"lamp"}, Palette: []thing.Value{thing.Number(1)}},
		"roundSeconds: from":                {Kind: light.Drift, Lamps: []string{"lamp"}, RoundSeconds: 0.01},
		"pace":                              {Kind: light.Candle, Lamps: []string{"lamp"}, Pace: 2000},
		"level":                             {Kind: light.Candle, Lamps: []string{"lamp"}, Level: 0.5},
		"depth":                             {Kind: light.Candle, Lamps: []string{"lamp"}, Depth: &depth},
		"roundSeconds: more than three":     {Kind: light.Pulse, Lamps: []string{"lamp"}, RoundSeconds: 0.2},
		"palette[0]: this is no color":      {Kind: light.Candle, Lamps: []string{"lamp"}, Palette: []thing.Value{thing.Color(0.9, 0.9)}},
		"roundSeconds: from 0.1 s to 24 h":  {Kind: light.Sunrise, Lamps: []string{"lamp"}, RoundSeconds: 1e6},
		"kind: \"\" is no way in which":     {Lamps: []string{"lamp"}},
		"lights[0]: there is no such light": {Kind: light.Storm, Lights: []string{"cellar"}},
	} {
		err := e.Check(func(id string) bool { return id == "light" }, func(id string) bool { return id == "lamp" })
		assert.ErrorContains(t, err, place)
	}
	s := light.Sequence{Title: "Evening", Ending: light.EndRepeat, Effect: &light.Effect{Kind: light.Candle, Lights: []string{"light"}}}
	assert.ErrorContains(t, s.Check(mill{}), "ending")
	s.Ending = light.EndLetGo
	s.Effect.Lights[0] = "cellar"
	assert.ErrorContains(t, s.Check(mill{}), "effect/lights[0]")
}

func FuzzEffect(f *testing.F) {
	f.Add([]byte(`{"kind":"storm","lights":["a"],"pace":1000,"depth":100}`), int64(5e9), 3)
	f.Add([]byte(`{"kind":"drift","lamps":["a"],"palette":[{"x":0.6,"y":0.3}],"roundSeconds":0.1,"travel":"chance"}`), int64(1), 0)
	f.Fuzz(func(t *testing.T, data []byte, at int64, lamp int) {
		var e light.Effect
		if json.Unmarshal(data, &e) != nil || e.Check(isThere, isThere) != nil || lamp < 0 || lamp > 1000 {
			return
		}
		g := e.At(time.Duration(at), lamp, lamp+1, 1)
		require.True(t, g.Level >= 0 && g.Level <= 1 && g.Color.X > 0 && g.Color.X < 1 && !math.IsNaN(g.Color.Y), "%+v: %+v", e, g)
		l := colored("a", 0)
		for _, target := range e.Shown(g, &l) {
			p := l.Light
			if target.Property == l.Color.Name {
				p = l.Color
			}
			require.NoError(t, p.Check(target.Value))
		}
	})
}

package engine_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
)

// millRoom is a room with a lamp that is dimmed, one of colors, and one that is switched, and its light.
func millRoom(t *testing.T, change ...func(r *light.RoomLight)) *bench {
	b := newBench(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRoom, ID: "mill", Room: &home.Room{Title: "Mill room"}})
	put := func(id string, d thing.Description, lamp bool) {
		b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: id, Thing: &home.Device{
			Title: id, Room: "mill", Connection: "wire", Hardware: id, Description: d, Lamp: lamp,
		}})
	}
	put("lamp", lampDescription, false)
	put("tint", colorLamp, false)
	put("strip", thing.Description{Properties: []thing.Property{{Name: "power", Role: thing.RolePower, Type: thing.TypeBoolean, Writable: true}}}, true)
	b.report("tint", "brightness", thing.Number(0))
	b.report("tint", "color", thing.Color(0.4, 0.4))
	b.report("strip", "power", thing.Boolean(false))
	for id, level := range map[string]float64{"evening": 40, "film": 10, "midwinter": 80} {
		b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindScene, ID: id, SceneDoc: &light.Scene{Title: id, Targets: []light.Target{
			{Device: "lamp", Property: "brightness", Value: thing.Number(level)}, {Device: "tint", Property: "brightness", Value: thing.Number(level / 2)},
		}}})
	}
	doc := &light.RoomLight{Title: "Mill room", Rooms: []string{"mill"}, Scenes: []light.RoomScene{{Scene: "evening"}, {Scene: "midwinter", Skip: true}, {Scene: "film"}}}
	for _, f := range change {
		f(doc)
	}
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRoomLight, ID: "light", RoomLight: doc})
	b.commands = nil
	return b
}

func (b *bench) lit(verb light.Verb, v thing.Value) []string {
	b.do(engine.Input{Kind: engine.InputLight, ID: "light", Verb: string(verb), Value: v, Doer: somebody})
	all := b.values()
	slices.Sort(all)
	return all
}

func (b *bench) light() engine.RoomLightView {
	v, there := b.engine.RoomLightView("light")
	require.True(b.t, there)
	return v
}

func TestARoomsLightIsOneThing(t *testing.T) {
	b := millRoom(t)
	assert.Equal(t, []string{"lamp", "strip", "tint"}, b.light().Members, "all lamps of the room, whoever made them")
	assert.Equal(t, []string{"lamp 60", "strip yes", "tint 60"}, b.lit(light.LevelTo, thing.Number(60)))
	assert.Equal(t, 3, b.light().On)
	b.do(engine.Input{Kind: engine.InputWrite, Device: "tint", Name: "brightness", Value: thing.Number(30), Doer: somebody})
	b.values()
	assert.Equal(t, []string{"lamp 1", "strip no", "tint 1"}, b.lit(light.LevelBy, thing.Number(-100)))
	assert.Equal(t, []string{"lamp 40", "tint 20"}, b.lit(light.LevelTo, thing.Number(40)), "as bright beside each other as before")
	b.do(engine.Input{Kind: engine.InputWrite, Device: "tint", Name: "brightness", Value: thing.Number(40), Doer: somebody})
	b.values()
	assert.Equal(t, []string{"lamp 20", "tint 20"}, b.lit(light.LevelTo, thing.Number(20)), "what a hand has set since counts")
	assert.Equal(t, []string{"lamp 0", "tint 0"}, b.lit(light.Off, thing.Value{}))
	assert.InDelta(t, 0, b.light().Level, 1e-9)
	assert.Empty(t, b.lit(light.LevelTo, thing.Value{}), "a level of what?")
	assert.Empty(t, b.lit("glow", thing.Value{}))
	for _, e := range b.entries {
		if e.Kind == cause.LitByHand {
			assert.Equal(t, "light", e.Link)
			assert.Equal(t, somebody, e.By)
		}
	}
}

func TestItsScenesAreSteppedThroughInTheirOrder(t *testing.T) {
	b := millRoom(t)
	assert.Equal(t, []string{"lamp 40", "tint 20"}, b.lit(light.Next, thing.Value{}), "the first, from the dark")
	assert.Equal(t, "evening", b.light().Scene)
	assert.Equal(t, []string{"lamp 10", "tint 5"}, b.lit(light.Next, thing.Value{}), "midwinter is skipped")
	b.pass(time.Minute)
	b.lit(light.LevelTo, thing.Number(30))
	v := b.light()
	assert.Equal(t, "film", v.Scene, "still that, and changed since")
	assert.Equal(t, []string{"lamp", "tint"}, v.Differs)
	assert.Equal(t, []string{"lamp 40", "tint 20"}, b.lit(light.Next, thing.Value{}), "after the last the first, from a changed one too")
	assert.Empty(t, b.light().Differs)
	b.lit(light.Previous, thing.Value{})
	assert.Equal(t, "film", b.light().Scene)
	assert.Equal(t, []string{"lamp 0", "tint 0"}, b.lit(light.NextOff, thing.Value{}), "off after the last")
	assert.Empty(t, b.light().Scene)
	b.do(engine.Input{Kind: engine.InputScene, Scene: "midwinter"})
	assert.Equal(t, "midwinter", b.light().Scene, "whoever applied it")
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindScene, ID: "midwinter"})
	assert.Empty(t, b.light().Scene)

	none := millRoom(t, func(r *light.RoomLight) { r.Scenes = nil })
	assert.Empty(t, none.lit(light.Next, thing.Value{}))
	none.lit(light.LevelTo, thing.Number(20))
	assert.Equal(t, []string{"lamp 0", "tint 0"}, none.lit(light.NextOff, thing.Value{}))
}

func TestARuleLightsARoom(t *testing.T) {
	b := millRoom(t)
	step := func(verb light.Verb, v thing.Value) rule.Rule {
		return rule.Rule{When: []rule.Trigger{{Device: "dial", Event: "press"}}, Do: []rule.Step{{Kind: rule.StepLight, Light: "light", Verb: verb, Value: v}}}
	}
	b.rule("dims", step(light.LevelTo, thing.Number(20)))
	b.do(engine.Input{Kind: engine.InputRun, Rule: "dims"})
	assert.ElementsMatch(t, []string{"lamp 20", "tint 20"}, b.values())
	for path, r := range map[string]rule.Rule{
		"do/0/value": step(light.LevelTo, thing.Value{}), "do/0/verb": step("glow", thing.Value{}),
		"do/0/light": {When: step("", thing.Value{}).When, Do: []rule.Step{{Kind: rule.StepLight, Light: "gone", Verb: light.Off}}},
	} {
		b.rule("wrong", r)
		v, _ := b.engine.RuleView("wrong")
		require.NotEmpty(t, v.Problems, path)
		assert.Equal(t, path, v.Problems[0].Path)
	}
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindRoomLight, ID: "light"})
	v, _ := b.engine.RuleView("dims")
	assert.NotEmpty(t, v.Problems, "the light is gone")
}

func TestLampsComeAndGo(t *testing.T) {
	b := millRoom(t, func(r *light.RoomLight) { r.Without = []string{"strip"}; r.Lamps = []string{"other"} })
	assert.Equal(t, []string{"lamp", "other", "tint"}, b.light().Members)
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindDevice, ID: "tint"})
	assert.Equal(t, []string{"lamp", "other"}, b.light().Members)
	b.device("lamp", lampDescription) // moved out of the room
	assert.Equal(t, []string{"other"}, b.light().Members)
	assert.Equal(t, []string{"other 50"}, b.lit(light.LevelTo, thing.Number(50)))
}

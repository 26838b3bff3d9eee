package engine_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/engine"
	"amvek/core/light"
	"amvek/core/thing"
)

func TestASceneIsAdjustedInPlaceWhileItIsOn(t *testing.T) {
	b := newBench(t)
	levels := func() [2]float64 { return [2]float64{b.state("lamp").Target.Number, b.state("other").Target.Number} }
	evening := func(lamp float64, more ...light.Target) {
		b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindScene, ID: "evening", SceneDoc: &light.Scene{
			Title: "Evening", Targets: append([]light.Target{{Device: "lamp", Property: "brightness", Value: thing.Number(lamp)}}, more...),
		}})
	}
	other := light.Target{Device: "other", Property: "brightness", Value: thing.Number(20)}
	evening(40)
	evening(50)
	assert.Equal(t, [2]float64{0, 0}, levels(), "it is not on")
	b.apply("evening")
	require.Equal(t, [2]float64{50, 0}, levels())
	evening(60)
	assert.Equal(t, [2]float64{60, 0}, levels())
	evening(60, other)
	assert.Equal(t, [2]float64{60, 20}, levels(), "what is put in comes on")
	evening(60)
	assert.Equal(t, [2]float64{60, 20}, levels(), "what is taken out stays as it is")
	evening(60, other)
	b.hand("lamp", 30)
	evening(70, other)
	assert.Equal(t, [2]float64{30, 20}, levels(), "changed since, it is not what is on")

	// What a hand did was taken into the scene, and that is taken back: the lamp is the hand's.
	b.apply("evening")
	b.hand("other", 35)
	kept := other
	kept.Value = thing.Number(35)
	evening(70, kept)
	evening(70, other)
	assert.Equal(t, [2]float64{70, 35}, levels())

	// One that only happens to be as all is, is not on.
	b.hand("lamp", 0)
	b.hand("other", 0)
	dark := func(lamp float64) {
		b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindScene, ID: "dark", SceneDoc: &light.Scene{
			Title: "Dark", Targets: []light.Target{{Device: "lamp", Property: "brightness", Value: thing.Number(lamp)}},
		}})
	}
	dark(0)
	dark(80)
	assert.Equal(t, [2]float64{0, 0}, levels())
}

package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/state"
	"amvek/core/thing"
)

var thermometerDescription = thing.Description{
	Properties: []thing.Property{{Name: "temperature", Title: "Temperature", Type: thing.TypeNumber, Unit: thing.UnitCelsius, Resolution: 0.1}},
}

// every lets sensors report, each at its own time, for a while.
func (b *bench) every(last time.Duration, gaps map[string]time.Duration) {
	end := b.now.Add(last)
	next := map[string]time.Time{}
	for id, gap := range gaps {
		next[id] = b.now.Add(gap)
	}
	for {
		first := ""
		for _, id := range []string{"quick", "slow"} {
			if at, there := next[id]; there && (first == "" || at.Before(next[first])) {
				first = id
			}
		}
		if next[first].After(end) {
			break
		}
		b.pass(next[first].Sub(b.now))
		b.report(first, "temperature", thing.Number(20))
		next[first] = b.now.Add(gaps[first])
	}
	b.pass(end.Sub(b.now))
}

func (b *bench) silent(id string) bool {
	state, _, there := b.engine.DeviceState(id)
	require.True(b.t, there)
	return state.Silent
}

func TestEachSensorIsMissedAfterItsOwnTimeAndHeardAgain(t *testing.T) {
	b := newBench(t)
	b.device("quick", thermometerDescription)
	b.device("slow", thermometerDescription)
	gaps := map[string]time.Duration{"quick": 40 * time.Second, "slow": 4 * time.Hour}
	b.every(48*time.Hour, gaps)
	assert.False(t, b.silent("quick") || b.silent("slow"))
	assert.Zero(t, b.count(cause.FellSilent))

	delete(gaps, "quick")
	b.every(3*time.Minute, gaps)
	assert.True(t, b.silent("quick"))
	assert.False(t, b.silent("slow"))
	b.pass(9 * time.Hour)
	assert.False(t, b.silent("slow"), "its own time is not over")
	b.pass(3 * time.Hour)
	assert.True(t, b.silent("slow"))
	assert.Equal(t, 2, b.count(cause.FellSilent), "each once")

	b.report("quick", "temperature", thing.Number(20))
	assert.False(t, b.silent("quick"))
	assert.Equal(t, 1, b.count(cause.HeardAgain))
	_, learned, _ := b.engine.DeviceState("quick")
	assert.InDelta(t, 40, learned.EverySeconds, 0.1, "the silence is not learned as a gap")
	_, _, watched := b.engine.DeviceState("lamp")
	assert.False(t, watched, "a lamp speaks when it is switched")
}

func TestWhatCannotBeReachedIsNotCalledSilent(t *testing.T) {
	for name, lost := range map[string]engine.Input{
		"its connection": {Kind: engine.InputConnection, Connection: "wire", Reason: "gone"},
		"the device":     {Kind: engine.InputConnection, Device: "quick", Reason: "gone"},
	} {
		t.Run(name, func(t *testing.T) {
			b := newBench(t)
			b.device("quick", thermometerDescription)
			b.every(time.Hour, map[string]time.Duration{"quick": 40 * time.Second})
			b.do(lost)
			b.pass(time.Hour)
			assert.False(t, b.silent("quick"))
			lost.Up = true
			b.do(lost)
			b.pass(5 * time.Minute)
			assert.True(t, b.silent("quick"), "reached again, it is expected to speak")
		})
	}
}

func TestAnAnswerIsNoWordOfItsOwn(t *testing.T) {
	b := newBench(t)
	b.device("quick", thermometerDescription)
	for range 20 {
		b.pass(time.Minute)
		b.do(engine.Input{Kind: engine.InputReport, Device: "quick", Name: "temperature", Value: thing.Number(20), Polled: true})
	}
	_, learned, _ := b.engine.DeviceState("quick")
	assert.Zero(t, learned.From)
}

func TestARhythmOutlivesARestart(t *testing.T) {
	b := newBench(t)
	b.device("quick", thermometerDescription)
	b.every(time.Hour, map[string]time.Duration{"quick": 40 * time.Second})
	kept, before, _ := b.engine.DeviceState("quick")
	again := newBench(t)
	again.now = b.now
	again.engine.BeginLoading(b.now)
	again.device("quick", thermometerDescription)
	again.engine.Load(state.Saved{Devices: map[string]state.DeviceState{"quick": kept}})
	again.do(engine.Input{Kind: engine.InputStart})
	_, after, _ := again.engine.DeviceState("quick")
	assert.Equal(t, before, after)
	again.pass(time.Minute)
	assert.False(t, again.silent("quick"), "its time counts from the start")
	again.pass(time.Minute)
	assert.True(t, again.silent("quick"), "also what fell silent while the hub was off is missed")
	again.report("quick", "temperature", thing.Number(20))
	assert.False(t, again.silent("quick"))
	again.pass(3 * time.Minute)
	assert.True(t, again.silent("quick"), "one word after a start is enough to wait for the next")
}

func TestARemovedSensorIsNotMissed(t *testing.T) {
	b := newBench(t)
	b.device("quick", thermometerDescription)
	b.every(time.Hour, map[string]time.Duration{"quick": 40 * time.Second})
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindDevice, ID: "quick"})
	b.pass(time.Hour)
	assert.Zero(t, b.count(cause.FellSilent))
}

func TestWhatHasNothingToSayIsNotMissed(t *testing.T) {
	b := newBench(t)
	b.device("remote", thing.Description{Events: []thing.Event{{Name: "press", Title: "Press"}}})
	_, _, watched := b.engine.DeviceState("remote")
	assert.False(t, watched, "a button that nobody presses is not silent")
}

func TestASensorIsHeardWhenTheClockWasSetBack(t *testing.T) {
	b := newBench(t)
	b.device("quick", thermometerDescription)
	gaps := map[string]time.Duration{"quick": 40 * time.Second}
	b.every(time.Hour, gaps)
	b.pass(10 * time.Minute)
	require.True(t, b.silent("quick"))
	b.now = b.now.Add(-2 * time.Hour)
	b.report("quick", "temperature", thing.Number(21))
	assert.False(t, b.silent("quick"))
}

func TestARhythmThatIsKnownIsKeptAnewNowAndThen(t *testing.T) {
	b := newBench(t)
	b.device("quick", thermometerDescription)
	kept := 0
	say := func(times int) int {
		before := kept
		for range times {
			b.now = b.now.Add(61 * time.Second)
			in := engine.Input{Kind: engine.InputReport, Device: "quick", Name: "temperature", Value: thing.Number(20)}
			kept += len(b.yields(in, engine.OutputDevice))
		}
		return kept - before
	}
	assert.Equal(t, 15, say(16), "each gap while it is learned")
	assert.InDelta(t, 20, say(320), 5, "of those that follow one in sixteen")
}

package hub_test

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/core/thing"
	"amvek/hub"
)

var damp = &thing.Model{Title: "Damp", What: "sensor", Description: thing.Description{Properties: []thing.Property{
	{Name: "humidity", Title: "Humidity", Role: thing.RoleHumidity, Type: thing.TypeNumber, Unit: "%", Maximum: 100, Resolution: 0.1},
	{Name: "warmth", Title: "Temperature", Role: thing.RoleTemperature, Type: thing.TypeNumber, Unit: thing.UnitCelsius, Resolution: 0.1},
}}}

// sideBySide adds two sensors, the first of which reads so much too high, and lets them hang side by side.
func (b *bench) sideBySide(wrong float64) (suspect, trusted thing.Ref) {
	b.announce(
		connect.Announcement{Hardware: "hw-a", Address: "5", Maker: "Maker", Model: "D", Label: "A", Profile: damp},
		connect.Announcement{Hardware: "hw-b", Address: "6", Maker: "Maker", Model: "D", Label: "B", Profile: damp})
	ids, err := b.hub.Add(
		b.ctx,
		[]hub.Adding{{Connection: hub.GatewaysID, Hardware: "hw-a", Title: "A"}, {Connection: hub.GatewaysID, Hardware: "hw-b", Title: "B"}},
	)
	require.NoError(b, err)
	b.live(wrong, 4*time.Hour)
	return thing.Ref{Device: ids[0], Name: "humidity"}, thing.Ref{Device: ids[1], Name: "humidity"}
}

func (b *bench) live(wrong float64, last time.Duration) {
	for at := time.Duration(0); at < last; at += 5 * time.Minute {
		b.clock.pass(5 * time.Minute)
		room := 60 + 10*math.Sin(2*math.Pi*at.Hours()/3)
		b.wire.sink.Report("hw-a", "humidity", thing.Number(room+wrong))
		b.wire.sink.Report("hw-b", "humidity", thing.Number(room))
		b.quiet()
	}
	require.NoError(b, b.store.Flush(b.ctx))
}

func (b *bench) humidity(ref thing.Ref) float64 { return b.device(ref.Device).States[0].Value.Number }

func TestASensorIsCalibratedByATrustedOneComparedAgainAndTakenBack(t *testing.T) {
	b := newBench(t)
	suspect, trusted := b.sideBySide(3)
	proof, err := b.hub.Prove(b.ctx, suspect, trusted, 4*time.Hour)
	require.NoError(t, err)
	assert.InDelta(t, -3, proof.Offset, 0.05)
	assert.InDelta(t, -3, proof.Proposed.Offset, 0.05)
	before := b.humidity(suspect)

	proof.Proposed.From = b.clock.Now()
	require.NoError(t, b.hub.Adjust(b.ctx, suspect, &proof.Proposed))
	assert.InDelta(t, before-3, b.humidity(suspect), 0.05, "also the present reading is taken anew")
	history := func() []hub.Point {
		series, err := b.hub.History(b.ctx, suspect, b.clock.Now().Add(-2*time.Hour), b.clock.Now().Add(time.Second), 800)
		require.NoError(t, err)
		return series.Points
	}
	old := history()[3].Value
	b.live(3, time.Hour)
	assert.InDelta(t, b.humidity(trusted), b.humidity(suspect), 0.05)
	again, err := b.hub.Prove(b.ctx, suspect, trusted, time.Hour)
	require.NoError(t, err)
	assert.InDelta(t, 0, again.Offset, 0.05, "compared again, the difference is gone")
	assert.InDelta(t, -3, again.Proposed.Offset, 0.05, "and the proposal still counts from the raw readings")

	toThePast := proof.Proposed
	toThePast.From = time.Time{}
	require.NoError(t, b.hub.Adjust(b.ctx, suspect, &toThePast))
	series, err := b.hub.History(b.ctx, suspect, b.clock.Now().Add(-3*time.Hour), b.clock.Now().Add(-time.Hour), 800)
	require.NoError(t, err)
	found := false
	for _, p := range series.Points {
		found = found || math.Abs(p.Value-(old-3)) < 0.05
	}
	assert.True(t, found, "the history can be taken anew, since it is kept raw")

	require.NoError(t, b.hub.Adjust(b.ctx, suspect, nil))
	assert.InDelta(t, b.humidity(trusted)+3, b.humidity(suspect), 0.05, "and taken back")
}

func TestPrecisionAndSmoothing(t *testing.T) {
	b := newBench(t)
	suspect, _ := b.sideBySide(0)
	require.NoError(t, b.hub.Adjust(b.ctx, suspect, &thing.Adjustment{Precision: 5}))
	b.report("hw-a", "humidity", thing.Number(62.4))
	assert.Equal(t, 60.0, b.humidity(suspect))
	require.NoError(t, b.hub.Adjust(b.ctx, suspect, &thing.Adjustment{SmoothSeconds: 600}))
	b.report("hw-a", "humidity", thing.Number(50))
	first := b.humidity(suspect)
	b.clock.pass(10 * time.Minute)
	b.report("hw-a", "humidity", thing.Number(90))
	assert.InDelta(t, first+(90-first)*(1-math.Exp(-1)), b.humidity(suspect), 0.5, "after one time constant, 63 % of the way")
}

func TestWhatCannotBeProvedSaysWhy(t *testing.T) {
	b := newBench(t)
	suspect, trusted := b.sideBySide(1)
	var invalid *hub.InvalidError
	var absent *hub.AbsentError
	var conflict *hub.ConflictError
	_, err := b.hub.Prove(b.ctx, suspect, suspect, time.Hour)
	assert.ErrorAs(t, err, &invalid, "itself")
	_, err = b.hub.Prove(b.ctx, suspect, thing.Ref{Device: trusted.Device, Name: "warmth"}, time.Hour)
	assert.ErrorAs(t, err, &invalid, "another unit")
	_, err = b.hub.Prove(b.ctx, suspect, thing.Ref{Device: "none", Name: "humidity"}, time.Hour)
	assert.ErrorAs(t, err, &absent)
	_, err = b.hub.Prove(b.ctx, thing.Ref{Device: suspect.Device, Name: "warmth"}, thing.Ref{Device: trusted.Device, Name: "warmth"}, time.Hour)
	assert.ErrorAs(t, err, &conflict, "no readings")
	assert.ErrorAs(t, b.hub.Adjust(b.ctx, thing.Ref{Device: b.lamp, Name: "brightness"}, &thing.Adjustment{Offset: 1}), &invalid, "a lamp is set, not read")
	assert.ErrorAs(t, b.hub.Adjust(b.ctx, suspect, &thing.Adjustment{Offset: math.NaN()}), &invalid)
	assert.ErrorAs(t, b.hub.Adjust(b.ctx, suspect, &thing.Adjustment{Slope: 90}), &invalid)
}

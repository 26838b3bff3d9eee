package hub_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/hub/views"
)

func (b *bench) since(from time.Time) views.Since {
	b.Helper()
	since, err := b.hub.Since(b.ctx, from)
	require.NoError(b, err)
	return since
}

// evening lets the stair light come on and go out again, and a hand set the lamp meanwhile, at 0 not; an hour
// later a hand puts it out.
func (b *bench) evening(hand float64) {
	b.report("hw-eye", "motion", thing.Boolean(true))
	b.report("hw-lamp", "brightness", b.brightness().Target)
	b.pass(2 * time.Minute)
	if hand > 0 {
		b.byHand(hand)
	}
	b.pass(5 * time.Minute)
	b.report("hw-eye", "motion", thing.Boolean(false))
	b.pass(time.Minute)
	b.report("hw-lamp", "brightness", b.brightness().Target)
	b.pass(time.Hour)
	b.byHand(0)
	b.pass(23*time.Hour - 8*time.Minute)
}

func (b *bench) byHand(brightness float64) {
	set := engine.Input{Kind: engine.InputWrite, Device: b.lamp, Name: "brightness", Value: thing.Number(brightness), Doer: somebody}
	require.NoError(b, b.hub.Act(b.ctx, set))
	b.report("hw-lamp", "brightness", thing.Number(brightness))
}

func TestHandsThatCorrectARuleAreTold(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	for _, hand := range []float64{25, 0, 20, 25, 0, 30} {
		b.evening(hand)
	}
	assert.Empty(t, b.since(b.clock.Now().Add(-time.Hour)).Corrections, "four of six may be chance")
	for _, hand := range []float64{25, 25, 25} {
		b.evening(hand)
	}
	told := b.since(b.clock.Now().Add(-time.Hour)).Corrections
	require.Len(t, told, 1)
	change := told[0].Change
	require.NotNil(t, change)
	assert.Equal(t, thing.Number(25), change.Do[0].Value)
	assert.InDelta(t, 2*163.0/19683, told[0].Chance, 1e-9)
	told[0].Change, told[0].Chance = nil, 0
	assert.Equal(t, views.Correction{
		Rule: "stair", RuleTitle: "Stair light", Device: b.lamp, DeviceTitle: "Lamp", Property: "brightness",
		Acts: 9, Corrected: 7, Lower: true, From: "60 %", To: "25 %", Based: 1,
	}, told[0])

	// Put live, it has to prove itself; then it is told that hands leave it alone.
	b.save(docs.KindRule, "stair", change)
	changed := b.clock.Now()
	assert.Empty(t, b.since(changed).Corrections)
	for range 3 {
		b.evening(0)
	}
	told = b.since(changed).Corrections
	require.Len(t, told, 1)
	assert.Equal(t, changed.UnixMilli(), told[0].Ended.UnixMilli())
	assert.Equal(t, 3, told[0].ActsSince)
	assert.Nil(t, told[0].Change)
	assert.Equal(t, 7, told[0].Corrected)

	// What is long ago counts no more.
	b.pass(31 * 24 * time.Hour)
	assert.Empty(t, b.since(changed).Corrections)
}

func TestWhatHappenedSinceSomebodyWasHere(t *testing.T) {
	b := newBench(t)
	came := b.clock.Now().Add(-time.Minute)
	b.stairLight()
	b.save(docs.KindRule, "never", &rule.Rule{Title: "Frost guard", Enabled: true, When: []rule.Trigger{{Kind: rule.OnPhrase, Words: "frost"}}, Do: []rule.Step{{Kind: rule.StepWait, ForSeconds: 1}}})
	b.save(docs.KindRule, "off", &rule.Rule{Title: "Off", When: []rule.Trigger{{Kind: rule.OnPhrase, Words: "off"}}, Do: []rule.Step{{Kind: rule.StepWait, ForSeconds: 1}}})
	b.evening(0)
	left := b.clock.Now()
	b.evening(0)
	b.evening(0)

	since := b.since(left)
	assert.Equal(t, 2, since.Acted)
	assert.Equal(t, []views.RuleCount{{Rule: "stair", Title: "Stair light", Count: 2}}, since.Most)
	require.Len(t, since.Never, 1, "what is switched off is not expected to act")
	assert.Equal(t, "Frost guard", since.Never[0].Title)
	assert.Contains(t, since.Never[0].Reason, "frost")
	assert.Empty(t, since.New)
	assert.Empty(t, since.Failed)
	assert.Empty(t, since.Commands)

	all := b.since(came)
	assert.Equal(t, 3, all.Acted)
	assert.Len(t, all.New, 2)
	assert.Equal(t, 0, b.since(b.clock.Now().Add(time.Hour)).Acted)
	ago := b.since(b.clock.Now().AddDate(-100, 0, 0))
	assert.Equal(t, 3, ago.Acted)
	assert.Equal(t, b.clock.Now().Add(-366*24*time.Hour), ago.From)

	b.wire.outcome.OK, b.wire.outcome.Reason = false, "It is jammed."
	b.report("hw-eye", "motion", thing.Boolean(true))
	b.pass(time.Minute)
	failed := b.since(left)
	require.Len(t, failed.Commands, 1)
	assert.Equal(t, "Lamp", failed.Commands[0].Title)
	assert.Equal(t, 1, failed.Commands[0].Count)
	assert.NotZero(t, failed.Commands[0].Entry)
}

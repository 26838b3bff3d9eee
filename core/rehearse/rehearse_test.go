package rehearse_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rehearse"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

var evening = time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)

func mill() rehearse.Home {
	lamp := &home.Device{
		Title: "Lamp",
		Description: thing.Description{
			Properties: []thing.Property{{Name: "brightness", Title: "Brightness", Type: thing.TypeNumber, Maximum: 100, Resolution: 1, Writable: true}},
		},
	}
	sensor := &home.Device{
		Title: "Sensor",
		Description: thing.Description{
			Properties: []thing.Property{{Name: "motion", Title: "Motion", Type: thing.TypeBoolean}, {Name: "light", Title: "Light", Type: thing.TypeNumber}},
		},
	}
	return rehearse.Home{
		Home:    &home.Home{Title: "Mill", Zone: "Europe/London", Latitude: 51.5, Longitude: -2.6},
		Devices: map[string]*home.Device{"lamp": lamp, "sensor": sensor},
		Saved: state.Saved{
			Properties: map[thing.Ref]state.PropertyState{
				{Device: "sensor", Name: "light"}: {Reading: state.Reading{Reported: thing.Number(300)}, Control: state.Control{Certainty: state.Confirmed}},
			},
		},
	}
}

func stair() *rule.Rule {
	return &rule.Rule{
		Title:             "Stair",
		Whenever:          &rule.Condition{Device: "sensor", Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)},
		ForAtLeastSeconds: 30,
		Provided:          &rule.Condition{Device: "sensor", Property: "light", Comparison: rule.Below, Value: thing.Number(20)},
		Do:                []rule.Step{{Kind: rule.StepHold, Device: "lamp", Property: "brightness", Value: thing.Number(60)}},
	}
}

func kinds(r rehearse.Result, wanted ...cause.Kind) (list []cause.Entry) {
	for _, e := range r.Entries {
		for _, k := range wanted {
			if e.Kind == k {
				list = append(list, e)
			}
		}
	}
	return list
}

func TestWhatWouldBeSentIsSeenAtItsTime(t *testing.T) {
	h := mill()
	p := rehearse.Pretence{Rule: "r", Document: stair(), At: evening, Trigger: -1, Span: 10 * time.Minute,
		Before: []rehearse.Reading{{Device: "sensor", Name: "light", Value: thing.Number(3)}, {Device: "lamp", Name: "brightness", Value: thing.Number(0)}},
		Then:   []rehearse.Reading{{Device: "sensor", Name: "motion", Value: thing.Boolean(true)}}}
	result := rehearse.Run(h, p)
	require.Empty(t, result.Problems)
	sent := kinds(result, cause.Commanded)
	require.Len(t, sent, 1)
	assert.Equal(t, thing.Number(60), sent[0].Value)
	assert.Equal(t, 30*time.Second, sent[0].At.Sub(evening))
	assert.Len(t, kinds(result, cause.Confirmed), 1, "devices do what they are asked for")
	assert.Equal(t, thing.Number(300), h.Saved.Properties[thing.Ref{Device: "sensor", Name: "light"}].Reported, "the home is not touched")
}

func TestWhatKeepsItFromActingIsSeen(t *testing.T) {
	result := rehearse.Run(mill(), rehearse.Pretence{Rule: "r", Document: stair(), At: evening, Trigger: -1, Span: time.Minute,
		Then: []rehearse.Reading{{Device: "sensor", Name: "motion", Value: thing.Boolean(true)}}})
	assert.Empty(t, kinds(result, cause.Commanded))
	assert.Len(t, kinds(result, cause.NotStarted), 1)
	truths := map[string]bool{}
	for _, c := range result.Conditions {
		truths[c.Path] = c.Truth
	}
	assert.Equal(t, map[string]bool{"whenever": true, "provided": false}, truths)
}

func TestConditionsAreShownAsTheyWereBeforeItActed(t *testing.T) {
	doc := &rule.Rule{
		Title:    "r",
		When:     []rule.Trigger{{Kind: rule.OnPhrase, Words: "now"}},
		Do:       []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(7)}},
		Provided: &rule.Condition{Device: "lamp", Property: "brightness", Comparison: rule.Is, Value: thing.Number(0)},
	}
	result := rehearse.Run(
		mill(),
		rehearse.Pretence{
			Rule:     "r",
			Document: doc,
			At:       evening,
			Trigger:  0,
			Before:   []rehearse.Reading{{Device: "lamp", Name: "brightness", Value: thing.Number(0)}},
		},
	)
	assert.True(t, result.Conditions[0].Truth)
	assert.Equal(t, thing.Number(0), result.Conditions[0].Value)
}

func TestWhatIsSoAlreadyBeginsAtOnce(t *testing.T) {
	doc := stair()
	doc.ForAtLeastSeconds = 0
	result := rehearse.Run(mill(), rehearse.Pretence{Rule: "r", Document: doc, At: evening, Trigger: -1, Before: []rehearse.Reading{
		{Device: "sensor", Name: "light", Value: thing.Number(3)}, {Device: "sensor", Name: "motion", Value: thing.Boolean(true)}}})
	assert.Len(t, kinds(result, cause.Commanded), 1)
}

func TestATriggerComesOrAHandRunsIt(t *testing.T) {
	doc := &rule.Rule{
		Title: "r",
		When:  []rule.Trigger{{Kind: rule.OnStart}, {Kind: rule.OnPhrase, Words: "now"}},
		Do:    []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(7)}},
	}
	for _, p := range []rehearse.Pretence{{Trigger: 1}, {Trigger: -1, ByHand: true}} {
		p.Rule, p.Document, p.At = "r", doc, evening
		assert.Len(t, kinds(rehearse.Run(mill(), p), cause.Commanded), 1)
	}
}

func TestOneThatNeverEndsIsCut(t *testing.T) {
	doc := &rule.Rule{Title: "r", When: []rule.Trigger{{Kind: rule.OnPhrase, Words: "now"}}, Do: []rule.Step{{Kind: rule.StepRepeat, Do: []rule.Step{
		{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(0), To: thing.Number(100)}, {Kind: rule.StepWait, ForSeconds: 1}}}}}
	result := rehearse.Run(mill(), rehearse.Pretence{Rule: "r", Document: doc, At: evening, ByHand: true, Trigger: -1, Span: 24 * time.Hour})
	assert.True(t, result.Cut)
	assert.Less(t, result.Ended.Sub(evening), time.Hour)
	broken := &rule.Rule{Title: "r", Do: []rule.Step{{Kind: rule.StepSet, Device: "gone", Property: "x", Value: thing.Number(1)}}}
	assert.NotEmpty(t, rehearse.Run(mill(), rehearse.Pretence{Rule: "r", Document: broken, At: evening, ByHand: true, Trigger: -1}).Problems)
}

func TestSequencesAndCalendarsArePretendedWith(t *testing.T) {
	h := mill()
	h.Scenes = map[string]*light.Scene{"warm": {Title: "Warm", Targets: []light.Target{{Device: "lamp", Property: "brightness", Value: thing.Number(40)}}}}
	h.Sequences = map[string]*light.Sequence{"dusk": {Title: "Dusk", Ending: light.EndLetGo, Passages: []light.Passage{{Scene: "warm", StaySeconds: 60}}}}
	h.Calendars = map[string][]almanac.Entry{"diary": {{Title: "Chess", Begin: evening.Add(10 * time.Minute), End: evening.Add(time.Hour)}}}
	doc := &rule.Rule{
		Title: "Chess",
		When:  []rule.Trigger{{Kind: rule.OnEntry, Calendar: "diary", Words: "chess"}},
		Do:    []rule.Step{{Kind: rule.StepSequence, Sequence: "dusk"}},
	}
	r := rehearse.Run(h, rehearse.Pretence{Rule: "r", Document: doc, At: evening, Trigger: -1, Span: 30 * time.Minute})
	assert.Empty(t, r.Problems)
	began, ended := kinds(r, cause.Played), kinds(r, cause.PlayedOut)
	require.Len(t, began, 1)
	require.Len(t, ended, 1)
	assert.Equal(t, evening.Add(10*time.Minute), began[0].At)
	assert.Equal(t, evening.Add(11*time.Minute), ended[0].At)
}

func toLamp(value float64) []rule.Step {
	return []rule.Step{{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(value)}}
}

func values(entries []cause.Entry) (list []float64) {
	for _, e := range entries {
		list = append(list, e.Value.Number)
	}
	return list
}

func TestTheRestOfTheHomeActsToo(t *testing.T) {
	h := mill()
	when := func(value float64) *rule.Rule {
		return &rule.Rule{Title: "r", Enabled: true, When: []rule.Trigger{
			{Device: "sensor", Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)},
		}, Do: toLamp(value)}
	}
	h.Rules = map[string]*rule.Rule{"a": when(11), "r": when(7)}
	r := rehearse.Run(h, rehearse.Pretence{Rule: "r", Document: when(9), At: evening, Trigger: -1, Then: []rehearse.Reading{
		{Device: "sensor", Name: "motion", Value: thing.Boolean(true)}}})
	assert.Equal(t, []float64{11, 9}, values(kinds(r, cause.Commanded)), "as it is pretended to be, not as it is live")
	ran := kinds(r, cause.Ran)
	require.Len(t, ran, 2)
	assert.Equal(t, []string{"a", "r"}, []string{ran[0].Rule, ran[1].Rule})
}

func TestAtAnotherTimeOfTheDayEachHourComesAnew(t *testing.T) {
	h := mill()
	h.Now = evening
	h.Schedules = map[string]*rule.Schedule{"wake": {Title: "Wake", Enabled: true, At: almanac.Daily{Anchor: almanac.ByClock, Clock: "07:00"}, Do: toLamp(5)}}
	h.Saved.Schedules = map[string]state.ScheduleState{"wake": {Next: time.Date(2026, 11, 21, 7, 0, 0, 0, time.UTC)}}
	pretend := func(at time.Time) []cause.Entry {
		doc := &rule.Rule{Title: "r", Do: toLamp(9)}
		return kinds(rehearse.Run(h, rehearse.Pretence{Rule: "r", Document: doc, At: at, Trigger: -1, Span: 12 * time.Hour}), cause.Due, cause.Missed)
	}
	for _, at := range []time.Time{evening, evening.Add(-20 * time.Hour), evening.Add(2 * 24 * time.Hour)} {
		due := pretend(at)
		require.Len(t, due, 1)
		assert.Equal(t, cause.Due, due[0].Kind)
		assert.Equal(t, "07:00", due[0].At.Format("15:04"))
		assert.Less(t, due[0].At.Sub(at), 12*time.Hour)
	}
}

func TestNoMoreIsToldThanIsKept(t *testing.T) {
	doc := &rule.Rule{Title: "r", Do: []rule.Step{{Kind: rule.StepRepeat, Times: 300, Do: []rule.Step{
		{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(0), To: thing.Number(100)},
		{Kind: rule.StepWait, ForSeconds: 1},
	}}}}
	r := rehearse.Run(mill(), rehearse.Pretence{Rule: "r", Document: doc, At: evening, ByHand: true, Trigger: -1, Span: time.Hour})
	require.Empty(t, r.Problems)
	assert.True(t, r.Cut)
	assert.Len(t, r.Entries, 400)
}

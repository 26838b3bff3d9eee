package rehearse_test

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/rehearse"
	"amvek/core/rule"
	"amvek/core/thing"
)

// living is a home that lives, and keeps what it did.
type living struct {
	engine *engine.Engine
	now    time.Time
	home   rehearse.Home
	log    []string
}

func live(home rehearse.Home) *living {
	l := &living{engine: engine.New(1, 1), now: evening, home: home}
	l.engine.Seed(7)
	l.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindHome, Home: home.Home})
	for _, id := range []string{"lamp", "sensor"} {
		l.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: id, Thing: home.Devices[id]})
	}
	for _, id := range []string{"a", "b", "c", "d"} {
		if doc := home.Rules[id]; doc != nil {
			l.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindRule, ID: id, RuleDoc: doc})
		}
	}
	return l
}

func (l *living) do(in engine.Input) {
	for _, out := range l.engine.Handle(l.now, in) {
		data, _ := json.Marshal(out)
		l.log = append(l.log, string(data))
	}
}

func (l *living) pass(d time.Duration) {
	for end := l.now.Add(d); ; {
		at, more := l.engine.NextDeadline()
		if !more || at.After(end) {
			l.now = end
			return
		}
		l.now = at
		l.do(engine.Input{Kind: engine.InputTick})
	}
}

// saved is what is to be kept of the home, as it would be written. Keys of maps are sorted by the encoder.
func (l *living) saved(t require.TestingT) string {
	saved := l.engine.Saved()
	properties := map[string]any{}
	for ref, p := range saved.Properties {
		properties[ref.Device+"/"+ref.Name] = p
	}
	data, err := json.Marshal([]any{properties, saved.Rules, saved.Schedules, saved.Devices})
	require.NoError(t, err)
	return string(data)
}

// TestPretendingTouchesNothing is a law: two homes live through the same, and in one of them rules are pretended at random
// moments. What is kept of it stays the same, byte for byte, and both do the same afterwards.
func TestPretendingTouchesNothing(t *testing.T) {
	moving := rule.Condition{Device: "sensor", Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)}
	lasting := moving
	lasting.ForAtLeastSeconds = 45
	dim := func(n float64) rule.Step {
		return rule.Step{Kind: rule.StepSet, Device: "lamp", Property: "brightness", Value: thing.Number(n)}
	}
	rules := map[string]*rule.Rule{
		"a": {
			Title:   "a",
			Enabled: true,
			Policy:  rule.SideBySide,
			When:    []rule.Trigger{{Kind: rule.OnPhrase, Words: "go"}, {Kind: rule.OnTime, At: &almanac.Daily{Anchor: almanac.ByClock, Clock: "22:05"}}},
			Do: []rule.Step{
				dim(10), {Kind: rule.StepWait, ForSeconds: 20, ToSeconds: 2400}, {Kind: rule.StepRemember, Device: "lamp"}, dim(30),
				{
					Kind: rule.StepTogether,
					Branches: []rule.Branch{
						{Do: []rule.Step{{Kind: rule.StepWait, ForSeconds: 9}, dim(40)}},
						{Do: []rule.Step{{Kind: rule.StepUntil, Condition: &lasting, AtMostSeconds: 90}}},
					},
				},
				{
					Kind:       rule.StepRamp,
					Device:     "lamp",
					Property:   "brightness",
					Value:      thing.Number(80),
					ForSeconds: 60,
				}, {Kind: rule.StepPutBack, Device: "lamp"},
			},
		},
		"b": {
			Title:                  "b",
			Enabled:                true,
			Whenever:               &moving,
			ForAtLeastSeconds:      5,
			EndedForAtLeastSeconds: 12,
			Do:                     []rule.Step{{Kind: rule.StepHold, Device: "lamp", Property: "brightness", Value: thing.Number(60)}},
		},
		"c": {
			Title:   "c",
			Enabled: true,
			When:    []rule.Trigger{{Kind: rule.OnTime, At: &almanac.Daily{Anchor: almanac.ByClock, Clock: "22:12"}}},
			Do:      []rule.Step{dim(5)},
		},
		"d": {
			Title:    "d",
			Enabled:  true,
			Whenever: &lasting,
			Do:       []rule.Step{{Kind: rule.StepQuestion, Text: "Well?", Branches: []rule.Branch{{Answer: "Yes", Do: []rule.Step{dim(1)}}}}},
		},
	}
	rapid.Check(t, func(t *rapid.T) {
		home := mill()
		home.Rules = rules
		one, two := live(home), live(home)
		both := func(f func(l *living)) { f(one); f(two) }
		for range rapid.IntRange(1, 20).Draw(t, "acts") {
			switch rapid.IntRange(0, 6).Draw(t, "act") {
			case 0:
				both(func(l *living) { l.do(engine.Input{Kind: engine.InputPhrase, Words: "go"}) })
			case 1:
				v := thing.Boolean(rapid.Bool().Draw(t, "moving"))
				both(func(l *living) {
					l.do(engine.Input{Kind: engine.InputReport, Device: "sensor", Name: "motion", Value: v})
				})
			case 2:
				v := thing.Number(float64(rapid.IntRange(0, 100).Draw(t, "by hand")))
				both(func(l *living) {
					l.do(
						engine.Input{
							Kind:   engine.InputWrite,
							Device: "lamp",
							Name:   "brightness",
							Value:  v,
							Doer:   cause.By{Who: cause.Person, Via: cause.ViaPage},
						},
					)
				})
			case 3, 4:
				before := two.saved(t)
				h := home
				h.Saved, h.Now, h.Seed = two.engine.Saved(), two.now, 7
				id := rapid.SampledFrom([]string{"a", "b", "c", "d"}).Draw(t, "rule")
				p := rehearse.Pretence{
					Rule:     id,
					Document: rules[id],
					At:       two.now.Add(time.Duration(rapid.IntRange(-300, 300).Draw(t, "minutes")) * time.Minute),
					Trigger:  -1,
					ByHand:   true,
					Span:     time.Hour,
					Before: []rehearse.Reading{
						{Device: "lamp", Name: "brightness", Value: thing.Number(3)},
					},
					Then: []rehearse.Reading{{Device: "sensor", Name: "motion", Value: thing.Boolean(true)}},
				}
				first := fmt.Sprint(rehearse.Run(h, p))
				require.Equal(t, first, fmt.Sprint(rehearse.Run(h, p)), "pretended twice it is the same, for the home it was made from is as it was")
				require.Equal(t, before, two.saved(t))
			default:
				d := time.Duration(rapid.IntRange(1, 400).Draw(t, "seconds")) * time.Second
				both(func(l *living) { l.pass(d) })
			}
			require.Equal(t, one.log, two.log)
			one.log, two.log = nil, nil
			require.Equal(t, one.saved(t), two.saved(t))
		}
	})
}

package hub_test

import (
	"encoding/json"
	"fmt"
	"os"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/almanac"
	"amvek/core/board"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/internal/mutate"
)

// rightDocuments are documents of each kind that the bench's home takes, and that between them use every field.
func (b *bench) rightDocuments() map[docs.Kind][]any {
	is := func(device, property string, v thing.Value) *rule.Condition {
		return &rule.Condition{Device: device, Property: property, Comparison: rule.Is, Value: v}
	}
	moving, lit := is(b.eye, "motion", thing.Boolean(true)), is(b.lamp, "brightness", thing.Number(40))
	lasting := *moving
	lasting.ForAtLeastSeconds = 30
	set := func(n float64) rule.Step {
		return rule.Step{Kind: rule.StepSet, Device: b.lamp, Property: "brightness", Value: thing.Number(n)}
	}
	wait := rule.Step{Kind: rule.StepWait, ForSeconds: 5, ToSeconds: 9}
	night := &rule.Condition{Between: &rule.Window{From: almanac.Daily{Anchor: almanac.BySunset}, To: almanac.Daily{Anchor: almanac.ByClock, Clock: "06:30"}}}
	return map[docs.Kind][]any{
		docs.KindHome:  {&home.Home{Title: "Mill", Latitude: 51.5, Longitude: -2.6, Zone: "Europe/London", NamePattern: "{room} {what}"}},
		docs.KindRoom:  {&home.Room{Title: "Hall"}},
		docs.KindGroup: {&home.Group{Title: "Lamps", Devices: []string{b.lamp}}},
		docs.KindScene: {
			&light.Scene{
				Title:          "Worked out",
				FadeSeconds:    1,
				FadeExpression: "hour / 10",
				Targets:        []light.Target{{Device: b.lamp, Property: "brightness", Value: thing.Number(20), Expression: "hour * 2"}},
			},
			&light.Scene{Title: "Dim", FadeSeconds: 3, Targets: []light.Target{{Device: b.lamp, Property: "brightness", Value: thing.Number(20)}}},
		},
		docs.KindSequence: {
			&light.Sequence{Title: "Round", Passages: []light.Passage{{Scene: "scene-0", FadeSeconds: 1, StaySeconds: 2, Level: 50}}, Ending: light.EndRepeat},
		},
		docs.KindVariable: {
			&home.Variable{Title: "Guests", Type: thing.TypeNumber, Maximum: 9},
			&home.Variable{Title: "Twice", Type: thing.TypeNumber, Maximum: 200, Expression: fmt.Sprintf("value(%q, \"brightness\") * 2", b.lamp)},
		},
		docs.KindModes: {&home.Modes{Modes: []home.Mode{{ID: "mode-in", Title: "In"}, {ID: "mode-out", Title: "Out"}}}},
		docs.KindCalendar: {
			&home.Calendar{Title: "Bins", Address: "http://127.0.0.1:1/bins.ics", EveryMinutes: 30},
			&home.Calendar{Title: "Club", Address: "http://127.0.0.1:1/q7w8e9r0t1y2/club.ics", EveryMinutes: 30, OwnMachine: true},
		},
		docs.KindDashboard: {&board.Dashboard{Grid: board.Columns, Title: "Hall"}},
		docs.KindSchedule: {
			&rule.Schedule{
				Title:   "Daily",
				Enabled: true,
				At:      almanac.Daily{Anchor: almanac.BySunrise, OffsetMinutes: 20, Weekdays: []time.Weekday{1, 2}},
				Do:      []rule.Step{set(4), {Kind: rule.StepScene, Scene: "scene-0"}, {Kind: rule.StepNotify, Text: "Up {value(\"own\", \"mode\")}"}},
			},
		},
		docs.KindRule: {
			&rule.Rule{Title: "Formulas", Enabled: true, Formulas: rule.Formulas{"forAtLeastSeconds": "hour", "endedForAtLeastSeconds": "hour * 2"},
				Whenever: &rule.Condition{Any: []rule.Condition{
					{Device: b.lamp, Property: "brightness", Comparison: rule.Above, Formulas: rule.Formulas{"value": "hour * 3", "forAtLeastSeconds": "hour"}},
					{Group: "label:night", Which: rule.AnyOf, Property: "brightness", Comparison: rule.Below, Value: thing.Number(20)},
					{Event: &rule.EventNow{Calendar: "calendar-0", Words: "bins", WholeDays: true}},
				}},
				Do: []rule.Step{
					{
						Kind:     rule.StepHold,
						Group:    "label:night",
						Property: "brightness",
						Value:    thing.Number(60),
						Formulas: rule.Formulas{"forSeconds": "hour * 60", "fadeSeconds": "hour / 4"},
					},
				}},
			&rule.Rule{Title: "Called", Enabled: true, Policy: rule.Queue, When: []rule.Trigger{
				{
					Kind:  rule.OnCall,
					Words: "door",
				}, {Group: "label:night", Property: "brightness", Comparison: rule.Above, ForSeconds: 5, Formulas: rule.Formulas{"value": "hour", "forSeconds": "hour / 2"}}, {Kind: rule.OnSilent, Group: "label:night"}, {Kind: rule.OnEntry, Calendar: "calendar-0"},
			}, Provided: &rule.Condition{Expression: `sentNumber("/level") > 1.0`},
				Do: []rule.Step{
					{Kind: rule.StepSet, Device: b.lamp, Property: "brightness", Expression: `sentNumber("/level")`},
					{
						Kind:      rule.StepIf,
						Condition: &rule.Condition{Expression: `sentYes("/on")`},
						Then:      []rule.Step{{Kind: rule.StepNotify, Text: `{sentText("/who")}`}},
					},
					{
						Kind:       rule.StepWeb,
						Address:    "http://127.0.0.1:1/hook?key=q7w8e9",
						OwnMachine: true,
						Method:     "POST",
						Text:       "on",
						Else:       []rule.Step{set(9)},
					},
					{
						Kind:     rule.StepEach,
						Group:    "label:night",
						Formulas: rule.Formulas{"gapSeconds": "hour / 5"},
						Do:       []rule.Step{{Kind: rule.StepAction, Device: rule.Member, Action: "identify"}},
					},
				}},
			&rule.Rule{
				Title:                  "Stair",
				Enabled:                true,
				Whenever:               &rule.Condition{All: []rule.Condition{lasting, {None: []rule.Condition{*lit}}}},
				ForAtLeastSeconds:      2,
				EndedForAtLeastSeconds: 3,
				Gate:                   is("own", "mode", thing.Text("mode-in")),
				Provided:               night,
				Do: []rule.Step{
					{Kind: rule.StepHold, Device: b.lamp, Property: "brightness", Value: thing.Number(60), FadeSeconds: 1},
				},
				Afterwards: []rule.Step{{Kind: rule.StepNotify, Text: "Over"}},
			},
			&rule.Rule{
				Title:   "Walk",
				Enabled: true,
				Policy:  rule.SideBySide,
				When: []rule.Trigger{
					{Device: b.eye, Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true), ForSeconds: 3},
					{Kind: rule.OnPhrase, Words: "go"},
					{Kind: rule.OnTime, At: &almanac.Daily{Anchor: almanac.ByClock, Clock: "22:10"}},
					{Kind: rule.OnCall, Words: "door"},
				},
				Do: []rule.Step{
					set(10), wait, {Kind: rule.StepRepeat, Times: 3, Condition: moving, Until: true, Do: []rule.Step{set(20), wait}},
					{Kind: rule.StepIf, Condition: lit, Then: []rule.Step{set(30)}, Else: []rule.Step{{Kind: rule.StepStop}}},
					{Kind: rule.StepUntil, Condition: &lasting, AtMostSeconds: 20, Else: []rule.Step{set(1)}},
					{
						Kind:       rule.StepEach,
						Group:      "group-0",
						GapSeconds: 1,
						Do:         []rule.Step{{Kind: rule.StepSet, Device: rule.Member, Property: "brightness", Value: thing.Number(5)}},
					},
					{Kind: rule.StepTogether, Branches: []rule.Branch{{Do: []rule.Step{wait}}, {Do: []rule.Step{set(2)}}}},
					{Kind: rule.StepOneOf, Branches: []rule.Branch{{Do: []rule.Step{set(3)}}, {Do: []rule.Step{set(4)}}}},
					{Kind: rule.StepRamp, Device: b.lamp, Property: "brightness", Value: thing.Number(90), ForSeconds: 10},
					{Kind: rule.StepRemember, Device: b.lamp}, {Kind: rule.StepPutBack, Device: b.lamp, FadeSeconds: 1},
					{Kind: rule.StepScript, Script: fmt.Sprintf("set(%q, \"brightness\", 5)", b.lamp), Else: []rule.Step{set(6)}},
					{
						Kind:          rule.StepQuestion,
						Text:          "Well?",
						AtMostSeconds: 60,
						Branches:      []rule.Branch{{Answer: "Yes", Do: []rule.Step{set(7)}}},
						Else:          []rule.Step{set(8)},
					},
					{Kind: rule.StepRun, Rule: "rule-0"}, {Kind: rule.StepPause, Rule: "rule-0"}, {Kind: rule.StepResume, Rule: "rule-0"},
					{Kind: rule.StepSequence, Sequence: "sequence-0"}, {Kind: rule.StepAction, Device: b.lamp, Action: "identify"},
					{
						Kind:       rule.StepShow,
						Text:       "Look",
						ForSeconds: 5,
					}, {Kind: rule.StepWait, Expression: fmt.Sprintf("value(%q, \"brightness\") / 10", b.lamp)},
				},
			},
		},
	}
}

// asked returns the number that a variable of the environment asks for, or what is usual.
func asked(variable string, usual int) int {
	if n, err := strconv.Atoi(os.Getenv(variable)); err == nil {
		return n
	}
	return usual
}

// TestWhateverIsAcceptedCanBeLoadedAndLetsTimeGoOn is a law: right documents with a few things changed are saved where they
// are accepted; what was accepted is there after a restart, nothing of it is set aside, and the home goes on living.
func TestWhateverIsAcceptedCanBeLoadedAndLetsTimeGoOn(t *testing.T) {
	b := newBench(t)
	labels := []string{"night"}
	require.NoError(t, b.hub.EditDevices(b.ctx, []hub.DeviceEdit{{ID: b.lamp, Labels: &labels}}))
	right := b.rightDocuments()
	type base struct {
		kind docs.Kind
		id   string
		json []byte
	}
	var bases []base
	var all [][]byte
	for _, kind := range []docs.Kind{docs.KindHome, docs.KindRoom, docs.KindGroup, docs.KindScene, docs.KindSequence, docs.KindVariable, docs.KindModes, docs.KindCalendar, docs.KindDashboard, docs.KindSchedule, docs.KindRule} {
		for i, doc := range right[kind] {
			id := fmt.Sprintf("%s-%d", kind, i)
			switch kind {
			case docs.KindHome:
				id = docs.HomeID
			case docs.KindModes:
				id = docs.ModesID
			}
			b.save(kind, id, doc)
			data, err := json.Marshal(doc)
			require.NoError(t, err)
			all = append(all, data)
			for range map[bool]int{true: 6, false: 1}[kind == docs.KindRule] { // most of what can go wrong is in rules
				bases = append(bases, base{kind, id, data})
			}
		}
	}
	rules, err := b.hub.Rules(b.ctx)
	require.NoError(t, err)
	for _, r := range rules {
		require.Empty(t, r.State.Problems, "the documents to begin with are right")
	}
	m := mutate.New(uint64(asked("AMVEK_SEED", 20261128)), all...)
	usual := 600
	if raced {
		usual = 60
	}
	accepted, tried := 0, asked("AMVEK_DOCUMENTS", usual)
	for i := range tried {
		of := bases[i%len(bases)]
		changed := m.Document(of.json)
		doc, err := docs.Decode(of.kind, changed)
		if err == nil {
			_, err = b.hub.Save(b.ctx, hub.New{Kind: of.kind, ID: of.id, Document: doc})
		}
		if err == nil {
			accepted++
		}
		b.goOn(string(changed))
		if i%20 == 19 || i == tried-1 {
			b.stop()
			b.start()
			require.Empty(t, b.asides(), "%s", changed)
			b.goOn("after a restart, " + string(changed))
			b.save(docs.KindHome, docs.HomeID, right[docs.KindHome][0])
		}
	}
	t.Logf("%d of %d documents were accepted", accepted, tried)
	assert.Greater(t, accepted, tried/10)
}

// goOn lets the home do all that its rules react to, and time pass.
func (b *bench) goOn(document string) {
	b.Helper()
	b.wire.sink.Report("hw-eye", "motion", thing.Boolean(true))
	require.NoError(b, b.hub.Phrase(b.ctx, "go", somebody), document)
	require.NoError(b, b.hub.Call(b.ctx, "door", `{"level": 5, "on": true, "who": "Tove"}`, somebody), document)
	for range 12 {
		at, more, err := b.hub.NextDeadline(b.ctx)
		require.NoError(b, err, document)
		if !more {
			break
		}
		if wait := at.Sub(b.clock.Now()); wait > 0 {
			b.clock.pass(min(wait, time.Hour))
		}
		require.NoError(b, b.hub.Wake(b.ctx), document)
	}
	b.wire.sink.Report("hw-eye", "motion", thing.Boolean(false))
	_ = b.hub.Act(b.ctx, engine.Input{Kind: engine.InputRun, Rule: "rule-1", Doer: somebody})
	require.Empty(b, b.asides(), document)
}

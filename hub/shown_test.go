package hub_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/board"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/hub/show"
	"amvek/hub/views"
)

// shown returns all that is shown, as browsers read it.
func (b *bench) shown() hub.ShownHome {
	b.Helper()
	write, err := b.hub.Shown(b.ctx, show.Audience{})
	require.NoError(b, err)
	var text bytes.Buffer
	require.NoError(b, write(&text))
	var all hub.ShownHome
	require.NoError(b, json.Unmarshal(text.Bytes(), &all), text.String())
	return all
}

func listedAs[T any](b *bench, kind docs.Kind) (list []T) {
	b.Helper()
	write, err := b.hub.List(b.ctx, kind)
	require.NoError(b, err)
	var text bytes.Buffer
	require.NoError(b, write(&text))
	require.NoError(b, json.Unmarshal(text.Bytes(), &list))
	return list
}

// asJSON makes two values comparable that come different ways.
func asJSON(t require.TestingT, v any) string {
	data, err := json.MarshalIndent(v, "", " ")
	require.NoError(t, err)
	return string(data)
}

// What is kept to be shown, piece by piece as things change, is what would be worked out anew: whatever is saved, removed,
// said and done, in whichever order.
func TestWhatIsShownIsAlwaysWhatIsSo(t *testing.T) {
	b := newBench(t)
	b.shown()
	chance := rand.New(rand.NewPCG(1, 9))
	pick := func(some ...string) string { return some[chance.IntN(len(some))] }
	number := func() thing.Value { return thing.Number(float64(chance.IntN(4) * 20)) }
	hold := func() rule.Step {
		s := rule.Step{Kind: rule.StepHold, Property: "brightness", Value: number()}
		if set := pick("", "group-a", "room-a", "floor:Below", "label:night"); set != "" {
			s.Group = set
		} else {
			s.Device = b.lamp
		}
		return s
	}
	ids := map[docs.Kind][]string{
		docs.KindRoom: {"room-a", "room-b"}, docs.KindGroup: {"group-a"}, docs.KindScene: {"scene-a", "scene-b"}, docs.KindSequence: {"sequence-a"},
		docs.KindRule: {"rule-a", "rule-b"}, docs.KindSchedule: {"schedule-a"}, docs.KindDashboard: {"dashboard-a"}, docs.KindVariable: {"variable-a"},
	}
	make := map[docs.Kind]func() any{
		docs.KindRoom: func() any {
			return &home.Room{Title: pick("Hall", "Loft"), Floor: pick("", "Below"), Order: chance.IntN(3)}
		},
		docs.KindGroup: func() any { return &home.Group{Title: pick("Lamps", "All"), Devices: []string{pick(b.lamp, b.eye)}} },
		docs.KindScene: func() any {
			return &light.Scene{Title: pick("Evening", "Night"), Targets: []light.Target{{Device: b.lamp, Property: "brightness", Value: number()}}}
		},
		docs.KindSequence: func() any {
			return &light.Sequence{Title: "Slow", Passages: []light.Passage{{Scene: pick("scene-a", "scene-b"), StaySeconds: 60}}, Ending: light.EndRepeat}
		},
		docs.KindRule: func() any {
			return &rule.Rule{
				Title:    pick("Stairs", "Hall light"),
				Enabled:  chance.IntN(4) > 0,
				Whenever: &rule.Condition{Device: b.eye, Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)},
				Do:       []rule.Step{hold()},
			}
		},
		docs.KindSchedule: func() any {
			return &rule.Schedule{Title: "Morning", Enabled: true, Do: []rule.Step{{Kind: rule.StepScene, Scene: pick("scene-a", "scene-b")}}}
		},
		docs.KindDashboard: func() any {
			return &board.Dashboard{Grid: board.Columns,
				Title:    "Board",
				Controls: []board.Control{{ID: "a", Kind: board.Scene, Aim: board.Aim{Scene: pick("scene-a", "scene-b")}, Place: board.Place{Width: 1, Height: 1}}},
			}
		},
		docs.KindVariable: func() any {
			return &home.Variable{
				Title:      pick("Glow", "Shine"),
				Type:       thing.TypeNumber,
				Maximum:    100,
				Expression: pick("", fmt.Sprintf("value(%q, \"brightness\")", b.lamp)),
			}
		},
	}
	kinds := []docs.Kind{
		docs.KindRoom,
		docs.KindGroup,
		docs.KindScene,
		docs.KindSequence,
		docs.KindRule,
		docs.KindSchedule,
		docs.KindDashboard,
		docs.KindVariable,
	}
	for i := range 600 {
		what := ""
		act := chance.IntN(6)
		if i >= 200 {
			act = 2 + chance.IntN(4) // nothing is said any more that would have things looked at anyway
		}
		switch act {
		case 0:
			b.report("hw-eye", "motion", thing.Boolean(chance.IntN(2) == 0))
			what = "motion"
		case 1:
			_ = b.hub.Act(b.ctx, engine.Input{Kind: engine.InputWrite, Device: b.lamp, Name: "brightness", Value: number(), Doer: somebody})
			_ = b.hub.Act(b.ctx, engine.Input{Kind: engine.InputScene, Scene: pick("scene-a", "scene-b"), Doer: somebody})
			b.quiet()
			what = "a write"
		case 2:
			id := pick(b.lamp, b.eye)
			d := b.device(id).Device
			d.Title, d.Room, d.Labels = pick("Lamp", "Lantern"), pick("", "room-a", "room-b"), []string{pick("night", "day")}
			_, _ = b.hub.Save(b.ctx, hub.New{Kind: docs.KindDevice, ID: id, Document: &d}) // refused where the room is not there
			what = "a device"
		default:
			kind := kinds[chance.IntN(len(kinds))]
			id := ids[kind][chance.IntN(len(ids[kind]))]
			if chance.IntN(4) == 0 {
				_ = b.hub.Remove(b.ctx, kind, id)
			} else {
				_, _ = b.hub.Save(b.ctx, hub.New{Kind: kind, ID: id, Document: make[kind]()}) // refused where it refers to what is not there
			}
			what = id
		}
		if i%3 > 0 {
			continue
		}
		devices, err := b.hub.Devices(b.ctx)
		require.NoError(t, err)
		shown := listedAs[views.DeviceView](b, docs.KindDevice)
		require.Equal(t, asJSON(t, devices), asJSON(t, shown), "%d: %s", i, what)
		rules, err := b.hub.Rules(b.ctx)
		require.NoError(t, err)
		require.Equal(t, asJSON(t, rules), asJSON(t, listedAs[views.RuleView](b, docs.KindRule)), "%d: %s", i, what)
		scenes, err := b.hub.Scenes(b.ctx)
		require.NoError(t, err)
		require.Equal(t, asJSON(t, scenes), asJSON(t, listedAs[views.SceneView](b, docs.KindScene)), "%d: %s", i, what)
		groups, err := b.hub.Groups(b.ctx)
		require.NoError(t, err)
		require.Equal(t, asJSON(t, groups), asJSON(t, listedAs[views.GroupView](b, docs.KindGroup)), "%d: %s", i, what)
		schedules, err := b.hub.Schedules(b.ctx)
		require.NoError(t, err)
		require.Equal(t, asJSON(t, schedules), asJSON(t, listedAs[views.ScheduleView](b, docs.KindSchedule)), "%d: %s", i, what)
		sequences, err := b.hub.Sequences(b.ctx)
		require.NoError(t, err)
		require.Equal(t, asJSON(t, sequences), asJSON(t, listedAs[views.SequenceView](b, docs.KindSequence)), "%d: %s", i, what)
	}
}

// What a browser read, with all that it was told since on top, is what another reads now.
func TestWhatIsToldMakesOfWhatWasReadWhatIsSo(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	feed := b.hub.Feed.Subscribe(show.Audience{}, "", 0)
	defer feed.Close()
	before := b.shown()
	b.report("hw-eye", "motion", thing.Boolean(true))
	b.save(docs.KindScene, "evening", b.scene(40, ""))
	b.save(docs.KindScene, "evening", b.scene(60, "Warm"))
	require.NoError(t, b.hub.Remove(b.ctx, docs.KindRule, "stair"))
	after := b.shown()
	assert.Greater(t, after.Number, before.Number)
	scenes, rules := before.Entries.Scene, before.Entries.Rule
	for len(feed.C) > 0 {
		frame := <-feed.C
		if frame.Number <= before.Number {
			continue
		}
		for _, c := range frame.Changes {
			switch {
			case c.Of == "scene" && c.Put != nil:
				var put views.SceneView
				require.NoError(t, json.Unmarshal(c.Put, &put))
				scenes[c.ID] = put
			case c.Of == "scene" && c.Patch != nil:
				text, err := json.Marshal(scenes[c.ID])
				require.NoError(t, err)
				var whole, patch map[string]any
				require.NoError(t, json.Unmarshal(text, &whole))
				require.NoError(t, json.Unmarshal(c.Patch, &patch))
				for name, value := range patch {
					whole[name] = value
				}
				text, err = json.Marshal(whole)
				require.NoError(t, err)
				var now views.SceneView
				require.NoError(t, json.Unmarshal(text, &now))
				scenes[c.ID] = now
			case c.Of == "rule" && c.Gone:
				delete(rules, c.ID)
			}
		}
	}
	assert.Equal(t, asJSON(t, after.Entries.Scene), asJSON(t, scenes))
	assert.Equal(t, asJSON(t, after.Entries.Rule), asJSON(t, rules))
	assert.Contains(t, after.Entries.Device, b.lamp)
	assert.NotEmpty(t, after.Entries.Device[b.lamp].States)
}

// A reading of a sensor is told in few words, and to nobody who does not look at the journal.
func TestAReadingIsToldInFewWords(t *testing.T) {
	b := newBench(t)
	b.report("hw-eye", "motion", thing.Boolean(false))
	b.shown()
	audience := show.Audience{Name: "home", May: func(k show.Key) bool { return k.Of != "journal" }}
	feed := b.hub.Feed.Subscribe(audience, "", 0)
	defer feed.Close()
	b.report("hw-eye", "motion", thing.Boolean(true))
	limit := time.After(20 * time.Second)
	for {
		select {
		case frame := <-feed.C:
			text, err := feed.Text(frame)
			require.NoError(t, err)
			if !bytes.Contains(text, []byte(`"of":"property"`)) {
				continue
			}
			assert.Less(t, len(text), 400, string(text))
			assert.NotContains(t, string(text), "journal")
			return
		case <-limit:
			require.Fail(t, "it is not told")
		}
	}
}

// The day line begins anew with the day, whether anybody looked at midnight or not.
func TestTheDayLineBeginsAnewWithTheDay(t *testing.T) {
	b := newBench(t)
	b.report("hw-lamp", "brightness", thing.Number(40))
	b.report("hw-lamp", "brightness", thing.Number(80)) // by a hand at the device
	today := b.shown().Entries
	require.NotEmpty(t, today.Mark)
	b.stop()
	b.start()
	assert.Equal(t, asJSON(t, today.Mark), asJSON(t, b.shown().Entries.Mark), "also after a restart")
	b.pass(24 * time.Hour)
	tomorrow := b.shown().Entries
	assert.Empty(t, tomorrow.Mark)
	assert.Equal(t, today.Day[""].To, tomorrow.Day[""].From)
}

// However much happens in a day, the newest marks are shown.
func TestTheDayLineShowsTheNewestMarks(t *testing.T) {
	b := newBench(t)
	for i := range 200 {
		b.report("hw-lamp", "brightness", thing.Number(float64(i%2*50+20)))
	}
	day, err := b.hub.Day(b.ctx)
	require.NoError(t, err)
	shown := b.shown().Entries.Mark
	assert.Len(t, shown, len(day.Marks))
	for _, m := range day.Marks {
		assert.Contains(t, shown, fmt.Sprint(m.Entry))
	}
}

// A sensor that says the same again was heard, though nothing about it changed.
func TestWhatIsHeardAgainIsShownWithItsTime(t *testing.T) {
	b := newBench(t)
	b.report("hw-eye", "motion", thing.Boolean(true))
	require.NotEmpty(t, listedAs[views.DeviceView](b, docs.KindDevice)) // as of now it is known
	b.clock.pass(time.Hour)
	b.report("hw-eye", "motion", thing.Boolean(true))
	for _, d := range listedAs[views.DeviceView](b, docs.KindDevice) {
		if d.ID == b.eye {
			assert.Equal(t, b.clock.Now(), d.States[0].ReportedAt)
			assert.Equal(t, b.clock.Now(), d.Care.HeardAt)
			assert.Equal(t, b.clock.Now().Add(-time.Hour), d.States[0].ChangedAt)
		}
	}
}

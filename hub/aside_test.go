package hub_test

import (
	"database/sql"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/almanac"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/store"
)

// damage changes the database by hand while the hub is off.
func (b *bench) damage(statements ...string) {
	b.Helper()
	b.stop()
	db, err := sql.Open("sqlite", filepath.Join(b.folder, store.FileName))
	require.NoError(b, err)
	for _, s := range statements {
		result, err := db.Exec(s)
		require.NoError(b, err)
		changed, err := result.RowsAffected()
		require.NoError(b, err)
		require.NotZero(b, changed, s)
	}
	require.NoError(b, db.Close())
	b.start()
}

func (b *bench) asides() []hub.Aside {
	b.Helper()
	list, err := b.hub.SetAside(b.ctx)
	require.NoError(b, err)
	return list
}

func TestADamagedDefinitionIsSetAsideAndTheRestOfTheHomeStarts(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	b.save(docs.KindScene, "dark", &light.Scene{Title: "Dark", Targets: []light.Target{{Device: b.lamp, Property: "brightness", Value: thing.Number(0)}}})
	b.save(docs.KindScene, "dark", &light.Scene{Title: "Dark night", Targets: []light.Target{{Device: b.lamp, Property: "brightness", Value: thing.Number(5)}}})
	b.damage(`UPDATE definitions SET document = '{"title":"Dark night","targets":[{"dev' WHERE id = 'dark'`)

	list := b.asides()
	require.Len(t, list, 1)
	a := list[0]
	assert.Equal(t, docs.KindScene, a.Kind)
	assert.Equal(t, "Dark night", a.Title, "as it was called last")
	assert.Equal(t, "Its text is damaged: it is not valid JSON at character 38.", a.Reason)
	assert.Equal(t, `{"title":"Dark night","targets":[{"dev`, a.Text)
	require.Len(t, a.Earlier, 2)
	b.report("hw-eye", "motion", thing.Boolean(true))
	assert.Equal(t, []thing.Value{thing.Number(60)}, b.wire.written(), "the rest is at work")

	var invalid *hub.InvalidError
	require.ErrorAs(t, b.hub.Mend(b.ctx, docs.KindScene, "dark", `{"title":`), &invalid)
	assert.Equal(t, "text", invalid.Place)
	require.ErrorAs(t, b.hub.Mend(b.ctx, docs.KindScene, "dark", `{"title":7}`), &invalid)
	assert.Equal(t, "Its text does not fit: title cannot be a number.", invalid.Message)
	require.ErrorAs(t, b.hub.Mend(b.ctx, docs.KindScene, "dark", `{"title":"Dark","targets":[{"device":"gone","property":"x","value":1}]}`), &invalid)
	require.Len(t, b.asides(), 1, "what is wrong changes nothing")

	require.NoError(t, b.hub.MendFrom(b.ctx, docs.KindScene, "dark", a.Earlier[1].Revision))
	assert.Empty(t, b.asides())
	scenes, err := b.hub.Scenes(b.ctx)
	require.NoError(t, err)
	require.Len(t, scenes, 1)
	assert.Equal(t, "Dark", scenes[0].Title)
	b.stop()
	b.start()
	assert.Empty(t, b.asides())

	var absent *hub.AbsentError
	require.ErrorAs(t, b.hub.Mend(b.ctx, docs.KindScene, "dark", `{}`), &absent)
	require.ErrorAs(t, b.hub.RemoveAside(b.ctx, docs.KindScene, "dark"), &absent)
}

// Each kind of definition may be damaged, in each of these ways, and the home starts.
func TestAnyDefinitionMayBeDamaged(t *testing.T) {
	for _, document := range []string{``, `null`, `[]`, `7`, `{"title":{}}`, `{"do":[{"do":[{"do":[]}],"kind":7}]}`, `{"devices":"x","targets":7,"passages":{},"description":[],"document":{}}`, "\x00\xff"} {
		b := newBench(t)
		b.stairLight()
		b.save(
			docs.KindSchedule,
			"daily",
			&rule.Schedule{Title: "Daily", At: almanac.Daily{Anchor: almanac.ByClock, Clock: "22:30"}, Do: []rule.Step{{Kind: rule.StepNotify, Text: "Well"}}},
		)
		b.stop()
		db, err := sql.Open("sqlite", filepath.Join(b.folder, store.FileName))
		require.NoError(t, err)
		_, err = db.Exec(`UPDATE definitions SET document = ?`, document)
		require.NoError(t, err)
		for _, kind := range []string{"room", "connection", "profile", "thing", "scene", "dashboard", "group", "variable", "modes", "calendar", "sequence", "nonsense"} {
			_, err = db.Exec(`INSERT INTO definitions (kind, id, revision, document) VALUES (?, ?, 1, ?)`, kind, kind+"-1", document)
			require.NoError(t, err)
		}
		require.NoError(t, db.Close())
		b.start()
		assert.NotEmpty(t, b.asides(), "%q", document)
		b.pass(time.Hour)
		for _, a := range b.asides() {
			if a.Kind != docs.KindHome {
				require.NoError(t, b.hub.RemoveAside(b.ctx, a.Kind, a.ID), "%s %q", a.Kind, document)
			}
		}
		b.stop()
		b.start()
	}
}

func TestARuleThatStopsTheEngineIsSetAsideAndNothingIsHalfDone(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	b.save(docs.KindRule, "bad", &rule.Rule{Title: "Bad", Enabled: true, When: []rule.Trigger{{Kind: rule.OnPhrase, Words: "fall"}},
		Do: []rule.Step{
			{Kind: rule.StepSet, Device: b.lamp, Property: "brightness", Value: thing.Number(99)},
			{Kind: rule.StepSet, Device: b.lamp, Property: "brightness", Value: thing.Number(1)},
		}})
	b.report("hw-eye", "motion", thing.Boolean(true))
	b.report("hw-lamp", "brightness", thing.Number(60))
	require.NoError(t, b.hub.KeepStates(b.ctx))
	before := b.wire.written()

	require.NoError(t, b.hub.Sabotage(b.ctx, "bad"))
	err := b.hub.Phrase(b.ctx, "fall", somebody)
	require.NoError(t, err)
	b.quiet()
	list := b.asides()
	require.Len(t, list, 1)
	assert.Equal(t, "bad", list[0].ID)
	assert.Contains(t, list[0].Reason, "stopped the hub")
	assert.Contains(t, list[0].Text, `"title": "Bad"`)
	assert.Equal(t, before, b.wire.written(), "nothing of what it fell over was carried out")
	view := b.brightness()
	assert.Equal(t, "60 %", view.Text)
	assert.Equal(t, state.Confirmed, view.Certainty)
	require.NotEmpty(t, view.Holders)
	assert.Equal(t, "Stair light", view.Holders[0].Title, "what others hold they go on holding")
	rules, err := b.hub.Rules(b.ctx)
	require.NoError(t, err)
	assert.Len(t, rules, 1)

	b.report("hw-eye", "motion", thing.Boolean(false))
	b.pass(31 * time.Second)
	assert.Equal(t, thing.Number(0), b.wire.written()[len(b.wire.written())-1], "and let go in time")

	b.stop()
	b.start()
	require.Len(t, b.asides(), 1, "the next start leaves it alone")
	require.NoError(t, b.hub.Mend(b.ctx, docs.KindRule, "bad", list[0].Text))
	assert.Empty(t, b.asides())
	err = b.hub.Phrase(b.ctx, "fall", somebody)
	require.NoError(t, err)
	b.quiet()
	assert.Equal(t, thing.Number(1), b.wire.written()[len(b.wire.written())-1])
	b.stop()
	b.start()
	assert.Empty(t, b.asides())
}

func TestAJobThatFallsEndsAloneAndIsNoSuccess(t *testing.T) {
	b := newBench(t)
	assert.ErrorContains(t, b.hub.InLoop(b.ctx, func() { panic("fallen") }), "went wrong")
	require.NoError(t, b.hub.InLoop(b.ctx, func() {}))
}

func TestWhatIsSavedCanBeLoaded(t *testing.T) {
	b := newBench(t)
	deep := rule.Condition{Device: b.lamp, Property: "brightness", Comparison: rule.Is, Value: thing.Number(1)}
	for range 600 {
		deep = rule.Condition{All: []rule.Condition{deep}}
	}
	_, err := b.hub.Save(
		b.ctx,
		hub.New{Kind: docs.KindRule, ID: "deep", Document: &rule.Rule{Title: "Deep", Whenever: &deep, Do: []rule.Step{{Kind: rule.StepNotify, Text: "x"}}}},
	)
	assert.ErrorContains(t, err, "nested too deep")
	steps := []rule.Step{{Kind: rule.StepNotify, Text: "x"}}
	for range 600 {
		steps = []rule.Step{{Kind: rule.StepRepeat, Times: 1, Do: steps}}
	}
	_, err = b.hub.Save(b.ctx, hub.New{Kind: docs.KindRule, ID: "deep", Document: &rule.Rule{Title: "Deep", Do: steps}})
	assert.ErrorContains(t, err, "nested too deep")
	_, err = b.hub.Save(
		b.ctx,
		hub.New{Kind: docs.KindRule, ID: "deep", Document: &rule.Rule{Title: "Deep\xff", Do: []rule.Step{{Kind: rule.StepNotify, Text: "x"}}}},
	)
	assert.ErrorContains(t, err, "not text")
	b.stop()
	b.start()
	rules, err := b.hub.Rules(b.ctx)
	require.NoError(t, err)
	assert.Empty(t, rules)
}

// Also what the home itself is may be damaged: everything else goes on.
func TestADamagedHomeIsSetAsideAndAllElseGoesOn(t *testing.T) {
	b := newBench(t)
	b.damage(`UPDATE definitions SET document = '{"title":' WHERE kind = 'home'`)
	require.Len(t, b.asides(), 1)
	_, err := b.hub.Day(b.ctx)
	require.NoError(t, err)
	view, err := b.hub.Home(b.ctx)
	require.NoError(t, err)
	assert.Equal(t, "UTC", view.Zone)
	_, err = b.hub.Add(b.ctx, []hub.Adding{{Connection: hub.GatewaysID, Hardware: "hw-new", Title: "New"}})
	assert.Error(t, err, "it has no profile")
	ids, err := b.hub.Propose(b.ctx, []hub.Adding{{Connection: hub.GatewaysID, Hardware: "hw-lamp"}})
	require.NoError(t, err)
	assert.NotEmpty(t, ids)
	require.NoError(t, b.hub.MendFrom(b.ctx, docs.KindHome, docs.HomeID, 1))
	assert.Empty(t, b.asides())
	view, err = b.hub.Home(b.ctx)
	require.NoError(t, err)
	assert.Equal(t, "Mill", view.Title)
}

package hub_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/document"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/tell"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
)

// rule returns a rule as it once was.
func (b *bench) rule(id string, revision int) rule.Rule {
	b.Helper()
	doc, err := b.hub.Revision(b.ctx, docs.KindRule, id, revision)
	require.NoError(b, err)
	return *doc.(*rule.Rule)
}

func (b *bench) scene(brightness float64, note string) *light.Scene {
	return &light.Scene{Title: "Evening", Note: note, Targets: []light.Target{{Device: b.lamp, Property: "brightness", Value: thing.Number(brightness)}}}
}

func (b *bench) edit(e hub.Edit) (*light.Scene, int, error) {
	e.Kind, e.ID = docs.KindScene, "evening"
	doc, revision, err := b.hub.SaveEdit(b.ctx, e)
	scene, _ := doc.(*light.Scene)
	return scene, revision, err
}

// Of two windows nobody's change is lost: what touches different places is joined, what touches the same is asked.
func TestTwoEditsOfOneSceneAreJoinedOrAsked(t *testing.T) {
	b := newBench(t)
	b.save(docs.KindScene, "evening", b.scene(40, ""))
	_, revision, err := b.edit(hub.Edit{From: b.scene(40, ""), To: b.scene(40, "Warm")})
	require.NoError(t, err)
	assert.Equal(t, 2, revision)
	doc, revision, err := b.edit(hub.Edit{From: b.scene(40, ""), To: b.scene(60, "")})
	require.NoError(t, err)
	assert.Equal(t, 3, revision)
	assert.Equal(t, b.scene(60, "Warm"), doc, "both edits are there")

	_, _, err = b.edit(hub.Edit{From: b.scene(40, "Warm"), To: b.scene(20, "Warm")})
	var clash *hub.ClashError
	require.ErrorAs(t, err, &clash)
	assert.Equal(t, []string{"targets/0/value"}, clash.Places)
	assert.Equal(t, []tell.Change{
		{Mark: tell.Same, Text: "Name: Evening"}, {Mark: tell.Same, Text: "Note: Warm"},
		{Mark: tell.Gone, Depth: 1, Text: "Lamp brightness: 60 %"}, {Mark: tell.Added, Depth: 1, Text: "Lamp brightness: 20 %"},
	}, clash.Changes)
	scenes, err := b.hub.Scenes(b.ctx)
	require.NoError(t, err)
	assert.Equal(t, 3, scenes[0].Revision, "a clash changes nothing")

	doc, _, err = b.edit(hub.Edit{From: b.scene(40, "Warm"), To: b.scene(20, "Warm and low"), Prefer: document.Theirs})
	require.NoError(t, err)
	assert.Equal(t, b.scene(60, "Warm and low"), doc)
	doc, revision, err = b.edit(hub.Edit{From: b.scene(40, "Warm"), To: b.scene(20, "Warm"), Prefer: document.Mine})
	require.NoError(t, err)
	assert.Equal(t, b.scene(20, "Warm and low"), doc)

	_, again, err := b.edit(hub.Edit{From: b.scene(30, "Warm and low"), To: b.scene(20, "Warm and low")})
	require.NoError(t, err)
	assert.Equal(t, revision, again, "what is so already makes no revision")
	_, _, err = b.edit(hub.Edit{From: b.scene(20, ""), To: b.scene(400, "")})
	assert.ErrorAs(t, err, new(*hub.InvalidError), "what does not fit is refused where it is wrong")
	require.NoError(t, b.hub.Remove(b.ctx, docs.KindScene, "evening"))
	_, _, err = b.edit(hub.Edit{From: b.scene(20, ""), To: b.scene(30, "")})
	assert.ErrorAs(t, err, new(*hub.AbsentError))
}

// Modes that nobody changed yet are edited like those that are kept.
func TestTheUsualModesAreEdited(t *testing.T) {
	b := newBench(t)
	from, to := home.UsualModes(), home.UsualModes()
	to.Modes[0].Title = "Here"
	_, _, err := b.hub.SaveEdit(b.ctx, hub.Edit{Kind: docs.KindModes, ID: docs.ModesID, From: &from, To: &to})
	require.NoError(t, err)
	other := home.UsualModes()
	other.Modes[1].Title = "There"
	_, _, err = b.hub.SaveEdit(b.ctx, hub.Edit{Kind: docs.KindModes, ID: docs.ModesID, From: &from, To: &other})
	require.NoError(t, err)
	view, err := b.hub.Modes(b.ctx)
	require.NoError(t, err)
	assert.Equal(t, "Here", view.Modes.Modes[0].Title)
	assert.Equal(t, "There", view.Modes.Modes[1].Title)
}

// Each kind has its earlier versions, with what became different, and any of them is taken back.
func TestDefinitionsAreTakenBackToHowTheyWere(t *testing.T) {
	b := newBench(t)
	b.save(docs.KindScene, "evening", b.scene(40, ""))
	b.save(docs.KindScene, "evening", b.scene(70, ""))
	list, err := b.hub.Revisions(b.ctx, docs.KindScene, "evening")
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, []tell.Change{
		{
			Mark: tell.Same,
			Text: "Name: Evening",
		}, {Mark: tell.Gone, Depth: 1, Text: "Lamp brightness: 40 %"}, {Mark: tell.Added, Depth: 1, Text: "Lamp brightness: 70 %"},
	}, list[0].Changes)
	require.NoError(t, b.hub.TakeBack(b.ctx, docs.KindScene, "evening", 1))
	scenes, err := b.hub.Scenes(b.ctx)
	require.NoError(t, err)
	assert.Equal(t, *b.scene(40, ""), scenes[0].Scene)
	assert.Equal(t, 3, scenes[0].Revision)

	before := b.device(b.lamp)
	renamed := before.Device
	renamed.Title, renamed.Hardware, renamed.Address = "Reading lamp", "other", "other"
	b.save(docs.KindDevice, b.lamp, &renamed)
	require.NoError(t, b.hub.TakeBack(b.ctx, docs.KindDevice, b.lamp, before.Revision))
	after := b.device(b.lamp)
	assert.Equal(t, "Lamp", after.Title)
	assert.Equal(t, "other", after.Hardware, "the hardware is what it is now")

	_, err = b.hub.Revisions(b.ctx, "button", "evening")
	assert.ErrorAs(t, err, new(*hub.AbsentError))
	_, err = b.hub.Revisions(b.ctx, docs.KindRule, "evening")
	assert.ErrorAs(t, err, new(*hub.AbsentError))
	assert.ErrorAs(t, b.hub.TakeBack(b.ctx, docs.KindScene, "evening", 9), new(*hub.AbsentError))
}

// What is saved together is checked together: each may refer to what the others bring, and nothing of it is there where one is wrong.
func TestWhatIsSavedTogetherIsCheckedTogether(t *testing.T) {
	b := newBench(t)
	lamp := b.device(b.lamp).Device
	lamp.Room = "room-loft"
	other := lamp
	other.Title, other.Hardware, other.Address = "Loft lamp", "hw-loft", "hw-loft"
	all := func(room string) []hub.New {
		moved := lamp
		moved.Room = room
		return []hub.New{
			{Kind: docs.KindDevice, ID: b.lamp, Document: &moved},
			{
				Kind:     docs.KindScene,
				ID:       "evening",
				Document: &light.Scene{Title: "Evening", Targets: []light.Target{{Device: "device-loft", Property: "brightness", Value: thing.Number(20)}}},
			},
			{Kind: docs.KindGroup, ID: "group-loft", Document: &home.Group{Title: "Loft", Devices: []string{"device-loft"}}},
			{
				Kind:     docs.KindSequence,
				ID:       "slow",
				Document: &light.Sequence{Title: "Slow", Passages: []light.Passage{{Scene: "evening", StaySeconds: 5}}, Ending: light.EndHold},
			},
			{Kind: docs.KindDevice, ID: "device-loft", Document: &other},
			{Kind: docs.KindRoom, ID: "room-loft", Document: &home.Room{Title: "Loft"}},
		}
	}
	before := asJSON(t, b.shown().Entries)
	_, err := b.hub.SaveAll(b.ctx, all("room-nowhere"))
	require.ErrorAs(t, err, new(*hub.InvalidError))
	assert.Equal(t, before, asJSON(t, b.shown().Entries), "nothing of it is there")
	_, err = b.hub.SaveAll(b.ctx, all("room-loft"))
	require.NoError(t, err)
	assert.Equal(t, "room-loft", b.device(b.lamp).Room)
	shown := b.shown().Entries
	assert.Equal(t, "Evening", shown.Scene["evening"].Title)
	assert.Equal(t, asJSON(t, shown.Device["device-loft"]), asJSON(t, b.device("device-loft")))
}

// What was removed is told, the latest first, and comes back after a restart too.
func TestWhatWasRemovedIsToldAndComesBack(t *testing.T) {
	b := newBench(t)
	b.save(docs.KindRoom, "room-hall", &home.Room{Title: "Hall"})
	b.save(docs.KindRoom, "room-loft", &home.Room{Title: "Loft"})
	require.NoError(t, b.hub.Remove(b.ctx, docs.KindRoom, "room-hall"))
	b.clock.pass(time.Minute)
	require.NoError(t, b.hub.Remove(b.ctx, docs.KindRoom, "room-loft"))
	titles := func() (titles []string) {
		all, err := b.hub.Removed(b.ctx)
		require.NoError(t, err)
		for _, r := range all {
			titles = append(titles, string(r.Kind)+" "+r.Title)
		}
		return titles
	}
	assert.Equal(t, []string{"room Loft", "room Hall"}, titles())
	b.stop()
	b.start()
	require.NoError(t, b.hub.Restore(b.ctx, docs.KindRoom, "room-hall"))
	assert.Equal(t, []string{"room Loft"}, titles())
}

// A connection that is brought back goes on.
func TestAConnectionThatIsBroughtBackIsOpened(t *testing.T) {
	b := newBench(t)
	b.save(docs.KindConnection, "connection-far", &docs.Connection{Title: "Far", Kind: "nothing", Address: "127.0.0.1:1"})
	require.NoError(t, b.hub.Remove(b.ctx, docs.KindConnection, "connection-far"))
	require.NoError(t, b.hub.Restore(b.ctx, docs.KindConnection, "connection-far"))
	all, err := b.hub.Connections(b.ctx)
	require.NoError(t, err)
	require.Len(t, all, 2)
	assert.Contains(t, all[1].Reason, "not known", "it was opened, by a kind that nobody knows")
}

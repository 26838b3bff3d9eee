package hub_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/board"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
)

// What uses a thing is known as definitions come, change, go and come back, and after a restart.
func TestWhatUsesAThingIsKnownAsDefinitionsComeAndGo(t *testing.T) {
	b := newBench(t)
	uses := func() (titles []string) {
		d, err := b.hub.Device(b.ctx, b.lamp)
		require.NoError(t, err)
		for _, u := range d.UsedBy {
			titles = append(titles, string(u.Kind)+" "+u.Title)
		}
		return titles
	}
	assert.Empty(t, uses())
	b.stairLight()
	b.save(docs.KindScene, "evening", &light.Scene{Title: "Evening", Targets: []light.Target{
		{Device: b.lamp, Property: "brightness", Value: thing.Number(30)},
	}})
	b.save(docs.KindVariable, "variable-glow", &home.Variable{
		Title: "Glow", Type: thing.TypeNumber, Maximum: 100, Expression: fmt.Sprintf("value(%q, \"brightness\")", b.lamp),
	})
	b.save(docs.KindDashboard, "hall", &board.Dashboard{Grid: board.Columns, Title: "Hall", Controls: []board.Control{
		{ID: "a", Kind: board.Lamp, Aim: board.Aim{Device: b.lamp, Property: "brightness"}, Place: board.Place{Width: 1, Height: 1}},
	}})
	want := []string{"scene Evening", "rule Stair light", "variable Glow", "dashboard Hall"}
	assert.Equal(t, want, uses())
	b.stop()
	b.start()
	assert.Equal(t, want, uses(), "after a restart")

	rules, err := b.hub.Rules(b.ctx)
	require.NoError(t, err)
	_, err = b.hub.Save(b.ctx, hub.New{Kind: docs.KindRule, ID: "stair", Revision: rules[0].Revision, Document: &rule.Rule{
		Title: "Stair light", Do: []rule.Step{{Kind: rule.StepNotify, Text: "Nothing"}},
	}})
	require.NoError(t, err)
	assert.Equal(t, []string{"scene Evening", "variable Glow", "dashboard Hall"}, uses(), "a rule that no longer does")
	require.NoError(t, b.hub.Remove(b.ctx, docs.KindScene, "evening"))
	assert.Equal(t, []string{"variable Glow", "dashboard Hall"}, uses())
}

// A rule that speaks of a group, a room, a floor or a label uses each device that is in it, and says by what.
func TestWhatUsesADeviceThroughASetThatItIsInIsKnown(t *testing.T) {
	b := newBench(t)
	uses := func() (titles []string) {
		d, err := b.hub.Device(b.ctx, b.lamp)
		require.NoError(t, err)
		for _, u := range d.UsedBy {
			titles = append(titles, u.Title+" through "+u.Through)
		}
		return titles
	}
	speaksOf := func(id, title, set string) {
		b.save(docs.KindRule, id, &rule.Rule{Title: title, Enabled: true, Whenever: &rule.Condition{Expression: "true"}, Do: []rule.Step{
			{Kind: rule.StepHold, Group: set, Property: string(thing.RoleBrightness), Value: thing.Number(20)},
		}})
	}
	b.save(docs.KindGroup, "group-lanterns", &home.Group{Title: "Lanterns", Devices: []string{b.lamp}})
	b.save(docs.KindRoom, "room-hall", &home.Room{Title: "Hall", Floor: "Below"})
	lamp := b.device(b.lamp).Device
	lamp.Room, lamp.Labels = "room-hall", []string{"night"}
	b.save(docs.KindDevice, b.lamp, &lamp)
	assert.Empty(t, uses(), "being in a group is no use")
	speaksOf("rule-1", "Group", "group-lanterns")
	speaksOf("rule-2", "Room", "room-hall")
	speaksOf("rule-3", "Floor", "floor:Below")
	speaksOf("rule-4", "Label", "label:night")
	assert.Equal(t, []string{"Group through Lanterns", "Room through Hall", "Floor through the floor Below", "Label through what is labelled night"}, uses())

	b.save(docs.KindGroup, "group-lanterns", &home.Group{Title: "Lanterns", Devices: []string{}})
	b.save(docs.KindRoom, "room-hall", &home.Room{Title: "Hall"})
	assert.Equal(t, []string{"Room through Hall", "Label through what is labelled night"}, uses(), "no longer in the group, nor on the floor")
}

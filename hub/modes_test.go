package hub_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
)

func TestTheModeThatTheHouseIsInIsNotRemoved(t *testing.T) {
	b := newBench(t)
	mode := func() thing.Value {
		d, err := b.hub.Device(b.ctx, docs.OwnID)
		require.NoError(t, err)
		for _, s := range d.States {
			if s.Name == home.ModeProperty {
				return s.Value
			}
		}
		return thing.Value{}
	}
	before := mode()
	_, err := b.hub.Save(
		b.ctx,
		hub.New{
			Kind:     docs.KindModes,
			ID:       docs.ModesID,
			Document: &home.Modes{Modes: []home.Mode{{ID: "mode-out", Title: "Out"}, {ID: "mode-new", Title: "New"}}},
		},
	)
	var invalid *hub.InvalidError
	require.ErrorAs(t, err, &invalid)
	assert.Equal(t, "The house is in the mode “In” now: set another mode before you remove it.", invalid.Message)
	assert.Equal(t, before, mode(), "and it is in it still")
	b.save(docs.KindModes, docs.ModesID, &home.Modes{Modes: []home.Mode{{ID: before.Text, Title: "Here"}, {ID: "mode-new", Title: "New"}}})
	assert.Equal(t, before, mode(), "others may go, and it may be called otherwise")
}

// Each mode tells what speaks of it, be it in a comparison, in the list of a scene or in an expression.
func TestEachModeTellsWhatSpeaksOfIt(t *testing.T) {
	b := newBench(t)
	set := []rule.Step{{Kind: rule.StepSet, Device: b.lamp, Property: "brightness", Value: thing.Number(5)}}
	b.save(docs.KindScene, "scene-1", &light.Scene{Title: "Night", Modes: []string{"mode-asleep"}})
	b.save(
		docs.KindRule,
		"rule-1",
		&rule.Rule{
			Title: "Compared",
			Gate:  &rule.Condition{Device: docs.OwnID, Property: home.ModeProperty, Comparison: rule.Is, Value: thing.Text("mode-out")},
			Do:    set,
		},
	)
	b.save(
		docs.KindRule,
		"rule-2",
		&rule.Rule{Title: "Worked out", Whenever: &rule.Condition{Expression: `mode == "mode-out" || mode == "mode-asleep"`}, Do: set},
	)
	b.save(docs.KindRule, "rule-3", &rule.Rule{Title: "mode-in", Whenever: &rule.Condition{Expression: "hour > 3"}, Do: set})
	view, err := b.hub.Modes(b.ctx)
	require.NoError(t, err)
	used := map[string][]string{}
	for mode, uses := range view.Uses {
		for _, u := range uses {
			used[mode] = append(used[mode], u.Title)
		}
	}
	assert.Equal(t, []string{"Compared", "Worked out"}, used["mode-out"])
	assert.Equal(t, []string{"Night", "Worked out"}, used["mode-asleep"])
	assert.Empty(t, used["mode-away"])
}

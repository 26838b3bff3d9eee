package hub_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
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
	b.save(hub.DefinitionScene, "evening", &light.Scene{Title: "Evening", Targets: []light.Target{
		{Device: b.lamp, Property: "brightness", Value: thing.Number(30)},
	}})
	b.save(hub.DefinitionVariable, "variable-glow", &home.Variable{
		Title: "Glow", Type: thing.TypeNumber, Maximum: 100, Expression: fmt.Sprintf("value(%q, \"brightness\")", b.lamp),
	})
	b.save(hub.DefinitionDashboard, "hall", &home.Dashboard{Title: "Hall", Controls: []home.Control{
		{ID: "a", Kind: home.ControlLamp, Device: b.lamp, Property: "brightness", Width: 1, Height: 1},
	}})
	want := []string{"scene Evening", "rule Stair light", "variable Glow", "dashboard Hall"}
	assert.Equal(t, want, uses())
	b.stop()
	b.start()
	assert.Equal(t, want, uses(), "after a restart")

	rules, err := b.hub.Rules(b.ctx)
	require.NoError(t, err)
	_, err = b.hub.Save(b.ctx, hub.New{Kind: hub.DefinitionRule, ID: "stair", Revision: rules[0].Revision, Document: &rule.Rule{
		Title: "Stair light", Do: []rule.Step{{Kind: rule.StepNotify, Text: "Nothing"}},
	}})
	require.NoError(t, err)
	assert.Equal(t, []string{"scene Evening", "variable Glow", "dashboard Hall"}, uses(), "a rule that no longer does")
	require.NoError(t, b.hub.Remove(b.ctx, hub.DefinitionScene, "evening"))
	assert.Equal(t, []string{"variable Glow", "dashboard Hall"}, uses())
}

package hub_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub"
)

func TestTheModeThatTheHouseIsInIsNotRemoved(t *testing.T) {
	b := newBench(t)
	mode := func() thing.Value {
		d, err := b.hub.Device(b.ctx, hub.OwnID)
		require.NoError(t, err)
		for _, s := range d.States {
			if s.Name == home.ModeProperty {
				return s.Value
			}
		}
		return thing.Value{}
	}
	before := mode()
	_, err := b.hub.Save(b.ctx, hub.New{Kind: hub.DefinitionModes, ID: hub.ModesID, Document: &home.Modes{Modes: []home.Mode{{ID: "mode-out", Title: "Out"}, {ID: "mode-new", Title: "New"}}}})
	var invalid *hub.InvalidError
	require.ErrorAs(t, err, &invalid)
	assert.Equal(t, "The house is in the mode “In” now: set another mode before you remove it.", invalid.Message)
	assert.Equal(t, before, mode(), "and it is in it still")
	b.save(hub.DefinitionModes, hub.ModesID, &home.Modes{Modes: []home.Mode{{ID: before.Text, Title: "Here"}, {ID: "mode-new", Title: "New"}}})
	assert.Equal(t, before, mode(), "others may go, and it may be called otherwise")
}

package hub_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/home"
	"amvek/hub"
	"amvek/hub/docs"
)

func TestRoomsAreArrangedAllAtOnce(t *testing.T) {
	b := newBench(t)
	for i, id := range []string{"hall", "galley", "loft"} {
		b.save(docs.KindRoom, id, &home.Room{Title: id, Floor: "Ground", Order: i})
	}
	rooms := func() (all []string) {
		view, err := b.hub.Home(b.ctx)
		require.NoError(t, err)
		for _, r := range view.Rooms {
			all = append(all, r.Floor+" "+r.Title)
		}
		return all
	}
	require.NoError(t, b.hub.ArrangeRooms(b.ctx, []hub.RoomPlace{{ID: "loft", Floor: "Upper"}, {ID: "hall", Floor: "Ground"}, {ID: "galley", Floor: "Ground"}}))
	assert.Equal(t, []string{"Upper loft", "Ground hall", "Ground galley"}, rooms())
	require.NoError(t, b.hub.ArrangeRooms(b.ctx, []hub.RoomPlace{{ID: "galley"}}), "what is not named comes after")
	assert.Equal(t, " galley", rooms()[0])
	before := rooms()
	for name, places := range map[string][]hub.RoomPlace{"unknown": {{ID: "hall"}, {ID: "cellar"}}, "twice": {{ID: "hall"}, {ID: "hall"}}} {
		var invalid *hub.InvalidError
		assert.ErrorAs(t, b.hub.ArrangeRooms(b.ctx, places), &invalid, name)
	}
	assert.True(t, slices.Equal(before, rooms()), "nothing half done")
}

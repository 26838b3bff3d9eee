package hub_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/core/engine"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/show"
	"amvek/hub/views"
)

var battered = &thing.Model{Title: "Contact", What: "contact", Description: thing.Description{Properties: []thing.Property{
	{Name: "battery", Title: "Battery", Role: thing.RoleBattery, Type: thing.TypeNumber, Unit: "%", Maximum: 100, Resolution: 1},
}}}

// withBattery adds a device on battery and lets it fall by so much a day.
func (b *bench) withBattery(from, perDay float64, days int) string {
	b.announce(connect.Announcement{Hardware: "hw-contact", Address: "4", Maker: "Maker", Model: "C", Label: "=Contact", Profile: battered})
	ids, err := b.hub.Add(b.ctx, []hub.Adding{{Connection: hub.GatewaysID, Hardware: "hw-contact", Title: "=Contact"}})
	require.NoError(b, err)
	for day := range days * 4 {
		b.report("hw-contact", "battery", thing.Number(from-perDay*float64(day)/4))
		b.clock.pass(6 * time.Hour)
	}
	require.NoError(b, b.store.Flush(b.ctx))
	// The projection is made outside the loop, of what the store has.
	b.report("hw-contact", "battery", thing.Number(from-perDay*float64(days)))
	return ids[0]
}

// care waits until the projection of a battery is there, as told by the feed.
func (b *bench) care(id string, until func(views.Care) bool) views.Care {
	told := b.hub.Feed.Subscribe(show.Audience{}, "", 0)
	defer told.Close()
	for {
		if c := b.device(id).Care; until(c) {
			return c
		}
		select {
		case <-told.C:
		case <-time.After(30 * time.Second):
			b.Fatal("what was waited for did not come")
		}
	}
}

func TestABatteryThatWillSoonBeEmptyNeedsAttention(t *testing.T) {
	b := newBench(t)
	id := b.withBattery(60, 5, 6)
	care := b.care(id, func(c views.Care) bool { return c.Projection != nil && len(c.Attention) > 0 })
	assert.InDelta(t, 30, *care.Battery, 0.1)
	assert.InDelta(t, 6, care.Projection.EmptyAt.Sub(b.clock.Now()).Hours()/24, 1)
	assert.Equal(t, "battery", care.Attention[0].Kind)
	assert.Regexp(t, `empty in about \d days`, care.Attention[0].Text)

	b.report("hw-contact", "battery", thing.Number(4))
	care = b.care(id, func(c views.Care) bool { return *c.Battery == 4 })
	assert.Equal(t, "Its battery is at 4 %.", care.Attention[0].Text)

	b.wire.sink.Reach("hw-contact", false, "It was taken away.")
	b.quiet()
	care = b.device(id).Care
	assert.Equal(t, []string{"unreached", "battery"}, []string{care.Attention[0].Kind, care.Attention[1].Kind}, "what does not work now comes first")
}

func TestAWriteThatFailedNeedsAttention(t *testing.T) {
	b := newBench(t)
	b.wire.mu.Lock()
	b.wire.outcome = connect.Failed("The bolt is stuck.")
	b.wire.mu.Unlock()
	require.NoError(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputWrite, Device: b.lamp, Name: "brightness", Value: thing.Number(50), Doer: somebody}))
	b.quiet()
	care := b.device(b.lamp).Care
	require.Len(t, care.Attention, 1)
	assert.Equal(t, "Brightness is not 50 %: The bolt is stuck.", care.Attention[0].Text)
	assert.Empty(t, b.device(b.eye).Care.Attention)
}

func TestTheSheetOfCareHasAllDevicesWhatNeedsAttentionFirst(t *testing.T) {
	b := newBench(t)
	b.withBattery(9, 0, 1)
	sheet, err := b.hub.CareSheet(b.ctx)
	require.NoError(t, err)
	require.Len(t, sheet, 4)
	assert.Equal(t, "device", sheet[0][0])
	assert.Equal(t, "=Contact", sheet[1][0])
	assert.Equal(t, "9", sheet[1][4])
	assert.Contains(t, sheet[1][8], "Its battery is at 9 %.")
	for _, row := range sheet {
		assert.Len(t, row, len(sheet[0]))
	}
}

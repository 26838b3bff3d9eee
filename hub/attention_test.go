package hub_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/hub/show"
	"amvek/hub/views"
)

func (b *bench) attention() float64 {
	for _, d := range b.devices() {
		if d.Own {
			return d.States[0].Value.Number
		}
	}
	b.Fatal("the home says nothing of itself")
	return 0
}

func (b *bench) devices() []views.DeviceView {
	all, err := b.hub.Devices(b.ctx)
	require.NoError(b, err)
	return all
}

func TestTheNumberThatNeedsAttentionIsAPropertyOfTheHome(t *testing.T) {
	b := newBench(t)
	lampID := b.lamp
	require.Zero(t, b.attention())
	_, err := b.hub.Save(b.ctx, hub.New{Kind: docs.KindRule, ID: "rule-care", Document: &rule.Rule{
		Title: "Something needs care", Enabled: true,
		When: []rule.Trigger{{Device: docs.OwnID, Property: "attention", Comparison: rule.Above, Value: thing.Number(0)}},
		Do:   []rule.Step{{Kind: rule.StepSet, Device: lampID, Property: "brightness", Value: thing.Number(30)}},
	}})
	require.NoError(t, err)
	id := b.withBattery(60, 0.1, 1)
	require.Zero(t, b.attention())
	b.report("hw-contact", "battery", thing.Number(4))
	require.Eventually(t, func() bool { return b.attention() == 1 }, 30*time.Second, time.Millisecond)
	require.Eventually(t, func() bool { return b.brightness().Target == thing.Number(30) }, 30*time.Second, time.Millisecond, "a rule follows from it")
	require.NoError(t, b.hub.Remove(b.ctx, docs.KindDevice, id))
	require.Eventually(t, func() bool { return b.attention() == 0 }, 30*time.Second, time.Millisecond)

	assert.Error(t, b.hub.Remove(b.ctx, docs.KindDevice, docs.OwnID), "the home itself cannot be removed")
	_, err = b.hub.Replace(b.ctx, hub.New{Kind: docs.KindDevice, ID: docs.OwnID, Document: b.device(lampID)})
	assert.Error(t, err)
}

func TestAWeakSignalAndTheFirmwareAreShown(t *testing.T) {
	b := newBench(t)
	far := &thing.Model{Title: "Far", What: "sensor", Description: thing.Description{Properties: []thing.Property{
		{Name: "reception", Title: "Radio signal", Role: thing.RoleReception, Type: thing.TypeNumber, Unit: "%", Maximum: 100, Resolution: 1},
	}}}
	b.announce(connect.Announcement{Hardware: "hw-far", Address: "9", Maker: "Maker", Model: "F", Label: "Far", Firmware: "2.3", Profile: far})
	ids, err := b.hub.Add(b.ctx, []hub.Adding{{Connection: hub.GatewaysID, Hardware: "hw-far", Title: "=Far"}})
	require.NoError(t, err)
	b.report("hw-far", "reception", thing.Number(9))
	care := b.care(ids[0], func(c views.Care) bool { return c.Signal != nil })
	assert.Equal(t, 9.0, *care.Signal)
	assert.Equal(t, "2.3", care.Firmware)
	assert.Equal(t, b.clock.Now(), care.AddedAt.UTC())
	require.Len(t, care.Attention, 1)
	assert.Equal(t, "weak", care.Attention[0].Kind)
}

func TestWhatADeviceNeedsIsToldToOpenBrowsersWhenItChanges(t *testing.T) {
	b := newBench(t)
	b.quiet()
	feed := b.hub.Feed.Subscribe(show.Audience{}, "", 0)
	defer feed.Close()
	told := func(needs int) bool {
		return b.told(feed, func(c *show.Update) bool {
			d, is := c.View.(views.DeviceHead)
			return is && c.ID == b.lamp && len(d.Care.Attention) == needs
		})
	}
	require.True(t, told(0))
	set := func(percent float64, outcome connect.Outcome) {
		b.wire.mu.Lock()
		b.wire.outcome = outcome
		b.wire.mu.Unlock()
		require.NoError(
			t,
			b.hub.Act(b.ctx, engine.Input{Kind: engine.InputWrite, Device: b.lamp, Name: "brightness", Value: thing.Number(percent), Doer: somebody}),
		)
	}
	set(40, connect.Failed("It would not."))
	assert.True(t, told(1), "that it did not follow")
	set(50, connect.Outcome{OK: true})
	b.report("hw-lamp", "brightness", thing.Number(50))
	assert.True(t, told(0), "that it does again")
}

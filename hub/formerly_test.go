package hub_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
)

func (b *bench) foundDevice(hardware string) hub.FoundDevice {
	b.Helper()
	found, err := b.hub.Found(b.ctx)
	require.NoError(b, err)
	for _, d := range found.Devices {
		if d.Hardware == hardware {
			return d
		}
	}
	b.Fatal("not found: " + hardware)
	return hub.FoundDevice{}
}

// A device that was removed is known when it is found again, also after a restart, until it is back or another has its hardware.
func TestARemovedDeviceThatIsFoundAgainIsKnown(t *testing.T) {
	b := newBench(t)
	b.save(docs.KindRoom, "room-hall", &home.Room{Title: "Hall"})
	lamp := b.device(b.lamp).Device
	lamp.Room = "room-hall"
	b.save(docs.KindDevice, b.lamp, &lamp)
	assert.Nil(t, b.foundDevice("hw-lamp").Former)
	require.NoError(t, b.hub.Remove(b.ctx, docs.KindDevice, b.lamp))
	want := &hub.Former{ID: b.lamp, Title: "Lamp", Room: "Hall"}
	former := func() *hub.Former {
		f := b.foundDevice("hw-lamp").Former
		if f == nil {
			return nil
		}
		return &hub.Former{ID: f.ID, Title: f.Title, Room: f.Room}
	}
	assert.Equal(t, want, former())
	b.stop()
	b.start()
	b.announce()
	assert.Equal(t, want, former())
	require.NoError(t, b.hub.Restore(b.ctx, docs.KindDevice, b.lamp))
	assert.Nil(t, former())
	assert.Equal(t, b.lamp, b.foundDevice("hw-lamp").Device)
}

// A device that its gateway no longer lists needs attention, until it is listed again.
func TestADeviceThatLeftItsGatewayNeedsAttention(t *testing.T) {
	b := newBench(t)
	behind := make([]connect.Announcement, len(announced))
	for i, a := range announced {
		behind[i] = a
		behind[i].Gateway = "north"
	}
	needs := func() (texts []string) {
		b.quiet()
		for _, a := range b.device(b.lamp).Care.Attention {
			texts = append(texts, a.Text)
		}
		return texts
	}
	b.wire.sink.Found(behind)
	assert.Empty(t, needs())
	var without []connect.Announcement
	for _, a := range behind {
		if a.Hardware != "hw-lamp" {
			without = append(without, a)
		}
	}
	b.wire.sink.Found(without)
	assert.Equal(t, []string{"Its gateway north no longer lists it."}, needs())
	b.wire.sink.Found(behind)
	assert.Empty(t, needs())
}

func TestDevicesInTheHomeAreNamedByThePattern(t *testing.T) {
	b := newBench(t)
	b.save(docs.KindRoom, "room-hall", &home.Room{Title: "Hall"})
	room := "room-hall"
	names, err := b.hub.ProposeAgain(b.ctx, []hub.Renaming{{ID: b.lamp, Room: &room}, {ID: b.eye, Title: "Hall Lamp"}})
	require.NoError(t, err)
	assert.Equal(t, []hub.Renamed{{ID: b.lamp, Title: "Hall lamp"}, {ID: b.eye, Title: "Hall Lamp", Near: "Hall lamp"}}, names)
	assert.Equal(t, "Lamp", b.device(b.lamp).Title, "nothing is renamed")
	_, err = b.hub.ProposeAgain(b.ctx, []hub.Renaming{{ID: "nobody"}})
	assert.ErrorAs(t, err, new(*hub.InvalidError))
	_, err = b.hub.ProposeAgain(b.ctx, []hub.Renaming{{ID: docs.OwnID}})
	assert.ErrorAs(t, err, new(*hub.InvalidError))
}

// That a device is behind a gateway is remembered: when it left while the hub was off, it is noticed all the same.
func TestADeviceThatLeftWhileTheHubWasOffIsNoticed(t *testing.T) {
	b := newBench(t)
	all := announced
	t.Cleanup(func() { announced = all })
	behind := slices.Clone(all)
	for i := range behind {
		behind[i].Gateway = "north"
	}
	b.wire.sink.Found(behind)
	b.quiet()
	b.stop()
	announced = slices.DeleteFunc(slices.Clone(behind), func(a connect.Announcement) bool { return a.Hardware == "hw-lamp" })
	b.start()
	require.Len(t, b.device(b.lamp).Care.Attention, 1)
	assert.Equal(t, "Its gateway north no longer lists it.", b.device(b.lamp).Care.Attention[0].Text)
	b.wire.sink.Found(behind)
	b.quiet()
	assert.Empty(t, b.device(b.lamp).Care.Attention)
}

// What a device says of itself may change: its description follows, with a revision, and adjustments that fit no more go.
func TestADeviceThatDescribesItselfAnewIsFollowed(t *testing.T) {
	b := newBench(t)
	model := *lamp
	model.Description = thing.Description{
		Properties: slices.Clone(lamp.Description.Properties),
		Events:     lamp.Description.Events,
		Actions:    lamp.Description.Actions,
	}
	model.Description.Properties = append(
		model.Description.Properties,
		thing.Property{Name: "watts", Title: "Watts", Type: thing.TypeNumber, Unit: "W", Resolution: 1},
	)
	now := slices.Clone(announced)
	for i := range now {
		if now[i].Hardware == "hw-lamp" {
			now[i].Model, now[i].SelfDescribed, now[i].Profile = "", true, &model
		}
	}
	before := b.device(b.lamp)
	b.wire.sink.Found(now)
	require.Eventually(t, func() bool { d := b.device(b.lamp).Description; return d.Property("watts") != nil }, 10*time.Second, time.Millisecond)
	after := b.device(b.lamp)
	assert.Equal(t, before.Title, after.Title)
	assert.Equal(t, before.Revision+1, after.Revision)
	b.wire.sink.Found(now)
	b.quiet()
	assert.Equal(t, after.Revision, b.device(b.lamp).Revision, "the same description is saved once")
}

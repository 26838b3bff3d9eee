package hub_test

import (
	"bytes"
	"fmt"
	"log/slog"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/core/thing"
	"amvek/hub/links"
	"amvek/hub/show"
)

// A flood of messages that are refused is counted, and costs and says as much as a few.
func TestAFloodOfRefusedMessagesIsCountedAndToldNowAndThen(t *testing.T) {
	b := newBench(t)
	b.stop()
	var log bytes.Buffer
	b.log = slog.NewTextHandler(&log, nil)
	b.start()
	feed := b.hub.Feed.Subscribe(show.Audience{}, "", 0)
	defer feed.Close()
	const flood = 10_000
	for i := range flood {
		b.wire.sink.Fault(fmt.Sprintf("Message %d is no JSON.", i))
	}
	told := 0
	require.True(t, b.told(feed, func(c *show.Update) bool {
		view, is := c.View.(links.ConnectionView)
		if is {
			told++
		}
		return is && view.Faults == flood
	}), "not all that was refused is told")
	assert.Less(t, told, 50)
	connections, err := b.hub.Connections(b.ctx)
	require.NoError(t, err)
	assert.Equal(t, "Message 9999 is no JSON.", connections[0].LastFault)
	b.stop()
	assert.Equal(t, 1, strings.Count(log.String(), "messages were refused"), "one line of a kind in a while")
	b.log = nil
	b.start()
}

// What hardware says under ever new names is forgotten, and what is found stays what announces itself.
func TestHardwareUnderEverNewNamesLeavesNothingBehind(t *testing.T) {
	b := newBench(t)
	for i := range 20_000 {
		name := fmt.Sprintf("ghost-%d", i)
		b.wire.sink.Report(name, "on", thing.Boolean(false))
		b.wire.sink.Report(name, "on", thing.Boolean(true))
		b.wire.sink.Event(name, "press", thing.Value{})
	}
	for i := range 200 {
		list := make([]connect.Announcement, 100)
		for j := range list {
			list[j] = connect.Announcement{Hardware: fmt.Sprintf("guest-%d-%d", i, j), Label: "Guest", Profile: twin.Profile}
		}
		b.wire.sink.Found(list)
	}
	b.quiet()
	found, err := b.hub.Found(b.ctx)
	require.NoError(t, err)
	require.Len(t, found.Devices, 100)
	assert.Equal(t, "guest-199-0", found.Devices[0].Hardware)
	assert.Zero(t, found.Devices[0].Reacted)
	b.report("hw-lamp", "brightness", thing.Number(40))
	assert.Equal(t, thing.Number(40), b.brightness().Value)
}

// However often a connection and what is behind it come and go, one job for each waits, and the last word counts.
func TestAFlappingConnectionShrinksToItsLastWord(t *testing.T) {
	b := newBench(t)
	release := make(chan struct{})
	held := make(chan struct{})
	go func() { _ = b.hub.InLoop(b.ctx, func() { close(held); <-release }) }()
	<-held
	for i := range 20_000 {
		b.wire.sink.State(i%2 == 0, "flapping")
		b.wire.sink.Reach("hw-lamp", i%2 == 0, "out of reach")
	}
	assert.Less(t, b.hub.Waiting(), 20, "of what waits")
	close(release)
	b.quiet()
	connections, err := b.hub.Connections(b.ctx)
	require.NoError(t, err)
	assert.False(t, connections[0].Up)
	b.wire.sink.State(true, "")
	b.quiet()
	assert.Equal(t, "out of reach", b.device(b.lamp).SilentReason)
}

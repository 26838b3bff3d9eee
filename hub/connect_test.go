package hub_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/hub/views"
	"amvek/store"
)

func pointer[T any](v T) *T { return &v }

func (b *bench) device(id string) views.DeviceView {
	view, err := b.hub.Device(b.ctx, id)
	require.NoError(b, err)
	return view
}

func (b *bench) announce(more ...connect.Announcement) {
	b.wire.sink.Found(append(append([]connect.Announcement(nil), announced...), more...))
	b.quiet()
}

// twin is another lamp of the same model, with another identity.
var twin = connect.Announcement{Hardware: "hw-lamp-2", Address: "9", Maker: "Maker", Model: "L", Label: "Lamp 9", Profile: lamp}

func TestWhatComesBackWithAnotherIdentityIsOfferedThePlaceOfWhatFellSilent(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	b.clock.pass(time.Hour)
	b.announce(twin)
	candidates := func() []hub.Candidate {
		found, err := b.hub.Found(b.ctx)
		require.NoError(t, err)
		for _, d := range found.Devices {
			if d.Hardware == twin.Hardware {
				return d.Candidates
			}
		}
		return nil
	}
	require.Len(t, candidates(), 1)
	assert.Equal(t, b.lamp, candidates()[0].ID)

	before := b.device(b.lamp)
	require.NoError(t, b.hub.ReplaceHardware(b.ctx, b.lamp, hub.GatewaysID, twin.Hardware))
	after := b.device(b.lamp)
	assert.Equal(t, twin.Hardware, after.Hardware)
	assert.Equal(t, before.Title, after.Title)
	assert.Equal(t, before.UsedBy, after.UsedBy)
	b.report(twin.Hardware, "brightness", thing.Number(44))
	assert.Equal(t, "44 %", b.brightness().Text)
	b.report("hw-lamp", "brightness", thing.Number(9))
	assert.Equal(t, "44 %", b.brightness().Text, "the old hardware is nobody now")

	var invalid *hub.InvalidError
	var absent *hub.AbsentError
	assert.ErrorAs(t, b.hub.ReplaceHardware(b.ctx, b.eye, hub.GatewaysID, twin.Hardware), &invalid, "it has a place")
	assert.ErrorAs(t, b.hub.ReplaceHardware(b.ctx, b.eye, hub.GatewaysID, "hw-lamp"), &invalid, "it is another kind of device")
	assert.ErrorAs(t, b.hub.ReplaceHardware(b.ctx, "none", hub.GatewaysID, "hw-lamp"), &absent)
}

func TestADeviceThatIsHeardIsNotOfferedForReplacement(t *testing.T) {
	b := newBench(t)
	b.clock.pass(time.Hour)
	b.announce(twin)
	b.clock.pass(time.Minute)
	b.report("hw-lamp", "brightness", thing.Number(0))
	found, err := b.hub.Found(b.ctx)
	require.NoError(t, err)
	for _, d := range found.Devices {
		assert.Empty(t, d.Candidates, d.Label)
	}
}

func TestARowShowsWhichDeviceWasOperated(t *testing.T) {
	b := newBench(t)
	b.announce(twin)
	reacted := func() bool {
		b.quiet()
		found, err := b.hub.Found(b.ctx)
		require.NoError(t, err)
		for _, d := range found.Devices {
			if d.Hardware == twin.Hardware {
				return !d.Reacted.IsZero()
			}
		}
		return false
	}
	b.wire.sink.Report(twin.Hardware, "brightness", thing.Number(0))
	assert.False(t, reacted(), "the first word is how it was found")
	b.wire.sink.Report(twin.Hardware, "brightness", thing.Number(80))
	assert.Eventually(t, reacted, 30*time.Second, time.Millisecond)
}

func TestSeveralDevicesAreChangedAllOrNone(t *testing.T) {
	b := newBench(t)
	b.save(docs.KindRoom, "attic", &home.Room{Title: "Attic"})
	require.NoError(t, b.hub.EditDevices(b.ctx, []hub.DeviceEdit{
		{ID: b.lamp, Title: pointer("Reading lamp"), Room: pointer("attic")}, {ID: b.eye, Labels: &[]string{"battery", "north"}},
	}))
	assert.Equal(t, "Reading lamp", b.device(b.lamp).Title)
	assert.Equal(t, []string{"battery", "north"}, b.device(b.eye).Labels)
	var invalid *hub.InvalidError
	for _, wrong := range []hub.DeviceEdit{
		{ID: "none"},
		{ID: b.eye, Room: pointer("cellar")},
		{ID: b.eye, Title: pointer(" ")},
		{ID: b.eye, Labels: &[]string{"a", "a"}},
		{ID: b.eye, Labels: &[]string{""}},
	} {
		err := b.hub.EditDevices(b.ctx, []hub.DeviceEdit{{ID: b.lamp, Title: pointer("Changed")}, wrong})
		assert.ErrorAs(t, err, &invalid)
		assert.Equal(t, "Reading lamp", b.device(b.lamp).Title)
	}
}

func TestAPausedConnectionKeepsWhatIsWanted(t *testing.T) {
	b := newBench(t)
	require.NoError(t, b.hub.EditConnection(b.ctx, hub.GatewaysID, hub.ConnectionEdit{Paused: pointer(true)}))
	assert.True(t, b.device(b.lamp).Silent)
	assert.Contains(t, b.device(b.lamp).SilentReason, "paused")
	require.NoError(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputWrite, Device: b.lamp, Name: "brightness", Value: thing.Number(50), Doer: somebody}))
	b.quiet()
	assert.Contains(t, b.brightness().Failure, "paused")
	result, err := b.hub.TestConnection(b.ctx, hub.GatewaysID)
	require.NoError(t, err)
	assert.False(t, result.OK)
	var conflict *hub.ConflictError
	assert.ErrorAs(t, b.hub.RemoveConnection(b.ctx, hub.GatewaysID, true), &conflict, "it belongs to the hub")
	var absent *hub.AbsentError
	assert.ErrorAs(t, b.hub.EditConnection(b.ctx, "none", hub.ConnectionEdit{}), &absent)
	var invalid *hub.InvalidError
	assert.ErrorAs(t, b.hub.EditConnection(b.ctx, hub.GatewaysID, hub.ConnectionEdit{Address: pointer("x:1")}), &invalid)
	assert.ErrorAs(t, b.hub.EditConnection(b.ctx, hub.GatewaysID, hub.ConnectionEdit{Title: pointer("")}), &invalid)
}

func TestADeviceThatIsLostAloneIsSilentAloneAndGetsWhatItMissed(t *testing.T) {
	b := newBench(t)
	b.wire.sink.Reach("hw-lamp", false, "It was pulled out.")
	b.quiet()
	assert.Equal(t, "It was pulled out.", b.device(b.lamp).SilentReason)
	assert.False(t, b.device(b.eye).Silent)
	b.wire.mu.Lock()
	b.wire.outcome = connect.Unreached("gone")
	b.wire.mu.Unlock()
	require.NoError(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputWrite, Device: b.lamp, Name: "brightness", Value: thing.Number(50), Doer: somebody}))
	b.quiet()
	require.Len(t, b.wire.written(), 1)
	b.wire.mu.Lock()
	b.wire.outcome = connect.Outcome{OK: true}
	b.wire.mu.Unlock()
	b.wire.sink.Reach("hw-lamp", true, "")
	b.quiet()
	assert.Equal(t, []thing.Value{thing.Number(50), thing.Number(50)}, b.wire.written())
	assert.False(t, b.device(b.lamp).Silent)
}

func TestTenThousandDevicesAnnouncedAtOnceAreListed(t *testing.T) {
	b := newBench(t)
	var many []connect.Announcement
	for i := range 10_000 {
		many = append(
			many,
			connect.Announcement{
				Hardware: fmt.Sprintf("m%d", i),
				Address:  fmt.Sprint(i),
				Maker:    "Maker",
				Model:    "L",
				Label:    fmt.Sprintf("Lamp %d", i),
				Profile:  lamp,
			},
		)
	}
	b.announce(many...)
	found, err := b.hub.Found(b.ctx)
	require.NoError(t, err)
	assert.Len(t, found.Devices, 10_003)
}

const profileText = `{"@type":"tm:ThingModel","title":"Thing three","amvek:maker":"Maker","amvek:model":"X","amvek:what":"thing","properties":{"on":{"type":"boolean","amvek:role":"power"}}}`

func TestAProfileIsTakenChangedAndTakenBack(t *testing.T) {
	b := newBench(t)
	model, err := b.hub.SaveProfile(b.ctx, profileText)
	require.NoError(t, err)
	assert.Equal(t, "X", model)
	all, err := b.hub.Profiles(b.ctx)
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.True(t, all[0].InUse && all[0].Own)
	text, err := b.hub.ProfileDocument(b.ctx, "X")
	require.NoError(t, err)
	assert.True(t, json.Valid([]byte(text)))

	var invalid *hub.InvalidError
	_, err = b.hub.SaveProfile(b.ctx, "{\n\"@type\": 5}")
	require.ErrorAs(t, err, &invalid)
	assert.Contains(t, invalid.Message, "Line 2")
	check, err := b.hub.CheckProfile(b.ctx, `{"@type":"tm:ThingModel","title":"L","amvek:model":"L"}`)
	require.NoError(t, err)
	assert.Len(t, check.Touches, 1)
	assert.NotEmpty(t, check.Lost, "the lamp would lose its brightness")
	require.NoError(t, b.hub.RemoveProfile(b.ctx, "X"))
	var absent *hub.AbsentError
	_, err = b.hub.ProfileDocument(b.ctx, "X")
	assert.ErrorAs(t, err, &absent)
	assert.ErrorAs(t, b.hub.InstallProfile(b.ctx, "X"), &absent)
}

func TestKeysOfProgramsAndClientsAreShownOnceAndEnd(t *testing.T) {
	b := newBench(t)
	key, err := b.hub.AddClient(b.ctx, "script", hub.ClientMay{})
	require.NoError(t, err)
	of, is := b.hub.ClientOf(b.ctx, key)
	assert.True(t, is)
	assert.Equal(t, hub.Client{Name: "script", ClientMay: hub.ClientMay{Scope: hub.ScopeOperate}}, of)
	_, is = b.hub.ClientOf(b.ctx, "")
	assert.False(t, is)
	var invalid *hub.InvalidError
	_, err = b.hub.AddClient(b.ctx, "other", hub.ClientMay{Rooms: []string{"nowhere"}})
	assert.ErrorAs(t, err, &invalid)
	_, err = b.hub.AddClient(b.ctx, "other", hub.ClientMay{Scope: hub.ScopeSetUp, Rooms: []string{"nowhere"}})
	assert.ErrorAs(t, err, &invalid)
	var conflict *hub.ConflictError
	_, err = b.hub.AddClient(b.ctx, "script", hub.ClientMay{})
	assert.ErrorAs(t, err, &conflict)
	require.NoError(t, b.hub.RemoveClient(b.ctx, "script"))
	clients, err := b.hub.Clients(b.ctx)
	require.NoError(t, err)
	assert.Empty(t, clients)
	for _, wrong := range []hub.BrokerClient{
		{Name: "a b"},
		{Name: "a", Publish: []string{"a#"}},
		{Name: "a", Subscribe: []string{"#/a"}},
		{Name: "a", Subscribe: []string{""}},
	} {
		assert.Error(t, wrong.Check(), "%v", wrong)
	}
	assert.NoError(t, (&hub.BrokerClient{Name: "a", Publish: []string{"a/+/b", "a/#"}}).Check())
}

func TestWhatIsLostAndFoundAgainIsWrittenDownOncePerGateway(t *testing.T) {
	b := newBench(t)
	behind := make([]connect.Announcement, len(announced))
	for i, a := range announced {
		behind[i] = a
		behind[i].Gateway = "north"
	}
	b.wire.sink.Found(behind)
	b.quiet() // of lists that wait the newest counts
	for _, reached := range []bool{false, true} {
		for _, a := range behind {
			b.wire.sink.Reach(a.Hardware, reached, map[bool]string{false: "The gateway north left the broker."}[reached])
		}
	}
	b.quiet()
	b.wire.sink.Found(announced)
	b.quiet()
	b.wire.sink.Reach("hw-lamp", false, "It does not answer.")
	b.quiet()
	require.NoError(t, b.store.Flush(b.ctx))
	lines := map[string]int{}
	entries, err := b.hub.Journal(b.ctx, store.JournalQuery{Limit: 50})
	require.NoError(t, err)
	for _, e := range entries {
		lines[e.Text]++
	}
	assert.Equal(t, 1, lines["The gateway north was lost. The gateway north left the broker."])
	assert.Equal(t, 1, lines["The gateway north was reached"])
	assert.Equal(t, 1, lines[b.device(b.lamp).Title+" was lost. It does not answer."])
}

func TestTwoThatSayTheyAreTheSameHardwareAreToldApart(t *testing.T) {
	b := newBench(t)
	imposter := twin
	imposter.Hardware, imposter.Label = "hw-lamp", "Impostor"
	b.announce(imposter)
	found, err := b.hub.Found(b.ctx)
	require.NoError(t, err)
	assert.Len(t, found.Devices, len(announced))
	connections, err := b.hub.Connections(b.ctx)
	require.NoError(t, err)
	assert.Contains(t, connections[0].LastFault, "Lamp 1 and Impostor say that they are the same hardware, hw-lamp")
	require.NoError(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputWrite, Device: b.lamp, Name: "brightness", Value: thing.Number(30), Doer: somebody}))
	b.quiet()
	assert.Equal(t, []string{"1"}, b.wire.addresses(), "the first keeps its place")
}

func TestAFoundDeviceIsRecognizedByWhatItReads(t *testing.T) {
	b := newBench(t)
	b.announce(twin)
	row := func() hub.FoundDevice {
		b.quiet()
		found, err := b.hub.Found(b.ctx)
		require.NoError(t, err)
		i := slices.IndexFunc(found.Devices, func(d hub.FoundDevice) bool { return d.Hardware == twin.Hardware })
		require.GreaterOrEqual(t, i, 0)
		return found.Devices[i]
	}
	assert.Empty(t, row().Reads)
	assert.True(t, row().Heard.IsZero())
	b.wire.sink.Report(twin.Hardware, "brightness", thing.Number(80))
	require.Len(t, row().Reads, 1)
	assert.Equal(t, "Brightness", row().Reads[0].Title)
	assert.Equal(t, "80 %", row().Reads[0].Text)
	first := row().Heard
	assert.Equal(t, b.clock.Now(), first)
	b.clock.pass(time.Minute)
	b.wire.sink.Report(twin.Hardware, "brightness", thing.Number(80))
	assert.Eventually(t, func() bool { return row().Heard.Equal(first.Add(time.Minute)) }, 30*time.Second, time.Millisecond, "the same again is heard, too")
	ids, err := b.hub.Add(b.ctx, []hub.Adding{{Connection: hub.GatewaysID, Hardware: twin.Hardware}})
	require.NoError(t, err)
	assert.Empty(t, row().Reads, "in the home its own page says so")
	require.NoError(t, b.hub.Remove(b.ctx, docs.KindDevice, ids[0]))
	assert.Empty(t, row().Reads, "and what it said before that is not known any more")
}

package hub_test

import (
	"cmp"
	"context"
	"log/slog"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"go.uber.org/goleak"

	"amvek/connect"
	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/catalogue"
	"amvek/hub/docs"
	"amvek/hub/show"
	"amvek/hub/views"
	"amvek/store"
)

func TestMain(m *testing.M) { goleak.VerifyTestMain(m) }

// somebody is a person at a page.
var somebody = cause.By{Who: cause.Person, Via: cause.ViaPage}

// manual is a clock that stands until it is moved.
type manual struct {
	mu  sync.Mutex
	now time.Time
	set time.Duration // by which it was set, not passed
}

func (c *manual) Set() (by time.Duration) {
	c.mu.Lock()
	defer c.mu.Unlock()
	by, c.set = c.set, 0
	c.now = c.now.Add(by)
	return by
}
func (c *manual) jump(by time.Duration) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.set += by
}
func (c *manual) NotBefore(t time.Time) {
	if c.Now().Before(t) {
		c.pass(t.Sub(c.Now()))
	}
}
func (c *manual) Now() time.Time {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.now
}
func (c *manual) Until(time.Time) time.Duration { return time.Hour }
func (c *manual) pass(d time.Duration) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.now = c.now.Add(d)
}

// wire is a connection to a lamp and a motion sensor that do as the test says.
type wire struct {
	sink    connect.Sink
	running chan struct{}
	mu      sync.Mutex
	writes  []thing.Value
	to      []string      // the addresses written to
	block   chan struct{} // while set, writes wait for it
	outcome connect.Outcome
	prompt  bool
}

var (
	lamp = &thing.Model{Title: "Lamp", What: "lamp", Description: thing.Description{
		Properties: []thing.Property{
			{
				Name:       "brightness",
				Title:      "Brightness",
				Role:       thing.RoleBrightness,
				Type:       thing.TypeNumber,
				Unit:       "%",
				Maximum:    100,
				Resolution: 1,
				Writable:   true,
			},
		},
		Actions: []thing.Action{{Name: "identify", Title: "Identify"}},
	}}
	eye = &thing.Model{Title: "Sensor", What: "sensor", Description: thing.Description{
		Properties: []thing.Property{{Name: "motion", Title: "Motion", Role: thing.RoleMotion, Type: thing.TypeBoolean, Words: []string{"clear", "moving"}}},
	}}
	announced = []connect.Announcement{
		{Hardware: "hw-lamp", Address: "1", Maker: "Maker", Model: "L", Label: "Lamp 1", Profile: lamp},
		{Hardware: "hw-eye", Address: "2", Maker: "Maker", Model: "E", Label: "Eye 2", Profile: eye},
		{Hardware: "hw-new", Address: "3", Maker: "Maker", Model: "X", Label: "Thing 3"},
	}
)

func newWire() *wire { return &wire{running: make(chan struct{}), outcome: connect.Outcome{OK: true}} }

func (w *wire) Run(ctx context.Context, sink connect.Sink) {
	w.sink = sink
	sink.State(true, "")
	sink.Found(announced)
	close(w.running)
	<-ctx.Done()
}
func (w *wire) Write(ctx context.Context, address, _ string, v thing.Value, _ time.Duration) connect.Outcome {
	w.mu.Lock()
	w.to = append(w.to, address)
	w.writes = append(w.writes, v)
	block, outcome := w.block, w.outcome
	w.mu.Unlock()
	if block != nil {
		select {
		case <-block:
		case <-ctx.Done():
		}
	}
	return outcome
}
func (w *wire) Invoke(context.Context, string, string, thing.Inputs) connect.Outcome {
	return w.outcome
}
func (w *wire) Prompt() bool                   { return w.prompt }
func (w *wire) Sync(context.Context)           {}
func (w *wire) Recall(context.Context, string) {}
func (w *wire) addresses() []string {
	w.mu.Lock()
	defer w.mu.Unlock()
	return append([]string(nil), w.to...)
}
func (w *wire) written() []thing.Value {
	w.mu.Lock()
	defer w.mu.Unlock()
	return append([]thing.Value(nil), w.writes...)
}

type bench struct {
	log slog.Handler // nil for none
	*testing.T
	ctx    context.Context
	folder string
	clock  *manual
	wire   *wire
	store  *store.Store
	hub    *hub.Hub
	lamp   string
	eye    string
	prompt bool
}

func newBench(t *testing.T) *bench { return newBenchOver(t, false) }

// newBenchOver makes a bench with a wire that can, or cannot, be written to at once.
func newBenchOver(t *testing.T, prompt bool) *bench {
	b := &bench{T: t, prompt: prompt, ctx: context.Background(), folder: t.TempDir(), clock: &manual{now: time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)}}
	b.start()
	t.Cleanup(b.stop)
	b.save(docs.KindHome, docs.HomeID, &home.Home{Title: "Mill", Latitude: 51.5, Longitude: -2.6, Zone: "Europe/London", NamePattern: "{room} {what}"})
	ids, err := b.hub.Add(
		b.ctx,
		[]hub.Adding{{Connection: hub.GatewaysID, Hardware: "hw-lamp"}, {Connection: hub.GatewaysID, Hardware: "hw-eye", Title: "Landing eye"}},
	)
	require.NoError(t, err)
	b.lamp, b.eye = ids[0], ids[1]
	b.report("hw-lamp", "brightness", thing.Number(0))
	b.report("hw-eye", "motion", thing.Boolean(false))
	return b
}

func (b *bench) start() {
	var err error
	b.store, err = store.Open(b.ctx, b.folder, slog.New(slog.DiscardHandler))
	require.NoError(b, err)
	b.wire = newWire()
	b.wire.prompt = b.prompt
	b.hub, err = hub.Start(
		b.ctx,
		hub.Options{
			Store:     b.store,
			Clock:     b.clock,
			Log:       slog.New(cmp.Or[slog.Handler](b.log, slog.DiscardHandler)),
			Standing:  []hub.Standing{{ID: hub.GatewaysID, Definition: docs.Connection{Title: "Wire", Kind: docs.HubBroker}, Connection: b.wire}},
			Catalogue: catalogue.New(nil),
		},
	)
	require.NoError(b, err)
	<-b.wire.running
	b.quiet()
}

func (b *bench) stop() {
	b.hub.Close()
	require.NoError(b, b.store.Close())
}

func (b *bench) quiet() { require.NoError(b, b.hub.Quiet(b.ctx)) }

func (b *bench) save(kind docs.Kind, id string, doc any) {
	b.Helper()
	_, err := b.hub.Save(b.ctx, hub.New{Kind: kind, ID: id, Document: doc})
	require.NoError(b, err)
}

func (b *bench) report(hardware, property string, v thing.Value) {
	b.wire.sink.Report(hardware, property, v)
	b.quiet()
}

func (b *bench) pass(d time.Duration) {
	b.clock.pass(d)
	require.NoError(b, b.hub.Wake(b.ctx))
	b.quiet()
}

func (b *bench) brightness() views.PropertyView {
	d, err := b.hub.Device(b.ctx, b.lamp)
	require.NoError(b, err)
	return d.States[0]
}

func (b *bench) stairLight() {
	b.save(docs.KindRule, "stair", &rule.Rule{Title: "Stair light", Enabled: true,
		Whenever:               &rule.Condition{Device: b.eye, Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)},
		EndedForAtLeastSeconds: 30, Do: []rule.Step{{Kind: rule.StepHold, Device: b.lamp, Property: "brightness", Value: thing.Number(60)}},
	})
}

func TestRuleReachesTheDeviceAndTheJournalTellsIt(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	b.report("hw-eye", "motion", thing.Boolean(true))
	assert.Equal(t, []thing.Value{thing.Number(60)}, b.wire.written())
	assert.Equal(t, state.Pending, b.brightness().Certainty)
	b.report("hw-lamp", "brightness", thing.Number(59.8))
	view := b.brightness()
	assert.Equal(t, state.Confirmed, view.Certainty)
	assert.Equal(t, "60 %", view.Text)
	require.Len(t, view.Holders, 2)
	assert.Equal(t, "Stair light", view.Holders[0].Title)

	require.NoError(t, b.store.Flush(b.ctx))
	chain, err := b.hub.Chain(b.ctx, view.Holders[0].Cause)
	require.NoError(t, err)
	var said []string
	for _, e := range chain {
		said = append(said, e.Text)
	}
	assert.Equal(t, []string{
		"Landing eye: motion moving", "Rule Stair light began to hold", "Lamp: brightness asked for 60 %", "Lamp: brightness confirmed at 60 %",
	}, said)

	b.save(docs.KindRule, "stair", &rule.Rule{Title: "Renamed", Do: []rule.Step{{Kind: rule.StepWait, ForSeconds: 1}}})
	chain, err = b.hub.Chain(b.ctx, cause.ID(chain[1].ID))
	require.NoError(t, err)
	assert.Equal(t, "Rule Renamed began to hold", chain[1].Text, "the journal keeps identity, not names")
}

func TestEverythingGoesOnAfterARestart(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	b.save(docs.KindScene, "dark", &light.Scene{Title: "Dark", Targets: []light.Target{{Device: b.lamp, Property: "brightness", Value: thing.Number(0)}}})
	b.report("hw-eye", "motion", thing.Boolean(true))
	b.report("hw-lamp", "brightness", thing.Number(60))
	b.report("hw-eye", "motion", thing.Boolean(false))
	b.pass(20 * time.Second)
	b.stop()
	b.start()
	assert.Equal(t, "60 %", b.brightness().Text)
	assert.Equal(t, "Stair light", b.brightness().Holders[0].Title)
	scenes, err := b.hub.Scenes(b.ctx)
	require.NoError(t, err)
	assert.Len(t, scenes, 1)
	b.pass(9 * time.Second)
	assert.Empty(t, b.wire.written())
	b.pass(2 * time.Second)
	assert.Equal(t, []thing.Value{thing.Number(0)}, b.wire.written())
}

// Two rules set the same lamp in the same instant, one after the other: it is told the last, and does not flash.
func TestOfCommandsOfOneInstantTheLastGoesOut(t *testing.T) {
	for _, prompt := range []bool{false, true} {
		b := newBenchOver(t, prompt)
		b.stairLight()
		b.save(
			docs.KindRule,
			"start",
			&rule.Rule{
				Title:   "Start",
				Enabled: true,
				When:    []rule.Trigger{{Device: b.eye, Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)}},
				Do:      []rule.Step{{Kind: rule.StepSet, Device: b.lamp, Property: "brightness", Value: thing.Number(20)}},
			},
		)
		b.report("hw-eye", "motion", thing.Boolean(true))
		assert.Equal(t, []thing.Value{thing.Number(60)}, b.wire.written(), "prompt %t", prompt)
		b.report("hw-lamp", "brightness", thing.Number(60))
		assert.Equal(t, state.Confirmed, b.brightness().Certainty)
		require.NoError(t, b.store.Flush(b.ctx))
		entries, err := b.hub.Journal(b.ctx, store.JournalQuery{Kinds: []cause.Kind{cause.Commanded}, Limit: 5})
		require.NoError(t, err)
		assert.Len(t, entries, 2, "both were asked for")
	}
}

// A command that a prompt connection refuses is told like any other.
func TestACommandThatGoesOutAtOnceAndFailsIsTold(t *testing.T) {
	b := newBenchOver(t, true)
	b.wire.outcome = connect.Failed("The lamp is not there.")
	require.NoError(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputWrite, Device: b.lamp, Name: "brightness", Value: thing.Number(10), Doer: somebody}))
	b.quiet()
	assert.Equal(t, state.Failed, b.brightness().Certainty)
	assert.Equal(t, "The lamp is not there.", b.brightness().Failure)
	b.wire.outcome = connect.Outcome{OK: true}
	require.NoError(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputWrite, Device: b.lamp, Name: "brightness", Value: thing.Number(20), Doer: somebody}))
	b.quiet()
	assert.Equal(t, []thing.Value{thing.Number(10), thing.Number(20)}, b.wire.written())
}

func TestCommandsToASlowDeviceCoalesce(t *testing.T) {
	b := newBench(t)
	b.wire.block = make(chan struct{})
	set := func(percent float64) {
		require.NoError(
			t,
			b.hub.Act(b.ctx, engine.Input{Kind: engine.InputWrite, Device: b.lamp, Name: "brightness", Value: thing.Number(percent), Doer: somebody}),
		)
	}
	set(10)
	require.Eventually(t, func() bool { return len(b.wire.written()) == 1 }, 30*time.Second, time.Millisecond)
	for _, percent := range []float64{20, 30, 40, 50} {
		set(percent)
	}
	close(b.wire.block)
	b.quiet()
	assert.Equal(t, []thing.Value{thing.Number(10), thing.Number(50)}, b.wire.written(), "the last wins")
}

func TestAFailedCommandSaysWhyAndIsSentAgainOnceReachable(t *testing.T) {
	b := newBench(t)
	b.wire.outcome = connect.Unreached("The bridge cannot be reached.")
	require.NoError(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputWrite, Device: b.lamp, Name: "brightness", Value: thing.Number(70), Doer: somebody}))
	b.quiet()
	assert.Equal(t, state.Failed, b.brightness().Certainty)
	assert.Equal(t, "The bridge cannot be reached.", b.brightness().Failure)
	b.wire.sink.State(false, "The bridge cannot be reached.")
	b.quiet()
	device, err := b.hub.Device(b.ctx, b.lamp)
	require.NoError(t, err)
	assert.True(t, device.Silent)
	b.wire.outcome = connect.Outcome{OK: true}
	b.wire.sink.State(true, "")
	b.quiet()
	assert.Equal(t, []thing.Value{thing.Number(70), thing.Number(70)}, b.wire.written())
}

func TestBadInputChangesNothingAndSaysWhere(t *testing.T) {
	b := newBench(t)
	var invalid *hub.InvalidError
	var absent *hub.AbsentError
	write := func(device, name string, v thing.Value) error {
		return b.hub.Act(b.ctx, engine.Input{Kind: engine.InputWrite, Device: device, Name: name, Value: v})
	}
	assert.ErrorAs(t, write(b.lamp, "brightness", thing.Number(101)), &invalid)
	assert.Equal(t, "value", invalid.Place)
	assert.ErrorAs(t, write(b.lamp, "brightness", thing.Text("bright")), &invalid)
	assert.ErrorAs(t, write(b.eye, "motion", thing.Boolean(true)), &invalid)
	assert.ErrorAs(t, write("attic", "brightness", thing.Number(1)), &absent)
	assert.ErrorAs(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputScene, Scene: "x"}), &absent)
	assert.ErrorAs(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputRun, Rule: "x"}), &absent)
	assert.ErrorAs(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputInvoke, Device: b.lamp, Name: "dance"}), &absent)
	assert.ErrorAs(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputLetGo, Device: b.lamp, Name: "brightness", Owner: "x"}), &absent)
	assert.ErrorAs(
		t,
		b.hub.Act(b.ctx, engine.Input{Kind: engine.InputKeep, Device: b.lamp, Name: "brightness", Value: thing.Number(1), Until: b.clock.Now()}),
		&invalid,
	)
	_, err := b.hub.Save(b.ctx, hub.New{Kind: docs.KindScene, ID: "s", Document: &light.Scene{Title: "x", Targets: []light.Target{{Device: "attic"}}}})
	require.ErrorAs(t, err, &invalid)
	assert.Equal(t, "targets[0]", invalid.Place)
	b.wire.sink.Report("hw-lamp", "brightness", thing.Number(4000))
	b.wire.sink.Report("hw-unknown", "brightness", thing.Number(4))
	b.quiet()
	assert.Empty(t, b.wire.written())
	assert.Equal(t, "off", b.brightness().Text)
}

func TestRuleWithAnAbsentDeviceIsKeptAndSaysSo(t *testing.T) {
	b := newBench(t)
	b.save(
		docs.KindRule,
		"r",
		&rule.Rule{Title: "R", Enabled: true, Do: []rule.Step{{Kind: rule.StepSet, Device: "attic", Property: "x", Value: thing.Number(1)}}},
	)
	rules, err := b.hub.Rules(b.ctx)
	require.NoError(t, err)
	assert.Equal(t, "This device is no longer in the home.", rules[0].State.Problems[0].Message)
	assert.ErrorContains(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputRun, Rule: "r"}), "cannot run")
}

func TestAnEditFromAnotherWindowIsNotOverwritten(t *testing.T) {
	b := newBench(t)
	doc := &light.Scene{Title: "Dark"}
	b.save(docs.KindScene, "s", doc)
	b.save(docs.KindScene, "s", doc)
	var conflict *hub.ConflictError
	_, err := b.hub.Save(b.ctx, hub.New{Kind: docs.KindScene, ID: "s", Revision: 1, Document: doc})
	assert.ErrorAs(t, err, &conflict)
	_, err = b.hub.Replace(b.ctx, hub.New{Kind: docs.KindScene, ID: "other", Document: doc})
	var absent *hub.AbsentError
	assert.ErrorAs(t, err, &absent)
}

func TestRemovingADeviceFlagsItsRulesAndUndoBringsAllBack(t *testing.T) {
	b := newBench(t)
	b.stairLight()
	require.NoError(t, b.hub.Act(b.ctx, engine.Input{Kind: engine.InputKeep, Device: b.lamp, Name: "brightness", Value: thing.Number(30), Doer: somebody}))
	b.report("hw-lamp", "brightness", thing.Number(30))
	require.NoError(t, b.hub.Remove(b.ctx, docs.KindDevice, b.lamp))
	rules, err := b.hub.Rules(b.ctx)
	require.NoError(t, err)
	assert.NotEmpty(t, rules[0].State.Problems)
	require.NoError(t, b.hub.Restore(b.ctx, docs.KindDevice, b.lamp))
	rules, err = b.hub.Rules(b.ctx)
	require.NoError(t, err)
	assert.Empty(t, rules[0].State.Problems)
	assert.Equal(t, "30 %", b.brightness().Text)
	assert.Equal(t, "hand", b.brightness().Holders[0].Owner, "what a hand kept is kept")
	assert.Error(t, b.hub.Restore(b.ctx, docs.KindDevice, b.lamp), "it is not removed")
}

func TestFoundDevicesAreAddedAllOrNone(t *testing.T) {
	b := newBench(t)
	found, err := b.hub.Found(b.ctx)
	require.NoError(t, err)
	require.Len(t, found.Devices, 3)
	assert.Equal(t, "hw-new", found.Devices[0].Hardware, "what is not in the home comes first")
	for _, bad := range []hub.Adding{
		{Connection: hub.GatewaysID, Hardware: "hw-new"},                  // no profile
		{Connection: hub.GatewaysID, Hardware: "hw-lamp"},                 // there already
		{Connection: hub.GatewaysID, Hardware: "hw-gone"},                 // not announced
		{Connection: "elsewhere", Hardware: "hw-new"},                     // no such connection
		{Connection: hub.GatewaysID, Hardware: "hw-eye", Room: "nowhere"}, // there already
	} {
		_, err := b.hub.Add(b.ctx, []hub.Adding{bad})
		var invalid *hub.InvalidError
		assert.ErrorAs(t, err, &invalid, bad.Hardware)
	}
	proposals, err := b.hub.Propose(
		b.ctx,
		[]hub.Adding{{Connection: hub.GatewaysID, Hardware: "hw-lamp"}, {Connection: hub.GatewaysID, Hardware: "hw-eye", Title: "Landing Eye"}},
	)
	require.NoError(t, err)
	assert.Equal(t, "Lamp 2", proposals[0].Title)
	assert.Equal(t, "Landing eye", proposals[1].Near)
}

// told waits until something is told.
func (b *bench) told(feed *show.Subscription, wanted func(*show.Update) bool) bool {
	limit := time.After(20 * time.Second)
	for {
		select {
		case frame := <-feed.C:
			for i := range frame.Changes {
				if wanted(&frame.Changes[i]) {
					return true
				}
			}
		case <-limit:
			return false
		}
	}
}

func TestDayIsDrawnFromTheSun(t *testing.T) {
	b := newBench(t)
	day, err := b.hub.Day(b.ctx)
	require.NoError(t, err)
	var lights []string
	for i, s := range day.Stretches {
		lights = append(lights, s.Light)
		if i > 0 {
			assert.Equal(t, day.Stretches[i-1].To, s.From)
		}
	}
	assert.Equal(t, []string{"night", "twilight", "day", "twilight", "night"}, lights)
}

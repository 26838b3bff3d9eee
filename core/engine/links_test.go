package engine_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
	"amvek/core/document"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/link"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

func (b *bench) link(id string, l link.Link) {
	l.Title, l.Enabled = id, true
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindLink, ID: id, Link: &l})
}

func (b *bench) turn(n float64) {
	b.do(engine.Input{Kind: engine.InputEvent, Device: "dial", Name: "turn", Value: thing.Number(n)})
}

// values returns what lamps were told since this was called last.
func (b *bench) values() (all []string) {
	for _, c := range b.commands {
		all = append(all, c.Device+" "+rule.Say(c.Value))
	}
	b.commands = nil
	return all
}

func (b *bench) problems(id string) []document.Fault {
	v, there := b.engine.LinkView(id)
	require.True(b.t, there)
	return v.Problems
}

var (
	fromDial  = []link.Source{{Device: "dial", Event: "turn"}}
	fromLight = []link.Source{{Device: "sensor", Property: "light"}}
	toLamp    = []link.Driven{{Device: "lamp", Property: "brightness"}}
	turning   = link.Stage{Kind: link.Relative, Step: 2, High: 100}
)

func TestADialTurnsTwoLampsAndTheLastTurnIsNeverLost(t *testing.T) {
	b := newBench(t)
	b.link("dial", link.Link{
		Sources: fromDial, Stages: []link.Stage{turning, {Kind: link.Limit, PerSecond: 5}},
		Targets: append(toLamp, link.Driven{Device: "other", Property: "brightness"}),
	})
	require.Empty(t, b.problems("dial"))
	b.commands = nil
	for range 20 { // fifty a second
		b.turn(1)
		b.obey()
		b.pass(20 * time.Millisecond)
	}
	b.pass(time.Second)
	assert.Equal(t, []string{"lamp 2", "other 2", "lamp 20", "other 20", "lamp 40", "other 40"}, b.values())
	kinds := map[cause.Kind]int{}
	for _, e := range b.entries {
		kinds[e.Kind]++
	}
	assert.Equal(t, 1, kinds[cause.Carried], "one entry for all of the turn")
	assert.True(t, b.state("lamp").Stack.Base.ByHand)
	assert.Equal(t, "link:dial", b.state("lamp").Stack.Base.By)
}

func TestALampThatTwoLinksSetConfirmsToTheOneThatAsked(t *testing.T) {
	b := newBench(t)
	b.link("dial", link.Link{Sources: fromDial, Stages: []link.Stage{turning}, Targets: toLamp})
	b.link("light", link.Link{Sources: fromLight, Targets: toLamp})
	b.turn(5)
	b.obey()
	confirmed := func(id string) (n int) {
		for _, s := range b.engine.LinkSamples(id, 0) {
			if s.Place == link.Confirmed {
				n++
			}
		}
		return n
	}
	assert.Equal(t, 1, confirmed("dial"))
	assert.Zero(t, confirmed("light"), "it asked for nothing")
}

func TestAHandElsewhereIsWhereTheNextTurnBegins(t *testing.T) {
	b := newBench(t)
	b.link("dial", link.Link{Sources: fromDial, Stages: []link.Stage{turning}, Targets: toLamp})
	b.turn(5)
	b.obey()
	b.hand("lamp", 70)
	b.obey()
	b.commands = nil
	b.turn(1)
	assert.Equal(t, []string{"lamp 72"}, b.values())
	b.turn(-90)
	b.turn(1)
	assert.Equal(t, []string{"lamp 0", "lamp 2"}, b.values(), "below the least is the least")
	commands := b.entries[b.state("lamp").Asked]
	assert.Equal(t, []cause.Kind{cause.Commanded, cause.Carried, cause.Happened}, b.chain(commands.ID))
}

func TestALinkThatHoldsLetsGoWhenItIsShutAndAHandWins(t *testing.T) {
	b := newBench(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: rule.OwnDevice, Thing: ownDevice("in", "out")})
	b.report("sensor", "light", thing.Number(100))
	b.hand("lamp", 11)
	b.obey()
	b.commands = nil
	dark := link.Link{
		Sources: fromLight,
		Stages:  []link.Stage{{Kind: link.Map, In: &link.Range{From: 0, To: 200}, Out: &link.Range{From: 100, To: 0}}},
		Targets: toLamp, Holds: true, Modes: []string{"in"},
	}
	b.link("dark", dark)
	require.Empty(t, b.problems("dark"))
	assert.Empty(t, b.values(), "the house is in no such mode")
	mode := func(m string) {
		b.do(engine.Input{Kind: engine.InputWrite, Device: rule.OwnDevice, Name: home.ModeProperty, Value: thing.Text(m), Doer: somebody})
	}
	mode("in")
	assert.Equal(t, []string{"lamp 50"}, b.values(), "it holds what its source is at")
	b.obey()
	b.report("sensor", "light", thing.Number(20))
	assert.Equal(t, []string{"lamp 90"}, b.values())
	b.obey()
	mode("out")
	assert.Equal(t, []string{"lamp 11"}, b.values(), "what was below shows again")
	b.obey()
	mode("in")
	b.obey()
	b.hand("lamp", 33)
	b.obey()
	b.commands = nil
	b.report("sensor", "light", thing.Number(40))
	assert.Empty(t, b.values(), "a hand has it")
	mode("out")
	mode("in")
	assert.Equal(t, []string{"lamp 80"}, b.values(), "shut and open again it begins anew")
	b.obey()
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindLink, ID: "dark"})
	assert.Equal(t, []string{"lamp 33"}, b.values())
	assert.Empty(t, b.state("lamp").Stack.Holds)
}

func ownDevice(modes ...string) *home.Device {
	return &home.Device{Title: "Home", Connection: "own", Hardware: "own", Description: thing.Description{Properties: []thing.Property{
		{Name: home.ModeProperty, Title: "Mode", Type: thing.TypeOption, Options: modes, Writable: true, Own: true},
	}}}
}

func TestExpressionsInLinksSpeakOfTheHome(t *testing.T) {
	b := newBench(t)
	b.report("sensor", "light", thing.Number(10))
	b.link("formula", link.Link{
		Sources: fromLight, Targets: toLamp, Only: `value("sensor", "motion")`,
		Stages: []link.Stage{{Kind: link.Expression, Text: `coming * 2.0 + value("other", "brightness")`}},
	})
	require.Empty(t, b.problems("formula"))
	b.hand("other", 30)
	b.obey()
	b.commands = nil
	b.report("sensor", "light", thing.Number(20))
	assert.Empty(t, b.values(), "nobody moves")
	b.report("sensor", "motion", thing.Boolean(true))
	b.report("sensor", "light", thing.Number(25))
	assert.Equal(t, []string{"lamp 80"}, b.values())
	b.link("formula", link.Link{Sources: fromLight, Targets: toLamp, Only: "coming > 1.0", Stages: []link.Stage{{Kind: link.Expression, Text: "mode"}}})
	assert.Len(t, b.problems("formula"), 2)
}

func TestLinksInARingAreNotAtWork(t *testing.T) {
	b := newBench(t)
	lamp, other := link.Source{Device: "lamp", Property: "brightness"}, link.Source{Device: "other", Property: "brightness"}
	more := []link.Stage{{Kind: link.Expression, Text: "coming + 1.0"}}
	b.link("there", link.Link{Sources: []link.Source{lamp}, Stages: more, Targets: []link.Driven{{Device: "other", Property: "brightness"}}})
	require.Empty(t, b.problems("there"))
	b.link("back", link.Link{Sources: []link.Source{other}, Stages: more, Targets: toLamp})
	for _, id := range []string{"there", "back"} {
		require.Len(t, b.problems(id), 1)
		assert.Contains(t, b.problems(id)[0].Message, "without end")
	}
	b.commands = nil
	b.hand("lamp", 10)
	b.obey()
	assert.Equal(t, []string{"lamp 10"}, b.values())
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindLink, ID: "back"})
	assert.Empty(t, b.problems("there"))
	b.hand("lamp", 20)
	b.obey()
	assert.Equal(t, []string{"lamp 20", "other 21"}, b.values())
}

func TestLinksRestWhereTheirDeviceIsGoneAndGoOnWhenItIsBack(t *testing.T) {
	b := newBench(t)
	b.link("dial", link.Link{Sources: fromDial, Stages: []link.Stage{turning}, Targets: toLamp})
	b.do(engine.Input{Kind: engine.InputRemove, Definition: engine.KindDevice, ID: "lamp"})
	require.Len(t, b.problems("dial"), 1)
	b.turn(1)
	b.device("lamp", lampDescription)
	require.Empty(t, b.problems("dial"))
	b.report("lamp", "brightness", thing.Number(10))
	b.commands = nil
	b.turn(1)
	assert.Equal(t, []string{"lamp 12"}, b.values())
}

func TestALinkDoesNotSwitchOnWhatIsAttendedOnly(t *testing.T) {
	b := newBench(t)
	b.do(engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: "lamp", Thing: &home.Device{
		Title: "lamp", Connection: "wire", Hardware: "lamp", Description: lampDescription, AttendedOnly: true,
	}})
	b.link("dial", link.Link{Sources: fromDial, Stages: []link.Stage{turning}, Targets: toLamp})
	b.commands = nil
	b.turn(1)
	assert.Empty(t, b.values())
}

func TestWhatWentThroughALinkIsRecordedWithItsConfirmations(t *testing.T) {
	b := newBench(t)
	b.link("dial", link.Link{Sources: fromDial, Stages: []link.Stage{turning, {Kind: link.Limit, PerSecond: 5}}, Targets: toLamp})
	b.turn(1)
	b.turn(1)
	b.pass(38 * time.Millisecond)
	b.obey()
	b.pass(time.Second)
	var seen []string
	for _, s := range b.engine.LinkSamples("dial", 0) {
		seen = append(seen, string(s.Place)+" "+rule.Say(thing.Number(s.Value)))
	}
	assert.Equal(t, []string{"source 1", "stage 2", "stage 2", "target 2", "source 1", "stage 4", "confirmed 2", "stage 4", "target 4"}, seen)
	samples := b.engine.LinkSamples("dial", 6)
	require.NotEmpty(t, samples)
	assert.InDelta(t, 38, samples[0].Milliseconds, 0.01)
	var flowing []string
	b.engine.Flowing(func(id string) { flowing = append(flowing, id) })
	b.engine.Flowing(func(id string) { flowing = append(flowing, id) })
	assert.Equal(t, []string{"dial"}, flowing)
	b.setClock(-time.Hour)
	assert.True(t, b.engine.LinkSamples("dial", 8)[0].At.Before(night))
}

func TestALinkGoesOnAfterARestartAndWhatNobodyHoldsAnyMoreIsLetGo(t *testing.T) {
	b := newBench(t)
	holds := link.Link{Title: "light", Enabled: true, Sources: fromLight, Targets: toLamp, Holds: true}
	b.report("sensor", "light", thing.Number(40))
	b.link("light", holds)
	b.obey()
	require.Equal(t, thing.Number(40), b.effective("lamp"))
	define := engine.Input{Kind: engine.InputDefine, Definition: engine.KindLink, ID: "light", Link: &holds}
	b.restart(define)
	assert.Equal(t, thing.Number(40), b.effective("lamp"))
	b.commands = nil
	b.report("sensor", "light", thing.Number(50))
	assert.Equal(t, []string{"lamp 50"}, b.values())
	b.obey()
	b.restart()
	assert.Equal(t, thing.Number(0), b.effective("lamp"), "the link was removed while the hub was off")
	assert.Equal(t, state.Pending, b.state("lamp").Certainty)
}

func TestKeysFeedALinkByTheirGestures(t *testing.T) {
	b, send, _ := keyBench(t)
	source := func(event, is string, gives float64) link.Source {
		return link.Source{Device: "plate", Event: event, Is: is, Gives: gives}
	}
	b.link("keys", link.Link{
		Sources: []link.Source{source("raw", "press", 0), source("raw", "double", 5), source("pressed", "press", -1)},
		Stages:  []link.Stage{{Kind: link.Relative, Step: 10, High: 100}}, Targets: toLamp,
	})
	require.Empty(t, b.problems("keys"))
	b.report("lamp", "brightness", thing.Number(20))
	b.commands = nil
	tap := func() { send("raw", "down"); send("raw", "up") }
	tap()
	assert.Empty(t, b.values(), "a press waits where pressing twice counts as well")
	b.pass(time.Second)
	assert.Equal(t, []string{"lamp 30"}, b.values())
	tap()
	tap()
	assert.Equal(t, []string{"lamp 80"}, b.values())
	send("pressed", "press")
	assert.Equal(t, []string{"lamp 70"}, b.values())
	send("pressed", "hold")
	assert.Empty(t, b.values(), "another gesture is nothing to it")
	for _, e := range b.entries {
		if e.Kind == cause.Happened && e.Name == "raw" {
			assert.NotEqual(t, cause.NoRule, e.Note, "a link is for it")
		}
	}
}

package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"runtime"
	"slices"
	"strconv"
	"sync"
	"testing"
	"time"

	"github.com/eclipse/paho.golang/paho"

	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/link"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
)

const (
	// manyLinks is how many links are at work beside others.
	manyLinks = 500
	// linkFlood is how many messages a second feed them.
	linkFlood = 1000
	// mirrorSchedules is how many random schedules the law of mirrors is run with.
	mirrorSchedules = 20_000
	// messagesReadEvery is how often a page of messages reads what came.
	messagesReadEvery = 250 * time.Millisecond
	// messageRounds is how often the relay is measured without such a page and with one.
	messageRounds = 3
)

// measureHands measures what hands touch: keys, links, mirrors, and the page on which all messages are seen.
func measureHands(ctx context.Context) ([]figure, error) {
	figures := []figure{measureLink()}
	for _, measure := range []func(context.Context) ([]figure, error){measureDial, measureButton, measureLinks, measureMirrors, measureMessages} {
		more, err := measure(ctx)
		if err != nil {
			return nil, err
		}
		figures = append(figures, more...)
	}
	return figures, nil
}

// dialed is a dial, and lamps that it turns by a link of five stages.
func dialed() *engine.Engine {
	e := engine.New(1, 1)
	define := func(in engine.Input) {
		in.Kind = engine.InputDefine
		e.Handle(time.Unix(0, 0), in)
	}
	lamp := thing.Description{Properties: []thing.Property{{
		Name: "brightness", Title: "Brightness", Role: thing.RoleBrightness, Type: thing.TypeNumber, Maximum: 100, Resolution: 1, Writable: true,
	}}}
	dial := thing.Description{Events: []thing.Event{{Name: "turn", Title: "Turn", Role: thing.RoleTurn, Number: true}}}
	for id, d := range map[string]thing.Description{"dial": dial, "lamp": lamp} {
		define(engine.Input{Definition: engine.KindDevice, ID: id, Thing: &home.Device{Title: id, Connection: "wire", Hardware: id, Description: d}})
	}
	define(engine.Input{Definition: engine.KindLink, ID: "link", Link: &link.Link{
		Title: "Dial", Enabled: true,
		Sources: []link.Source{{Device: "dial", Event: "turn"}},
		Stages: []link.Stage{
			{Kind: link.Relative, Step: 2, High: 100}, {Kind: link.Changes}, {Kind: link.Limit, PerSecond: 5},
			{Kind: link.Map, In: &link.Range{To: 100}, Out: &link.Range{To: 100}, Curve: link.Eye}, {Kind: link.ZeroOff},
		},
		Targets: []link.Driven{{Device: "lamp", Property: "brightness"}},
	}})
	return e
}

// measureLink measures what one message of a dial that turns at 50 a second costs, from the event to the command, on the whole.
func measureLink() figure {
	const between = 20 * time.Millisecond
	of := testing.Benchmark(func(b *testing.B) {
		e := dialed()
		now := time.Unix(0, 0)
		for i := range b.N {
			now = now.Add(between)
			step := 1.0
			if i/50%2 == 1 {
				step = -1
			}
			e.Handle(now, engine.Input{Kind: engine.InputEvent, Device: "dial", Name: "turn", Value: thing.Number(step)})
		}
	})
	return figure{Name: "link_us", Value: float64(of.NsPerOp()) / 1000, Unit: "µs"}
}

// measureButton measures from a press of a key to the command at another device, through an ordinary rule of the key; and beside
// it a bare client that relays messages on the same broker.
func measureButton(ctx context.Context) ([]figure, error) {
	made, err := furnishedKeys(ctx)
	if err != nil {
		return nil, err
	}
	defer made.close()
	bare, stop, err := bareRelay(ctx, made.broker.Address())
	if err != nil {
		return nil, err
	}
	defer stop()
	made.post.payload = func(turn int) string { return fmt.Sprintf(`{"kp":%q}`, []string{"press", "hold"}[turn%2]) }
	return relayed(ctx, bare, made.post, 100, func(share string) string { return "button_" + share + "_ms" })
}

// furnishedKeys is furnished with a key on each sensor whose gestures switch its lamp.
func furnishedKeys(ctx context.Context) (*house, error) {
	var made *house
	made, err := newHouse(ctx, func(topic string, _ []byte) {
		if made != nil {
			made.post.answered(place(topic, "/lamp"))
		}
	})
	if err != nil {
		return nil, err
	}
	ids, err := furnish(ctx, made.hub, made.post.client)
	if err != nil {
		made.close()
		return nil, err
	}
	var rules []hub.New
	for i := range relayPairs {
		for gesture, on := range map[string]bool{"press": true, "hold": false} {
			id := fmt.Sprintf("rule-key-%d-%s", i, gesture)
			rules = append(rules, hub.New{Kind: docs.KindRule, ID: id, Document: &rule.Rule{Title: id, Enabled: true,
				When: []rule.Trigger{{Device: ids[2*i], Event: "key", Comparison: rule.Is, Value: thing.Text(gesture)}},
				Do:   []rule.Step{{Kind: rule.StepSet, Device: ids[2*i+1], Property: "power", Value: thing.Boolean(on)}},
			}})
		}
	}
	if _, err := made.hub.SaveAll(ctx, rules); err != nil {
		made.close()
		return nil, err
	}
	return made, made.hub.Quiet(ctx)
}

const (
	// dialTurns is how often a dial is turned while what arrives of it is measured, there and back by as many notches, and by another
	// number from time to time, so that the last one falls anywhere between two commands.
	dialTurns    = 40
	dialNotches  = 30
	dialRate     = 50 // a second
	dialCommands = 5  // a second, at most
)

// measureDial measures how long after the last notch of a turn the last value is at the lamp, which takes a few commands a second:
// the floor is the time between two of those, within which it cannot be there in any case.
func measureDial(ctx context.Context) ([]figure, error) {
	var arrived sync.Mutex
	var last string
	var at time.Time
	made, err := newHouse(ctx, func(topic string, payload []byte) {
		if place(topic, "/lamp") == 0 {
			arrived.Lock()
			last, at = string(payload), time.Now()
			arrived.Unlock()
		}
	})
	if err != nil {
		return nil, err
	}
	defer made.close()
	ids, err := furnish(ctx, made.hub, made.post.client)
	if err != nil {
		return nil, err
	}
	if _, err := made.hub.Save(ctx, hub.New{Kind: docs.KindLink, ID: "link-dial", Document: &link.Link{
		Title: "Dial", Enabled: true, Sources: []link.Source{{Device: ids[0], Event: "turn"}}, Targets: []link.Driven{{Device: ids[1], Property: "level"}},
		Stages: []link.Stage{{Kind: link.Relative, Step: 2, High: 100}, {Kind: link.Changes}, {Kind: link.Limit, PerSecond: dialCommands}},
	}}); err != nil {
		return nil, err
	}
	var delays []time.Duration
	for turn := range dialTurns {
		notches := dialNotches + turn/2%(dialRate/dialCommands)
		notch, wanted := 1, fmt.Sprintf(`{"br":%d}`, 2*notches)
		if turn%2 == 1 {
			notch, wanted = -1, `{"br":0}`
		}
		var ended time.Time
		began := time.Now()
		for i := range notches {
			time.Sleep(time.Until(began.Add(time.Duration(i) * time.Second / dialRate)))
			ended = time.Now()
			if _, err := made.post.client.Publish(ctx, &paho.Publish{Topic: saidBy(0), Payload: fmt.Appendf(nil, `{"tn":%d}`, notch)}); err != nil {
				return nil, err
			}
		}
		time.Sleep(2 * time.Second / dialCommands)
		arrived.Lock()
		said, when := last, at
		arrived.Unlock()
		if said != wanted {
			return nil, fmt.Errorf("the lamp was told %s last, not %s", said, wanted)
		}
		delays = append(delays, when.Sub(ended))
	}
	slices.Sort(delays)
	p50, _ := quantiles(delays)
	interval := 1000.0 / dialCommands
	return []figure{
		{Name: "dial_last_p50_ms", Value: p50, Unit: "ms"},
		{Name: "dial_last_worst_ms", Value: float64(delays[len(delays)-1].Microseconds()) / 1000, Unit: "ms", Floor: &interval},
	}, nil
}

// measureLinks measures what many links that are fed all the time do to everybody else: the p99 of the relay beside them, divided
// by that without; the floor is the same of a bare relay on the same broker.
func measureLinks(ctx context.Context) ([]figure, error) {
	made, err := furnishedKeys(ctx)
	if err != nil {
		return nil, err
	}
	defer made.close()
	devices, err := made.hub.Devices(ctx)
	if err != nil {
		return nil, err
	}
	var eyes []string
	for _, d := range devices {
		if d.Model == "EYE" {
			eyes = append(eyes, d.ID)
		}
	}
	if len(eyes) == 0 {
		return nil, errors.New("there is nothing to feed links with")
	}
	definitions := []hub.New{{Kind: docs.KindVariable, ID: "variable-level", Document: &home.Variable{Title: "Level", Type: thing.TypeNumber, Maximum: 1000}}}
	for i := range manyLinks {
		definitions = append(definitions, hub.New{Kind: docs.KindLink, ID: fmt.Sprintf("link-%d", i), Document: &link.Link{
			Title: fmt.Sprintf("Link %d", i), Enabled: true,
			Sources: []link.Source{{Device: eyes[i%len(eyes)], Property: "count"}},
			Stages: []link.Stage{
				{Kind: link.Changes}, {Kind: link.Map, In: &link.Range{To: 500}, Out: &link.Range{To: 100}, Curve: link.Eye}, {Kind: link.Limit, PerSecond: 0.2},
			},
			Targets: []link.Driven{{Device: rule.OwnDevice, Property: "variable-level"}},
		}})
	}
	if _, err := made.hub.SaveAll(ctx, definitions); err != nil {
		return nil, err
	}
	bare, stop, err := bareRelay(ctx, made.broker.Address())
	if err != nil {
		return nil, err
	}
	defer stop()
	ratio, floor, err := made.beside(ctx, bare, func(ctx context.Context, through *post) { flood(ctx, through, `{"count":%d}`) })
	return []figure{{Name: "links_500_others_p99_ratio", Value: ratio, Unit: "ratio", Floor: &floor}}, err
}

// flood has the sensors say something a thousand times a second until the context ends.
func flood(ctx context.Context, through *post, payload string) {
	began := time.Now()
	for i := 0; ctx.Err() == nil; i++ {
		time.Sleep(time.Until(began.Add(time.Duration(i) * time.Second / linkFlood)))
		_, _ = through.client.Publish(ctx, &paho.Publish{Topic: saidBy(i % relayPairs), Payload: fmt.Appendf(nil, payload, i%500)})
	}
}

// measureMirrors runs the law of mirrors with random schedules, and says with how many it held.
func measureMirrors(ctx context.Context) ([]figure, error) {
	law := exec.CommandContext(ctx, "go", "test", "./core/engine", "-count=1",
		"-run", "TestMirrorsAgreeAfterQuiet", "-rapid.checks="+strconv.Itoa(mirrorSchedules))
	law.Stderr = os.Stderr
	if said, err := law.Output(); err != nil {
		return nil, fmt.Errorf("the law of mirrors: %w\n%s", err, said)
	}
	return []figure{{Name: "mirror_schedules", Value: mirrorSchedules, Unit: "schedules"}}, nil
}

// measureMessages measures what a page on which all messages are seen does to everybody else while a thousand come in a second:
// the p99 of the relay with it, divided by that without it, both beside the flood.
func measureMessages(ctx context.Context) ([]figure, error) {
	made, err := furnishedKeys(ctx)
	if err != nil {
		return nil, err
	}
	defer made.close()
	s, err := made.serve()
	if err != nil {
		return nil, err
	}
	defer s.close()
	flooding, stop := context.WithCancel(ctx)
	var done sync.WaitGroup
	done.Go(func() { flood(flooding, made.post, `{"count":%d}`) })
	defer func() { stop(); done.Wait() }()
	if _, err := made.post.run(ctx, 100, disturbSeconds, saidBy); err != nil { // the first seconds of a flood are slower
		return nil, err
	}
	kept := func() float64 {
		runtime.GC()
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		return float64(m.HeapAlloc) / 1e6
	}
	before := kept()
	var delays [2][]time.Duration
	for range messageRounds {
		for looked := range delays {
			looking, leave := context.WithCancel(ctx)
			var page sync.WaitGroup
			if looked > 0 {
				page.Go(func() {
					for ticker := time.NewTicker(messagesReadEvery); ; {
						select {
						case <-looking.Done():
							ticker.Stop()
							return
						case <-ticker.C:
							_ = s.get(looking, "/api/messages?limit=300")
						}
					}
				})
			}
			some, err := made.post.run(ctx, 100, disturbSeconds, saidBy)
			leave()
			page.Wait()
			if err != nil {
				return nil, err
			}
			delays[looked] = append(delays[looked], some...)
		}
	}
	var p99 [2]float64
	for i := range delays {
		slices.Sort(delays[i])
		_, p99[i] = quantiles(delays[i])
	}
	return []figure{
		{Name: "messages_view_p99_ratio", Value: p99[1] / p99[0], Unit: "ratio"},
		{Name: "messages_view_p99_ms", Value: p99[1], Unit: "ms", Floor: &p99[0]},
		{Name: "messages_view_growth_mb", Value: kept() - before, Unit: "MB"},
	}, nil
}

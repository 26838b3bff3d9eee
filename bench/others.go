package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"os"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/eclipse/paho.golang/paho"

	"amvek/connect"
	"amvek/connect/bridge"
	"amvek/connect/mqtt"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/catalogue"
	"amvek/hub/docs"
	"amvek/store"
)

const (
	pressRate      = 20
	pressSeconds   = 10
	floodRate      = 1000
	disturbRounds  = 3
	disturbSeconds = 4                      // even, so that each run leaves the lamps as it found them
	slowTakes      = 200 * time.Millisecond // a lamp that takes five commands a second
)

// house is a hub with the hub's own broker and other connections beside it.
type house struct {
	hub    *hub.Hub
	post   *post
	broker *mqtt.Broker
	store  *store.Store
	close  func()
}

func newHouse(ctx context.Context, heard func(topic string, payload []byte), beside ...hub.Standing) (*house, error) {
	return newHouseWith(ctx, nil, heard, beside...)
}

// newHouseWith makes a house in which some devices are already.
func newHouseWith(ctx context.Context, devices map[string]home.Device, heard func(topic string, payload []byte), beside ...hub.Standing) (*house, error) {
	ctx, cancel := context.WithCancel(ctx)
	folder, err := os.MkdirTemp("", "amvek-bench-")
	if err != nil {
		cancel()
		return nil, err
	}
	log := slog.New(slog.DiscardHandler)
	kept, err := store.Open(ctx, folder, log)
	if err != nil {
		cancel()
		return nil, err
	}
	if err := fillHome(ctx, kept, devices); err != nil {
		cancel()
		return nil, err
	}
	broker, err := mqtt.Listen("127.0.0.1:0", log)
	if err != nil {
		cancel()
		return nil, err
	}
	broker.Allow(mqtt.Client{Name: gateway, Key: gateway, Publish: []string{"#"}, Subscribe: []string{"#"}})
	find := func(model string) *thing.Model { return relayModels[model] }
	standing := append(
		[]hub.Standing{{ID: hub.GatewaysID, Definition: docs.Connection{Title: "Wire", Kind: docs.HubBroker}, Connection: mqtt.NewGateways(broker, find)}},
		beside...)
	h, err := hub.Start(ctx, hub.Options{Store: kept, Clock: &hub.WallClock{}, Log: log, Catalogue: catalogue.New(nil), Standing: standing})
	if err != nil {
		cancel()
		return nil, err
	}
	p := &post{}
	p.client, err = join(ctx, broker.Address(), gateway, gateway, []string{"quillet/" + gateway + "/+/ask"}, heard)
	if err != nil {
		cancel()
		return nil, err
	}
	return &house{hub: h, post: p, broker: broker, store: kept, close: func() {
		cancel()
		h.Close()
		_ = broker.Close()
		_ = kept.Close()
		_ = os.RemoveAll(folder)
	}}, nil
}

// furnished makes a house with some devices that say nothing, in which the relay's sensors and lamps are at work.
func furnished(ctx context.Context, beside map[string]home.Device) (made *house, err error) {
	made, err = newHouseWith(ctx, beside, func(topic string, _ []byte) {
		if made != nil {
			made.post.answered(place(topic, "/lamp"))
		}
	})
	if err != nil {
		return nil, err
	}
	if _, err := furnish(ctx, made.hub, made.post.client); err != nil {
		made.close()
		return nil, err
	}
	return made, nil
}

func quantiles(delays []time.Duration) (p50, p99 float64) {
	at := func(share float64) float64 {
		return float64(delays[int(float64(len(delays)-1)*share)].Microseconds()) / 1000
	}
	return at(0.5), at(0.99)
}

// measurePress measures from a press, over MQTT in, to the command of a bridge's lamp, over HTTP out;
// and beside it the same HTTP request without a hub.
func measurePress(ctx context.Context) ([]figure, error) {
	var house *house
	arrived := make(chan int, relayPairs)
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Type", "application/json")
		switch path := strings.TrimPrefix(r.URL.Path, "/lumbrook/"); {
		case path == "about":
			_, _ = io.WriteString(w, `{"maker":"Lumbrook","serial":"BENCH"}`)
		case r.Method == http.MethodPut:
			_, _ = io.Copy(io.Discard, r.Body)
			w.WriteHeader(http.StatusNoContent)
			n := place(path, "lamps/")
			select {
			case arrived <- n:
			default:
			}
			if house != nil {
				house.post.answered(n)
			}
		case path == "lamps":
			lamps := map[string]any{}
			for i := range relayPairs {
				lamps[fmt.Sprint(i)] = map[string]any{"label": "Bench LAMP unit", "hardware": fmt.Sprintf("http%d", i), "on": false}
			}
			_ = json.NewEncoder(w).Encode(map[string]any{"lamps": lamps})
		case path == "plates" || path == "groups":
			_, _ = fmt.Fprintf(w, `{%q:{}}`, path)
		default:
			w.WriteHeader(http.StatusNotFound)
			_, _ = io.WriteString(w, `{"fault":"none"}`)
		}
	}))
	defer server.Close()
	find := func(model string) *thing.Model { return relayModels[model] }
	over := hub.Standing{
		ID:         "http",
		Definition: docs.Connection{Title: "Bridge", Kind: docs.WebThings},
		Connection: bridge.New(server.Listener.Addr().String(), "k", "", find),
	}
	made, err := newHouse(ctx, func(string, []byte) {}, over)
	if err != nil {
		return nil, err
	}
	defer made.close()
	ids, err := furnishWith(ctx, made.hub, made.post.client, "http", func(i int) string { return fmt.Sprintf("http%d", i) })
	if err != nil {
		return nil, err
	}
	_ = ids
	house = made
	delays, err := made.post.run(ctx, pressRate, pressSeconds, saidBy)
	if err != nil {
		return nil, fmt.Errorf("press to lamp: %w", err)
	}
	bare := make([]time.Duration, 0, pressRate*pressSeconds)
	for i := range pressRate * pressSeconds {
		began := time.Now()
		request, err := http.NewRequestWithContext(
			ctx,
			http.MethodPut,
			fmt.Sprintf("%s/lumbrook/lamps/%d", server.URL, i%relayPairs),
			strings.NewReader(`{"on":true}`),
		)
		if err != nil {
			return nil, err
		}
		response, err := http.DefaultClient.Do(request)
		if err != nil {
			return nil, err
		}
		_ = response.Body.Close()
		bare = append(bare, time.Since(began))
		time.Sleep(time.Second / pressRate / 2)
	}
	slices.Sort(bare)
	p50, p99 := quantiles(delays)
	floor50, floor99 := quantiles(bare)
	return []figure{
		{Name: "press_to_lamp_p50_ms", Value: p50, Unit: "ms", Floor: &floor50},
		{Name: "press_to_lamp_p99_ms", Value: p99, Unit: "ms", Floor: &floor99},
	}, nil
}

// slow is a connection with one lamp that takes its time, or never answers.
type slow struct {
	takes time.Duration // 0 never answers
	last  atomic.Value
	sent  atomic.Int64
}

var slowLamp = &thing.Model{
	Title: "Slow lamp",
	Model: "SLOW",
	What:  "lamp",
	Description: thing.Description{
		Properties: []thing.Property{{Name: "level", Title: "Level", Type: thing.TypeNumber, Maximum: 1_000_000, Resolution: 0.5, Writable: true}},
	},
	Natives: map[string]thing.Native{"level": {Field: "level"}},
}

func (s *slow) Run(ctx context.Context, sink connect.Sink) {
	sink.State(true, "")
	sink.Found([]connect.Announcement{{Hardware: "slow", Address: "slow", Model: "SLOW", Profile: slowLamp}})
	<-ctx.Done()
}
func (s *slow) Write(ctx context.Context, _, _ string, v thing.Value, _ time.Duration) connect.Outcome {
	if s.takes == 0 {
		<-ctx.Done()
		return connect.Unreached("hanging")
	}
	select {
	case <-time.After(s.takes):
	case <-ctx.Done():
	}
	s.last.Store(v.Number)
	s.sent.Add(1)
	return connect.Outcome{OK: true, Assumed: true}
}
func (s *slow) Invoke(context.Context, string, string, thing.Inputs) connect.Outcome {
	return connect.Outcome{OK: true}
}
func (s *slow) Sync(context.Context)           {}
func (s *slow) Recall(context.Context, string) {}

// measureOthers measures what a flood of commands to a slow lamp, and a connection that hangs, do
// to everybody else: the p99 of the relay with it, divided by the p99 without.
func measureOthers(ctx context.Context) ([]figure, error) {
	var figures []figure
	for _, of := range []struct {
		name  string
		takes time.Duration
	}{{"flood_others_p99_ratio", slowTakes}, {"hang_others_p99_ratio", 0}} {
		lamp := &slow{takes: of.takes}
		var made *house
		made, err := newHouse(ctx, func(topic string, _ []byte) {
			if made != nil {
				made.post.answered(place(topic, "/lamp"))
			}
		}, hub.Standing{ID: "slow", Definition: docs.Connection{Title: "Slow", Kind: docs.HubBroker}, Connection: lamp})
		if err != nil {
			return nil, err
		}
		ratio, floor, err := made.disturb(ctx, lamp)
		made.close()
		if err != nil {
			return nil, fmt.Errorf("%s: %w", of.name, err)
		}
		figures = append(figures, figure{Name: of.name, Value: ratio, Unit: "ratio", Floor: &floor})
	}
	return figures, nil
}

// disturb returns the ratio of the p99 with the flood to that without, through the hub; and the same of
// a bare relay on the same broker, beside a flood that nobody listens to.
func (h *house) disturb(ctx context.Context, lamp *slow) (ratio, floor float64, err error) {
	if _, err := furnish(ctx, h.hub, h.post.client); err != nil {
		return 0, 0, err
	}
	ids, err := h.hub.Add(ctx, []hub.Adding{{Connection: "slow", Hardware: "slow", Title: "Slow"}})
	if err != nil {
		return 0, 0, err
	}
	// A sensor's number sets the slow lamp's: each message is a command.
	values := []float64{1, 2, 3, 4, 5}
	var rules []hub.New
	devices, err := h.hub.Devices(ctx)
	if err != nil {
		return 0, 0, err
	}
	eye := ""
	for _, d := range devices {
		if d.Hardware == "eye0" {
			eye = d.ID
		}
	}
	for _, v := range values {
		id := fmt.Sprintf("flood-%v", v)
		rules = append(rules, hub.New{Kind: docs.KindRule, ID: id, Document: &rule.Rule{Title: id, Enabled: true,
			When: []rule.Trigger{{Device: eye, Property: "count", Comparison: rule.Is, Value: thing.Number(v)}},
			Do:   []rule.Step{{Kind: rule.StepSet, Device: ids[0], Property: "level", Value: thing.Number(v)}},
		}})
	}
	if _, err := h.hub.SaveAll(ctx, rules); err != nil {
		return 0, 0, err
	}
	// The dial has a connection of its own to the broker, as it would have in a house.
	h.broker.Allow(mqtt.Client{Name: "dial", Key: "dial", Publish: []string{"#"}})
	dial, err := join(ctx, h.broker.Address(), "dial", "dial", nil, func(string, []byte) {})
	if err != nil {
		return 0, 0, err
	}
	const unheard = "nobody/listens"
	last := 0.0
	flood := func(ctx context.Context, topic string) {
		began := time.Now()
		for i := 0; ctx.Err() == nil; i++ {
			time.Sleep(time.Until(began.Add(time.Duration(i) * time.Second / floodRate)))
			value := values[i%len(values)]
			if topic != unheard {
				last = value
			}
			payload := fmt.Sprintf(`{"count":%v}`, value)
			_, _ = dial.Publish(ctx, &paho.Publish{Topic: topic, Payload: []byte(payload)})
		}
	}
	bare, closeBare, err := bareRelay(ctx, h.broker.Address())
	if err != nil {
		return 0, 0, err
	}
	defer closeBare()
	ratio, floor, err = h.beside(ctx, bare, func(ctx context.Context, through *post) {
		if through == bare {
			flood(ctx, unheard) // what the messages alone do to the machine
			return
		}
		flood(ctx, saidBy(0))
	})
	if err != nil {
		return 0, 0, err
	}
	if lamp.takes > 0 {
		const patience = 100
		for range patience {
			if lamp.last.Load() == last {
				break
			}
			time.Sleep(lamp.takes / 2)
		}
		if lamp.last.Load() != last {
			return 0, 0, errors.New("the last value did not arrive")
		}
		if lamp.sent.Load() > int64((disturbRounds*disturbSeconds+patience)*5) {
			return 0, 0, errors.New("the commands did not shrink")
		}
	}
	return ratio, floor, nil
}

// saidBy returns the topic under which a sensor of the relay speaks.
func saidBy(i int) string { return fmt.Sprintf("quillet/%s/eye%d/say", gateway, i) }

// beside returns the p99 of the relay beside what disturbs it, divided by that without; and the same of a bare relay.
func (h *house) beside(ctx context.Context, bare *post, disturb func(ctx context.Context, through *post)) (ratio, floor float64, err error) {
	legs := []struct {
		through   *post
		topic     func(i int) string
		disturbed bool
		delays    []time.Duration
	}{
		{through: h.post, topic: saidBy},
		{through: h.post, topic: saidBy, disturbed: true},
		{through: bare, topic: bareTopic},
		{through: bare, topic: bareTopic, disturbed: true},
	}
	// In turns, so that what else the machine does falls on all.
	for range disturbRounds {
		for i := range legs {
			leg := &legs[i]
			disturbing, stop := context.WithCancel(ctx)
			var done sync.WaitGroup
			if leg.disturbed {
				done.Go(func() { disturb(disturbing, leg.through) })
			}
			some, err := leg.through.run(ctx, 100, disturbSeconds, leg.topic)
			stop()
			done.Wait()
			if err != nil {
				return 0, 0, err
			}
			leg.delays = append(leg.delays, some...)
		}
	}
	p99 := make([]float64, len(legs))
	for i := range legs {
		slices.Sort(legs[i].delays)
		_, p99[i] = quantiles(legs[i].delays)
	}
	return p99[1] / p99[0], p99[3] / p99[2], nil
}

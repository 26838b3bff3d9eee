package main

import (
	"context"
	"fmt"
	"math"
	"slices"
	"sync"
	"syscall"
	"time"

	"amvek/connect"
	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
)

const (
	// effectLamps is how many lamps move, half of them behind a connection that takes frames and half behind one that takes commands.
	effectLamps = 40
	effectPace  = 50 * time.Millisecond
	// effectTurns is how often an effect is started and stopped.
	effectTurns = 20
	// effectSeconds is for how long what it costs is measured.
	effectSeconds = 10
	// curveLamps is how many lamps follow a curve for a day.
	curveLamps = 200
)

// glowing is a connection to lamps of colors that takes each frame, or each command, and writes down when.
type glowing struct {
	name   string
	mu     sync.Mutex
	times  []time.Time
	frames int
}

var glowLamp = &thing.Model{
	Title: "Glow lamp", Model: "GLOW", What: "lamp",
	Description: thing.Description{Properties: []thing.Property{
		{Name: "brightness", Title: "Brightness", Role: thing.RoleBrightness, Type: thing.TypeNumber, Maximum: 100, Resolution: 0.4, Writable: true},
		{Name: "color", Title: "Color", Role: thing.RoleColor, Type: thing.TypeColor, Writable: true},
	}},
	Natives: map[string]thing.Native{"brightness": {Field: "brightness"}, "color": {Field: "color"}},
}

func (g *glowing) hardware(i int) string { return fmt.Sprintf("%s%d", g.name, i) }

func (g *glowing) Run(ctx context.Context, sink connect.Sink) {
	sink.State(true, "")
	var all []connect.Announcement
	for i := range effectLamps / 2 {
		all = append(all, connect.Announcement{Hardware: g.hardware(i), Address: g.hardware(i), Model: "GLOW", Profile: glowLamp})
	}
	sink.Found(all)
	<-ctx.Done()
}

func (g *glowing) took() {
	g.mu.Lock()
	g.times = append(g.times, time.Now())
	g.mu.Unlock()
}

func (g *glowing) Write(context.Context, string, string, thing.Value, time.Duration) connect.Outcome {
	g.took()
	return connect.Outcome{OK: true, Assumed: true}
}
func (g *glowing) Invoke(context.Context, string, string, thing.Inputs) connect.Outcome {
	return connect.Outcome{OK: true}
}
func (g *glowing) Sync(context.Context)           {}
func (g *glowing) Recall(context.Context, string) {}

// since returns how long after a moment the first and the last came of what was taken from then on, and how much that was.
func (g *glowing) since(t time.Time) (first, last time.Duration, count int) {
	g.mu.Lock()
	defer g.mu.Unlock()
	for _, at := range g.times {
		if at.After(t) {
			if count == 0 {
				first = at.Sub(t)
			}
			last, count = at.Sub(t), count+1
		}
	}
	return first, last, count
}

// framed is [glowing] that takes frames.
type framed struct{ glowing }

func (f *framed) Pace() time.Duration { return effectPace }
func (f *framed) WriteFrame(context.Context, []connect.Setting, time.Duration) connect.Outcome {
	f.took()
	f.mu.Lock()
	f.frames++
	f.mu.Unlock()
	return connect.Outcome{OK: true}
}

// measureEffects measures forty lamps in an effect at twenty frames a second: what the hub spends on it, what it does to everybody else,
// how soon it begins and how soon it has ended.
func measureEffects(ctx context.Context) ([]figure, error) {
	one, many := &glowing{name: "one"}, &framed{glowing{name: "many"}}
	var made *house
	made, err := newHouse(ctx, func(topic string, _ []byte) {
		if made != nil {
			made.post.answered(place(topic, "/lamp"))
		}
	},
		hub.Standing{ID: "one", Definition: docs.Connection{Title: "One", Kind: docs.HubBroker}, Connection: one},
		hub.Standing{ID: "many", Definition: docs.Connection{Title: "Many", Kind: docs.HubBroker}, Connection: many},
	)
	if err != nil {
		return nil, err
	}
	defer made.close()
	if _, err := furnish(ctx, made.hub, made.post.client); err != nil {
		return nil, err
	}
	var adding []hub.Adding
	for i := range effectLamps / 2 {
		adding = append(adding,
			hub.Adding{Connection: "one", Hardware: one.hardware(i), Title: fmt.Sprintf("One %d", i)},
			hub.Adding{Connection: "many", Hardware: many.hardware(i), Title: fmt.Sprintf("Many %d", i)},
		)
	}
	lamps, err := made.hub.Add(ctx, adding)
	if err != nil {
		return nil, err
	}
	if _, err := made.hub.Save(ctx, hub.New{Kind: docs.KindSequence, ID: "sequence-glow", Document: &light.Sequence{
		Title: "Glow", Passages: []light.Passage{}, Ending: light.EndLetGo, Effect: &light.Effect{Kind: light.Candle, Lamps: lamps},
	}}); err != nil {
		return nil, err
	}
	play := func(verb string) error {
		return made.hub.Act(ctx, engine.Input{Kind: engine.InputSequence, ID: "sequence-glow", Verb: verb, Doer: cause.By{Who: cause.Program}})
	}

	for _, lamp := range lamps { // so that there is something to go back to
		if err := made.hub.Act(ctx, engine.Input{
			Kind: engine.InputWrite, Device: lamp, Name: "brightness", Value: thing.Number(30), Doer: cause.By{Who: cause.Program},
		}); err != nil {
			return nil, err
		}
	}
	var firsts, stops []time.Duration
	for range effectTurns {
		began := time.Now()
		if err := play(""); err != nil {
			return nil, err
		}
		time.Sleep(time.Second)
		first, _, _ := many.since(began)
		firsts = append(firsts, first)
		ended := time.Now()
		if err := play(engine.VerbStop); err != nil {
			return nil, err
		}
		time.Sleep(time.Second / 2)
		_, a, _ := one.since(ended)
		_, b, _ := many.since(ended)
		stops = append(stops, max(a, b))
	}
	idle, err := spent(func() error { return nil }, func() error { return nil })
	if err != nil {
		return nil, err
	}
	many.frames = 0
	busy, err := spent(func() error { return play("") }, func() error { return play(engine.VerbStop) })
	if err != nil {
		return nil, err
	}
	perSecond := float64(many.frames) / effectSeconds
	bare, stop, err := bareRelay(ctx, made.broker.Address())
	if err != nil {
		return nil, err
	}
	defer stop()
	ratio, floor, err := made.beside(ctx, bare, func(ctx context.Context, through *post) {
		if through == bare || play("") != nil {
			return
		}
		<-ctx.Done()
		_ = made.hub.Act(context.WithoutCancel(ctx), engine.Input{Kind: engine.InputSequence, ID: "sequence-glow", Verb: engine.VerbStop})
	})
	if err != nil {
		return nil, err
	}
	slices.Sort(firsts)
	slices.Sort(stops)
	first, _ := quantiles(firsts)
	last := float64(stops[len(stops)-1].Microseconds()) / 1000
	frame := float64(effectPace.Milliseconds())
	return []figure{
		{Name: "effect_first_ms", Value: first, Unit: "ms"},
		{Name: "effect_stop_ms", Value: last, Unit: "ms", Floor: &frame},
		{Name: "effect_cpu_pct", Value: busy - idle, Unit: "% of a core"},
		{Name: "effect_frames_per_s", Value: perSecond, Unit: "frames/s"},
		{Name: "effect_others_p99_ratio", Value: ratio, Unit: "ratio", Floor: &floor},
		curveCommands(),
	}, nil
}

// spent is how much of a core this process spends for some seconds, in percent.
func spent(begin, end func() error) (float64, error) {
	used := func() time.Duration {
		var u syscall.Rusage
		if syscall.Getrusage(syscall.RUSAGE_SELF, &u) != nil {
			return 0
		}
		return time.Duration(u.Utime.Nano() + u.Stime.Nano())
	}
	if err := begin(); err != nil {
		return 0, err
	}
	before, began := used(), time.Now()
	time.Sleep(effectSeconds * time.Second)
	share := float64(used()-before) / float64(time.Since(began)) * 100
	return share, end()
}

// curveCommands counts what lamps are told that follow a day curve for a day, beside the least that must be told so that no step can
// be noticed and none is missed: the whole way of the curve in just noticeable steps.
func curveCommands() figure {
	zone, err := time.LoadLocation("Europe/London")
	if err != nil {
		zone = time.UTC
	}
	mill := almanac.Place{Latitude: 51.5, Longitude: -2.6}
	clock := func(at string, level, kelvin float64) light.DayPoint {
		return light.DayPoint{At: almanac.Daily{Anchor: almanac.ByClock, Clock: at}, Level: level, Kelvin: kelvin}
	}
	curve := &light.DayCurve{Title: "Day", Points: []light.DayPoint{
		clock("05:30", 15, 2200), clock("07:30", 60, 2800), clock("12:30", 100, 4200),
		{At: almanac.Daily{Anchor: almanac.BySunset}, Level: 80, Kelvin: 3400}, clock("21:30", 40, 2500), clock("23:45", 15, 2200),
	}}
	day := time.Date(2026, 10, 1, 0, 0, 0, 0, zone)
	e := engine.New(1, 1)
	define := func(in engine.Input) {
		in.Kind = engine.InputDefine
		e.Handle(day, in)
	}
	define(engine.Input{Definition: engine.KindHome, Home: &home.Home{Title: "Mill", Latitude: mill.Latitude, Longitude: mill.Longitude, Zone: "Europe/London"}})
	define(engine.Input{Definition: engine.KindCurve, ID: "curve", Curve: curve})
	white := thing.Description{Properties: []thing.Property{
		{Name: "brightness", Role: thing.RoleBrightness, Type: thing.TypeNumber, Maximum: 100, Resolution: 0.1, Writable: true},
		{Name: "white", Role: thing.RoleColorTemperature, Type: thing.TypeNumber, Minimum: 2000, Maximum: 6500, Resolution: 1, Writable: true},
	}}
	room := &light.RoomLight{Title: "All", Curve: "curve"}
	for i := range curveLamps {
		id := fmt.Sprintf("lamp%d", i)
		room.Lamps = append(room.Lamps, id)
		define(engine.Input{Definition: engine.KindDevice, ID: id, Thing: &home.Device{Title: id, Connection: "wire", Hardware: id, Description: white}})
		e.Handle(day, engine.Input{Kind: engine.InputReport, Device: id, Name: "brightness", Value: thing.Number(0)})
		e.Handle(day, engine.Input{Kind: engine.InputReport, Device: id, Name: "white", Value: thing.Number(4000)})
	}
	define(engine.Input{Definition: engine.KindRoomLight, ID: "light", RoomLight: room})
	sent := 0
	var take func(now time.Time, in engine.Input)
	take = func(now time.Time, in engine.Input) {
		for _, out := range slices.Clone(e.Handle(now, in)) {
			if out.Kind == engine.OutputCommand {
				sent++
				take(now, engine.Input{Kind: engine.InputReport, Device: out.Device, Name: out.Name, Value: out.Value})
			}
		}
	}
	take(day, engine.Input{Kind: engine.InputLight, ID: "light", Verb: string(light.On)})
	for now, more := e.NextDeadline(); more && now.Before(day.AddDate(0, 0, 1)); now, more = e.NextDeadline() {
		take(now, engine.Input{Kind: engine.InputTick})
	}
	least := 2.0 // as they come on
	course := curve.Course(day, mill)
	for _, track := range []light.Track{light.LevelTrack, light.WhiteTrack} {
		from, _ := course.At(track, day)
		way := 0.0
		for minute := 1; minute <= 24*60; minute++ {
			to, _ := course.At(track, day.Add(time.Duration(minute)*time.Minute))
			way += track.Noticeable(from, to)
			from = to
		}
		least += math.Floor(way)
	}
	return figure{Name: "curve_commands_ratio", Value: float64(sent) / (least * curveLamps), Unit: "ratio"}
}

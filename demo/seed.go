package demo

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"amvek/core/almanac"
	"amvek/core/board"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/hub/links"
	"amvek/standin/house"
	"amvek/standin/penrook"
)

// Empty makes an empty home at the mill's place.
func Empty(ctx context.Context, h *hub.Hub) error {
	mill := Mill
	_, err := h.Save(ctx, hub.New{Kind: docs.KindHome, ID: docs.HomeID, Document: &mill})
	return err
}

// seeder makes the demo home; its first error ends it.
type seeder struct {
	ctx   context.Context
	demo  *Demo
	hub   *hub.Hub
	rooms map[string]string
	ids   map[string]string // devices by name
}

// Seed makes the demo home through the hub's own doors, as an owner would, and lets the pretend
// house live the days up to the present.
func (d *Demo) Seed(ctx context.Context, h *hub.Hub) error {
	until := time.Now()
	if err := Empty(ctx, h); err != nil {
		return err
	}
	s := &seeder{ctx: ctx, demo: d, hub: h, rooms: map[string]string{}, ids: map[string]string{}}
	for _, step := range []func() error{s.makeRooms, s.pair, s.unlock, s.connectRadio, s.addDevices, s.makeHousehold, s.makeDefinitions} {
		if err := step(); err != nil {
			return fmt.Errorf("making the demo home: %w", err)
		}
	}
	d.world.House.Live(true)
	if err := d.Jump(ctx, until); err != nil {
		return fmt.Errorf("living the days before: %w", err)
	}
	if err := s.takeOffOwnLight(); err != nil {
		return fmt.Errorf("learning what the lamps give their sensors: %w", err)
	}
	return nil
}

// takeOffOwnLight lets the hub learn from the days before what the lamps of the Landing and of the Hall give their sensors, and the stair
// light go by what is left.
func (s *seeder) takeOffOwnLight() error {
	for _, title := range []string{"Landing sensor", "Hall sensor"} {
		err := s.hub.TakeOffOwnLight(s.ctx, thing.Ref{Device: s.ids[title], Name: "light"})
		var unsure *hub.ConflictError
		if errors.As(err, &unsure) {
			return nil // in the days before the lamps were switched too seldom
		}
		if err != nil {
			return err
		}
	}
	return s.save(docs.KindRule, "rule-stair", s.stairLight("light"+thing.WithoutSuffix))
}

// stairLight is the first rule of the home: it goes by a reading of how light the Landing is.
func (s *seeder) stairLight(reading string) *rule.Rule {
	sensor := s.ids["Landing sensor"]
	return &rule.Rule{
		Title: "Stair light", Enabled: true, Note: "Afterwards it is as it was before.",
		Whenever:               &rule.Condition{Device: sensor, Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)},
		Provided:               &rule.Condition{Device: sensor, Property: reading, Comparison: rule.Below, Value: thing.Number(20)},
		EndedForAtLeastSeconds: 30,
		Do:                     []rule.Step{{Kind: rule.StepHold, Device: s.ids["Stair lamp"], Property: "brightness", Value: thing.Number(60)}},
	}
}

func (s *seeder) save(kind docs.Kind, id string, doc any) error {
	_, err := s.hub.Save(s.ctx, hub.New{Kind: kind, ID: id, Document: doc})
	return err
}

func (s *seeder) makeRooms() error {
	for i, name := range house.Rooms {
		room := home.Room{Title: name, Floor: floors[name], Order: i}
		if room.Floor == "" {
			room.Floor = "Ground"
		}
		id := "room-" + strings.ReplaceAll(room.Title, " ", "-")
		s.rooms[room.Title] = id
		if err := s.save(docs.KindRoom, id, &room); err != nil {
			return err
		}
	}
	return nil
}

func (s *seeder) pair() error {
	address := s.demo.world.Lumbrook.Address()
	s.demo.world.Lumbrook.Press()
	if _, err := s.hub.Pair(s.ctx, address); err != nil {
		return err
	}
	return s.eventually(func() (bool, error) {
		p, err := s.hub.Pairing(s.ctx)
		if err != nil || p.State == hub.PairingFailed {
			return false, errors.Join(err, errors.New(p.Reason))
		}
		return p.State == hub.PairingDone, nil
	})
}

// unlock gives the described devices their code, once they are found.
func (s *seeder) unlock() error {
	const lock = "urn:penrook:lock-1"
	if err := s.eventually(func() (bool, error) {
		found, err := s.hub.Found(s.ctx)
		return slices.ContainsFunc(found.Devices, func(d hub.FoundDevice) bool { return d.Hardware == lock }), err
	}); err != nil {
		return err
	}
	return s.hub.UnlockThing(s.ctx, lock, "", penrook.Code)
}

// connectRadio connects to the transceiver, and lets everything on its radio be heard once.
func (s *seeder) connectRadio() error {
	air := s.demo.world.Haskett
	if _, err := s.hub.Connect(s.ctx, hub.NewConnection{Kind: "transceiver", Address: air.Address()}); err != nil {
		return err
	}
	if err := s.eventually(func() (bool, error) {
		all, err := s.hub.Connections(s.ctx)
		up := slices.ContainsFunc(all, func(c links.ConnectionView) bool { return c.Kind == "transceiver" && c.Up })
		return up, err
	}); err != nil {
		return err
	}
	for _, key := range []struct {
		remote string
		key    int
	}{{"20F4", 1}, {"20F4", 2}, {"31B7", 1}} {
		if err := air.Press(key.remote, key.key, false); err != nil {
			return err
		}
	}
	// The thermometers speak every ten minutes.
	return s.demo.Jump(s.ctx, s.demo.clock.Now().Add(11*time.Minute))
}

// eventually asks until the answer is yes; the pretend makers answer over real sockets, so it takes a moment.
func (s *seeder) eventually(yes func() (bool, error)) error {
	const patience, interval = 20 * time.Second, 20 * time.Millisecond
	ctx, cancel := context.WithTimeout(s.ctx, patience)
	defer cancel()
	ticker := time.NewTicker(interval)
	defer ticker.Stop()
	for {
		if done, err := yes(); err != nil || done {
			return err
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-ticker.C:
		}
	}
}

var floors = map[string]string{
	"Landing": "Upper", "East room": "Upper", "West room": "Upper", "Reading loft": "Upper",
	"Yard": "Outside", "Boat shed": "Outside", "Weir": "Outside",
}

func (s *seeder) addDevices() error {
	var found hub.Found
	if err := s.eventually(func() (bool, error) {
		var err error
		found, err = s.hub.Found(s.ctx)
		missing := slices.ContainsFunc(demoDevices, func(d demoDevice) bool {
			return !slices.ContainsFunc(found.Devices, func(f hub.FoundDevice) bool { return f.Hardware == d.hardware })
		})
		return !missing, err
	}); err != nil {
		return err
	}
	var adding []hub.Adding
	for _, wanted := range demoDevices {
		for _, f := range found.Devices {
			if f.Hardware == wanted.hardware {
				adding = append(adding, hub.Adding{Connection: f.Connection, Hardware: f.Hardware, Title: wanted.title, Room: s.rooms[wanted.room]})
			}
		}
	}
	ids, err := s.hub.Add(s.ctx, adding)
	if err != nil {
		return err
	}
	for i, id := range ids {
		s.ids[demoDevices[i].title] = id
	}
	if err := s.label(); err != nil {
		return err
	}
	return s.hub.Quiet(s.ctx)
}

// label labels devices, and marks the one that only a hand switches on.
func (s *seeder) label() error {
	labels := map[string][]string{}
	for label, titles := range demoLabels {
		for _, title := range titles {
			labels[title] = append(labels[title], label)
		}
	}
	var edits []hub.DeviceEdit
	attended, lamp := true, true
	edits = append(
		edits,
		hub.DeviceEdit{ID: s.ids["Kiln"], AttendedOnly: &attended},
		hub.DeviceEdit{ID: s.ids["Mill room shelf lamp"], Lamp: &lamp},
	)
	for title, all := range labels {
		slices.Sort(all)
		edits = append(edits, hub.DeviceEdit{ID: s.ids[title], Labels: &all})
	}
	return s.hub.EditDevices(s.ctx, edits)
}

func (s *seeder) target(device, property string, value thing.Value) light.Target {
	return light.Target{Device: s.ids[device], Property: property, Value: value}
}

const (
	supper  = "scene-supper"
	cooking = "scene-cooking"
	allOff  = "scene-all-off"
)

func (s *seeder) makeDefinitions() error {
	brightness, warm := "brightness", thing.Number(2400)
	scenes := map[string]*light.Scene{
		supper: {Title: "Supper", FadeSeconds: 3, Targets: []light.Target{
			s.target(
				"Worktop lamps",
				brightness,
				thing.Number(35),
			), s.target("Table lamp", brightness, thing.Number(60)), s.target("Table lamp", "colorTemperature", warm),
		}},
		cooking: {Title: "Cooking", FadeSeconds: 1, Targets: []light.Target{
			s.target("Worktop lamps", brightness, thing.Number(100)), s.target("Table lamp", brightness, thing.Number(20)),
		}},
		allOff: {Title: "All off", FadeSeconds: 2, Targets: []light.Target{
			s.target("Worktop lamps", brightness, thing.Number(0)), s.target("Table lamp", brightness, thing.Number(0)),
			s.target("Stair lamp", brightness, thing.Number(0)), s.target("Hall lantern", "power", thing.Boolean(false)),
		}},
	}
	for id, doc := range scenes {
		if err := s.save(docs.KindScene, id, doc); err != nil {
			return err
		}
	}
	if err := s.save(docs.KindSequence, "sequence-winding-down", &light.Sequence{
		Title: "Winding down", Note: "For the end of a long supper.", Ending: light.EndFadeOut,
		Passages: []light.Passage{
			{Scene: supper, FadeSeconds: 30, StaySeconds: 1200},
			{Scene: supper, FadeSeconds: 600, StaySeconds: 900, Level: 60},
			{Scene: supper, FadeSeconds: 900, StaySeconds: 300, Level: 20},
		},
	}); err != nil {
		return err
	}
	dark := &rule.Condition{Device: s.ids["Landing sensor"], Property: "light", Comparison: rule.Below, Value: thing.Number(20)}
	rules := map[string]*rule.Rule{
		"rule-stair": s.stairLight("light"),
		"rule-welcome": {
			Title: "Welcome at the door", Enabled: true, Policy: rule.Restart,
			When:     []rule.Trigger{{Device: s.ids["Hall door"], Property: "contact", Comparison: rule.Is, Value: thing.Boolean(true)}},
			Provided: dark,
			Do:       []rule.Step{{Kind: rule.StepHold, Device: s.ids["Hall lantern"], Property: "power", Value: thing.Boolean(true), ForSeconds: 300}},
		},
		"rule-dial": {
			Title: "Dial pressed: the extractor", Enabled: true, Policy: rule.Restart,
			Note: "For ten seconds after it was pressed the dial turns the extractor instead of the lamps.",
			When: []rule.Trigger{{Device: s.ids["Mill room dial"], Event: "press"}},
			Do: []rule.Step{
				{Kind: rule.StepSet, Device: rule.OwnDevice, Property: dialVariable, Value: thing.Boolean(true)},
				{Kind: rule.StepWait, ForSeconds: 10},
				{Kind: rule.StepSet, Device: rule.OwnDevice, Property: dialVariable, Value: thing.Boolean(false)},
			},
		},
	}
	maps.Copy(rules, s.longerRules())
	if err := errors.Join(s.lights(), s.dial(), s.plate(supper, cooking, allOff)); err != nil {
		return err
	}
	for id, doc := range rules {
		if err := s.save(docs.KindRule, id, doc); err != nil {
			return err
		}
	}
	weekdays := []time.Weekday{time.Monday, time.Tuesday, time.Wednesday, time.Thursday, time.Friday}
	schedules := map[string]*rule.Schedule{
		"schedule-morning": {
			Title:   "Breakfast light",
			Enabled: true,
			At:      almanac.Daily{Anchor: almanac.ByClock, Clock: "06:50", Weekdays: weekdays},
			Do:      []rule.Step{{Kind: rule.StepScene, Scene: cooking}},
		},
		"schedule-day": {
			Title:   "Daylight is enough",
			Enabled: true,
			At:      almanac.Daily{Anchor: almanac.BySunrise, OffsetMinutes: 45},
			Do:      []rule.Step{{Kind: rule.StepScene, Scene: allOff}},
		},
		"schedule-dusk": {
			Title:   "Supper light at dusk",
			Enabled: true,
			At:      almanac.Daily{Anchor: almanac.BySunset, OffsetMinutes: -15},
			Do:      []rule.Step{{Kind: rule.StepScene, Scene: supper}},
		},
		"schedule-night": {
			Title:   "Lights out",
			Enabled: true,
			At:      almanac.Daily{Anchor: almanac.ByClock, Clock: "23:30"},
			Do:      []rule.Step{{Kind: rule.StepScene, Scene: allOff}},
		},
	}
	for id, doc := range schedules {
		if err := s.save(docs.KindSchedule, id, doc); err != nil {
			return err
		}
	}
	if err := s.save(docs.KindDashboard, "dashboard-galley", s.dashboard()); err != nil {
		return err
	}
	if err := s.save(docs.KindDashboard, "dashboard-wall", s.wall()); err != nil {
		return err
	}
	return s.people()
}

// wall is a dashboard with more kinds of control, for a tablet on the wall.
func (s *seeder) wall() *board.Dashboard {
	var controls []board.Control
	add := func(kind board.Kind, column, row, width, height int, aim board.Aim, label string) *board.Control {
		controls = append(controls, board.Control{
			ID: fmt.Sprintf("w%d-%d", row, column), Kind: kind, Aim: aim, Label: label,
			Place: board.Place{Column: column, Row: row, Width: width, Height: height},
		})
		return &controls[len(controls)-1]
	}
	of := func(name, property string) board.Aim { return board.Aim{Device: s.ids[name], Property: property} }
	add(board.Lamp, 0, 0, 8, 4, of("Mill room ceiling", "brightness"), "")
	add(board.Shutter, 8, 0, 6, 8, of("Mill room shutter", "position"), "Shutter")
	add(board.Player, 14, 0, 10, 8, of("Mill room player", "track"), "Music")
	add(board.Warmth, 0, 4, 8, 4, of("Mill room thermostat", "target"), "Warmth")
	chart := add(board.Chart, 0, 8, 10, 7, board.Aim{}, "Warmth of the house")
	for _, name := range []string{"Galley thermometer", "Mill room climate", "Glasshouse climate"} {
		chart.Values = append(chart.Values, thing.Ref{Device: s.ids[name], Name: "temperature"})
	}
	add(board.Lock, 10, 8, 7, 4, of("Boat shed lock", "locked"), "")
	add(board.Opening, 17, 8, 7, 4, of("Weir gate", "contact"), "")
	robot := add(board.Action, 10, 12, 7, 4, board.Aim{Device: s.ids["Floor robot"], Action: "start"}, "")
	robot.Icon, robot.Color = "robot", "slate"
	add(board.Link, 17, 12, 7, 4, board.Aim{Dashboard: "dashboard-galley"}, "").Icon = "soup"
	return &board.Dashboard{Title: "Mill", Icon: "home", Grid: board.Columns, Margin: true, Order: 2, Controls: controls}
}

// people makes who shares the house with whoever is at the machine, who owns it.
func (s *seeder) people() error {
	if err := s.save(docs.KindPerson, "person-tove", &home.Person{Title: "Tove", Color: "slate", Role: home.Member}); err != nil {
		return err
	}
	return s.save(docs.KindPerson, "person-ada", &home.Person{Title: "Ada", Color: "plum", Role: home.Guest, Dashboards: []string{"dashboard-galley"}})
}

func (s *seeder) dashboard() *board.Dashboard {
	of := func(kind board.Kind, column, row, width, height int) board.Control {
		return board.Control{
			ID: fmt.Sprintf("c%d-%d", row, column), Kind: kind,
			Place: board.Place{Column: column, Row: row, Width: width, Height: height},
		}
	}
	device := func(c board.Control, name, property string) board.Control {
		c.Device, c.Property = s.ids[name], property
		return c
	}
	scene := func(c board.Control, id string) board.Control { c.Scene = id; return c }
	stair := of(board.Rule, 16, 4, 8, 4)
	stair.Rule = "rule-stair"
	return &board.Dashboard{Title: "Galley", Icon: "soup", Order: 1, Grid: board.Columns, Margin: true, Controls: []board.Control{
		device(of(board.Lamp, 0, 0, 8, 4), "Worktop lamps", "brightness"),
		device(of(board.Lamp, 8, 0, 8, 4), "Table lamp", "brightness"),
		device(of(board.Reading, 16, 0, 8, 4), "Galley thermometer", "temperature"),
		scene(of(board.Scene, 0, 4, 8, 4), supper),
		scene(of(board.Scene, 8, 4, 8, 4), cooking),
		stair,
		device(of(board.Lamp, 0, 8, 8, 4), "Stair lamp", "brightness"),
		device(of(board.Lamp, 8, 8, 8, 4), "Hall lantern", "power"),
		device(of(board.Opening, 16, 8, 8, 4), "Hall door", "contact"),
		scene(of(board.Scene, 0, 12, 24, 2), allOff),
	}}
}

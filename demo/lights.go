package demo

import (
	"errors"
	"slices"
	"strings"

	"amvek/core/almanac"
	"amvek/core/light"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/standin/house"
)

// lights gives every room that has lamps its light, and the Mill room its scenes: a key steps through the first three.
func (s *seeder) lights() error {
	const brightness, white, color = "brightness", "colorTemperature", "color"
	level := func(lamp string, percent float64) light.Target {
		return s.target(lamp, brightness, thing.Number(percent))
	}
	whites := func(kelvin float64, lamps ...string) (all []light.Target) {
		for _, lamp := range lamps {
			all = append(all, s.target(lamp, white, thing.Number(kelvin)))
		}
		return all
	}
	const ceiling, left, right, floor = "Mill room ceiling", "Mill room left lamp", "Mill room right lamp", "Mill room floor lamp"
	shelf := func(on bool) light.Target { return s.target("Mill room shelf lamp", "power", thing.Boolean(on)) }
	glow := func(lamp string, hue, saturation float64) light.Target {
		return s.target(lamp, color, light.FromHueSaturation(hue, saturation).Value())
	}
	scenes := []struct {
		id  string
		doc light.Scene
	}{
		{"scene-mill-evening", light.Scene{Title: "Evening", FadeSeconds: 4, Targets: slices.Concat(
			[]light.Target{level(ceiling, 30), level(left, 45), level(right, 45), level(floor, 20), shelf(true)}, whites(2480, ceiling, left, right),
		)}},
		{"scene-mill-reading", light.Scene{Title: "Reading", FadeSeconds: 2, Targets: slices.Concat(
			[]light.Target{level(ceiling, 0), level(left, 80), level(right, 25), level(floor, 90), shelf(true)}, whites(3200, left, right),
		)}},
		{"scene-mill-film", light.Scene{Title: "Film", FadeSeconds: 6, Targets: []light.Target{
			level(ceiling, 0), level(left, 8), level(right, 8), level(floor, 0), shelf(false), glow(left, 28, 82), glow(right, 28, 82),
		}}},
		{"scene-mill-midwinter", light.Scene{Title: "Midwinter", FadeSeconds: 4, Targets: []light.Target{
			level(ceiling, 0), level(left, 60), level(right, 60), level(floor, 30), shelf(false), glow(left, 6, 90), glow(right, 130, 70),
		}}},
		{"scene-mill-desk", light.Scene{Title: "Desk", FadeSeconds: 1, Laid: true, Targets: slices.Concat([]light.Target{level(right, 100)}, whites(4000, right))}},
	}
	if err := s.curves(); err != nil {
		return err
	}
	var order []light.RoomScene
	for i := range scenes {
		if err := s.save(docs.KindScene, scenes[i].id, &scenes[i].doc); err != nil {
			return err
		}
		order = append(order, light.RoomScene{Scene: scenes[i].id, Skip: scenes[i].doc.Title == "Midwinter"})
	}
	devices, err := s.hub.Devices(s.ctx)
	if err != nil {
		return err
	}
	lit := map[string]bool{}
	for i := range devices {
		if devices[i].Light != "" {
			lit[devices[i].Room] = true
		}
	}
	failed := []error{}
	for _, title := range house.Rooms {
		id := s.rooms[title]
		if !lit[id] {
			continue
		}
		doc := &light.RoomLight{Title: title, Rooms: []string{id}, Scenes: []light.RoomScene{}}
		switch title {
		case "Mill room":
			doc.Scenes, doc.Curve = order, livingCurve
		case "Galley":
			doc.Scenes, doc.Curve = []light.RoomScene{{Scene: cooking}, {Scene: supper}}, livingCurve
		case "Reading loft":
			doc.Curve = livingCurve
		case "East room", "West room":
			doc.Curve = bedroomCurve
		}
		failed = append(failed, s.save(docs.KindLight, lightOf(title), doc))
	}
	failed = append(failed, s.moving())
	return errors.Join(failed...)
}

// moving is light that moves: candles for the table, embers by the wheel, a storm over the weir, and what drifts at the festival of
// the harvest in the Yard and the Mill room.
func (s *seeder) moving() error {
	colors := []thing.Value{}
	for _, p := range light.Palettes() {
		if p.ID == "harvest" {
			for _, c := range p.Colors {
				colors = append(colors, c.Value())
			}
		}
	}
	depth := 60.0
	mill, yard, loft := lightOf("Mill room"), lightOf("Yard"), lightOf("Reading loft")
	var failed []error
	for id, doc := range map[string]*light.Sequence{
		harvest: {
			Title: "Harvest lanterns", Note: "At the festival of the harvest.", Ending: light.EndLetGo, Passages: []light.Passage{}, Effect: &light.Effect{
				Kind: light.Drift, Lights: []string{yard, mill}, Palette: colors, Travel: light.ByChance, RoundSeconds: 90, Depth: &depth,
			},
		},
		"sequence-candles": {
			Title: "Candlelight", Ending: light.EndLetGo, Passages: []light.Passage{}, Effect: &light.Effect{Kind: light.Candle, Lights: []string{mill}, Level: 40},
		},
		"sequence-storm": {
			Title: "Storm over the weir", Ending: light.EndLetGo, Passages: []light.Passage{}, Effect: &light.Effect{Kind: light.Storm, Lights: []string{loft}, AllStop: true},
		},
		"sequence-dawn": {
			Title: "Wake-up dawn", Ending: light.EndHold, Passages: []light.Passage{}, Effect: &light.Effect{
				Kind: light.Sunrise, Lights: []string{lightOf("East room")}, RoundSeconds: 1200,
			},
		},
	} {
		failed = append(failed, s.save(docs.KindSequence, id, doc))
	}
	return errors.Join(failed...)
}

// lightOf is the id of the light of a room.
func lightOf(room string) string {
	return "light-" + strings.ReplaceAll(strings.ToLower(room), " ", "-")
}

// The day curves of the demo home, by their ids.
const (
	livingCurve  = "curve-living"
	bedroomCurve = "curve-bedrooms"
)

// curves are two days of light: bright and cool at noon where people live, and low and warm from dusk on where they sleep.
func (s *seeder) curves() error {
	clock := func(at string, level, kelvin float64) light.DayPoint {
		return light.DayPoint{At: almanac.Daily{Anchor: almanac.ByClock, Clock: at}, Level: level, Kelvin: kelvin}
	}
	sun := func(anchor almanac.Anchor, minutes int, level, kelvin float64) light.DayPoint {
		return light.DayPoint{At: almanac.Daily{Anchor: anchor, OffsetMinutes: minutes}, Level: level, Kelvin: kelvin}
	}
	return errors.Join(
		s.save(docs.KindCurve, livingCurve, &light.DayCurve{
			Title: "Living rooms", Note: "Bright at noon, warm from sunset on.", Points: []light.DayPoint{
				clock("05:30", 15, 2200), clock("07:30", 60, 2800), clock("12:30", 100, 4200), sun(almanac.BySunset, 0, 80, 3400),
				clock("21:30", 40, 2500), clock("23:45", 15, 2200),
			},
		}),
		s.save(docs.KindCurve, bedroomCurve, &light.DayCurve{
			Title: "Bedrooms", Note: "Nobody is blinded at night.", Points: []light.DayPoint{
				clock("04:30", 3, 2000), clock("07:00", 50, 2700), sun(almanac.BySunset, -30, 70, 3000), clock("20:30", 35, 2400), clock("22:30", 5, 2000),
			},
		}),
	)
}

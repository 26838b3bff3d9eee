package demo

import (
	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// plate gives the Galley plate something to do: its first key a scene by the part of the day, off when it is pressed again, and
// held it dims the worktop to and fro; its second puts all out. The remote by the door puts all out as well, and the handheld one
// moves a shutter.
func (s *seeder) plate(supper, cooking, allOff string) error {
	galley, door := s.ids["Galley plate"], s.ids["Remote by the door"]
	clock := func(at string) almanac.Daily { return almanac.Daily{Anchor: almanac.ByClock, Clock: at} }
	night := almanac.Daily{Anchor: almanac.BySunset, OffsetMinutes: 300}
	on := func(device, event, gesture string) []rule.Trigger {
		return []rule.Trigger{{Device: device, Event: event, Comparison: rule.Is, Value: thing.Text(gesture)}}
	}
	between := func(from, to almanac.Daily) *rule.Condition {
		return &rule.Condition{Between: &rule.Window{From: from, To: to}}
	}
	scene := func(id string) []rule.Step { return []rule.Step{{Kind: rule.StepScene, Scene: id, OrOff: true}} }
	var levels []thing.Value
	const brightest, step = 100, 4
	for level := step; level <= brightest; level += step {
		levels = append(levels, thing.Number(float64(level)))
	}
	const held = "rule-plate-held"
	rules := map[string]*rule.Rule{
		"rule-plate-breakfast": {Title: "Plate: breakfast", When: on(galley, "button1", "press"), Gate: between(clock("06:20"), clock("09:30")), Do: scene(cooking)},
		"rule-plate-day":       {Title: "Plate: day", When: on(galley, "button1", "press"), Gate: between(clock("09:30"), clock("17:00")), Do: scene(cooking)},
		"rule-plate-supper":    {Title: "Plate: supper", When: on(galley, "button1", "press"), Gate: between(clock("17:00"), night), Do: scene(supper)},
		"rule-plate-night": {
			Title: "Plate: night", When: on(galley, "button1", "press"), Gate: between(night, clock("06:20")),
			Do: []rule.Step{{Kind: rule.StepScene, Scene: allOff}},
		},
		held: {Title: "Plate: dim the worktop", When: on(galley, "button1", "hold"), Do: []rule.Step{{
			Kind: rule.StepThrough, Device: s.ids["Worktop lamps"], Property: "brightness", Values: levels, ToAndFro: true, GapSeconds: 0.2,
		}}},
		"rule-plate-released": {Title: "Plate: stop dimming", When: on(galley, "button1", "release"), Do: []rule.Step{{Kind: rule.StepStop, Rule: held}}},
		"rule-plate-off":      {Title: "Plate: all off", When: on(galley, "button2", "press"), Do: []rule.Step{{Kind: rule.StepScene, Scene: allOff}}},
		"rule-remote-shutter": {Title: "Handheld remote: the shutter", When: on(s.ids["Handheld remote"], "button1", "press"), Do: s.upStopDown("East room shutter")},
		"rule-door-off":       {Title: "Remote by the door: all off", When: on(door, "key4", "OFF"), Do: []rule.Step{{Kind: rule.StepScene, Scene: allOff}}},
	}
	for id, doc := range rules {
		doc.Enabled = true
		doc.Labels = []string{"Galley plate"}
		switch id {
		case "rule-door-off":
			doc.Labels = []string{"Remote by the door"}
		case "rule-remote-shutter":
			doc.Labels = []string{"Handheld remote"}
		}
		if err := s.save(docs.KindRule, id, doc); err != nil {
			return err
		}
	}
	// The bridge leaves the plate to the hub: with both, one press would act twice.
	return s.hub.Act(s.ctx, engine.Input{
		Kind: engine.InputWrite, Device: galley, Name: "handler", Value: thing.Text("client"), Doer: cause.By{Who: cause.Person, Via: cause.ViaPage},
	})
}

// upStopDown moves a shutter by one key: it stops while it moves, else it goes where it is not.
func (s *seeder) upStopDown(shutter string) []rule.Step {
	id := s.ids[shutter]
	runs := func(output string) rule.Condition {
		return rule.Condition{Device: id, Property: output, Comparison: rule.Is, Value: thing.Boolean(true)}
	}
	const half, open = 50, 100
	to := func(position float64) []rule.Step {
		return []rule.Step{{Kind: rule.StepSet, Device: id, Property: "position", Value: thing.Number(position)}}
	}
	return []rule.Step{{
		Kind: rule.StepIf, Condition: &rule.Condition{Any: []rule.Condition{runs("output1"), runs("output2")}},
		Then: []rule.Step{{Kind: rule.StepAction, Device: id, Action: "stop"}},
		Else: []rule.Step{{
			Kind: rule.StepIf, Condition: &rule.Condition{Device: id, Property: "position", Comparison: rule.Above, Value: thing.Number(half)},
			Then: to(0), Else: to(open),
		}},
	}}
}

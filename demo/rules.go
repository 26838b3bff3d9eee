package demo

import (
	"amvek/core/almanac"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub/docs"
)

const (
	lanterns  = "group-lanterns"
	doors     = "group-doors"
	riverSeen = "variable-river-seen"
	festival  = "variable-festival"
	harvest   = "sequence-harvest"
)

// makeHousehold makes the groups and variables that rules of the mill share.
func (s *seeder) makeHousehold() error {
	groups := map[string]*home.Group{
		lanterns: {Title: "Lanterns outside", Devices: []string{s.ids["Yard lantern by the door"], s.ids["Yard lantern by the wheel"]}},
		doors: {
			Title:   "Doors and windows",
			Devices: []string{s.ids["Hall door"], s.ids["Glasshouse door"], s.ids["Boat shed door"], s.ids["Galley window"]},
		},
	}
	for id, doc := range groups {
		if err := s.save(docs.KindGroup, id, doc); err != nil {
			return err
		}
	}
	err := s.save(
		docs.KindCalendar,
		"calendar-household",
		&home.Calendar{Title: "Family diary", Address: s.demo.world.Diary.Address(), EveryMinutes: 15, OwnMachine: true, Note: "What all of us have planned."},
	)
	if err != nil {
		return err
	}
	if err := s.save(docs.KindVariable, festival, &home.Variable{
		Title: "Lanterns for the harvest", Type: thing.TypeBoolean, Note: "While it is on, the lanterns and the lamps of the Mill room drift.",
	}); err != nil {
		return err
	}
	return s.save(docs.KindVariable, riverSeen, &home.Variable{Title: "High river seen", Type: thing.TypeBoolean, Note: "Ends the pulsing of the lanterns."})
}

// longerRules are those that take their time.
func (s *seeder) longerRules() map[string]*rule.Rule {
	is := func(device, property string, v thing.Value) *rule.Condition {
		return &rule.Condition{Device: device, Property: property, Comparison: rule.Is, Value: v}
	}
	pulse := func(percent float64) rule.Step {
		return rule.Step{Kind: rule.StepSet, Group: lanterns, Property: "brightness", Value: thing.Number(percent), FadeSeconds: 1}
	}
	wait := rule.Step{Kind: rule.StepWait, ForSeconds: 2}
	tell := func(text string) rule.Step { return rule.Step{Kind: rule.StepNotify, Text: text} }
	gate := func(open bool) rule.Step {
		return rule.Step{Kind: rule.StepSet, Device: s.ids["Weir gate motor"], Property: "power", Value: thing.Boolean(open)}
	}
	seen := func(yes bool) rule.Step {
		return rule.Step{Kind: rule.StepSet, Device: rule.OwnDevice, Property: riverSeen, Value: thing.Boolean(yes)}
	}
	return map[string]*rule.Rule{
		"rule-glasshouse": {
			Title: "Glasshouse door open", Enabled: true, Note: "The heater gets back whatever it was doing.",
			Whenever: is(s.ids["Glasshouse door"], "contact", thing.Boolean(true)), ForAtLeastSeconds: 180, EndedForAtLeastSeconds: 120,
			Do: []rule.Step{{Kind: rule.StepHold, Device: s.ids["Glasshouse heater"], Property: "program", Value: thing.Text("off")}},
		},
		"rule-kiln": {
			Title: "Kiln on for long", Enabled: true, Policy: rule.Ignore,
			When: []rule.Trigger{{Device: s.ids["Kiln"], Property: "power", Comparison: rule.Is, Value: thing.Boolean(true), ForSeconds: 9 * 3600}},
			Do: []rule.Step{{Kind: rule.StepQuestion, Text: "The kiln has been on for nine hours. Switch it off?", AtMostSeconds: 3600, Branches: []rule.Branch{
				{Answer: "Switch it off", Do: []rule.Step{{Kind: rule.StepSet, Device: s.ids["Kiln"], Property: "power", Value: thing.Boolean(false)}}},
				{Answer: "It may go on"},
			}, Else: []rule.Step{tell("Nobody answered: the kiln is still on.")}}},
		},
		"rule-harvest": {
			Title: "Lanterns drift at the harvest", Enabled: true, Note: "Afterwards all is as it was.",
			Whenever:   is(rule.OwnDevice, festival, thing.Boolean(true)),
			Do:         []rule.Step{{Kind: rule.StepSequence, Sequence: harvest}},
			Afterwards: []rule.Step{{Kind: rule.StepStop, Sequence: harvest}},
		},
		"rule-river": {
			Title: "River high", Enabled: true, Note: "Until somebody has seen it.",
			When: []rule.Trigger{{Device: s.ids["Water level"], Property: "level", Comparison: rule.Above, Value: thing.Number(160), ForSeconds: 600}},
			Do: []rule.Step{
				tell("The river is high."), seen(false), gate(true),
				{Kind: rule.StepRemember, Group: lanterns},
				{
					Kind:      rule.StepRepeat,
					Until:     true,
					Condition: is(rule.OwnDevice, riverSeen, thing.Boolean(true)),
					Do:        []rule.Step{pulse(100), wait, pulse(10), wait},
				},
				{Kind: rule.StepPutBack, Group: lanterns, FadeSeconds: 2}, gate(false),
			},
		},
		"rule-lock-up": {
			Title: "Lock up for the night", Enabled: true,
			When:     []rule.Trigger{{Kind: rule.OnPhrase, Words: "Lock up"}, {Kind: rule.OnTime, At: &almanac.Daily{Anchor: almanac.ByClock, Clock: "23:45"}}},
			Provided: &rule.Condition{Device: rule.OwnDevice, Property: home.ModeProperty, Comparison: rule.IsNot, Value: thing.Text("mode-asleep")},
			Gate:     &rule.Condition{Device: rule.OwnDevice, Property: home.ModeProperty, Comparison: rule.IsNot, Value: thing.Text("mode-away")},
			Do: []rule.Step{
				{Kind: rule.StepSet, Device: s.ids["Hall lock"], Property: "locked", Value: thing.Boolean(true), UntilDone: true,
					Else: []rule.Step{tell("The Hall door is not locked: its bolt did not move. The lamps are going out all the same.")}},
				{Kind: rule.StepScene, Scene: allOff},
				{
					Kind:      rule.StepIf,
					Condition: &rule.Condition{Group: doors, Which: rule.AnyOf, Property: "contact", Comparison: rule.Is, Value: thing.Boolean(true)},
					Then:      []rule.Step{tell("Locked up, but something stands open.")},
				},
				{Kind: rule.StepSet, Device: rule.OwnDevice, Property: home.ModeProperty, Value: thing.Text("mode-asleep")},
			},
		},
		"rule-morning": {
			Title: "Somebody is up", Enabled: true,
			When: []rule.Trigger{{Device: s.ids["Hall sensor"], Property: "motion", Comparison: rule.Is, Value: thing.Boolean(true)}},
			Provided: &rule.Condition{
				All: []rule.Condition{
					*is(rule.OwnDevice, home.ModeProperty, thing.Text("mode-asleep")),
					{
						Between: &rule.Window{
							From: almanac.Daily{Anchor: almanac.ByClock, Clock: "05:30"},
							To:   almanac.Daily{Anchor: almanac.ByClock, Clock: "10:00"},
						},
					},
				},
			},
			Do: []rule.Step{{Kind: rule.StepSet, Device: rule.OwnDevice, Property: home.ModeProperty, Value: thing.Text("mode-in")}},
		},
	}
}

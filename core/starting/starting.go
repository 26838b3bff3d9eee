// Package starting holds starting points: rules for the common wishes of a household, which ask only for the devices.
// What they make are ordinary rules. It decides nothing.
package starting

import (
	"time"

	"amvek/core/almanac"
	"amvek/core/document"
	"amvek/core/rule"
	"amvek/core/thing"
)

// Slot is something that a starting point asks for: a property with one of some roles.
type Slot struct {
	ID    string       `json:"id"`
	Title string       `json:"title"`
	Roles []thing.Role `json:"roles"`
	// Optional says that it may be left out.
	Optional bool `json:"optional,omitempty"`
}

// Start is a starting point.
type Start struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	Help  string `json:"help"`
	Slots []Slot `json:"slots"`
	make  func(c Choice) *rule.Rule
}

// Choice is what was chosen for the slots; the property tells what a lamp or a lock can be set to.
type Choice map[string]Chosen

// Chosen is a property that was chosen.
type Chosen struct {
	Ref      thing.Ref
	Property *thing.Property
}

func (c Choice) has(slot string) bool { return c[slot].Property != nil }

// is is a condition that what was chosen is at a value.
func (c Choice) is(slot string, v thing.Value) rule.Condition {
	return rule.Condition{Device: c[slot].Ref.Device, Property: c[slot].Ref.Name, Comparison: rule.Is, Value: v}
}

func (c Choice) when(slot string, v thing.Value) rule.Trigger {
	return rule.Trigger{Device: c[slot].Ref.Device, Property: c[slot].Ref.Name, Comparison: rule.Is, Value: v}
}

// on is a step that drives what was chosen: a lamp at so many percent, or simply on.
func (c Choice) on(kind rule.StepKind, slot string, percent float64) rule.Step {
	return c.step(kind, slot, rule.Fit(c[slot].Property, scaled(c[slot].Property, percent)))
}

func scaled(p *thing.Property, percent float64) thing.Value {
	if p.Type == thing.TypeNumber {
		return thing.Number(p.Minimum + (p.Maximum-p.Minimum)*percent/100)
	}
	if p.Role == thing.RoleHeating {
		return thing.Text(map[bool]string{true: "heat", false: "off"}[percent > 0])
	}
	return thing.Boolean(percent > 0)
}

func (c Choice) step(kind rule.StepKind, slot string, v thing.Value) rule.Step {
	return rule.Step{Kind: kind, Device: c[slot].Ref.Device, Property: c[slot].Ref.Name, Value: v}
}

// optional are the steps of those slots that were chosen.
func (c Choice) optional(steps map[string]rule.Step, order ...string) []rule.Step {
	var all []rule.Step
	for _, slot := range order {
		if c.has(slot) {
			all = append(all, steps[slot])
		}
	}
	return all
}

var (
	lampRoles = []thing.Role{thing.RoleBrightness, thing.RolePower}
	yes, no   = thing.Boolean(true), thing.Boolean(false)
)

func tell(text string) rule.Step { return rule.Step{Kind: rule.StepNotify, Text: text} }

func mode(id string) rule.Step {
	return rule.Step{Kind: rule.StepSet, Device: rule.OwnDevice, Property: "mode", Value: thing.Text(id)}
}

// Starts returns all starting points.
func Starts() []Start {
	slot := func(id, title string, roles ...thing.Role) Slot { return Slot{ID: id, Title: title, Roles: roles} }
	maybe := func(id, title string, roles ...thing.Role) Slot {
		return Slot{ID: id, Title: title, Roles: roles, Optional: true}
	}
	return []Start{
		{ID: "motion-light", Title: "A light where somebody moves", Help: "On while somebody moves and it is dark; afterwards as it was before.",
			Slots: []Slot{
				slot("motion", "What sees somebody", thing.RoleMotion),
				slot("lamp", "The light", lampRoles...),
				maybe("light", "What measures the light", thing.RoleIlluminance),
			},
			make: func(c Choice) *rule.Rule {
				motion := c.is("motion", yes)
				r := &rule.Rule{Whenever: &motion, EndedForAtLeastSeconds: 60, Do: []rule.Step{c.on(rule.StepHold, "lamp", 60)}}
				if c.has("light") {
					r.Provided = &rule.Condition{Device: c["light"].Ref.Device, Property: c["light"].Ref.Name, Comparison: rule.Below, Value: thing.Number(20)}
				}
				return r
			}},
		{
			ID:    "window-heating",
			Title: "Heating off while a window is open",
			Help:  "Once it has stood open for 3 min the heating is held off; once shut for 2 min it gets back whatever it was doing.",
			Slots: []Slot{
				slot("window", "The window or door", thing.RoleContact),
				slot("heating", "The heating", thing.RoleHeating, thing.RolePower, thing.RoleSetpoint),
			},
			make: func(c Choice) *rule.Rule {
				open := c.is("window", yes)
				return &rule.Rule{Whenever: &open, ForAtLeastSeconds: 180, EndedForAtLeastSeconds: 120, Do: []rule.Step{c.on(rule.StepHold, "heating", 0)}}
			},
		},
		{ID: "leak", Title: "Water where none should be", Help: "Tells the household at once, and shuts or opens what you choose.",
			Slots: []Slot{
				slot("leak", "What feels water", thing.RoleLeak),
				maybe("valve", "A valve or pump to switch off", thing.RolePower),
				maybe("speaker", "What says it aloud", thing.RoleSpeech),
			},
			make: func(c Choice) *rule.Rule {
				return &rule.Rule{
					When:   []rule.Trigger{c.when("leak", yes)},
					Policy: rule.Ignore,
					Do: append([]rule.Step{tell("Water was felt where none should be.")},
						c.optional(map[string]rule.Step{
							"valve": c.stepIf("valve", rule.StepSet, no),
							"speaker": {
								Kind:     rule.StepSay,
								Device:   c["speaker"].Ref.Device,
								Property: c["speaker"].Ref.Name,
								Text:     "Water was felt where none should be.",
							},
						}, "valve", "speaker")...),
				}
			}},
		{ID: "slowly-dark", Title: "Slowly dark", Help: "Run by a key or by hand: the light goes down over 40 min, even to the eye; a hand ends it.",
			Slots: []Slot{slot("lamp", "The light", thing.RoleBrightness), maybe("white", "Its white", thing.RoleColorTemperature)},
			make: func(c Choice) *rule.Rule {
				return &rule.Rule{Do: c.fading(2400, 0, 2200)}
			}},
		{ID: "wake-up-light", Title: "Wake-up light", Help: "Before you get up the light comes up over half an hour, from warm to cool; a hand ends it.",
			Slots: []Slot{slot("lamp", "The light", thing.RoleBrightness), maybe("white", "Its white", thing.RoleColorTemperature)},
			make: func(c Choice) *rule.Rule {
				weekdays := []time.Weekday{time.Monday, time.Tuesday, time.Wednesday, time.Thursday, time.Friday}
				begin := []rule.Step{c.on(rule.StepSet, "lamp", 1)}
				if c.has("white") {
					begin = append(begin, c.step(rule.StepSet, "white", within(c["white"].Property, 2200)))
				}
				return &rule.Rule{
					When: []rule.Trigger{{Kind: rule.OnTime, At: &almanac.Daily{Anchor: almanac.ByClock, Clock: "06:30", Weekdays: weekdays}}},
					Do:   append(begin, c.fading(1800, 80, 4000)...),
				}
			}},
		{ID: "coming-home", Title: "Coming home", Help: "When a door opens while everybody is out: the mode, a light, the warmth.",
			Slots: []Slot{
				slot("door", "The door", thing.RoleContact),
				maybe("lamp", "A light", lampRoles...),
				maybe("heating", "The warmth", thing.RoleSetpoint),
			},
			make: func(c Choice) *rule.Rule {
				out := rule.Condition{Any: []rule.Condition{
					{Device: rule.OwnDevice, Property: "mode", Comparison: rule.Is, Value: thing.Text("mode-out")},
					{Device: rule.OwnDevice, Property: "mode", Comparison: rule.Is, Value: thing.Text("mode-away")},
				}}
				return &rule.Rule{When: []rule.Trigger{c.when("door", yes)}, Provided: &out, Do: append(
					[]rule.Step{mode("mode-in")},
					c.optional(
						map[string]rule.Step{"lamp": c.onIf("lamp", 60), "heating": c.stepIf("heating", rule.StepSet, thing.Number(20))},
						"lamp",
						"heating",
					)...)}
			}},
		{ID: "leaving", Title: "Leaving", Help: "On a phrase: the mode, the door is locked and that is verified, the lights are out, the warmth is down.",
			Slots: []Slot{
				maybe("lock", "The lock", thing.RoleLock),
				maybe("lamp", "A light", lampRoles...),
				maybe("heating", "The warmth", thing.RoleSetpoint),
			},
			make: func(c Choice) *rule.Rule {
				return &rule.Rule{When: []rule.Trigger{{Kind: rule.OnPhrase, Words: "We are leaving"}}, Do: append([]rule.Step{mode("mode-out")}, c.night()...)}
			}},
		{ID: "bedtime", Title: "Bedtime", Help: "At a time or on a phrase: the door is locked and that is verified, the lights are out, the warmth is down.",
			Slots: []Slot{
				maybe("lock", "The lock", thing.RoleLock),
				maybe("lamp", "A light", lampRoles...),
				maybe("heating", "The warmth", thing.RoleSetpoint),
			},
			make: func(c Choice) *rule.Rule {
				awake := rule.Condition{Device: rule.OwnDevice, Property: "mode", Comparison: rule.IsNot, Value: thing.Text("mode-asleep")}
				return &rule.Rule{
					When: []rule.Trigger{
						{Kind: rule.OnPhrase, Words: "Good night"},
						{Kind: rule.OnTime, At: &almanac.Daily{Anchor: almanac.ByClock, Clock: "23:30"}},
					},
					Provided: &awake,
					Do:       append(c.night(), mode("mode-asleep")),
				}
			}},
	}
}

// stepIf is a step of a slot that may have been left out.
func (c Choice) stepIf(slot string, kind rule.StepKind, v thing.Value) rule.Step {
	if !c.has(slot) {
		return rule.Step{}
	}
	return c.step(kind, slot, v)
}

func (c Choice) onIf(slot string, percent float64) rule.Step {
	if !c.has(slot) {
		return rule.Step{}
	}
	return c.on(rule.StepSet, slot, percent)
}

// fading brings a lamp, and its white where that was chosen, evenly to a level in percent and a white in kelvin.
func (c Choice) fading(seconds, percent, kelvin float64) []rule.Step {
	lamp := c.on(rule.StepRamp, "lamp", percent)
	lamp.ForSeconds, lamp.Even = seconds, true
	if !c.has("white") {
		return []rule.Step{lamp}
	}
	white := c.step(rule.StepRamp, "white", within(c["white"].Property, kelvin))
	white.ForSeconds, white.Even = seconds, true
	return []rule.Step{{Kind: rule.StepTogether, Branches: []rule.Branch{{Do: []rule.Step{lamp}}, {Do: []rule.Step{white}}}}}
}

// within is a number within what a property can be at.
func within(p *thing.Property, v float64) thing.Value {
	if p.Limited() {
		v = min(max(v, p.Minimum), p.Maximum)
	}
	return thing.Number(v)
}

// night locks and verifies, and puts out what was chosen.
func (c Choice) night() []rule.Step {
	var steps []rule.Step
	if c.has("lock") {
		locked := c.is("lock", yes)
		steps = append(steps, c.step(rule.StepSet, "lock", yes),
			rule.Step{Kind: rule.StepUntil, Condition: &locked, AtMostSeconds: 30, Else: []rule.Step{tell("The door could not be locked.")}})
	}
	return append(
		steps,
		c.optional(map[string]rule.Step{"lamp": c.onIf("lamp", 0), "heating": c.stepIf("heating", rule.StepSet, thing.Number(17))}, "lamp", "heating")...)
}

// Make makes the rule of a starting point, switched off, so that it is looked at first. It fails with words for whoever
// chose when something is missing or does not fit.
func Make(id string, chosen map[string]thing.Ref, property func(device, name string) *thing.Property) (*rule.Rule, error) {
	for _, p := range Starts() {
		if p.ID != id {
			continue
		}
		c := Choice{}
		for _, s := range p.Slots {
			ref, there := chosen[s.ID]
			if !there && s.Optional {
				continue
			}
			of := property(ref.Device, ref.Name)
			if !there || of == nil || !fits(s, of) {
				return nil, document.Wrong(s.ID, "choose a device for this")
			}
			c[s.ID] = Chosen{ref, of}
		}
		r := p.make(c)
		r.Title, r.Note = p.Title, p.Help
		return r, nil
	}
	return nil, document.Wrong("id", "there is no such starting point")
}

func fits(s Slot, p *thing.Property) bool {
	for _, role := range s.Roles {
		if p.Role == role {
			return true
		}
	}
	return false
}

package engine

import (
	"slices"

	"amvek/core/rule"
	"amvek/core/script"
	"amvek/core/thing"
)

// Property returns the property of a device, or nil; it makes Engine a [rule.Lookup].
func (e *Engine) Property(device, name string) *thing.Property {
	if s := e.find(device, name); s != nil {
		return s.property
	}
	return nil
}

// Event returns the event of a device, or nil.
func (e *Engine) Event(device, name string) *thing.Event {
	if d := e.devices[device]; d != nil {
		return d.Description.Event(name)
	}
	return nil
}

// HasDevice reports whether there is such a device.
func (e *Engine) HasDevice(id string) bool { return e.devices[id] != nil }

// HasScene reports whether there is such a scene.
func (e *Engine) HasScene(id string) bool { return e.scenes[id] != nil }

// HasDashboard reports whether there are panels of such a dashboard.
func (e *Engine) HasDashboard(id string) bool { return e.panels[id] }

// HasCalendar reports whether there is such a calendar.
func (e *Engine) HasCalendar(id string) bool {
	_, there := e.calendars[id]
	return there
}

// Action returns an action of a device, or nil.
func (e *Engine) Action(device, name string) *thing.Action {
	if d := e.devices[device]; d != nil {
		return d.Description.Action(name)
	}
	return nil
}

// Plays reports whether a device can be asked to play something, or, without one, any of a group.
func (e *Engine) Plays(device, group string) bool {
	if device == "" {
		return slices.ContainsFunc(e.Devices(group), func(id string) bool { return e.Plays(id, "") })
	}
	d := e.devices[device]
	return d != nil && d.Description.Plays() != nil
}

// Members returns the properties of a set's devices that have a role, in the order of the set. On and off go together with
// brightness: where a member has the one only, it stands for the other. In a room, on a floor or by a label, where there are
// also devices that nobody put together, what only switches does so for brightness only where nothing dims.
func (e *Engine) Members(group, role string) []thing.Ref {
	var refs, exact []thing.Ref
	for _, id := range e.Devices(group) {
		if s := e.byRole(id, thing.Role(role)); s != nil {
			refs = append(refs, s.ref)
			if s.property.Role == thing.Role(role) {
				exact = append(exact, s.ref)
			}
		}
	}
	if e.groups[group] == nil && thing.Role(role) == thing.RoleBrightness && len(exact) > 0 {
		return exact
	}
	return refs
}

// byRole returns the property of a device that has a role, or a relative of it; nil where there is none.
func (e *Engine) byRole(device string, role thing.Role) *slot {
	slots := e.byDevice[device]
	for _, wanted := range []thing.Role{role, rule.Relative(role)} {
		for i := range slots {
			if s := &slots[i]; wanted != "" && s.property.Role == wanted && s.property.Setting == nil && e.counts(s) {
				return s
			}
		}
	}
	return nil
}

// AttendedOnly reports whether only a hand may switch a device on.
func (e *Engine) AttendedOnly(device string) bool {
	d := e.devices[device]
	return d != nil && d.AttendedOnly
}

// Sets reports whether any rule or schedule sets a property of the home itself.
func (e *Engine) Sets(variable string) bool {
	found := false
	look := func(_ string, s *rule.Step) {
		setting := s.Kind == rule.StepSet || s.Kind == rule.StepHold || s.Kind == rule.StepRamp || s.Kind == rule.StepThrough
		found = found || setting && s.Device == rule.OwnDevice && s.Property == variable || s.Into == variable ||
			slices.Contains(script.Mention(s.Script).Properties, thing.Ref{Device: rule.OwnDevice, Name: variable})
	}
	for _, r := range e.ruleOrder {
		rule.Walk("do", r.doc.Do, look)
		rule.Walk("afterwards", r.doc.Afterwards, look)
	}
	for _, s := range e.schedules {
		rule.Walk("do", s.doc.Do, look)
	}
	return found
}

// HasRule reports whether there is such a rule.
func (e *Engine) HasRule(id string) bool { return e.rules[id] != nil }

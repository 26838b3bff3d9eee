// Package light computes with light: scenes that are captured and applied with a
// fade, and colors between their device-independent and their drawn forms. It does
// no I/O and decides nothing about who may set what.
package light

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"amvek/core/document"
	"amvek/core/hold"
	"amvek/core/thing"
)

// Target is the value a scene gives to one property.
type Target struct {
	Device   string      `json:"device" doc:"Id of the device."`
	Property string      `json:"property"`
	Value    thing.Value `json:"value"`
	// Expression gives the value as the scene is applied; where it is not known, Value counts.
	Expression string `json:"expression,omitempty" maxLength:"2000" doc:"A formula that gives the value as the scene is applied; where it is not known, the value counts."`
	// Follows keeps the value at what the formula comes to, as long as it is in effect.
	Follows bool `json:"follows,omitempty" doc:"The value follows the formula as long as it is in effect, instead of being worked out once."`
	// FadeSeconds is how long this value takes, instead of the scene's fade.
	FadeSeconds *float64 `json:"fadeSeconds,omitempty" minimum:"0" maximum:"3600" doc:"How long this value takes, instead of the scene's fade."`
	// Curve is the day curve that the value follows as long as it is in effect.
	Curve string `json:"curve,omitempty" doc:"Id of the day curve that the value follows as long as it is in effect."`
}

// Fade is how long the value takes: its own fade, or that of its scene.
func (t *Target) Fade(scene time.Duration) time.Duration {
	if t.FadeSeconds == nil {
		return scene
	}
	return seconds(*t.FadeSeconds)
}

// CloneTargets returns a copy that shares nothing with what it is of.
func CloneTargets(of []Target) []Target {
	all := slices.Clone(of)
	for i := range all {
		if own := all[i].FadeSeconds; own != nil {
			seconds := *own
			all[i].FadeSeconds = &seconds
		}
	}
	return all
}

// Source is what the value follows; none where it is literal, or worked out once.
func (t *Target) Source() hold.Source {
	switch {
	case t.Curve != "":
		return hold.OfCurve(t.Curve)
	case t.Follows && t.Expression != "":
		return hold.OfExpression(t.Expression)
	}
	return ""
}

// Scene is a named set of target values, reached with a fade.
type Scene struct {
	Title string `json:"title" minLength:"1" maxLength:"120"`
	Note  string `json:"note,omitempty" maxLength:"2000"`
	// FadeSeconds is how long the change takes on lamps that can fade.
	FadeSeconds float64 `json:"fadeSeconds" minimum:"0" maximum:"3600" doc:"Seconds from the present values to the scene's."`
	// FadeExpression gives the fade in seconds; where it is not known, FadeSeconds counts.
	FadeExpression string   `json:"fadeExpression,omitempty" maxLength:"2000" doc:"A formula that gives the fade in seconds; where it is not known, fadeSeconds counts."`
	Targets        []Target `json:"targets"`
	// Laid says that it is laid on top of what is on, and lifted off again, instead of replacing it.
	Laid bool `json:"laid,omitempty" doc:"It is laid on top of what is on, and lifted off again, instead of replacing it."`
	// Modes are those of the house in which rules and schedules apply it; in others only a hand does.
	Modes []string `json:"modes,omitempty" maxItems:"40" doc:"Ids of the modes in which automation applies it; absent for all."`
	// Icon is the name of an icon of the shipped set, and Color one of the house's palette: how its keys look.
	Icon  string `json:"icon,omitempty" maxLength:"60" doc:"The name of an icon of the shipped set."`
	Color string `json:"color,omitempty" enum:",verdigris,ember,ochre,slate,plum" doc:"That of its icon."`
	// Hidden leaves it out of what the household is offered; keys, rules and dashboards that have it work.
	Hidden bool `json:"hidden,omitempty" doc:"It is left out of what the household is offered. Keys, rules and dashboards that have it work."`
}

// MaximumFade is the longest fade of a scene.
const MaximumFade = time.Hour

// Fade returns the fade as a duration.
func (s *Scene) Fade() time.Duration {
	return time.Duration(s.FadeSeconds * float64(time.Second))
}

// Check returns an error naming the target that is wrong. The lookup returns the
// property of a device, or nil when there is none.
func (s *Scene) Check(lookup func(device, property string) *thing.Property, hasCurve func(id string) bool) error {
	if strings.TrimSpace(s.Title) == "" {
		return document.Wrong("title", "a scene needs a name")
	}
	if s.FadeSeconds < 0 || s.Fade() > MaximumFade {
		return document.Wrong("fadeSeconds", "from 0 to 3600")
	}
	if err := errors.Join(document.CheckIcon("icon", s.Icon), document.CheckTint("color", s.Color)); err != nil {
		return err
	}
	seen := map[thing.Ref]bool{}
	for i, t := range s.Targets {
		if f := t.FadeSeconds; f != nil && !(*f >= 0 && seconds(*f) <= MaximumFade) {
			return document.Wrong(fmt.Sprintf("targets[%d].fadeSeconds", i), "from 0 to 3600")
		}
		ref := thing.Ref{Device: t.Device, Name: t.Property}
		if seen[ref] {
			return document.Wrong(fmt.Sprintf("targets[%d]", i), "this property is already in the scene")
		}
		seen[ref] = true
		p := lookup(t.Device, t.Property)
		if p == nil {
			return document.Wrong(fmt.Sprintf("targets[%d]", i), "there is no such device or property")
		}
		if p.Setting != nil {
			return document.Wrong(fmt.Sprintf("targets[%d]", i), "%s sets the device up, which a scene does not do", p.Title)
		}
		if !p.Writable {
			return document.Wrong(fmt.Sprintf("targets[%d]", i), "%s can be read but not set", p.Title)
		}
		switch {
		case t.Curve == "":
		case !hasCurve(t.Curve):
			return document.Wrong(fmt.Sprintf("targets[%d]", i), "there is no such day curve")
		case t.Expression != "":
			return document.Wrong(fmt.Sprintf("targets[%d]", i), "a value follows a day curve or a formula, not both")
		case !Follows(p):
			return document.Wrong(fmt.Sprintf("targets[%d]", i), "%s does not follow a day curve: only how bright a lamp is, and its white", p.Title)
		}
		if err := p.Check(t.Value); err != nil {
			return document.Wrong(fmt.Sprintf("targets[%d]", i), "%v", err)
		}
	}
	return nil
}

// WorkedOut returns the scene with the values and the fade that its formulas come to; work works one out, and returns no
// value where it is not known.
func (s *Scene) WorkedOut(work func(expression string) thing.Value) *Scene {
	now := *s
	if s.FadeExpression != "" {
		if v := work(s.FadeExpression); v.Kind == thing.KindNumber {
			now.FadeSeconds = min(max(v.Number, 0), MaximumFade.Seconds())
		}
	}
	now.Targets = slices.Clone(s.Targets)
	for i := range now.Targets {
		if t := &now.Targets[i]; t.Expression != "" {
			if v := work(t.Expression); !v.IsNone() {
				t.Value = v
			}
			if !t.Follows {
				t.Expression = ""
			}
		}
	}
	return &now
}

// Formulas calls f for each formula of the scene, with its place.
func (s *Scene) Formulas(f func(place, expression string, target *Target)) {
	if s.FadeExpression != "" {
		f("fadeExpression", s.FadeExpression, nil)
	}
	for i := range s.Targets {
		if t := &s.Targets[i]; t.Expression != "" {
			f(fmt.Sprintf("targets[%d].expression", i), t.Expression, t)
		}
	}
}

// Captured is a property to capture and its present value.
type Captured struct {
	Device   string
	Property *thing.Property
	Value    thing.Value
	// Curve is the day curve that it follows; "" where it is literal.
	Curve string
}

// Capture makes targets from the present state. Of a lamp that is off only that it is off
// is kept; of one that is on also its color or color temperature, whichever it shows.
func Capture(present []Captured) []Target {
	off := map[string]bool{}
	for _, c := range present {
		if c.Property.Role == thing.RoleBrightness && c.Value == thing.Number(0) {
			off[c.Device] = true
		}
	}
	targets := make([]Target, 0, len(present))
	for _, c := range present {
		if !c.Property.Writable || c.Value.IsNone() {
			continue
		}
		tone := c.Property.Role == thing.RoleColor || c.Property.Role == thing.RoleColorTemperature
		if tone && off[c.Device] {
			continue
		}
		targets = append(targets, Target{Device: c.Device, Property: c.Property.Name, Value: c.Value, Curve: c.Curve})
	}
	return targets
}

// Devices returns the ids of the devices that the scene sets, each once, in the order of its targets.
func (s *Scene) Devices() []string {
	var ids []string
	for _, t := range s.Targets {
		if !slices.Contains(ids, t.Device) {
			ids = append(ids, t.Device)
		}
	}
	return ids
}

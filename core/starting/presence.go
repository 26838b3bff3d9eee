package starting

import (
	"slices"

	"amvek/core/almanac"
	"amvek/core/document"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/thing"
)

// Presence is how the light of a room comes by itself while somebody is there.
type Presence struct {
	// Sensors are what sees somebody: any of them begins it, and once all are clear it ends.
	Sensors []thing.Ref `json:"sensors" minItems:"1" maxItems:"20" doc:"What sees somebody: any of them begins it, and once all are clear it ends."`
	// Dark is what measures the light, and Below how dark it must be as somebody comes, in lux; without it, it is always dark enough.
	Dark  *thing.Ref `json:"dark,omitempty" doc:"What measures how light it is; without it, it comes by day, too."`
	Below float64    `json:"below,omitempty" minimum:"0" maximum:"100000" doc:"How dark it must be as somebody comes, in lux."`
	// FromOff says that it comes only where no lamp of the room is on.
	FromOff bool     `json:"fromOff,omitempty" doc:"It comes only where no lamp of the room is on."`
	Modes   []string `json:"modes,omitempty" maxItems:"20" doc:"The modes of the house in which it comes; none is all."`
	Scene   string   `json:"scene" doc:"Id of the scene that comes."`
	// Parts are parts of the day in which another scene comes; the first whose part it is, is the one.
	Parts []PresencePart `json:"parts,omitempty" maxItems:"10" doc:"Parts of the day in which another scene comes; the first whose part it is, is the one."`
	// Seconds is for how long all must be clear until what was before comes back.
	Seconds float64 `json:"seconds" minimum:"0" maximum:"86400" doc:"For how long all must be clear until what was before comes back."`
	// FadeSeconds is over how long it comes back.
	FadeSeconds float64 `json:"fadeSeconds,omitempty" minimum:"0" maximum:"3600" doc:"Over how long what was before comes back."`
}

// PresencePart is a part of the day in which another scene comes.
type PresencePart struct {
	From  almanac.Daily `json:"from"`
	To    almanac.Daily `json:"to"`
	Scene string        `json:"scene" doc:"Id of the scene that comes."`
}

// steps hold the scene of the part of the day in which somebody comes.
func (p *Presence) steps() []rule.Step {
	steps := []rule.Step{{Kind: rule.StepHold, Scene: p.Scene}}
	for _, part := range slices.Backward(p.Parts) {
		steps = []rule.Step{{
			Kind: rule.StepIf, Condition: &rule.Condition{Between: &rule.Window{From: part.From, To: part.To}},
			Then: []rule.Step{{Kind: rule.StepHold, Scene: part.Scene}}, Else: steps,
		}}
	}
	return steps
}

// Rule returns the rule by which the light of a room comes by itself. It holds the scene, so that what was before comes back, whatever
// that has become meanwhile; a hand's write leads until the room was empty. How dark it is counts only as somebody comes: a lamp that
// its own sensor sees does not put itself out.
func (p *Presence) Rule(title string, lamps []thing.Ref, property func(device, name string) *thing.Property) (*rule.Rule, error) {
	somebody := rule.Condition{}
	for _, s := range p.Sensors {
		if is := property(s.Device, s.Name); is == nil || is.Role != thing.RoleMotion {
			return nil, document.Wrong("sensors", "choose what sees somebody")
		}
		somebody.Any = append(somebody.Any, rule.Condition{Device: s.Device, Property: s.Name, Comparison: rule.Is, Value: yes})
	}
	if len(somebody.Any) == 0 {
		return nil, document.Wrong("sensors", "choose what sees somebody")
	}
	var provided rule.Condition
	if p.Dark != nil {
		if is := property(p.Dark.Device, p.Dark.Name); is == nil || is.Role != thing.RoleIlluminance {
			return nil, document.Wrong("dark", "choose what measures the light")
		}
		provided.All = append(provided.All, rule.Condition{Device: p.Dark.Device, Property: p.Dark.Name, Comparison: rule.Below, Value: thing.Number(p.Below)})
	}
	if p.FromOff && len(lamps) > 0 {
		var on rule.Condition
		for _, l := range lamps {
			one := rule.Condition{Device: l.Device, Property: l.Name, Comparison: rule.Is, Value: yes}
			if is := property(l.Device, l.Name); is != nil && is.Type == thing.TypeNumber {
				one.Comparison, one.Value = rule.Above, thing.Number(is.Minimum)
			}
			on.None = append(on.None, one)
		}
		provided.All = append(provided.All, on)
	}
	if len(p.Modes) > 0 {
		var modes rule.Condition
		for _, m := range p.Modes {
			modes.Any = append(modes.Any, rule.Condition{Device: rule.OwnDevice, Property: home.ModeProperty, Comparison: rule.Is, Value: thing.Text(m)})
		}
		provided.All = append(provided.All, modes)
	}
	r := &rule.Rule{
		Title: title + " by itself", Enabled: true, Labels: []string{title}, Whenever: &somebody, EndedForAtLeastSeconds: p.Seconds,
		BackFadeSeconds: p.FadeSeconds, Do: p.steps(),
	}
	if len(provided.All) > 0 {
		r.Provided = &provided
	}
	return r, nil
}

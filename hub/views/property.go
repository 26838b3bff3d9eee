package views

import (
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/cover"
	"amvek/core/hold"
	"amvek/core/light"
	"amvek/core/state"
	"amvek/core/thing"
)

// Holder is one of those who have or want a property: the base or a hold.
type Holder struct {
	// Kind tells what By and Title are: a rule, a scene, a sequence, a schedule, a person here, the device itself, or nobody.
	Kind  string `json:"kind" enum:"rule,link,mirror,scene,sequence,schedule,curve,hand,device,found"`
	Owner string `json:"owner,omitempty" doc:"Owner of a hold, for letting go; absent for the base."`
	ID    string `json:"id,omitempty" doc:"Id of the rule, scene or schedule, or of the person whose hand it was."`
	Name  string `json:"name,omitempty" doc:"What the person is called whose hand it was, where that is known."`
	Title string `json:"title,omitempty" doc:"Name of the rule, scene or schedule, or where a hand acted."`
	// Level is that of a hold; 0 for the base.
	Level     hold.Level  `json:"level"`
	ByHand    bool        `json:"byHand"`
	Value     thing.Value `json:"value"`
	Text      string      `json:"text"`
	Since     time.Time   `json:"since"`
	Until     time.Time   `json:"until,omitzero"`
	Cause     cause.ID    `json:"cause,omitempty"`
	Firm      bool        `json:"firm,omitempty"`
	Suspended bool        `json:"suspended,omitempty"`
	InEffect  bool        `json:"inEffect"`
	// Curve is the day curve that its value follows.
	Curve string `json:"curve,omitempty" doc:"Id of the day curve that its value follows; absent where it is literal."`
}

// PropertyView is a property as it stands now.
type PropertyView struct {
	Name         string          `json:"name"`
	Value        thing.Value     `json:"value" doc:"What the device last said."`
	Text         string          `json:"text"`
	Target       thing.Value     `json:"target,omitzero" doc:"What it was asked for."`
	TargetText   string          `json:"targetText,omitempty"`
	LastOn       float64         `json:"lastOn,omitempty" doc:"What a number was at before it was set to 0: what a lamp comes on with."`
	On           bool            `json:"on" doc:"Whether a mark is drawn solid: on, open, moving, or a number above 0."`
	Certainty    state.Certainty `json:"certainty" enum:"unknown,confirmed,pending,assumed,failed"`
	Failure      string          `json:"failure,omitempty"`
	Milliseconds float64         `json:"milliseconds,omitempty" doc:"Delay of the last confirmed command."`
	ReportedAt   time.Time       `json:"reportedAt,omitzero"`
	ChangedAt    time.Time       `json:"changedAt,omitzero"`
	ChangedBy    cause.ID        `json:"changedBy,omitempty"`
	Swatch       string          `json:"swatch,omitempty" doc:"The light's color as #rrggbb."`
	// Idle says that it does not count, since the device is set up in another way.
	Idle    bool     `json:"idle,omitempty" doc:"It does not count, since the device is set up in another way."`
	Shutter *Shutter `json:"shutter,omitempty"`
	// Difference is what hub and device do not agree on, until that is settled.
	Difference *state.Difference `json:"difference,omitempty" doc:"What hub and device do not agree on, until that is settled."`
	// Holders are all who have or want a writable property, the one in effect first, the base last.
	Holders []Holder `json:"holders"`

	place int // in the description of its device
}

// Place implements [show.Placed].
func (v PropertyView) Place() int { return v.place }

// Property returns how a property stands, given its state.
func (r *Reader) Property(ref thing.Ref, st state.PropertyState) PropertyView {
	p := r.Engine.Property(ref.Device, ref.Name)
	v := PropertyView{
		Name: ref.Name, Value: st.Reported, Text: p.Say(st.Reported), Certainty: st.Certainty, Failure: st.Failure,
		Milliseconds: st.Milliseconds, ReportedAt: st.ReportedAt.Truncate(time.Millisecond),
		ChangedAt: st.ChangedAt.Truncate(time.Millisecond), ChangedBy: st.ChangedBy,
		On: isOn(p, st.Reported), Swatch: Swatch(p, st.Reported), Holders: []Holder{},
		place: r.place(ref), Idle: !r.Engine.Counts(ref), Shutter: r.shutter(ref, st.Cover), Difference: st.Difference,
	}
	if p.Assumed && v.Certainty == state.Confirmed {
		v.Certainty = state.Assumed // heard from whoever else sends to it
	}
	if !p.Writable {
		return v
	}
	if r.Engine.Aside(ref) {
		v.Text = "not in use" // another that it excludes is: a color, say, and not this white
	}
	v.Target, v.TargetText = st.Target, p.Say(st.Target)
	v.LastOn = st.LastOn
	top := st.Stack.Top()
	var base, suspended []Holder
	for i := range st.Stack.Holds {
		x := &st.Stack.Holds[i]
		holder := r.holder(x.Owner, x.Level == hold.Hand, p, x.Value)
		holder.Owner, holder.Level, holder.Since, holder.Until, holder.Cause = x.Owner, x.Level, x.Since, x.Until, x.Cause
		holder.Firm, holder.Suspended, holder.InEffect = x.Firm, x.Suspended, x == top
		holder.Curve = r.curveOf(ref, x.Source)
		if x.Suspended {
			suspended = append(suspended, holder)
			continue
		}
		v.Holders = append(v.Holders, holder)
	}
	if !st.Stack.Base.Value.IsNone() {
		b := st.Stack.Base
		holder := r.holder(b.By, b.ByHand, p, b.Value)
		holder.Since, holder.Cause, holder.InEffect = b.Since, b.Cause, top == nil
		holder.Curve = r.curveOf(ref, b.Source)
		base = append(base, holder)
	}
	// A hold suspended by a hand waits below the base it gave way to.
	v.Holders = append(append(v.Holders, base...), suspended...)
	return v
}

// curveOf is the day curve that is a source; "" for another.
func (r *Reader) curveOf(ref thing.Ref, source hold.Source) string {
	if source == hold.OwnCurve {
		return r.Engine.CurveOf(ref.Device)
	}
	id, _ := source.Curve()
	return id
}

// place is where a property stands in the description of its device.
func (r *Reader) place(ref thing.Ref) int {
	d := r.Definitions.Device(ref.Device)
	if d == nil {
		return 0
	}
	return slices.IndexFunc(d.Description.Properties, func(p thing.Property) bool { return p.Name == ref.Name })
}

func (r *Reader) holder(by string, byHand bool, p *thing.Property, value thing.Value) Holder {
	kind, id, _ := strings.Cut(by, ":")
	holder := Holder{Kind: kind, ByHand: byHand, Value: value, Text: p.Say(value)}
	switch kind {
	case "rule", "link", "mirror", "scene", "schedule", "sequence":
		holder.ID, holder.Title = id, r.Kept.TitleOf(id)
	case "hand":
		way, person, _ := strings.Cut(id, ":")
		holder.Title, holder.ID = way, person
		if person != "" {
			holder.Name = r.Kept.TitleOf(person)
		}
	case "":
		holder.Kind = "found"
	}
	return holder
}

func isOn(p *thing.Property, v thing.Value) bool {
	switch p.Type {
	case thing.TypeBoolean:
		return v.True()
	case thing.TypeNumber:
		return v.Number > 0 && (p.Role == thing.RoleBrightness)
	default:
		return false
	}
}

// Swatch returns the color of a light as #rrggbb, "" where the property is no color.
func Swatch(p *thing.Property, v thing.Value) string {
	switch {
	case v.IsNone():
		return ""
	case p.Role == thing.RoleColorTemperature:
		return light.Swatch(light.OfWhite(v.Number))
	case p.Role == thing.RoleColor:
		return light.Swatch(light.Of(v))
	default:
		return ""
	}
}

// Shutter is where a shutter stands and what it is about.
type Shutter struct {
	Place  float64 `json:"place" doc:"How far open, in percent; counts only if known."`
	Known  bool    `json:"known" doc:"Whether it is known where it stands."`
	Moving string  `json:"moving,omitempty" enum:"up,down"`
	// Travel is how long it takes from end to end, absent where that is not known.
	Travel   *cover.Travel   `json:"travel,omitempty"`
	Learning *cover.Learning `json:"learning,omitempty" doc:"The last measuring of the travel times, until it is forgotten."`
}

func (r *Reader) shutter(ref thing.Ref, state *cover.State) *Shutter {
	if state == nil {
		return nil
	}
	v := &Shutter{Learning: state.Learning}
	settings := cover.Settings{}
	if d := r.Definitions.Device(ref.Device); d != nil {
		if travel, known := d.Travel[ref.Name]; known {
			settings.Travel, v.Travel = travel, &travel
		}
	}
	v.Place, v.Known = state.Estimate(r.Now(), settings)
	if side, moves := state.Moving(); moves {
		v.Moving = map[cover.Side]string{cover.Up: "up", cover.Down: "down"}[side]
	}
	return v
}

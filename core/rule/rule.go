// Package rule is the model of rules and schedules: what starts them, the
// conditions they need, and the steps they take. It checks them and compiles
// their conditions to plain functions; the engine runs them. It does no I/O.
package rule

import (
	"slices"
	"strings"
	"time"

	"amvek/core/almanac"
	"amvek/core/thing"
)

// Comparison compares a property with a value.
type Comparison string

// The comparisons. The last four are for numbers.
const (
	Is      Comparison = "is"
	IsNot   Comparison = "isNot"
	Below   Comparison = "below"
	Above   Comparison = "above"
	AtLeast Comparison = "atLeast"
	AtMost  Comparison = "atMost"
)

// Condition is true or false at any moment. It is either one comparison, or a
// group: exactly one of All, Any and None has members.
type Condition struct {
	All  []Condition `json:"all,omitempty" doc:"True when each is."`
	Any  []Condition `json:"any,omitempty" doc:"True when at least one is."`
	None []Condition `json:"none,omitempty" doc:"True when not one is."`

	Device     string      `json:"device,omitempty"`
	Property   string      `json:"property,omitempty"`
	Comparison Comparison  `json:"comparison,omitempty" enum:"is,isNot,below,above,atLeast,atMost"`
	Value      thing.Value `json:"value,omitzero"`
}

// Trigger starts a when rule: a property that changes, or comes to fulfil a
// comparison, or an event.
type Trigger struct {
	Device     string      `json:"device"`
	Property   string      `json:"property,omitempty" doc:"Either a property or an event."`
	Event      string      `json:"event,omitempty"`
	Comparison Comparison  `json:"comparison,omitempty" enum:"is,isNot,below,above,atLeast,atMost" doc:"None: any change, any event."`
	Value      thing.Value `json:"value,omitzero"`
}

// StepKind says what a step does.
type StepKind string

// The kinds of step.
const (
	StepSet   StepKind = "set"   // write a property once
	StepHold  StepKind = "hold"  // keep a property until the rule lets go or ForSeconds are over
	StepWait  StepKind = "wait"  // wait
	StepScene StepKind = "scene" // apply a scene
	StepRun   StepKind = "run"   // run another rule's steps
)

// Step is one thing a rule does.
type Step struct {
	Kind        StepKind    `json:"kind" enum:"set,hold,wait,scene,run"`
	Device      string      `json:"device,omitempty"`
	Property    string      `json:"property,omitempty"`
	Value       thing.Value `json:"value,omitzero"`
	FadeSeconds float64     `json:"fadeSeconds,omitempty" minimum:"0" maximum:"3600"`
	ForSeconds  float64     `json:"forSeconds,omitempty" minimum:"0" maximum:"604800" doc:"How long to wait, or to hold in a when rule."`
	// Unattended allows this one step to switch on what is attended only.
	Unattended bool `json:"unattended,omitempty" doc:"Allows this one step to switch on a device that is attended only."`
	// UntilDone lets a rule's run wait until the device has confirmed the value, and end when it does not follow.
	UntilDone bool   `json:"untilDone,omitempty" doc:"The run goes on when the device has confirmed, and ends when it does not follow; in rules only."`
	Scene     string `json:"scene,omitempty" doc:"Id of the scene."`
	Rule      string `json:"rule,omitempty" doc:"Id of the rule to run."`
}

// Policy says what happens when a rule is started while it runs.
type Policy string

// The policies.
const (
	Restart    Policy = "restart"
	Ignore     Policy = "ignore"
	Queue      Policy = "queue"
	SideBySide Policy = "sideBySide"
)

// Rule is what the owner wrote: either *when* something happens do steps, or
// *whenever* a condition lasts do steps and afterwards let go.
type Rule struct {
	Title   string `json:"title" minLength:"1" maxLength:"120"`
	Note    string `json:"note,omitempty" maxLength:"2000"`
	Enabled bool   `json:"enabled"`

	When     []Trigger  `json:"when,omitempty" doc:"Starts on any of these."`
	Whenever *Condition `json:"whenever,omitempty" doc:"Holds while this is true."`
	// ForAtLeastSeconds is how long Whenever must have been true before the rule begins.
	ForAtLeastSeconds float64 `json:"forAtLeastSeconds,omitempty" minimum:"0" maximum:"604800"`
	// EndedForAtLeastSeconds is how long Whenever must have been false before the rule lets go.
	EndedForAtLeastSeconds float64 `json:"endedForAtLeastSeconds,omitempty" minimum:"0" maximum:"604800"`
	// Provided is needed at the moment the rule begins, not for it to last.
	Provided   *Condition `json:"provided,omitempty" doc:"Needed at the moment it begins, not for it to last."`
	Do         []Step     `json:"do"`
	Afterwards []Step     `json:"afterwards,omitempty" doc:"Besides letting go."`
	Policy     Policy     `json:"policy,omitempty" enum:"restart,ignore,queue,sideBySide"`
}

// Lasts reports whether the rule is a whenever rule.
func (r *Rule) Lasts() bool { return r.Whenever != nil }

// Schedule takes steps on chosen days at a time.
type Schedule struct {
	Title   string        `json:"title" minLength:"1" maxLength:"120"`
	Note    string        `json:"note,omitempty" maxLength:"2000"`
	Enabled bool          `json:"enabled"`
	At      almanac.Daily `json:"at"`
	Do      []Step        `json:"do"`
}

// Seconds returns a number of seconds as a duration.
func Seconds(s float64) time.Duration { return time.Duration(s * float64(time.Second)) }

// Uses is what a rule or schedule refers to.
type Uses struct {
	Devices, Scenes, Rules []string
}

func (u *Uses) add(list *[]string, id string) {
	if id != "" && !slices.Contains(*list, id) {
		*list = append(*list, id)
	}
}

func (u *Uses) condition(c *Condition) {
	if c == nil {
		return
	}
	u.add(&u.Devices, c.Device)
	for _, group := range [][]Condition{c.All, c.Any, c.None} {
		for i := range group {
			u.condition(&group[i])
		}
	}
}

func (u *Uses) steps(steps []Step) {
	for _, s := range steps {
		u.add(&u.Devices, s.Device)
		u.add(&u.Scenes, s.Scene)
		u.add(&u.Rules, s.Rule)
	}
}

// Uses returns what the rule refers to.
func (r *Rule) Uses() Uses {
	var u Uses
	for _, t := range r.When {
		u.add(&u.Devices, t.Device)
	}
	u.condition(r.Whenever)
	u.condition(r.Provided)
	u.steps(r.Do)
	u.steps(r.Afterwards)
	return u
}

// Uses returns what the schedule refers to.
func (s *Schedule) Uses() Uses {
	var u Uses
	u.steps(s.Do)
	return u
}

// Problem is something wrong with a rule or schedule, at a place in its document.
type Problem struct {
	Path    string `json:"path" doc:"Place in the document, such as do/0/value."`
	Message string `json:"message"`
}

// Lookup answers what exists in the home.
type Lookup interface {
	Property(device, name string) *thing.Property
	Event(device, name string) *thing.Event
	HasDevice(id string) bool
	HasScene(id string) bool
	HasRule(id string) bool
}

func blank(s string) bool { return strings.TrimSpace(s) == "" }

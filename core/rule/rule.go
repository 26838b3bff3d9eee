// Package rule is the model of rules and schedules: what starts them, the
// conditions they need, and the steps they take. It checks them and compiles
// their conditions to plain functions; the engine runs them. It does no I/O.
package rule

import (
	"maps"
	"slices"
	"strings"
	"time"

	"amvek/core/almanac"
	"amvek/core/expr"
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

// Condition is true or false at any moment. It is one comparison, one window of time, one comparison of a group's
// members, an expression, or a group of conditions: exactly one of All, Any and None has members then.
type Condition struct {
	All  []Condition `json:"all,omitempty" doc:"True when each is."`
	Any  []Condition `json:"any,omitempty" doc:"True when at least one is."`
	None []Condition `json:"none,omitempty" doc:"True when not one is."`

	Device string `json:"device,omitempty"`
	// Group is compared instead of a device; Property then names a role, and Which says how many must fulfil it.
	Group      string      `json:"group,omitempty" doc:"Id of a group, a room, a floor or a label that is compared instead of a device; property then names a role."`
	Which      Which       `json:"which,omitempty" enum:"any,all,none" doc:"How many of the group must fulfil it."`
	Property   string      `json:"property,omitempty"`
	Comparison Comparison  `json:"comparison,omitempty" enum:"is,isNot,below,above,atLeast,atMost"`
	Value      thing.Value `json:"value,omitzero"`
	// Between is a window of time.
	Between *Window `json:"between,omitempty"`
	// Expression is true or false by itself.
	Expression string `json:"expression,omitempty" maxLength:"2000" doc:"An expression that comes to yes or no."`
	// Event is of a calendar, which is true while one is on.
	Event *EventNow `json:"event,omitempty" doc:"True while an event of a calendar is on."`

	// ForAtLeastSeconds is how long it must have been true, to count as true.
	ForAtLeastSeconds float64 `json:"forAtLeastSeconds,omitempty" minimum:"0" maximum:"604800" doc:"How long it must have been so, to count."`
	// Formulas may give the value and how long.
	Formulas Formulas `json:"formulas,omitempty" doc:"Expressions that give fields their values, by the fields' names: value, forAtLeastSeconds."`
}

// EventNow is that an event of a calendar is on: any, or one with words in its title, or one of whole days.
type EventNow struct {
	Calendar  string `json:"calendar" doc:"Id of the calendar."`
	Words     string `json:"words,omitempty" maxLength:"80" doc:"Words that its title must have in it."`
	WholeDays bool   `json:"wholeDays,omitempty" doc:"Only events of whole days count."`
}

// Which says how many members of a group must fulfil a comparison.
type Which string

// How many.
const (
	AnyOf  Which = "any"
	AllOf  Which = "all"
	NoneOf Which = "none"
)

// Window is a stretch of the day on chosen weekdays: those of its beginning. Where it ends before it begins, it ends
// on the next day.
type Window struct {
	From almanac.Daily `json:"from"`
	To   almanac.Daily `json:"to"`
}

// TriggerKind says what starts a rule.
type TriggerKind string

// The kinds of trigger.
const (
	OnDevice TriggerKind = ""       // a property or an event of a device
	OnTime   TriggerKind = "time"   // a time of day, by the clock or the sun
	OnStart  TriggerKind = "start"  // the hub starts
	OnSilent TriggerKind = "silent" // a device falls silent
	OnPhrase TriggerKind = "phrase" // a phrase is said or typed
	OnCall   TriggerKind = "call"   // another program calls by the web
	OnEntry  TriggerKind = "entry"  // an entry of a calendar begins or ends
)

// Trigger starts a when rule: a property that changes, or comes to fulfil a comparison and stays so, an event, a time,
// a start of the hub, a device that falls silent, a phrase, a call, or an entry of
// a calendar.
type Trigger struct {
	Kind       TriggerKind `json:"kind,omitempty" enum:",time,start,silent,phrase,call,entry" doc:"Absent for a property or an event of a device."`
	Device     string      `json:"device,omitempty"`
	Group      string      `json:"group,omitempty" doc:"Id of a group, a room, a floor or a label instead of a device: any of its devices. Property then names a role."`
	Property   string      `json:"property,omitempty" doc:"Either a property or an event."`
	Event      string      `json:"event,omitempty"`
	Comparison Comparison  `json:"comparison,omitempty" enum:"is,isNot,below,above,atLeast,atMost" doc:"None: any change, any event."`
	Value      thing.Value `json:"value,omitzero"`
	// ForSeconds is how long the property must stay so.
	ForSeconds float64 `json:"forSeconds,omitempty" minimum:"0" maximum:"604800" doc:"How long it must stay so."`
	// Formulas may give the value and how long.
	Formulas Formulas `json:"formulas,omitempty" doc:"Expressions that give fields their values, by the fields' names: value, forSeconds."`
	// At is the time of a time trigger.
	At *almanac.Daily `json:"at,omitempty"`
	// Words are the phrase, or the name that is called; of an entry, what its title must have in it.
	Words string `json:"words,omitempty" maxLength:"80" doc:"The phrase, or the name that is called; of an entry, words that its title must have in it."`
	// Calendar is whose entries count, Ends whether their ends and not their beginnings, and OffsetMinutes how much later.
	Calendar      string `json:"calendar,omitempty" doc:"Id of the calendar whose entries count."`
	Ends          bool   `json:"ends,omitempty" doc:"The ends of entries count, not their beginnings."`
	OffsetMinutes int    `json:"offsetMinutes,omitempty" minimum:"-1440" maximum:"1440" doc:"So much later than the entry; negative is before."`
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
	// Labels put rules together, whatever they are about.
	Labels []string `json:"labels,omitempty" maxItems:"20"`

	When     []Trigger  `json:"when,omitempty" doc:"Starts on any of these."`
	Whenever *Condition `json:"whenever,omitempty" doc:"Holds while this is true."`
	// ForAtLeastSeconds is how long Whenever must have been true before the rule begins.
	ForAtLeastSeconds float64 `json:"forAtLeastSeconds,omitempty" minimum:"0" maximum:"604800"`
	// EndedForAtLeastSeconds is how long Whenever must have been false before the rule lets go.
	EndedForAtLeastSeconds float64 `json:"endedForAtLeastSeconds,omitempty" minimum:"0" maximum:"604800"`
	// BackFadeSeconds is over how long what was before comes back once the rule lets go.
	BackFadeSeconds float64 `json:"backFadeSeconds,omitempty" minimum:"0" maximum:"3600" doc:"Over how long what was before comes back once the rule lets go."`
	// Formulas may give how long.
	Formulas Formulas `json:"formulas,omitempty" doc:"Expressions that give fields their values, by the fields' names: forAtLeastSeconds, endedForAtLeastSeconds."`
	// Gate is needed all the time: while it is false the rule is as if switched off.
	Gate *Condition `json:"gate,omitempty" doc:"While this is false the rule is as if switched off."`
	// Provided is needed at the moment the rule begins, not for it to last.
	Provided   *Condition `json:"provided,omitempty" doc:"Needed at the moment it begins, not for it to last."`
	Do         []Step     `json:"do"`
	Afterwards []Step     `json:"afterwards,omitempty" doc:"Besides letting go."`
	Policy     Policy     `json:"policy,omitempty" enum:"restart,ignore,queue,sideBySide"`
	// GiveUpAfterSeconds is how late a wait may end, when the hub was off meanwhile; past it the run is given up. At 0
	// it goes on however late.
	GiveUpAfterSeconds float64 `json:"giveUpAfterSeconds,omitempty" minimum:"0" maximum:"604800" doc:"How late a wait may end when the hub was off meanwhile; 0 is however late."`
	// Intended are findings that the owner means so.
	Intended []Intended `json:"intended,omitempty" maxItems:"200" doc:"Findings that the owner means so."`
}

// Intended is a finding, by its kind and place, that the owner means so, with a note why.
type Intended struct {
	Kind string `json:"kind"`
	Path string `json:"path"`
	Note string `json:"note,omitempty" maxLength:"500"`
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
	Devices, Scenes, Rules, Groups, Rooms, Dashboards, Calendars []string
	// Variables are the properties of the home itself.
	Variables []string
}

// Has reports whether something is referred to, whatever its kind.
func (u *Uses) Has(id string) bool {
	lists := u.lists()
	return slices.ContainsFunc(lists[:], func(list []string) bool { return slices.Contains(list, id) })
}

// All returns all that is referred to, whatever its kind.
func (u *Uses) All() []string {
	lists := u.lists()
	return slices.Concat(lists[:]...)
}

func (u *Uses) lists() [8][]string {
	return [8][]string{u.Devices, u.Scenes, u.Rules, u.Groups, u.Rooms, u.Dashboards, u.Calendars, u.Variables}
}

func (u *Uses) add(list *[]string, id string) {
	if id != "" && id != Member && !slices.Contains(*list, id) {
		*list = append(*list, id)
	}
}

func (u *Uses) property(device, name string) {
	u.add(&u.Devices, device)
	if device == OwnDevice {
		u.add(&u.Variables, name)
	}
}

func (u *Uses) condition(c *Condition) {
	if c == nil {
		return
	}
	u.property(c.Device, c.Property)
	u.add(&u.Groups, c.Group)
	u.expression(c.Expression)
	u.formulas(c.Formulas)
	if c.Event != nil {
		u.add(&u.Calendars, c.Event.Calendar)
	}
	for _, group := range [][]Condition{c.All, c.Any, c.None} {
		for i := range group {
			u.condition(&group[i])
		}
	}
}

func (u *Uses) steps(steps []Step) {
	Walk("", steps, func(_ string, s *Step) {
		u.property(s.Device, s.Property)
		if s.From != nil {
			u.property(s.From.Device, s.From.Name)
		}
		if s.Dial != nil {
			u.add(&u.Devices, s.Dial.Device)
		}
		u.add(&u.Groups, s.Group)
		u.add(&u.Scenes, s.Scene)
		for _, id := range s.Scenes {
			u.add(&u.Scenes, id)
		}
		u.add(&u.Scenes, s.Sequence)
		u.add(&u.Scenes, s.Light)
		u.add(&u.Rules, s.Rule)
		u.add(&u.Dashboards, s.Dashboard)
		u.condition(s.Condition)
		u.expression(s.Expression)
		u.formulas(s.Formulas)
		for _, name := range slices.Sorted(maps.Keys(s.Input)) {
			u.expression(s.Input[name].Expression)
		}
		u.script(s.Script)
		for _, text := range s.Texts() {
			for _, part := range Parts(text) {
				u.expression(part.Expression)
			}
		}
		if s.Into != "" {
			u.property(OwnDevice, s.Into)
		}
	})
}

func (u *Uses) formulas(f Formulas) {
	for _, field := range slices.Sorted(maps.Keys(f)) {
		u.expression(f[field])
	}
}

func (u *Uses) expression(text string) {
	if text == "" {
		return
	}
	mentioned := expr.Mention(text)
	for _, ref := range mentioned.Properties {
		u.property(ref.Device, ref.Name)
	}
	for _, group := range mentioned.Groups {
		u.add(&u.Groups, group)
	}
	for _, room := range mentioned.Rooms {
		u.add(&u.Rooms, room)
	}
}

// Uses returns what the rule refers to.
func (r *Rule) Uses() Uses {
	var u Uses
	for _, t := range r.When {
		u.property(t.Device, t.Property)
		u.add(&u.Groups, t.Group)
		u.formulas(t.Formulas)
		u.add(&u.Calendars, t.Calendar)
	}
	u.formulas(r.Formulas)
	u.condition(r.Whenever)
	u.condition(r.Gate)
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
	// Open says that nothing is wrong: it is still to be filled in.
	Open bool `json:"open,omitempty" doc:"Nothing is wrong: it is still to be filled in."`
}

// Lookup answers what exists in the home.
type Lookup interface {
	Property(device, name string) *thing.Property
	Event(device, name string) *thing.Event
	HasDevice(id string) bool
	HasScene(id string) bool
	HasRule(id string) bool
	HasDashboard(id string) bool
	// HasGroup reports whether there is such a set of devices: a group, a room, or a floor or label that some device has.
	HasGroup(id string) bool
	HasCalendar(id string) bool
	HasSequence(id string) bool
	// HasRoomLight reports whether there is the light of a room of this id.
	HasRoomLight(id string) bool
	// Members returns the properties of the devices of a set that have a role, in its order.
	Members(group, role string) []thing.Ref
	// RoomMembers returns the properties with a role of the devices in a room.
	RoomMembers(room, role string) []thing.Ref
	// Expression compiles an expression, or says what is wrong with it.
	Expression(text string) (*expr.Expression, []expr.Mistake)
	// Action returns an action of a device, or nil.
	Action(device, name string) *thing.Action
	// Devices returns the devices of a set, in its order.
	Devices(set string) []string
	// Plays reports whether a device can be asked to play something, or, without one, any of a group.
	Plays(device, group string) bool
}

// OwnDevice is the home itself, as a device: its properties are the mode, the variables and what the hub knows.
const OwnDevice = "own"

func blank(s string) bool { return strings.TrimSpace(s) == "" }

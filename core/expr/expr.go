// Package expr is the language of typed expressions: the Common Expression Language (CEL) with an environment that
// knows the properties of the home by id, their statistics over a group, a room or the last minutes, the time and the
// sun. It checks an expression, says where it is wrong, which inputs it has and of what type its result is. It does no
// I/O, and never looks at the home by itself: whoever evaluates an expression hands it the values of its inputs.
package expr

import (
	"errors"
	"slices"
	"time"

	"cel.dev/cel-go/cel"

	"amvek/core/thing"
)

// Limits on what may be typed, and on what it may take to work out.
const (
	maximumLength  = 2000
	maximumDepth   = 40
	maximumCost    = 100_000
	maximumMembers = 500
	shortestPast   = 10 * time.Second
	longestPast    = 24 * time.Hour
)

// InputKind says what sort of thing an input is.
type InputKind string

// The kinds of input.
const (
	OfProperty InputKind = "property" // the value of a property
	OfMembers  InputKind = "members"  // the values of the members of a group or a room
	OfPast     InputKind = "past"     // a statistic of a property over the last minutes
	OfClock    InputKind = "clock"    // the time, the day or the sun
	OfSent     InputKind = "sent"     // a part of what another program sent with its call
	OfComing   InputKind = "coming"   // the value that comes into a stage of a link
)

// Statistic is what is taken of a property's last minutes.
type Statistic string

// The statistics. The mean is that over time; the change is from the beginning to the end.
const (
	Mean   Statistic = "mean"
	Least  Statistic = "least"
	Most   Statistic = "most"
	Change Statistic = "change"
)

// Clock names an input that is the time or follows from it.
type Clock string

// What follows from the time, all in the home's zone.
const (
	Hour    Clock = "hour"    // hours since midnight, with a fraction
	Weekday Clock = "weekday" // 1 is Monday, 7 is Sunday (ISO 8601)
	Day     Clock = "day"     // of the month
	Month   Clock = "month"   // 1 is January
	Sun     Clock = "sun"     // the sun's elevation in degrees, below 0 at night
	Now     Clock = "now"     // the moment itself, a timestamp
)

var clocks = []Clock{Hour, Weekday, Day, Month, Sun, Now}

// Input is something that an expression depends on.
type Input struct {
	Kind InputKind
	// Ref is the property of a property or a past.
	Ref thing.Ref
	// Group or Room is whose members have the Role; Refs are their properties.
	Group, Room string
	Role        string
	Refs        []thing.Ref
	Statistic   Statistic
	Span        time.Duration
	Clock       Clock
	// Wanted, where it is not none, asks for the names of the members that are at it, instead of for their values.
	Wanted thing.Value
	// Pointer says which part of what was sent (RFC 6901), and As what it must be.
	Pointer string
	As      thing.Type
	// Known asks whether the value of the property is known, instead of for it.
	Known bool
}

func (i *Input) same(j *Input) bool {
	return i.Kind == j.Kind && i.Ref == j.Ref && i.Group == j.Group && i.Room == j.Room && i.Role == j.Role && i.Statistic == j.Statistic && i.Span == j.Span &&
		i.Clock == j.Clock &&
		i.Known == j.Known &&
		i.Wanted == j.Wanted &&
		i.Pointer == j.Pointer &&
		i.As == j.As
}

// Mistake is something wrong with an expression, at a place in its text.
type Mistake struct {
	// Line and Column begin at 1; the column counts characters.
	Line    int    `json:"line"`
	Column  int    `json:"column"`
	Message string `json:"message"`
}

// Lookup answers what exists in the home.
type Lookup interface {
	Property(device, name string) *thing.Property
	// Members returns the properties of the members of a group that have a role.
	Members(group, role string) []thing.Ref
	// RoomMembers returns the properties with a role of the devices in a room.
	RoomMembers(room, role string) []thing.Ref
}

// Expression is a compiled expression without problems. It may not be used by several goroutines at once.
type Expression struct {
	// Text is the expression as it was typed.
	Text string
	// Type is that of its result: boolean, number or text.
	Type thing.Type
	// Inputs are what it depends on, each once.
	Inputs []Input

	program cel.Program
	slots   slots
}

// Source gives the values of inputs.
type Source interface {
	// Value returns the value of a property, of a past, of what was sent or of a clock but now; none where nothing is known.
	Value(i *Input) thing.Value
	// Values returns the known values of members.
	Values(i *Input) []thing.Value
	// Names returns the names of the devices whose property is at what is wanted.
	Names(i *Input) []string
	// Moment returns the present time, in the home's zone.
	Moment() time.Time
}

// ErrUnknown says that an expression has no result, since something that it depends on is not known.
var ErrUnknown = errors.New("something that it depends on is not known")

// slots hold the values of one evaluation, by the index of the input.
type slots struct {
	inputs []Input
	source Source
}

// ResolveName makes slots the variables of a program.
func (s *slots) ResolveName(name string) (any, bool) {
	i := slotIndex(name)
	if i < 0 || i >= len(s.inputs) {
		return nil, false
	}
	in := &s.inputs[i]
	switch {
	case !in.Wanted.IsNone():
		return native(thing.Text(enumerate(s.source.Names(in)))), true
	case in.Kind == OfMembers:
		return list(s.source.Values(in)), true
	case in.Clock == Now:
		return celTime(s.source.Moment()), true
	}
	v := s.source.Value(in)
	if in.Known {
		return celBool(!v.IsNone()), true
	}
	if v.IsNone() {
		return nil, false
	}
	return native(v), true
}

// Parent makes slots the variables of a program.
func (*slots) Parent() cel.Activation { return nil }

// Evaluate works the expression out. It fails with ErrUnknown when what it needs is not known, and with words of its
// own when it cannot be worked out, as when a number is divided by zero.
func (x *Expression) Evaluate(source Source) (thing.Value, error) {
	x.slots.source = source
	out, _, err := x.program.Eval(&x.slots)
	if err != nil {
		return thing.Value{}, evaluationError(err)
	}
	return result(out)
}

// DependsOnTime reports whether the result changes without a report, with the time alone.
func (x *Expression) DependsOnTime() bool {
	return slices.ContainsFunc(x.Inputs, func(i Input) bool { return i.Kind == OfClock || i.Kind == OfPast })
}

// TakesComing reports whether the result depends on the value that comes into a stage of a link.
func (x *Expression) TakesComing() bool {
	return slices.ContainsFunc(x.Inputs, func(i Input) bool { return i.Kind == OfComing })
}

// TakesSent reports whether the result depends on what another program sends with its call.
func (x *Expression) TakesSent() bool {
	return slices.ContainsFunc(x.Inputs, func(i Input) bool { return i.Kind == OfSent })
}

package engine

import (
	"math"
	"time"

	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// slot is one property at work. It holds what every report touches and no more, three cache lines of 64 bytes, since
// in a large home waiting for memory is most of what a report costs; the rest stands elsewhere.
type slot struct {
	ref thing.Ref
	// From the property: a number must be from minimum to maximum.
	minimum, maximum float64
	number, writable bool
	listened         bool // whether its device has a watch
	plain            bool // whether nothing but tests is attached to it
	dirty            bool
	measured         bool
	gone             bool
	noted            bool // whether it is among those that were heard since [Engine.Heard]

	heard int64 // when the watch was last told of it, in nanoseconds since 1970
	tests []dependent
	state.Reading
	*attached
}

// attached is what few reports touch. After a change of it, settle what of that the slot itself tells by [slot.attach].
type attached struct {
	property  *thing.Property
	state     state.Control
	watch     *watch     // nil for what does not speak by itself
	adjusting *adjusting // nil for what is taken as it comes
	ownLight  *ownLight  // nil for what is not read without its lamps besides
	driver    *driver    // nil for what is no part of a shutter
	triggers  []trigger
	weighers  []*weigher // expressions that depend on it
	feeds     []*linkState
	drivenBy  []*linkState
	mirrors   []*mirrorState
	lights    []*roomLight // whose lamp it is a part of
	past      *past        // nil where nothing depends on what it was at
	// follower works out the formula that it follows, nil where it follows none; followsNext is when its day curve moves it next.
	follower    *weigher
	followsNext time.Time
	glow        *glow   // what it was told in frames lately; nil where no effect moves it
	driven      *driven // nil for what is driven as its device says
	fading      *fading // nil while no fade of the hub's is under way
	// missed is how often in a row a command reached nobody though its connection is up, and retryAt when it is tried again.
	missed    int
	retryAt   time.Time
	appliedIn uint64 // the instant in which it was last applied
}

// newSlots returns the slots of a device's properties, side by side. They are never moved.
func newSlots(n int) []slot {
	slots, rest := make([]slot, n), make([]attached, n)
	for i := range slots {
		slots[i].attached = &rest[i]
		rest[i].state.Certainty = state.Unknown
	}
	return slots
}

// attach takes up what is attached to a slot, whenever something was or is no longer.
func (s *slot) attach() {
	s.listened = s.watch != nil
	s.plain = s.adjusting == nil && s.ownLight == nil && s.driver == nil && s.past == nil && len(s.triggers) == 0 && len(s.weighers) == 0 && len(s.feeds) == 0 &&
		len(s.mirrors) == 0 && len(s.lights) == 0
}

// full returns all that is known about the property.
func (s *slot) full() state.PropertyState {
	return state.PropertyState{Reading: s.Reading, Control: s.state}
}

// restore takes up what was known about the property. What only reports is at what it says, whatever it was before.
func (s *slot) restore(kept state.PropertyState) {
	s.Reading, s.state = kept.Reading, kept.Control
	if !s.writable && !s.Reported.IsNone() {
		s.state.Certainty = state.Confirmed
	}
}

// describe takes from the property what every report needs, so that a report that fits looks
// at the slot alone.
func (s *slot) describe(p *thing.Property) {
	s.property, s.writable, s.number = p, p.Writable, p.Type == thing.TypeNumber
	s.minimum, s.maximum = -math.MaxFloat64, math.MaxFloat64
	if p.Limited() {
		s.minimum, s.maximum = p.Declared()
	}
}

// fits reports whether the property's Check finds nothing wrong with a value.
func (s *slot) fits(v *thing.Value) bool {
	if s.number {
		return v.Kind == thing.KindNumber && v.Number >= s.minimum && v.Number <= s.maximum
	}
	return s.property.Check(*v) == nil
}

// dependent is a test of a rule on a property. Among the numbers from low to high nothing changes for it.
type dependent struct {
	low, high float64
	test      *rule.Test
	rule      *ruleState
}

type trigger struct {
	rule  *ruleState
	index int
	// listen is what it is of a device; nil for one that is of none.
	listen *rule.Listen
}

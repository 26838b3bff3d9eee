// Package hold decides who has a property: a base value, and above it the holds
// of those who keep a value until they let go. The effective value is that of the
// highest hold, or the base. Letting go never puts back a remembered copy: what
// lies below simply shows through. (After the priority array of ISO 16484-5, made
// small.) It neither sends commands nor knows the time but by argument.
package hold

import (
	"slices"
	"time"

	"amvek/core/cause"
	"amvek/core/thing"
)

// Level orders holds; higher values win.
type Level int

// The levels, lowest first.
const (
	Overlay Level = iota + 1 // a scene, sequence or effect laid on top
	Rule                     // a rule, while it lasts
	Hand                     // a person said "keep it so"
	Safety                   // never outdone
)

// Hold keeps a property at a value until its owner lets go.
type Hold struct {
	Owner      string      `json:"owner" doc:"Who keeps it, such as rule:… or hand."`
	Level      Level       `json:"level" doc:"1 overlay, 2 rule, 3 hand, 4 safety."`
	Value      thing.Value `json:"value"`
	Source     Source      `json:"source,omitempty" doc:"What the value follows; absent where it is literal."`
	Since      time.Time   `json:"since"`
	Until      time.Time   `json:"until,omitzero" doc:"When it ends by itself."`
	Cause      cause.ID    `json:"cause"`
	Firm       bool        `json:"firm,omitempty" doc:"A hand's write waits below it."`
	Unattended bool        `json:"unattended,omitempty" doc:"May switch on what is attended only."`
	Laid       bool        `json:"laid,omitempty" doc:"A scene that is laid on top: another scene's write, be it a hand's, waits below it."`
	Suspended  bool        `json:"suspended,omitempty" doc:"Waits below a hand's write until its owner ends."`
}

func (h *Hold) firm() bool { return h.Firm || h.Level == Safety }

// Base is the last value written once, and by whom.
type Base struct {
	Value  thing.Value `json:"value"`
	Source Source      `json:"source,omitempty" doc:"What the value follows; absent where it is literal."`
	Since  time.Time   `json:"since"`
	ByHand bool        `json:"byHand" doc:"A person, at the device or here, rather than automation."`
	By     string      `json:"by,omitempty" doc:"Who wrote it: device, hand:… with where and, where it is known, who, scene:…, rule:…, schedule:…, or nobody: so it was found."`
	Cause  cause.ID    `json:"cause"`
}

// Stack is the base and holds of one property. The zero value is ready for use.
type Stack struct {
	Base Base `json:"base"`
	// Holds are ordered from the one that matters most to the least.
	Holds []Hold `json:"holds,omitempty"`
}

// Top returns the hold in effect, or nil when the base is.
func (s *Stack) Top() *Hold {
	for i := range s.Holds {
		if !s.Holds[i].Suspended {
			return &s.Holds[i]
		}
	}
	return nil
}

// Effective returns the value in effect; none when nobody has set anything.
func (s *Stack) Effective() thing.Value {
	if top := s.Top(); top != nil {
		return top.Value
	}
	return s.Base.Value
}

// Write sets the base once. A hand's write also ends what hands keep, and suspends the
// holds of rules and overlays that are not firm until their owners end, so that rules
// do not fight the person; it returns how many holds it suspended.
// Automation's write waits below the holds.
func (s *Stack) Write(base Base) (suspended int) {
	s.Base = base
	if !base.ByHand {
		return 0
	}
	return s.Suspend()
}

// WriteBelow is [Stack.Write] for a scene that a hand has chosen: what is laid on top stays there, and the scene waits below it.
func (s *Stack) WriteBelow(base Base) (suspended int) {
	s.Base = base
	return s.SuspendBelow()
}

// Suspend ends what hands keep, and suspends the holds of rules and overlays that are not firm until their owners end; it
// returns how many it suspended.
func (s *Stack) Suspend() (suspended int) {
	return s.suspend(func(*Hold) bool { return false })
}

// SuspendBelow is [Stack.Suspend], but what is laid on top stays in effect.
func (s *Stack) SuspendBelow() (suspended int) {
	return s.suspend(func(h *Hold) bool { return h.Laid })
}

func (s *Stack) suspend(but func(h *Hold) bool) (suspended int) {
	s.Holds = slices.DeleteFunc(s.Holds, func(h Hold) bool { return h.Level == Hand && !h.firm() })
	for i := range s.Holds {
		h := &s.Holds[i]
		if !h.firm() && !h.Suspended && !but(h) {
			h.Suspended = true
			suspended++
		}
	}
	return suspended
}

// Place lays a hold. A second hold of the same owner replaces its first, as the newest of its level.
func (s *Stack) Place(h Hold) {
	s.Release(h.Owner)
	at := 0
	for at < len(s.Holds) && s.Holds[at].Level > h.Level {
		at++
	}
	s.Holds = slices.Insert(s.Holds, at, h)
}

// Release takes the owner's hold away and reports whether there was one.
func (s *Stack) Release(owner string) bool {
	before := len(s.Holds)
	s.Holds = slices.DeleteFunc(s.Holds, func(h Hold) bool { return h.Owner == owner })
	return len(s.Holds) < before
}

// Find returns the hold of the owner, or nil.
func (s *Stack) Find(owner string) *Hold {
	for i := range s.Holds {
		if s.Holds[i].Owner == owner {
			return &s.Holds[i]
		}
	}
	return nil
}

// Clone returns a copy that shares nothing with s.
func (s *Stack) Clone() Stack {
	return Stack{Base: s.Base, Holds: slices.Clone(s.Holds)}
}

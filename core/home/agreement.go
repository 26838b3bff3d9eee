package home

import (
	"amvek/core/document"
)

// Policy says what to do when a device turns out to be at another value than the hub believes.
type Policy string

// The policies; none given means [Believe].
const (
	Believe  Policy = "believe"  // take it for a hand's doing
	SetAgain Policy = "setAgain" // ask again for what was asked for, and tell when that does not help
	Ask      Policy = "ask"      // leave it as it is, and let the owner say
)

// MaximumTries bounds how often a value is set again.
const MaximumTries = 10

// Agreement is how differences between hub and device are dealt with.
type Agreement struct {
	Policy Policy `json:"policy" enum:"believe,setAgain,ask"`
	// Tries is how often a value is set again before the owner is told.
	Tries int `json:"tries,omitempty" minimum:"0" maximum:"10" doc:"How often a value is set again before the owner is told; 2 where none is given."`
}

// Check returns an error when the agreement cannot be kept.
func (a *Agreement) Check() error {
	switch a.Policy {
	case Believe, SetAgain, Ask:
	default:
		return document.Wrong("agreement", "%q is no policy", a.Policy)
	}
	if a.Tries < 0 || a.Tries > MaximumTries {
		return document.Wrong("agreement", "from 0 to %d tries", MaximumTries)
	}
	return nil
}

// Times returns how often a value is set again.
func (a *Agreement) Times() int {
	const usual = 2
	if a.Tries == 0 {
		return usual
	}
	return a.Tries
}

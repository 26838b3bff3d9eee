package home

import (
	"time"

	"amvek/core/document"
	"amvek/core/gesture"
)

// KeyTiming is how presses of a device's keys are told apart, in milliseconds; what is 0 is as usual.
type KeyTiming struct {
	Within int `json:"within,omitempty" minimum:"0" maximum:"3000" doc:"How soon after a press the next one must begin to belong to it, in milliseconds; 400 where it is absent."`
	Hold   int `json:"hold,omitempty" minimum:"0" maximum:"3000" doc:"How long a key is down until it is held, in milliseconds; 500 where it is absent."`
	Limit  int `json:"limit,omitempty" minimum:"0" maximum:"600000" doc:"How long a key counts as held at most, in milliseconds; 60000 where it is absent."`
}

// Bounds within which times can be told by a hand, in milliseconds.
const (
	quickest     = 100
	slowest      = 3000
	longestLimit = 600_000
)

// Check returns an error where a time is none that a hand could keep to.
func (k *KeyTiming) Check() error {
	if k == nil {
		return nil
	}
	within := func(ms, most int) bool { return ms == 0 || ms >= quickest && ms <= most }
	switch {
	case !within(k.Within, slowest):
		return document.Wrong("keys/within", "two presses can be %d to %d ms apart", quickest, slowest)
	case !within(k.Hold, slowest):
		return document.Wrong("keys/hold", "a key is held after %d to %d ms", quickest, slowest)
	case !within(k.Limit, longestLimit) || k.Limit > 0 && k.Timing().Limit <= k.Timing().Hold:
		return document.Wrong("keys/limit", "a key counts as held for at most ten minutes, and for longer than it takes to be held")
	}
	return nil
}

// Timing returns the times to go by.
func (k *KeyTiming) Timing() gesture.Timing {
	t := gesture.Usual()
	if k == nil {
		return t
	}
	set := func(to *time.Duration, ms int) {
		if ms > 0 {
			*to = time.Duration(ms) * time.Millisecond
		}
	}
	set(&t.Within, k.Within)
	set(&t.Hold, k.Hold)
	set(&t.Limit, k.Limit)
	return t
}

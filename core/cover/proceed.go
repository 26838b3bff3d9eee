package cover

import (
	"math"
	"time"
)

// proceed brings what is wanted and what the outputs are together, step by step.
func (s *State) proceed(now time.Time, by Settings) Result {
	var r Result
	s.drawsNothing(now, &r)
	s.stopDue(now, by, &r)
	if r.Done == Nothing {
		s.plan(now, by, &r)
	}
	s.switchOff(now, &r)
	s.switchOn(now, by, &r)
	if r.Done == Nothing {
		s.rest(now, by, &r)
	}
	return r
}

// stopDue ends a run whose time is over.
func (s *State) stopDue(now time.Time, by Settings, r *Result) {
	switch side, moves := s.Moving(); {
	case s.Runs && !s.StopAt.IsZero() && !now.Before(s.StopAt):
		s.Runs, s.StopAt = false, time.Time{}
		if s.Learning.active() {
			s.Learning.fail("No end was found within two minutes.")
			r.Done, r.Reason = Unlearnt, s.Learning.Problem
			return
		}
		if moves {
			s.arrive(side, now, by)
		}
	case s.Runs && s.StopAt.IsZero() && !s.Outputs[s.Want].Asked && now.Sub(s.WantedAt) > LongestRun:
		s.give(r, "Its outputs do not do what they are told.")
	case s.Runs && s.Outputs[s.Want].Asked && now.Sub(s.Outputs[s.Want].AskedAt) >= Transit:
		s.give(r, "It did not start.")
	}
}

// give gives up what the shutter was sent to.
func (s *State) give(r *Result, reason string) {
	s.Runs, s.Sent, s.StopAt = false, false, time.Time{}
	r.Done, r.Reason = Failed, reason
	if s.Learning.active() {
		s.Learning.fail(reason)
		r.Done = Unlearnt
	}
}

// arrive fixes where a run that was planned to an end has come to.
func (s *State) arrive(side Side, now time.Time, by Settings) {
	if _, toEnd := s.heads(side); toEnd {
		s.Place, s.Known, s.At = side.end(), true, now
		return
	}
	s.settle(now, by)
}

// plan decides whether, and which way, to run.
func (s *State) plan(now time.Time, by Settings, r *Result) {
	if s.Learning.active() {
		s.learn(now)
		return
	}
	if !s.Sent {
		return
	}
	here, known := s.Estimate(now, by)
	side, moves := s.Moving()
	if moves && s.Runs && s.Want == side {
		// Under way: a new goal in the same direction moves the end of the run, one behind turns it round.
		if !s.StopAt.IsZero() {
			return
		}
		if known && !ahead(side, here, s.Goal) {
			s.Runs, s.StopAt = false, time.Time{}
			return
		}
		s.settle(now, by)
		s.started(side, now, by)
		return
	}
	if moves && !s.Runs && known && ahead(side, here, s.Goal) {
		s.settle(now, by)
		s.Want, s.Runs, s.WantedAt = side, true, now // a hand's run that goes the right way
		s.started(side, now, by)
		return
	}
	if s.Runs || moves {
		return
	}
	if known && s.Tries > 0 && (math.Abs(here-s.Goal) < near || s.Tries >= corrections) {
		s.Sent = false
		r.Done = Arrived
		return
	}
	if known && math.Abs(here-s.Goal) < fine {
		s.Sent = false
		r.Done = Arrived
		return
	}
	s.Want = Down
	if (known && s.Goal > here) || (!known && s.Goal >= Open/2) {
		s.Want = Up
	}
	s.Runs, s.WantedAt = true, now
	s.Tries++
}

// ahead reports whether a goal lies far enough before a shutter that moves to be run to.
func ahead(side Side, here, goal float64) bool {
	if side == Up {
		return goal-here >= fine
	}
	return here-goal >= fine
}

// switchOff tells every output off that is or may be on and is not to be, until it says that it is.
func (s *State) switchOff(now time.Time, r *Result) {
	for side := range s.Outputs {
		o := &s.Outputs[side]
		handRuns := s.Hand && o.On && !s.Runs && !s.Halting && !s.Sent
		if (!o.On && !o.Asked) || (s.Runs && s.Want == Side(side)) || handRuns {
			continue
		}
		if o.Asked && !o.On && o.Heard && !o.OffAt.IsZero() && now.Sub(o.OffAt) >= Transit {
			// It was told off, what was told has long arrived, and it says that it is off.
			o.Asked, o.OffAt, o.Offs = false, time.Time{}, 0
			continue
		}
		if !o.OffAt.IsZero() && (!o.On || now.Sub(o.OffAt) < o.repeats()) {
			continue // told; what says that it is off only has to have arrived
		}
		o.OffAt = now
		o.Offs++
		r.Switch = append(r.Switch, Switch{Side(side), false})
		if o.Offs == stubborn && r.Done == Nothing {
			s.Sent, s.Runs, s.Halting = false, false, true
			r.Done, r.Reason = Failed, "It does not switch off. Cut its power if it does not stop."
		}
	}
}

func later(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}

// repeats is how long to wait until an output that stays on is told to go off once more.
func (o *Output) repeats() time.Duration { return repeatOff << min(max(o.Offs-1, 0), 5) }

// switchOn tells the wanted output on. Nothing else ever does, and here stands the law: only when the other is
// off by its own word and has rested for the dead time, and so has this one, unless it is on.
func (s *State) switchOn(now time.Time, by Settings, r *Result) {
	if !s.Runs {
		return
	}
	mine, other := &s.Outputs[s.Want], &s.Outputs[s.Want.other()]
	if now.Before(s.NotBefore) || mine.On || mine.Asked || !mine.Heard || !other.rests(now, by.Dead) {
		return
	}
	mine.Asked, mine.AskedAt, mine.OffAt, mine.Offs = true, now, time.Time{}, 0
	r.Switch = append(r.Switch, Switch{s.Want, true})
}

// rest says what came to its end when the shutter has come to rest.
func (s *State) rest(now time.Time, by Settings, r *Result) {
	if _, moves := s.Moving(); moves || s.Runs || s.Outputs[Up].Asked || s.Outputs[Down].Asked || s.Outputs[Up].On || s.Learning.active() {
		return
	}
	switch {
	case s.Halting:
		s.Halting = false
		r.Done = Halted
	case s.Hand:
		s.Hand = false
		r.Done = ByHand
	case s.Sent:
		// A run has ended and the goal is still to be reached, or just was.
		s.plan(now, by, r)
		if r.Done == Nothing {
			s.switchOn(now, by, r)
		}
	}
}

// Next returns when Tick is worth calling, the zero time for never.
func (s *State) Next(by Settings) time.Time {
	var next time.Time
	at := func(t time.Time) {
		if next.IsZero() || t.Before(next) {
			next = t
		}
	}
	if s.Runs {
		mine, other := &s.Outputs[s.Want], &s.Outputs[s.Want.other()]
		switch {
		case !s.StopAt.IsZero():
			at(s.StopAt)
		case mine.Asked:
			at(mine.AskedAt.Add(Transit))
		case other.Heard && !other.On && !other.Asked && !mine.On:
			at(later(other.Since.Add(by.Dead), s.NotBefore))
			at(s.WantedAt.Add(LongestRun + time.Second))
		default:
			at(s.WantedAt.Add(LongestRun + time.Second))
		}
	}
	if from, idles := s.idleFrom(); idles {
		at(from.Add(standsIdle))
	}
	for side := range s.Outputs {
		o := &s.Outputs[side]
		if (s.Runs && s.Want == Side(side)) || o.OffAt.IsZero() {
			continue
		}
		switch {
		case o.On:
			at(o.OffAt.Add(o.repeats()))
		case o.Asked:
			at(o.OffAt.Add(Transit))
		}
	}
	return next
}

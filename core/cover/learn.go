package cover

import "time"

// Phase is where the measuring of the travel times stands.
type Phase string

// The phases, in their order.
const (
	ToShut   Phase = "toShut"   // down to the end stop, to begin from
	Opening  Phase = "opening"  // up, measured
	Shutting Phase = "shutting" // down again, measured
	Finished Phase = "finished"
	Broken   Phase = "broken" // Problem says why
)

// Learning is a guided run that measures the travel times: down to the end, up and down. An end is found by
// the motor that draws nothing any more, or told by whoever watches.
type Learning struct {
	Phase   Phase  `json:"phase" enum:"toShut,opening,shutting,finished,broken"`
	Travel  Travel `json:"travel"`
	Problem string `json:"problem,omitempty"`
}

func (l *Learning) active() bool { return l != nil && l.Phase != Finished && l.Phase != Broken }

func (l *Learning) fail(reason string) { l.Phase, l.Problem = Broken, reason }

func (l *Learning) side() Side {
	if l.Phase == Opening {
		return Up
	}
	return Down
}

// Measures reports whether the travel times are being measured.
func (s *State) Measures() bool { return s.Learning.active() }

// Learn begins to measure the travel times.
func (s *State) Learn(now time.Time, by Settings) Result {
	s.Sent, s.Runs, s.Halting, s.Hand, s.StopAt = false, false, false, false, time.Time{}
	s.Learning = &Learning{Phase: ToShut}
	return s.proceed(now, by)
}

// Here says, while the travel times are measured, that the shutter has just come to an end of its way.
func (s *State) Here(now time.Time, by Settings) Result {
	side, moves := s.Moving()
	if !moves || !s.Learning.active() {
		return Result{}
	}
	var r Result
	s.ended(side, now, now, &r)
	further := s.proceed(now, by)
	if r.Done != Nothing {
		further.Done = r.Done
	}
	return further
}

// Forget takes the last measuring away, ending it if it still runs. A way that the shutter was sent on since goes on.
func (s *State) Forget(now time.Time, by Settings) Result {
	if s.Learning.active() {
		s.Known = false
		s.halt(now)
	}
	s.Learning = nil
	return s.proceed(now, by)
}

// learn keeps the motor running the way of the present phase.
func (s *State) learn(now time.Time) {
	if _, moves := s.Moving(); moves || s.Runs {
		return
	}
	s.Want, s.Runs, s.WantedAt = s.Learning.side(), true, now
}

// measured takes that the end of a phase's way was reached after a run.
func (s *State) measured(side Side, ran time.Duration, r *Result) {
	l := s.Learning
	if side != l.side() {
		return
	}
	s.Runs, s.StopAt = false, time.Time{}
	switch l.Phase {
	case ToShut:
		l.Phase = Opening
	case Opening:
		l.Travel.UpSeconds, l.Phase = ran.Seconds(), Shutting
	case Shutting:
		l.Travel.DownSeconds, l.Phase = ran.Seconds(), Finished
		r.Done = Learned
	}
}

// unlearnt ends the measuring and halts the motor.
func (s *State) unlearnt(reason string, now time.Time, by Settings) Result {
	s.Learning.fail(reason)
	s.Known = false
	s.halt(now)
	r := s.proceed(now, by)
	r.Done, r.Reason = Unlearnt, reason
	return r
}

// Package cover guards the two outputs of a shutter's motor, which must never be powered both ways and rest
// for a dead time between directions, and computes where the shutter stands from how long it ran. It says
// which output to switch; it knows no device, sends nothing, and knows the time but by argument.
package cover

import (
	"math"
	"time"

	"amvek/core/document"
)

// Side is one of the two outputs: the one that raises the shutter, or the one that lowers it.
type Side int

// The sides.
const (
	Up Side = iota
	Down
)

func (s Side) other() Side { return 1 - s }

func (s Side) end() float64 {
	if s == Up {
		return Open
	}
	return Shut
}

// The ends of a shutter's way, in percent.
const (
	Shut = 0.0
	Open = 100.0
)

const (
	// Transit is how long what is told may take to arrive and to be answered. What an output says within this
	// time after it was told to go on may be older than that: until so long after it was told to go off, it is
	// held for on.
	Transit = 2 * time.Second
	// repeatOff is after how long an output that should be off is told so again, then twice that, and so on.
	repeatOff = time.Second
	// stubborn is after how many such times it is said that it stays on.
	stubborn = 4
	// LongestRun bounds a run of which nothing says where it ends.
	LongestRun = 2 * time.Minute
	// beyond is how much longer than computed a run to an end lasts, so that it surely gets there:
	// a share of the way, and a while.
	beyondShare = 0.1
	beyondWhile = time.Second
	// standsIdle is how long a motor that is on draws nothing until it is taken to stand at an end: it may only
	// just have started, or its output have gone off, which is said in a moment.
	standsIdle = 700 * time.Millisecond
	// DefaultDead is the dead time where the profile gives none.
	DefaultDead = time.Second
	// idle is the power, in watts, below which a motor is taken to stand still.
	idle = 5.0
	// fine is the smallest difference of positions that is worth a run, and near the largest that is not worth
	// another one, in percent.
	fine, near = 1.0, 3.0
	// corrections bounds the runs for one goal.
	corrections = 4
)

// Travel is how long a shutter takes from end to end, in seconds; 0 is not known.
type Travel struct {
	UpSeconds   float64 `json:"upSeconds" minimum:"1" maximum:"120" doc:"From shut to open."`
	DownSeconds float64 `json:"downSeconds" minimum:"1" maximum:"120" doc:"From open to shut."`
}

// Known reports whether both times are known.
func (t Travel) Known() bool { return t.UpSeconds > 0 && t.DownSeconds > 0 }

// Check returns an error when the times cannot be those of a shutter.
func (t Travel) Check() error {
	for _, s := range []float64{t.UpSeconds, t.DownSeconds} {
		if !(s >= 1 && s <= LongestRun.Seconds()) {
			return document.Wrong("travel", "%g s is not from 1 to %g s", s, LongestRun.Seconds())
		}
	}
	return nil
}

func (t Travel) seconds(s Side) float64 {
	if s == Up {
		return t.UpSeconds
	}
	return t.DownSeconds
}

// Settings are what the owner and the profile say about a shutter.
type Settings struct {
	Travel Travel
	Dead   time.Duration
}

// Output is what is known of one of the two outputs.
type Output struct {
	Heard bool `json:"heard,omitempty"`
	On    bool `json:"on,omitempty"`
	// Since is when it last said that it went on or off.
	Since time.Time `json:"since,omitzero"`
	// Asked says that it was told to go on and may yet do so, whatever it says; AskedAt is when.
	Asked   bool      `json:"asked,omitempty"`
	AskedAt time.Time `json:"askedAt,omitzero"`
	// OffAt is when it was last told to go off since it was told on or went on, and Offs how often.
	OffAt time.Time `json:"offAt,omitzero"`
	Offs  int       `json:"offs,omitempty"`
}

// rests reports whether it is surely off, and its motor has rested for the dead time.
func (o *Output) rests(now time.Time, dead time.Duration) bool {
	return o.Heard && !o.On && !o.Asked && now.Sub(o.Since) >= dead
}

// Switch tells an output to go on or off.
type Switch struct {
	Side Side
	On   bool
}

// Done says what came to its end.
type Done int

// What may have come to its end.
const (
	Nothing  Done = iota
	Arrived       // it stands where it was sent
	Halted        // it was stopped on request
	ByHand        // a hand at the device moved or stopped it, and now it rests
	Failed        // it did not do what it was sent to; Reason says why
	Learned       // the travel times are measured
	Unlearnt      // they could not be measured; Reason says why
)

// Result is what follows from an input: what to switch at once, and what came to its end.
type Result struct {
	Switch []Switch
	Done   Done
	Reason string
}

// State is where a shutter stands and what it is about. Its zero value knows nothing. It is data, so that it
// can be kept over a restart.
type State struct {
	Outputs [2]Output `json:"outputs"`
	// Place is where it stood at At, in percent; it counts only if Known.
	Place float64   `json:"place"`
	Known bool      `json:"known"`
	At    time.Time `json:"at,omitzero"`
	// Runs says that Want is to run; Goal is where to, if Sent.
	Runs bool    `json:"runs,omitempty"`
	Want Side    `json:"want,omitempty"`
	Sent bool    `json:"sent,omitempty"`
	Goal float64 `json:"goal,omitempty"`
	// WantedAt is since when it waits to run; StopAt is when the run ends.
	WantedAt time.Time `json:"wantedAt,omitzero"`
	StopAt   time.Time `json:"stopAt,omitzero"`
	Halting  bool      `json:"halting,omitempty"`
	// Tries is how many runs were begun for the goal.
	Tries int `json:"tries,omitempty"`
	// Draws says that the motor tells what power it draws, and IdleSince since when that is none; AtEnd says that
	// the present run has come to an end of the way.
	Draws     bool      `json:"draws,omitempty"`
	IdleSince time.Time `json:"idleSince,omitzero"`
	AtEnd     bool      `json:"atEnd,omitempty"`
	// Hand says that the present run is a hand's.
	Hand     bool      `json:"hand,omitempty"`
	Learning *Learning `json:"learning,omitempty"`
	// NotBefore is until when nothing is switched on, since what was told earlier may still be on its way.
	NotBefore time.Time `json:"notBefore,omitzero"`
}

// Doubt takes that it is not known what the outputs were told last: for as long as that may take to arrive,
// nothing is switched on.
func (s *State) Doubt(now time.Time) { s.NotBefore = now.Add(Transit) }

// Clone returns a copy that shares nothing with s; nil of nil.
func (s *State) Clone() *State {
	if s == nil {
		return nil
	}
	clone := *s
	if s.Learning != nil {
		learning := *s.Learning
		clone.Learning = &learning
	}
	return &clone
}

// Moving returns which way the motor runs; it is false while it rests.
func (s *State) Moving() (Side, bool) {
	if s.Outputs[Up].On != s.Outputs[Down].On {
		if s.Outputs[Up].On {
			return Up, true
		}
		return Down, true
	}
	return Up, false
}

// Estimate returns where the shutter stands at a moment, in percent; it is false where that is not known.
func (s *State) Estimate(now time.Time, by Settings) (float64, bool) {
	side, moves := s.Moving()
	if !moves {
		return s.Place, s.Known
	}
	if s.AtEnd {
		return side.end(), true
	}
	whole := by.Travel.seconds(side)
	if whole <= 0 {
		return s.Place, false
	}
	ran := max(0, now.Sub(s.Outputs[side].Since).Seconds())
	if ran >= whole*(1+beyondShare) {
		return side.end(), true // it has been at the end stop for a while, wherever it began
	}
	way := 100 * max(0, now.Sub(s.At).Seconds()) / whole
	if side == Down {
		way = -way
	}
	return min(max(s.Place+way, Shut), Open), s.Known
}

// Go sends the shutter to a position, in percent.
func (s *State) Go(to float64, now time.Time, by Settings) Result {
	if s.Learning.active() {
		return s.unlearnt("It was sent elsewhere.", now, by)
	}
	if !by.Travel.Known() && to > Shut && to < Open {
		return Result{Done: Failed, Reason: "Its travel times are not known yet: learn them first."}
	}
	if s.Outputs[Up].On && s.Outputs[Down].On {
		s.halt(now)
		return s.proceed(now, by)
	}
	s.Sent, s.Goal, s.Halting, s.Hand, s.Tries, s.StopAt = true, to, false, false, 0, time.Time{}
	return s.proceed(now, by)
}

// Stop halts the shutter where it is.
func (s *State) Stop(now time.Time, by Settings) Result {
	if s.Learning.active() {
		return s.unlearnt("It was stopped.", now, by)
	}
	s.halt(now)
	return s.proceed(now, by)
}

func (s *State) halt(time.Time) {
	s.Sent, s.Runs, s.Halting, s.StopAt = false, false, true, time.Time{}
}

// Report takes what an output says of itself.
func (s *State) Report(side Side, on bool, now time.Time, by Settings) Result {
	o := &s.Outputs[side]
	if o.Heard && o.On == on {
		return s.proceed(now, by)
	}
	s.settle(now, by)
	ran := o.On
	mine := on && s.Runs && s.Want == side && o.Asked
	o.Heard, o.On, o.Since = true, on, now
	s.AtEnd = false
	switch {
	case on:
		o.Asked, o.OffAt, o.Offs = false, time.Time{}, 0
	case now.Sub(o.AskedAt) < Transit:
		o.Asked = true // this may have been said before it was told to go on
	default:
		o.OffAt, o.Offs = time.Time{}, 0
	}
	switch {
	case on && s.Outputs[side.other()].On:
		return s.both(now, by)
	case on && !mine:
		if s.Learning.active() {
			return s.unlearnt("Somebody pressed the button at the wall.", now, by)
		}
		s.Hand, s.Sent, s.Runs, s.Halting, s.StopAt = true, false, false, false, time.Time{}
	case on:
		s.started(side, now, by)
	case ran && s.Runs && s.Want == side:
		// It went off though it was to run: a hand stopped it, or its power failed.
		if s.Learning.active() {
			return s.unlearnt("Somebody stopped it at the wall.", now, by)
		}
		s.Hand, s.Sent, s.Runs, s.StopAt = true, false, false, time.Time{}
	}
	return s.proceed(now, by)
}

// both stops everything: the two outputs say that both are on.
func (s *State) both(now time.Time, by Settings) Result {
	s.Known = false
	s.halt(now)
	s.Halting = false
	r := s.proceed(now, by)
	if s.Learning.active() {
		s.Learning.fail("Both outputs were on.")
		r.Done, r.Reason = Unlearnt, s.Learning.Problem
		return r
	}
	r.Done, r.Reason = Failed, "Both outputs said that they were on. Both were switched off."
	return r
}

// Draw takes how much power the motor draws, in watts: a motor that runs and draws nothing stands at its end.
func (s *State) Draw(watts float64, now time.Time, by Settings) Result {
	s.Draws = true
	switch {
	case watts >= idle:
		s.IdleSince = time.Time{}
	case s.IdleSince.IsZero():
		s.IdleSince = now
	}
	return s.proceed(now, by)
}

// idleFrom returns since when a motor that is on draws nothing; it is false where it draws, or that is not known.
func (s *State) idleFrom() (time.Time, bool) {
	side, moves := s.Moving()
	if !moves || !s.Draws || s.IdleSince.IsZero() || s.AtEnd {
		return time.Time{}, false
	}
	if began := s.Outputs[side].Since; began.After(s.IdleSince) {
		return began, true
	}
	return s.IdleSince, true
}

// drawsNothing ends a run whose motor draws nothing.
func (s *State) drawsNothing(now time.Time, r *Result) {
	if from, idles := s.idleFrom(); idles && now.Sub(from) >= standsIdle {
		side, _ := s.Moving()
		s.ended(side, from, now, r)
	}
}

// ended takes that the shutter came to an end of its way at a moment.
func (s *State) ended(side Side, at, now time.Time, r *Result) {
	s.Place, s.Known, s.At, s.AtEnd = side.end(), true, now, true
	if s.Learning.active() {
		s.measured(side, at.Sub(s.Outputs[side].Since), r)
	} else if s.Runs && s.Want == side {
		s.Runs, s.StopAt = false, time.Time{}
	}
}

// Lost takes that the device lost power or was restarted: nothing runs any more, and how far it ran is not known.
func (s *State) Lost(now time.Time, by Settings) Result {
	_, moved := s.Moving()
	asked := s.Outputs[Up].Asked || s.Outputs[Down].Asked
	for i := range s.Outputs {
		s.Outputs[i] = Output{Since: now}
	}
	s.Doubt(now)
	wasSent := s.Sent || s.Runs
	s.Runs, s.Sent, s.Halting, s.Hand, s.StopAt = false, false, false, false, time.Time{}
	if moved || asked {
		s.Known = false
	}
	const reason = "It lost its power on the way."
	if s.Learning.active() {
		s.Learning.fail(reason)
		return Result{Done: Unlearnt, Reason: reason}
	}
	if wasSent {
		return Result{Done: Failed, Reason: reason}
	}
	return Result{}
}

// Turn takes that the two outputs have changed their parts, since the direction was set the other way round.
func (s *State) Turn(now time.Time, by Settings) Result {
	s.settle(now, by)
	s.Outputs[Up], s.Outputs[Down] = s.Outputs[Down], s.Outputs[Up]
	s.Place = Open - s.Place
	s.halt(now)
	return s.proceed(now, by)
}

// Tick takes that time has passed.
func (s *State) Tick(now time.Time, by Settings) Result { return s.proceed(now, by) }

// settle fixes where the shutter stands now, before the way it moves changes.
func (s *State) settle(now time.Time, by Settings) {
	if _, moves := s.Moving(); moves {
		s.Place, s.Known = s.Estimate(now, by)
	}
	s.At = now
}

// started plans the end of a run that has begun.
func (s *State) started(side Side, now time.Time, by Settings) {
	whole := by.Travel.seconds(side)
	switch goal, toEnd := s.heads(side); {
	case s.Learning.active() || whole <= 0:
		s.StopAt = now.Add(LongestRun)
	case toEnd:
		// For the whole way, wherever it is believed to be: the end stop ends it, and corrects what was believed.
		s.StopAt = now.Add(seconds(whole*(1+beyondShare)) + beyondWhile)
	default:
		s.StopAt = now.Add(seconds(whole * math.Abs(goal-s.Place) / 100))
	}
}

// heads returns where the present run goes, and whether that is an end of the way.
func (s *State) heads(side Side) (goal float64, toEnd bool) {
	if !s.Known || s.Goal == side.end() {
		return side.end(), true
	}
	return s.Goal, false
}

func seconds(f float64) time.Duration { return time.Duration(f * float64(time.Second)) }

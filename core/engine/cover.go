package engine

import (
	"math"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/cover"
	"amvek/core/hold"
	"amvek/core/home"
	"amvek/core/state"
	"amvek/core/thing"
)

// driver joins the position of a shutter with the two outputs that drive its motor, and with what tells how.
type driver struct {
	position             *slot
	outputs              [2]*slot // as the profile names them: up, down
	reversed, draw, kind *slot    // nil where the device has none
	settings             cover.Settings
	wake                 time.Time
	swapped              bool
	stoppedBy            string   // who stopped it last, and the entry of that
	stopped              cause.ID // 0 where nobody did
	learning             why
}

// tellsPlaceEach is how often a shutter that moves says where it is.
const tellsPlaceEach = time.Second

// join finds the parts of every shutter of a device.
func (e *Engine) join(id string, d *home.Device) {
	slots := e.byDevice[id]
	for i := range slots {
		slots[i].driver = nil
		slots[i].attach()
	}
	for i := range slots {
		s := &slots[i]
		c := s.property.Cover
		if c == nil {
			continue
		}
		up, down := e.find(id, c.Up), e.find(id, c.Down)
		if up == nil || down == nil {
			continue
		}
		dr := &driver{position: s, outputs: [2]*slot{up, down}, reversed: e.find(id, c.Reversed), draw: e.find(id, c.Draw)}
		if s.property.Only != nil {
			dr.kind = e.find(id, s.property.Only.Name)
		}
		dr.settings = cover.Settings{Travel: d.Travel[s.ref.Name], Dead: cover.DefaultDead}
		if c.DeadSeconds > 0 {
			dr.settings.Dead = time.Duration(c.DeadSeconds * float64(time.Second))
		}
		if s.state.Cover == nil {
			s.state.Cover = &cover.State{}
		}
		for _, part := range []*slot{s, up, down, dr.reversed, dr.draw, dr.kind} {
			if part != nil {
				part.driver = dr
				part.attach()
			}
		}
		dr.swapped = dr.isReversed()
		if !e.loading {
			e.awaken(dr)
		}
	}
}

// active reports whether the device is set up to drive a shutter.
func (d *driver) active() bool {
	return d.kind == nil || d.kind.Reported == thing.Text(d.position.property.Only.Value)
}

// free reports whether a hand here has said that the two outputs drive different things.
func (d *driver) free() bool {
	if d.kind == nil || d.active() {
		return false
	}
	base := d.kind.state.Stack.Base
	return base.ByHand && strings.HasPrefix(base.By, "hand:") && base.Value == d.kind.Reported
}

func (d *driver) isReversed() bool { return d.reversed != nil && d.reversed.Reported.True() }

func (d *driver) output(side cover.Side) *slot {
	if d.isReversed() {
		side = 1 - side
	}
	return d.outputs[side]
}

func (d *driver) side(s *slot) (cover.Side, bool) {
	for side := range d.outputs {
		if d.outputs[side] == s {
			if d.isReversed() {
				side = 1 - side
			}
			return cover.Side(side), true
		}
	}
	return cover.Up, false
}

// driven takes a report of an output that drives a shutter; it is false for any other property.
func (e *Engine) driven(s *slot, v thing.Value) bool {
	d := s.driver
	side, is := d.side(s)
	if !is || !d.active() || s.property.Check(v) != nil {
		return false
	}
	e.switched(d, s, side, v)
	return true
}

// partChanged takes that a property which tells how a shutter is driven has another value, from w.
func (e *Engine) partChanged(s *slot, w why) {
	d := s.driver
	state := d.position.state.Cover
	switch {
	case s == d.kind:
		e.heardKind(d)
	case !d.active():
		if s == d.reversed {
			d.swapped = d.isReversed()
		}
	case s == d.draw:
		e.drives(d, state.Draw(s.Reported.Number, e.now, d.settings), w)
	case s == d.reversed && d.isReversed() != d.swapped:
		d.swapped = d.isReversed()
		e.drives(d, state.Turn(e.now, d.settings), w)
	}
}

// heardKind tells a shutter that has just become one how its outputs stand.
func (e *Engine) heardKind(d *driver) {
	state := d.position.state.Cover
	if !d.active() {
		*state = cover.State{} // it drives no shutter any more
		e.touch(d.position)
		e.awaken(d)
		return
	}
	state.Doubt(e.now)
	for _, s := range d.outputs {
		side, _ := d.side(s)
		if s.Reported.IsNone() || (state.Outputs[side].Heard && state.Outputs[side].On == s.Reported.True()) {
			continue
		}
		s.state.Stack = hold.Stack{Base: hold.Base{Value: s.Reported, Since: e.now}}
		e.drives(d, state.Report(side, s.Reported.True(), e.now, d.settings), why{})
	}
}

// switched takes that an output of a shutter went on or off.
func (e *Engine) switched(d *driver, s *slot, side cover.Side, v thing.Value) {
	st := &s.state
	s.ReportedAt = e.now
	w := why{}
	switch {
	case st.Certainty == state.Pending && v == st.Target:
		e.confirm(s)
		w = why{id: st.Asked, depth: st.Depth}
	case v != s.Reported:
		if !s.Reported.IsNone() {
			origin := e.origin()
			origin.Kind, origin.Value, origin.Device, origin.Name = cause.ByDevice, v, s.ref.Device, s.ref.Name
			e.inputEntry()
		}
		st.Target, st.Certainty, st.Failure, st.Unreached = v, state.Confirmed, "", false
		e.change(s, v, why{})
	}
	st.Stack.Base = hold.Base{Value: v, Since: e.now, Cause: s.ChangedBy}
	e.drives(d, d.position.state.Cover.Report(side, v.True(), e.now, d.settings), w)
}

// drives carries out what follows for a shutter, from w.
func (e *Engine) drives(d *driver, r cover.Result, w why) {
	for _, change := range r.Switch {
		e.tellOutput(d, change, w)
	}
	p := d.position
	st := &p.state
	place, known := st.Cover.Estimate(e.now, d.settings)
	v := thing.Number(math.Round(place))
	if !known {
		v = thing.Value{}
	}
	switch r.Done {
	case cover.Nothing:
		if known {
			e.change(p, v, w)
		}
	case cover.Arrived:
		if st.Certainty == state.Pending {
			st.Milliseconds = float64(e.now.Sub(st.AskedAt).Microseconds()) / 1000
			w = e.follow(
				why{id: st.Asked, depth: st.Depth},
				cause.Entry{Kind: cause.Confirmed, Device: p.ref.Device, Name: p.ref.Name, Value: v, Milliseconds: st.Milliseconds},
			)
			st.Certainty, st.Failure = state.Confirmed, ""
		}
		e.change(p, v, w)
		e.done(p, w)
	case cover.ByHand:
		e.stands(d, v, "device", why{})
	case cover.Halted:
		e.stands(d, v, d.stoppedBy, why{id: d.stopped})
	case cover.Learned:
		e.stands(d, v, d.stoppedBy, d.learning)
		e.follow(d.learning, cause.Entry{Kind: cause.Learned, Device: p.ref.Device, Name: p.ref.Name})
	case cover.Failed:
		if st.Certainty != state.Pending {
			st.Asked, st.Depth = e.resolve(w), w.depth
		}
		e.change(p, v, w)
		e.fail(p, r.Reason, false)
	case cover.Unlearnt:
		e.follow(d.learning, cause.Entry{Kind: cause.Failed, Device: p.ref.Device, Name: p.ref.Name, Note: r.Reason})
	}
	e.touch(p)
	e.awaken(d)
}

// stands takes that a shutter was stopped by somebody and stands where it is: what was wanted before counts no more.
func (e *Engine) stands(d *driver, v thing.Value, by string, w why) {
	p := d.position
	st := &p.state
	st.Failure, st.Unreached = "", false
	if v.IsNone() {
		st.Certainty, st.Target, st.Stack.Base = state.Unknown, v, hold.Base{}
		e.change(p, v, w)
		return
	}
	if w.id == 0 && by == "device" {
		origin := e.origin()
		origin.Kind, origin.Value, origin.Device, origin.Name = cause.ByDevice, v, p.ref.Device, p.ref.Name
	}
	st.Target, st.Certainty = v, state.Confirmed
	e.handWrite(p, v, "", by, w)
	e.change(p, v, w)
	e.apply(p, 0, w) // a firm hold asks again
}

// tellOutput switches an output of a shutter.
func (e *Engine) tellOutput(d *driver, change cover.Switch, w why) {
	s, st := d.output(change.Side), &d.output(change.Side).state
	if w.id == 0 && d.position.state.Certainty == state.Pending {
		w = why{id: d.position.state.Asked, depth: d.position.state.Depth}
	}
	st.Before, st.Target = s.Reported, thing.Boolean(change.On)
	st.Certainty, st.Failure, st.Unreached, st.Stray = state.Pending, "", false, thing.Value{}
	st.AskedAt, st.SettleUntil, st.Depth = e.now, time.Time{}, w.depth
	st.Command = e.nextCommand
	e.nextCommand++
	st.Asked = e.follow(w, cause.Entry{Kind: cause.Commanded, Device: s.ref.Device, Name: s.ref.Name, Value: st.Target}).id
	e.out = append(e.out, Output{Kind: OutputCommand, Command: st.Command, Device: s.ref.Device, Name: s.ref.Name, Value: st.Target, Cause: st.Asked})
	e.touch(s)
}

// awaken schedules when a shutter next has something to do.
func (e *Engine) awaken(d *driver) {
	next := time.Time{}
	if d.active() {
		next = d.position.state.Cover.Next(d.settings)
	}
	if _, moves := d.position.state.Cover.Moving(); moves && d.active() {
		if tells := e.now.Add(tellsPlaceEach); next.IsZero() || tells.Before(next) {
			next = tells
		}
	}
	if soon := e.now.Add(10 * time.Millisecond); !next.IsZero() && next.Before(soon) {
		next = soon // whatever it waits for, it never keeps time from passing
	}
	if next.Equal(d.wake) {
		return
	}
	d.wake = next
	if !next.IsZero() {
		e.schedule(timer{at: next, kind: timerCover, slot: d.position})
	}
}

// drive sends a shutter to its effective position.
func (e *Engine) drive(s *slot, w why) {
	d, st := s.driver, &s.state
	st.Before, st.Target = s.Reported, st.Stack.Effective()
	st.Certainty, st.Failure, st.Unreached, st.Stray = state.Pending, "", false, thing.Value{}
	st.AskedAt, st.SettleUntil, st.Depth = e.now, time.Time{}, w.depth
	st.Asked = e.follow(w, cause.Entry{Kind: cause.Commanded, Device: s.ref.Device, Name: s.ref.Name, Value: st.Target}).id
	if !d.active() {
		e.fail(s, "It is not set up as a shutter.", false)
		return
	}
	e.drives(d, st.Cover.Go(st.Target.Number, e.now, d.settings), why{id: st.Asked, depth: w.depth})
}

// guarded takes a command to an output that may drive a shutter's motor, and reports whether it must not be sent.
func (e *Engine) guarded(s *slot, w why) bool {
	d := s.driver
	side, is := d.side(s)
	if !is || d.free() {
		return false
	}
	reason := ""
	other := d.output(1 - side)
	switch {
	case d.active():
		reason = "It drives a shutter: set the position instead."
	case s.state.Stack.Effective() != thing.Boolean(true):
	case other.state.Target.True() || other.Reported != thing.Boolean(false) || e.now.Sub(other.ChangedAt) < d.settings.Dead:
		reason = "The other output is on, or was a moment ago, and both may drive one motor: choose the operating kind first."
	}
	if reason == "" {
		return false
	}
	st := &s.state
	e.follow(w, cause.Entry{Kind: cause.Refused, Device: s.ref.Device, Name: s.ref.Name, Value: st.Stack.Effective(), Note: reason})
	st.Stack = hold.Stack{Base: hold.Base{Value: s.Reported, Since: e.now}}
	st.Target, st.Certainty, st.Failure, st.Unreached = s.Reported, state.Failed, reason, false
	e.touch(s)
	return true
}

// halt stops a shutter where it is, as a hand asks for it.
func (e *Engine) halt(d *driver, by cause.By) {
	d.stoppedBy, d.stopped = by.Hand(), e.inputEntry()
	e.drives(d, d.position.state.Cover.Stop(e.now, d.settings), why{id: d.stopped})
}

// Counts reports whether a property counts at present: one may do so only while its device is set up in some way.
func (e *Engine) Counts(ref thing.Ref) bool {
	s := e.at(ref)
	return s != nil && e.counts(s)
}

func (e *Engine) counts(s *slot) bool {
	only := s.property.Only
	if only == nil {
		return true
	}
	other := e.find(s.ref.Device, only.Name)
	return other != nil && other.Reported == thing.Text(only.Value)
}

// Verbs of an InputCover.
const (
	CoverLearn  = "learn"  // measure the travel times
	CoverHere   = "here"   // it has just come to an end of its way
	CoverForget = "forget" // end the measuring
)

// measure takes what a hand says about the measuring of travel times.
func (e *Engine) measure(in *Input) {
	s := e.find(in.Device, in.Name)
	if s == nil || s.driver == nil || s.driver.position != s || !s.driver.active() {
		return
	}
	d, state := s.driver, s.state.Cover
	origin := e.origin()
	origin.Kind, origin.Value = cause.Asked, thing.Value{}
	switch in.Verb {
	case CoverLearn:
		d.stoppedBy, d.learning = in.Doer.Hand(), why{id: e.inputEntry()}
		e.drives(d, state.Learn(e.now, d.settings), d.learning)
	case CoverHere:
		e.drives(d, state.Here(e.now, d.settings), d.learning)
	case CoverForget:
		entry := e.inputEntry()
		if state.Measures() {
			d.stoppedBy, d.stopped = in.Doer.Hand(), entry
		}
		e.drives(d, state.Forget(e.now, d.settings), why{id: entry})
	}
}

// restarted takes that a device lost its power and has it again.
func (e *Engine) restarted(device string) {
	slots := e.byDevice[device]
	for i := range slots {
		if d := slots[i].driver; d != nil && d.position == &slots[i] && d.active() {
			e.drives(d, slots[i].state.Cover.Lost(e.now, d.settings), why{id: e.inputEntry()})
		}
	}
}

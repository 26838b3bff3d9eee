package engine

import (
	"fmt"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/hold"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// find returns a property of a device, or nil.
func (e *Engine) find(device, name string) *slot { return e.slots.find(device, name) }

// at returns a property, or nil.
func (e *Engine) at(ref thing.Ref) *slot { return e.slots.find(ref.Device, ref.Name) }

func (e *Engine) touch(s *slot) {
	if s.glow == nil { // what is moved by an effect is no state for others to be kept at
		e.mayReflect(s)
	}
	if !s.dirty {
		s.dirty = true
		e.dirtySlots = append(e.dirtySlots, s)
	}
}

// report takes what a device says about a property. Which of the reports that differ
// from what is in effect are a hand's doing is decided here and in settled.
func (e *Engine) report(s *slot, said *thing.Value) {
	if !s.fits(said) {
		return
	}
	s.ReportedAt = e.now
	if !s.noted {
		s.noted = true
		e.spoke = append(e.spoke, s)
	}
	if !s.writable {
		if !s.plain && (s.adjusting != nil || s.ownLight != nil) && said.Kind == thing.KindNumber {
			e.read(s, *said)
			if s.ownLight != nil {
				e.takeOffLamps(s)
			}
			return
		}
		if said.Number == s.Reported.Number && *said == s.Reported { // the numbers alone mostly tell
			e.feedLinks(s, said, why{})
			return
		}
		if s.Reported.IsNone() {
			s.state.Certainty = state.Confirmed // and stays so
		}
		if said.Kind != thing.KindNumber {
			e.inputEntry()
		}
		e.touch(s)
		e.changeTo(s, said, why{})
		return
	}
	st, v := &s.state, *said
	if s.driven != nil {
		v = s.meant(v)
	}
	switch {
	case s.glow != nil && st.Certainty == state.Confirmed && s.echoes(v):
		st.Stray = thing.Value{}
		e.change(s, v, why{})
		s.measured = false // its history is not made of frames
	case st.Target.IsNone() && e.supplants(s, v):
	case st.Target.IsNone():
		// The first report is how the device was found, nobody's doing.
		st.Stack.Base = hold.Base{Value: v, Since: e.now}
		st.Target, st.Certainty = v, state.Confirmed
		e.change(s, v, why{})
	case s.follows(v):
		st.Stray = thing.Value{}
		if st.Certainty == state.Confirmed && s.Reported == st.Target {
			return
		}
		if st.Difference != nil {
			st.Difference = nil
			origin := e.origin()
			origin.Kind, origin.Value = cause.Agrees, v
			e.inputEntry()
		}
		e.confirm(s)
	case st.Certainty == state.Pending && s.strays(v):
		e.takenWhileFading(s, v)
	case st.Certainty == state.Pending:
		st.Stray = v
		e.change(s, v, why{id: st.Asked, depth: st.Depth})
	case e.now.Before(st.SettleUntil):
		st.Stray = v // perhaps an old state that arrives late: judged when settled
	case st.Certainty == state.Failed && v == s.Reported:
		// The device still says what it said when it did not follow.
	case st.Difference != nil && v == st.Difference.Found:
		// It still differs, which the owner is to settle.
	default:
		e.differs(s, v)
	}
}

// follows reports whether a value is what the property was asked to be, as closely as it can be told. What is off does not
// follow what is on, however little that is.
func (s *slot) follows(v thing.Value) bool {
	low, role := s.property.Minimum, s.property.Role
	if (role == thing.RoleBrightness || role == thing.RoleSpeed) && (v.Number > low) != (s.state.Target.Number > low) {
		return false
	}
	return v.Near(s.state.Target, s.property.Resolution)
}

// Heard calls f for each property that reported anything since this was called last, be it the same as before, which no output
// tells of: only when it was heard is different then.
func (e *Engine) Heard(f func(ref thing.Ref)) {
	for i, s := range e.spoke {
		s.noted = false
		if !s.gone {
			f(s.ref)
		}
		e.spoke[i] = nil
	}
	e.spoke = e.spoke[:0]
}

func (e *Engine) confirm(s *slot) {
	st := &s.state
	w := why{id: st.Asked, depth: st.Depth}
	if st.Certainty != state.Confirmed && st.Asked != 0 {
		st.Milliseconds = float64(e.now.Sub(st.AskedAt).Microseconds()) / 1000
		w = e.follow(w, cause.Entry{Kind: cause.Confirmed, Device: s.ref.Device, Name: s.ref.Name, Value: st.Target, Milliseconds: st.Milliseconds})
	}
	st.Certainty, st.Failure, st.Unreached, st.Interrupted, s.missed = state.Confirmed, "", false, false, 0
	e.confirmedTo(s)
	e.rejoined(s)
	e.change(s, st.Target, w)
	e.done(s, w)
}

// changedAtDevice takes a report as a write by hand with the device as its cause.
func (e *Engine) changedAtDevice(s *slot, v thing.Value) {
	origin := e.origin()
	origin.Kind, origin.Value, origin.Device, origin.Name = cause.ByDevice, v, s.ref.Device, s.ref.Name
	st, came, set := &s.state, s.comesOn(v), v
	var source hold.Source
	if on, follows := e.comesOn(s); came && follows != "" && s.justSwitched(v) {
		set, source = on, follows // it goes to where its day curve is
	}
	st.Aim(v)
	if s.property.Extinguishes(v) {
		defer e.backFromNow(s, why{})
	}
	st.Certainty, st.Failure, st.Unreached, st.Stray, st.Difference = state.Confirmed, "", false, thing.Value{}, nil
	e.handWrite(s, set, source, "device", why{})
	if came {
		e.lightsUp(s, why{})
	}
	e.change(s, v, why{})
	if top := e.inEffect(s, why{}); top != s {
		e.command(top, 0, why{}) // a firm hold of what it excludes asks again
		return
	}
	e.apply(s, 0, why{}) // a firm hold asks again
}

// setAnew takes that a property is set: what it was set to for now only counts no more, but where its light goes off, which brings
// that back.
func (e *Engine) setAnew(s *slot, v thing.Value) {
	if !s.property.Extinguishes(v) {
		s.state.ForNow = thing.Value{}
	}
}

func (e *Engine) handWrite(s *slot, v thing.Value, source hold.Source, by string, w why) {
	e.setAnew(s, v)
	id := e.resolve(w)
	write, suspend := (*hold.Stack).Write, (*hold.Stack).Suspend
	if strings.HasPrefix(by, sceneOwner) { // which a hand has chosen: what is laid on top of scenes stays there
		write, suspend = (*hold.Stack).WriteBelow, (*hold.Stack).SuspendBelow
	} else { // from an effect a scene takes all of its lamps at once, once all are written
		defer e.takenByHand(s, w)
	}
	if write(&s.state.Stack, hold.Base{Value: v, Source: source, Since: e.now, ByHand: true, By: by, Cause: id}) > 0 {
		e.follow(w, cause.Entry{Kind: cause.HandLeads, Device: s.ref.Device, Name: s.ref.Name, Value: v})
	}
	e.others(s, func(other *slot) {
		if suspend(&other.state.Stack) > 0 {
			e.follow(w, cause.Entry{Kind: cause.HandLeads, Device: other.ref.Device, Name: other.ref.Name, Value: v})
			e.touch(other)
		}
	})
	e.touch(s)
}

// settled runs when a command's settling time is over.
func (e *Engine) settled(s *slot) {
	st := &s.state
	st.SettleUntil = time.Time{}
	e.touch(s)
	stray := st.Stray
	st.Stray = thing.Value{}
	switch {
	case st.Certainty == state.Failed || st.Certainty == state.Assumed:
	case st.Certainty == state.Pending && s.follows(s.Reported):
		e.confirm(s)
	case st.Certainty == state.Pending && (st.Interrupted || stray.IsNone() || stray.Near(st.Before, s.property.Resolution)):
		st.Interrupted = false
		e.notFollowed(s)
	case !stray.IsNone():
		e.differs(s, stray)
	}
}

// notFollowed takes that a command was accepted and not done.
func (e *Engine) notFollowed(s *slot) {
	policy := e.policy(s.ref.Device)
	const reason = "The device did not follow."
	if policy.Policy != home.SetAgain || s.Reported.IsNone() {
		e.fail(s, reason, false)
		return
	}
	if e.now.Sub(s.state.Disputes.Since) > disputeMemory || s.state.Disputes.Count < policy.Times() {
		e.setAgain(s, s.Reported, policy.Times())
		return
	}
	e.fail(s, fmt.Sprintf("%s It was asked %d times.", reason, s.state.Disputes.Count+1), false)
}

func (e *Engine) fail(s *slot, reason string, unreached bool) {
	st := &s.state
	st.Certainty, st.Failure, st.Unreached = state.Failed, reason, unreached
	// Of what only follows its day curve, or is tried again, it is said once, by how it stands.
	if !unreached || (st.Asked != 0 && s.missed == 0) {
		e.follow(why{id: st.Asked, depth: st.Depth}, cause.Entry{Kind: cause.Failed, Device: s.ref.Device, Name: s.ref.Name, Value: st.Target, Note: reason})
	}
	e.touch(s)
	e.done(s, why{id: st.Asked, depth: st.Depth})
}

// change sets the reported value and, where it is another, wakes what depends on it.
func (e *Engine) change(s *slot, v thing.Value, w why) {
	e.touch(s)
	if v != s.Reported {
		e.changeTo(s, &v, w)
	}
}

// changeTo is change to a value that is known to be another and stays as it is meanwhile.
func (e *Engine) changeTo(s *slot, v *thing.Value, w why) {
	var before thing.Value
	if !s.plain {
		before = s.Reported
	}
	s.Reported.Assign(v)
	s.ChangedAt, s.measured = e.now, true
	if !s.plain && s.driver != nil && s != s.driver.position {
		e.partChanged(s, w)
	}
	ahead := v.Kind == thing.KindNumber // of numbers, few at most turn anything
	for i := range s.tests {
		if d := &s.tests[i]; d.turns(v) {
			if !ahead {
				e.ahead, ahead = readAhead(s.tests[i:]), true
			}
			e.compare(d, *v, w)
		}
	}
	if !s.plain {
		e.tellAttached(s, before, *v, w)
	}
	s.ChangedBy = w.id
	if w.id == 0 {
		s.ChangedBy = e.inputID // 0 when nothing followed, so nothing was written
	}
}

// compare makes a comparison of a rule with a property anew.
func (e *Engine) compare(d *dependent, v thing.Value, w why) {
	test := d.test
	d.low, d.high = test.Comparer.Steady(v)
	if truth := test.Comparer.Holds(v); truth != test.Truth {
		test.Since = e.now
		e.turn(d.rule, &test.Fact, test.Path, truth, v, w)
	}
}

// turn makes a fact of a rule true or false, at a value. The rule is woken only where that makes a difference to a whole
// condition, or to what must last.
func (e *Engine) turn(r *ruleState, f *rule.Fact, path string, truth bool, v thing.Value, w why) {
	e.flip(r, path, truth, v)
	if f.Set(truth, e.now) {
		e.wake(r, w)
	} else {
		e.showRule(r)
	}
}

// tellAttached tells what is attached to a property besides comparisons that it changed.
func (e *Engine) tellAttached(s *slot, before, v thing.Value, w why) {
	if s.past != nil {
		s.past.add(e.now, v)
	}
	e.feedLinks(s, &v, w)
	for _, g := range s.weighers {
		e.weigh(g, w)
	}
	for _, t := range s.triggers {
		compare := e.against(t.listen)
		if before.IsNone() && compare == nil {
			continue // learning a value for the first time is no change of it
		}
		if compare == nil || (compare.Holds(v) && !compare.Holds(before)) {
			e.trigger(t.rule, t.index, w)
		}
	}
}

// write sets a property once, by hand or by automation, and commands what follows.
func (e *Engine) write(s *slot, v thing.Value, byHand bool, by string, fade time.Duration, w why) {
	to, source := e.comesTo(s, v)
	e.writeFrom(s, to, source, byHand, by, fade, w)
	if s.property.Switches(v) && v.True() {
		e.lightsUp(s, w)
	}
}

// writeFrom is [Engine.write] of a value that follows a source.
func (e *Engine) writeFrom(s *slot, v thing.Value, source hold.Source, byHand bool, by string, fade time.Duration, w why) {
	e.commandAgain = s.state.Certainty == state.Failed // who wants it anew has it tried anew
	s.missed = 0
	if byHand {
		e.handWrite(s, v, source, by, w)
	} else {
		e.setAnew(s, v)
		s.state.Stack.Write(hold.Base{Value: v, Source: source, Since: e.now, By: by, Cause: e.resolve(w)})
		e.touch(s)
	}
	e.others(s, func(other *slot) { // a color is set, and the white rests
		if other.state.Stack.Base.Source != "" {
			other.state.Stack.Base.Source = ""
			e.followNoMore(other)
		}
	})
	e.apply(s, fade, w)
	e.commandAgain = false
}

// apply commands the device when the effective value is not what it was last asked for.
func (e *Engine) apply(s *slot, fade time.Duration, w why) {
	e.touch(s)
	s.appliedIn = e.instant
	if len(s.property.Excludes) > 0 {
		s = e.inEffect(s, w)
	}
	e.renew(s)
	effective := s.property.Narrow(s.state.Stack.Effective())
	if effective.IsNone() || (effective == s.state.Target && !e.commandAgain) {
		return
	}
	e.command(s, fade, w)
}

func (e *Engine) command(s *slot, fade time.Duration, w why) {
	st := &s.state
	if e.refused(s, w) && st.Stack.Effective() == st.Target {
		return
	}
	if s.driver != nil {
		if s.driver.position == s {
			e.drive(s, w)
			return
		}
		if e.guarded(s, w) {
			return
		}
	}
	e.renew(s)
	came := s.comesOn(st.Stack.Effective())
	if came {
		e.lightsUp(s, w)
	}
	st.Before = s.Reported
	e.endFade(s)
	st.Aim(s.property.Narrow(st.Stack.Effective()))
	if came {
		e.tones(s.ref.Device, e.renew) // which rested while it was dark
	}
	if s.property.Extinguishes(st.Target) {
		e.backFromNow(s, w)
	}
	if s.property.Own {
		e.become(s, w)
		return
	}
	st.Certainty, st.Failure, st.Unreached, st.Stray, st.Interrupted = state.Pending, "", false, thing.Value{}, false
	st.AskedAt, st.SettleUntil, st.Depth, st.Difference = e.now, e.now.Add(fade+SettlingTime), w.depth, nil
	st.Command = e.nextCommand
	e.nextCommand++
	if st.Asked = 0; !w.silent {
		st.Asked = e.follow(w, cause.Entry{Kind: cause.Commanded, Device: s.ref.Device, Name: s.ref.Name, Value: st.Target}).id
	}
	if !e.fadesHere(s, fade) {
		e.out = append(
			e.out,
			Output{Kind: OutputCommand, Command: st.Command, Device: s.ref.Device, Name: s.ref.Name, Value: s.told(st.Target), Fade: fade, Cause: st.Asked},
		)
	}
	e.schedule(timer{at: st.SettleUntil, kind: timerSettle, slot: s})
	e.touch(s)
}

// become sets what the hub itself keeps, which is done at once.
func (e *Engine) become(s *slot, w why) {
	st := &s.state
	st.Certainty, st.Failure, st.Asked, st.AskedAt = state.Confirmed, "", 0, e.now
	inner := e.follow(w, cause.Entry{Kind: cause.Became, Device: s.ref.Device, Name: s.ref.Name, Value: st.Target})
	e.change(s, st.Target, inner)
	e.done(s, inner)
}

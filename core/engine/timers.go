package engine

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/rule"
	"amvek/core/state"
)

type timerKind uint8

const (
	timerSettle timerKind = iota
	timerHold
	timerPhase
	timerFrame
	timerSchedule
	timerSilence
	timerCover
	timerLasting
	timerSpan
	timerTrigger
	timerFormula
	timerSequence
	timerKey
	timerLink
	timerFollow
	timerGlow
	timerRetry
	timerOwnLight
	timerFade
)

// timer wakes something at a time. It counts only while what it wakes still names
// that very time as its deadline; an outdated timer is passed over.
type timer struct {
	at       time.Time
	order    uint64
	kind     timerKind
	slot     *slot
	rule     *ruleState
	schedule *scheduleState
	watch    *watch
	sequence *sequence
	key      *key
	link     *linkState
	lasting  *rule.Lasting
	span     *rule.Span
	weigher  *weigher
	owner    string
	frame    uint64 // id of a run, or index of a time trigger
	depth    int
}

func (e *Engine) valid(t *timer) bool {
	switch t.kind {
	case timerSettle:
		return t.slot.state.SettleUntil.Equal(t.at) && !t.slot.gone
	case timerHold:
		h := t.slot.state.Stack.Find(t.owner)
		return h != nil && h.Until.Equal(t.at) && !t.slot.gone
	case timerPhase:
		return t.rule.state.Deadline.Equal(t.at) && !t.rule.gone
	case timerFrame:
		f := t.rule.frame(t.frame)
		return f != nil && f.ResumeAt.Equal(t.at) && !t.rule.gone
	case timerLasting:
		return !t.rule.gone && !t.lasting.Since.IsZero() && !t.lasting.Truth && t.lasting.Since.Add(t.lasting.For).Equal(t.at) && t.rule.has(t.lasting)
	case timerSpan:
		return !t.rule.gone && t.span.Next.Equal(t.at) && t.rule.spans(t.span)
	case timerTrigger:
		return !t.rule.gone && t.rule.program != nil && t.rule.state.NextTimes[int(t.frame)].Equal(t.at)
	case timerSequence:
		return t.sequence.state.Until.Equal(t.at) && !t.sequence.gone
	case timerKey:
		return t.key.Due().Equal(t.at)
	case timerLink:
		return !t.link.gone && t.link.flow != nil && t.link.due.Equal(t.at)
	case timerRetry:
		return t.slot.retryAt.Equal(t.at) && !t.slot.gone
	case timerOwnLight:
		return t.slot.ownLight != nil && t.slot.ownLight.looks.Equal(t.at) && !t.slot.gone
	case timerFade:
		return t.slot.fading != nil && t.slot.fading.next.Equal(t.at) && !t.slot.gone
	case timerGlow:
		return t.sequence.moving != nil && t.sequence.moving.next.Equal(t.at) && !t.sequence.gone
	case timerFollow:
		return t.slot.followsNext.Equal(t.at) && !t.slot.gone
	case timerFormula:
		return !t.weigher.gone && t.weigher.next.Equal(t.at)
	case timerCover:
		return t.slot.driver != nil && t.slot.driver.wake.Equal(t.at) && !t.slot.gone
	case timerSilence:
		return t.watch.at.Equal(t.at) && !t.watch.gone
	default:
		return t.schedule.state.Next.Equal(t.at) && !t.schedule.gone
	}
}

func (e *Engine) schedule(t timer) {
	e.timerCount++
	t.order = e.timerCount
	e.timers.push(t)
}

// fireDue handles every timer that is due, in the order of their times. It comes to an end whatever they wake: what
// would be woken for ever while no time passes is stopped.
func (e *Engine) fireDue() {
	var wakings map[string]int // by what is woken; counted once there are many
	for fired := 0; len(e.timers) > 0 && !e.timers[0].at.After(e.now); {
		t := e.timers.pop()
		if !e.valid(&t) {
			continue
		}
		if fired++; fired > MaximumWakingsPerInstant {
			if wakings == nil {
				wakings = map[string]int{}
			}
			if wakings[t.of()]++; wakings[t.of()] > MaximumWakingsPerInstant {
				e.restless(&t)
				continue
			}
		}
		e.fire(t)
		e.settle()
	}
}

// restless stops what is woken again and again while no time passes.
func (e *Engine) restless(t *timer) {
	const reason = "It was woken too often at once."
	e.begin(cause.Entry{Kind: cause.TimeCame})
	switch {
	case t.rule != nil:
		e.stop(t.rule, reason, why{})
	case t.sequence != nil:
		e.endSequence(t.sequence, "it was woken too often at once", 0, why{})
	}
	// Anything else is not woken by this timer any more, and is by whatever comes next.
}

func (e *Engine) fire(t timer) {
	switch t.kind {
	case timerSettle:
		e.begin(cause.Entry{Kind: cause.ByDevice, Device: t.slot.ref.Device, Name: t.slot.ref.Name})
		e.settled(t.slot)
	case timerHold:
		h := t.slot.state.Stack.Find(t.owner)
		e.begin(cause.Entry{Kind: cause.HoldExpired, Parent: h.Cause, Device: t.slot.ref.Device, Name: t.slot.ref.Name})
		t.slot.state.Stack.Release(t.owner)
		e.inputEntry()
		e.apply(t.slot, 0, why{depth: t.depth})
	case timerPhase:
		e.begin(cause.Entry{Kind: cause.Waited, Parent: t.rule.state.Cause, Rule: t.rule.id})
		t.rule.state.Deadline = time.Time{}
		e.evaluate(t.rule, why{depth: t.depth})
	case timerFrame:
		f := t.rule.frame(t.frame)
		e.begin(cause.Entry{Kind: cause.Waited, Parent: f.Cause, Rule: t.rule.id})
		e.resume(t.rule, f, t.at)
	case timerLasting:
		e.begin(cause.Entry{Kind: cause.Waited, Parent: t.rule.state.Lasting[t.lasting.Path].Cause, Rule: t.rule.id})
		e.wake(t.rule, why{depth: t.depth})
	case timerSpan:
		e.begin(cause.Entry{Kind: cause.TimeCame, Rule: t.rule.id})
		if e.evaluateSpan(t.rule, t.span) {
			e.wake(t.rule, why{})
		}
	case timerFormula:
		e.begin(cause.Entry{Kind: cause.TimeCame})
		if t.weigher.rule != nil {
			e.origin().Rule = t.weigher.rule.id
		} else if t.weigher.link != nil {
			e.origin().Link = t.weigher.link.id
		} else if s := t.weigher.follows; s != nil {
			e.origin().Device, e.origin().Name = s.ref.Device, s.ref.Name
		} else {
			origin := e.origin()
			origin.Device, origin.Name = t.weigher.computed.ref.Device, t.weigher.computed.ref.Name
		}
		e.weigh(t.weigher, why{})
	case timerRetry:
		e.begin(cause.Entry{Kind: cause.Waited, Parent: t.slot.state.Asked, Device: t.slot.ref.Device, Name: t.slot.ref.Name})
		e.retry(t.slot)
	case timerOwnLight:
		e.begin(cause.Entry{Kind: cause.TimeCame, Device: t.slot.ref.Device, Name: t.slot.ownLight.to.ref.Name})
		e.account(t.slot)
	case timerFade:
		e.begin(cause.Entry{Kind: cause.TimeCame})
		e.goOnFading(t.slot)
	case timerGlow:
		e.begin(cause.Entry{Kind: cause.TimeCame})
		e.moveOn(t.sequence)
	case timerFollow:
		e.begin(cause.Entry{Kind: cause.TimeCame, Device: t.slot.ref.Device, Name: t.slot.ref.Name})
		e.followOn(t.slot)
	case timerSequence:
		e.nextPassage(t.sequence)
	case timerKey:
		e.keyWaited(t.key)
	case timerLink:
		e.begin(cause.Entry{Kind: cause.Waited, Parent: t.link.entry.id, Link: t.link.id})
		e.linkDue(t.link)
	case timerTrigger:
		e.timeTrigger(t.rule, int(t.frame), t.at)
	case timerCover:
		d := t.slot.driver
		d.wake = time.Time{}
		e.begin(cause.Entry{Kind: cause.ByDevice, Device: t.slot.ref.Device, Name: t.slot.ref.Name})
		e.drives(d, t.slot.state.Cover.Tick(e.now, d.settings), why{id: t.slot.state.Asked, depth: t.slot.state.Depth})
	case timerSilence:
		e.begin(cause.Entry{Kind: cause.FellSilent, Device: t.watch.id})
		e.missed(t.watch)
	case timerSchedule:
		e.due(t.schedule, t.at)
	}
}

// resume lets a run go on whose time has come.
func (e *Engine) resume(r *ruleState, f *state.Frame, at time.Time) {
	w := why{depth: f.Depth}
	switch late := e.now.Sub(at); {
	case r.doc.GiveUpAfterSeconds > 0 && late > rule.Seconds(r.doc.GiveUpAfterSeconds):
		e.cutShort(r, f, "it came too late, since the hub was off.", w)
	case f.Call != 0:
		e.goOnWith(r, f, &Input{Reason: "no answer came."}, w)
	case f.Awaits != nil:
		e.cutShort(r, f, "it took too long.", w)
	case f.Until:
		e.tooLong(r, f, w)
	case f.Through != nil:
		e.goOnThrough(r, f.ID, w)
	case f.Ramp != nil:
		e.goOnRamp(r, f.ID, w)
	default:
		f.ResumeAt = time.Time{}
		e.proceed(r, f.ID, w)
	}
}

func (r *ruleState) has(l *rule.Lasting) bool {
	return r.program != nil && slices.Contains(r.program.Lastings, l)
}

func (r *ruleState) spans(s *rule.Span) bool {
	return r.program != nil && slices.Contains(r.program.Spans, s)
}

// timerHeap is a binary heap by time, then by what is woken.
type timerHeap []timer

func (h timerHeap) less(i, j int) bool {
	a, b := &h[i], &h[j]
	if !a.at.Equal(b.at) {
		return a.at.Before(b.at)
	}
	return a.before(b)
}

// before orders timers of the same moment by what they wake, not by when they were made: after a restart they are
// made in another order.
func (t *timer) before(u *timer) bool {
	if t.kind != u.kind {
		return t.kind < u.kind
	}
	by := cmp.Or(strings.Compare(t.of(), u.of()), cmp.Compare(t.frame, u.frame), strings.Compare(t.owner, u.owner), cmp.Compare(t.order, u.order))
	return by < 0
}

// of names what a timer wakes.
func (t *timer) of() string {
	switch {
	case t.slot != nil:
		return t.slot.ref.Device + "/" + t.slot.ref.Name
	case t.rule != nil:
		return t.rule.id
	case t.schedule != nil:
		return t.schedule.id
	case t.weigher != nil:
		return t.weigher.of()
	case t.watch != nil:
		return t.watch.id
	case t.sequence != nil:
		return t.sequence.id
	case t.link != nil:
		return t.link.id
	case t.key != nil:
		return t.key.ref.Device + "/" + t.key.ref.Name
	default:
		return ""
	}
}

func (h *timerHeap) push(t timer) {
	*h = append(*h, t)
	s := *h
	for i := len(s) - 1; i > 0; {
		parent := (i - 1) / 2
		if !s.less(i, parent) {
			return
		}
		s[i], s[parent] = s[parent], s[i]
		i = parent
	}
}

func (h *timerHeap) pop() timer {
	s := *h
	top := s[0]
	last := len(s) - 1
	s[0] = s[last]
	s[last] = timer{}
	s = s[:last]
	*h = s
	for i := 0; ; {
		least := i
		for _, child := range []int{2*i + 1, 2*i + 2} {
			if child < len(s) && s.less(child, least) {
				least = child
			}
		}
		if least == i {
			return top
		}
		s[i], s[least] = s[least], s[i]
		i = least
	}
}

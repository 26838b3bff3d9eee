package engine

import (
	"time"

	"amvek/core/cause"
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
	owner    string
	frame    uint64
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

// fireDue handles every timer that is due, in the order of their times.
func (e *Engine) fireDue() {
	for {
		at, ok := e.NextDeadline()
		if !ok || at.After(e.now) {
			return
		}
		t := e.timers.pop()
		e.fire(t)
		e.settle()
	}
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
		if f.Awaits != nil {
			e.cutShort(t.rule, f, "it took too long.", why{depth: f.Depth})
			return
		}
		e.proceed(t.rule, f.ID, why{depth: f.Depth})
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

// timerHeap is a binary heap by time, then by order of making.
type timerHeap []timer

func (h timerHeap) less(i, j int) bool {
	if h[i].at.Equal(h[j].at) {
		return h[i].order < h[j].order
	}
	return h[i].at.Before(h[j].at)
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

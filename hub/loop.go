package hub

import (
	"context"
	"errors"
	"runtime"
	"runtime/debug"
	"time"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/hub/docs"
)

// idleCheck is how long the loop sleeps at most, so that a machine that was asleep, or whose clock was set, is noticed.
const idleCheck = 10 * time.Second

const (
	// calmAfter is how long nothing has come in when the loop steps aside after a command: one that is busy goes on.
	calmAfter = 5 * time.Millisecond
	// asideFor is how long it does so at most. The runtime may make a millisecond of it.
	asideFor = 200 * time.Microsecond
)

func (h *Hub) loop() {
	timer := time.NewTimer(0)
	defer timer.Stop()
	for {
		h.followClock()
		wait := idleCheck
		if at, ok := h.engine.NextDeadline(); ok {
			wait = min(wait, max(0, h.clock.Until(at)))
		}
		if len(h.inPassing) > 0 {
			wait = min(wait, passingEvery)
			if time.Since(h.passedAt) >= passingEvery {
				h.keepInPassing(passingRules)
			}
		}
		if len(h.unsaved) > 0 {
			if left := time.Until(h.saveAt); left > 0 {
				wait = min(wait, left)
			} else {
				h.saveStates()
			}
		}
		wait = min(wait, h.tellShown())
		timer.Reset(wait)
		calm := false
		select {
		case <-h.context.Done():
			h.keepInPassing(len(h.inPassing))
			h.saveStates()
			return
		case <-h.inbox.ready:
			calm = h.drain()
		case <-timer.C:
			h.arrived = time.Now()
			calm = h.press(h.arrived)
			h.begin(h.decide(&engine.Input{Kind: engine.InputTick}))
		}
		if calm && !h.left.delivered.IsZero() {
			h.stepAside(timer)
		}
		h.finish()
		h.countAttention()
	}
}

// drain handles all that waits; of the last of it something may be left to [Hub.finish]. It reports whether nothing had
// come in for a while before.
func (h *Hub) drain() (calm bool) {
	items := h.inbox.take()
	for i := range items {
		it := &items[i]
		h.finish()
		h.arrived = it.at
		switch {
		case it.job != nil:
			h.attempt(it.job)
		case it.input != nil:
			h.begin(h.decide(it.input))
		default:
			h.begin(h.decideReport(&it.report))
		}
		if !it.patient {
			calm = h.press(it.at)
		}
		items[i] = item{}
	}
	return calm
}

// press takes when something came in for which somebody waits, and reports whether nothing had for a while.
func (h *Hub) press(at time.Time) (calm bool) {
	calm = at.Sub(h.pressed) >= calmAfter
	h.pressed = at
	return calm
}

// stepAside leaves the processor to those who send on what was just commanded, and to whom it is for, before the loop
// writes down what happened: on a machine of few cores a thread that is woken waits until another sleeps, even
// where a core is free (docs/decisions/0069-the-loop-steps-aside.md). It ends when something else comes in.
func (h *Hub) stepAside(timer *time.Timer) {
	timer.Reset(asideFor)
	for {
		select {
		case <-h.context.Done():
			return
		case <-timer.C:
			h.inbox.wake() // what was patient has waited
			return
		case <-h.inbox.ready:
			if h.inbox.pressing() {
				h.inbox.wake()
				return
			}
		}
	}
}

// attempt does a job of the loop. One that panics ends by itself, and the loop goes on.
func (h *Hub) attempt(job func()) {
	defer func() {
		if fell := recover(); fell != nil {
			h.log.Error("a job of the loop fell", "panic", fell, "stack", string(debug.Stack()))
		}
	}()
	job()
}

var (
	errStopped = errors.New("the hub is stopping")
	errFell    = errors.New("something went wrong inside the hub; its log says more")
)

// do runs f in the loop's goroutine and returns after it.
func (h *Hub) do(ctx context.Context, f func()) error {
	done := make(chan struct{})
	whole := false
	h.inbox.push(item{job: func() { defer close(done); f(); whole = true }})
	select {
	case <-done:
		if !whole {
			return errFell
		}
		return nil
	case <-ctx.Done():
		return ctx.Err()
	case <-h.context.Done():
		return errStopped
	}
}

// handle gives the engine one input and acts on what follows. It runs in the loop.
func (h *Hub) handle(in engine.Input) { h.actOn(h.decide(&in)) }

// remainder is what is left to do of what the engine decided last, once its commands are on their way: the journal, the
// histories, what browsers are told.
type remainder struct {
	// outputs are good until the engine decides the next.
	outputs []engine.Output
	// delivered is when the last of the commands was given to its connection; zero if there was none.
	delivered time.Time
}

// actOn acts on what the engine decided. It runs in the loop.
func (h *Hub) actOn(outputs []engine.Output) {
	h.begin(outputs)
	h.finish()
}

// begin gives commands to their connections: nobody waits for a lamp while a journal is written. The rest is left to
// [Hub.finish].
func (h *Hub) begin(outputs []engine.Output) {
	h.left = remainder{outputs: outputs}
	for i := range outputs {
		switch out := &outputs[i]; {
		case out.Kind == engine.OutputInvoke, out.Kind == engine.OutputCommand && !overtaken(outputs, i):
			h.deliver(*out)
			h.left.delivered = time.Now()
		case out.Kind == engine.OutputFrame:
			h.glow(out)
		case out.Kind == engine.OutputStill:
			h.still(out)
		}
	}
	if !h.left.delivered.IsZero() {
		runtime.Gosched() // what sends them on goes first
	}
}

// finish does what is left after [Hub.begin], if anything. It comes before anything else is decided, and before anybody
// asks how things are.
func (h *Hub) finish() {
	outputs, delivered := h.left.outputs, h.left.delivered
	h.left = remainder{}
	var told []*engine.Output
	for i := range outputs {
		if len(h.trials) > 0 {
			h.observe(&outputs[i])
		}
		switch out := &outputs[i]; out.Kind {
		case engine.OutputJournal:
			if out.Entry.Kind == cause.Commanded && !h.arrived.IsZero() && !delivered.IsZero() {
				// How long it took from what came in to a command on its way.
				out.Entry.Milliseconds = float64(delivered.Sub(h.arrived).Microseconds()) / 1000
			}
			if out.Entry.Kind == cause.Refused {
				h.refusals++
			}
			h.store.AddEntry(*out.Entry)
			h.tellEntry(*out.Entry)
		case engine.OutputProperty:
			h.propertyChanged(out)
		case engine.OutputNotify:
			told = append(told, out)
		case engine.OutputCall:
			h.reachOut(out)
		case engine.OutputTrace:
			h.keepTrace(out.Trace)
		case engine.OutputPast:
			h.tellPast(out)
		case engine.OutputRule:
			h.ruleChanged(out.Rule, out.Changed)
		case engine.OutputSequence:
			h.touch(docs.KindSequence, out.Name)
		case engine.OutputLink:
			h.touch(docs.KindLink, out.Name)
		case engine.OutputScene:
			h.touch(docs.KindScene, out.Name)
		case engine.OutputRoomLight:
			h.touch(docs.KindLight, out.Name)
		case engine.OutputMirror:
			h.touch(docs.KindMirror, out.Name)
		case engine.OutputDevice:
			h.keep(stateKey{"device", out.Device, ""})
			before := h.silent[out.Device]
			if h.silenceKept(out.Device); h.silent[out.Device] != before {
				h.touch(docs.KindDevice, out.Device)
			}
		}
	}
	for _, out := range told {
		h.notify(out)
	}
}

// overtaken reports whether a later command of the same instant sets the same property, so that a lamp does not flash
// with a value that was in effect for no time at all.
func overtaken(outputs []engine.Output, i int) bool {
	for j := i + 1; j < len(outputs); j++ {
		if later := &outputs[j]; later.Kind == engine.OutputCommand && later.Name == outputs[i].Name && later.Device == outputs[i].Device {
			return true
		}
	}
	return false
}

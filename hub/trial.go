package hub

import (
	"context"
	"slices"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/state"
	"amvek/core/thing"
	"amvek/core/trial"
	"amvek/hub/views"
)

// observe shows the trials of devices what came out of the engine. It runs in the loop.
func (h *Hub) observe(out *engine.Output) {
	id, name := out.Device, out.Name
	o := trial.Observation{At: h.clock.Now(), Name: name, Value: out.Value}
	switch out.Kind {
	case engine.OutputCommand, engine.OutputInvoke:
		o.Kind = trial.Asked
	case engine.OutputProperty:
		if !out.Measured {
			return
		}
		o.Kind = trial.Reported
	case engine.OutputJournal:
		kinds := map[cause.Kind]trial.Kind{
			cause.ByDevice: trial.ByHand, cause.Happened: trial.Happened, cause.Confirmed: trial.Confirmed, cause.Failed: trial.Failed,
		}
		kind, known := kinds[out.Entry.Kind]
		if !known {
			return
		}
		id, o.Name, o.Value, o.Kind, o.Note = out.Entry.Device, out.Entry.Name, out.Entry.Value, kind, out.Entry.Note
	default:
		return
	}
	t := h.trials[id]
	if t == nil {
		return
	}
	if o.Kind == trial.Reported {
		if known, ok := h.engine.PropertyState(thing.Ref{Device: id, Name: name}); ok && known.Certainty == state.Assumed {
			o.Kind = trial.Assumed
		}
	}
	t.Observe(o)
	h.trialChanged(id)
}

func (h *Hub) trialChanged(id string) {
	h.keep(stateKey{"trial", id, ""})
	h.say(toldTrial, id, struct{}{})
}

// Trial returns how the trying of a device stands; it is absent where nobody tries it.
func (h *Hub) Trial(ctx context.Context, id string) (view views.TrialView, err error) {
	failed := h.do(ctx, func() {
		t := h.trials[id]
		if h.definitions.Device(id) == nil || t == nil {
			err = Absent("Nobody tries this device.")
			return
		}
		view = h.reader.Trial(id, t)
	})
	if failed != nil {
		return view, failed
	}
	return view, err
}

// Try begins to try a device, anew where it was tried before.
func (h *Hub) Try(ctx context.Context, id string) (err error) {
	failed := h.do(ctx, func() {
		if h.definitions.Device(id) == nil {
			err = Absent("There is no such device.")
			return
		}
		h.trials[id] = &trial.Trial{Began: h.clock.Now()}
		h.trialChanged(id)
	})
	if failed != nil {
		return failed
	}
	return err
}

// Answer takes what somebody who watches says of a step.
func (h *Hub) Answer(ctx context.Context, id, step, answer string) (err error) {
	failed := h.do(ctx, func() {
		t := h.trials[id]
		if h.definitions.Device(id) == nil || t == nil {
			err = Absent("Nobody tries this device.")
			return
		}
		for _, s := range h.reader.Trial(id, t).Steps {
			if s.ID == step && slices.ContainsFunc(s.Choices, func(c trial.Choice) bool { return c.Value == answer }) {
				if t.Answers == nil {
					t.Answers = map[string]trial.Answer{}
				}
				t.Answers[step] = trial.Answer{At: h.clock.Now(), Value: answer}
				h.trialChanged(id)
				return
			}
		}
		err = Invalid("answer", "This step does not ask that.")
	})
	if failed != nil {
		return failed
	}
	return err
}

// EndTrial ends the trying of a device.
func (h *Hub) EndTrial(ctx context.Context, id string) error {
	return h.do(ctx, func() {
		delete(h.trials, id)
		h.store.RemoveState("trial", id)
		h.say(toldTrial, id, struct{}{})
	})
}

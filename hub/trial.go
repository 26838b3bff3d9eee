package hub

import (
	"context"
	"slices"
	"time"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/state"
	"amvek/core/thing"
	"amvek/core/trial"
)

// TrialView is how the trying of a device stands.
type TrialView struct {
	Began time.Time         `json:"began"`
	Steps []trial.TrialStep `json:"steps"`
	// Stream is what the device said and what the hub sent, newest first.
	Stream []TrialLine `json:"stream"`
}

// TrialLine is one thing observed, in words.
type TrialLine struct {
	At   time.Time `json:"at"`
	Side string    `json:"side" enum:"device,hub" doc:"Who said it."`
	Text string    `json:"text"`
	// Fault says that it went wrong.
	Fault bool `json:"fault,omitempty"`
}

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

// trialView runs in the loop.
func (h *Hub) trialView(id string, t *trial.Trial) TrialView {
	d := h.definitions.Device(id)
	now := trial.Now{
		Description: &d.Description,
		Value: func(name string) (thing.Value, time.Time) {
			known, _ := h.engine.PropertyState(thing.Ref{Device: id, Name: name})
			return known.Reported, known.ChangedAt
		},
		Counts: func(name string) bool { return h.engine.Counts(thing.Ref{Device: id, Name: name}) },
		Travel: func(name string) bool { return d.Travel[name].Known() },
	}
	v := TrialView{Began: t.Began, Steps: t.Steps(now), Stream: []TrialLine{}}
	for _, o := range slices.Backward(t.Observed) {
		v.Stream = append(v.Stream, trialLine(&d.Description, o))
	}
	return v
}

func trialLine(d *thing.Description, o trial.Observation) TrialLine {
	title, said := o.Name, ""
	if p := d.Property(o.Name); p != nil {
		title, said = p.Title, p.Say(o.Value)
	} else if e := d.Event(o.Name); e != nil {
		title, said = e.Title, o.Value.String()
	} else if a := d.Action(o.Name); a != nil {
		title = a.Title
	}
	if said != "" {
		title += ": " + said
	}
	line := TrialLine{At: o.At, Side: "device", Text: title}
	switch o.Kind {
	case trial.Asked:
		line.Side = "hub"
	case trial.ByHand:
		line.Text += ", by hand"
	case trial.Confirmed:
		line.Text += ", confirmed"
	case trial.Assumed:
		line.Side, line.Text = "hub", title+", assumed"
	case trial.Failed:
		line.Text, line.Fault = title+". "+o.Note, true
	}
	return line
}

// Trial returns how the trying of a device stands; it is absent where nobody tries it.
func (h *Hub) Trial(ctx context.Context, id string) (view TrialView, err error) {
	failed := h.do(ctx, func() {
		t := h.trials[id]
		if h.definitions.Device(id) == nil || t == nil {
			err = Absent("Nobody tries this device.")
			return
		}
		view = h.trialView(id, t)
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
		for _, s := range h.trialView(id, t).Steps {
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

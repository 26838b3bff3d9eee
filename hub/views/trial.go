package views

import (
	"slices"
	"time"

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

// Trial returns how the trying of a device that there is stands.
func (r *Reader) Trial(id string, t *trial.Trial) TrialView {
	d := r.Definitions.Device(id)
	now := trial.Now{
		Description: &d.Description,
		Value: func(name string) (thing.Value, time.Time) {
			known, _ := r.Engine.PropertyState(thing.Ref{Device: id, Name: name})
			return known.Reported, known.ChangedAt
		},
		Counts: func(name string) bool { return r.Engine.Counts(thing.Ref{Device: id, Name: name}) },
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

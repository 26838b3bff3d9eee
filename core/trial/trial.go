// Package trial says, of a device that is being tried after it was added, which step is proved by what was
// observed, which is not, and for a step that failed what to look at first. It observes nothing itself and
// tells the device nothing.
package trial

import (
	"fmt"
	"strings"
	"time"

	"amvek/core/thing"
)

// Kind says what was observed.
type Kind string

// What may be observed of a device.
const (
	Asked     Kind = "asked"     // the hub asked it for something
	Reported  Kind = "reported"  // it said something
	ByHand    Kind = "byHand"    // it was operated at itself
	Happened  Kind = "happened"  // an event, such as a press
	Confirmed Kind = "confirmed" // it did what the hub asked for
	Assumed   Kind = "assumed"   // it was asked over a way that gives no answer
	Failed    Kind = "failed"    // it did not do what the hub asked for
)

// Observation is one thing observed.
type Observation struct {
	At    time.Time   `json:"at"`
	Kind  Kind        `json:"kind"`
	Name  string      `json:"name,omitempty"`
	Value thing.Value `json:"value,omitzero"`
	Note  string      `json:"note,omitempty"`
}

// Answer is what somebody who watches said of a step.
type Answer struct {
	At    time.Time `json:"at"`
	Value string    `json:"value"`
}

// Trial is the trying of a device, from its beginning. It is data, so that it can be kept.
type Trial struct {
	Began    time.Time         `json:"began"`
	Observed []Observation     `json:"observed"`
	Answers  map[string]Answer `json:"answers,omitempty"`
}

// most bounds what is kept of one trial.
const most = 300

// Observe keeps what was observed.
func (t *Trial) Observe(o Observation) {
	t.Observed = append(t.Observed, o)
	if len(t.Observed) > most {
		t.Observed = append([]Observation(nil), t.Observed[len(t.Observed)-most:]...)
	}
}

// State is how a step stands.
type State string

// The states of a step.
const (
	Open   State = "open"
	Proved State = "proved"
	Broken State = "broken"
)

// TrialStep is one thing to prove, in the order of the work.
type TrialStep struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	// How says what to do to prove it.
	How   string `json:"how"`
	State State  `json:"state" enum:"open,proved,broken"`
	// Evidence says what proved it, or what went wrong.
	Evidence string    `json:"evidence,omitempty"`
	At       time.Time `json:"at,omitzero"`
	// Look are the settings to look at first, for a step that failed.
	Look []string `json:"look" doc:"Names of the settings to look at first."`
	// Question is asked of whoever watches, where the hub cannot know; Choices are its answers.
	Question string   `json:"question,omitempty"`
	Choices  []Choice `json:"choices"`
}

// Choice is one answer to a step's question.
type Choice struct {
	Value string `json:"value"`
	Title string `json:"title"`
}

// Now is how the device stands, for the steps that depend on it.
type Now struct {
	Description *thing.Description
	// Value returns the present value of a property, and when it last changed.
	Value func(name string) (v thing.Value, changed time.Time)
	// Counts reports whether a property counts as the device is set up.
	Counts func(name string) bool
	// Travel says whether a shutter's travel times are known.
	Travel func(name string) bool
}

// Steps returns the steps for a device: the physical control, the way to it, how it is set up, and then the hub.
func (t *Trial) Steps(now Now) []TrialStep {
	var steps []TrialStep
	cover := coverOf(now)
	steps = append(steps, t.control(now, cover), t.reached())
	if cover != nil {
		steps = append(steps, t.shutterSteps(now, cover)...)
	}
	for i := range now.Description.Properties {
		p := &now.Description.Properties[i]
		if p.Setting != nil || !now.Counts(p.Name) {
			continue
		}
		if p.Writable {
			steps = append(steps, t.byHub(p, now))
		} else if p.Role != thing.RoleBattery && p.Role != thing.RoleSignal {
			steps = append(steps, t.reads(p))
		}
	}
	for i := range steps {
		if steps[i].Look == nil {
			steps[i].Look = []string{}
		}
		if steps[i].Choices == nil {
			steps[i].Choices = []Choice{}
		}
	}
	return steps
}

func coverOf(now Now) *thing.Property {
	for i := range now.Description.Properties {
		if p := &now.Description.Properties[i]; p.Cover != nil {
			return p
		}
	}
	return nil
}

// last returns the last observation that passes, or nil.
func (t *Trial) last(passes func(o *Observation) bool) *Observation {
	for i := len(t.Observed) - 1; i >= 0; i-- {
		if passes(&t.Observed[i]) {
			return &t.Observed[i]
		}
	}
	return nil
}

func (s *TrialStep) prove(at time.Time, evidence string) {
	s.State, s.At, s.Evidence = Proved, at, evidence
}

func (s *TrialStep) broke(at time.Time, evidence string, look ...string) {
	s.State, s.At, s.Evidence, s.Look = Broken, at, evidence, look
}

// control is the physical control at or beside the device.
func (t *Trial) control(now Now, cover *thing.Property) TrialStep {
	s := TrialStep{ID: "control", Title: "It works by hand", How: "Operate it at itself: its button, its switch, the door it watches.", State: Open}
	if cover != nil {
		s.How = "Press a button at the wall: the shutter moves."
	}
	if o := t.last(func(o *Observation) bool {
		if o.Kind == Happened {
			return true
		}
		if o.Kind == ByHand {
			p := now.Description.Property(o.Name)
			return p == nil || p.Setting == nil
		}
		p := now.Description.Property(o.Name)
		return o.Kind == Reported && p != nil && !p.Writable && p.Type != thing.TypeNumber
	}); o != nil {
		s.prove(o.At, t.says(now, o))
	}
	return s
}

func (t *Trial) says(now Now, o *Observation) string {
	if p := now.Description.Property(o.Name); p != nil {
		return fmt.Sprintf("%s: %s", p.Title, p.Say(o.Value))
	}
	if e := now.Description.Event(o.Name); e != nil {
		return e.Title
	}
	return o.Name
}

// reached is that the hub hears it.
func (t *Trial) reached() TrialStep {
	s := TrialStep{ID: "reached", Title: "The hub hears it", How: "Operate it, or ask it to show itself.", State: Open}
	if o := t.last(func(o *Observation) bool { return o.Kind != Failed && o.Kind != Assumed && o.Kind != Asked }); o != nil {
		s.prove(o.At, "It answered.")
	} else if o := t.last(func(o *Observation) bool { return o.Kind == Failed }); o != nil {
		s.broke(o.At, o.Note)
	}
	return s
}

// byHub is a property that is set from the hub.
func (t *Trial) byHub(p *thing.Property, now Now) TrialStep {
	s := TrialStep{ID: "hub:" + p.Name, Title: "The hub sets it: " + strings.ToLower(p.Title), How: "Set it here, and see that it follows.", State: Open}
	o := t.last(func(o *Observation) bool {
		return o.Name == p.Name && (o.Kind == Confirmed || o.Kind == Assumed || o.Kind == Failed)
	})
	switch {
	case o == nil:
	case o.Kind == Confirmed:
		s.prove(o.At, fmt.Sprintf("It confirmed %s.", p.Say(o.Value)))
	case o.Kind == Assumed:
		s.Question, s.Choices = "It gives no answer. Did it follow?", yesNo
		t.answered(&s, o.At, "Somebody saw it follow.", "Somebody saw that it did not follow.")
	default:
		var look []string
		for i := range now.Description.Properties {
			if q := &now.Description.Properties[i]; q.Setting != nil {
				look = append(look, q.Name)
			}
		}
		s.broke(o.At, o.Note, look...)
	}
	return s
}

// reads is a reading that the device gives.
func (t *Trial) reads(p *thing.Property) TrialStep {
	s := TrialStep{ID: "reads:" + p.Name, Title: "It reads: " + strings.ToLower(p.Title), How: "Wait for its next reading, or make it change.", State: Open}
	if o := t.last(func(o *Observation) bool { return o.Kind == Reported && o.Name == p.Name }); o != nil {
		s.prove(o.At, p.Say(o.Value))
	}
	return s
}

var yesNo = []Choice{{"yes", "Yes"}, {"no", "No"}}

// answered takes the answer to a step's question, if it was given after what it is about.
func (t *Trial) answered(s *TrialStep, after time.Time, yes, no string) {
	a, given := t.Answers[s.ID]
	switch {
	case !given || a.At.Before(after):
	case a.Value == "yes":
		s.prove(a.At, yes)
	default:
		s.broke(a.At, no)
	}
}

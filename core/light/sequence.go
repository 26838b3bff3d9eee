package light

import (
	"fmt"
	"math"
	"strings"
	"time"

	"amvek/core/document"
	"amvek/core/thing"
)

// Ending says what a sequence does after its last scene.
type Ending string

// The endings.
const (
	EndRepeat  Ending = "repeat"  // from the first again, until it is stopped
	EndHold    Ending = "hold"    // the last scene stays, until it is stopped
	EndFadeOut Ending = "fadeOut" // the lights go out over the last fade
	EndLetGo   Ending = "letGo"   // what lies below shows again
)

// Passage is one scene of a sequence.
type Passage struct {
	Scene string `json:"scene" doc:"Id of the scene."`
	// FadeSeconds is how long the change to it takes, instead of the scene's own fade.
	FadeSeconds float64 `json:"fadeSeconds" minimum:"0" maximum:"3600" doc:"How long the change to it takes."`
	StaySeconds float64 `json:"staySeconds" minimum:"0" maximum:"86400" doc:"How long it then stays."`
	// Level is of the scene's brightness, in percent; 0 is as the scene says.
	Level float64 `json:"level,omitempty" minimum:"0" maximum:"200" doc:"Of the scene's brightness, in percent; absent for as the scene says."`
}

// Sequence is scenes that follow each other, laid over what is there.
type Sequence struct {
	Title    string    `json:"title" minLength:"1" maxLength:"120"`
	Note     string    `json:"note,omitempty" maxLength:"2000"`
	Passages []Passage `json:"passages" maxItems:"200"`
	Ending   Ending    `json:"ending" enum:"repeat,hold,fadeOut,letGo" doc:"What follows the last scene."`
	// Effect is light that moves by itself, instead of scenes that follow each other.
	Effect *Effect `json:"effect,omitempty" doc:"Light that moves by itself, instead of scenes that follow each other."`
	// Hidden leaves it out of what the household is offered; keys, rules and dashboards that have it work.
	Hidden bool `json:"hidden,omitempty" doc:"It is left out of what the household is offered. Keys, rules and dashboards that have it work."`
}

// MinimumRound is how long a sequence that repeats lasts at least.
const MinimumRound = time.Second

// ShortestPassage is how long a scene of a sequence lasts at least: nobody sees less, and time must go on.
const ShortestPassage = 100 * time.Millisecond

// Lasts is how long the change to a passage and its stay take together, and not less than [ShortestPassage].
func (p *Passage) Lasts() time.Duration {
	return max(p.Fade()+seconds(p.StaySeconds), ShortestPassage)
}

// Fade is how long the change to a passage takes.
func (p *Passage) Fade() time.Duration { return seconds(p.FadeSeconds) }

func seconds(s float64) time.Duration { return time.Duration(s * float64(time.Second)) }

// Scaled is a scene's value at the passage's level: a brightness is that much of it, within what the lamp can do, and
// anything else is as it is.
func (p *Passage) Scaled(property *thing.Property, v thing.Value) thing.Value {
	if p.Level == 0 || property.Role != thing.RoleBrightness || v.Kind != thing.KindNumber {
		return v
	}
	return thing.Number(min(max(v.Number*p.Level/100, property.Minimum), property.Maximum))
}

// Total is how long one round of the sequence takes.
func (s *Sequence) Total() time.Duration {
	var total time.Duration
	for i := range s.Passages {
		total += s.Passages[i].Lasts()
	}
	return total
}

// SequenceLookup is what a sequence is checked against.
type SequenceLookup interface {
	HasScene(id string) bool
	HasLight(id string) bool
	HasLamp(device string) bool
}

// Check returns an error naming the field that is wrong.
func (s *Sequence) Check(lookup SequenceLookup) error {
	if strings.TrimSpace(s.Title) == "" {
		return document.Wrong("title", "a sequence needs a name")
	}
	if s.Effect != nil {
		switch {
		case len(s.Passages) > 0:
			return document.Wrong("passages", "light that moves by itself has no scenes")
		case s.Ending == EndRepeat:
			return document.Wrong("ending", "light that moves by itself goes on until it is stopped")
		}
		if err := s.Effect.Check(lookup.HasLight, lookup.HasLamp); err != nil {
			return document.In("effect", err)
		}
	}
	within := func(v, most float64) bool { return !math.IsNaN(v) && v >= 0 && v <= most }
	for i := range s.Passages {
		p := &s.Passages[i]
		switch {
		case !lookup.HasScene(p.Scene):
			return document.Wrong(fmt.Sprintf("passages[%d]", i), "choose a scene")
		case !within(p.FadeSeconds, MaximumFade.Seconds()):
			return document.Wrong(fmt.Sprintf("passages[%d]", i), "a fade is from 0 to 60 min")
		case !within(p.StaySeconds, 24*3600):
			return document.Wrong(fmt.Sprintf("passages[%d]", i), "a scene stays from 0 to 24 h")
		case !within(p.Level, 200):
			return document.Wrong(fmt.Sprintf("passages[%d]", i), "a level is from 0 to 200 %%")
		}
	}
	switch s.Ending {
	case EndHold, EndFadeOut, EndLetGo:
	case EndRepeat:
		if len(s.Passages) > 0 && s.Total() < MinimumRound {
			return document.Wrong("ending", "a sequence that repeats lasts a second at least")
		}
	default:
		return document.Wrong("ending", "%q is no ending", s.Ending)
	}
	return nil
}

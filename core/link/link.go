// Package link is what carries values on from a source to targets: a dial to lamps, a sensor to a shutter, whoever made
// them. It holds the model, its checks, and the stages at work, each a pure function of what came and when. It reads no
// device and sets none: the engine feeds it and does what comes out.
package link

import (
	"fmt"
	"slices"
	"strings"

	"amvek/core/document"
	"amvek/core/thing"
)

// Link carries what a source says through stages to targets.
type Link struct {
	Title   string `json:"title" minLength:"1" maxLength:"120"`
	Note    string `json:"note,omitempty" maxLength:"2000"`
	Enabled bool   `json:"enabled"`
	// Sources are what feeds it; each value of any of them goes the same way.
	Sources []Source `json:"sources" maxItems:"16" doc:"What feeds it; each value of any of them goes the same way."`
	Stages  []Stage  `json:"stages" maxItems:"32" doc:"What is done with each value, in this order."`
	Targets []Driven `json:"targets" maxItems:"32" doc:"What is set to what comes out."`
	// Holds says that it keeps its targets at what came out last, at the level of rules, instead of setting them like a hand.
	Holds bool `json:"holds,omitempty" doc:"It holds its targets at what came out last, like a rule that lasts, instead of setting them like a hand."`
	// Modes are those of the house in which alone it is on; none is all.
	Modes []string `json:"modes,omitempty" maxItems:"20" doc:"The modes of the house in which alone it is on; none is all."`
	// Only is an expression that must be true for it to be on.
	Only string `json:"only,omitempty" maxLength:"2000" doc:"An expression that must be true for it to be on."`
}

// Source is a property, or an event: one that carries a number, or one that counts as a number each time it happens.
type Source struct {
	Device   string `json:"device"`
	Property string `json:"property,omitempty" doc:"A number, or yes or no, which count as 1 and 0."`
	Event    string `json:"event,omitempty" doc:"An event, such as the turn of a dial or the press of a key."`
	// Is is the gesture that counts, of an event without a number, and Gives what it counts as.
	Is    string  `json:"is,omitempty" maxLength:"40" doc:"Which gesture counts, of an event that carries no number."`
	Gives float64 `json:"gives,omitempty" doc:"What it counts as, of an event that carries no number; 1 where it is absent."`
}

// Counts returns what the source counts as where its event happened without a number and with a gesture, if any; it is false
// where that is not what feeds the link.
func (s *Source) Counts(gesture string) (float64, bool) {
	if s.Is != gesture {
		return 0, false
	}
	if s.Gives == 0 {
		return 1, true
	}
	return s.Gives, true
}

// Ref is what the source is, property or event.
func (s *Source) Ref() thing.Ref {
	if s.Event != "" {
		return thing.Ref{Device: s.Device, Name: s.Event}
	}
	return thing.Ref{Device: s.Device, Name: s.Property}
}

// Driven is a property that is set.
type Driven struct {
	Device   string `json:"device"`
	Property string `json:"property" doc:"A number, or something that is on where the value is above 0."`
}

// Ref is what the target is.
func (t *Driven) Ref() thing.Ref { return thing.Ref{Device: t.Device, Name: t.Property} }

// Kind names what a stage does.
type Kind string

// The kinds of stage.
const (
	Changes    Kind = "changes"    // passes only what differs from the last
	DeadBand   Kind = "deadBand"   // passes only what differs from the last by Width at least
	Limit      Kind = "limit"      // passes at most PerSecond values a second, the last one never lost
	Smooth     Kind = "smooth"     // follows with a time constant of Seconds
	Delay      Kind = "delay"      // passes each value Seconds later
	Map        Kind = "map"        // from the range From to the range To, by a Curve
	Bounds     Kind = "bounds"     // not below Low, not above High
	Relative   Kind = "relative"   // adds what comes, times Step, to where the targets are
	ZeroOff    Kind = "zeroOff"    // 0 for what is not above Below
	Expression Kind = "expression" // what Text comes to, where coming is the value that comes in
)

// Curve is how a range is laid on another.
type Curve string

// The curves.
const (
	Straight Curve = "straight"
	Eye      Curve = "eye" // equal steps look equally large: CIE 1976 lightness
	Points   Curve = "points"
)

// Range is from one number to another, which may be less.
type Range struct {
	From float64 `json:"from"`
	To   float64 `json:"to"`
}

// CurvePoint is one of a curve, as shares of the two ranges, each from 0 to 1.
type CurvePoint struct {
	X float64 `json:"x" minimum:"0" maximum:"1"`
	Y float64 `json:"y" minimum:"0" maximum:"1"`
}

// Stage is one thing done with each value. Which fields count depends on its kind.
type Stage struct {
	Kind      Kind         `json:"kind" enum:"changes,deadBand,limit,smooth,delay,map,bounds,relative,zeroOff,expression"`
	Width     float64      `json:"width,omitempty" minimum:"0" doc:"deadBand: by how much a value must differ from the last that passed."`
	PerSecond float64      `json:"perSecond,omitempty" minimum:"0" maximum:"100" doc:"limit: how many values pass in a second."`
	Seconds   float64      `json:"seconds,omitempty" minimum:"0" maximum:"3600" doc:"smooth: the time constant; delay: how long."`
	In        *Range       `json:"in,omitempty" doc:"map: the range that comes in."`
	Out       *Range       `json:"out,omitempty" doc:"map: the range that goes out."`
	Curve     Curve        `json:"curve,omitempty" enum:"straight,eye,points" doc:"map: how the one is laid on the other; straight where it is absent."`
	Points    []CurvePoint `json:"points,omitempty" maxItems:"32" doc:"map: the points of a drawn curve."`
	Low       float64      `json:"low,omitempty" doc:"bounds, relative: the least that goes out."`
	High      float64      `json:"high,omitempty" doc:"bounds, relative: the most that goes out."`
	Step      float64      `json:"step,omitempty" doc:"relative: what 1 that comes in adds."`
	Below     float64      `json:"below,omitempty" doc:"zeroOff: what is not above it becomes 0."`
	Text      string       `json:"text,omitempty" maxLength:"2000" doc:"expression: a number, where coming is the value that comes in."`
}

// Lookup is what a link is checked against.
type Lookup interface {
	Property(device, name string) *thing.Property
	Event(device, name string) *thing.Event
	HasMode(id string) bool
	// Formula returns the type of what an expression comes to, or what is wrong with it. Coming says that it may speak of the
	// value that comes in.
	Formula(text string, coming bool) (of thing.Type, problem string)
}

// Check returns what keeps the link from being at work.
func (l *Link) Check(lookup Lookup) []document.Fault {
	c := &checker{lookup: lookup}
	if len(l.Sources) == 0 {
		c.say("sources", "Choose what feeds it.")
	}
	if len(l.Targets) == 0 {
		c.say("targets", "Choose what is set.")
	}
	for i := range l.Sources {
		c.source(fmt.Sprintf("sources/%d", i), &l.Sources[i])
	}
	c.stages(l.Stages)
	for i := range l.Targets {
		path, t := fmt.Sprintf("targets/%d", i), &l.Targets[i]
		c.target(path, t)
		if slices.ContainsFunc(l.Sources, func(s Source) bool { return s.Event == "" && s.Ref() == t.Ref() }) {
			c.say(path, "It feeds the link itself.")
		}
		if slices.ContainsFunc(l.Targets[:i], func(x Driven) bool { return x == *t }) {
			c.say(path, "It is there twice.")
		}
	}
	for i, mode := range l.Modes {
		if !lookup.HasMode(mode) {
			c.say(fmt.Sprintf("modes/%d", i), "There is no such mode.")
		}
	}
	if strings.TrimSpace(l.Only) != "" {
		if of, problem := lookup.Formula(l.Only, false); problem != "" {
			c.say("only", "%s", problem)
		} else if of != thing.TypeBoolean {
			c.say("only", "It must come to yes or no.")
		}
	}
	return c.problems
}

// CheckStages returns what keeps stages from being at work.
func CheckStages(stages []Stage, lookup Lookup) []document.Fault {
	c := &checker{lookup: lookup}
	c.stages(stages)
	return c.problems
}

func (c *checker) stages(stages []Stage) {
	for i := range stages {
		path := fmt.Sprintf("stages/%d", i)
		c.stage(path, &stages[i])
		c.backward(path, stages, i)
	}
}

type checker struct {
	lookup   Lookup
	problems []document.Fault
}

func (c *checker) say(path, format string, args ...any) {
	c.problems = append(c.problems, document.Fault{Path: path, Message: fmt.Sprintf(format, args...)})
}

func (c *checker) source(path string, s *Source) {
	switch {
	case s.Device == "" || s.Property == "" && s.Event == "":
		c.say(path, "Choose what feeds it.")
	case s.Property != "" && s.Event != "":
		c.say(path, "A source is a property or an event, not both.")
	case s.Event != "":
		c.event(path, s)
	default:
		if p := c.lookup.Property(s.Device, s.Property); p == nil {
			c.say(path, "The device does not have this any more.")
		} else if p.Type != thing.TypeNumber && p.Type != thing.TypeBoolean {
			c.say(path, "%s is no number, nor yes or no.", p.Title)
		}
	}
}

func (c *checker) event(path string, s *Source) {
	event := c.lookup.Event(s.Device, s.Event)
	switch {
	case event == nil:
		c.say(path, "The device does not have this any more.")
	case event.Number && (s.Is != "" || s.Gives != 0):
		c.say(path, "%s carries a number, which counts as it is.", event.Title)
	case event.Number:
	case s.Is == "" && len(event.Gestures()) > 0:
		c.say(path, "Say which gesture of %s counts.", event.Title)
	case s.Is != "" && !slices.Contains(event.Gestures(), s.Is):
		c.say(path, "%s cannot be %s.", event.Title, s.Is)
	}
}

func (c *checker) target(path string, t *Driven) {
	p := c.lookup.Property(t.Device, t.Property)
	switch {
	case t.Device == "" || t.Property == "":
		c.say(path, "Choose what is set.")
	case p == nil:
		c.say(path, "The device does not have this any more.")
	case !p.Writable:
		c.say(path, "%s can only be read.", p.Title)
	case p.Type != thing.TypeNumber && p.Type != thing.TypeBoolean:
		c.say(path, "%s takes no number, nor on and off.", p.Title)
	}
}

const (
	mostPerSecond  = 100
	longestSeconds = 3600
)

func (c *checker) stage(path string, s *Stage) {
	switch s.Kind {
	case Changes, ZeroOff:
	case DeadBand:
		if s.Width <= 0 {
			c.say(path+"/width", "Say by how much a value must differ: more than 0.")
		}
	case Limit:
		if s.PerSecond <= 0 || s.PerSecond > mostPerSecond {
			c.say(path+"/perSecond", "From 1 a minute (0.017) to %d a second.", mostPerSecond)
		}
	case Smooth, Delay:
		if s.Seconds <= 0 || s.Seconds > longestSeconds {
			c.say(path+"/seconds", "More than 0 s, and an hour at most.")
		}
	case Bounds:
		c.bounds(path, s)
	case Relative:
		c.bounds(path, s)
		if s.Step == 0 {
			c.say(path+"/step", "Say what each step of the source adds.")
		}
	case Map:
		c.mapping(path, s)
	case Expression:
		if strings.TrimSpace(s.Text) == "" {
			c.say(path+"/text", "Write what becomes of the value that comes in: coming.")
		} else if of, problem := c.lookup.Formula(s.Text, true); problem != "" {
			c.say(path+"/text", "%s", problem)
		} else if of != thing.TypeNumber {
			c.say(path+"/text", "It must come to a number.")
		}
	default:
		c.say(path+"/kind", "%q is no stage.", s.Kind)
	}
}

func (c *checker) bounds(path string, s *Stage) {
	if s.Low >= s.High {
		c.say(path+"/high", "It must be above %g.", s.Low)
	}
}

func (c *checker) mapping(path string, s *Stage) {
	if s.In == nil || s.In.From == s.In.To {
		c.say(path+"/in", "Say which range comes in: its ends differ.")
	}
	if s.Out == nil {
		c.say(path+"/out", "Say which range goes out.")
	}
	switch s.Curve {
	case "", Straight, Eye:
	case Points:
		if len(s.Points) < 2 {
			c.say(path+"/points", "A curve has two points at least.")
		}
		for i, p := range s.Points {
			switch {
			case p.X < 0 || p.X > 1 || p.Y < 0 || p.Y > 1:
				c.say(fmt.Sprintf("%s/points/%d", path, i), "A point lies within its ranges, from 0 to 1.")
			case i > 0 && p.X <= s.Points[i-1].X:
				c.say(fmt.Sprintf("%s/points/%d", path, i), "Each point lies to the right of the one before.")
			}
		}
	default:
		c.say(path+"/curve", "%q is no curve.", s.Curve)
	}
}

// backward says where a turn could not begin at where the targets are: what follows it cannot be read backward.
func (c *checker) backward(path string, stages []Stage, i int) {
	if stages[i].Kind != Relative {
		return
	}
	for _, s := range stages[i+1:] {
		switch {
		case s.Kind == Relative:
			c.say(path, "There is another such stage behind it: one adds up, not two.")
			return
		case s.Kind == Expression:
			c.say(path, "It begins at where the targets are, which an expression behind it hides: put that before.")
			return
		case s.Kind == Map && s.Curve == Points && !rising(s.Points):
			c.say(path, "The curve behind it goes up and down, so that it cannot tell where the targets are.")
			return
		case s.Kind == Map && s.Out != nil && s.Out.From == s.Out.To:
			c.say(path, "The range behind it is a single value, so that it cannot tell where the targets are.")
			return
		}
	}
}

// rising reports whether a curve goes one way alone.
func rising(points []CurvePoint) bool {
	up, down := true, true
	for i := 1; i < len(points); i++ {
		up = up && points[i].Y > points[i-1].Y
		down = down && points[i].Y < points[i-1].Y
	}
	return up || down
}

// WellFormed returns what is wrong with a document whatever else there is: an unfinished link may be saved, and is not at work.
func (l *Link) WellFormed() error {
	if strings.TrimSpace(l.Title) == "" {
		return document.Wrong("title", "give the link a name")
	}
	return nil
}

package rule

import (
	"encoding/json"
	"fmt"

	"amvek/core/light"
	"amvek/core/thing"
)

// StepKind says what a step does.
type StepKind string

// The kinds of step.
const (
	StepSet      StepKind = "set"         // write a property once
	StepHold     StepKind = "hold"        // keep a property until the rule lets go or ForSeconds are over
	StepWait     StepKind = "wait"        // wait
	StepUntil    StepKind = "until"       // wait until a condition is true
	StepIf       StepKind = "if"          // one of two
	StepRepeat   StepKind = "repeat"      // again and again: so many times, while or until a condition
	StepEach     StepKind = "each"        // once for each device of a group
	StepTogether StepKind = "together"    // several at the same time
	StepOneOf    StepKind = "oneOf"       // one of several, by chance
	StepRemember StepKind = "remember"    // remember how devices are
	StepPutBack  StepKind = "putBack"     // put them back so
	StepAction   StepKind = "action"      // ask a device for something
	StepScene    StepKind = "scene"       // apply a scene
	StepRun      StepKind = "run"         // run another rule's steps
	StepStop     StepKind = "stop"        // stop what another rule has under way, or end this run
	StepNotify   StepKind = "notify"      // tell the household
	StepSay      StepKind = "say"         // let speakers say something
	StepWeb      StepKind = "web"         // call a web address
	StepPublish  StepKind = "publish"     // publish a message on the hub's broker
	StepProgram  StepKind = "program"     // run a program of the data folder
	StepRamp     StepKind = "ramp"        // bring a number from what it is to another over ForSeconds
	StepLight    StepKind = "light"       // do something with the light of a room
	StepThrough  StepKind = "stepThrough" // go through values, one after the other, until the run is stopped
	StepPause    StepKind = "pause"       // keep another rule from acting
	StepResume   StepKind = "resume"      // let it act again
	StepQuestion StepKind = "question"    // ask the household, and do what goes with the answer
	StepShow     StepKind = "show"        // show something on panels
	StepScript   StepKind = "script"      // run a script
	StepSequence StepKind = "sequence"    // start a sequence of scenes
	StepPlay     StepKind = "play"        // let players play something that is searched by words
)

// Firmness says how firmly a hold holds.
type Firmness string

// The firmnesses. Without one a hand may take over.
const (
	Firm   Firmness = "firm"   // a hand's write waits below it
	Safety Firmness = "safety" // and it goes before all other holds
)

// Member stands for a device in the steps of an each: the one whose turn it is. Its property names a role.
const Member = "member"

// Step is one thing a rule does. Which fields count depends on its kind.
type Step struct {
	Kind     StepKind `json:"kind" enum:"set,hold,wait,until,if,repeat,each,together,oneOf,remember,putBack,action,scene,run,stop,notify,say,web,publish,program,ramp,stepThrough,light,pause,resume,script,question,show,play,sequence"`
	Device   string   `json:"device,omitempty" doc:"Id of the device; in the steps of an each, member is the one whose turn it is."`
	Group    string   `json:"group,omitempty" doc:"Id of a group, a room, a floor or a label instead of a device: all its devices; property then names a role."`
	Property string   `json:"property,omitempty"`
	// Value is what is set. With To, a number by chance from Value to To. With By, it is added to what is.
	Value thing.Value `json:"value,omitzero"`
	To    thing.Value `json:"to,omitzero" doc:"A number by chance from value to this."`
	By    bool        `json:"by,omitempty" doc:"The value is added to what the property is at."`
	// Values are what a step through goes through, every GapSeconds, round and round or ToAndFro.
	Values   []thing.Value `json:"values,omitempty" maxItems:"100" doc:"What a step through goes through, one every gapSeconds."`
	ToAndFro bool          `json:"toAndFro,omitempty" doc:"A step through goes back from the last value instead of beginning again."`
	// Once says that a step through goes one value further and ends.
	Once bool `json:"once,omitempty" doc:"A step through goes one value further and ends, instead of going on."`
	// ForNow says that it is as it was before once the light was off.
	ForNow bool `json:"forNow,omitempty" doc:"Once the light was off, it comes on as it was before; else with what was reached."`
	// Dial is an event that carries the turns of a dial, by which a step through becomes faster or slower while it goes on.
	Dial *thing.Ref `json:"dial,omitempty" doc:"The turn of a dial by which a step through becomes faster, to the right, or slower."`
	// Even makes a ramp of brightness look even, and one of white: by lightness, and by reciprocal temperature.
	Even bool `json:"even,omitempty" doc:"A ramp of brightness or white that looks even: by lightness (CIE 1976), and by reciprocal temperature."`
	// From is the property that the value is taken from.
	From *thing.Ref `json:"from,omitempty" doc:"The property that the value is taken from."`
	// Expression is what the value is worked out by.
	Expression  string  `json:"expression,omitempty" maxLength:"2000" doc:"An expression that the value is worked out by."`
	FadeSeconds float64 `json:"fadeSeconds,omitempty" minimum:"0" maximum:"3600"`
	ForSeconds  float64 `json:"forSeconds,omitempty" minimum:"0" maximum:"604800" doc:"How long to wait, to ramp, or to hold in a when rule."`
	// ToSeconds makes a wait last by chance from ForSeconds to this.
	ToSeconds float64 `json:"toSeconds,omitempty" minimum:"0" maximum:"604800" doc:"A wait lasts by chance up to this."`
	// AtMostSeconds bounds a wait until, a question and a step through; then Else is done.
	AtMostSeconds float64 `json:"atMostSeconds,omitempty" minimum:"0" maximum:"604800" doc:"How long to wait at most; 0 is without end."`
	// Formulas may give how long.
	Formulas Formulas `json:"formulas,omitempty" doc:"Expressions that give durations, by the fields' names, such as forSeconds."`
	// Firm says how firmly a hold holds: a hand's write waits below a firm one, and safety goes before all others.
	Firm Firmness `json:"firm,omitempty" enum:",firm,safety" doc:"A hand's write waits below a firm hold; safety goes before all other holds, too."`
	// Unattended allows this one step to switch on what is attended only.
	Unattended bool `json:"unattended,omitempty" doc:"Allows this one step to switch on a device that is attended only."`
	// UntilDone lets a rule's run wait until the device has confirmed the value, and end when it does not follow.
	UntilDone bool `json:"untilDone,omitempty" doc:"The run goes on when the device has confirmed, and ends when it does not follow; in rules only."`

	// Condition is of an if, an until and a repeat.
	Condition *Condition `json:"condition,omitempty"`
	// Until says that a repeat ends once its condition is true, which is looked at after each round; else it goes on
	// while the condition is true, which is looked at before.
	Until bool   `json:"until,omitempty"`
	Times int    `json:"times,omitempty" minimum:"0" maximum:"10000" doc:"How many rounds a repeat has at most; 0 is without end."`
	Then  []Step `json:"then,omitempty" doc:"What an if does when its condition is true."`
	Else  []Step `json:"else,omitempty" doc:"What an if does otherwise, an until when its time is over, and a set that waits until it is done where the device does not follow."`
	Do    []Step `json:"do,omitempty" doc:"What a repeat or an each does in every round."`
	// GapSeconds is between the rounds of an each.
	GapSeconds float64  `json:"gapSeconds,omitempty" minimum:"0" maximum:"3600" doc:"Between the rounds of an each, or the values of a step through."`
	Branches   []Branch `json:"branches,omitempty" maxItems:"20" doc:"What is done together, or one of which is done."`

	Action string `json:"action,omitempty"`
	// Input is what the action is given, by the names of its inputs.
	Input map[string]Given `json:"input,omitempty" doc:"What the action is given, by the names of its inputs; those that it can do without may be left out."`
	Scene string           `json:"scene,omitempty" doc:"Id of the scene."`
	// Scenes are those of which the next one is applied, instead of Scene.
	Scenes []string `json:"scenes,omitempty" maxItems:"50" doc:"Ids of scenes of which the one after that in effect is applied, instead of one."`
	// OrOff says that the lights go off where the scene, or the last of several, is in effect already.
	OrOff bool `json:"orOff,omitempty" doc:"Where the scene, or the last of several, is in effect already, its lights go off."`
	// Light is the light of a room, and Verb what is done with it; Value goes with that.
	Light    string     `json:"light,omitempty" doc:"Id of the light of a room."`
	Verb     light.Verb `json:"verb,omitempty" enum:",off,on,follow,full,level,levelBy,white,whiteBy,color,next,nextOff,previous" doc:"What is done with the light of a room."`
	Sequence string     `json:"sequence,omitempty" doc:"Id of the sequence to start, or to stop."`
	// Dashboard is the one whose panels show something; all do where it is absent.
	Dashboard string `json:"dashboard,omitempty" doc:"Id of the dashboard whose panels show it; absent for all."`
	Rule      string `json:"rule,omitempty" doc:"Id of the rule to run or to stop; a stop without one ends this run."`
	// What follows is of steps that reach outside: web, publish and program. Else is done when they fail.
	Address    string   `json:"address,omitempty" maxLength:"2000" doc:"The web address to call; an expression in {} is put in as what it comes to."`
	Method     string   `json:"method,omitempty" enum:"GET,POST,PUT,DELETE" doc:"How to call it; GET where it is absent."`
	Topic      string   `json:"topic,omitempty" maxLength:"500"`
	Retain     bool     `json:"retain,omitempty" doc:"The broker keeps the message for those who come later."`
	Program    string   `json:"program,omitempty" maxLength:"200" doc:"The name of a file in the data folder's programs."`
	Arguments  []string `json:"arguments,omitempty" maxItems:"20"`
	OwnMachine bool     `json:"ownMachine,omitempty" doc:"The address may be one of the hub's own machine, or link-local."`
	// Into is the variable that the answer goes into, and Pick the part of it, by a JSON pointer (RFC 6901).
	Into         string  `json:"into,omitempty" doc:"Id of the variable that the answer goes into."`
	Pick         string  `json:"pick,omitempty" maxLength:"200" doc:"The part of an answer in JSON, by a JSON pointer (RFC 6901) such as /main/temp."`
	LimitSeconds float64 `json:"limitSeconds,omitempty" minimum:"0" maximum:"300" doc:"How long it may take; 10 s where it is absent."`

	// Script is in Starlark; Else is done when it fails.
	Script string `json:"script,omitempty" maxLength:"20000" doc:"A script in Starlark; when it fails it does nothing, and else is done."`

	Text string `json:"text,omitempty" maxLength:"2000" doc:"What is told, said or sent; an expression in {} is said as what it comes to."`
}

// Given is a value that an action is given: fixed, or worked out.
type Given struct {
	Value      thing.Value `json:"value,omitzero"`
	Expression string      `json:"expression,omitempty" maxLength:"2000" doc:"An expression that the value is worked out by."`
}

// Branch is a list of steps beside others.
type Branch struct {
	Do []Step `json:"do"`
	// Answer is the answer to a question that it goes with.
	Answer string `json:"answer,omitempty" maxLength:"60" doc:"The answer to a question that it goes with."`
}

// MarshalJSON writes a branch without steps with an empty list of them, as it is read.
func (b Branch) MarshalJSON() ([]byte, error) {
	type plain Branch
	if b.Do == nil {
		b.Do = []Step{}
	}
	return json.Marshal(plain(b))
}

// lists are the lists of steps inside a step, by the ends of their paths.
func (s *Step) lists(each func(path string, steps []Step)) {
	if len(s.Then) > 0 {
		each("then", s.Then)
	}
	if len(s.Else) > 0 {
		each("else", s.Else)
	}
	if len(s.Do) > 0 {
		each("do", s.Do)
	}
	for i := range s.Branches {
		each(fmt.Sprintf("branches/%d/do", i), s.Branches[i].Do)
	}
}

// Walk calls f for each step, outer before inner, in the order of the document; f is given the path of the step.
func Walk(path string, steps []Step, f func(path string, s *Step)) {
	for i := range steps {
		at := fmt.Sprintf("%s/%d", path, i)
		f(at, &steps[i])
		steps[i].lists(func(end string, inner []Step) { Walk(at+"/"+end, inner, f) })
	}
}

package engine

import (
	"time"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/link"
	"amvek/core/mirror"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// InputKind tells what came in.
type InputKind string

// The kinds of input.
const (
	InputReport     InputKind = "report"     // a device says a property's value
	InputEvent      InputKind = "event"      // an event at a device
	InputWrite      InputKind = "write"      // a person sets a value once
	InputKeep       InputKind = "keep"       // a person keeps a value until they let go, or Until
	InputLetGo      InputKind = "letGo"      // a person lets the hold of Owner go
	InputScene      InputKind = "scene"      // a person applies a scene
	InputTry        InputKind = "try"        // a person tries Targets without saving them
	InputRun        InputKind = "run"        // a person runs a rule's steps now
	InputInvoke     InputKind = "invoke"     // a person asks for an action
	InputOutcome    InputKind = "outcome"    // what became of a command
	InputDefine     InputKind = "define"     // a definition is new or changed
	InputRemove     InputKind = "remove"     // a definition is gone
	InputConnection InputKind = "connection" // a connection was reached or lost
	InputStart      InputKind = "start"      // all definitions and states are loaded
	InputCover      InputKind = "cover"      // a person has a shutter's travel times measured
	InputAgree      InputKind = "agree"      // a person settles a difference between hub and device
	InputPhrase     InputKind = "phrase"     // a phrase was said or typed, in Words
	InputCall       InputKind = "call"       // another program called the name in Words, and Sent something in JSON
	InputPast       InputKind = "past"       // what a property was at before, in Past, as OutputPast asked for
	InputAnswer     InputKind = "answer"     // what became of a call outside: OK with Words, or Reason
	InputResume     InputKind = "resume"     // a person lets a rule act again that another keeps from acting
	InputEntries    InputKind = "entries"    // a calendar, by its ID, was read: its Entries
	InputSequence   InputKind = "sequence"   // a person starts a sequence, by its ID, or stops it by the Verb stop
	InputLight      InputKind = "light"      // a person does something with the light of a room, by its ID: Verb, with Value
	InputClock      InputKind = "clock"      // the clock was set, By so much: what is now is by the new one
	InputTick       InputKind = "tick"       // time has passed
)

// DefinitionKind names a kind of definition that the engine knows.
type DefinitionKind string

// The kinds of definition that matter to the engine.
const (
	KindHome     DefinitionKind = "home"
	KindDevice   DefinitionKind = "device"
	KindScene    DefinitionKind = "scene"
	KindRule     DefinitionKind = "rule"
	KindSchedule DefinitionKind = "schedule"
	KindGroup    DefinitionKind = "group"
	KindSequence DefinitionKind = "sequence"
	KindRoom     DefinitionKind = "room"
	KindLink     DefinitionKind = "link"
	KindMirror   DefinitionKind = "mirror"
	// KindRoomLight is the light of a room.
	KindRoomLight DefinitionKind = "light"
	// KindCurve is a day curve.
	KindCurve DefinitionKind = "curve"
	// KindDashboard is known by its id alone: that there are panels of it.
	KindDashboard DefinitionKind = "dashboard"
	// KindCalendar is known by its id; its entries come with InputEntries.
	KindCalendar DefinitionKind = "calendar"
)

// Input is one thing that comes from outside. Which fields count depends on Kind.
type Input struct {
	Kind InputKind `json:"kind"`
	// Device and Name are the device and its property, event or action.
	Device string      `json:"device,omitempty"`
	Name   string      `json:"name,omitempty"`
	Value  thing.Value `json:"value,omitzero"`
	// Given is what an action is given.
	Given thing.Inputs `json:"given,omitempty"`
	// Entries are those of a calendar, by their beginnings.
	Entries []almanac.Entry `json:"entries,omitempty"`
	// Polled says that the device was asked, so that its answer tells nothing of how often it speaks by itself.
	Polled bool `json:"polled,omitempty"`
	// Who does it is said by Doer; By is by how much the clock was set.
	Doer        cause.By       `json:"doer,omitzero"`
	Until       time.Time      `json:"until,omitzero"`
	By          time.Duration  `json:"by,omitempty"`
	Owner       string         `json:"owner,omitempty"`
	Verb        string         `json:"verb,omitempty"`
	Words       string         `json:"words,omitempty"`
	Sent        string         `json:"sent,omitempty"`
	Scene       string         `json:"scene,omitempty"`
	Rule        string         `json:"rule,omitempty"`
	Targets     []light.Target `json:"targets,omitempty"`
	FadeSeconds float64        `json:"fadeSeconds,omitempty"`
	Connection  string         `json:"connection,omitempty"`
	Up          bool           `json:"up,omitempty"`
	Quiet       bool           `json:"quiet,omitempty"` // Quiet says that the change is written down elsewhere.
	// Command, OK, Assumed and Reason are a command's outcome. Unreached says that the
	// device was not reached at all, so that it is worth trying again.
	Command   uint64 `json:"command,omitempty"`
	OK        bool   `json:"ok,omitempty"`
	Assumed   bool   `json:"assumed,omitempty"`
	Unreached bool   `json:"unreached,omitempty"`
	Reason    string `json:"reason,omitempty"`

	Definition DefinitionKind   `json:"definition,omitempty"`
	ID         string           `json:"id,omitempty"`
	Home       *home.Home       `json:"home,omitempty"`
	Thing      *home.Device     `json:"thing,omitempty"`
	SceneDoc   *light.Scene     `json:"sceneDoc,omitempty"`
	Sequence   *light.Sequence  `json:"sequence,omitempty"`
	RuleDoc    *rule.Rule       `json:"ruleDoc,omitempty"`
	Schedule   *rule.Schedule   `json:"schedule,omitempty"`
	Group      *home.Group      `json:"group,omitempty"`
	Room       *home.Room       `json:"room,omitempty"`
	Link       *link.Link       `json:"link,omitempty"`
	Mirror     *mirror.Mirror   `json:"mirror,omitempty"`
	RoomLight  *light.RoomLight `json:"roomLight,omitempty"`
	Curve      *light.DayCurve  `json:"curve,omitempty"`
	Past       []Moment         `json:"past,omitempty"`
}

// Moment is a value that a property had from a time on; yes is 1.
type Moment struct {
	At    time.Time `json:"at"`
	Value float64   `json:"value"`
}

// OutputKind tells what an output is.
type OutputKind string

// The kinds of output.
const (
	OutputCommand  OutputKind = "command"  // set Device's property Name to Value
	OutputInvoke   OutputKind = "invoke"   // ask Device for its action Name
	OutputJournal  OutputKind = "journal"  // write Entry
	OutputProperty OutputKind = "property" // the state of a property changed
	OutputRule     OutputKind = "rule"     // how a rule or schedule stands changed; with Changed also what is to be kept of it
	OutputDevice   OutputKind = "device"   // what is remembered of when a device speaks changed
	OutputNotify   OutputKind = "notify"   // tell the household Telling; Command is the call that an answer to it is for
	OutputCall     OutputKind = "call"     // do Call, and give an InputAnswer with its Command
	OutputTrace    OutputKind = "trace"    // a run ended, or a rule did not start: keep Trace
	OutputSequence OutputKind = "sequence" // the state of the sequence Name changed
	OutputLink     OutputKind = "link"     // how the link Name stands changed
	OutputMirror   OutputKind = "mirror"   // how the mirror Name stands changed
	OutputScene    OutputKind = "scene"    // the scene Name was laid on top of what is on, or lifted off again
	// OutputRoomLight is that how the light of a room stands changed: Name.
	OutputRoomLight OutputKind = "light"
	// OutputFrame is what lamps of the effect Name are to be at now, over Fade: Frame. Of those that wait only the latest of each counts.
	OutputFrame OutputKind = "frame"
	// OutputStill is that nothing of frames for the properties of Frame is to be sent any more.
	OutputStill OutputKind = "still"
	OutputPast  OutputKind = "past" // ask what a property was at for the last Fade
)

// Output is one thing for the hub to do. Which fields count depends on Kind.
type Output struct {
	Kind    OutputKind    `json:"kind"`
	Command uint64        `json:"command,omitempty"`
	Device  string        `json:"device,omitempty"`
	Name    string        `json:"name,omitempty"`
	Value   thing.Value   `json:"value,omitzero"`
	Fade    time.Duration `json:"fade,omitempty"`
	Cause   cause.ID      `json:"cause,omitempty"`
	Changed bool          `json:"changed,omitempty"`
	// Given is what an action is given, and Pick the part of its answer that a run waits for.
	Given thing.Inputs `json:"given,omitempty"`
	Pick  string       `json:"pick,omitempty"`
	// Measured says that a property's reported value is new, so belongs in its history.
	Measured bool         `json:"measured,omitempty"`
	Rule     string       `json:"rule,omitempty"`
	Entry    *cause.Entry `json:"entry,omitempty"`
	Telling  *Telling     `json:"telling,omitempty"`
	Trace    *state.Trace `json:"trace,omitempty"`
	Call     *Call        `json:"call,omitempty"`
	// Frame are the values of an effect's lamps.
	Frame []light.Target `json:"frame,omitempty"`
}

// Call is something to be done outside, whose answer a run waits for.
type Call struct {
	Kind    rule.StepKind `json:"kind"`
	Address string        `json:"address,omitempty"`
	// OwnMachine allows an address of the hub's own machine.
	OwnMachine bool     `json:"ownMachine,omitempty"`
	Method     string   `json:"method,omitempty"`
	Body       string   `json:"body,omitempty"`
	Topic      string   `json:"topic,omitempty"`
	Retain     bool     `json:"retain,omitempty"`
	Program    string   `json:"program,omitempty"`
	Arguments  []string `json:"arguments,omitempty"`
	// Pick is the part of the answer that is wanted, by a JSON pointer (RFC 6901).
	Pick  string        `json:"pick,omitempty"`
	Limit time.Duration `json:"limit"`
}

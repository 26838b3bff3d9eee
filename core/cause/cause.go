// Package cause is the record of what happened and why: every input from
// outside gets an id, and everything that follows from it carries the chain.
// It only describes entries; it neither keeps nor writes them.
package cause

import (
	"time"

	"amvek/core/thing"
)

// ID numbers an entry. Ids grow with time; 0 means none.
type ID uint64

// Kind says what sort of thing happened.
type Kind string

// Inputs from outside: every chain begins with one of these.
const (
	Reported      Kind = "reported"      // a device said something new
	Happened      Kind = "happened"      // an event at a device: a press, a turn
	ByDevice      Kind = "byDevice"      // a writable property was changed at the device or in its maker's app
	Written       Kind = "written"       // a person set a value here
	Kept          Kind = "kept"          // a person said "keep it so"
	LetGo         Kind = "letGo"         // a person let a hold go
	SceneStarted  Kind = "sceneStarted"  // a person applied a scene
	Tried         Kind = "tried"         // a person tried values without saving them
	RunByHand     Kind = "runByHand"     // a person ran a rule now
	Asked         Kind = "asked"         // a person asked a device to do something
	Defined       Kind = "defined"       // the owner added, changed or removed something
	Due           Kind = "due"           // a schedule's time came
	Missed        Kind = "missed"        // a schedule's time passed while the hub was off
	Started       Kind = "started"       // the hub started
	ConnectedUp   Kind = "connectedUp"   // a connection was reached
	ConnectedDown Kind = "connectedDown" // a connection was lost
	FellSilent    Kind = "fellSilent"    // a device said nothing for longer than it ever does
	HeardAgain    Kind = "heardAgain"    // a silent device speaks again
	Differs       Kind = "differs"       // a device is at another value than the hub believed
	Agrees        Kind = "agrees"        // hub and device agree again by themselves
	TimeCame      Kind = "timeCame"      // a time that a rule waits for came
	Said          Kind = "said"          // a phrase was said or typed
	Called        Kind = "called"        // another program called by the web
	Answered      Kind = "answered"      // a call outside came back, or failed
)

// What follows from inputs.
const (
	Waited      Kind = "waited"      // a running "for" or a wait came to its end
	Began       Kind = "began"       // a whenever rule begins to hold
	Ended       Kind = "ended"       // a whenever rule lets go
	Ran         Kind = "ran"         // a when rule starts its steps
	NotStarted  Kind = "notStarted"  // a rule would have acted but a condition stopped it
	Stopped     Kind = "stopped"     // a rule was stopped: budget, error
	CutShort    Kind = "cutShort"    // a run ended before its steps did: a device did not follow
	Applied     Kind = "applied"     // a scene applied by automation
	Lifted      Kind = "lifted"      // automation lifted a scene off again that lay on top
	KeptBack    Kind = "keptBack"    // automation would have applied a scene that is not for this mode
	Lit         Kind = "lit"         // automation did something with the light of a room, which stands for the link
	Carried     Kind = "carried"     // a link carries on what a source says
	Mirrored    Kind = "mirrored"    // a member of a mirror follows another
	Commanded   Kind = "commanded"   // a command went to a device
	Confirmed   Kind = "confirmed"   // the device reports the value asked for
	Failed      Kind = "failed"      // a command was not carried out
	Learned     Kind = "learned"     // the travel times of a shutter were measured
	Refused     Kind = "refused"     // automation would have switched on what is attended only
	HandLeads   Kind = "handLeads"   // holds wait below a hand's write
	HoldExpired Kind = "holdExpired" // a hold with an end came to it
	Became      Kind = "became"      // what the hub itself keeps was set
	Notified    Kind = "notified"    // the household was told something
	// LiftedByHand is that a person lifted a scene off again that lay on top.
	LiftedByHand Kind = "liftedByHand"
	// LitByHand is that a person did something with the light of a room, which stands for the link; Note is what.
	LitByHand Kind = "litByHand"
	// PlayedByHand to PlayedOut are of a sequence, whose id stands for the scene.
	PlayedByHand Kind = "playedByHand" // a person started it
	HaltedByHand Kind = "haltedByHand" // a person stopped it
	Played       Kind = "played"       // it began
	PlayedOut    Kind = "playedOut"    // it ended
	ClockSet     Kind = "clockSet"     // the clock of the machine was set, by the value in seconds
	Paused       Kind = "paused"       // a rule keeps another from acting
	WentOn       Kind = "wentOn"       // a rule that was paused may act again
	Scripted     Kind = "scripted"     // a script ran to its end; what it printed is the note
	ScriptFell   Kind = "scriptFell"   // a script failed, so did nothing
	Replied      Kind = "replied"      // a device answered an action with something
	LetIn        Kind = "letIn"        // somebody was let in
	WayIn        Kind = "wayIn"        // a way in was made, changed or taken away; the note is what somebody did
	KeptOut      Kind = "keptOut"      // somebody, or a page from elsewhere, was kept out
	SentByHand   Kind = "sentByHand"   // a person sent a message over a connection
	ReachedOut   Kind = "reachedOut"   // a call outside was begun: a web address, a message, a program
)

// External reports whether entries of this kind come from outside, so may begin a chain.
func (k Kind) External() bool {
	switch k {
	case Reported,
		Happened,
		ByDevice,
		Written,
		Kept,
		LetGo,
		SceneStarted,
		Tried,
		RunByHand,
		Asked,
		Defined,
		Due,
		Missed,
		Started,
		ConnectedUp,
		ConnectedDown,
		FellSilent,
		HeardAgain,
		Differs,
		Agrees,
		TimeCame,
		Said,
		Called,
		Answered,
		PlayedByHand,
		HaltedByHand,
		LitByHand,
		LiftedByHand,
		SentByHand,
		ClockSet:
		return true
	default:
		return false
	}
}

// ScenesLightsOff is the note of a scene that was in effect already, so that its lights went off.
const ScenesLightsOff = "off"

// NoRule is the note of a press for which there is no rule.
const NoRule = "no rule"

// Entry is one line of the journal.
type Entry struct {
	ID     ID        `json:"id"`
	Parent ID        `json:"parent,omitempty" doc:"What this follows from; absent where a chain begins."`
	At     time.Time `json:"at"`
	Kind   Kind      `json:"kind"`
	// Device to Connection are ids; which are set depends on the kind.
	Device     string      `json:"device,omitempty"`
	Name       string      `json:"name,omitempty" doc:"Property, event or action."`
	Rule       string      `json:"rule,omitempty"`
	Scene      string      `json:"scene,omitempty"`
	Schedule   string      `json:"schedule,omitempty"`
	Link       string      `json:"link,omitempty" doc:"A link, a mirror, or the light of a room."`
	Connection string      `json:"connection,omitempty"`
	Value      thing.Value `json:"value,omitzero"`
	// By is who did it, where an entry begins a chain.
	By By `json:"by,omitzero"`
	// Note gives a reason in words or, for confirmations, nothing.
	Note string `json:"note,omitempty"`
	// Milliseconds is a delay, such as from a command to its confirmation.
	Milliseconds float64 `json:"milliseconds,omitempty"`
}

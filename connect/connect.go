// Package connect says what the hub and its connections tell each other. A
// connection, in a package of its own below this one, turns one protocol into reports
// and commands in canonical units. Nothing here decides anything about the home.
package connect

import (
	"context"
	"time"

	"amvek/core/thing"
)

// Announcement is a device that a connection sees, in the home or not.
type Announcement struct {
	// Hardware is the identity that stays when addresses change.
	Hardware string
	// Address is what the connection calls it.
	Address string
	Maker   string
	Model   string
	// Firmware is the version of what runs on it, empty where it does not say.
	Firmware string
	// Label and Room are the maker's own names for it and its place.
	Label, Room string
	// Gateway is the gateway it is behind, where the connection has several.
	Gateway string
	// Groups are the bridge's own groups that it is in, parted by commas.
	Groups string
	// Locked says that it wants a key that the hub does not have yet.
	Locked bool
	// Profile describes it; nil when the catalogue has none for the model.
	Profile *thing.Model
	// SelfDescribed says that the profile is the device's own description, which may change.
	SelfDescribed bool
}

// Outcome is what became of a command.
type Outcome struct {
	OK bool
	// Assumed says that no answer can be had over this way.
	Assumed bool
	// Unreached says that the device was not reached, so the command may be tried again.
	Unreached bool
	Reason    string
	// Answer is what the device answered an action with: JSON, or a text; at most [LongestAnswer] bytes of it.
	Answer string
}

// LongestAnswer is how many bytes of an answer to an action are kept; a longer one is left out.
const LongestAnswer = 16 << 10

// Failed returns the outcome of a command that the device or its bridge refused.
func Failed(reason string) Outcome { return Outcome{Reason: reason} }

// Unreached returns the outcome of a command that reached nobody.
func Unreached(reason string) Outcome { return Outcome{Reason: reason, Unreached: true} }

// Sink takes what a connection hears. Its methods return at once; they may be called from any goroutine.
type Sink interface {
	// Found tells all devices that are seen now.
	Found(devices []Announcement)
	Report(hardware, property string, value thing.Value)
	Event(hardware, event string, value thing.Value)
	// State tells that the way is open or lost, and why.
	State(up bool, reason string)
	// Reach tells that one device can no longer be reached and why, or can be again.
	Reach(hardware string, reached bool, reason string)
	// Joining tells how long a gateway still lets new devices join; 0 when it is shut.
	Joining(gateway string, left time.Duration)
	// Fault tells of a message that was refused, and why; the connection goes on.
	Fault(reason string)
}

// Connection is one way to devices.
type Connection interface {
	// Run keeps the way open until the context ends, telling the sink what it hears.
	Run(ctx context.Context, sink Sink)
	// Write sets a property of the device at an address, over the fade where the device can.
	Write(ctx context.Context, address, property string, value thing.Value, fade time.Duration) Outcome
	// Invoke asks the device for an action, with what the action is given.
	Invoke(ctx context.Context, address, action string, given thing.Inputs) Outcome
	// Sync asks at once for what would otherwise be asked for later, and returns when it was told.
	Sync(ctx context.Context)
	// Recall tells again what one piece of hardware last said, for a device that was just added.
	Recall(ctx context.Context, hardware string)
}

// Tester is a connection that can prove in one go that the way is open.
type Tester interface {
	// Test asks something harmless and returns what is wrong, in words for the owner.
	Test(ctx context.Context) error
}

// Setting is a value for a property of the device at an address.
type Setting struct {
	Address, Property string
	Value             thing.Value
}

// Framer is a connection that sets many devices in one message, as light that moves needs it.
type Framer interface {
	// Pace is how long after a frame the next may be sent.
	Pace() time.Duration
	// WriteFrame sets properties of several devices at once, over a time. A frame that was not taken is not sent again: the next
	// one comes soon. What cannot be set is left out.
	WriteFrame(ctx context.Context, settings []Setting, over time.Duration) Outcome
}

// Polled is a connection that asks its devices now and again, so that one which is not reached is noticed at once.
type Polled interface {
	Polls()
}

// Prompt is a connection that may be quick enough to be written to at once, without a goroutine to wait for it.
type Prompt interface {
	// Prompt reports whether writing never waits: for the network, for the device or for what listens to it.
	Prompt() bool
}

// Joiner is a connection with gateways that can let new devices join for a while.
type Joiner interface {
	// Join opens a gateway for a time, after which it shuts by itself; 0 shuts it at once.
	Join(ctx context.Context, gateway string, last time.Duration) error
}

// Selective is a connection that speaks only with devices that are in the home, and with others where its owner asks.
type Selective interface {
	// Select says which hardware is in the home, in place of what was said before.
	Select(hardware map[string]bool)
}

// SyncAtMost is how often connections to devices that tell of changes by themselves ask all of them
// at once, however often they are told to.
const SyncAtMost = 200 * time.Millisecond

// Searcher is a connection that can look for devices at once instead of at its next turn.
type Searcher interface {
	// Search returns when everybody had time to answer.
	Search(ctx context.Context)
}

// Profiled is a connection that looks its devices' profiles up again when one was added or changed.
type Profiled interface {
	Profiled()
}

// Trier is a connection that can speak with a device by a profile that is not in use.
type Trier interface {
	// Try returns what the device says, as fields that the profile's natives and signals read.
	Try(ctx context.Context, hardware string, profile *thing.Model) (map[string]any, error)
}

// Comparer is a connection whose devices speak by themselves, and can be asked as well, so that hub and device
// are compared now and again.
type Comparer interface {
	// Compare asks every device that can be set how it stands; the answers come as reports.
	Compare(ctx context.Context)
}

// Wire is a message as it went over the wire while a device was tried, with no key in it.
type Wire struct {
	// Sent says that the hub sent it; else it heard it.
	Sent bool   `json:"sent,omitempty"`
	Text string `json:"text"`
}

// Giver is a connection that also speaks with devices that the owner described.
type Giver interface {
	// Give takes the described devices by their hardware, in place of those given before.
	Give(things map[string]*thing.Described)
}

// Picture is what a device shows, as it sent it.
type Picture struct {
	Data []byte
	// ContentType is that of an image.
	ContentType string
}

// Pictured is a connection whose devices may show pictures.
type Pictured interface {
	// Picture asks the device at an address for one of the pictures of its description.
	Picture(ctx context.Context, address, name string) (Picture, error)
}

// Lister is a connection that may list all of its devices: what it does not list is not there.
type Lister interface {
	Lists() bool
}

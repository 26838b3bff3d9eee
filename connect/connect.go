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
	// Label and Room are the maker's own names for it and its place.
	Label, Room string
	// Profile describes it; nil when the catalogue has none for the model.
	Profile *thing.Model
}

// Outcome is what became of a command.
type Outcome struct {
	OK bool
	// Assumed says that no answer can be had over this way.
	Assumed bool
	// Unreached says that the device was not reached, so the command may be tried again.
	Unreached bool
	Reason    string
}

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
	// Fault tells of a message that was refused, and why; the connection goes on.
	Fault(reason string)
}

// Connection is one way to devices.
type Connection interface {
	// Run keeps the way open until the context ends, telling the sink what it hears.
	Run(ctx context.Context, sink Sink)
	// Write sets a property of the device at an address, over the fade where the device can.
	Write(ctx context.Context, address, property string, value thing.Value, fade time.Duration) Outcome
	// Invoke asks the device for an action.
	Invoke(ctx context.Context, address, action string) Outcome
	// Sync asks at once for what would otherwise be asked for later, and returns when it was told.
	Sync(ctx context.Context)
	// Recall tells again what one piece of hardware last said, for a device that was just added.
	Recall(ctx context.Context, hardware string)
}

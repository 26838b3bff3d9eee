package connect

import (
	"time"

	"amvek/core/thing"
)

// Silence is a sink for what is only tried: nothing is done with what it is told.
type Silence struct{}

// Found implements [Sink].
func (Silence) Found([]Announcement) {}

// Report implements [Sink].
func (Silence) Report(string, string, thing.Value) {}

// Event implements [Sink].
func (Silence) Event(string, string, thing.Value) {}

// State implements [Sink].
func (Silence) State(bool, string) {}

// Reach implements [Sink].
func (Silence) Reach(string, bool, string) {}

// Joining implements [Sink].
func (Silence) Joining(string, time.Duration) {}

// Fault implements [Sink].
func (Silence) Fault(string) {}

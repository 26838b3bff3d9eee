// Package docs holds what the owner made, as documents: which kinds of definitions there are, what is known of each kind (how it
// is read, checked, called, told in words, and what it refers to), and all that are there now, with an index of what refers to
// what. It acts on nothing, stores nothing and knows no engine that is running: that is the hub's.
package docs

import (
	"crypto/rand"
	"strings"

	"amvek/core/home"
)

// Kind names a kind of definition.
type Kind string

// The kinds of definition.
const (
	KindHome       Kind = "home"
	KindRoom       Kind = "room"
	KindConnection Kind = "connection"
	KindProfile    Kind = "profile"
	KindThing      Kind = "thing"
	KindDevice     Kind = "device"
	KindScene      Kind = "scene"
	KindRule       Kind = "rule"
	KindSchedule   Kind = "schedule"
	KindDashboard  Kind = "dashboard"
	KindGroup      Kind = "group"
	KindVariable   Kind = "variable"
	KindModes      Kind = "modes"
	KindCalendar   Kind = "calendar"
	KindSequence   Kind = "sequence"
	KindLink       Kind = "link"
	KindMirror     Kind = "mirror"
	KindLight      Kind = "light" // of a room
	KindCurve      Kind = "curve" // of a day
	KindPerson     Kind = "person"
)

// The ids of what there is one of.
const (
	HomeID  = "home"
	ModesID = "modes"
)

// OwnID is the id of what the home says of itself, as a device.
const OwnID = home.OwnID

// NewID returns an id that no other definition has, beginning with the kind for readers of logs.
func NewID(kind Kind) string {
	return string(kind) + "-" + strings.ToLower(rand.Text()[:10])
}

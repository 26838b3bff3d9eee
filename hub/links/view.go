package links

import (
	"maps"
	"slices"
	"time"

	"amvek/hub/docs"
)

// ConnectionView is a connection and how it stands.
type ConnectionView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	docs.Connection
	What        string    `json:"what" doc:"What kind of way it is, in words."`
	Standing    bool      `json:"standing" doc:"It belongs to the hub: it can be paused but not removed."`
	Up          bool      `json:"up"`
	Since       time.Time `json:"since,omitzero" doc:"Since when it is up or down; absent when nothing was heard yet."`
	Reason      string    `json:"reason,omitempty" doc:"Why it is not up."`
	LastFault   string    `json:"lastFault,omitempty" doc:"The last message that was refused."`
	Faults      int       `json:"faults"`
	LastFailure string    `json:"lastFailure,omitempty" doc:"Why the last command that failed did so."`
	PerMinute   int       `json:"perMinute" doc:"Messages in the last minute, both ways."`
	RoundTrip   float64   `json:"roundTrip,omitempty" doc:"Milliseconds that a command takes, over the last ones."`
	Waiting     int       `json:"waiting" doc:"Commands that wait to go out."`
	// Devices is how many in the home use it.
	Devices int `json:"devices"`
	// Gateways are the radio gateways behind it.
	Gateways []Gateway `json:"gateways"`
}

// Gateway is a radio gateway, which may let new devices join.
type Gateway struct {
	Name string `json:"name"`
	// OpenedAt and OpenUntil are of its joining window; zero while it is shut.
	OpenedAt  time.Time `json:"openedAt,omitzero"`
	OpenUntil time.Time `json:"openUntil,omitzero" doc:"Until when new devices may join; absent while it is shut."`
}

// View returns the connection and how it stands.
func (l *Link) View() ConnectionView {
	v := ConnectionView{
		ID: l.ID, Connection: l.Definition, Up: l.up, Reason: l.reason, LastFault: l.lastFault, Faults: l.faults, LastFailure: l.lastFailure,
		Waiting: l.outbox.waits(), Devices: len(l.devices), Gateways: []Gateway{},
	}
	for _, name := range slices.Sorted(maps.Keys(l.gateways)) {
		v.Gateways = append(v.Gateways, l.gateways[name])
	}
	if l.known || l.Definition.Paused {
		v.Since = l.since
	}
	v.PerMinute, v.RoundTrip = l.traffic.read(time.Now())
	return v
}

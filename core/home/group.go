package home

import (
	"slices"
	"strings"

	"amvek/core/document"
)

// Group is a named list of devices, used by rules as one.
type Group struct {
	Title string `json:"title" minLength:"1" maxLength:"80"`
	Note  string `json:"note,omitempty" maxLength:"2000"`
	// Devices are the ids of its members, in their order.
	Devices []string `json:"devices" maxItems:"500"`
}

// Check returns an error when the group could not be used.
func (g *Group) Check() error {
	if strings.TrimSpace(g.Title) == "" {
		return document.Wrong("title", "give the group a name")
	}
	for i, id := range g.Devices {
		if id == "" || slices.Contains(g.Devices[:i], id) {
			return document.Wrong("devices", "a device is in it twice, or none was chosen")
		}
	}
	return nil
}

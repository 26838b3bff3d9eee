package home

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"amvek/core/document"
)

// Role is what a person is to the home.
type Role string

// The roles.
const (
	Owner  Role = "owner"  // sees and does everything
	Member Role = "member" // sees and operates everything, and sets nothing up
	Guest  Role = "guest"  // sees the dashboards that they were given, and operates what stands on them
)

// Person is somebody of the household, or a guest.
type Person struct {
	Title string `json:"title" minLength:"1" maxLength:"60"`
	// Color is that of their marks, by its name in the palette.
	Color string `json:"color,omitempty" enum:",verdigris,ember,ochre,slate,plum" doc:"The color of their marks."`
	Role  Role   `json:"role" enum:"owner,member,guest"`
	// Until is when a guest is out again; the zero value is never.
	Until time.Time `json:"until,omitzero" doc:"When a guest is out again."`
	// Dashboards are the ids of those that a guest was given.
	Dashboards []string `json:"dashboards,omitempty" maxItems:"100"`
}

// Check returns an error when nobody could be this person.
func (p *Person) Check() error {
	switch {
	case strings.TrimSpace(p.Title) == "":
		return document.Wrong("title", "give the person a name")
	case !p.Until.IsZero() && p.Role != Guest:
		return document.Wrong("until", "only a guest is out again at a time")
	}
	for i, id := range p.Dashboards {
		if id == "" || slices.Contains(p.Dashboards[:i], id) {
			return document.Wrong(fmt.Sprintf("dashboards[%d]", i), "a dashboard is given twice, or none was chosen")
		}
	}
	return nil
}

// In reports whether the person may be in at a time.
func (p *Person) In(at time.Time) bool { return p.Until.IsZero() || at.Before(p.Until) }

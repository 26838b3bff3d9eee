package views

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// EntryView is a journal entry in words.
type EntryView struct {
	cause.Entry
	Text string `json:"text" doc:"What happened, in words."`
	// Names are the names in the text, so that they can be set apart.
	Names []string `json:"names,omitempty" doc:"The names in the text, to be set apart."`
	// Subject is the name of the device, rule, scene or schedule it is about.
	Subject string `json:"subject,omitempty"`
	// Tone says what sort of mark it gets.
	Tone string `json:"tone" enum:"plain,hand,automation,fault"`
}

// Entry puts an entry of the journal into words.
func (r *Reader) Entry(e cause.Entry) EntryView {
	v := EntryView{Entry: e, Tone: Tone(e.Kind)}
	subjects := []string{e.Device, e.Rule, e.Scene, e.Schedule, e.Link}
	if e.Kind == cause.NotStarted {
		subjects = []string{e.Rule} // the device only kept it from starting
	}
	for _, id := range subjects {
		if id != "" && id != docs.OwnID {
			v.Subject = r.Title(id)
			break
		}
	}
	v.Text = r.Sentence(e)
	for _, id := range []string{e.Device, e.Rule, e.Scene, e.Schedule, e.Link} {
		if title := r.Title(id); id != "" && title != "" && strings.Contains(v.Text, title) && !slices.Contains(v.Names, title) {
			v.Names = append(v.Names, title)
		}
	}
	if title := r.connectionTitle(e.Connection); e.Connection != "" && strings.Contains(v.Text, title) {
		v.Names = append(v.Names, title)
	}
	return v
}

// Tone says what sort of mark an entry gets.
func Tone(k cause.Kind) string { return cmp.Or(entryWords[k].tone, tonePlain) }

// doing says who did something, at the end of a sentence.
func (r *Reader) doing(by cause.By) string {
	switch by.Who {
	case cause.Person:
		name := r.Title(by.ID)
		switch {
		case by.ID == "" || name == "":
			return "by hand"
		case by.Via == cause.ViaPanel:
			return "by " + name + ", at a panel"
		default:
			return "by " + name
		}
	case cause.Panel:
		if r.Definitions.Device(by.ID) != nil {
			return "by hand, at " + r.Title(by.ID)
		}
		return "by hand on a panel"
	case cause.Program:
		if by.ID != "" {
			return "by the program " + by.ID
		}
		return "by a program"
	default:
		return "by hand"
	}
}

// asker says where somebody said something, where that is no page.
func (r *Reader) asker(by cause.By) string {
	if by.ID == "" && by.Who == cause.Person || by.Who == cause.Nobody {
		return ""
	}
	return " " + strings.TrimPrefix(r.doing(by), "by hand ")
}

// actionTitle returns the name of an action, as it stands within a sentence; empty where it is none.
func (r *Reader) actionTitle(device, name string) string {
	if a := r.Engine.Action(device, name); a != nil {
		return strings.ToLower(a.Title)
	}
	return ""
}

// Sentence says what happened.
func (r *Reader) Sentence(e cause.Entry) string {
	s := saying{r: r, Entry: e, device: r.Title(e.Device), property: e.Name, said: e.Value.String(), hand: r.doing(e.By)}
	if p := r.Engine.Property(e.Device, e.Name); p != nil {
		s.property, s.said = strings.ToLower(p.Title), p.Say(e.Value)
	}
	words, known := entryWords[e.Kind]
	if !known {
		return string(e.Kind) // of another version
	}
	return words.say(s)
}

// propertyOf names the property of an entry with its device.
func (r *Reader) propertyOf(e cause.Entry) string {
	if e.Device == docs.OwnID {
		return r.ownTitle(e.Name)
	}
	property := e.Name
	if p := r.Engine.Property(e.Device, e.Name); p != nil {
		property = strings.ToLower(p.Title)
	}
	return r.Title(e.Device) + ": " + property
}

// ownTitle names a property of the home itself.
func (r *Reader) ownTitle(name string) string {
	if p := r.Engine.Property(docs.OwnID, name); p != nil {
		return p.Title
	}
	return r.Title(name)
}

// reachedTitle names what was lost or found again: a device, a gateway, or a whole connection.
func (r *Reader) reachedTitle(e cause.Entry) string {
	switch {
	case e.Device != "":
		return r.Title(e.Device)
	case e.Name != "":
		return "The gateway " + e.Name
	default:
		return r.connectionTitle(e.Connection)
	}
}

func (r *Reader) happened(e cause.Entry, device string) string {
	said := r.pressed(e, device)
	if e.By.Who == cause.Person || e.By.Who == cause.Panel || e.By.Who == cause.Program {
		said += ", " + r.doing(e.By)
	}
	if e.Note == cause.NoRule {
		said += "; no rule is for it"
	}
	return said
}

// pressed says what happened at a device.
func (r *Reader) pressed(e cause.Entry, device string) string {
	event := e.Name
	if d := r.Definitions.Device(e.Device); d != nil {
		if described := d.Description.Event(e.Name); described != nil {
			event = strings.ToLower(described.Title)
		}
	}
	if e.Value.Kind == thing.KindNumber {
		return fmt.Sprintf("%s: %s by %g", device, event, e.Value.Number)
	}
	if e.Value.Kind == thing.KindText {
		if said := thing.GestureWords(e.Value.Text); said != e.Value.Text {
			return fmt.Sprintf("%s: %s %s", device, event, said)
		}
		return fmt.Sprintf("%s %s: %s", device, event, e.Value.Text)
	}
	return fmt.Sprintf("%s: %s", device, event)
}

func (r *Reader) defined(e cause.Entry) string {
	verb := e.Note
	if verb == "" {
		verb = "changed"
	}
	for _, of := range []struct{ kind, id string }{{"Device", e.Device}, {"Rule", e.Rule}, {"Scene", e.Scene}, {"Schedule", e.Schedule}, {"Link", e.Link}} {
		if of.id != "" {
			return fmt.Sprintf("%s %s %s by the owner", of.kind, r.Title(of.id), verb)
		}
	}
	return "The owner changed the home"
}

func (r *Reader) connectionTitle(id string) string {
	if title := r.Links.ConnectionTitle(id); title != "" {
		return title
	}
	return r.Title(id)
}

func notStartedReason(note string) string {
	switch note {
	case "provided":
		return "its condition was not met"
	case "gate":
		return "it is off now by its own condition"
	case "time":
		return "it was not within its time"
	case "calendar":
		return "its calendar said otherwise"
	case "missed":
		return "its time passed while the hub was off"
	case "running":
		return "it was still running"
	case "tooMany":
		return "too many of its runs were waiting"
	default:
		return note
	}
}

// clockSet says by how much the clock was set.
func clockSet(seconds float64) string {
	to, by := "forward", time.Duration(seconds*float64(time.Second)).Round(time.Second)
	if by < 0 {
		to, by = "back", -by
	}
	var parts []string
	for _, p := range []struct {
		of   time.Duration
		unit string
	}{{24 * time.Hour, "d"}, {time.Hour, "h"}, {time.Minute, "min"}, {time.Second, "s"}} {
		if n := by / p.of; n > 0 && len(parts) < 2 {
			parts = append(parts, fmt.Sprintf("%d %s", n, p.unit))
		}
		by %= p.of
	}
	return "The clock of this machine was set " + to + " by " + strings.Join(parts, " ")
}

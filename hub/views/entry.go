package views

import (
	"fmt"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// EntryView is a journal entry in words.
type EntryView struct {
	cause.Entry
	Text string `json:"text" doc:"What happened, in words."`
	// Subject is the name of the device, rule, scene or schedule it is about.
	Subject string `json:"subject,omitempty"`
	// Tone says what sort of mark it gets.
	Tone string `json:"tone" enum:"plain,hand,automation,fault"`
}

// Entry puts an entry of the journal into words.
func (r *Reader) Entry(e cause.Entry) EntryView {
	v := EntryView{Entry: e, Tone: Tone(e.Kind)}
	subjects := []string{e.Device, e.Rule, e.Scene, e.Schedule}
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
	return v
}

// Tone says what sort of mark an entry gets.
func Tone(k cause.Kind) string {
	switch k {
	case cause.ByDevice,
		cause.Written,
		cause.Kept,
		cause.LetGo,
		cause.SceneStarted,
		cause.Tried,
		cause.RunByHand,
		cause.Asked,
		cause.Said,
		cause.PlayedByHand,
		cause.HaltedByHand:
		return "hand"
	case cause.Failed, cause.Refused, cause.FellSilent, cause.Stopped, cause.ConnectedDown, cause.Missed, cause.ScriptFell:
		return "fault"
	case cause.Began,
		cause.Ended,
		cause.Ran,
		cause.Applied,
		cause.Due,
		cause.TimeCame,
		cause.Notified,
		cause.ReachedOut,
		cause.Paused,
		cause.WentOn,
		cause.Scripted,
		cause.Played,
		cause.PlayedOut:
		return "automation"
	default:
		return "plain"
	}
}

// doing says who did something, at the end of a sentence.
func doing(by cause.By) string {
	switch by.Who {
	case cause.Panel:
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
func asker(by cause.By) string {
	if by.Who == cause.Person || by.Who == cause.Nobody {
		return ""
	}
	return " " + strings.TrimPrefix(doing(by), "by hand ")
}

// actionTitle returns the name of an action, as it stands within a sentence; empty where it is none.
func (r *Reader) actionTitle(device, name string) string {
	if a := r.Engine.Action(device, name); a != nil {
		return strings.ToLower(a.Title)
	}
	return ""
}

// Sentence says what happened; the names are those of today, never those of then.
func (r *Reader) Sentence(e cause.Entry) string {
	device := r.Title(e.Device)
	property, said := e.Name, e.Value.String()
	if p := r.Engine.Property(e.Device, e.Name); p != nil {
		property, said = strings.ToLower(p.Title), p.Say(e.Value)
	}
	hand := doing(e.By)
	switch e.Kind {
	case cause.Reported:
		return fmt.Sprintf("%s: %s %s", device, property, said)
	case cause.Happened:
		return r.happened(e, device)
	case cause.ByDevice:
		return fmt.Sprintf("%s: %s changed to %s at the device or in its maker's app", device, property, said)
	case cause.Written:
		return fmt.Sprintf("%s: %s set to %s %s", device, property, said, hand)
	case cause.Kept:
		return fmt.Sprintf("%s: %s kept at %s %s", device, property, said, hand)
	case cause.LetGo:
		if e.Rule != "" {
			return fmt.Sprintf("Rule %s was let act again %s", r.Title(e.Rule), hand)
		}
		return fmt.Sprintf("%s: a hold on %s was let go by hand", device, property)
	case cause.SceneStarted:
		return fmt.Sprintf("Scene %s started %s", r.Title(e.Scene), hand)
	case cause.PlayedByHand:
		return fmt.Sprintf("Sequence %s started %s", r.Title(e.Scene), hand)
	case cause.HaltedByHand:
		return fmt.Sprintf("Sequence %s stopped %s", r.Title(e.Scene), hand)
	case cause.Played:
		return fmt.Sprintf("Sequence %s began", r.Title(e.Scene))
	case cause.PlayedOut:
		if e.Note != "" {
			return fmt.Sprintf("Sequence %s ended: %s", r.Title(e.Scene), e.Note)
		}
		return fmt.Sprintf("Sequence %s ended", r.Title(e.Scene))
	case cause.ClockSet:
		return clockSet(e.Value.Number)
	case cause.Tried:
		return "Values were tried without saving them"
	case cause.RunByHand:
		return fmt.Sprintf("Rule %s run %s", r.Title(e.Rule), hand)
	case cause.TimeCame:
		if e.Note != "" {
			return fmt.Sprintf("Rule %s: it was time for “%s”", r.Title(e.Rule), e.Note)
		}
		return fmt.Sprintf("Rule %s: its time came", r.Title(e.Rule))
	case cause.Said:
		return fmt.Sprintf("“%s” was said%s", e.Note, asker(e.By))
	case cause.Called:
		if e.By.ID != "" {
			return fmt.Sprintf("The program %s called %s", e.By.ID, e.Note)
		}
		return fmt.Sprintf("Another program called %s", e.Note)
	case cause.Became:
		return fmt.Sprintf("%s is now %s", r.ownTitle(e.Name), said)
	case cause.Notified:
		return fmt.Sprintf("The household was told: %s", e.Note)
	case cause.Replied:
		return fmt.Sprintf("%s: %s was answered with %s", device, e.Name, e.Note)
	case cause.ReachedOut:
		switch rule.StepKind(e.Name) {
		case rule.StepWeb:
			return fmt.Sprintf("%s was called", e.Note)
		case rule.StepPublish:
			return fmt.Sprintf("A message was published under %s", e.Note)
		default:
			return fmt.Sprintf("The program %s was started", e.Note)
		}
	case cause.KeptBack:
		mode := e.Value.String()
		if p := r.Engine.Property(docs.OwnID, home.ModeProperty); p != nil {
			mode = p.Say(e.Value)
		}
		return fmt.Sprintf("Scene %s was not applied: it is not for the mode %s", r.Title(e.Scene), mode)
	case cause.Paused:
		return fmt.Sprintf("Rule %s was paused", r.Title(e.Rule))
	case cause.WentOn:
		return fmt.Sprintf("Rule %s may act again", r.Title(e.Rule))
	case cause.Scripted:
		if e.Note == "" {
			return "A script ran"
		}
		return "A script ran and said: " + strings.ReplaceAll(e.Note, "\n", " · ")
	case cause.ScriptFell:
		return "A script failed, so did nothing: " + e.Note
	case cause.Answered:
		if e.Note != "" {
			return "That failed: " + e.Note
		}
		if !e.Value.IsNone() {
			return "Somebody answered" + asker(e.By) + ": " + e.Value.Text
		}
		return "That was answered"
	case cause.Asked:
		if e.Note != "" {
			return fmt.Sprintf("%s: asked to %s (%s)", device, e.Name, e.Note)
		}
		return fmt.Sprintf("%s: asked to %s", device, e.Name)
	case cause.Defined:
		return r.defined(e)
	case cause.Due:
		return fmt.Sprintf("Schedule %s: its time came", r.Title(e.Schedule))
	case cause.Missed:
		return fmt.Sprintf("Schedule %s: its time passed while the hub was off", r.Title(e.Schedule))
	case cause.Started:
		return "The hub started"
	case cause.ConnectedUp:
		return r.reachedTitle(e) + " was reached"
	case cause.ConnectedDown:
		return r.reachedTitle(e) + " was lost. " + e.Note
	case cause.FellSilent:
		return device + " has fallen silent: it speaks more often than that"
	case cause.HeardAgain:
		return device + " is heard again"
	case cause.Differs:
		return fmt.Sprintf("%s: %s is found at %s. %s", device, property, said, e.Note)
	case cause.Agrees:
		return fmt.Sprintf("%s: %s is at %s again, as it should be", device, property, said)
	case cause.Waited:
		if e.Scene != "" {
			return fmt.Sprintf("Sequence %s: the next scene's time came", r.Title(e.Scene))
		}
		return fmt.Sprintf("Rule %s: the wait was over", r.Title(e.Rule))
	case cause.Began:
		return fmt.Sprintf("Rule %s began to hold", r.Title(e.Rule))
	case cause.Ended:
		return fmt.Sprintf("Rule %s let go", r.Title(e.Rule))
	case cause.Ran:
		return fmt.Sprintf("Rule %s ran", r.Title(e.Rule))
	case cause.NotStarted:
		if e.Note == "provided" && e.Device != "" {
			return fmt.Sprintf("Rule %s did not start: %s was %s", r.Title(e.Rule), r.propertyOf(e), said)
		}
		return fmt.Sprintf("Rule %s did not start: %s", r.Title(e.Rule), notStartedReason(e.Note))
	case cause.Stopped:
		return fmt.Sprintf("Rule %s was stopped. %s", r.Title(e.Rule), e.Note)
	case cause.CutShort:
		return strings.TrimSpace(fmt.Sprintf("Rule %s went no further: %s %s", r.Title(e.Rule), device, e.Note))
	case cause.Applied:
		return fmt.Sprintf("Scene %s applied", r.Title(e.Scene))
	case cause.Commanded:
		return fmt.Sprintf("%s: %s asked for %s", device, property, said)
	case cause.Confirmed:
		return fmt.Sprintf("%s: %s confirmed at %s", device, property, said)
	case cause.Failed:
		return fmt.Sprintf("%s: %s failed. %s", device, property, e.Note)
	case cause.Learned:
		return fmt.Sprintf("%s: travel times measured", device)
	case cause.Refused:
		if action := r.actionTitle(e.Device, e.Name); action != "" {
			return fmt.Sprintf("%s: %s refused, since it is attended only", device, action)
		}
		if e.Note != "" {
			return fmt.Sprintf("%s: %s %s refused. %s", device, property, said, e.Note)
		}
		return fmt.Sprintf("%s: %s %s refused, since only a hand switches it on", device, property, said)
	case cause.HandLeads:
		return fmt.Sprintf("%s: rules wait, the hand's %s leads", device, said)
	case cause.HoldExpired:
		return fmt.Sprintf("%s: a hold on %s came to its end", device, property)
	default:
		return string(e.Kind)
	}
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
		return fmt.Sprintf("%s %s: %s", device, event, e.Value.Text)
	}
	return fmt.Sprintf("%s: %s", device, event)
}

func (r *Reader) defined(e cause.Entry) string {
	verb := e.Note
	if verb == "" {
		verb = "changed"
	}
	for _, of := range []struct{ kind, id string }{{"Device", e.Device}, {"Rule", e.Rule}, {"Scene", e.Scene}, {"Schedule", e.Schedule}} {
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
		return "what it needs to begin was not so"
	case "gate":
		return "its gate was shut"
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

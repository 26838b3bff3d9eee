package views

import (
	"cmp"
	"fmt"
	"strings"

	"amvek/core/cause"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/rule"
	"amvek/core/tell"
	"amvek/hub/docs"
)

// What sort of mark an entry of the journal gets.
const (
	tonePlain      = "plain"
	toneHand       = "hand"
	toneAutomation = "automation"
	toneFault      = "fault"
)

// saying is an entry that is put into words, with what most of them speak of.
type saying struct {
	r *Reader
	cause.Entry
	device, property string // by their names
	said             string // its value
	hand             string // who did it, at the end of a sentence
}

// entryWords are what is said of each kind of entry, and the mark that it gets. The names are those of today, never those of then.
var entryWords = map[cause.Kind]struct {
	tone string
	say  func(s saying) string
}{
	cause.Reported: {tonePlain, func(s saying) string { return fmt.Sprintf("%s: %s %s", s.device, s.property, s.said) }},
	cause.Happened: {tonePlain, func(s saying) string { return s.r.happened(s.Entry, s.device) }},
	cause.ByDevice: {toneHand, func(s saying) string {
		return fmt.Sprintf("%s: %s changed to %s at the device or in its maker's app", s.device, s.property, s.said)
	}},
	cause.Written: {toneHand, func(s saying) string { return fmt.Sprintf("%s: %s set to %s %s", s.device, s.property, s.said, s.hand) }},
	cause.Kept: {toneHand, func(s saying) string {
		return fmt.Sprintf("%s: %s kept at %s %s", s.device, s.property, s.said, s.hand)
	}},
	cause.LetGo: {toneHand, func(s saying) string {
		if s.Rule != "" {
			return fmt.Sprintf("Rule %s was resumed %s", s.r.Title(s.Rule), s.hand)
		}
		return fmt.Sprintf("%s: a hold on %s was let go by hand", s.device, s.property)
	}},
	cause.SceneStarted: {toneHand, func(s saying) string { return fmt.Sprintf("Scene %s started %s", s.r.Title(s.Scene), s.hand) }},
	cause.LiftedByHand: {toneHand, func(s saying) string { return fmt.Sprintf("Scene %s lifted %s", s.r.Title(s.Scene), s.hand) }},
	cause.Lifted:       {toneAutomation, func(s saying) string { return fmt.Sprintf("Scene %s lifted", s.r.Title(s.Scene)) }},
	cause.LitByHand: {toneHand, func(s saying) string {
		return fmt.Sprintf("%s: %s, %s", s.r.Title(s.Link), tell.LightDone(light.Verb(s.Note), s.Value), s.hand)
	}},
	cause.Lit: {toneAutomation, func(s saying) string {
		return fmt.Sprintf("%s: %s", s.r.Title(s.Link), tell.LightDone(light.Verb(s.Note), s.Value))
	}},
	cause.PlayedByHand: {toneHand, func(s saying) string { return fmt.Sprintf("Sequence %s started %s", s.r.Title(s.Scene), s.hand) }},
	cause.HaltedByHand: {toneHand, func(s saying) string { return fmt.Sprintf("Sequence %s stopped %s", s.r.Title(s.Scene), s.hand) }},
	cause.Played:       {toneAutomation, func(s saying) string { return fmt.Sprintf("Sequence %s began", s.r.Title(s.Scene)) }},
	cause.PlayedOut: {toneAutomation, func(s saying) string {
		if s.Note != "" {
			return fmt.Sprintf("Sequence %s ended: %s", s.r.Title(s.Scene), s.Note)
		}
		return fmt.Sprintf("Sequence %s ended", s.r.Title(s.Scene))
	}},
	cause.ClockSet:  {tonePlain, func(s saying) string { return clockSet(s.Value.Number) }},
	cause.Tried:     {toneHand, func(s saying) string { return "Values were tried without saving them" }},
	cause.RunByHand: {toneHand, func(s saying) string { return fmt.Sprintf("Rule %s run %s", s.r.Title(s.Rule), s.hand) }},
	cause.TimeCame: {toneAutomation, func(s saying) string {
		if s.Note != "" {
			return fmt.Sprintf("Rule %s: it was time for “%s”", s.r.Title(s.Rule), s.Note)
		}
		return fmt.Sprintf("Rule %s: its time came", s.r.Title(s.Rule))
	}},
	cause.Said: {toneHand, func(s saying) string { return fmt.Sprintf("“%s” was said%s", s.Note, s.r.asker(s.By)) }},
	cause.Called: {tonePlain, func(s saying) string {
		if s.By.ID != "" {
			return fmt.Sprintf("The program %s called %s", s.By.ID, s.Note)
		}
		return fmt.Sprintf("Another program called %s", s.Note)
	}},
	cause.Became:   {tonePlain, func(s saying) string { return fmt.Sprintf("%s is now %s", s.r.ownTitle(s.Name), s.said) }},
	cause.Notified: {toneAutomation, func(s saying) string { return fmt.Sprintf("The household was told: %s", s.Note) }},
	cause.Replied:  {tonePlain, func(s saying) string { return fmt.Sprintf("%s: %s was answered with %s", s.device, s.Name, s.Note) }},
	cause.WayIn:    {tonePlain, func(s saying) string { return cmp.Or(s.r.Title(s.By.ID), "Somebody") + " " + s.Note }},
	cause.LetIn:    {tonePlain, func(s saying) string { return cmp.Or(s.r.Title(s.By.ID), "Somebody") + " came in " + s.Note }},
	cause.KeptOut:  {toneFault, func(s saying) string { return "Kept out: " + s.Note }},
	cause.ReachedOut: {toneAutomation, func(s saying) string {
		switch rule.StepKind(s.Name) {
		case rule.StepWeb:
			return fmt.Sprintf("%s was called", s.Note)
		case rule.StepPublish:
			return fmt.Sprintf("A message was published under %s", s.Note)
		default:
			return fmt.Sprintf("The program %s was started", s.Note)
		}
	}},
	cause.KeptBack: {tonePlain, func(s saying) string {
		mode := s.Value.String()
		if p := s.r.Engine.Property(docs.OwnID, home.ModeProperty); p != nil {
			mode = p.Say(s.Value)
		}
		return fmt.Sprintf("Scene %s was not applied: it is not for the mode %s", s.r.Title(s.Scene), mode)
	}},
	cause.Paused: {toneAutomation, func(s saying) string { return fmt.Sprintf("Rule %s was paused", s.r.Title(s.Rule)) }},
	cause.WentOn: {toneAutomation, func(s saying) string { return fmt.Sprintf("Rule %s was resumed", s.r.Title(s.Rule)) }},
	cause.Scripted: {toneAutomation, func(s saying) string {
		if s.Note == "" {
			return "A script ran"
		}
		return "A script ran and said: " + strings.ReplaceAll(s.Note, "\n", " · ")
	}},
	cause.ScriptFell: {toneFault, func(s saying) string { return "A script failed, so did nothing: " + s.Note }},
	cause.Answered: {tonePlain, func(s saying) string {
		if s.Note != "" {
			return "That failed: " + s.Note
		}
		if !s.Value.IsNone() {
			return "Somebody answered" + s.r.asker(s.By) + ": " + s.Value.Text
		}
		return "That was answered"
	}},
	cause.Asked: {toneHand, func(s saying) string {
		if s.Note != "" {
			return fmt.Sprintf("%s: asked to %s (%s)", s.device, s.Name, s.Note)
		}
		return fmt.Sprintf("%s: asked to %s", s.device, s.Name)
	}},
	cause.Mirrored: {toneAutomation, func(s saying) string {
		return fmt.Sprintf("%s: %s set to %s by mirror %s", s.device, s.property, s.said, s.r.Title(s.Link))
	}},
	cause.Carried: {toneAutomation, func(s saying) string { return fmt.Sprintf("Link %s passed it on", s.r.Title(s.Link)) }},
	cause.SentByHand: {toneHand, func(s saying) string {
		return fmt.Sprintf("A message was sent to %s over %s", s.Name, s.r.connectionTitle(s.Connection)) + s.r.doing(s.By)
	}},
	cause.Defined: {tonePlain, func(s saying) string { return s.r.defined(s.Entry) }},
	cause.Due:     {toneAutomation, func(s saying) string { return fmt.Sprintf("Schedule %s: its time came", s.r.Title(s.Schedule)) }},
	cause.Missed: {toneFault, func(s saying) string {
		return fmt.Sprintf("Schedule %s: its time passed while the hub was off", s.r.Title(s.Schedule))
	}},
	cause.Started:       {tonePlain, func(s saying) string { return "The hub started" }},
	cause.ConnectedUp:   {tonePlain, func(s saying) string { return s.r.reachedTitle(s.Entry) + " was reached" }},
	cause.ConnectedDown: {toneFault, func(s saying) string { return s.r.reachedTitle(s.Entry) + " was lost. " + s.Note }},
	cause.FellSilent:    {toneFault, func(s saying) string { return s.device + " has fallen silent: it speaks more often than that" }},
	cause.HeardAgain:    {tonePlain, func(s saying) string { return s.device + " is heard again" }},
	cause.Differs: {tonePlain, func(s saying) string {
		return fmt.Sprintf("%s: %s is found at %s. %s", s.device, s.property, s.said, s.Note)
	}},
	cause.Agrees: {tonePlain, func(s saying) string {
		return fmt.Sprintf("%s: %s is at %s again, as it should be", s.device, s.property, s.said)
	}},
	cause.Waited: {tonePlain, func(s saying) string {
		if s.Scene != "" {
			return fmt.Sprintf("Sequence %s: the next scene's time came", s.r.Title(s.Scene))
		}
		return fmt.Sprintf("Rule %s: the wait was over", s.r.Title(s.Rule))
	}},
	cause.Began: {toneAutomation, func(s saying) string { return fmt.Sprintf("Rule %s began to hold", s.r.Title(s.Rule)) }},
	cause.Ended: {toneAutomation, func(s saying) string { return fmt.Sprintf("Rule %s let go", s.r.Title(s.Rule)) }},
	cause.Ran:   {toneAutomation, func(s saying) string { return fmt.Sprintf("Rule %s ran", s.r.Title(s.Rule)) }},
	cause.NotStarted: {tonePlain, func(s saying) string {
		if s.Note == "provided" && s.Device != "" {
			return fmt.Sprintf("Rule %s did not start: %s was %s", s.r.Title(s.Rule), s.r.propertyOf(s.Entry), s.said)
		}
		return fmt.Sprintf("Rule %s did not start: %s", s.r.Title(s.Rule), notStartedReason(s.Note))
	}},
	cause.Stopped: {toneFault, func(s saying) string { return fmt.Sprintf("Rule %s was stopped. %s", s.r.Title(s.Rule), s.Note) }},
	cause.CutShort: {tonePlain, func(s saying) string {
		return strings.TrimSpace(fmt.Sprintf("Rule %s went no further: %s %s", s.r.Title(s.Rule), s.device, s.Note))
	}},
	cause.Applied: {toneAutomation, func(s saying) string {
		if s.Note == cause.ScenesLightsOff {
			return fmt.Sprintf("Scene %s was in effect already: its lights go off", s.r.Title(s.Scene))
		}
		return fmt.Sprintf("Scene %s applied", s.r.Title(s.Scene))
	}},
	cause.Commanded: {tonePlain, func(s saying) string { return fmt.Sprintf("%s: %s asked for %s", s.device, s.property, s.said) }},
	cause.Confirmed: {tonePlain, func(s saying) string { return fmt.Sprintf("%s: %s confirmed at %s", s.device, s.property, s.said) }},
	cause.Failed:    {toneFault, func(s saying) string { return fmt.Sprintf("%s: %s failed. %s", s.device, s.property, s.Note) }},
	cause.Learned:   {tonePlain, func(s saying) string { return fmt.Sprintf("%s: travel times measured", s.device) }},
	cause.Refused: {toneFault, func(s saying) string {
		if action := s.r.actionTitle(s.Device, s.Name); action != "" {
			return fmt.Sprintf("%s: %s refused, since it is attended only", s.device, action)
		}
		if s.Note != "" {
			return fmt.Sprintf("%s: %s %s refused. %s", s.device, s.property, s.said, s.Note)
		}
		return fmt.Sprintf("%s: %s %s refused, since only a hand switches it on", s.device, s.property, s.said)
	}},
	cause.HandLeads:   {tonePlain, func(s saying) string { return fmt.Sprintf("%s: rules wait, the hand's %s leads", s.device, s.said) }},
	cause.HoldExpired: {tonePlain, func(s saying) string { return fmt.Sprintf("%s: a hold on %s came to its end", s.device, s.property) }},
}

package hub

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"amvek/core/almanac"
	"amvek/core/cause"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/store"
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

// entryView runs in the loop.
func (h *Hub) entryView(e cause.Entry) EntryView {
	v := EntryView{Entry: e, Tone: tone(e.Kind)}
	subjects := []string{e.Device, e.Rule, e.Scene, e.Schedule}
	if e.Kind == cause.NotStarted {
		subjects = []string{e.Rule} // the device only kept it from starting
	}
	for _, id := range subjects {
		if id != "" && id != docs.OwnID {
			v.Subject = h.title(id)
			break
		}
	}
	v.Text = h.sentenceOf(e)
	return v
}

func (h *Hub) title(id string) string {
	if t := h.titles[id]; t != "" {
		return t
	}
	return id
}

func tone(k cause.Kind) string {
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
func (h *Hub) actionTitle(device, name string) string {
	if a := h.engine.Action(device, name); a != nil {
		return strings.ToLower(a.Title)
	}
	return ""
}

// sentenceOf says what happened; the names are those of today, never those of then.
func (h *Hub) sentenceOf(e cause.Entry) string {
	device := h.title(e.Device)
	property, said := e.Name, e.Value.String()
	if p := h.engine.Property(e.Device, e.Name); p != nil {
		property, said = strings.ToLower(p.Title), p.Say(e.Value)
	}
	hand := doing(e.By)
	switch e.Kind {
	case cause.Reported:
		return fmt.Sprintf("%s: %s %s", device, property, said)
	case cause.Happened:
		return h.happened(e, device)
	case cause.ByDevice:
		return fmt.Sprintf("%s: %s changed to %s at the device or in its maker's app", device, property, said)
	case cause.Written:
		return fmt.Sprintf("%s: %s set to %s %s", device, property, said, hand)
	case cause.Kept:
		return fmt.Sprintf("%s: %s kept at %s %s", device, property, said, hand)
	case cause.LetGo:
		if e.Rule != "" {
			return fmt.Sprintf("Rule %s was let act again %s", h.title(e.Rule), hand)
		}
		return fmt.Sprintf("%s: a hold on %s was let go by hand", device, property)
	case cause.SceneStarted:
		return fmt.Sprintf("Scene %s started %s", h.title(e.Scene), hand)
	case cause.PlayedByHand:
		return fmt.Sprintf("Sequence %s started %s", h.title(e.Scene), hand)
	case cause.HaltedByHand:
		return fmt.Sprintf("Sequence %s stopped %s", h.title(e.Scene), hand)
	case cause.Played:
		return fmt.Sprintf("Sequence %s began", h.title(e.Scene))
	case cause.PlayedOut:
		if e.Note != "" {
			return fmt.Sprintf("Sequence %s ended: %s", h.title(e.Scene), e.Note)
		}
		return fmt.Sprintf("Sequence %s ended", h.title(e.Scene))
	case cause.ClockSet:
		return clockSet(e.Value.Number)
	case cause.Tried:
		return "Values were tried without saving them"
	case cause.RunByHand:
		return fmt.Sprintf("Rule %s run %s", h.title(e.Rule), hand)
	case cause.TimeCame:
		if e.Note != "" {
			return fmt.Sprintf("Rule %s: it was time for “%s”", h.title(e.Rule), e.Note)
		}
		return fmt.Sprintf("Rule %s: its time came", h.title(e.Rule))
	case cause.Said:
		return fmt.Sprintf("“%s” was said%s", e.Note, asker(e.By))
	case cause.Called:
		if e.By.ID != "" {
			return fmt.Sprintf("The program %s called %s", e.By.ID, e.Note)
		}
		return fmt.Sprintf("Another program called %s", e.Note)
	case cause.Became:
		return fmt.Sprintf("%s is now %s", h.ownTitle(e.Name), said)
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
		if p := h.engine.Property(docs.OwnID, home.ModeProperty); p != nil {
			mode = p.Say(e.Value)
		}
		return fmt.Sprintf("Scene %s was not applied: it is not for the mode %s", h.title(e.Scene), mode)
	case cause.Paused:
		return fmt.Sprintf("Rule %s was paused", h.title(e.Rule))
	case cause.WentOn:
		return fmt.Sprintf("Rule %s may act again", h.title(e.Rule))
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
		return h.defined(e)
	case cause.Due:
		return fmt.Sprintf("Schedule %s: its time came", h.title(e.Schedule))
	case cause.Missed:
		return fmt.Sprintf("Schedule %s: its time passed while the hub was off", h.title(e.Schedule))
	case cause.Started:
		return "The hub started"
	case cause.ConnectedUp:
		return h.reachedTitle(e) + " was reached"
	case cause.ConnectedDown:
		return h.reachedTitle(e) + " was lost. " + e.Note
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
			return fmt.Sprintf("Sequence %s: the next scene's time came", h.title(e.Scene))
		}
		return fmt.Sprintf("Rule %s: the wait was over", h.title(e.Rule))
	case cause.Began:
		return fmt.Sprintf("Rule %s began to hold", h.title(e.Rule))
	case cause.Ended:
		return fmt.Sprintf("Rule %s let go", h.title(e.Rule))
	case cause.Ran:
		return fmt.Sprintf("Rule %s ran", h.title(e.Rule))
	case cause.NotStarted:
		if e.Note == "provided" && e.Device != "" {
			return fmt.Sprintf("Rule %s did not start: %s was %s", h.title(e.Rule), h.propertyOf(e), said)
		}
		return fmt.Sprintf("Rule %s did not start: %s", h.title(e.Rule), notStartedReason(e.Note))
	case cause.Stopped:
		return fmt.Sprintf("Rule %s was stopped. %s", h.title(e.Rule), e.Note)
	case cause.CutShort:
		return strings.TrimSpace(fmt.Sprintf("Rule %s went no further: %s %s", h.title(e.Rule), device, e.Note))
	case cause.Applied:
		return fmt.Sprintf("Scene %s applied", h.title(e.Scene))
	case cause.Commanded:
		return fmt.Sprintf("%s: %s asked for %s", device, property, said)
	case cause.Confirmed:
		return fmt.Sprintf("%s: %s confirmed at %s", device, property, said)
	case cause.Failed:
		return fmt.Sprintf("%s: %s failed. %s", device, property, e.Note)
	case cause.Learned:
		return fmt.Sprintf("%s: travel times measured", device)
	case cause.Refused:
		if action := h.actionTitle(e.Device, e.Name); action != "" {
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
func (h *Hub) propertyOf(e cause.Entry) string {
	if e.Device == docs.OwnID {
		return h.ownTitle(e.Name)
	}
	property := e.Name
	if p := h.engine.Property(e.Device, e.Name); p != nil {
		property = strings.ToLower(p.Title)
	}
	return h.title(e.Device) + ": " + property
}

// ownTitle names a property of the home itself.
func (h *Hub) ownTitle(name string) string {
	if p := h.engine.Property(docs.OwnID, name); p != nil {
		return p.Title
	}
	return h.title(name)
}

// reachedTitle names what was lost or found again: a device, a gateway, or a whole connection.
func (h *Hub) reachedTitle(e cause.Entry) string {
	switch {
	case e.Device != "":
		return h.title(e.Device)
	case e.Name != "":
		return "The gateway " + e.Name
	default:
		return h.connectionTitle(e.Connection)
	}
}

func (h *Hub) happened(e cause.Entry, device string) string {
	event := e.Name
	if d := h.definitions.Device(e.Device); d != nil {
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

func (h *Hub) defined(e cause.Entry) string {
	verb := e.Note
	if verb == "" {
		verb = "changed"
	}
	for _, of := range []struct{ kind, id string }{{"Device", e.Device}, {"Rule", e.Rule}, {"Scene", e.Scene}, {"Schedule", e.Schedule}} {
		if of.id != "" {
			return fmt.Sprintf("%s %s %s by the owner", of.kind, h.title(of.id), verb)
		}
	}
	return "The owner changed the home"
}

func (h *Hub) connectionTitle(id string) string {
	if l := h.links[id]; l != nil {
		return l.definition.Title
	}
	return h.title(id)
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

// settleRecords returns when what was told before can be read: an entry is told to browsers before it is written. Where it
// cannot be written, what can be read is read.
func (h *Hub) settleRecords(ctx context.Context) {
	if err := h.store.Flush(ctx); err != nil {
		h.log.Debug("records could not be settled", "error", err)
	}
}

// Journal returns journal entries in words, newest first.
func (h *Hub) Journal(ctx context.Context, q store.JournalQuery) ([]EntryView, error) {
	h.settleRecords(ctx)
	entries, err := h.store.Journal(ctx, q)
	if err != nil {
		return nil, fmt.Errorf("reading the journal: %w", err)
	}
	return h.inWords(ctx, entries)
}

// Chain returns the whole chain of an entry: from where it began, and all that followed from it.
func (h *Hub) Chain(ctx context.Context, id cause.ID) ([]EntryView, error) {
	h.settleRecords(ctx)
	entries, err := h.store.Chain(ctx, id)
	if err != nil {
		return nil, fmt.Errorf("reading the journal: %w", err)
	}
	if len(entries) == 0 {
		return nil, Absent("There is no such entry in the journal.")
	}
	return h.inWords(ctx, entries)
}

func (h *Hub) inWords(ctx context.Context, entries []cause.Entry) ([]EntryView, error) {
	views := make([]EntryView, len(entries))
	err := h.do(ctx, func() {
		for i, e := range entries {
			views[i] = h.entryView(e)
		}
	})
	return views, err
}

// Mark is something on the day line.
type Mark struct {
	At   time.Time `json:"at"`
	Text string    `json:"text"`
	Tone string    `json:"tone" enum:"plain,hand,automation,fault,planned"`
	// Entry is the journal entry of what happened; Schedule the id of what is planned.
	Entry    cause.ID `json:"entry,omitempty"`
	Schedule string   `json:"schedule,omitempty"`
}

// Stretch is a part of the day with one kind of light.
type Stretch struct {
	From  time.Time `json:"from"`
	To    time.Time `json:"to"`
	Light string    `json:"light" enum:"night,twilight,day"`
}

// Day is one day at the house.
type Day struct {
	From      time.Time     `json:"from"`
	To        time.Time     `json:"to"`
	Now       time.Time     `json:"now"`
	Rise      time.Time     `json:"rise,omitzero"`
	Set       time.Time     `json:"set,omitzero"`
	Polar     almanac.Polar `json:"polar,omitempty" enum:"day,night"`
	Stretches []Stretch     `json:"stretches"`
	Marks     []Mark        `json:"marks"`
}

const marksPerDay = 160

var marked = []cause.Kind{
	cause.ByDevice, cause.Written, cause.Kept, cause.LetGo, cause.SceneStarted, cause.RunByHand,
	cause.PlayedByHand, cause.HaltedByHand, cause.Began, cause.Ran, cause.Played, cause.Due, cause.Failed, cause.Stopped, cause.ConnectedDown, cause.Missed,
}

// Day returns the day that now belongs to: its light, what happened and what is planned.
func (h *Hub) Day(ctx context.Context) (Day, error) {
	var day Day
	if err := h.do(ctx, func() { day = h.day() }); err != nil {
		return day, err
	}
	happened, err := h.Journal(ctx, store.JournalQuery{Kinds: marked, From: day.From, To: day.To, Limit: marksPerDay})
	if err != nil {
		return day, err
	}
	for _, e := range happened {
		day.Marks = append(day.Marks, markOf(e))
	}
	slices.SortStableFunc(day.Marks, func(a, b Mark) int { return a.At.Compare(b.At) })
	return day, nil
}

// markOf is the mark of an entry of the journal.
func markOf(e EntryView) Mark {
	return Mark{At: e.At, Text: e.Text, Tone: e.Tone, Entry: e.ID}
}

// today returns when the day that now belongs to begins and ends at the house. It runs in the loop.
func (h *Hub) today() (from, to time.Time) {
	zone := h.engine.Moment().Location()
	y, m, d := h.clock.Now().In(zone).Date()
	return almanac.WallClock(y, m, d, 0, 0, zone), almanac.WallClock(y, m, d+1, 0, 0, zone)
}

// day runs in the loop: sun and plans.
func (h *Hub) day() Day {
	doc := h.definitions.House()
	from, to := h.today()
	now := h.clock.Now().In(from.Location())
	day := Day{From: from, To: to, Now: now, Marks: []Mark{}}
	sun := almanac.Place{Latitude: doc.Latitude, Longitude: doc.Longitude}.On(now)
	day.Rise, day.Set, day.Polar = sun.Rise, sun.Set, sun.Polar
	day.Stretches = stretches(day.From, day.To, sun)
	for _, id := range h.definitions.Schedules.IDs() {
		state, _, _ := h.engine.ScheduleView(id)
		if !state.Next.IsZero() && state.Next.Before(day.To) {
			day.Marks = append(day.Marks, Mark{At: state.Next, Text: h.title(id), Tone: "planned", Schedule: id})
		}
	}
	return day
}

func stretches(from, to time.Time, sun almanac.Sun) []Stretch {
	type edge struct {
		at   time.Time
		then string
	}
	light := "night"
	if sun.Polar == almanac.PolarDay {
		light = "day"
	}
	var list []Stretch
	for _, e := range []edge{{sun.Dawn, "twilight"}, {sun.Rise, "day"}, {sun.Set, "twilight"}, {sun.Dusk, "night"}} {
		if e.at.IsZero() {
			continue
		}
		at := e.at
		if at.Before(from) {
			at = from
		}
		if at.After(to) {
			at = to
		}
		if at.After(from) {
			list = append(list, Stretch{from, at, light})
		}
		from, light = at, e.then
	}
	return append(list, Stretch{from, to, light})
}

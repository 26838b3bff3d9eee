package hub

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"strconv"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/home"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/hub/show"
	"amvek/hub/views"
	"amvek/store"
)

// What is shown besides definitions, which are shown by their kinds.
const (
	shownProperty = "property" // of a device: how it stands
	shownFound    = "found"    // a device that a connection sees
	shownBridge   = "bridge"   // a bridge or transceiver that answers
	shownNotice   = "notice"   // something that the household was told
	shownNeeds    = "needs"    // what the owner has to see to
	shownPairing  = "pairing"
	shownDay      = "day"  // today's light
	shownMark     = "mark" // something on the day line
)

// What is told as it happens and not kept to be shown.
const (
	toldJournal = "journal" // an entry of the journal
	toldClock   = "clock"   // the clock was set
	toldBench   = "bench"   // something changed in the pretend house
	toldTrial   = "trial"   // the trial of a device went on
	toldFlow    = "flow"    // something went through a link
	toldMessage = "message" // something went over a connection
)

// LookedAt returns what is told to those only who look at it.
func LookedAt() []string { return []string{toldJournal, toldBench, toldTrial, toldFlow, toldMessage} }

const (
	// frameEvery is how often, at most, what changed is told: a picture of a screen lasts about as long.
	frameEvery = 40 * time.Millisecond
	// showBudget is how long the loop looks at what changed in one go, while other things wait.
	showBudget = 2 * time.Millisecond
	// careDelay is how long what goes with each reading of a device, such as when it was heard, may be old where it is shown.
	careDelay = 20 * time.Second
	// unwatchedAtMost is how much may have changed while nobody looks until it is gone through.
	unwatchedAtMost = 200_000
	// busyFor is how soon it is looked again whether what was taken is told.
	busyFor = 5 * time.Millisecond
	// figuresEvery is how often the figures of connections are looked at, and minutesEvery what changes with the time of day.
	figuresEvery = 5 * time.Second
	minutesEvery = time.Minute
)

// shown is what is shown. It belongs to the loop.
type shown struct {
	board   *show.Board
	pending []show.Update // told with the next frame
	telling chan struct{} // closed once what was taken is told; nil while nothing is
	found   bool          // whether all that was found is to be looked at
	at      time.Time     // when was last looked, by the machine's clock, as the others
	figures time.Time
	heard   time.Time
	minutes time.Time
	today   time.Time     // when the day that is shown began
	marks   []cause.Entry // what happened today, the oldest first
}

// view returns what an entry is shown as now, nil where it is gone.
func (h *Hub) view(k show.Key) any {
	kind := docs.Kind(k.Of)
	if view := effectsOf(kind).view; view != nil {
		if _, _, there := h.definitions.Get(kind, k.ID); !there && kind != docs.KindModes && kind != docs.KindHome {
			return nil
		}
		return view(h.reader, k.ID)
	}
	switch k.Of {
	case string(docs.KindConnection):
		if l := h.links[k.ID]; l != nil {
			return h.connectionView(l)
		}
	case shownProperty:
		ref := thing.Ref{Device: k.ID, Name: k.Name}
		if state, there := h.engine.PropertyState(ref); there && h.engine.Property(k.ID, k.Name) != nil {
			return h.reader.Property(ref, state)
		}
	case shownFound:
		connection, hardware, _ := strings.Cut(k.ID, "/")
		if l := h.links[connection]; l != nil {
			if a, there := l.Announced(hardware); there {
				return h.foundDevice(l, a)
			}
		}
	case shownBridge:
		if i := slices.IndexFunc(h.bridges, func(b FoundBridge) bool { return b.Address == k.ID }); i >= 0 {
			return h.bridgeView(h.bridges[i])
		}
	case shownNotice:
		if i := slices.IndexFunc(h.notices, func(n Notice) bool { return n.ID == k.ID }); i >= 0 {
			return h.notices[i]
		}
	case shownNeeds:
		return NeedsView{h.needs()}
	case shownPairing:
		if h.pairing != nil {
			return h.pairing.view
		}
	case shownDay:
		return h.reader.Day().Light()
	case shownMark:
		return h.mark(k.ID)
	}
	return nil
}

// NeedsView is what the owner has to see to, as a whole.
type NeedsView struct {
	Needs []Need `json:"needs"`
}

// MarkView is a mark on the day line with its id: of the entry of what happened, or of the schedule of what is planned.
type MarkView struct {
	ID string `json:"id"`
	views.Mark
}

func (h *Hub) mark(id string) any {
	if h.definitions.Schedules[id].Doc != nil {
		_, end := h.reader.Today()
		if state, _, _ := h.engine.ScheduleView(id); !state.Next.IsZero() && state.Next.Before(end) {
			return MarkView{id, views.Mark{At: state.Next, Text: h.reader.Title(id), Tone: "planned", Schedule: id}}
		}
		return nil
	}
	entry, err := strconv.ParseUint(id, 10, 64)
	if err != nil {
		return nil
	}
	if i := slices.IndexFunc(h.shown.marks, func(e cause.Entry) bool { return e.ID == cause.ID(entry) }); i >= 0 {
		return MarkView{id, views.MarkOf(h.reader.Entry(h.shown.marks[i]))}
	}
	return nil
}

// addMark puts an entry on the day line, where it belongs there; it is put into words when it is looked at. It runs in the loop.
func (h *Hub) addMark(e cause.Entry) {
	if !slices.Contains(marked, e.Kind) {
		return
	}
	h.shown.marks = append(h.shown.marks, e)
	if len(h.shown.marks) > marksPerDay {
		h.touchMark(h.shown.marks[0].ID)
		h.shown.marks = slices.Delete(h.shown.marks, 0, 1)
	}
	h.touchMark(e.ID)
}

func (h *Hub) touchMark(entry cause.ID) {
	h.shown.board.Touch(show.Key{Of: shownMark, ID: strconv.FormatUint(uint64(entry), 10)})
}

// rememberDay takes up what happened today before the hub started.
func (h *Hub) rememberDay(ctx context.Context) error {
	from, to := h.reader.Today()
	entries, err := h.store.Journal(ctx, store.JournalQuery{Kinds: marked, From: from, To: to, Limit: marksPerDay})
	if err != nil {
		return err
	}
	slices.Reverse(entries)
	for _, e := range entries {
		h.addMark(e)
	}
	return nil
}

// touch says that a definition may be shown differently.
func (h *Hub) touch(kind docs.Kind, id string) {
	h.shown.board.Touch(show.Key{Of: string(kind), ID: id})
	if kind == docs.KindRule {
		delete(h.findings, id)
	}
}

func (h *Hub) touchProperties(device string) {
	if d := h.definitions.Device(device); d != nil {
		for i := range d.Description.Properties {
			h.shown.board.Touch(show.Key{Of: shownProperty, ID: device, Name: d.Description.Properties[i].Name})
		}
	}
}

// touchAround says that a definition is about to change, or changed: it, what refers to it and what it refers to may be shown
// differently.
func (h *Hub) touchAround(kind docs.Kind, id string) {
	if !h.linked {
		return // all of it is looked at once the home is there
	}
	h.touch(kind, id)
	for _, n := range h.definitions.Near(kind, id) {
		h.touch(n.Kind, n.ID)
		if n.Kind == docs.KindDevice {
			h.touchProperties(n.ID) // who holds them is told by name
		}
	}
	for _, ref := range h.definitions.References(kind, id) {
		for _, device := range h.engine.Devices(ref) {
			h.touch(docs.KindDevice, device) // used through a set
		}
		if h.definitions.Variables[ref].Doc != nil {
			h.touchReferring(ref) // whether anything sets it is found in all rules that look at it
		}
	}
	switch kind {
	case docs.KindDevice:
		h.touchProperties(id)
		for _, set := range h.definitions.SetsOf(id) {
			h.touchReferring(set)
		}
		h.touchFound()
	case docs.KindRoom:
		for _, device := range h.engine.Devices(id) {
			h.touch(docs.KindDevice, device)
		}
		if room := h.definitions.Rooms[id].Doc; room != nil {
			h.touchReferring(string(home.SetOfFloor) + room.Floor)
		}
	case docs.KindProfile:
		h.touchFound()
	case docs.KindHome:
		h.touchTime()
	case docs.KindSchedule:
		h.shown.board.Touch(show.Key{Of: shownMark, ID: id})
	}
}

func (h *Hub) touchReferring(id string) {
	for _, n := range h.definitions.Referring(id) {
		h.touch(n.Kind, n.ID)
	}
}

// touchTime says that what depends on the time of day may be shown differently.
func (h *Hub) touchTime() {
	for _, id := range h.definitions.Schedules.IDs() {
		h.touch(docs.KindSchedule, id)
		h.shown.board.Touch(show.Key{Of: shownMark, ID: id})
	}
	for id := range h.definitions.Calendars {
		h.touch(docs.KindCalendar, id)
	}
	for id := range h.attention.of {
		h.touch(docs.KindDevice, id) // says for how long it has been silent
	}
	h.shown.board.Touch(show.Key{Of: shownDay})
	if began, _ := h.reader.Today(); !began.Equal(h.shown.today) {
		for i := range h.shown.marks {
			h.touchMark(h.shown.marks[i].ID)
		}
		h.shown.marks = slices.DeleteFunc(h.shown.marks, func(e cause.Entry) bool { return e.At.Before(began) })
		h.shown.today = began
	}
}

// touchPassing says so, now and then, of what changes as time passes though nothing happens.
func (h *Hub) touchPassing(now time.Time) {
	s := &h.shown
	if now.Sub(s.figures) >= figuresEvery {
		s.figures = now
		for id := range h.links {
			h.touch(docs.KindConnection, id)
		}
	}
	if now.Sub(s.heard) >= careDelay {
		s.heard = now
		h.touchHeard()
	}
	if began, _ := h.reader.Today(); now.Sub(s.minutes) >= minutesEvery || !began.Equal(s.today) {
		s.minutes = now
		h.touchTime()
	}
}

// touchHeard says so of what was heard, also where it said the same as before.
func (h *Hub) touchHeard() {
	h.engine.Heard(func(ref thing.Ref) {
		h.shown.board.Touch(show.Key{Of: shownProperty, ID: ref.Device, Name: ref.Name})
		h.touch(docs.KindDevice, ref.Device)
	})
}

// touchFound says that what was found may be shown differently. However often that is said at one moment, it is gone through once.
func (h *Hub) touchFound() { h.shown.found = true }

func (h *Hub) touchAllFound() {
	h.shown.found = false
	h.shown.board.TouchAll(shownFound)
	h.shown.board.TouchAll(shownBridge)
	for id, l := range h.links {
		for _, a := range l.Announcements() {
			h.touchHardware(id, a.Hardware)
		}
	}
	for i := range h.bridges {
		h.shown.board.Touch(show.Key{Of: shownBridge, ID: h.bridges[i].Address})
	}
}

func (h *Hub) touchHardware(connection, hardware string) {
	h.shown.board.Touch(show.Key{Of: shownFound, ID: connection + "/" + hardware})
}

// touchAll says so of everything, once the home is there.
func (h *Hub) touchAll() {
	for _, traits := range docs.All() {
		for _, id := range traits.IDs(&h.definitions) {
			h.touch(traits.Kind(), id)
		}
	}
	h.touch(docs.KindModes, docs.ModesID)
	h.touch(docs.KindHome, docs.HomeID)
	for id := range h.definitions.Devices {
		h.touchProperties(id)
	}
	for id := range h.links {
		h.touch(docs.KindConnection, id)
	}
	for i := range h.notices {
		h.touchNotice(&h.notices[i])
	}
	h.tellNeeds()
	h.shown.board.Touch(show.Key{Of: shownPairing})
	h.touchFound()
	h.touchTime()
}

// say tells something with the next frame that is not kept to be shown. It runs in the loop.
func (h *Hub) say(of, id string, view any) {
	if h.Feed.Listened() {
		h.shown.pending = append(h.shown.pending, show.Update{Of: of, ID: id, View: view})
	}
}

// Tell tells all who look at something that it changed, where it is nothing of the home.
func (h *Hub) Tell(of string) {
	h.inbox.push(item{job: func() { h.say(of, "", struct{}{}) }})
}

// ClockMoved tells that the clock was set.
func (h *Hub) ClockMoved() {
	h.inbox.push(item{job: func() {
		h.say(toldClock, "", ClockView{h.clock.Now()})
		h.touchTime()
	}})
}

// ClockView is the time by the hub's clock.
type ClockView struct {
	Now time.Time `json:"now"`
}

// tellShown looks at what may be shown differently and tells what is, now and then, and returns how long until it is to be
// called again at the latest. It runs in the loop.
func (h *Hub) tellShown() time.Duration {
	s, now := &h.shown, time.Now()
	if !h.Feed.Listened() {
		// Whoever asks has it looked at then; but what was there and is gone must not pile up until somebody does.
		if s.board.Waits() > unwatchedAtMost && !s.busy() {
			h.takeShown(nil)
			return frameEvery
		}
		return idleCheck
	}
	h.touchPassing(now)
	wait := figuresEvery
	if left, waits := h.sayFlows(now); waits {
		wait = min(wait, left)
	}
	if left, waits := h.sayMessages(now); waits {
		wait = min(wait, left)
	}
	if !s.board.Due(now, false) && !s.found && len(s.pending) == 0 {
		if at, waits := s.board.Waiting(); waits {
			wait = min(wait, max(0, at.Sub(now)))
		}
		return wait
	}
	if left := frameEvery - now.Sub(s.at); left > 0 {
		return min(wait, left)
	}
	if s.busy() {
		return min(wait, busyFor) // what is told takes longer than a frame: more is told together
	}
	h.takeShown(nil)
	return min(wait, frameEvery)
}

// busy reports whether what was taken is not told yet.
func (s *shown) busy() bool {
	select {
	case <-s.telling:
		s.telling = nil
	default:
	}
	return s.telling != nil
}

// takeShown takes some of what may be shown differently, to be told beside the loop. It runs in the loop, while nothing else
// is told.
func (h *Hub) takeShown(done chan struct{}) {
	s := &h.shown
	s.at = time.Now()
	if s.found {
		h.touchAllFound()
	}
	taken, said := s.board.Take(showBudget, h.view), s.pending
	s.pending = nil
	if done == nil {
		done = make(chan struct{})
	}
	s.telling = done
	h.workers.Go(func() {
		defer close(done)
		h.tellTaken(taken, said)
	})
}

// tellTaken puts what was taken on the board and tells what became different. Only one does so at a time.
func (h *Hub) tellTaken(taken []show.Taken, said []show.Update) {
	changes, err := h.shown.board.Put(taken)
	for i := range said {
		text, failed := json.Marshal(said[i].View)
		if failed != nil {
			err = errors.Join(err, failed)
			continue
		}
		said[i].Put = text
		h.shown.board.Next()
		changes = append(changes, said[i])
	}
	if err != nil {
		h.log.Error("a change could not be told", "error", err)
	}
	if len(changes) > 0 && h.Feed.Listened() {
		h.Feed.Publish(h.shown.board.Number(), changes)
	}
}

// settleShown returns when all that may be shown differently was looked at, a little at a time.
func (h *Hub) settleShown(ctx context.Context) error {
	first := true
	for {
		var wait chan struct{}
		if err := h.do(ctx, func() {
			s := &h.shown
			if first {
				h.touchPassing(time.Now())
				h.touchHeard()
				first = false
			}
			if s.busy() {
				wait = s.telling
			} else if s.board.Due(time.Now(), true) || s.found || len(s.pending) > 0 {
				wait = make(chan struct{})
				h.takeShown(wait)
			}
		}); err != nil || wait == nil {
			return err
		}
		select {
		case <-wait:
		case <-ctx.Done():
			return ctx.Err()
		}
	}
}

package hub

import (
	"context"
	"encoding/json"
	"time"

	"amvek/connect"
	"amvek/connect/outside"
	"amvek/core/almanac"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/hub/docs"
	"amvek/store"
)

const (
	// entriesAhead and entriesBack are how far the entries are known, from when they were read.
	entriesAhead = 400 * 24 * time.Hour
	entriesBack  = 24 * time.Hour
	// calendarLimit and calendarSize bound how long a calendar may take, and how large it may be.
	calendarLimit = 20 * time.Second
	calendarSize  = 4 << 20
	stateCalendar = "calendar"
)

// calendarState is what was last read of a calendar. It is kept over a start, so that what comes meanwhile is known.
type calendarState struct {
	Address string `json:"address"`
	// OwnMachine is whether it was allowed to be on this machine when it was read.
	OwnMachine bool            `json:"ownMachine,omitempty"`
	ReadAt     time.Time       `json:"readAt,omitzero"`
	Failed     string          `json:"failed,omitempty"`
	Skipped    []string        `json:"skipped,omitempty"`
	Entries    []almanac.Entry `json:"entries,omitempty"`
	tried      time.Time
	reading    bool
}

// ReadCalendar reads a calendar now, and returns when it was.
func (h *Hub) ReadCalendar(ctx context.Context, id string) error {
	var doc *home.Calendar
	if err := h.do(ctx, func() { doc = h.definitions.Calendars[id].Doc }); err != nil {
		return err
	}
	if doc == nil {
		return Absent("There is no such calendar.")
	}
	return h.readCalendar(ctx, id, *doc)
}

// followCalendars reads each calendar as often as it is to be, until the context ends.
func (h *Hub) followCalendars(ctx context.Context) {
	ticker := time.NewTicker(time.Second)
	defer ticker.Stop()
	for {
		due := map[string]home.Calendar{}
		if h.do(ctx, func() {
			now := h.clock.Now()
			for id, c := range h.definitions.Calendars {
				state := h.calendars[id]
				if state == nil {
					state = &calendarState{}
					h.calendars[id] = state
				}
				every := time.Duration(c.Doc.EveryMinutes) * time.Minute
				if !state.reading &&
					(state.Address != c.Doc.Address || state.OwnMachine != c.Doc.OwnMachine || state.tried.IsZero() || now.Sub(state.tried) >= every) {
					state.reading = true
					due[id] = *c.Doc
				}
			}
		}) != nil {
			return
		}
		for id, doc := range due {
			h.workers.Go(func() { _ = h.readCalendar(ctx, id, doc) })
		}
		select {
		case <-ctx.Done():
			return
		case <-ticker.C:
		}
	}
}

// readCalendar reads a calendar beside the loop, and gives the engine its entries. What was read before stays where
// it cannot be read now.
func (h *Hub) readCalendar(ctx context.Context, id string, doc home.Calendar) error {
	limited, cancel := context.WithTimeout(ctx, calendarLimit)
	defer cancel()
	var text string
	to, err := h.reveal(ctx, doc.Web())
	if err == nil {
		text, err = outside.Web(limited, h.web(doc.OwnMachine), outside.Request{Address: to, AtMost: calendarSize})
	}
	var zone *time.Location
	if failed := h.do(ctx, func() { zone = h.engine.Moment().Location() }); failed != nil {
		return failed
	}
	now := h.clock.Now()
	read := &almanac.Calendar{}
	if err == nil {
		read, err = almanac.ParseCalendar(text, zone)
	}
	var entries []almanac.Entry
	if err == nil {
		entries = read.Entries(now.Add(-entriesBack), now.Add(entriesAhead))
	}
	return h.do(ctx, func() {
		if c := h.definitions.Calendars[id]; c.Doc == nil {
			return // removed meanwhile
		}
		state := &calendarState{Address: doc.Address, OwnMachine: doc.OwnMachine, tried: now}
		if err != nil {
			state.Failed = connect.Sentence(err)
			if before := h.calendars[id]; before != nil && before.Address == doc.Address {
				state.ReadAt, state.Entries, state.Skipped = before.ReadAt, before.Entries, before.Skipped
			}
		} else {
			state.ReadAt, state.Entries, state.Skipped = now, entries, read.Skipped
		}
		h.calendars[id] = state
		h.handle(engine.Input{Kind: engine.InputEntries, ID: id, Entries: state.Entries})
		if data, err := json.Marshal(state); err == nil {
			h.store.PutState(store.State{Kind: stateCalendar, Owner: id, JSON: data})
		}
		h.touch(docs.KindCalendar, id)
	})
}

// dropCalendar forgets what was read of a calendar.
func (h *Hub) dropCalendar(id string) {
	delete(h.calendars, id)
	h.store.RemoveState(stateCalendar, id)
}

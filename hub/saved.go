package hub

import (
	"context"
	"encoding/json"
	"slices"
	"time"

	"amvek/core/state"
	"amvek/core/thing"
	"amvek/core/trial"
	"amvek/store"
)

// engineStates reads what is kept of the engine, and the number of the last command.
func (h *Hub) engineStates(states []store.State) (saved state.Saved, lastCommand uint64) {
	saved = state.Saved{
		Properties: map[thing.Ref]state.PropertyState{},
		Rules:      map[string]state.RuleState{},
		Schedules:  map[string]state.ScheduleState{},
		Devices:    map[string]state.DeviceState{},
	}
	for _, s := range states {
		switch s.Kind {
		case "property":
			if p, ok := readState[state.PropertyState](h, s); ok {
				saved.Properties[thing.Ref{Device: s.Owner, Name: s.Name}] = p
				lastCommand = max(lastCommand, p.Command)
			}
		case "rule":
			if r, ok := readState[state.RuleState](h, s); ok {
				saved.Rules[s.Owner] = r
			}
		case "device":
			if d, ok := readState[state.DeviceState](h, s); ok {
				saved.Devices[s.Owner] = d
			}
		case "schedule":
			if r, ok := readState[state.ScheduleState](h, s); ok {
				saved.Schedules[s.Owner] = r
			}
		}
	}
	return saved, lastCommand
}

// takeStates takes up what the hub itself keeps from one start to the next.
func (h *Hub) takeStates(states []store.State) {
	for _, s := range states {
		switch s.Kind {
		case stateNotice:
			if n, ok := readState[Notice](h, s); ok {
				h.notices = append(h.notices, n)
			}
		case stateCalendar:
			if c, ok := readState[calendarState](h, s); ok {
				h.calendars[s.Owner] = &c
			}
		case stateAside:
			if a, ok := readState[stopper](h, s); ok {
				h.stoppers[asideKey{a.Kind, a.ID}] = a
			}
		case "trial":
			if t, ok := readState[trial.Trial](h, s); ok {
				h.trials[s.Owner] = &t
			}
		}
	}
	slices.SortFunc(h.notices, func(a, b Notice) int { return a.At.Compare(b.At) })
}

// readState reads a state. One that cannot be read is left out: what it was about begins anew.
func readState[T any](h *Hub, s store.State) (state T, ok bool) {
	if err := json.Unmarshal(s.JSON, &state); err != nil {
		h.log.Error("a saved state cannot be read and is left out", "kind", s.Kind, "owner", s.Owner, "error", err)
		return state, false
	}
	return state, true
}

// saveEvery is how long a changed state waits for more changes before it is handed to the store,
// so that a property that changes a hundred times a second is not written a hundred times.
const saveEvery = 50 * time.Millisecond

// stateKey names something whose state is kept from one start to the next.
type stateKey struct{ kind, owner, name string }

// keep saves a state, soon. It runs in the loop.
func (h *Hub) keep(key stateKey) {
	if key.kind == "property" || key.kind == "device" {
		h.attend(key.owner)
	}
	if len(h.unsaved) == 0 {
		h.saveAt = time.Now().Add(saveEvery)
	}
	h.unsaved[key] = struct{}{}
}

// When conditions were last true is kept for so many rules so often: with thousands of rules, which change with every
// reading, all at once would hold up what the house is waiting for.
const (
	passingEvery = time.Second
	passingRules = 50
)

// keepInPassing has some rules kept of which only what is shown changed. It runs in the loop.
func (h *Hub) keepInPassing(most int) {
	h.passedAt = time.Now()
	for id := range h.inPassing {
		if most--; most < 0 {
			return
		}
		delete(h.inPassing, id)
		h.keep(stateKey{"rule", id, ""})
	}
}

// saveStates hands all changed states to the store. It runs in the loop. Where a run waits that is written at
// once: a power cut must not forget what the house was about to do.
func (h *Hub) saveStates() {
	if h.putStates() {
		h.store.Hurry()
	}
}

// KeepStates returns when the states of this moment are kept for good.
func (h *Hub) KeepStates(ctx context.Context) error {
	if err := h.do(ctx, h.saveStates); err != nil {
		return err
	}
	return h.store.Flush(ctx)
}

// putStates queues all changed states to be written, and reports whether a run waits in one.
func (h *Hub) putStates() (waits bool) {
	for key := range h.unsaved {
		var doc any
		there := false
		switch key.kind {
		case "property":
			doc, there = h.engine.PropertyState(thing.Ref{Device: key.owner, Name: key.name})
		case "rule":
			var of state.RuleState
			of, there = h.engine.RuleState(key.owner)
			doc = of
			waits = waits || len(of.Frames) > 0
		case "device":
			doc, _, there = h.engine.DeviceState(key.owner)
		case "trial":
			doc, there = h.trials[key.owner], h.trials[key.owner] != nil
		case "schedule":
			doc, _, there = h.engine.ScheduleView(key.owner)
		}
		if !there {
			continue // removed meanwhile
		}
		data, err := json.Marshal(doc)
		if err != nil {
			h.log.Error("a state cannot be saved", "kind", key.kind, "owner", key.owner, "error", err)
			continue
		}
		h.store.PutState(store.State{Kind: key.kind, Owner: key.owner, Name: key.name, JSON: data})
	}
	clear(h.unsaved)
	return waits
}

package hub

import (
	"context"
	"errors"
	"fmt"
	"runtime/debug"

	"amvek/core/cause"
	"amvek/core/engine"
	"amvek/core/state"
	"amvek/hub/docs"
	"amvek/store"
)

// load reads the home and puts it to work. What cannot be read, or what stops the engine, is set aside.
func (h *Hub) load(ctx context.Context) error {
	h.definitions = docs.NewSet()
	h.makeReader()
	last, at, err := h.store.LastEntry(ctx)
	if err != nil {
		return fmt.Errorf("reading the journal: %w", err)
	}
	h.clock.NotBefore(at)
	if err := h.hideOld(ctx); err != nil {
		h.log.Error("keys in the addresses of before could not be hidden", "error", err)
	}
	all, err := h.store.Definitions(ctx)
	if err != nil {
		return fmt.Errorf("reading the definitions: %w", err)
	}
	if h.titles, err = h.store.Titles(ctx); err != nil {
		return fmt.Errorf("reading the definitions: %w", err)
	}
	h.titles[docs.OwnID] = own().Title
	if err := h.loadDrafts(ctx); err != nil {
		return err
	}
	states, err := h.store.States(ctx)
	if err != nil {
		return fmt.Errorf("reading the states: %w", err)
	}
	h.takeStates(states)
	if h.added, err = h.store.Firsts(ctx, string(docs.KindDevice)); err != nil {
		return fmt.Errorf("reading the definitions: %w", err)
	}
	if err := h.rememberFormer(ctx); err != nil {
		return err
	}
	if h.chance, err = h.seed(ctx); err != nil {
		return err
	}
	h.putToWork(ctx, all)
	h.whoIsThere()
	saved, lastCommand := h.engineStates(states)
	if err := h.makeEngine(saved, last+1, lastCommand+1); err != nil {
		return err
	}
	h.firstValues()
	h.rememberSilence()
	if err := h.rememberDay(ctx); err != nil {
		return fmt.Errorf("reading the journal: %w", err)
	}
	return nil
}

// makeEngine makes an engine of the definitions and states that there are. A definition that stops it is set aside, and
// it is made anew without.
func (h *Hub) makeEngine(saved state.Saved, nextEntry cause.ID, nextCommand uint64) error {
	for {
		var fell any
		h.engine = engine.New(nextEntry, nextCommand)
		h.reader.Engine = h.engine
		func() {
			defer func() {
				if fell = recover(); fell != nil {
					h.log.Error("the engine could not be made", "panic", fell, "suspect", h.engine.Suspect(), "stack", string(debug.Stack()))
				}
			}()
			h.fillEngine(saved)
		}()
		if fell == nil {
			return nil
		}
		if !h.setAside(h.engine.Suspect(), stoppedHub) {
			return fmt.Errorf("the home cannot be put to work: %v", fell)
		}
	}
}

// stoppedHub is why a definition is set aside that made the engine fall.
const stoppedHub = "It stopped the hub, which went on without it. This is a fault of Amvek; please report it with the text below."

func (h *Hub) fillEngine(saved state.Saved) {
	e, d, now := h.engine, &h.definitions, h.clock.Now()
	e.Seed(h.chance)
	e.BeginLoading(now)
	h.definingAll(func(in engine.Input) { e.Handle(now, in) })
	own := h.describeOwn()
	d.Put(docs.KindDevice, docs.OwnID, 0, own)
	e.Handle(now, engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: docs.OwnID, Thing: own})
	for _, id := range sortedKeys(h.calendars) {
		e.Handle(now, engine.Input{Kind: engine.InputEntries, ID: id, Entries: h.calendars[id].Entries})
	}
	e.Load(saved)
}

// decide gives the engine one input and returns what follows. Where the engine falls, what it was busy with is set aside,
// nothing of the input is carried out, and the engine is made anew of what is kept: as after a power cut, and without one.
func (h *Hub) decide(in *engine.Input) (outputs []engine.Output) {
	defer func() {
		if fell := recover(); fell != nil {
			outputs = nil
			h.fell(fell, in.Kind)
		}
	}()
	return h.engine.Handle(h.clock.Now(), *in)
}

// decideReport is decide for a report.
func (h *Hub) decideReport(r *report) (outputs []engine.Output) {
	defer func() {
		if fell := recover(); fell != nil {
			outputs = nil
			h.fell(fell, engine.InputReport)
		}
	}()
	return h.engine.Report(h.clock.Now(), r.Device, r.Name, r.value, r.polled)
}

// fell goes on after the engine fell over an input.
func (h *Hub) fell(fell any, input engine.InputKind) {
	suspect := h.engine.Suspect()
	h.log.Error("the engine fell", "panic", fell, "suspect", suspect, "input", input, "stack", string(debug.Stack()))
	if err := h.revive(suspect); err != nil {
		panic(errors.Join(fmt.Errorf("%v", fell), err))
	}
}

// revive makes the engine anew after it fell. All that was kept was kept at one moment, so nothing of it is half changed.
func (h *Hub) revive(suspect engine.Suspect) error {
	ctx := context.WithoutCancel(h.context)
	h.setAside(suspect, stoppedHub)
	for key := range h.unsaved {
		if key.kind != "trial" {
			delete(h.unsaved, key)
		}
	}
	clear(h.inPassing)
	if err := h.store.Flush(ctx); err != nil && !errors.Is(err, store.ErrFull) {
		return err
	}
	states, err := h.store.States(ctx)
	if err != nil {
		return err
	}
	nextEntry, nextCommand := h.engine.NextEntry(), h.engine.NextCommand()
	saved, _ := h.engineStates(states)
	if err := h.makeEngine(saved, nextEntry, nextCommand); err != nil {
		return err
	}
	h.firstValues()
	for _, id := range sortedKeys(h.links) {
		l := h.links[id]
		if down, reason := l.Down(); down {
			h.handle(engine.Input{Kind: engine.InputConnection, Connection: id, Reason: reason})
		}
	}
	h.handle(engine.Input{Kind: engine.InputStart, Quiet: true})
	for _, id := range sortedKeys(h.links) {
		h.recall(id, sortedKeys(h.links[id].Devices())...) // what was said meanwhile was not heard
	}
	h.touchAll()
	return nil
}

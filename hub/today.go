package hub

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"time"

	"golang.org/x/sync/errgroup"

	"amvek/core/cause"
	"amvek/core/recap"
	"amvek/core/thing"
	"amvek/hub/docs"
	"amvek/hub/views"
	"amvek/store"
)

const (
	// sinceAtMost is how far back is looked for who was away for longer.
	sinceAtMost = 366 * 24 * time.Hour
	// correctionsOver is how far back it is looked whether hands correct rules.
	correctionsOver = 30 * 24 * time.Hour
	// handsAtMost and actsAtMost bound what of that is read, and correctedAtMost how many properties are looked at.
	handsAtMost     = 5000
	actsAtMost      = 1000
	correctedAtMost = 40
	// readAtOnce is how many properties are read up at the same time: others read, too.
	readAtOnce = 2
	// handsAtLeast is how many it takes that chance could be left out at all: four of four.
	handsAtLeast = 4
	// failuresAtMost bounds the failed commands that are gone through.
	failuresAtMost = 500
	// actsToEnd is how often a changed rule must have acted without being corrected, to say that it is not any more.
	actsToEnd = 3
)

// Since returns what happened since a time, a day ago where it is zero and a year ago at most, that somebody who was away may
// want to know.
func (h *Hub) Since(ctx context.Context, from time.Time) (views.Since, error) {
	now := h.clock.Now()
	if from.IsZero() {
		from = now.Add(-24 * time.Hour)
	}
	if longAgo := now.Add(-sinceAtMost); from.Before(longAgo) {
		from = longAgo
	}
	h.settleRecords(ctx)
	var counts []store.RuleCount
	var failed []cause.Entry
	var corrections []views.Corrected
	reading, readCtx := errgroup.WithContext(ctx)
	reading.Go(func() (err error) { counts, err = h.store.RuleCounts(readCtx, from); return err })
	reading.Go(func() (err error) {
		failed, err = h.store.LookBack(readCtx, from, failuresAtMost, cause.Failed)
		return err
	})
	reading.Go(func() (err error) { corrections, err = h.corrections(readCtx); return err })
	if err := reading.Wait(); err != nil {
		return views.Since{}, fmt.Errorf("looking back in the journal: %w", err)
	}
	var since views.Since
	err := h.do(ctx, func() {
		acts := map[string]views.RuleActs{}
		for _, c := range counts {
			of := acts[c.Rule]
			switch c.Kind {
			case cause.Began, cause.Ran:
				of.Acted += c.Count
			case cause.Stopped, cause.CutShort:
				of.Failed += c.Count
			case cause.NotStarted:
				of.KeptBack += c.Count
			}
			acts[c.Rule] = of
		}
		since = h.reader.Since(from, acts, failed, corrections)
	})
	return since, err
}

// corrections looks whether hands correct rules.
func (h *Hub) corrections(ctx context.Context) ([]views.Corrected, error) {
	now := h.clock.Now()
	from := now.Add(-correctionsOver)
	entries, err := h.store.LookBack(ctx, from, handsAtMost, cause.Written, cause.ByDevice, cause.Kept)
	if err != nil {
		return nil, fmt.Errorf("reading the journal: %w", err)
	}
	hands := map[thing.Ref][]recap.Set{}
	for _, e := range slices.Backward(entries) {
		if e.Value.Kind == thing.KindNumber || e.Value.Kind == thing.KindBoolean {
			ref := thing.Ref{Device: e.Device, Name: e.Name}
			hands[ref] = append(hands[ref], recap.Set{At: e.At, Value: e.Value})
		}
	}
	refs := []thing.Ref{}
	for ref, sets := range hands {
		if len(sets) >= handsAtLeast {
			refs = append(refs, ref)
		}
	}
	slices.SortFunc(refs, func(a, b thing.Ref) int {
		return cmp.Or(len(hands[b])-len(hands[a]), cmp.Compare(a.Device, b.Device), cmp.Compare(a.Name, b.Name))
	})
	refs = refs[:min(len(refs), correctedAtMost)]
	of := make([][]views.Corrected, len(refs))
	reading, readCtx := errgroup.WithContext(ctx)
	reading.SetLimit(readAtOnce)
	for i, ref := range refs {
		reading.Go(func() (err error) { of[i], err = h.correctionsOf(readCtx, ref, hands[ref], from, now); return err })
	}
	if err := reading.Wait(); err != nil {
		return nil, err
	}
	found := append([]views.Corrected{}, slices.Concat(of...)...)
	slices.SortFunc(found, func(a, b views.Corrected) int {
		return cmp.Or(cmp.Compare(a.Chance, b.Chance), cmp.Compare(a.Rule, b.Rule), cmp.Compare(a.Device, b.Device))
	})
	return found, nil
}

// correctionsOf looks whether hands correct what rules set of one property.
func (h *Hub) correctionsOf(ctx context.Context, ref thing.Ref, hands []recap.Set, from, now time.Time) (found []views.Corrected, err error) {
	acts, err := h.store.Acts(ctx, ref, from, actsAtMost)
	if err != nil {
		return nil, fmt.Errorf("reading the journal: %w", err)
	}
	byRule := map[string][]recap.Set{}
	for _, a := range acts {
		byRule[a.Rule] = append(byRule[a.Rule], recap.Set{At: a.At, Value: a.Value})
	}
	for rule, sets := range byRule {
		changed, before, err := h.changedAt(ctx, rule, from)
		if err != nil {
			return nil, err
		}
		if c, is := corrected(sets, hands, before, changed, now); is {
			c.Rule, c.Device, c.Property = rule, ref.Device, ref.Name
			found = append(found, c)
		}
	}
	return found, nil
}

// corrected looks at what hands did since a rule was last changed; where they correct it no more, which they did from a time on
// until then, it is told how they did.
func corrected(acts, hands []recap.Set, from, changed, to time.Time) (views.Corrected, bool) {
	first := func(t time.Time) int {
		n, _ := slices.BinarySearchFunc(acts, t, func(s recap.Set, t time.Time) int { return s.At.Compare(t) })
		return n
	}
	n := first(changed)
	now := recap.Corrections(acts[n:], hands, changed, to)
	if now.Significant() {
		return views.Corrected{Correction: now}, true
	}
	before := recap.Corrections(acts[first(from):n], hands, from, changed)
	if before.Significant() && now.Acts >= actsToEnd && (now.Corrected == 0 || now.Lower != before.Lower) {
		return views.Corrected{Correction: before, Changed: changed, ActsSince: now.Acts}, true
	}
	return views.Corrected{}, false
}

// changedAt returns when a rule was last changed, and when before that, or a time where that was before.
func (h *Hub) changedAt(ctx context.Context, rule string, from time.Time) (changed, before time.Time, err error) {
	revisions, err := h.store.Revisions(ctx, string(docs.KindRule), rule, 2)
	if err != nil {
		return from, from, fmt.Errorf("reading the earlier versions of a rule: %w", err)
	}
	at := func(n int) time.Time {
		if n < len(revisions) && revisions[n].At.After(from) {
			return revisions[n].At
		}
		return from
	}
	return at(0), at(1), nil
}

// Lines returns how readings went over the last hours, each in so many points at most; what is no number has none.
func (h *Hub) Lines(ctx context.Context, refs []thing.Ref, over time.Duration, most int) ([]ReadingLine, error) {
	now := h.clock.Now()
	from := now.Add(-over)
	h.settleRecords(ctx)
	lines := make([]ReadingLine, len(refs))
	reading, readCtx := errgroup.WithContext(ctx)
	reading.SetLimit(readAtOnce)
	for i, ref := range refs {
		reading.Go(func() error {
			series, err := h.History(readCtx, ref, from, now, most)
			lines[i] = ReadingLine{Ref: ref, Points: thinned(series.Points, from, over/time.Duration(most))}
			return err
		})
	}
	return lines, reading.Wait()
}

// ReadingLine is how a reading went over the last hours.
type ReadingLine struct {
	thing.Ref
	Points []LinePoint `json:"points"`
}

// LinePoint is a place of a line.
type LinePoint struct {
	At    time.Time `json:"at"`
	Value float64   `json:"value"`
}

// thinned returns the last point of each of the stretches that a line is drawn of; one before it stands at its beginning.
func thinned(points []Point, from time.Time, stretch time.Duration) []LinePoint {
	list := []LinePoint{}
	place := func(at time.Time) int64 { return int64(max(0, at.Sub(from)) / stretch) }
	for _, p := range points {
		at := p.At
		if at.Before(from) {
			at = from
		}
		if n := len(list); n > 0 && place(list[n-1].At) == place(at) {
			list = list[:n-1]
		}
		list = append(list, LinePoint{at, p.Value})
	}
	return list
}

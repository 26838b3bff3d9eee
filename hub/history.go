package hub

import (
	"context"
	"errors"
	"math"
	"strconv"
	"time"

	"amvek/core/thing"
	"amvek/store"
)

// Point is a stretch of a history: one reading, or the mean, the least and the most over a span of time.
type Point struct {
	At    time.Time `json:"at"`
	Value float64   `json:"value" doc:"The reading, or the mean over the span, weighted by time."`
	Least float64   `json:"least"`
	Most  float64   `json:"most"`
}

// Series is the history of one property.
type Series struct {
	Device   string `json:"device"`
	Property string `json:"property"`
	// SpanSeconds is how long each point lasts; 0 where they are the readings themselves.
	SpanSeconds float64 `json:"spanSeconds" doc:"How long each point lasts; 0 where they are the readings themselves."`
	Points      []Point `json:"points"`
	// Gaps are stretches between readings of which nothing is known, since the device was silent.
	// Summary is absent where nothing is known.
	Summary *Summary `json:"summary,omitempty" doc:"What it comes to over the time that was asked for; absent where nothing is known."`
	Gaps    []Gap    `json:"gaps,omitempty" doc:"Stretches between readings of which nothing is known, since the device was silent."`
	// Stays and Shares are of what is no number: a choice, a text, a color.
	Stays  []Stay  `json:"stays,omitempty" doc:"Of what is no number: the stretches in which it was at something, the newest 5,000 at most."`
	Shares []Share `json:"shares,omitempty" doc:"Of what is no number: for how long it was at each, the longest first."`
}

// Stay is a stretch of time in which a property was at something that is no number.
type Stay struct {
	From   time.Time   `json:"from"`
	To     time.Time   `json:"to"`
	Value  thing.Value `json:"value"`
	Text   string      `json:"text" doc:"The value in words."`
	Swatch string      `json:"swatch,omitempty" doc:"Of a color, as #rrggbb."`
}

// Share is for how long a property was at something.
type Share struct {
	Text    string  `json:"text"`
	Swatch  string  `json:"swatch,omitempty"`
	Seconds float64 `json:"seconds"`
}

// Summary is what a history comes to over the time that was asked for.
type Summary struct {
	Least float64 `json:"least"`
	Mean  float64 `json:"mean" doc:"Over the time for which the value is known."`
	Most  float64 `json:"most"`
	// KnownSeconds is for how long the value is known.
	KnownSeconds float64 `json:"knownSeconds"`
}

// Gap is a stretch of time of which nothing is known.
type Gap struct {
	From time.Time `json:"from"`
	To   time.Time `json:"to"`
}

// History returns a property's history between two times in about so many points at most.
func (h *Hub) History(ctx context.Context, ref thing.Ref, from, to time.Time, points int) (Series, error) {
	series := Series{Device: ref.Device, Property: ref.Name, Points: []Point{}}
	if !from.Before(to) {
		return series, Invalid("to", "The end must come after the beginning.")
	}
	by, err := h.adjustment(ctx, ref)
	if err != nil {
		return series, err
	}
	var zone *time.Location
	if err := h.do(ctx, func() { zone = h.engine.Moment().Location() }); err != nil {
		return series, err
	}
	if now := h.clock.Now().Add(time.Second); to.After(now) {
		to = now // what will be held is not known
	}
	if p, err := h.worded(ctx, ref); err != nil || p != nil {
		if err == nil {
			err = h.stays(ctx, &series, ref, p, from, to)
		}
		return series, err
	}
	kept, err := h.store.History(ctx, ref.Device, ref.Name, from, to, points, zone)
	if err != nil {
		return series, errors.Join(errors.New("reading the history failed"), err)
	}
	series.SpanSeconds = kept.Span.Seconds()
	for _, g := range kept.Gaps {
		series.Gaps = append(series.Gaps, Gap{g.From, g.To})
	}
	for _, p := range kept.Points {
		point := Point{p.At, p.Mean, p.Least, p.Most}
		if !p.At.Before(by.From) && by != (thing.Adjustment{}) {
			point.Value = by.Round(by.Calibrate(p.Mean))
			least, most := by.Calibrate(p.Least), by.Calibrate(p.Most)
			point.Least, point.Most = by.Round(min(least, most)), by.Round(max(least, most))
		}
		series.Points = append(series.Points, point)
	}
	series.Summary = summary(series, kept, from, to)
	return series, nil
}

// summary says what a history comes to. A reading counts until the next one, until the device was silent, or to the end.
func summary(series Series, kept store.History, from, to time.Time) *Summary {
	s := Summary{Least: math.Inf(1), Most: math.Inf(-1)}
	area := 0.0
	for i, p := range series.Points {
		seconds := kept.Points[i].Known.Seconds()
		if kept.Span == 0 {
			begin, end := p.At, to
			if i+1 < len(series.Points) {
				end = series.Points[i+1].At
			}
			for _, g := range kept.Gaps {
				if g.From.After(begin) && g.From.Before(end) {
					end = g.From
				}
			}
			if begin.Before(from) {
				begin = from
			}
			seconds = max(0, end.Sub(begin).Seconds())
			if seconds == 0 && p.At.Before(from) {
				continue
			}
		}
		area += p.Value * seconds
		s.KnownSeconds += seconds
		s.Least, s.Most = min(s.Least, p.Least), max(s.Most, p.Most)
	}
	if s.KnownSeconds == 0 {
		return nil
	}
	s.Mean = area / s.KnownSeconds
	return &s
}

// adjustment returns how a property's readings are taken.
func (h *Hub) adjustment(ctx context.Context, ref thing.Ref) (by thing.Adjustment, err error) {
	failed := h.do(ctx, func() {
		if h.engine.Property(ref.Device, ref.Name) == nil {
			err = Absent("There is no such device or property.")
		}
		if d := h.definitions.Device(ref.Device); d != nil {
			by = d.Adjustments[ref.Name]
		}
	})
	return by, errors.Join(failed, err)
}

// readings returns a property's readings between two times, one by one.
func (h *Hub) readings(ctx context.Context, ref thing.Ref, from, to time.Time) ([]Point, error) {
	by, err := h.adjustment(ctx, ref)
	if err != nil {
		return nil, err
	}
	samples, err := h.store.Samples(ctx, ref.Device, ref.Name, from, to)
	if err != nil {
		return nil, errors.Join(errors.New("reading the history failed"), err)
	}
	points := make([]Point, len(samples))
	for i, s := range samples {
		v := s.Value
		if !s.At.Before(by.From) {
			v = by.Round(by.Calibrate(v))
		}
		points[i] = Point{s.At, v, v, v}
	}
	return points, nil
}

// sheetPoints is how many rows a table of one property's history has at most.
const sheetPoints = 50_000

// HistorySheet returns histories as comma-separated values (RFC 4180).
func (h *Hub) HistorySheet(ctx context.Context, refs []thing.Ref, from, to time.Time) ([][]string, error) {
	sheet := [][]string{{"time", "device", "property", "unit", "value", "least", "most", "span seconds"}}
	for _, ref := range refs {
		series, err := h.History(ctx, ref, from, to, sheetPoints)
		if err != nil {
			return nil, err
		}
		var title, property, unit string
		if err := h.do(ctx, func() {
			title = h.reader.Title(ref.Device)
			if p := h.engine.Property(ref.Device, ref.Name); p != nil {
				property, unit = p.Title, string(p.Unit)
			}
		}); err != nil {
			return nil, err
		}
		number := func(v float64) string { return strconv.FormatFloat(math.Round(v*1e4)/1e4, 'f', -1, 64) }
		for _, s := range series.Stays {
			sheet = append(sheet, []string{s.From.UTC().Format(time.RFC3339Nano), title, property, unit, s.Text, "", "", number(s.To.Sub(s.From).Seconds())})
		}
		for _, p := range series.Points {
			sheet = append(
				sheet,
				[]string{
					p.At.UTC().Format(time.RFC3339Nano),
					title,
					property,
					unit,
					number(p.Value),
					number(p.Least),
					number(p.Most),
					number(series.SpanSeconds),
				},
			)
		}
	}
	return sheet, nil
}

// silenceKept keeps in the history that nothing is known of a device from when it fell silent, and what is known once it is
// heard again: its values count, though they may be those of before. It runs in the loop.
func (h *Hub) silenceKept(device string) {
	state, _, there := h.engine.DeviceState(device)
	d := h.definitions.Device(device)
	if !there || d == nil || state.Silent == h.silent[device] {
		return
	}
	h.silent[device] = state.Silent
	for i := range d.Description.Properties {
		ref := thing.Ref{Device: device, Name: d.Description.Properties[i].Name}
		p, ok := h.engine.PropertyState(ref)
		if !ok || p.Reported.IsNone() {
			continue
		}
		numeric := p.Reported.Kind == thing.KindNumber || p.Reported.Kind == thing.KindBoolean
		switch {
		case !numeric && state.Silent:
			h.store.AddStay(ref.Device, ref.Name, h.clock.Now(), nil)
			continue
		case !numeric:
			h.stayed(ref, p.Reported)
			continue
		case state.Silent:
			h.store.AddUnknown(ref.Device, ref.Name, h.clock.Now())
			continue
		}
		v := p.Reported
		if !p.Raw.IsNone() {
			v = p.Raw
		}
		h.measured(ref, v)
	}
}

// rememberSilence takes up which devices were silent when the hub stopped.
func (h *Hub) rememberSilence() {
	for id := range h.definitions.Devices {
		if state, _, there := h.engine.DeviceState(id); there && state.Silent {
			h.silent[id] = true
		}
	}
}

package hub

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"time"

	"amvek/core/thing"
	"amvek/hub/views"
)

// stayed keeps what a property is at from now on that is no number: a choice, a text, a color. It runs in the loop.
func (h *Hub) stayed(ref thing.Ref, v thing.Value) {
	if data, err := json.Marshal(v); err == nil {
		h.store.AddStay(ref.Device, ref.Name, h.clock.Now(), data)
	}
}

// worded returns a property whose values are no numbers, nil for others.
func (h *Hub) worded(ctx context.Context, ref thing.Ref) (of *thing.Property, err error) {
	err = h.do(ctx, func() {
		if p := h.engine.Property(ref.Device, ref.Name); p != nil && p.Type != thing.TypeNumber && p.Type != thing.TypeBoolean {
			copied := *p
			of = &copied
		}
	})
	return of, err
}

// stays reads what a property was at, in words as they are now.
func (h *Hub) stays(ctx context.Context, series *Series, ref thing.Ref, p *thing.Property, from, to time.Time) error {
	list, shares, err := h.store.Stays(ctx, ref.Device, ref.Name, from, to)
	if err != nil {
		return errors.Join(errors.New("reading the history failed"), err)
	}
	for _, s := range list {
		var v thing.Value
		if s.Value == nil || json.Unmarshal(s.Value, &v) != nil {
			series.Gaps = append(series.Gaps, Gap{s.From, s.To})
			continue
		}
		series.Stays = append(series.Stays, Stay{From: s.From, To: s.To, Value: v, Text: p.Say(v), Swatch: views.Swatch(p, v)})
	}
	for _, data := range sortedKeys(shares) {
		var v thing.Value
		if json.Unmarshal([]byte(data), &v) == nil {
			series.Shares = append(series.Shares, Share{Text: p.Say(v), Swatch: views.Swatch(p, v), Seconds: shares[data].Seconds()})
		}
	}
	slices.SortStableFunc(series.Shares, func(a, b Share) int { return int(b.Seconds - a.Seconds) })
	series.Shares = series.Shares[:min(len(series.Shares), sharesAtMost)]
	return nil
}

// sharesAtMost is how many values are told with how long they were there.
const sharesAtMost = 50

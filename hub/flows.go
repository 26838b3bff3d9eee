package hub

import (
	"context"
	"slices"
	"time"

	"amvek/core/document"
	"amvek/core/link"
)

// FlowView is what went through a link since it was told last.
type FlowView struct {
	Samples []link.Sample `json:"samples"`
}

// sayFlows tells those who look at links what went through them, at most once in each frame. It returns how long until there
// is more to tell, and whether there is. It runs in the loop.
func (h *Hub) sayFlows(now time.Time) (left time.Duration, waits bool) {
	if !h.engine.Flows() {
		return 0, false
	}
	if left = frameEvery - now.Sub(h.flows.at); left > 0 {
		return left, true
	}
	h.flows.at = now
	looked := h.Feed.Looks(toldFlow)
	h.engine.Flowing(func(id string) {
		samples := h.engine.LinkSamples(id, h.flows.told[id])
		if len(samples) == 0 {
			return
		}
		h.flows.told[id] = samples[len(samples)-1].Number
		if looked {
			h.say(toldFlow, id, FlowView{samples})
		}
	})
	return 0, false
}

// flows is what was told of links. It belongs to the loop.
type flows struct {
	at   time.Time
	told map[string]uint64 // the number of the newest sample, by link
}

// Samples returns what went through a link after a sample, by its number, as far as it is kept.
func (h *Hub) Samples(ctx context.Context, id string, after uint64) (samples []link.Sample, err error) {
	there := false
	err = h.do(ctx, func() {
		there = h.definitions.Links[id].Doc != nil
		samples = append([]link.Sample{}, h.engine.LinkSamples(id, after)...)
	})
	if err == nil && !there {
		err = Absent("There is no such link.")
	}
	return samples, err
}

// TryStages returns what would have left each stage, had samples of a source gone through them with the targets at a value.
func (h *Hub) TryStages(ctx context.Context, stages []link.Stage, in []link.Sample, at float64) (out []link.Sample, err error) {
	// Only what is worked out of values of the home is tried in the loop: two thousand samples take some milliseconds.
	known := slices.ContainsFunc(stages, func(s link.Stage) bool { return s.Kind == link.Expression })
	var problems []document.Fault
	err = h.do(ctx, func() {
		if problems = link.CheckStages(stages, h.engine); len(problems) == 0 && known {
			out = append([]link.Sample{}, h.engine.TryStages(stages, in, at)...)
		}
	})
	switch {
	case err != nil:
	case len(problems) > 0:
		err = Invalid(problems[0].Path, problems[0].Message)
	case !known:
		out = link.Tried(stages, in, at, nil)
	}
	return out, err
}

// linkGone follows when a link is no longer there.
func (h *Hub) linkGone(id string, _ *link.Link) { delete(h.flows.told, id) }

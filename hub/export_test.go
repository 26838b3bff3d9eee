package hub

import (
	"context"

	"amvek/core/rule"
)

// Sabotage makes the engine fall when a rule takes its first step, as a fault in the engine would: the step is exchanged for
// one that was never checked and never compiled.
func (h *Hub) Sabotage(ctx context.Context, id string) error {
	return h.do(ctx, func() { h.definitions.Rules[id].Doc.Do[0] = rule.Step{Kind: rule.StepIf} })
}

// InLoop runs f in the loop.
func (h *Hub) InLoop(ctx context.Context, f func()) error { return h.do(ctx, f) }

// Waiting returns how much waits for the loop.
func (h *Hub) Waiting() int {
	h.inbox.mu.Lock()
	defer h.inbox.mu.Unlock()
	return len(h.inbox.items)
}

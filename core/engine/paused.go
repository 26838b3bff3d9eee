package engine

import (
	"strings"
	"time"

	"amvek/core/cause"
)

// pauseRule keeps a rule from acting, and ends what it has under way, until another rule or the owner lets it act again.
func (e *Engine) pauseRule(id, by string, w why) {
	r := e.rules[id]
	if r == nil || r.gone || r.state.PausedBy != "" {
		return
	}
	inner := e.follow(w, cause.Entry{Kind: cause.Paused, Rule: id})
	_, r.state.PausedBy, _ = strings.Cut(by, ":")
	r.state.PausedAt = e.now
	e.silence(r, inner)
}

// resumeRule lets a rule act again that was paused; a whenever rule looks at once how things are.
func (e *Engine) resumeRule(id string, w why) {
	r := e.rules[id]
	if r == nil || r.gone || r.state.PausedBy == "" {
		return
	}
	inner := e.follow(w, cause.Entry{Kind: cause.WentOn, Rule: id})
	r.state.PausedBy, r.state.PausedAt = "", time.Time{}
	e.touchRule(r)
	e.wake(r, inner)
}

package links

import (
	"time"

	"amvek/connect"
	"amvek/core/thing"
)

// Report implements [connect.Sink], of what no message is known that it was told by.
func (l *Link) Report(hardware, property string, value thing.Value) {
	l.Heard(connect.Message{}).Report(hardware, property, value)
}

// Event implements [connect.Sink], as [Link.Report].
func (l *Link) Event(hardware, event string, value thing.Value) {
	l.Heard(connect.Message{}).Event(hardware, event, value)
}

// Fault implements [connect.Sink], as [Link.Report].
func (l *Link) Fault(reason string) { l.Heard(connect.Message{}).Fault(reason) }

func (l *Link) report(hardware, property string, value thing.Value) {
	l.traffic.count(time.Now())
	if device := l.Device(hardware); device != "" {
		l.inbox.Report(thing.Ref{Device: device, Name: property}, value, l.polls)
		return
	}
	l.strangeReport(hardware, property, value)
}

func (l *Link) event(hardware, event string, value thing.Value) {
	l.traffic.count(time.Now())
	if device := l.Device(hardware); device != "" {
		if !l.inbox.Event(device, event, value) {
			l.fault("Events came faster than they could be taken, so some were left out.")
		}
		return
	}
	l.strangeEvent(hardware)
}

// inLoop runs f in the loop while this link is the one at work.
func (l *Link) inLoop(f func()) {
	l.inbox.Job(func() {
		if !l.stopped {
			f()
		}
	})
}

// State implements [connect.Sink].
func (l *Link) State(up bool, reason string) { l.word(word{up: up, reason: reason}) }

// Reach implements [connect.Sink].
func (l *Link) Reach(hardware string, up bool, reason string) { l.word(word{hardware, up, reason}) }

// word takes whether something is reached. Words wait for the loop in their order; past a number of them the newest about
// each counts.
func (l *Link) word(w word) {
	o := &l.overheard
	o.mu.Lock()
	defer o.mu.Unlock()
	if len(o.words) >= wordsAtMost {
		for i := len(o.words) - 1; i >= 0; i-- {
			if o.words[i].hardware == w.hardware {
				o.words[i] = w
				return
			}
		}
		if len(o.words) >= strangeAtMost {
			return
		}
	}
	if o.words = append(o.words, w); len(o.words) > 1 {
		return
	}
	l.inLoop(func() {
		o.mu.Lock()
		words := o.words
		o.words = nil
		o.mu.Unlock()
		for _, w := range words {
			if w.hardware == "" {
				l.stands(w.up, w.reason)
			} else {
				l.reaches(w.hardware, w.up, w.reason)
			}
		}
	})
}

// stands takes how the connection stands. It runs in the loop.
func (l *Link) stands(up bool, reason string) {
	if l.known && l.up == up && l.reason == reason {
		return
	}
	changed := !l.known || l.up != up
	first := !l.known
	l.known, l.up, l.reason = true, up, reason
	if changed {
		l.since = l.home.Now()
		l.log.Info("connection", "title", l.Definition.Title, "up", up, "reason", reason)
	}
	l.home.Stands(l, up, reason, changed, first)
}

// reaches takes whether hardware is reached. It runs in the loop.
func (l *Link) reaches(hardware string, reached bool, reason string) {
	before, lost := l.unreached[hardware]
	if lost == !reached && before == reason {
		return
	}
	if reached {
		delete(l.unreached, hardware)
	} else {
		l.unreached[hardware] = reason
	}
	if device := l.Device(hardware); device != "" {
		behind := l.gatewayReached(hardware, reached, reason)
		l.home.Reaches(device, reached, reason, behind)
	}
}

// gatewayReached writes down that a gateway was lost or found again, once for all of its devices, and
// reports whether the hardware is behind one.
func (l *Link) gatewayReached(hardware string, reached bool, reason string) bool {
	gateway := l.announced[hardware].Gateway
	if gateway == "" {
		return false
	}
	if l.lostGateways[gateway] == reached {
		l.lostGateways[gateway] = !reached
		l.home.GatewayReached(l, gateway, reached, reason)
	}
	return true
}

// Joining implements [connect.Sink].
func (l *Link) Joining(gateway string, left time.Duration) {
	l.inLoop(func() {
		now := l.home.Now()
		g := Gateway{Name: gateway}
		if left > 0 {
			g.OpenedAt, g.OpenUntil = l.gateways[gateway].OpenedAt, now.Add(left)
			if g.OpenedAt.IsZero() {
				g.OpenedAt = now
			}
		}
		l.gateways[gateway] = g
		l.home.Changed(l)
	})
}

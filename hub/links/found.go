package links

import (
	"fmt"
	"maps"
	"time"

	"amvek/connect"
)

// Found implements [connect.Sink]. Of several lists that wait for the loop the newest counts.
func (l *Link) Found(devices []connect.Announcement) {
	o := &l.overheard
	o.mu.Lock()
	defer o.mu.Unlock()
	if o.found = devices; o.finding {
		return
	}
	o.finding = true
	l.inLoop(func() {
		o.mu.Lock()
		found := o.found
		o.found, o.finding = nil, false
		o.mu.Unlock()
		l.announce(found)
	})
}

// announce takes what announces itself by a connection. It runs in the loop.
func (l *Link) announce(devices []connect.Announcement) {
	l.found = l.found[:0:0]
	l.announced = map[string]connect.Announcement{}
	gateways := len(l.gateways)
	for _, d := range devices {
		if first, twice := l.announced[d.Hardware]; twice {
			// Which one a report came from could not be told.
			l.Fault(fmt.Sprintf("%s and %s say that they are the same hardware, %s; the second is left out.", first.Label, d.Label, d.Hardware))
			continue
		}
		l.announced[d.Hardware] = d
		l.found = append(l.found, d)
		if _, known := l.seen[d.Hardware]; !known {
			l.seen[d.Hardware] = l.home.Now()
		}
		if _, known := l.gateways[d.Gateway]; !known && d.Gateway != "" {
			l.gateways[d.Gateway] = Gateway{Name: d.Gateway}
		}
	}
	if len(l.gateways) > gateways {
		l.home.Changed(l)
	}
	l.notice()
	if len(l.seen) > strangeAtMost { // what announces itself under ever new names, and is gone again
		gone := func(hardware string, _ time.Time) bool { _, there := l.announced[hardware]; return !there }
		maps.DeleteFunc(l.seen, gone)
		maps.DeleteFunc(l.reacted, gone)
		maps.DeleteFunc(l.heardAt, gone)
	}
	l.home.Found(l)
}

// notice takes which hardware of the home is listed no more by its gateway or its directory, or is again. It runs in the loop.
func (l *Link) notice() {
	changed := false
	for hardware := range l.devices {
		a, there := l.announced[hardware]
		if there && a.Gateway != l.behind[hardware] {
			l.behind[hardware], changed = a.Gateway, true
		}
		gateway := l.behind[hardware]
		_, known := l.gateways[gateway]
		if left := !there && (l.Lists() || (gateway != "" && known)); left != l.left[hardware] {
			l.left[hardware] = left
			if device := l.Device(hardware); device != "" {
				l.home.Noticed(device)
			}
		}
	}
	maps.DeleteFunc(l.behind, func(hardware, gateway string) bool {
		_, home := l.devices[hardware]
		return !home || gateway == ""
	})
	if changed {
		l.home.Behind(l, maps.Clone(l.behind))
	}
}

// Lists reports whether what the connection does not list is not there.
func (l *Link) Lists() bool {
	lister, is := l.Connection.(connect.Lister)
	return is && lister.Lists()
}

// LeftBy says who no longer lists hardware of the home, "" where it is listed or nobody lists devices.
func (l *Link) LeftBy(hardware string) string {
	switch {
	case !l.left[hardware]:
		return ""
	case l.Lists():
		return l.Definition.Title + " no longer lists it."
	default:
		return fmt.Sprintf("Its gateway %s no longer lists it.", l.behind[hardware])
	}
}

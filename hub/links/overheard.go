package links

import (
	"maps"
	"sync"
	"time"

	"amvek/connect"
	"amvek/core/thing"
)

const (
	// tellEvery is how often, at most, what a connection refused and what strange hardware does is told.
	tellEvery = 250 * time.Millisecond
	// refusalsLogged is how often, at most, a refusal of one connection is written to the log; others are counted there.
	refusalsLogged = time.Minute
	// strangeAtMost is of how many properties of hardware that is not in the home it is remembered what they were at.
	strangeAtMost = 10_000
	// heardAgain is how often, at most, it is shown anew when hardware that is not in the home was last heard, where it says the same.
	heardAgain = 10 * time.Second
	// wordsAtMost is how many words about what is reached wait in their order, past which the newest about each counts.
	wordsAtMost = 500
)

// overheard is what a connection hears that changes nothing in the home: messages that it refuses, what hardware says that is
// not in the home, and what announces itself. However much of that comes, one job for each is in the loop's inbox, and what
// it costs does not grow with the number of devices. Its zero value has heard nothing.
type overheard struct {
	mu      sync.Mutex
	waiting bool // a job is to take it
	took    time.Time
	refused int
	reason  string
	reacted map[string]struct{}
	strange map[thing.Ref]thing.Value // what hardware that is not in the home last said
	// spoke is what hardware that is not in the home was heard since, and whether it said something new.
	spoke map[string]bool
	// found is what announced itself since a job was sent to take it.
	found   []connect.Announcement
	finding bool
	// words are whether the connection, and hardware behind it, is reached, as was said since a job was sent to take them.
	words []word

	unlogged int // refusals that are not in the log; the loop's, as what follows
	logged   time.Time
}

// word is whether something is reached, and why not: hardware, or the connection itself where it names none.
type word struct {
	hardware string
	up       bool
	reason   string
}

// overhear takes what changes nothing in the home, and has the loop look at it soon.
func (l *Link) overhear(take func(o *overheard) (tell bool)) {
	o := &l.overheard
	o.mu.Lock()
	defer o.mu.Unlock()
	if !take(o) || o.waiting {
		return
	}
	o.waiting = true
	if wait := tellEvery - time.Since(o.took); wait > 0 {
		time.AfterFunc(wait, func() { l.inLoop(l.takeOverheard) })
		return
	}
	l.inLoop(l.takeOverheard)
}

// takeOverheard takes up what was heard. It runs in the loop.
func (l *Link) takeOverheard() {
	o := &l.overheard
	o.mu.Lock()
	refused, reason, reacted, spoke := o.refused, o.reason, o.reacted, o.spoke
	o.waiting, o.took, o.refused, o.reacted, o.spoke = false, time.Now(), 0, nil, nil
	o.mu.Unlock()
	if refused > 0 {
		l.faults, l.lastFault = l.faults+refused, reason
		l.home.Changed(l)
		if o.unlogged += refused; time.Since(o.logged) >= refusalsLogged {
			l.log.Warn("messages were refused", "connection", l.Definition.Title, "number", o.unlogged, "last", reason)
			o.unlogged, o.logged = 0, time.Now()
		}
	}
	for hardware, news := range spoke {
		l.heard(hardware, news)
	}
	for hardware := range reacted {
		if _, found := l.announced[hardware]; found {
			l.reacted[hardware] = l.home.Now()
			l.home.Overheard(l, hardware)
		}
	}
}

// fault takes that a message was refused.
func (l *Link) fault(reason string) {
	l.overhear(func(o *overheard) bool {
		o.refused, o.reason = o.refused+1, reason
		return true
	})
}

// strangeReport takes what hardware says that is not in the home: when it did something by itself, its row can show it.
func (l *Link) strangeReport(hardware, property string, value thing.Value) {
	l.overhear(func(o *overheard) bool {
		ref := thing.Ref{Device: hardware, Name: property}
		before, known := o.strange[ref]
		if !known && len(o.strange) >= strangeAtMost {
			return false
		}
		if o.strange == nil {
			o.strange = map[thing.Ref]thing.Value{}
		}
		o.strange[ref] = value
		if o.spoke == nil {
			o.spoke = map[string]bool{}
		}
		o.spoke[hardware] = o.spoke[hardware] || !known || before != value
		// A number that drifts is a sensor's doing; a switch, a lamp or a door is a person's.
		if known && before != value && (value.Kind != thing.KindNumber || before.Number == 0 || value.Number == 0) {
			o.react(hardware)
		}
		return true
	})
}

// strangeEvent takes an event of hardware that is not in the home.
func (l *Link) strangeEvent(hardware string) {
	l.overhear(func(o *overheard) bool { return o.react(hardware) })
}

// heard takes that hardware which is not in the home was heard. What it says is shown as it comes; that it says the same again,
// only now and then. It runs in the loop.
func (l *Link) heard(hardware string, news bool) {
	if _, found := l.announced[hardware]; !found {
		return
	}
	now := l.home.Now()
	told := l.heardAt[hardware]
	if l.heardAt[hardware] = now; news || now.Sub(told) >= heardAgain {
		l.home.Overheard(l, hardware)
	}
}

// Said returns what a property of hardware that is not in the home was last heard to be at, no value where it was not heard.
func (l *Link) Said(hardware, property string) thing.Value {
	o := &l.overheard
	o.mu.Lock()
	defer o.mu.Unlock()
	return o.strange[thing.Ref{Device: hardware, Name: property}]
}

// HeardAt returns when hardware that is not in the home was last heard of, zero where it was not.
func (l *Link) HeardAt(hardware string) time.Time { return l.heardAt[hardware] }

// forget drops what hardware said before it came into the home, where all is kept that it says.
func (l *Link) forget(hardware string) {
	o := &l.overheard
	o.mu.Lock()
	defer o.mu.Unlock()
	maps.DeleteFunc(o.strange, func(ref thing.Ref, _ thing.Value) bool { return ref.Device == hardware })
	delete(l.heardAt, hardware)
}

// react notes that hardware which is not in the home did something; it is false where too much does.
func (o *overheard) react(hardware string) bool {
	if o.reacted == nil {
		o.reacted = map[string]struct{}{}
	}
	if len(o.reacted) >= strangeAtMost {
		return false
	}
	o.reacted[hardware] = struct{}{}
	return true
}

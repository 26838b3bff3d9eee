package engine

import (
	"math"
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/document"
	"amvek/core/expr"
	"amvek/core/hold"
	"amvek/core/home"
	"amvek/core/link"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

const (
	linkOwner = "link:"
	// burst is for how long after a value the next one belongs to the same entry of the journal: a dial sends 50 a second.
	burst = 10 * time.Second
	// longestBurst is when another entry begins in any case.
	longestBurst = time.Minute
	// samplesKept is how many samples all links keep together, and samplesOfOne what one keeps at most.
	samplesKept  = 400_000
	samplesOfOne = 16_384
	samplesLeast = 512
)

// linkState is a link at work.
type linkState struct {
	id       string
	doc      *link.Link
	checked  []document.Fault   // of the document alone
	problems []document.Fault   // all
	flow     *link.Flow         // nil where it is not at work
	formulas []*expr.Expression // of its stages, nil for others
	gate     *weigher           // nil where it is always open
	open     bool
	sources  []thing.Ref // to which it is bound
	targets  []thing.Ref
	record   link.Record
	fresh    bool // whether it has samples that nobody was told of
	gone     bool
	due      time.Time

	entry   why // what its commands follow from
	began   time.Time
	entered time.Time // when it was last used
	wrote   float64   // what the first target was last set to, of what adds up
	written bool
}

func (l *linkState) owner() string { return linkOwner + l.id }
func (l *linkState) live() bool    { return l.flow != nil && l.open && !l.gone }

// around is what the stages of a link are told.
type around struct {
	e *Engine
	l *linkState
	w why
}

// At returns where the first target is that is known.
func (a around) At() (float64, bool) {
	for i := range a.l.doc.Targets {
		if s := a.e.at(a.l.doc.Targets[i].Ref()); s != nil {
			v := s.state.Stack.Effective()
			if v.IsNone() {
				v = s.Reported
			}
			if n, known := numeric(v); known {
				return n, true
			}
		}
	}
	return 0, false
}

// Expression returns what the expression of a stage comes to.
func (a around) Expression(stage int, coming float64) (float64, bool) {
	a.e.coming = thing.Number(coming)
	v, err := a.l.formulas[stage].Evaluate(a.e)
	a.e.coming = thing.Value{}
	return v.Number, err == nil && v.Kind == thing.KindNumber && !math.IsNaN(v.Number) && !math.IsInf(v.Number, 0)
}

// Passed records what leaves a stage.
func (a around) Passed(stage int, now time.Time, v float64) {
	if stage < 0 {
		a.e.sample(a.l, link.Sample{At: now, Place: link.AtSource, Value: v})
		return
	}
	a.e.sample(a.l, link.Sample{At: now, Place: link.AtStage, Index: stage, Value: v})
}

func (e *Engine) sample(l *linkState, s link.Sample) {
	l.record.Add(s)
	if !l.fresh {
		l.fresh = true
		e.flowing = append(e.flowing, l)
	}
}

// Flowing calls f for each link through which anything went since this was called last.
func (e *Engine) Flowing(f func(id string)) {
	for i, l := range e.flowing {
		l.fresh = false
		if !l.gone {
			f(l.id)
		}
		e.flowing[i] = nil
	}
	e.flowing = e.flowing[:0]
}

// Flows reports whether anything went through links since [Engine.Flowing].
func (e *Engine) Flows() bool { return len(e.flowing) > 0 }

// TryStages returns what would leave each stage, were samples of a source to go through them with the targets at a value.
func (e *Engine) TryStages(stages []link.Stage, in []link.Sample, at float64) []link.Sample {
	l := &linkState{doc: &link.Link{Stages: stages}, formulas: e.formulasOf(stages)}
	return link.Tried(stages, in, at, around{e: e, l: l}.Expression)
}

// formulasOf compiles the expressions of stages; nil for those that have none.
func (e *Engine) formulasOf(stages []link.Stage) []*expr.Expression {
	formulas := make([]*expr.Expression, len(stages))
	for i := range stages {
		if s := &stages[i]; s.Kind == link.Expression {
			formulas[i], _ = e.Expression(s.Text)
		}
	}
	return formulas
}

// LinkView is how a link stands.
type LinkView struct {
	Problems []document.Fault
	// Open says that its modes and its condition let it act.
	Open bool
}

// LinkView returns how a link stands; it is false when there is none.
func (e *Engine) LinkView(id string) (LinkView, bool) {
	l := e.links[id]
	if l == nil {
		return LinkView{}, false
	}
	return LinkView{Problems: l.problems, Open: l.open}, true
}

// LinkSamples returns what went through a link after a sample, by its number.
func (e *Engine) LinkSamples(id string, after uint64) []link.Sample {
	if l := e.links[id]; l != nil {
		return l.record.Since(after)
	}
	return nil
}

// HasMode reports whether the house has such a mode.
func (e *Engine) HasMode(id string) bool {
	p := e.Property(rule.OwnDevice, home.ModeProperty)
	return p != nil && slices.Contains(p.Options, id)
}

// Formula makes the engine a [link.Lookup].
func (e *Engine) Formula(text string, coming bool) (thing.Type, string) {
	x, problems := e.Expression(text)
	switch {
	case x == nil:
		return "", problems[0].Message
	case x.TakesSent():
		return "", "Nothing is sent here."
	case x.TakesComing() && !coming:
		return "", "Nothing comes in here: coming is known in the stages of a link alone."
	}
	return x.Type, ""
}

func (e *Engine) defineLink(id string, doc *link.Link) {
	l := e.links[id]
	if l == nil {
		l = &linkState{id: id}
		e.links[id] = l
	} else if !slices.EqualFunc(l.doc.Stages, doc.Stages, func(a, b link.Stage) bool { return a.Kind == b.Kind }) {
		l.record.Clear() // what was seen of other stages says nothing of these
	}
	if l.doc != nil && !e.loading {
		e.restLink(l, why{})
	}
	l.doc = doc
	if e.loading {
		return // all are bound when everything is there
	}
	l.checked = doc.Check(e)
	e.settleLinks()
}

func (e *Engine) removeLink(id string) {
	l := e.links[id]
	if l == nil {
		return
	}
	e.restLink(l, why{})
	l.gone = true
	delete(e.links, id)
	e.settleLinks()
}

// bindLinks puts all links to work, once all else is there.
func (e *Engine) bindLinks() {
	for _, id := range sortedKeys(e.links) {
		e.busyWith(KindLink, id)
		e.links[id].checked = e.links[id].doc.Check(e)
	}
	e.settleLinks()
}

// refreshLinks puts those links to work anew that a definition concerns which changed, or sets that a device came into or left.
func (e *Engine) refreshLinks(id string, sets []string) {
	any := false
	for _, key := range sortedKeys(e.links) {
		if l := e.links[key]; l.concerns(id, sets) {
			e.restLink(l, why{})
			l.checked, any = l.doc.Check(e), true
		}
	}
	if any {
		e.settleLinks()
	}
}

// concerns reports whether a link is to be put to work anew where a definition changed.
func (l *linkState) concerns(id string, sets []string) bool {
	names := func(x *expr.Expression) bool {
		return x != nil && slices.ContainsFunc(x.Inputs, func(in expr.Input) bool {
			return in.Ref.Device == id || in.Group == id || in.Room == id || slices.Contains(sets, in.Group) || slices.Contains(sets, in.Room)
		})
	}
	return len(l.checked) > 0 ||
		slices.ContainsFunc(l.doc.Sources, func(s link.Source) bool { return s.Device == id }) ||
		slices.ContainsFunc(l.doc.Targets, func(t link.Driven) bool { return t.Device == id }) ||
		l.gate != nil && names(l.gate.expression) ||
		slices.ContainsFunc(l.formulas, names)
}

// settleLinks puts to work what can be, and lets rest what cannot: whether a link is in a ring depends on all of them.
func (e *Engine) settleLinks() {
	most := samplesOfOne
	if n := len(e.links); n > 0 {
		most = min(samplesOfOne, max(samplesLeast, samplesKept/n))
	}
	feeding := map[thing.Ref][]*linkState{} // by the properties that feed them
	all := sortedKeys(e.links)
	for _, id := range all {
		for i := range e.links[id].doc.Sources {
			if s := &e.links[id].doc.Sources[i]; s.Event == "" && e.links[id].doc.Enabled {
				feeding[s.Ref()] = append(feeding[s.Ref()], e.links[id])
			}
		}
	}
	for _, id := range all {
		l := e.links[id]
		l.record.Most = most
		l.problems = append(slices.Clip(l.checked), ring(l, feeding)...)
		works := len(l.problems) == 0 && l.doc.Enabled
		switch {
		case works && l.flow == nil:
			e.bindLink(l)
		case !works:
			e.restLink(l, why{})
		}
		e.touchLink(l)
	}
}

func (e *Engine) touchLink(l *linkState) {
	e.out = append(e.out, Output{Kind: OutputLink, Name: l.id})
}

// ring says that what a link sets comes back to it by other links.
func ring(l *linkState, feeding map[thing.Ref][]*linkState) []document.Fault {
	if !l.doc.Enabled {
		return nil
	}
	seen := map[*linkState]bool{l: true}
	for next := []*linkState{l}; len(next) > 0; next = next[1:] {
		for i := range next[0].doc.Targets {
			for _, fed := range feeding[next[0].doc.Targets[i].Ref()] {
				if fed == l && next[0] != l {
					return []document.Fault{{
						Path:    "sources",
						Message: "What it sets comes back to it by the link “" + next[0].doc.Title + "”: they would drive each other without end.",
					}}
				}
				if !seen[fed] {
					seen[fed] = true
					next = append(next, fed)
				}
			}
		}
	}
	return nil
}

// gateOf is the expression that says whether a link is on; "" for always.
func gateOf(doc *link.Link) string {
	var parts []string
	if len(doc.Modes) > 0 {
		var modes []string
		for _, m := range doc.Modes {
			modes = append(modes, `mode == "`+m+`"`)
		}
		parts = append(parts, "("+strings.Join(modes, " || ")+")")
	}
	if strings.TrimSpace(doc.Only) != "" {
		parts = append(parts, "("+doc.Only+")")
	}
	return strings.Join(parts, " && ")
}

func (e *Engine) bindLink(l *linkState) {
	e.busyWith(KindLink, l.id)
	l.flow, l.open, l.written = link.NewFlow(l.doc.Stages), true, false
	l.formulas = e.formulasOf(l.doc.Stages)
	for i := range l.doc.Sources {
		source := &l.doc.Sources[i]
		l.sources = append(l.sources, source.Ref())
		if source.Event != "" {
			e.fed[source.Ref()] = append(e.fed[source.Ref()], l)
		} else if s := e.at(source.Ref()); s != nil {
			s.feeds = append(s.feeds, l)
			s.attach()
		}
	}
	for i := range l.doc.Targets {
		l.targets = append(l.targets, l.doc.Targets[i].Ref())
		if s := e.at(l.doc.Targets[i].Ref()); s != nil {
			s.drivenBy = append(s.drivenBy, l)
		}
	}
	if text := gateOf(l.doc); text != "" {
		x, _ := e.Expression(text)
		l.open = false
		if x != nil {
			l.gate = &weigher{expression: x, link: l}
			e.bindExpression(l.gate)
			e.weigh(l.gate, why{})
		}
		return
	}
	e.feedNow(l, why{})
}

// restLink takes a link from work, and lets go of what it holds.
func (e *Engine) restLink(l *linkState, w why) {
	e.letGoOfLink(l, w)
	if l.flow == nil {
		return
	}
	l.flow, l.due, l.open, l.formulas = nil, time.Time{}, false, nil
	mine := func(x *linkState) bool { return x == l }
	for _, ref := range l.sources {
		if fed := slices.DeleteFunc(e.fed[ref], mine); len(fed) > 0 {
			e.fed[ref] = fed
		} else {
			delete(e.fed, ref)
		}
		if s := e.at(ref); s != nil {
			s.feeds = slices.DeleteFunc(s.feeds, mine)
			s.attach()
		}
	}
	for _, ref := range l.targets {
		if s := e.at(ref); s != nil {
			s.drivenBy = slices.DeleteFunc(s.drivenBy, mine)
		}
	}
	l.sources, l.targets = nil, nil
	if l.gate != nil {
		e.unbindExpression(l.gate)
		l.gate = nil
	}
}

// opened takes that the modes or the condition of a link let it act, or no longer do.
func (e *Engine) opened(l *linkState, open bool, w why) {
	if l.open == open {
		return
	}
	l.open = open
	e.touchLink(l)
	if open {
		e.feedNow(l, w)
		return
	}
	l.flow, l.due = link.NewFlow(l.doc.Stages), time.Time{} // what waits in its stages is not carried on
	e.letGoOfLink(l, w)
}

// feedNow lets a link that holds begin with what its sources are at. One that sets like a hand waits until something is done.
func (e *Engine) feedNow(l *linkState, w why) {
	if !l.doc.Holds || !l.live() || e.loading || e.starting || slices.ContainsFunc(l.doc.Stages, func(s link.Stage) bool { return s.Kind == link.Relative }) {
		return
	}
	for i := range l.doc.Sources {
		if s := e.at(l.doc.Sources[i].Ref()); s != nil && l.doc.Sources[i].Event == "" {
			if v, known := numeric(s.Reported); known {
				e.feed(l, v, w)
			}
		}
	}
}

// feed lets a link carry a value on.
func (e *Engine) feed(l *linkState, v float64, w why) {
	if !l.live() {
		return
	}
	e.busyWith(KindLink, l.id)
	a := around{e, l, w}
	if l.written {
		if at, known := a.At(); !known || math.Abs(at-l.wrote) > 1e-9 {
			l.flow.Forget() // somebody else has set it meanwhile
		}
	}
	l.flow.Take(e.now, v, a, func(out float64) { e.carry(l, out, w) })
	e.awaitLink(l, w)
}

// feedLinks feeds the links of a source with what it is at.
func (e *Engine) feedLinks(s *slot, v *thing.Value, w why) {
	if len(s.feeds) == 0 || e.loading {
		return
	}
	if n, is := numeric(*v); is {
		for _, l := range slices.Clone(s.feeds) {
			e.feed(l, n, w)
		}
	}
}

// awaitLink plans when the stages of a link are to be looked at again. What follows then has a cause already.
func (e *Engine) awaitLink(l *linkState, w why) {
	due := l.flow.Due()
	if due.IsZero() {
		l.due = due
		return
	}
	e.entryOf(l, w)
	if !due.Equal(l.due) {
		l.due = due
		e.schedule(timer{at: due, kind: timerLink, link: l})
	}
}

// linkDue lets those values go on that waited in a link's stages.
func (e *Engine) linkDue(l *linkState) {
	l.due = time.Time{}
	e.busyWith(KindLink, l.id)
	w := l.entry
	l.flow.Wake(e.now, around{e, l, w}, func(out float64) { e.carry(l, out, w) })
	e.awaitLink(l, w)
}

// entryOf returns what the commands of a link follow from: one entry for all that follows closely.
func (e *Engine) entryOf(l *linkState, w why) why {
	if l.entry.id == 0 || e.now.Sub(l.entered) > burst || e.now.Sub(l.began) > longestBurst {
		l.entry = e.follow(w, cause.Entry{Kind: cause.Carried, Link: l.id})
		l.began = e.now
	}
	l.entered = e.now
	return l.entry
}

// carry sets the targets of a link to what came out of it.
func (e *Engine) carry(l *linkState, v float64, w why) {
	inner := e.entryOf(l, w)
	if inner.depth++; inner.depth >= MaximumChain {
		return
	}
	for i := range l.doc.Targets {
		s := e.at(l.doc.Targets[i].Ref())
		if s == nil || !s.property.Writable {
			continue
		}
		value := fitting(s.property, v)
		e.sample(l, link.Sample{At: e.now, Place: link.AtTarget, Index: i, Value: value.Number})
		e.as(s, cause.By{}, false, func() { e.carryTo(l, s, value, inner) })
	}
	l.wrote, l.written = around{e, l, w}.At()
}

func (e *Engine) carryTo(l *linkState, s *slot, v thing.Value, w why) {
	if !l.doc.Holds {
		if s.state.Stack.Effective() != v || s.state.Stack.Base.By != l.owner() || s.state.Certainty == state.Failed {
			e.write(s, v, true, l.owner(), 0, w)
		}
		return
	}
	if h := s.state.Stack.Find(l.owner()); h != nil && (h.Suspended || h.Value == v) {
		return // a hand has it, or it is there already
	}
	s.state.Stack.Place(hold.Hold{Owner: l.owner(), Level: hold.Rule, Value: v, Since: e.now, Cause: e.resolve(w)})
	e.apply(s, 0, w)
}

// fitting returns a value as a property takes it: within its range, and no finer than it can be told apart.
func fitting(p *thing.Property, v float64) thing.Value {
	if p.Type == thing.TypeBoolean {
		return thing.Boolean(v > 0)
	}
	if p.Resolution > 0 {
		v = math.Round(v/p.Resolution) * p.Resolution
	}
	if p.Limited() {
		v = min(p.Maximum, max(p.Minimum, v))
	}
	return thing.Number(v)
}

// letGoOfLink lets go of all that a link holds.
func (e *Engine) letGoOfLink(l *linkState, w why) {
	for i := range l.doc.Targets {
		if s := e.at(l.doc.Targets[i].Ref()); s != nil && s.state.Stack.Release(l.owner()) {
			e.apply(s, 0, w)
		}
	}
}

// confirmedTo records in links that a target said that it is at what was asked for.
func (e *Engine) confirmedTo(s *slot) {
	for _, l := range s.drivenBy {
		if !strings.HasPrefix(s.state.Stack.Base.By, linkOwner) && s.state.Stack.Find(l.owner()) == nil {
			continue
		}
		for i := range l.doc.Targets {
			if v, known := numeric(s.state.Target); known && l.doc.Targets[i].Ref() == s.ref {
				e.sample(l, link.Sample{At: e.now, Place: link.Confirmed, Index: i, Value: v, Milliseconds: s.state.Milliseconds})
			}
		}
	}
}

// startLinks lets go of what links held that are there no longer, and lets the others begin.
func (e *Engine) startLinks() {
	for _, device := range sortedKeys(e.byDevice) {
		slots := e.byDevice[device]
		for i := range slots {
			s := &slots[i]
			held := false
			for _, h := range slices.Clone(s.state.Stack.Holds) {
				id, is := strings.CutPrefix(h.Owner, linkOwner)
				if is && (e.links[id] == nil || !e.links[id].live() || !slices.ContainsFunc(e.links[id].doc.Targets, func(t link.Driven) bool { return t.Ref() == s.ref })) {
					held = s.state.Stack.Release(h.Owner) || held
				}
			}
			if held {
				e.apply(s, 0, why{})
			}
		}
	}
	for _, id := range sortedKeys(e.links) {
		e.feedNow(e.links[id], why{})
	}
}

// shiftLinks moves what links remember by so much: the clock was set.
func (e *Engine) shiftLinks(by time.Duration) {
	for _, l := range e.links {
		l.record.Shift(by)
		if l.flow != nil {
			l.flow.Shift(by)
		}
		for _, t := range []*time.Time{&l.due, &l.began, &l.entered} {
			if !t.IsZero() {
				*t = t.Add(by)
			}
		}
	}
}

package engine

import (
	"math"
	"slices"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/expr"
	"amvek/core/rule"
	"amvek/core/state"
	"amvek/core/thing"
)

// weigher is an expression at work: a condition of a rule, or what a property of the home itself is computed by.
type weigher struct {
	expression *expr.Expression
	rule       *ruleState
	formula    *rule.Formula
	computed   *slot
	link       *linkState
	follows    *slot // which follows it
	// next is when it is worked out again because of the time alone.
	next time.Time
	busy bool
	gone bool
}

// of names a weigher, for a fixed order of what falls due at the same moment.
func (g *weigher) of() string {
	if g.rule != nil {
		return g.rule.id + "/" + g.formula.Path
	}
	if g.link != nil {
		return g.link.id
	}
	if g.follows != nil {
		return g.follows.ref.Device + "/" + g.follows.ref.Name
	}
	return g.computed.ref.Device + "/" + g.computed.ref.Name
}

// compiledAtMost bounds the expressions that are remembered.
const compiledAtMost = 10_000

// Expression compiles an expression about this home, or says what is wrong with it. It is remembered until a
// definition changes.
func (e *Engine) Expression(text string) (*expr.Expression, []expr.Mistake) {
	if x := e.compiled[text]; x != nil {
		return x, nil
	}
	x, problems := e.language.Compile(text, e)
	if x != nil && len(e.compiled) < compiledAtMost {
		if e.compiled == nil {
			e.compiled = map[string]*expr.Expression{}
		}
		e.compiled[text] = x
	}
	return x, problems
}

// RoomMembers returns the properties with a role of the devices in a room, by the ids of the devices.
func (e *Engine) RoomMembers(room, role string) []thing.Ref {
	var refs []thing.Ref
	for _, id := range sortedKeys(e.devices) {
		if room != "" && e.devices[id].Room == room {
			if s := e.byRole(id, thing.Role(role)); s != nil {
				refs = append(refs, s.ref)
			}
		}
	}
	return refs
}

// Value makes the engine the source of expressions.
func (e *Engine) Value(in *expr.Input) thing.Value {
	switch in.Kind {
	case expr.OfClock:
		return e.clock(in.Clock)
	case expr.OfPast:
		if s := e.at(in.Ref); s != nil && s.past != nil {
			return s.past.statistic(in.Statistic, e.now, in.Span)
		}
		return thing.Value{}
	case expr.OfSent:
		return in.Sent(e.sent)
	case expr.OfComing:
		return e.coming
	default:
		if s := e.at(in.Ref); s != nil {
			return s.Reported
		}
		return thing.Value{}
	}
}

// weighSent works out anew those conditions of a rule at a path that speak of what was sent: each run has its own.
func (e *Engine) weighSent(r *ruleState, path, sent string) {
	before := e.sent
	e.sent = sent
	for _, g := range r.weighers {
		if g.expression.TakesSent() && (g.formula.Path == path || strings.HasPrefix(g.formula.Path, path+"/")) {
			e.weigh(g, why{})
		}
	}
	e.sent = before
}

// Values makes the engine the source of expressions.
func (e *Engine) Values(in *expr.Input) []thing.Value {
	var all []thing.Value
	for _, ref := range in.Refs {
		if s := e.at(ref); s != nil && !s.Reported.IsNone() {
			all = append(all, s.Reported)
		}
	}
	return all
}

// Names makes the engine the source of expressions.
func (e *Engine) Names(in *expr.Input) []string {
	var names []string
	for _, ref := range in.Refs {
		if s := e.at(ref); s != nil && s.Reported.Near(in.Wanted, s.property.Resolution) {
			names = append(names, e.devices[ref.Device].Title)
		}
	}
	return names
}

// Moment makes the engine the source of expressions.
func (e *Engine) Moment() time.Time { return e.now.In(e.zone) }

func (e *Engine) clock(of expr.Clock) thing.Value {
	now := e.Moment()
	switch of {
	case expr.Hour:
		hour, minute, second := now.Clock()
		return thing.Number(float64(hour) + float64(minute)/60 + float64(second)/3600)
	case expr.Weekday:
		return thing.Number(float64((int(now.Weekday())+6)%7 + 1))
	case expr.Day:
		return thing.Number(float64(now.Day()))
	case expr.Month:
		return thing.Number(float64(now.Month()))
	case expr.Sun:
		return thing.Number(e.place.Height(now))
	default:
		return thing.Value{}
	}
}

// bindExpression lets an expression be worked out whenever what it depends on changes.
func (e *Engine) bindExpression(g *weigher) {
	for i := range g.expression.Inputs {
		in := &g.expression.Inputs[i]
		switch in.Kind {
		case expr.OfProperty:
			e.bindInput(g, in.Ref)
		case expr.OfMembers:
			for _, ref := range in.Refs {
				e.bindInput(g, ref)
			}
		case expr.OfPast:
			e.bindInput(g, in.Ref)
			e.remembering(in.Ref, in.Span)
		}
	}
}

func (e *Engine) bindInput(g *weigher, ref thing.Ref) {
	if s := e.at(ref); s != nil && !slices.Contains(s.weighers, g) {
		s.weighers = append(s.weighers, g)
		s.attach()
	}
}

// unbindExpression ends the work of an expression.
func (e *Engine) unbindExpression(g *weigher) {
	g.gone = true
	for i := range g.expression.Inputs {
		in := &g.expression.Inputs[i]
		for _, ref := range append([]thing.Ref{in.Ref}, in.Refs...) {
			if s := e.at(ref); s != nil {
				s.weighers = slices.DeleteFunc(s.weighers, func(x *weigher) bool { return x == g })
				s.attach()
			}
		}
	}
}

// weigh works an expression out anew. One that depends on itself is not worked out again by its own change.
func (e *Engine) weigh(g *weigher, w why) {
	if g.busy || g.gone {
		return
	}
	g.busy = true
	if g.rule != nil {
		e.busyWith(KindRule, g.rule.id)
	}
	defer func() { g.busy = false }()
	v, err := g.expression.Evaluate(e)
	if err != nil {
		v = thing.Value{}
	}
	e.weighAgain(g)
	if g.computed != nil {
		e.compute(g.computed, v, w)
		return
	}
	if g.follows != nil {
		e.followOn(g.follows)
		return
	}
	if g.link != nil {
		e.opened(g.link, v.True(), w)
		return
	}
	f := g.formula
	if truth := v.True(); truth != f.Truth {
		f.Since = e.now
		e.turn(g.rule, &f.Fact, f.Path, truth, v, w)
	}
}

// compute gives a computed property its value, none where it is not known.
func (e *Engine) compute(s *slot, v thing.Value, w why) {
	if v.Kind == thing.KindNumber && s.number {
		v.Number = min(max(v.Number, s.minimum), s.maximum)
	}
	if !v.IsNone() && s.property.Check(v) != nil {
		v = thing.Value{} // a text that is none of the options
	}
	st := &s.state
	s.ReportedAt = e.now
	if v == s.Reported || (v.Kind == thing.KindNumber && v.Near(s.Reported, s.property.Resolution/2)) {
		return
	}
	st.Certainty = state.Confirmed
	if v.IsNone() {
		st.Certainty = state.Unknown
	}
	if v.Kind != thing.KindNumber && !e.loading && !e.starting {
		w = e.follow(w, cause.Entry{Kind: cause.Became, Device: s.ref.Device, Name: s.ref.Name, Value: v})
	}
	e.change(s, v, w)
}

// weighAgain plans when an expression is worked out because of the time alone: with the minute where it depends on
// the time, and by fractions of the span where it depends on a past that changed within it.
func (e *Engine) weighAgain(g *weigher) {
	var next time.Time
	sooner := func(t time.Time) {
		if next.IsZero() || t.Before(next) {
			next = t
		}
	}
	for i := range g.expression.Inputs {
		in := &g.expression.Inputs[i]
		switch in.Kind {
		case expr.OfClock:
			sooner(e.now.Truncate(time.Minute).Add(time.Minute))
		case expr.OfPast:
			if s := e.at(in.Ref); s != nil && s.past != nil && s.past.moves(e.now, in.Span) {
				sooner(e.now.Add(max(time.Second, in.Span/60)))
			}
		}
	}
	if g.next = next; !next.IsZero() {
		e.schedule(timer{at: next, kind: timerFormula, weigher: g})
	}
}

// bindComputed lets all computed properties be worked out whenever what they depend on changes. One with a problem is
// not known.
func (e *Engine) bindComputed() {
	for _, g := range e.computing {
		e.unbindExpression(g)
	}
	e.computing = e.computing[:0]
	slots := e.byDevice[rule.OwnDevice]
	for i := range slots {
		s := &slots[i]
		if s.property.Computed == "" {
			continue
		}
		x, _ := e.Expression(s.property.Computed)
		if x == nil || x.Type != computedType(s.property.Type) {
			e.compute(s, thing.Value{}, why{})
			continue
		}
		g := &weigher{expression: x, computed: s}
		e.computing = append(e.computing, g)
		e.bindExpression(g)
	}
	for _, g := range e.computing {
		e.weigh(g, why{})
	}
}

// computedType is what an expression must come to for a property of a type.
func computedType(t thing.Type) thing.Type {
	if t == thing.TypeOption {
		return thing.TypeText
	}
	return t
}

// workedOut returns what an expression of a step comes to, none where it is not known or wrong.
func (e *Engine) workedOut(text string) thing.Value {
	x, _ := e.Expression(text)
	if x == nil {
		return thing.Value{}
	}
	v, err := x.Evaluate(e)
	if err != nil {
		return thing.Value{}
	}
	return v
}

// Told returns a text with what its expressions come to now.
func (e *Engine) Told(text string) string {
	said := ""
	for _, part := range rule.Parts(text) {
		switch {
		case part.Expression == "":
			said += part.Words
		default:
			v := e.workedOut(part.Expression)
			if v.IsNone() {
				said += "unknown"
				continue
			}
			said += e.say(part.Expression, v)
		}
	}
	return said
}

// say says what an expression came to. One that is no more than the value of a property is said in that property's
// words, such as In for a mode and open for a door; numbers are said bare, for whoever writes the text to add a unit.
func (e *Engine) say(text string, v thing.Value) string {
	if x, _ := e.Expression(text); x != nil && len(x.Inputs) == 1 && x.Inputs[0].Kind == expr.OfProperty && v.Kind != thing.KindNumber {
		if s := e.at(x.Inputs[0].Ref); s != nil && v == s.Reported {
			return s.property.Say(v)
		}
	}
	return rule.Say(v)
}

// moment is a value that a property had from a time on.
type moment struct {
	at    time.Time
	value float64
}

// past is what a property was at lately, for statistics over its last minutes.
type past struct {
	span    time.Duration
	moments []moment // the first may lie before the span
}

// remembering lets a property remember what it was at for a time. What was before is asked for.
func (e *Engine) remembering(ref thing.Ref, span time.Duration) {
	s := e.at(ref)
	if s == nil || (s.past != nil && s.past.span >= span) {
		return
	}
	if s.past == nil {
		s.past = &past{}
		s.attach()
		if n, ok := numeric(s.Reported); ok {
			s.past.moments = append(s.past.moments, moment{s.ChangedAt, n})
		}
	}
	s.past.span = span
	e.asking = append(e.asking, Output{Kind: OutputPast, Device: ref.Device, Name: ref.Name, Fade: span})
}

// recall takes what a property was at before it began to remember.
func (e *Engine) recall(in *Input) {
	s := e.find(in.Device, in.Name)
	if s == nil || s.past == nil {
		return
	}
	var before []moment
	for _, m := range in.Past {
		if len(s.past.moments) == 0 || m.At.Before(s.past.moments[0].at) {
			before = append(before, moment{m.At, m.Value})
		}
	}
	s.past.moments = append(before, s.past.moments...)
	for _, g := range slices.Clone(s.weighers) {
		e.weigh(g, why{})
	}
}

func numeric(v thing.Value) (float64, bool) {
	return v.Number, v.Kind == thing.KindNumber || v.Kind == thing.KindBoolean
}

func (p *past) add(now time.Time, v thing.Value) {
	if n, ok := numeric(v); ok {
		p.moments = append(p.moments, moment{now, n})
	}
	begin := now.Add(-p.span)
	for len(p.moments) > 1 && !p.moments[1].at.After(begin) {
		p.moments = p.moments[1:]
	}
}

// moves reports whether a statistic over a span changes with the time alone.
func (p *past) moves(now time.Time, span time.Duration) bool {
	return len(p.moments) > 0 && p.moments[len(p.moments)-1].at.After(now.Add(-span))
}

// statistic returns a statistic over the last span; the mean counts each value by how long it lasted.
func (p *past) statistic(of expr.Statistic, now time.Time, span time.Duration) thing.Value {
	if len(p.moments) == 0 {
		return thing.Value{}
	}
	begin := now.Add(-span)
	least, most, area, seconds := math.Inf(1), math.Inf(-1), 0.0, 0.0
	first, last := math.NaN(), 0.0
	for i, m := range p.moments {
		from, to := m.at, now
		if from.Before(begin) {
			from = begin
		}
		if i+1 < len(p.moments) {
			to = p.moments[i+1].at
		}
		if !to.After(begin) && to.Before(now) {
			continue
		}
		if math.IsNaN(first) {
			first = m.value
		}
		last = m.value
		least, most = min(least, m.value), max(most, m.value)
		if d := to.Sub(from).Seconds(); d > 0 {
			area, seconds = area+m.value*d, seconds+d
		}
	}
	switch {
	case of == expr.Least:
		return thing.Number(least)
	case of == expr.Most:
		return thing.Number(most)
	case of == expr.Change:
		return thing.Number(last - first)
	case seconds == 0:
		return thing.Number(last)
	default:
		return thing.Number(area / seconds)
	}
}

package hold

import (
	"strings"

	"amvek/core/thing"
)

// Source says where a value comes from that is followed as long as it is in effect: a day curve, or another value of the home. The
// zero Source is none: the value is what it is. In JSON it is "curve" for the day curve of a lamp's room, "curve:ID" for that one, and
// "=" with a formula.
type Source string

// OwnCurve is whatever day curve a lamp follows by the light of its room.
const OwnCurve Source = "curve"

const (
	curvePrefix      = "curve:"
	expressionPrefix = "="
)

// OfCurve is the source that is a day curve.
func OfCurve(id string) Source { return Source(curvePrefix + id) }

// OfExpression is the source that is a formula.
func OfExpression(text string) Source { return Source(expressionPrefix + text) }

// Curve returns the id of the day curve that is followed; it is false for another source, and for [OwnCurve].
func (s Source) Curve() (id string, is bool) { return strings.CutPrefix(string(s), curvePrefix) }

// Expression returns the formula that is followed; it is false for another source.
func (s Source) Expression() (text string, is bool) {
	return strings.CutPrefix(string(s), expressionPrefix)
}

// Source returns what the value in effect follows; the zero Source where it is literal.
func (s *Stack) Source() Source {
	if top := s.Top(); top != nil {
		return top.Source
	}
	return s.Base.Source
}

// Renew gives the value in effect anew, as what it follows has become.
func (s *Stack) Renew(v thing.Value) {
	if top := s.Top(); top != nil {
		top.Value = v
		return
	}
	s.Base.Value = v
}

package rule

import "time"

// Fact is something in a compiled condition that is true or false: a comparison, a group of others, that something has
// lasted. Facts count in the groups above them, so a change climbs only as far as it makes a difference.
type Fact struct {
	Truth bool
	kind  groupKind
	// Of a group: how many facts it is of, and how many of them are true.
	trues, of int32
	above     *Fact // the group in which it counts; nil for one that stands for itself
	// LastTrue is when it last ceased to be true.
	LastTrue time.Time
}

type groupKind uint8

const (
	noGroup groupKind = iota
	allOf
	anyOf
	noneOf
)

// Set makes a fact that is no group true or false at a moment. It reports whether one that stands for itself changed by
// that: a whole condition, or what must last.
func (f *Fact) Set(truth bool, now time.Time) bool {
	for f.Truth != truth {
		f.Truth = truth
		if !truth {
			f.LastTrue = now
		}
		if f.above == nil {
			return true
		}
		if f = f.above; truth {
			f.trues++
		} else {
			f.trues--
		}
		truth = f.holds()
	}
	return false
}

func (f *Fact) holds() bool {
	switch f.kind {
	case allOf:
		return f.trues == f.of && f.of > 0
	case anyOf:
		return f.trues > 0
	default:
		return f.trues == 0
	}
}

// newGroup makes a fact of others, which count in it from now on.
func newGroup(kind groupKind, members []*Fact) *Fact {
	f := &Fact{kind: kind, of: int32(len(members))}
	for _, m := range members {
		m.above = f
		if m.Truth {
			f.trues++
		}
	}
	f.Truth = f.holds()
	return f
}

// ReadAhead reads what comparing touches, and ReadAbove what a change of the fact does: whoever is about to do so with many reads all
// of them first, and throws away what they return.
func (t *Test) ReadAhead() int { return int(t.of) + len(t.Comparer.wanted.Text) + len(t.Path) }

// ReadAbove is described at [Test.ReadAhead].
func (f *Fact) ReadAbove() int {
	if f.above == nil {
		return 0
	}
	return int(f.above.trues)
}

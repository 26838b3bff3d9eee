// Package recap looks back: where hands correct what rules do, and what of a rule would have spared them that. It is given what
// happened and reads nothing itself.
package recap

import (
	"math"
	"slices"
	"time"

	"amvek/core/thing"
)

const (
	// Within is how soon after a rule set a property a hand corrects it, rather than wanting something else by then.
	Within = 15 * time.Minute
	// Significance is the level of the test: how likely at most chance would do as much, that it counts.
	Significance = 0.05
	// byChance is how often a hand without a wish would set a property in one of two directions: it is as likely to raise
	// it, to lower it and to leave it.
	byChance = 1.0 / 3
)

// Set is that a property was set to a number, or to yes or no, at a time.
type Set struct {
	At    time.Time
	Value thing.Value
}

// Correction is that hands set a property after a rule had set it.
type Correction struct {
	// Acts is how often the rule set it, and Corrected after how many of these a hand set it lower, or higher.
	Acts      int
	Corrected int
	Lower     bool
	// From is what the rule set it to and To what the hands did, each the middle one of those acts.
	From thing.Value
	To   thing.Value
	// Chance is how likely it is that chance alone, in either direction, does as much.
	Chance float64
}

// Significant reports whether hands correct the rule more often than chance would.
func (c Correction) Significant() bool { return c.Corrected > 0 && c.Chance < Significance }

// Corrections looks at what hands did after a rule set a property, both in the order of time, over the time from which they are
// known. The direction in which hands corrected more often counts.
//
// It is a two-sided exact binomial test (W. J. Conover, Practical Nonparametric Statistics, 3rd ed., 1999, section 3.1): the
// acts that hands corrected in a direction, among all acts, against what hands would do by chance, which is a third, or as often
// as they set the property in that direction anyway in a time of the same length, if that is more.
func Corrections(acts, hands []Set, from, to time.Time) Correction {
	lower, higher := side{lower: true}, side{}
	inside, watched := 0, time.Duration(0)
	for i, act := range acts {
		end := act.At.Add(Within)
		if i+1 < len(acts) && acts[i+1].At.Before(end) {
			end = acts[i+1].At
		}
		watched += end.Sub(act.At)
		var last *Set
		for j := range hands {
			if hands[j].At.After(act.At) && !hands[j].At.After(end) {
				last = &hands[j]
				inside++
			}
		}
		switch {
		case last == nil:
		case last.Value.Number < act.Value.Number:
			lower.take(act, *last)
		case last.Value.Number > act.Value.Number:
			higher.take(act, *last)
		}
	}
	more := higher
	if len(lower.from) > len(higher.from) {
		more = lower
	}
	c := Correction{Acts: len(acts), Corrected: len(more.from), Lower: more.lower, Chance: 1}
	if c.Corrected == 0 {
		return c
	}
	c.From, c.To = middle(more.from), middle(more.to)
	chance := byChance
	if rest := to.Sub(from) - watched; rest > 0 {
		rate := float64(len(hands)-inside) / float64(rest) * float64(Within)
		chance = max(chance, (1-math.Exp(-rate))/2)
	}
	c.Chance = min(1, 2*atLeast(c.Corrected, c.Acts, chance))
	return c
}

// side are the acts that were corrected in one direction.
type side struct {
	lower    bool
	from, to []thing.Value
}

func (s *side) take(act, hand Set) {
	s.from, s.to = append(s.from, act.Value), append(s.to, hand.Value)
}

// middle is the median; of an even number of values the lower of the two in the middle, which is one that there was.
func middle(values []thing.Value) thing.Value {
	sorted := slices.SortedFunc(slices.Values(values), func(a, b thing.Value) int {
		switch {
		case a.Number < b.Number:
			return -1
		case a.Number > b.Number:
			return 1
		default:
			return 0
		}
	})
	return sorted[(len(sorted)-1)/2]
}

// atLeast is how likely at least k of n come about, each by itself with a chance between 0 and 1.
func atLeast(k, n int, chance float64) float64 {
	sum := 0.0
	for i := k; i <= n; i++ {
		ways, _ := math.Lgamma(float64(n + 1))
		in, _ := math.Lgamma(float64(i + 1))
		out, _ := math.Lgamma(float64(n - i + 1))
		sum += math.Exp(ways - in - out + float64(i)*math.Log(chance) + float64(n-i)*math.Log1p(-chance))
	}
	return sum
}

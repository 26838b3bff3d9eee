package sessions

import (
	"fmt"
	"maps"
	"strings"
	"sync"
	"time"
)

const (
	// freely is how many wrong ones are nobody's fault.
	freely = 3
	// slowest is the longest that somebody waits, and slowestHere that somebody does at the machine itself.
	slowest     = 15 * time.Minute
	slowestHere = 4 * time.Second
	// forgotten is after how long wrong ones do not count any more.
	forgotten = time.Hour
	// slowedAtMost bounds what is remembered.
	slowedAtMost = 10_000
)

// SlowedError is that somebody gave too many wrong ones and has to wait.
type SlowedError struct{ For time.Duration }

func (e *SlowedError) Error() string {
	return fmt.Sprintf("There were too many wrong ones. Try again in %s.", words(e.For))
}

func words(d time.Duration) string {
	if seconds := int((d + time.Second - 1) / time.Second); seconds < 100 {
		if seconds == 1 {
			return "a second"
		}
		return fmt.Sprintf("%d seconds", seconds)
	}
	return fmt.Sprintf("%d minutes", int((d+time.Minute-1)/time.Minute))
}

// slow remembers wrong passwords and codes, by whom they were for and from where they came.
type slow struct {
	now func() time.Time

	mu sync.Mutex
	of map[string]*wrongs
}

type wrongs struct {
	count int
	last  time.Time
}

// From is where a password or a code comes from.
type From struct {
	Address string
	// Here says that it is the machine itself.
	Here bool
}

// ByAddress is the account of what nobody can guess, such as picture codes and passkeys: wrong ones slow the address that they
// come from, so that nobody keeps others out by showing them.
const ByAddress = ""

// ways returns what somebody is slowed by. At the machine itself nobody is for what others got wrong.
func (f From) ways(account string) []string {
	switch {
	case f.Here:
		return []string{"here"}
	case account == ByAddress:
		return []string{"at " + f.Address}
	}
	return []string{"at " + f.Address, "as " + account}
}

// Slowed returns a [SlowedError] where somebody has to wait before a password or a code is looked at.
func (s *Sessions) Slowed(account string, from From) error {
	s.slow.mu.Lock()
	defer s.slow.mu.Unlock()
	now := s.slow.now()
	var wait time.Duration
	for _, way := range from.ways(account) {
		of := s.slow.of[way]
		if of == nil || of.count < freely {
			continue
		}
		most := slowest
		if from.Here {
			most = slowestHere
		}
		passed := now.Sub(of.last)
		if passed < 0 || passed > forgotten {
			continue // the clock was set, or it is long ago
		}
		wait = max(wait, min(most, time.Second<<min(of.count-freely, 20))-passed)
	}
	if wait > 0 {
		return &SlowedError{wait}
	}
	return nil
}

// Wrong says that somebody gave a wrong one, and returns how many there were in a row.
func (s *Sessions) Wrong(account string, from From) (count int) {
	s.slow.mu.Lock()
	defer s.slow.mu.Unlock()
	now := s.slow.now()
	if s.slow.of == nil {
		s.slow.of = map[string]*wrongs{}
	}
	if len(s.slow.of) >= slowedAtMost {
		maps.DeleteFunc(s.slow.of, func(way string, _ *wrongs) bool { return strings.HasPrefix(way, "at ") })
	}
	for _, way := range from.ways(account) {
		of := s.slow.of[way]
		if of == nil || now.Sub(of.last) > forgotten {
			of = &wrongs{}
			s.slow.of[way] = of
		}
		of.count++
		of.last = now
		count = max(count, of.count)
	}
	return count
}

// WasRight says that somebody gave the right one: what was wrong before does not count any more.
func (s *Sessions) WasRight(account string, from From) {
	s.slow.mu.Lock()
	defer s.slow.mu.Unlock()
	for _, way := range from.ways(account) {
		delete(s.slow.of, way)
	}
}

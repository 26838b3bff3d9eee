package house

import (
	"math/rand/v2"
	"time"
)

// move is one thing the person does of their own accord.
type move struct {
	at   time.Time
	to   string
	door int // 0 leave it, 1 open, 2 shut
}

// NextMove returns when the person next does something of their own accord.
func (h *House) NextMove(now time.Time) (time.Time, bool) {
	h.mu.Lock()
	defer h.mu.Unlock()
	if !h.state.Living {
		return time.Time{}, false
	}
	h.planDay(now)
	if len(h.plan) == 0 {
		return time.Time{}, false
	}
	return h.plan[0].at, true
}

// LiveOn does what is due by the person's daily pattern.
func (h *House) LiveOn(now time.Time) {
	for {
		h.mu.Lock()
		due := h.state.Living && len(h.plan) > 0 && !h.plan[0].at.After(now)
		var m move
		if due {
			m = h.plan[0]
			h.plan = h.plan[1:]
		}
		h.mu.Unlock()
		if !due {
			return
		}
		if m.door != 0 {
			if err := h.SetOpening("Hall door", m.door == 1); err != nil {
				return
			}
			continue
		}
		if err := h.Walk(m.to); err != nil {
			return
		}
	}
}

// planDay makes the moves of today, or of tomorrow once today's are done: the day's pattern
// with chance in it, the same for the same date.
func (h *House) planDay(now time.Time) {
	for ahead := 0; len(h.plan) == 0 && ahead < 3; ahead++ {
		local := now.In(h.zone).AddDate(0, 0, ahead)
		midnight := time.Date(local.Year(), local.Month(), local.Day(), 0, 0, 0, 0, h.zone)
		chance := rand.New(rand.NewPCG(uint64(midnight.Unix()), 11))
		at := func(hour, minute, spread int) time.Time {
			return midnight.Add(time.Duration(hour)*time.Hour + time.Duration(minute)*time.Minute + time.Duration(chance.IntN(spread*60))*time.Second)
		}
		through := func(start time.Time, rooms ...string) {
			for _, r := range rooms {
				h.plan = append(h.plan, move{at: start, to: r})
				start = start.Add(time.Duration(8+chance.IntN(20)) * time.Second)
			}
		}
		door := func(start time.Time, to string) {
			h.plan = append(h.plan, move{at: start, door: 1}, move{at: start.Add(3 * time.Second), to: to}, move{at: start.Add(9 * time.Second), door: 2})
		}
		up := at(6, 45, 30)
		through(up, "Landing", "Hall", "Galley")
		if local.Weekday() != time.Saturday && local.Weekday() != time.Sunday {
			leave := at(8, 20, 25)
			through(leave, "Hall")
			door(leave.Add(40*time.Second), Out)
			home := at(17, 10, 50)
			door(home, "Hall")
			through(home.Add(time.Minute), "Galley")
		} else {
			through(at(10, 0, 60), "Hall", "Landing", "Hall", "Galley")
			through(at(14, 30, 90), "Hall", "Landing")
			through(at(16, 0, 30), "Hall", "Galley")
		}
		through(at(19, 40, 40), "Hall", "Landing", "Hall", "Galley")
		through(at(22, 20, 40), "Hall", "Landing")
		through(at(23, 10, 20), Out) // asleep beyond the Landing, where nothing looks
		i := 0
		for _, m := range h.plan {
			if m.at.After(now) {
				h.plan[i] = m
				i++
			}
		}
		h.plan = h.plan[:i]
	}
}

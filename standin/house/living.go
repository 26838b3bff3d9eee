package house

import (
	"math/rand/v2"
	"slices"
	"time"
)

// People are those who live in the house, by first names that stand for nobody.
var People = []string{"Nell", "Tove", "Ivo", "Runa"}

// move is one thing somebody does of their own accord: they go to a room, or open or shut something.
type move struct {
	at      time.Time
	who, to string
	opening string
	open    bool
}

// NextMove returns when somebody next does something of their own accord.
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

// LiveOn does what is due by everybody's daily pattern.
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
		if m.opening != "" {
			if err := h.SetOpening(m.opening, m.open); err != nil {
				return
			}
			continue
		}
		if err := h.Walk(m.who, m.to); err != nil {
			return
		}
		if m.to == plateRoom && h.Light(m.to, m.at) < darkEnough {
			for _, f := range h.reached {
				f(m.to)
			}
		}
	}
}

// plateRoom is where people switch the light themselves; darkEnough is the light, in lux, below which they do.
const (
	plateRoom  = "Galley"
	darkEnough = 12
)

// planDay makes the moves of today, or of the next day once today's are done: each one's pattern with chance in it,
// the same for the same date.
func (h *House) planDay(now time.Time) {
	for ahead := 0; len(h.plan) == 0 && ahead < 3; ahead++ {
		local := now.In(h.zone).AddDate(0, 0, ahead)
		for i, who := range People {
			d := newDay(local, h.zone, who, uint64(i))
			patterns[who](d)
			h.plan = append(h.plan, d.moves...)
		}
		h.plan = slices.DeleteFunc(h.plan, func(m move) bool { return !m.at.After(now) })
		slices.SortStableFunc(h.plan, func(a, b move) int { return a.at.Compare(b.at) })
	}
}

// day is one person's day in the making.
type day struct {
	who      string
	midnight time.Time
	chance   *rand.Rand
	weekend  bool
	moves    []move
}

func newDay(local time.Time, zone *time.Location, who string, seed uint64) *day {
	midnight := time.Date(local.Year(), local.Month(), local.Day(), 0, 0, 0, 0, zone)
	weekend := local.Weekday() == time.Saturday || local.Weekday() == time.Sunday
	return &day{who: who, midnight: midnight, chance: rand.New(rand.NewPCG(uint64(midnight.Unix()), 11+seed)), weekend: weekend}
}

// at returns a moment within so many minutes after an hour.
func (d *day) at(hour, minute, spread int) time.Time {
	return d.midnight.Add(time.Duration(hour)*time.Hour + time.Duration(minute)*time.Minute + time.Duration(d.chance.IntN(spread*60))*time.Second)
}

// through goes from room to room, and stays in the last.
func (d *day) through(start time.Time, rooms ...string) {
	for _, room := range rooms {
		d.moves = append(d.moves, move{at: start, who: d.who, to: room})
		start = start.Add(time.Duration(8+d.chance.IntN(20)) * time.Second)
	}
}

// door goes through a door and shuts it, after a while in which it stands open.
func (d *day) door(start time.Time, name, to string, openFor time.Duration) {
	d.moves = append(
		d.moves,
		move{at: start, opening: name, open: true},
		move{at: start.Add(3 * time.Second), who: d.who, to: to},
		move{at: start.Add(openFor), opening: name},
	)
}

const doorShuts = 9 * time.Second

// patterns are how each one's days go.
var patterns = map[string]func(*day){
	"Nell": func(d *day) { // works elsewhere on weekdays
		d.through(d.at(6, 45, 30), "Landing", "Hall", "Galley")
		if !d.weekend {
			leave := d.at(8, 20, 25)
			d.through(leave, "Hall")
			d.door(leave.Add(40*time.Second), "Hall door", Out, doorShuts)
			home := d.at(17, 10, 50)
			d.door(home, "Hall door", "Hall", doorShuts)
			d.through(home.Add(time.Minute), "Galley")
		} else {
			d.through(d.at(10, 0, 60), "Hall", "Landing", "Hall", "Galley")
			d.through(d.at(14, 30, 90), "Hall", "Landing")
			d.through(d.at(16, 0, 30), "Hall", "Galley")
		}
		d.through(d.at(19, 40, 40), "Hall", "Landing", "Hall", "Galley")
		d.through(d.at(22, 20, 40), "Hall", "Landing")
		d.through(d.at(23, 10, 20), Out) // asleep beyond the Landing, where nothing looks
	},
	"Tove": func(d *day) { // at home, mostly in the Mill room
		d.through(d.at(7, 20, 30), "West room", "Landing", "Hall", "Galley")
		d.through(d.at(8, 30, 40), "Mill room")
		d.through(d.at(12, 15, 30), "Galley")
		d.through(d.at(13, 10, 20), "Hall", "Mill room")
		d.through(d.at(18, 20, 30), "Galley")
		d.through(d.at(20, 30, 30), "Mill room")
		d.through(d.at(22, 50, 30), "Hall", "Landing", "West room")
	},
	"Ivo": func(d *day) { // the potter, who grows tomatoes
		d.through(d.at(6, 10, 20), "East room", "Landing", "Hall", "Galley")
		visit := d.at(7, 0, 30)
		d.door(visit, "Glasshouse door", "Glasshouse", time.Duration(1+d.chance.IntN(6))*time.Minute)
		d.through(visit.Add(12*time.Minute), "Hall", "Wheel room")
		d.through(d.at(12, 20, 20), "Galley")
		d.through(d.at(13, 0, 30), "Wheel room")
		if d.weekend {
			row := d.at(15, 0, 60)
			d.door(row, "Boat shed door", "Boat shed", 2*time.Minute)
			d.through(row.Add(40*time.Minute), "Yard")
		}
		evening := d.at(17, 30, 30)
		d.door(evening, "Glasshouse door", "Glasshouse", time.Duration(1+d.chance.IntN(6))*time.Minute)
		d.through(evening.Add(15*time.Minute), "Hall", "Galley")
		d.through(d.at(21, 40, 30), "Hall", "Landing", "East room")
	},
	"Runa": func(d *day) { // at school on weekdays, then up in the loft
		d.through(d.at(7, 15, 20), "East room", "Landing", "Hall", "Galley")
		if !d.weekend {
			d.door(d.at(8, 0, 10), "Hall door", Out, doorShuts)
			home := d.at(15, 40, 20)
			d.door(home, "Hall door", "Hall", doorShuts)
			d.through(home.Add(time.Minute), "Galley")
		}
		d.through(d.at(16, 30, 30), "Hall", "Landing", "Reading loft")
		d.through(d.at(18, 25, 20), "Landing", "Hall", "Galley")
		d.through(d.at(19, 30, 30), "Hall", "Landing", "Reading loft")
		d.through(d.at(21, 0, 30), "Landing", "East room")
	},
}

package trial

// Steady is how far the search is for the least level at which a lamp is steady: which level is to be looked at now, or what was found.
type Steady struct {
	Level float64 `json:"level" doc:"The level that the lamp is at, to be looked at, in percent; the one that was found once it is done."`
	Done  bool    `json:"done"`
	// Never says that it flickers at every level that was tried.
	Never bool `json:"never,omitempty" doc:"It flickers at every level that was tried: it is driven wrongly, or broken."`
	Step  int  `json:"step" doc:"Which look this is, from 1."`
	Steps int  `json:"steps" doc:"About how many there are."`
}

// From which level to which a lamp is looked at, in percent. A lamp that flickers at the highest is driven wrongly.
const (
	lowestLook  = 1
	highestLook = 40
	// looks is how many it takes at most: the lowest, six halvings of the rest, and the highest.
	looks = 8
)

// SearchSteady returns what is to be looked at next, by what was seen before, in order: whether the lamp flickered, or stayed dark. It
// halves what lies between the highest level at which it flickered and the lowest at which it was steady.
func SearchSteady(flickered []bool) Steady {
	s := Steady{Level: lowestLook, Steps: looks}
	flickers, steady := 0, highestLook+1 // as far as is known
	level := lowestLook
	for i, seen := range flickered {
		if s.Done {
			break
		}
		s.Step = i + 1
		if seen {
			flickers = level
		} else {
			steady = level
		}
		switch {
		case flickers >= highestLook:
			s.Done, s.Never = true, true
		case steady-flickers <= 1:
			s.Done, level = true, steady
		default:
			level = min((flickers+steady)/2, highestLook)
		}
		s.Level = float64(level)
	}
	if !s.Done {
		s.Step++
	}
	return s
}

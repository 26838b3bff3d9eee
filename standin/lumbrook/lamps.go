package lumbrook

import "fmt"

// lampTable lists the lamps: number, model, kind, the bridge's name for the room, the room of
// the house it hangs in, and the light it gives there at full level, in lux.
var lampTable = []struct {
	id                int
	model, word, kind string
	room, place       string
	lux               float64
}{
	{3, "SWX1", "On Off Unit", "switch", "Entrance", "Hall", 70},
	{4, "DMX9", "Warm Lamp", "dim", "Kitchen", "Galley", 240},
	{7, "TWX2", "Tuned Lamp", "tune", "Upper passage", "Landing", 60},
	{9, "CLX8", "Color Lamp", "tint", "Kitchen", "Galley", 90},
	{10, "CLX8", "Color Lamp", "tint", "Lounge", "Mill room", 80},
	{11, "CLX8", "Color Lamp", "tint", "Lounge", "Mill room", 80},
	{12, "TWX2", "Tuned Lamp", "tune", "Lounge", "Mill room", 140},
	{14, "TWX2", "Tuned Lamp", "tune", "Workshop", "Wheel room", 320},
	{15, "DMX9", "Warm Lamp", "dim", "Greenhouse", "Glasshouse", 110},
	{16, "SWX1", "On Off Unit", "switch", "Utility", "Wash house", 130},
	{18, "TWX2", "Tuned Lamp", "tune", "Bedroom 1", "East room", 120},
	{19, "DMX9", "Warm Lamp", "dim", "Bedroom 1", "East room", 40},
	{20, "TWX2", "Tuned Lamp", "tune", "Bedroom 2", "West room", 120},
	{21, "DMX9", "Warm Lamp", "dim", "Bedroom 2", "West room", 40},
	{22, "CLX8", "Color Lamp", "tint", "Attic", "Reading loft", 150},
	{24, "DMX9", "Warm Lamp", "dim", "Outside", "Yard", 25},
	{25, "DMX9", "Warm Lamp", "dim", "Outside", "Yard", 25},
	{27, "SWX1", "On Off Unit", "switch", "Outside", "Boat shed", 60},
}

func hardware(id int) string { return fmt.Sprintf("lb-00-5a-31-%02d", id) }

func millLamps() []*Lamp {
	lamps := make([]*Lamp, len(lampTable))
	for i, t := range lampTable {
		l := &Lamp{
			ID:       fmt.Sprint(t.id),
			Label:    fmt.Sprintf("Lumbrook %s %s %d", t.model, t.word, t.id),
			Kind:     t.kind,
			Hardware: hardware(t.id),
			Room:     t.room,
			Place:    t.place,
			Lux:      t.lux,
			Back:     "on",
			Firmware: map[string]string{"switch": "1.0.9", "dim": "1.4.2", "tune": "1.4.2", "tint": "1.6.0"}[t.kind],
		}
		if t.kind != "switch" {
			l.Steady = 4 + t.id%3*9 // no two batches of lamps are alike
		}
		switch t.kind {
		case "dim":
			l.Level, l.Output = 200, "trailing"
		case "tune":
			l.Level, l.Mired = 125, 370
		case "tint":
			l.Level, l.Mired, l.Self = 180, 370, "none"
		}
		lamps[i] = l
	}
	return lamps
}

func millPlates() []*Plate {
	return []*Plate{
		{
			ID:       "41",
			Label:    "Lumbrook PLX4 Four Way Plate 41",
			Kind:     "plate",
			Hardware: hardware(41),
			Room:     "Kitchen",
			Acts:     "bridge",
			Place:    "Galley",
			lamp:     "4",
		},
		{
			ID:       "42",
			Label:    "Lumbrook PLX4 Four Way Plate 42",
			Kind:     "plate",
			Hardware: hardware(42),
			Room:     "Upper passage",
			Acts:     "bridge",
			Place:    "Landing",
			lamp:     "7",
		},
		{
			ID:       "45",
			Label:    "Lumbrook RMX1 Dim Remote 45",
			Kind:     "remote",
			Hardware: hardware(45),
			Room:     "Lounge",
			Acts:     "bridge",
			Place:    "Mill room",
			lamp:     "12",
		},
	}
}

// groups are the bridge's own: lamps that its app switches together.
var groups = map[string]struct {
	Label string   `json:"label"`
	Lamps []string `json:"lamps"`
}{
	"1": {"Downstairs", []string{"3", "4", "9", "10", "11", "12"}},
	"2": {"Upstairs", []string{"7", "18", "19", "20", "21", "22"}},
	"3": {"Outdoors", []string{"24", "25", "27"}},
}

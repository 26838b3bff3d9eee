package panel

import (
	"strconv"

	"amvek/core/thing"
)

// The names of what a panel offers.
const (
	Lit        = "lit"
	Brightness = "brightness"
	Speech     = "speech"
	Near       = "near"
	Movement   = "movement"
	Noise      = "noise"
	Battery    = "battery"
	Charging   = "charging"
	Showing    = "showing"
	Version    = "version"
	WokenBy    = "wokenBy"

	DarkAfter     = "darkAfter"
	ReturnAfter   = "returnAfter"
	QuietFor      = "quietFor"
	SeesFrom      = "seesFrom"
	HearsFrom     = "hearsFrom"
	NightLevel    = "nightLevel"
	NightFrom     = "nightFrom"
	NightUntil    = "nightUntil"
	TakesPictures = "takesPictures"
	SpeaksAloud   = "speaksAloud"

	ShowMessage   = "message"
	ShowDashboard = "show"
	ShowCamera    = "camera"
	PlaySound     = "sound"
	TakePicture   = "picture"
	Reload        = "reload"

	View = "view"
)

// Model is what panels are called among models.
const Model = "panel"

// Keys is how many keys a panel has below its dashboards. It shows those that do something.
const Keys = 4

// keys returns the keys of a panel, side by side, which say that they go down and up.
func keys() []thing.Event {
	all := make([]thing.Event, Keys)
	for i := range all {
		n := strconv.Itoa(i + 1)
		all[i] = thing.Event{
			Name: "key" + n, Title: "Key " + n, Role: thing.RolePress, Options: []string{"down", "up"},
			Layout: &thing.Layout{Column: i, Sign: n},
		}
	}
	return all
}

func percent(name, title, help string) thing.Property {
	return thing.Property{Name: name, Title: title, Type: thing.TypeNumber, Unit: thing.UnitPercent, Maximum: 100, Resolution: 1, Help: help}
}

// set returns a setting of a panel.
func set(p thing.Property, wrong string) thing.Property {
	p.Writable, p.Setting = true, &thing.Setting{Wrong: wrong}
	return p
}

func number(name, title, help string, most float64) thing.Property {
	return thing.Property{Name: name, Title: title, Type: thing.TypeNumber, Maximum: most, Whole: true, Resolution: 1, Help: help}
}

// Description is what every panel offers.
func Description() thing.Description {
	brightness := percent(Brightness, "Brightness", "How bright its screen is; over the screen's own brightness lies a shade.")
	brightness.Writable, brightness.Minimum = true, 5
	return thing.Description{
		Properties: []thing.Property{
			{Name: Lit, Title: "Screen", Role: thing.RolePower, Type: thing.TypeBoolean, Words: []string{"off", "on"}, Writable: true},
			brightness,
			{Name: Speech, Title: "Says", Role: thing.RoleSpeech, Type: thing.TypeText, Writable: true, MaxLength: 500},
			{
				Name: Near, Title: "Somebody near", Role: thing.RoleMotion,
				Type: thing.TypeBoolean, Words: []string{"nobody", "somebody"}, Help: "What its camera sees moving.",
			},
			percent(Movement, "Movement", "How much of what its camera sees moves."),
			percent(Noise, "Noise", "How loud it is, by its microphone."),
			{Name: Battery, Title: "Battery", Role: thing.RoleBattery, Type: thing.TypeNumber, Unit: thing.UnitPercent, Maximum: 100, Resolution: 1},
			{Name: Charging, Title: "Charging", Type: thing.TypeBoolean, Words: []string{"no", "yes"}},
			{Name: Showing, Title: "Shows", Type: thing.TypeText, MaxLength: 120},
			{Name: WokenBy, Title: "Woken by", Type: thing.TypeOption, Options: []string{"touch", "somebody", "noise", "hub"}},
			{Name: Version, Title: "Version", Type: thing.TypeText, MaxLength: 60},
			set(number(DarkAfter, "Goes dark after", "In seconds without a touch; 0 is never.", 3600), "It goes dark while somebody reads it, or never."),
			set(number(ReturnAfter, "Returns to its dashboard after", "In seconds without a touch; 0 is never.", 3600), "It stays where somebody left it."),
			set(
				number(QuietFor, "Not woken again for", "In seconds after it fell dark, by what it sees or hears.", 600),
				"The last movement in the room lights it again at once.",
			),
			set(
				percent(SeesFrom, "Wakes at a movement of", "From so much of what its camera sees; 0 is never. Its meter shows how much that is now."),
				"It wakes at every shadow, or at nobody.",
			),
			set(
				percent(HearsFrom, "Wakes at a noise of", "From so loud; 0 is never. Its meter shows how loud it is now."),
				"It wakes at the hum of a refrigerator, or at nothing.",
			),
			set(percent(NightLevel, "Brightness at night", "0 leaves it as by day."), "It lights up the room at night."),
			set(number(NightFrom, "Night begins at", "The hour, from 0 to 23.", 23), "It is dim in the evening."),
			set(number(NightUntil, "Night ends at", "The hour, from 0 to 23.", 23), "It is bright before anybody is up."),
			set(thing.Property{
				Name: SpeaksAloud, Title: "Says messages aloud", Type: thing.TypeBoolean,
				Words: []string{"no", "yes"}, Help: "Questions and messages, where the tablet has a voice; not at night.",
			}, "It speaks while somebody listens to music, or is silent where nobody looks."),
			set(thing.Property{
				Name: TakesPictures, Title: "Takes pictures", Type: thing.TypeBoolean,
				Words: []string{"never", "on request"}, Help: "What its camera sees is shown to the owner alone. Rules can have it take one now and then.",
			}, "Who stands before it can be seen by the owner."),
		},
		Events: keys(),
		Actions: []thing.Action{
			{Name: ShowMessage, Title: "Show a message", Inputs: []thing.Input{
				{Property: thing.Property{Name: "text", Title: "Text", Type: thing.TypeText, MaxLength: 300, Writable: true}, Required: true},
				{Property: seconds()},
			}},
			{Name: ShowDashboard, Title: "Show a dashboard", Inputs: []thing.Input{
				{
					Property: thing.Property{Name: "dashboard", Title: "Name of the dashboard", Type: thing.TypeText, MaxLength: 120, Writable: true},
					Required: true,
				},
				{Property: seconds()},
			}},
			{Name: ShowCamera, Title: "Show a camera", Inputs: []thing.Input{
				{Property: thing.Property{Name: "camera", Title: "Name of the camera", Type: thing.TypeText, MaxLength: 120, Writable: true}, Required: true},
				{Property: seconds()},
			}},
			{Name: PlaySound, Title: "Play a sound", Inputs: []thing.Input{
				{
					Property: thing.Property{Name: "sound", Title: "Sound", Type: thing.TypeOption, Options: []string{"chime", "bell", "alarm"}, Writable: true},
					Required: true,
				},
			}},
			{Name: TakePicture, Title: "Take a picture"},
			{Name: Reload, Title: "Reload", Role: thing.RoleRestart},
		},
		Pictures: []thing.Picture{{Name: View, Title: "What it sees"}},
	}
}

func seconds() thing.Property {
	return thing.Property{
		Name: "seconds", Title: "For", Type: thing.TypeNumber, Minimum: 1,
		Maximum: 3600, Whole: true, Writable: true, Help: "In seconds; until it is touched where that is not said.",
	}
}

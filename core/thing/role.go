package thing

// Role says what a property or event means, whatever its maker calls it.
type Role string

// The roles known so far. A property without one of these is still shown and
// usable; a role adds words, a canonical unit and the fitting control.
const (
	RolePower            Role = "power"
	RoleBrightness       Role = "brightness"
	RoleColorTemperature Role = "colorTemperature"
	RoleColor            Role = "color"
	RoleMotion           Role = "motion"
	RoleIlluminance      Role = "illuminance"
	RoleContact          Role = "contact"
	RoleTemperature      Role = "temperature"
	RoleHumidity         Role = "humidity"
	RoleBattery          Role = "battery"
	RoleReception        Role = "reception"
	RoleAttention        Role = "attention"
	RoleMode             Role = "mode"
	RoleTurn             Role = "turn"
	RolePress            Role = "press"
	RoleLeak             Role = "leak"
	RoleLevel            Role = "level"
	RoleHandler          Role = "handler"
	RoleOption           Role = "option"
	RoleEffect           Role = "effect"     // what a lamp does by itself; its options are kinds of moving light, and off
	RoleLeastLevel       Role = "leastLevel" // below which a lamp is not driven while it is on
	RoleEnergyPower      Role = "electricPower"
	RoleEnergy           Role = "energy"
	RoleLock             Role = "lock"
	RoleSetpoint         Role = "setpoint"
	RoleVolume           Role = "volume"
	RoleMute             Role = "mute"
	RoleInput            Role = "input"
	RoleSignal           Role = "signal"
	RoleSpeed            Role = "speed"
	RoleIdentify         Role = "identify"
	RolePosition         Role = "position"
	RoleTilt             Role = "tilt"
	RoleStop             Role = "stop"
	RolePlay             Role = "play"
	RoleNext             Role = "next"
	RoleTrack            Role = "track"
	RoleRestart          Role = "restart"
	RoleSpeech           Role = "speech"
	RoleHeating          Role = "heating"
)

// RoleOwn is what a description says of a value with a meaning of its owner's own, by which nothing is guessed from its name.
// No property has it: it is none.
const RoleOwn Role = "own"

// RoleMeaning is what a role implies for every device that has it.
type RoleMeaning struct {
	// What is the plain word for it, used in names ("lamp", "temperature").
	What string
	// Unit is the canonical unit inside the hub.
	Unit Unit
	// Words are the words for false and true of a boolean property.
	Words [2]string
	// Resolution is the smallest difference that counts as a difference,
	// in the canonical unit, where the profile gives none.
	Resolution float64
}

// Unit is a canonical unit.
type Unit string

// The canonical units.
const (
	UnitNone         Unit = ""
	UnitPercent      Unit = "%"
	UnitKelvin       Unit = "K"
	UnitCelsius      Unit = "°C"
	UnitLux          Unit = "lx"
	UnitCentimeter   Unit = "cm"
	UnitWatt         Unit = "W"
	UnitKilowattHour Unit = "kWh"
)

// MeaningOf returns what a role implies; an unknown role implies nothing.
func MeaningOf(role Role) RoleMeaning {
	switch role {
	case RolePower:
		return RoleMeaning{What: "power", Words: [2]string{"off", "on"}}
	case RoleBrightness:
		return RoleMeaning{What: "brightness", Unit: UnitPercent, Resolution: 1}
	case RoleColorTemperature:
		return RoleMeaning{What: "color temperature", Unit: UnitKelvin, Resolution: 60}
	case RoleColor:
		return RoleMeaning{What: "color", Resolution: 0.01}
	case RoleMotion:
		return RoleMeaning{What: "motion", Words: [2]string{"clear", "moving"}}
	case RoleIlluminance:
		return RoleMeaning{What: "light", Unit: UnitLux, Resolution: 0.1}
	case RoleContact:
		return RoleMeaning{What: "contact", Words: [2]string{"shut", "open"}}
	case RoleTemperature:
		return RoleMeaning{What: "temperature", Unit: UnitCelsius, Resolution: 0.05}
	case RoleHumidity:
		return RoleMeaning{What: "humidity", Unit: UnitPercent, Resolution: 0.5}
	case RoleBattery:
		return RoleMeaning{What: "battery", Unit: UnitPercent, Resolution: 0.5}
	case RoleReception:
		return RoleMeaning{What: "radio signal", Unit: UnitPercent, Resolution: 0.5}
	case RoleTilt:
		return RoleMeaning{What: "slats", Unit: UnitPercent, Resolution: 1}
	case RoleMode:
		return RoleMeaning{What: "mode"}
	case RoleAttention:
		return RoleMeaning{What: "devices that need attention", Resolution: 1}
	case RoleTurn:
		return RoleMeaning{What: "turn"}
	case RolePress:
		return RoleMeaning{What: "press"}
	case RoleLeak:
		return RoleMeaning{What: "leak", Words: [2]string{"dry", "wet"}}
	case RoleLevel:
		return RoleMeaning{What: "level", Unit: UnitCentimeter, Resolution: 0.1}
	case RoleEnergyPower:
		return RoleMeaning{What: "electric power", Unit: UnitWatt, Resolution: 0.5}
	case RoleEnergy:
		return RoleMeaning{What: "energy", Unit: UnitKilowattHour, Resolution: 0.01}
	case RoleLock:
		return RoleMeaning{What: "lock", Words: [2]string{"unlocked", "locked"}}
	case RoleSetpoint:
		return RoleMeaning{What: "set temperature", Unit: UnitCelsius, Resolution: 0.1}
	case RoleVolume:
		return RoleMeaning{What: "volume", Unit: UnitPercent, Resolution: 1}
	case RoleMute:
		return RoleMeaning{What: "sound", Words: [2]string{"not muted", "muted"}}
	case RoleSpeech:
		return RoleMeaning{What: "announcement"}
	case RoleHeating:
		return RoleMeaning{What: "heating"}
	case RoleEffect:
		return RoleMeaning{What: "own effect"}
	case RoleLeastLevel:
		return RoleMeaning{What: "lowest level", Unit: UnitPercent, Resolution: 0.5}
	case RoleOption:
		return RoleMeaning{What: "option", Words: [2]string{"no", "yes"}}
	case RolePosition:
		return RoleMeaning{What: "shutter", Unit: UnitPercent, Resolution: 1}
	case RoleSpeed:
		return RoleMeaning{What: "speed", Unit: UnitPercent, Resolution: 1}
	case RoleSignal:
		return RoleMeaning{What: "signal", Unit: UnitPercent, Resolution: 1}
	default:
		return RoleMeaning{What: string(role)}
	}
}

// GestureWords says what was done to a button, by the gesture that its event carries; another text is returned as it is.
func GestureWords(gesture string) string {
	switch gesture {
	case "down":
		return "going down"
	case "up":
		return "going up"
	case "press":
		return "pressed"
	case "double":
		return "pressed twice"
	case "triple":
		return "pressed three times"
	case "hold":
		return "held"
	case "release":
		return "released"
	default:
		return gesture
	}
}

package cause

// Who is who does something.
type Who string

// Who there is. The zero value is nobody known.
const (
	Nobody   Who = ""
	Person   Who = "person"   // somebody at a page of the hub
	Panel    Who = "panel"    // somebody at a panel; its id is that of the panel's dashboard
	Program  Who = "program"  // another program; its id is the name of its key, empty where it has none
	Device   Who = "device"   // a hand at a device, or its maker's app
	Rule     Who = "rule"     // a rule; its id is the rule's
	Schedule Who = "schedule" // a schedule; its id is the schedule's
)

// Via is by which way something is done.
type Via string

// The ways.
const (
	ViaPage  Via = "page"  // a page of the hub in a browser
	ViaPanel Via = "panel" // a panel
	ViaAPI   Via = "api"   // the hub's interface for programs
	ViaThing Via = "thing" // the Thing interface (W3C Web of Things)
	ViaWire  Via = "wire"  // what a device says by itself
	ViaRun   Via = "run"   // the steps of a rule or a schedule
)

// By is who does something, and by which way. It is made where a request, a message or a run enters, of what the hub
// knows, and never of what whoever does it says of themselves.
type By struct {
	Who Who    `json:"who,omitempty" enum:",person,panel,program,device,rule,schedule"`
	ID  string `json:"id,omitempty"`
	Via Via    `json:"via,omitempty" enum:",page,panel,api,thing,wire,run"`
}

// Attends reports whether somebody is there who sees what happens: a person at a page or a panel, or at the device itself.
func (b By) Attends() bool { return b.Who == Person || b.Who == Panel || b.Who == Device }

// Hand names a write of theirs, as the base value of a property remembers it: by which way, and of a person who is known who.
func (b By) Hand() string {
	hand := "hand:" + string(b.Via)
	if b.Who == Person && b.ID != "" {
		hand += ":" + b.ID
	}
	return hand
}

package light

import (
	"fmt"
	"slices"
	"strings"

	"amvek/core/document"
)

// RoomLight is the light of a room, of a part of one, or of several, as one thing: its circuits, whoever made them, and its scenes in the
// order in which a key steps through them.
type RoomLight struct {
	Title string `json:"title" minLength:"1" maxLength:"120"`
	Note  string `json:"note,omitempty" maxLength:"2000"`
	// Rooms are the ids of the rooms whose lamps it has; Lamps are devices that it has besides, and Without those that it leaves out.
	Rooms   []string `json:"rooms" maxItems:"40" doc:"Ids of the rooms whose lamps it has."`
	Lamps   []string `json:"lamps,omitempty" maxItems:"200" doc:"Ids of devices that it has besides."`
	Without []string `json:"without,omitempty" maxItems:"200" doc:"Ids of devices of its rooms that it leaves out."`
	// Circuits say how a lamp takes part, by device; one that is not named does as is usual.
	Circuits map[string]Circuit `json:"circuits,omitempty" doc:"How a lamp takes part, by device; one that is not named does as is usual."`
	Scenes   []RoomScene        `json:"scenes" maxItems:"50" doc:"Its scenes, in their order."`
	// Curve is the day curve that its lamps follow once they are switched on.
	Curve string `json:"curve,omitempty" doc:"Id of the day curve that its lamps follow once they are switched on; absent for none."`
}

// Circuit is how a lamp takes part in the light of its room.
type Circuit struct {
	// JoinsAbove is from which level on a lamp joins that can only be switched, in percent; 0 is the usual one.
	JoinsAbove float64 `json:"joinsAbove,omitempty" minimum:"0" maximum:"100" doc:"From which level on a lamp joins that can only be switched, in percent; 50 where it is absent."`
	// OwnTone leaves its color and its white as they are, whatever the room's become.
	OwnTone bool `json:"ownTone,omitempty" doc:"It keeps its own color and white."`
	// Curve is the day curve that it follows instead of the room's; [NoCurve] for none.
	Curve string `json:"curve,omitempty" doc:"Id of the day curve that it follows instead of the room's, or none; absent for the room's."`
}

// NoCurve is what a circuit follows that follows no day curve, though its room does.
const NoCurve = "none"

// CurveOf returns the day curve that one of its lamps follows; "" for none.
func (r *RoomLight) CurveOf(device string) string {
	switch own := r.Circuits[device].Curve; own {
	case "":
		return r.Curve
	case NoCurve:
		return ""
	default:
		return own
	}
}

// RoomScene is a scene of a room's light.
type RoomScene struct {
	Scene string `json:"scene" doc:"Id of the scene."`
	Skip  bool   `json:"skip,omitempty" doc:"What steps through the scenes leaves it out."`
}

// UsualJoin is from which level on a lamp joins that can only be switched, where nothing else is said, in percent.
const UsualJoin = 50

// Joins returns from which level on a lamp joins that can only be switched, in percent.
func (c Circuit) Joins() float64 {
	if c.JoinsAbove > 0 {
		return c.JoinsAbove
	}
	return UsualJoin
}

// Stepped are the scenes that are stepped through, in their order.
func (r *RoomLight) Stepped() (ids []string) {
	for _, s := range r.Scenes {
		if !s.Skip {
			ids = append(ids, s.Scene)
		}
	}
	return ids
}

// Has reports whether a lamp of a room belongs to the light.
func (r *RoomLight) Has(device, room string) bool {
	if slices.Contains(r.Lamps, device) {
		return true
	}
	return room != "" && slices.Contains(r.Rooms, room) && !slices.Contains(r.Without, device)
}

// WellFormed returns what is wrong with a document whatever else there is.
func (r *RoomLight) WellFormed() error {
	if strings.TrimSpace(r.Title) == "" {
		return document.Wrong("title", "give the light a name")
	}
	for device, c := range r.Circuits {
		if !(c.JoinsAbove >= 0 && c.JoinsAbove <= 100) {
			return document.Wrong("circuits."+device, "a lamp joins from 0 to 100 %%")
		}
	}
	return nil
}

// RoomLookup is what the light of a room is checked against.
type RoomLookup interface {
	HasRoom(id string) bool
	HasLamp(device string) bool
	HasScene(id string) bool
	HasCurve(id string) bool
}

// Check returns an error naming the field that is wrong.
func (r *RoomLight) Check(lookup RoomLookup) error {
	if err := r.WellFormed(); err != nil {
		return err
	}
	if len(r.Rooms) == 0 && len(r.Lamps) == 0 {
		return document.Wrong("rooms", "choose a room, or lamps")
	}
	for i, id := range r.Rooms {
		if !lookup.HasRoom(id) {
			return document.Wrong(fmt.Sprintf("rooms[%d]", i), "there is no such room")
		}
		if slices.Contains(r.Rooms[:i], id) {
			return document.Wrong(fmt.Sprintf("rooms[%d]", i), "it is there twice")
		}
	}
	for i, id := range r.Lamps {
		if !lookup.HasLamp(id) {
			return document.Wrong(fmt.Sprintf("lamps[%d]", i), "there is no such lamp")
		}
	}
	if r.Curve != "" && !lookup.HasCurve(r.Curve) {
		return document.Wrong("curve", "there is no such day curve")
	}
	for device, c := range r.Circuits {
		if c.Curve != "" && c.Curve != NoCurve && !lookup.HasCurve(c.Curve) {
			return document.Wrong("circuits."+device, "there is no such day curve")
		}
	}
	for i, s := range r.Scenes {
		if !lookup.HasScene(s.Scene) {
			return document.Wrong(fmt.Sprintf("scenes[%d]", i), "there is no such scene")
		}
		if slices.ContainsFunc(r.Scenes[:i], func(x RoomScene) bool { return x.Scene == s.Scene }) {
			return document.Wrong(fmt.Sprintf("scenes[%d]", i), "it is there twice")
		}
	}
	return nil
}

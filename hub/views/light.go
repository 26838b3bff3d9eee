package views

import (
	"math"
	"time"

	"amvek/core/light"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// LightView is the light of a room as it is now.
type LightView struct {
	ID       string `json:"id"`
	Revision int    `json:"revision"`
	light.RoomLight
	Level float64 `json:"level" doc:"How bright it is: the level of its brightest lamp, in percent."`
	On    int     `json:"on" doc:"How many of its lamps are on."`
	// Swatch is its color: that of its brightest lamp.
	Swatch  string     `json:"swatch,omitempty" doc:"The color of its brightest lamp as #rrggbb; absent where all are off."`
	Members []LampView `json:"members"`
	// Scene is the one of its scenes that is in effect, exactly so where Differs is empty.
	Scene   string     `json:"scene,omitempty" doc:"Id of the one of its scenes that is in effect, or was and was changed since."`
	Since   time.Time  `json:"since,omitzero" doc:"When that was applied."`
	Differs []string   `json:"differs" doc:"Ids of the devices by which what is now is not that scene."`
	UsedBy  []docs.Use `json:"usedBy"`
}

// LampView is a lamp of a room's light.
type LampView struct {
	Device   string  `json:"device"`
	Property string  `json:"property" doc:"By which it is dimmed, or switched."`
	Does     string  `json:"does" enum:"switches,dims,white,color" doc:"What it can."`
	On       bool    `json:"on"`
	Level    float64 `json:"level" doc:"In percent; 100 for a lamp that only switches and is on."`
	Swatch   string  `json:"swatch,omitempty"`
	Kelvin   float64 `json:"kelvin,omitempty" doc:"The temperature of its white; absent where it has none, or shows a color."`
	Joins    float64 `json:"joins,omitempty" doc:"From which level of the room on it joins, in percent; of one that only switches."`
	OwnTone  bool    `json:"ownTone,omitempty" doc:"It keeps its own color and white."`
	// Curve is the day curve that it follows once it is switched on, and Follows the one that it follows now.
	Curve   string `json:"curve,omitempty" doc:"Id of the day curve that it follows once it is switched on."`
	Follows string `json:"follows,omitempty" doc:"Id of the day curve that it follows now, how bright it is or how white."`
}

// ShownTitle implements [show.Titled].
func (v LightView) ShownTitle() string { return v.Title }

// Light returns the light of a room that there is.
func (r *Reader) Light(id string) LightView {
	kept := r.Definitions.Lights[id]
	stands, _ := r.Engine.RoomLightView(id)
	v := LightView{
		ID: id, Revision: kept.Revision, RoomLight: *kept.Doc, Level: tenths(stands.Level), On: stands.On, Members: []LampView{},
		Scene: stands.Scene, Since: stands.Since, Differs: stands.Differs, UsedBy: r.Definitions.UsedBy(id),
	}
	if v.Differs == nil {
		v.Differs = []string{}
	}
	most := 0.0
	for _, device := range stands.Members {
		lamp := r.lamp(device, kept.Doc.Circuits[device])
		if lamp.Level > most {
			most, v.Swatch = lamp.Level, lamp.Swatch
		}
		v.Members = append(v.Members, lamp)
	}
	return v
}

// lamp returns a lamp as it is.
func (r *Reader) lamp(device string, circuit light.Circuit) LampView {
	d := r.Definitions.Device(device)
	lamp := LampView{Device: device, OwnTone: circuit.OwnTone}
	if d == nil {
		return lamp
	}
	lamp.Property, lamp.Does, lamp.Curve = d.Light(), "switches", r.Engine.CurveOf(device)
	p := r.Engine.Property(device, lamp.Property)
	if p == nil {
		return lamp
	}
	state, _ := r.Engine.PropertyState(thing.Ref{Device: device, Name: lamp.Property})
	lamp.Follows, _ = r.Engine.InCurve(thing.Ref{Device: device, Name: lamp.Property})
	one := light.Lamp{Device: device, Light: p, At: state.Reported}
	lamp.Level, lamp.On = tenths(one.Level()), one.Level() > 0
	if p.Type == thing.TypeNumber {
		lamp.Does = "dims"
	} else {
		lamp.Joins = circuit.Joins()
		lamp.Curve = "" // what only switches follows none
	}
	for i := range d.Description.Properties {
		q := &d.Description.Properties[i]
		if !q.Writable || q.Role != thing.RoleColor && q.Role != thing.RoleColorTemperature {
			continue
		}
		ref := thing.Ref{Device: device, Name: q.Name}
		at, _ := r.Engine.PropertyState(ref)
		if id, is := r.Engine.InCurve(ref); is && lamp.Follows == "" && !r.Engine.Aside(ref) && !r.levels(lamp.Curve) {
			lamp.Follows = id
		}
		switch {
		case q.Role == thing.RoleColor:
			lamp.Does = "color"
			if lamp.Swatch == "" {
				lamp.Swatch = Swatch(q, at.Reported)
			}
		case at.Reported.Kind == thing.KindNumber:
			lamp.Kelvin, lamp.Swatch = at.Reported.Number, Swatch(q, at.Reported)
			fallthrough
		default:
			if lamp.Does == "dims" {
				lamp.Does = "white"
			}
		}
	}
	if lamp.On && lamp.Swatch == "" {
		lamp.Swatch = light.Swatch(light.OfWhite(plainWhite))
	}
	return lamp
}

// levels reports whether a day curve says how bright lamps are: then one whose white alone follows does not follow it.
func (r *Reader) levels(curve string) bool {
	doc := r.Definitions.Curves[curve].Doc
	return doc != nil && doc.Says(light.LevelTrack)
}

// tenths is a level as it is shown.
func tenths(level float64) float64 { return math.Round(level*10) / 10 }

// plainWhite is what is shown of a lamp that says nothing of its white, in kelvin.
const plainWhite = 2700

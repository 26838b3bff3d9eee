package home

import (
	"slices"

	"amvek/core/document"
	"amvek/core/thing"
)

// Lighting is how the hub drives a lamp, where that is not as its maker says.
type Lighting struct {
	// LeastLevel is the least level at which the lamp neither flickers nor goes out, in percent of what its maker calls full: the hub's
	// 1 % is that, and what lies above is spread over the rest. At 0 the device's own levels are used.
	LeastLevel float64 `json:"leastLevel,omitempty" minimum:"0" maximum:"60" doc:"The least level at which it does not flicker, in percent; the hub's levels are spread over what lies above."`
	// Fades says who fades the lamp: itself, or the hub in small steps; where it is "", the lamp where its profile says that it can.
	Fades FadedBy `json:"fades,omitempty" enum:",device,hub" doc:"Who fades it; absent for the device where its profile says that it can, else the hub."`
	// White is the range of whites that it really shows.
	White *WhiteRange `json:"white,omitempty" doc:"The range of whites that it really shows; absent for what its maker says."`
}

// FadedBy is who fades a lamp.
type FadedBy string

// Who fades a lamp.
const (
	ByItself FadedBy = "device"
	ByHub    FadedBy = "hub"
)

// WhiteRange is a range of whites, in kelvin.
type WhiteRange struct {
	Warmest float64 `json:"warmest" minimum:"1000" maximum:"20000" doc:"In kelvin."`
	Coolest float64 `json:"coolest" minimum:"1000" maximum:"20000" doc:"In kelvin."`
}

// mostLeastLevel is the highest least level, in percent: a lamp that flickers there is driven wrongly or broken.
const mostLeastLevel = 60

// white is the property by which a lamp is told its white; nil where it has none.
func (d *Device) white() *thing.Property {
	for i := range d.Description.Properties {
		if p := &d.Description.Properties[i]; p.Role == thing.RoleColorTemperature && p.Writable && p.Type == thing.TypeNumber {
			return p
		}
	}
	return nil
}

// checkLighting returns what is wrong with how a lamp is driven.
func (d *Device) checkLighting() error {
	l := d.Lighting
	if l == nil {
		return nil
	}
	light := d.Description.Property(d.Light())
	dims := light != nil && light.Role == thing.RoleBrightness
	switch {
	case !dims:
		return document.Wrong("lighting", "it is no lamp that can be dimmed")
	case !(l.LeastLevel >= 0 && l.LeastLevel <= mostLeastLevel):
		return document.Wrong("lighting/leastLevel", "the least level is from 0 to %d %%", mostLeastLevel)
	case !slices.Contains([]FadedBy{"", ByItself, ByHub}, l.Fades):
		return document.Wrong("lighting/fades", "a lamp is faded by the device or by the hub")
	case l.White == nil:
		return nil
	}
	white := d.white()
	if white == nil {
		return document.Wrong("lighting/white", "it has no whites")
	}
	least, most := white.Declared()
	switch {
	case !(l.White.Warmest < l.White.Coolest):
		return document.Wrong("lighting/white", "the warmest white has fewer kelvins than the coolest")
	case l.White.Warmest < least || l.White.Coolest > most:
		return document.Wrong("lighting/white", "its maker says from %g to %g K", least, most)
	}
	return nil
}

// FitLighting fits the description of a lamp to how it is driven: its white ranges over what it really shows.
func (d *Device) FitLighting() {
	if d.white() == nil {
		return
	}
	d.Description.Properties = slices.Clone(d.Description.Properties)
	p := d.white()
	p.Minimum, p.Maximum = p.Declared()
	p.Full = nil
	if d.Lighting != nil && d.Lighting.White != nil {
		p.Full = &thing.NumberRange{Least: p.Minimum, Most: p.Maximum}
		p.Minimum, p.Maximum = d.Lighting.White.Warmest, d.Lighting.White.Coolest
	}
}

// FadedByHub reports whether the hub fades a property of the device, since the device does not, or the owner prefers so.
func (d *Device) FadedByHub(p *thing.Property) bool {
	switch p.Role {
	case thing.RoleBrightness, thing.RoleColorTemperature, thing.RoleColor:
	default:
		return false
	}
	if d.Lighting != nil && d.Lighting.Fades != "" {
		return d.Lighting.Fades == ByHub
	}
	light := d.Description.Property(d.Light())
	return light == nil || !light.Fades
}

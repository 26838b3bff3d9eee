package home

import (
	"slices"

	"amvek/core/thing"
)

// Light returns the name of the property by which a device's light is dimmed, or switched where it is said to feed a lamp; it
// is empty for what is no lamp.
func (d *Device) Light() string {
	power := ""
	for i := range d.Description.Properties {
		switch p := &d.Description.Properties[i]; {
		case !p.Writable:
		case p.Role == thing.RoleBrightness:
			return p.Name
		case p.Role == thing.RolePower && d.Lamp && power == "":
			power = p.Name
		}
	}
	return power
}

// InLight reports whether a property is of a device's light: how bright, or on, and in which color.
func (d *Device) InLight(p *thing.Property) bool {
	switch p.Role {
	case thing.RoleColor, thing.RoleColorTemperature:
		return d.Light() != ""
	default:
		return p.Name == d.Light()
	}
}

// InScene reports whether a scene may take the present value of a property that is of no light. It never takes a lock, what is
// attended only, what is said, and who handles a plate.
func (d *Device) InScene(p *thing.Property) bool {
	switch p.Role {
	case thing.RoleLock, thing.RoleSpeech, thing.RoleHandler, thing.RoleEffect:
		return false
	default:
		return p.Writable && p.Setting == nil && !d.AttendedOnly
	}
}

// Captured reports whether a scene may take more of a device than its light.
func (d *Device) Captured() bool {
	return slices.ContainsFunc(d.Description.Properties, func(p thing.Property) bool { return !d.InLight(&p) && d.InScene(&p) })
}

package home

import "amvek/core/thing"

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

package rule

import "amvek/core/thing"

// In a group, on and off go together with brightness: a lamp that only switches is on at any brightness above 0, and
// one that dims is switched on to full.

// Fit returns the value that a member of a group is set to where the step speaks of its relative.
func Fit(p *thing.Property, v thing.Value) thing.Value {
	switch {
	case p.Role == thing.RoleBrightness && v.Kind == thing.KindBoolean:
		if v.True() {
			return thing.Number(p.Maximum)
		}
		return thing.Number(p.Minimum)
	case p.Role == thing.RolePower && v.Kind == thing.KindNumber:
		return thing.Boolean(v.Number > 0)
	default:
		return v
	}
}

// fitComparison returns the comparison that means of a member what the condition says of its relative.
func fitComparison(p *thing.Property, c Comparison, v thing.Value) (Comparison, thing.Value) {
	if p == nil || p.Role != thing.RoleBrightness || v.Kind != thing.KindBoolean {
		return c, v
	}
	if v.True() == (c == Is) {
		return Above, thing.Number(0)
	}
	return Is, thing.Number(0)
}

// Relative is the role that stands in where a member of a group has no property of a role; "" where none does.
func Relative(role thing.Role) thing.Role {
	switch role {
	case thing.RolePower:
		return thing.RoleBrightness
	case thing.RoleBrightness:
		return thing.RolePower
	default:
		return ""
	}
}

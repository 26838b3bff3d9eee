package recap

import (
	"encoding/json"

	"amvek/core/rule"
	"amvek/core/thing"
)

// Spare returns a rule with the steps that set a property to a fixed value setting it to another instead. It reports false
// where there is no such step: the value comes from a scene, a formula, a group, or another property.
func Spare(doc *rule.Rule, of thing.Ref, from, to thing.Value) (spared *rule.Rule, there bool) {
	data, err := json.Marshal(doc)
	if err != nil {
		return nil, false
	}
	spared = new(rule.Rule)
	if json.Unmarshal(data, spared) != nil {
		return nil, false
	}
	for _, steps := range [][]rule.Step{spared.Do, spared.Afterwards} {
		rule.Walk("", steps, func(_ string, s *rule.Step) {
			if s.Device == of.Device && s.Property == of.Name && s.Value == from && s.To.IsNone() && !s.By {
				s.Value, there = to, true
			}
		})
	}
	return spared, there
}

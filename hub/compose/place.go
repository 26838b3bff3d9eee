package compose

import (
	"strings"

	"amvek/core/thing"
)

// PlaceOf returns that part of the topics, or of the addresses, in which another device of the kind would
// differ: what all begin with, or else the longest level of the topics that all of them have. Of a line it is host and port.
func PlaceOf(c Composed) string {
	if c.Way() == OverLine {
		return strings.TrimPrefix(c.Address, "tcp://")
	}
	whole, others := c.Topic, []string{}
	each := func(m *Sending) {
		switch {
		case m == nil:
		case c.Topic != "" && m.Topic != "":
			others = append(others, m.Topic)
		case c.Topic == "" && m.Address != "":
			others = append(others, m.Address)
		}
	}
	for i := range c.Fields {
		each(c.Fields[i].Read)
		each(c.Fields[i].Set)
	}
	for i := range c.Commands {
		each(&c.Commands[i].Send)
	}
	if c.Topic == "" {
		whole = c.Address
		if len(others) == 0 {
			return whole
		}
	}
	levels := strings.Split(whole, "/")
	shared := len(levels)
	for _, other := range others {
		n := 0
		for parts := strings.Split(other, "/"); n < shared && n < len(parts) && parts[n] == levels[n]; {
			n++
		}
		shared = n
	}
	switch {
	case c.Topic == "" && shared < 3: // not even the host
		return whole
	case shared > 0:
		return strings.Join(levels[:shared], "/")
	}
	return longestShared(levels, others)
}

// longestShared is the longest level of a topic that all others have too.
func longestShared(levels, others []string) string {
	longest := ""
	for _, level := range levels {
		everywhere := true
		for _, other := range others {
			everywhere = everywhere && strings.Contains("/"+other+"/", "/"+level+"/")
		}
		if everywhere && len(level) > len(longest) {
			longest = level
		}
	}
	return longest
}

// PlaceIn returns where a device of a profile is, if the profile is for such a topic or address.
func PlaceIn(profile *thing.Model, c Composed) (place string, fits bool) {
	for _, p := range profile.Description.Properties {
		form := profile.Form("properties/"+p.Name, thing.OpRead)
		if form == nil {
			continue
		}
		pattern, actual := form.Filter, c.Topic
		if c.Topic == "" {
			pattern, actual = strings.TrimPrefix(form.Href, "tcp://"), strings.TrimPrefix(c.Address, "tcp://")
			if (form.Scheme() == "tcp") != (c.Way() == OverLine) {
				return "", false
			}
		}
		before, after, open := strings.Cut(pattern, placeholder)
		switch {
		case pattern == "":
		case !open:
			return "", pattern == actual
		case len(actual) > len(before)+len(after) && strings.HasPrefix(actual, before) && strings.HasSuffix(actual, after):
			return actual[len(before) : len(actual)-len(after)], true
		default:
			return "", false
		}
	}
	return "", false
}

// Fitting is a profile that was made before and fits what is heard.
type Fitting struct {
	Model string `json:"model"`
	Title string `json:"title"`
}

// Fits reports whether a profile reads every one of its values out of what was heard there.
func Fits(profile *thing.Model, c Composed, fields []Field) bool {
	there, messages := map[string]bool{}, []string{}
	for _, f := range fields {
		there[f.Pointer] = true
		messages = append(messages, f.Message)
	}
	for _, p := range profile.Description.Properties {
		form := profile.Form("properties/"+p.Name, thing.OpRead)
		switch {
		case form == nil:
		case form.Reply != "":
			if !found(form.Reply, messages) {
				return false
			}
		case !there[profile.Natives[p.Name].Field]:
			return false
		}
	}
	_, placed := PlaceIn(profile, c)
	return placed && len(fields) > 0
}

package demo

import (
	"amvek/core/home"
	"amvek/core/link"
	"amvek/core/mirror"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// dialVariable says that the dial in the Mill room turns the extractor.
const dialVariable = "variable-dial"

// dial lets the dial in the Mill room dim two lamps of two makers, and turn the extractor once it was pressed; and
// keeps the switch of the East room and its lamp at the same state.
func (s *seeder) dial() error {
	if err := s.save(docs.KindVariable, dialVariable, &home.Variable{
		Title: "Dial turns the extractor", Type: thing.TypeBoolean, Initial: thing.Boolean(false),
	}); err != nil {
		return err
	}
	percent := &link.Range{To: 100}
	const notch = 2
	turned := link.Stage{Kind: link.Relative, Step: notch, High: 100}
	const pressed = `variable("` + dialVariable + `")`
	links := map[string]*link.Link{
		"link-dial": {
			Title: "Dial dims the Mill room", Enabled: true, Only: "!" + pressed,
			Note:    "Equal turns look equally large. The floor lamp hears five messages a second.",
			Sources: []link.Source{{Device: s.ids["Mill room dial"], Event: "turn"}},
			Stages: []link.Stage{
				turned, {Kind: link.Changes}, {Kind: link.Limit, PerSecond: 5}, {Kind: link.Map, In: percent, Out: percent, Curve: link.Eye},
				{Kind: link.ZeroOff, Below: 0},
			},
			Targets: []link.Driven{
				{Device: s.ids["Mill room left lamp"], Property: "brightness"}, {Device: s.ids["Mill room floor lamp"], Property: "brightness"},
			},
		},
		"link-extractor": {
			Title: "Dial turns the extractor", Enabled: true, Only: pressed,
			Sources: []link.Source{{Device: s.ids["Mill room dial"], Event: "turn"}},
			Stages:  []link.Stage{turned, {Kind: link.Changes}, {Kind: link.Limit, PerSecond: notch}},
			Targets: []link.Driven{{Device: s.ids["Extractor"], Property: "speed"}},
		},
	}
	for id, doc := range links {
		if err := s.save(docs.KindLink, id, doc); err != nil {
			return err
		}
	}
	return s.save(docs.KindMirror, "mirror-east", &mirror.Mirror{
		Title: "East room switch and lamp", Enabled: true, Note: "The small lamp in the switch shows what the bedside lamp does.",
		Members: []mirror.Member{
			{Device: s.ids["East bedside lamp"], Property: "brightness"}, {Device: s.ids["East room switch"], Property: "on"},
		},
	})
}

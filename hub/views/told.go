package views

import (
	"amvek/core/rule"
	"amvek/core/tell"
	"amvek/core/thing"
)

// Names gives the names of what definitions refer to, as they are now.
type Names struct{ reader *Reader }

// Names returns the names of this home.
func (r *Reader) Names() Names { return Names{r} }

// Title returns what a definition is or was called.
func (n Names) Title(id string) string { return n.reader.Kept.TitleOf(id) }

// Property returns a property of a device, nil where there is none.
func (n Names) Property(device, name string) *thing.Property {
	return n.reader.Engine.Property(device, name)
}

// Members returns the properties of a role that a group, or another set of devices, has.
func (n Names) Members(group, role string) []thing.Ref { return n.reader.Engine.Members(group, role) }

// Told returns a rule as lines.
func (r *Reader) Told(doc *rule.Rule) []tell.Line { return tell.Rule(doc, r.Names()) }

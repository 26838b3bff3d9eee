package home

import (
	"slices"
	"strings"

	"amvek/core/document"
	"amvek/core/thing"
)

// Variable is a named value of the household, used by several rules: set by hand or by rules, or computed by an
// expression. It is a property of the home itself, so it has a history and can be held, shown and set like any other.
type Variable struct {
	Title string     `json:"title" minLength:"1" maxLength:"80"`
	Note  string     `json:"note,omitempty" maxLength:"2000"`
	Type  thing.Type `json:"type" enum:"boolean,number,option,text"`
	// Minimum to Unit are of numbers, Options of a choice.
	Minimum float64  `json:"minimum,omitempty"`
	Maximum float64  `json:"maximum,omitempty"`
	Unit    string   `json:"unit,omitempty" maxLength:"12"`
	Options []string `json:"options,omitempty" maxItems:"50"`
	// Initial is its value until it is set.
	Initial thing.Value `json:"initial,omitzero" doc:"Its value until it is set."`
	// Expression is what it is computed by; then nobody sets it.
	Expression string `json:"expression,omitempty" maxLength:"2000" doc:"What it is computed by; then nobody sets it."`
}

// Check returns an error when the variable could not be used.
func (v *Variable) Check() error {
	switch {
	case strings.TrimSpace(v.Title) == "":
		return document.Wrong("title", "give the variable a name")
	case !slices.Contains([]thing.Type{thing.TypeBoolean, thing.TypeNumber, thing.TypeOption, thing.TypeText}, v.Type):
		return document.Wrong("type", "a variable is yes or no, a number, a choice or a text")
	case v.Type == thing.TypeNumber && v.Minimum > v.Maximum:
		return document.Wrong("maximum", "the greatest is less than the least")
	case v.Type == thing.TypeOption && len(v.Options) < 2:
		return document.Wrong("options", "a choice needs two at least")
	}
	for i, o := range v.Options {
		if strings.TrimSpace(o) == "" || slices.Contains(v.Options[:i], o) {
			return document.Wrong("options", "each has a name of its own")
		}
	}
	p := v.Property("")
	if !v.Initial.IsNone() {
		if err := p.Check(v.Initial); err != nil {
			return document.Wrong("initial", "%v", err)
		}
	}
	return nil
}

// Property returns the variable as a property of the home itself.
func (v *Variable) Property(name string) thing.Property {
	p := thing.Property{
		Name:     name,
		Title:    v.Title,
		Help:     v.Note,
		Type:     v.Type,
		Unit:     thing.Unit(v.Unit),
		Minimum:  v.Minimum,
		Maximum:  v.Maximum,
		Options:  slices.Clone(v.Options),
		Writable: v.Expression == "",
		Own:      true,
		Computed: v.Expression,
	}
	switch v.Type {
	case thing.TypeNumber:
		p.Resolution = 0.01
	case thing.TypeBoolean:
		p.Words = []string{"no", "yes"}
	}
	return p
}

// First returns the value that the variable has until it is set.
func (v *Variable) First() thing.Value {
	switch {
	case !v.Initial.IsNone():
		return v.Initial
	case v.Type == thing.TypeNumber:
		return thing.Number(min(max(0, v.Minimum), max(v.Maximum, v.Minimum)))
	case v.Type == thing.TypeBoolean:
		return thing.Boolean(false)
	case v.Type == thing.TypeOption:
		return thing.Text(v.Options[0])
	default:
		return thing.Text("")
	}
}

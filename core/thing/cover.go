package thing

import "fmt"

// Cover says that a property is the position of a shutter, which the hub computes: two outputs of the device
// drive its motor up and down and must never be on both.
type Cover struct {
	// Up and Down are the properties of the outputs.
	Up   string `json:"up"`
	Down string `json:"down"`
	// Reversed is a property that, when true, swaps the two; Draw one that reads the motor's power. Both may be missing.
	Reversed string `json:"reversed,omitempty"`
	Draw     string `json:"draw,omitempty"`
	// DeadSeconds is how long the motor rests between directions.
	DeadSeconds float64 `json:"deadSeconds,omitempty"`
}

// Only says that a property counts while another one of the device has a value, such as an operating kind.
type Only struct {
	Name  string `json:"name"`
	Value string `json:"value"`
}

// Setting marks a property that sets the device up, rather than being used from day to day.
type Setting struct {
	// Wrong is what goes wrong when it is chosen wrongly; Safety warns where it touches mains wiring.
	Wrong  string `json:"wrong" doc:"What goes wrong when it is chosen wrongly."`
	Safety string `json:"safety,omitempty" doc:"A warning where it touches mains wiring."`
	// Meanings say what each option is for, by option; "false" and "true" where it is yes or no.
	Meanings map[string]string `json:"meanings,omitempty"`
}

// checkCovers finds what cannot work in the covers and conditions of a model's properties.
func (r *modelReader) checkCovers(d *Description) {
	for i := range d.Properties {
		p := &d.Properties[i]
		path := "/properties/" + p.Name
		if only := p.Only; only != nil {
			if other := d.Property(only.Name); other == nil || other.Type != TypeOption || other.Check(Text(only.Value)) != nil {
				r.say(path+"/amvek:only", "It counts only while %s is %s, which never happens.", only.Name, only.Value)
			}
		}
		if p.Cover == nil {
			continue
		}
		if err := p.Cover.check(d); err != nil {
			r.say(path+"/amvek:cover", "The shutter cannot be driven: %s.", err)
		}
		if p.Type != TypeNumber || p.Minimum != 0 || p.Maximum != 100 || !p.Writable {
			r.say(path, "The position of a shutter is a number from 0 (shut) to 100 (open) that can be written.")
		}
	}
}

func (c *Cover) check(d *Description) error {
	for _, name := range []string{c.Up, c.Down} {
		if p := d.Property(name); p == nil || p.Type != TypeBoolean || !p.Writable {
			return fmt.Errorf("%q is no output that can be switched", name)
		}
	}
	if c.Up == c.Down {
		return fmt.Errorf("up and down are the same output")
	}
	if p := d.Property(c.Reversed); c.Reversed != "" && (p == nil || p.Type != TypeBoolean) {
		return fmt.Errorf("%q is no property that is yes or no", c.Reversed)
	}
	if p := d.Property(c.Draw); c.Draw != "" && (p == nil || p.Type != TypeNumber) {
		return fmt.Errorf("%q is no reading of power", c.Draw)
	}
	if c.DeadSeconds < 0 || c.DeadSeconds > 10 {
		return fmt.Errorf("a dead time is from 0 to 10 seconds")
	}
	return nil
}

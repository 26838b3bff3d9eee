package thing

import (
	"errors"
	"fmt"
	"math"
	"time"
)

// Without says that the hub works a reading out: what another one of the device reads, less what lamps that it sees give it.
type Without struct {
	// Of is the property that reads all of the light.
	Of string `json:"of" doc:"The property that reads all of the light."`
	// Lamps are what each lamp gives it at full light, in lux, by device.
	Lamps map[string]float64 `json:"lamps" doc:"What each lamp gives it at full light, in lux, by device."`
	// Learned is when that was learned, from how many Times that lamps were switched; Left is how far off it was in the median, in lux.
	Learned time.Time `json:"learned,omitzero" doc:"When that was learned."`
	Times   int       `json:"times,omitempty" doc:"From how many times that lamps were switched."`
	Left    float64   `json:"left,omitempty" doc:"How far off it was in the median, in lux."`
}

// lampsAtMost bounds the lamps that a sensor sees.
const lampsAtMost = 200

func (w *Without) check(d *Description) error {
	of := d.Property(w.Of)
	switch {
	case of == nil || of.Type != TypeNumber || of.Writable || of.Without != nil:
		return fmt.Errorf("%q is no reading of the device", w.Of)
	case len(w.Lamps) > lampsAtMost:
		return fmt.Errorf("a sensor sees up to %d lamps", lampsAtMost)
	}
	for _, lux := range w.Lamps {
		if !(lux >= 0) || math.IsInf(lux, 0) {
			return errors.New("a lamp gives 0 lx or more")
		}
	}
	return nil
}

// CheckWithout returns what is wrong with the readings that are worked out of others.
func (d *Description) CheckWithout() error {
	for i := range d.Properties {
		if w := d.Properties[i].Without; w != nil {
			if err := w.check(d); err != nil {
				return err
			}
		}
	}
	return nil
}

// WithoutLamps returns the reading of a device that is another one's without its lamps; nil where there is none.
func (d *Description) WithoutLamps(of string) *Property {
	for i := range d.Properties {
		if p := &d.Properties[i]; p.Without != nil && p.Without.Of == of {
			return p
		}
	}
	return nil
}

// WithoutSuffix is what the name of a reading without its lamps has besides the name of the other.
const WithoutSuffix = "WithoutLamps"

// TakeOff gives a device a reading that is another one's without its lamps, or says anew what they give; without lamps it has none.
func (d *Description) TakeOff(w *Without) error {
	at := -1
	for i := range d.Properties {
		if p := &d.Properties[i]; p.Without != nil && p.Without.Of == w.Of {
			at = i
		}
	}
	if len(w.Lamps) == 0 {
		if at >= 0 {
			d.Properties = append(d.Properties[:at:at], d.Properties[at+1:]...)
		}
		return nil
	}
	if err := w.check(d); err != nil {
		return err
	}
	if at < 0 {
		of := d.Property(w.Of)
		d.Properties = append(d.Properties[:len(d.Properties):len(d.Properties)], Property{
			Name: w.Of + WithoutSuffix, Title: of.Title + " without the lamps", Role: of.Role, Type: of.Type, Unit: of.Unit,
			Minimum: of.Minimum, Maximum: of.Maximum, Resolution: of.Resolution,
			Help: "What it reads, less the light of the lamps around it.",
		})
		at = len(d.Properties) - 1
	}
	d.Properties[at].Without = w
	return nil
}

// CarryOver gives a device that is described anew what the hub had worked out of its readings before, as far as those are still there.
func (d *Description) CarryOver(before *Description) {
	for i := range before.Properties {
		if p := &before.Properties[i]; p.Without != nil && d.Property(p.Name) == nil && p.Without.check(d) == nil {
			d.Properties = append(d.Properties, *p)
		}
	}
}

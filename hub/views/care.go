package views

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"amvek/core/battery"
	"amvek/core/home"
	"amvek/core/rhythm"
	"amvek/core/state"
	"amvek/core/thing"
)

const (
	// batteryLow and batterySoon are when a battery needs attention.
	batteryLow  = 10.0
	batterySoon = 14 * 24 * time.Hour
	// signalWeak is when a radio signal is.
	signalWeak = 25.0
)

// Urgency orders what needs attention; higher comes first.
type Urgency int

// The urgencies.
const (
	UrgencySoon Urgency = iota + 1 // something to buy or plan
	UrgencyNow                     // does not work now
)

// Attention is one thing about a device that somebody should do something about.
type Attention struct {
	Kind    string  `json:"kind" enum:"unreached,left,silent,failed,differs,battery,weak"`
	Urgency Urgency `json:"urgency" enum:"1,2"`
	Text    string  `json:"text" doc:"What is wrong."`
	Advice  string  `json:"advice" doc:"What to do."`
	// Property is the one that it is about, where it is about one.
	Property string `json:"property,omitempty"`
}

// Care is how a device is doing.
type Care struct {
	// Battery is what is left in percent; absent on mains power.
	Battery    *float64            `json:"battery,omitempty"`
	Projection *battery.Projection `json:"projection,omitempty" doc:"When the battery will be empty; absent while too little is known."`
	// Signal is how well its gateway hears it, in percent.
	Signal    *float64        `json:"signal,omitempty" doc:"How well its gateway hears it, in percent; absent where it does not say."`
	Firmware  string          `json:"firmware,omitempty"`
	AddedAt   time.Time       `json:"addedAt,omitzero" doc:"When it came into the home."`
	HeardAt   time.Time       `json:"heardAt,omitzero"`
	Rhythm    *rhythm.Learned `json:"rhythm,omitempty" doc:"How often it speaks by itself; absent for what speaks only when switched."`
	Attention []Attention     `json:"attention" doc:"The most urgent first."`
}

// care returns how a device is doing, with how often it speaks.
func (r *Reader) care(id string, d *home.Device) Care {
	c := r.Condition(id, d)
	c.AddedAt = r.Kept.AddedAt(id)
	c.Firmware = r.Links.Firmware(d)
	if known, learned, there := r.Engine.DeviceState(id); there {
		c.Rhythm = &learned
		if known.Rhythm.Heard.After(c.HeardAt) {
			c.HeardAt = known.Rhythm.Heard
		}
	}
	return c
}

// Condition returns what is said of a device and what is wrong with it. It is looked at after each of a device's words, and so
// leaves out what takes longer.
func (r *Reader) Condition(id string, d *home.Device) Care {
	c := Care{Attention: []Attention{}}
	for i := range d.Description.Properties {
		p := &d.Description.Properties[i]
		known, there := r.Engine.PropertyState(thing.Ref{Device: id, Name: p.Name})
		if !there {
			continue
		}
		if known.ReportedAt.After(c.HeardAt) {
			c.HeardAt = known.ReportedAt
		}
		if p.Role == thing.RoleBattery && known.Reported.Kind == thing.KindNumber {
			c.Battery = &known.Reported.Number
		}
		if p.Role == thing.RoleReception && known.Reported.Kind == thing.KindNumber {
			c.Signal = &known.Reported.Number
		}
		if p.Writable && known.Certainty == state.Failed && known.Target != known.Reported {
			c.Attention = append(
				c.Attention,
				Attention{
					"failed",
					UrgencyNow,
					fmt.Sprintf("%s is not %s: %s", p.Title, p.Say(known.Target), known.Failure),
					"Try it at the device itself, then from its page.",
					p.Name,
				},
			)
		}
		if d := known.Difference; d != nil {
			c.Attention = append(
				c.Attention,
				Attention{
					"differs",
					UrgencyNow,
					fmt.Sprintf("%s is at %s and should be %s.", p.Title, p.Say(d.Found), p.Say(d.Believed)),
					"Believe the device, or set it again.",
					p.Name,
				},
			)
		}
	}
	if p, known := r.Kept.Projected(id); known && c.Battery != nil {
		c.Projection = &p
	}
	r.alarms(id, d, &c)
	slices.SortStableFunc(c.Attention, func(a, b Attention) int { return cmp.Compare(b.Urgency, a.Urgency) })
	return c
}

// alarms adds what is wrong with reach, radio and battery.
func (r *Reader) alarms(id string, d *home.Device, c *Care) {
	empty := c.Battery != nil && *c.Battery <= 1
	switch unreached, reason := r.Links.Unreached(d); {
	case unreached:
		c.Attention = append(c.Attention, Attention{"unreached", UrgencyNow, reason, "See how its connection stands.", ""})
	case r.Links.LeftBy(d) != "":
		c.Attention = append(c.Attention, Attention{"left", UrgencyNow, r.Links.LeftBy(d), "Let it join again; or put another in its place, or remove it.", ""})
	case r.fellSilent(id) != "":
		advice := "Go and see whether it has power and is in reach."
		if empty {
			advice = "Put in a new battery: the last that it said was empty."
		}
		c.Attention = append(c.Attention, Attention{"silent", UrgencyNow, r.fellSilent(id), advice, ""})
	}
	if c.Signal != nil && *c.Signal < signalWeak {
		c.Attention = append(
			c.Attention,
			Attention{
				"weak",
				UrgencySoon,
				fmt.Sprintf("Its radio signal is weak: %.0f %%.", *c.Signal),
				"Move it or its gateway, or put a device on mains power of the same maker between them.",
				"",
			},
		)
	}
	if c.Battery == nil {
		return
	}
	now := r.Now()
	switch {
	case *c.Battery <= batteryLow:
		c.Attention = append(
			c.Attention,
			Attention{"battery", UrgencySoon, fmt.Sprintf("Its battery is at %g %%.", *c.Battery), "Have a new battery ready.", ""},
		)
	case c.Projection != nil && c.Projection.EmptyAt.Sub(now) < batterySoon:
		c.Attention = append(
			c.Attention,
			Attention{
				"battery",
				UrgencySoon,
				fmt.Sprintf("Its battery will be empty in about %s.", inWordsOf(c.Projection.EmptyAt.Sub(now))),
				"Have a new battery ready.",
				"",
			},
		)
	}
}

// fellSilent says in words that a device speaks no more though it speaks more often; it is empty while it does.
func (r *Reader) fellSilent(id string) string {
	if !r.Engine.FellSilent(id) {
		return ""
	}
	known, learned, _ := r.Engine.DeviceState(id)
	often := "usually speaks every "
	if learned.Kind == rhythm.Irregular {
		often = "never was silent for longer than "
	}
	return fmt.Sprintf(
		"Nothing was heard from it for %s; it %s%s.",
		inWordsOf(r.Now().Sub(known.Rhythm.Heard)),
		often,
		inWordsOf(time.Duration(learned.EverySeconds*float64(time.Second))),
	)
}

// inWordsOf says a duration as people do, by its greatest unit.
func inWordsOf(d time.Duration) string {
	for _, unit := range []struct {
		of   time.Duration
		from float64
		name string
	}{{24 * time.Hour, 2, "days"}, {time.Hour, 2, "h"}, {time.Minute, 2, "min"}} {
		if n := float64(d) / float64(unit.of); n >= unit.from {
			return fmt.Sprintf("%.0f %s", math.Round(n), unit.name)
		}
	}
	return fmt.Sprintf("%.0f s", d.Seconds())
}

// Urgency is that of the most urgent of what a device needs, 0 where it needs nothing.
func (c *Care) Urgency() Urgency {
	if len(c.Attention) == 0 {
		return 0
	}
	return c.Attention[0].Urgency
}

// CareSheet returns how devices are doing as rows, what needs attention first, below a row that names the columns.
func CareSheet(devices []DeviceHead, roomTitle func(id string) string) [][]string {
	slices.SortStableFunc(devices, func(a, b DeviceHead) int {
		return cmp.Or(cmp.Compare(b.Care.Urgency(), a.Care.Urgency()), strings.Compare(a.Title, b.Title))
	})
	sheet := [][]string{{"device", "room", "maker", "model", "battery", "empty", "heard", "rhythm seconds", "attention", "note", "signal", "firmware", "added"}}
	for i := range devices {
		d := &devices[i]
		var texts []string
		for _, a := range d.Care.Attention {
			texts = append(texts, a.Text)
		}
		often, empty := "", ""
		if r := d.Care.Rhythm; r != nil && r.Kind != rhythm.Unknown {
			often = fmt.Sprint(math.Round(r.EverySeconds))
		}
		if d.Care.Projection != nil {
			empty = moment(d.Care.Projection.EmptyAt)
		}
		sheet = append(sheet, []string{
			d.Title, roomTitle(d.Room), d.Maker, d.Model, percent(d.Care.Battery, false), empty, moment(d.Care.HeardAt), often, strings.Join(texts, " "), d.Note,
			percent(d.Care.Signal, true), d.Care.Firmware, moment(d.Care.AddedAt),
		})
	}
	return sheet
}

// moment is a time as a sheet has it (RFC 3339), empty where there is none.
func moment(t time.Time) string {
	if t.IsZero() {
		return ""
	}
	return t.UTC().Format(time.RFC3339)
}

// percent is a number as a sheet has it, empty where there is none.
func percent(v *float64, rounded bool) string {
	switch {
	case v == nil:
		return ""
	case rounded:
		return fmt.Sprint(math.Round(*v))
	default:
		return fmt.Sprint(*v)
	}
}

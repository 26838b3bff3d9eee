package hub

import (
	"cmp"
	"context"
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
	"amvek/hub/docs"
	"amvek/store"
)

const (
	// batteryHistory is how far back a battery's readings are looked at.
	batteryHistory = 120 * 24 * time.Hour
	// batteryLow and batterySoon are when a battery needs attention.
	batteryLow  = 10.0
	batterySoon = 14 * 24 * time.Hour
	// signalWeak is when a radio signal is.
	signalWeak = 15.0
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

// care returns how a device is doing, with how often it speaks. It runs in the loop.
func (h *Hub) care(id string, d *home.Device) Care {
	c := h.condition(id, d)
	c.AddedAt = h.added[id]
	if l := h.links[d.Connection]; l != nil {
		c.Firmware = l.announced[d.Hardware].Firmware
	}
	if known, learned, there := h.engine.DeviceState(id); there {
		c.Rhythm = &learned
		if known.Rhythm.Heard.After(c.HeardAt) {
			c.HeardAt = known.Rhythm.Heard
		}
	}
	return c
}

// condition returns what is said of a device and what is wrong with it. It runs in the loop, after each of its words, and so
// leaves out what takes longer.
func (h *Hub) condition(id string, d *home.Device) Care {
	c := Care{Attention: []Attention{}}
	for i := range d.Description.Properties {
		p := &d.Description.Properties[i]
		known, there := h.engine.PropertyState(thing.Ref{Device: id, Name: p.Name})
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
	if p, known := h.projections[id]; known && c.Battery != nil {
		c.Projection = &p
	}
	h.alarms(id, d, &c)
	slices.SortStableFunc(c.Attention, func(a, b Attention) int { return cmp.Compare(b.Urgency, a.Urgency) })
	return c
}

// alarms adds what is wrong with reach, radio and battery.
func (h *Hub) alarms(id string, d *home.Device, c *Care) {
	empty := c.Battery != nil && *c.Battery <= 1
	switch unreached, reason := h.unreached(d); {
	case unreached:
		c.Attention = append(c.Attention, Attention{"unreached", UrgencyNow, reason, "See how its connection stands.", ""})
	case h.leftBy(d) != "":
		c.Attention = append(c.Attention, Attention{"left", UrgencyNow, h.leftBy(d), "Let it join again; or put another in its place, or remove it.", ""})
	case h.fellSilent(id) != "":
		advice := "Go and see whether it has power and is in reach."
		if empty {
			advice = "Put in a new battery: the last that it said was empty."
		}
		c.Attention = append(c.Attention, Attention{"silent", UrgencyNow, h.fellSilent(id), advice, ""})
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
	now := h.clock.Now()
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
func (h *Hub) fellSilent(id string) string {
	if !h.engine.FellSilent(id) {
		return ""
	}
	known, learned, _ := h.engine.DeviceState(id)
	often := "usually speaks every "
	if learned.Kind == rhythm.Irregular {
		often = "never was silent for longer than "
	}
	return fmt.Sprintf(
		"Nothing was heard from it for %s; it %s%s.",
		inWordsOf(h.clock.Now().Sub(known.Rhythm.Heard)),
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

// projectBattery looks at a battery's history, outside the loop, and keeps when it will be empty.
func (h *Hub) projectBattery(device, property string) {
	h.workers.Go(func() {
		now := h.clock.Now()
		samples, err := h.store.Samples(h.context, device, property, now.Add(-batteryHistory), now.Add(time.Second))
		if err != nil {
			return // the hub is stopping, or the store says elsewhere what is wrong
		}
		readings := make([]battery.Reading, len(samples))
		for i, s := range samples {
			readings[i] = battery.Reading{At: s.At, Percent: s.Value}
		}
		projection, known := battery.Project(readings)
		h.inbox.push(item{job: func() {
			if known {
				h.projections[device] = projection
			} else {
				delete(h.projections, device)
			}
			h.attend(device)
			h.touch(docs.KindDevice, device)
		}})
	})
}

// projectBatteries does so for all devices, at a start.
func (h *Hub) projectBatteries() {
	for id, d := range h.definitions.Devices {
		for _, p := range d.Doc.Description.Properties {
			if p.Role == thing.RoleBattery {
				h.projectBattery(id, p.Name)
			}
		}
	}
}

// measured runs when a property's reading went into its history.
func (h *Hub) measured(ref thing.Ref, value thing.Value) {
	h.store.AddSample(ref.Device, ref.Name, store.Sample{At: h.clock.Now(), Value: value.Number})
	if p := h.engine.Property(ref.Device, ref.Name); p != nil && p.Role == thing.RoleBattery {
		h.projectBattery(ref.Device, ref.Name)
	}
}

// CareSheet returns how all devices are doing as comma-separated values (RFC 4180), what needs attention first.
func (h *Hub) CareSheet(ctx context.Context) ([][]string, error) {
	devices, err := h.Devices(ctx)
	if err != nil {
		return nil, err
	}
	devices = slices.DeleteFunc(devices, func(d DeviceView) bool { return d.Own })
	view, err := h.Home(ctx)
	if err != nil {
		return nil, err
	}
	rooms := map[string]string{}
	for _, r := range view.Rooms {
		rooms[r.ID] = r.Title
	}
	slices.SortStableFunc(devices, func(a, b DeviceView) int {
		return cmp.Or(cmp.Compare(b.Care.urgency(), a.Care.urgency()), strings.Compare(a.Title, b.Title))
	})
	moment := func(t time.Time) string {
		if t.IsZero() {
			return ""
		}
		return t.UTC().Format(time.RFC3339)
	}
	sheet := [][]string{{"device", "room", "maker", "model", "battery", "empty", "heard", "rhythm seconds", "attention", "note", "signal", "firmware", "added"}}
	for i := range devices {
		d := &devices[i]
		row := []string{d.Title, rooms[d.Room], d.Maker, d.Model, "", "", moment(d.Care.HeardAt), "", "", d.Note, "", d.Care.Firmware, moment(d.Care.AddedAt)}
		if d.Care.Battery != nil {
			row[4] = fmt.Sprint(*d.Care.Battery)
		}
		if d.Care.Projection != nil {
			row[5] = moment(d.Care.Projection.EmptyAt)
		}
		if r := d.Care.Rhythm; r != nil && r.Kind != rhythm.Unknown {
			row[7] = fmt.Sprint(math.Round(r.EverySeconds))
		}
		if d.Care.Signal != nil {
			row[10] = fmt.Sprint(math.Round(*d.Care.Signal))
		}
		var texts []string
		for _, a := range d.Care.Attention {
			texts = append(texts, a.Text)
		}
		row[8] = strings.Join(texts, " ")
		sheet = append(sheet, row)
	}
	return sheet, nil
}

func (c *Care) urgency() Urgency {
	if len(c.Attention) == 0 {
		return 0
	}
	return c.Attention[0].Urgency
}

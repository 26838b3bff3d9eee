package views

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/almanac"
	"amvek/core/battery"
	"amvek/core/cause"
	"amvek/core/check"
	"amvek/core/engine"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/core/thing"
	"amvek/hub/docs"
)

// at is when the home of these tests stands.
var at = time.Date(2026, 11, 28, 21, 30, 0, 0, time.UTC)

// kept and links stand for what the hub keeps and for its connections.
type kept struct {
	titles      map[string]string
	projections map[string]battery.Projection
	read        CalendarRead
}

func (k *kept) TitleOf(id string) string          { return k.titles[id] }
func (k *kept) Undone(string) []Undone            { return nil }
func (k *kept) AddedAt(string) time.Time          { return at.AddDate(0, -1, 0) }
func (k *kept) FindingsOf(string) []check.Finding { return nil }
func (k *kept) DraftOf(string) *DraftNote         { return nil }
func (k *kept) ReadOf(string) CalendarRead        { return k.read }
func (k *kept) Projected(device string) (battery.Projection, bool) {
	p, known := k.projections[device]
	return p, known
}

type links struct{ unreached, left string }

func (l *links) Unreached(*home.Device) (bool, string) { return l.unreached != "", l.unreached }
func (l *links) LeftBy(*home.Device) string            { return l.left }
func (l *links) Firmware(*home.Device) string          { return "4.1" }
func (l *links) ConnectionTitle(string) string         { return "" }

// sensor is the one device of these tests.
const sensor = "device-sensor"

func newHome(t *testing.T) (r *Reader, report func(name string, v float64), k *kept, l *links) {
	t.Helper()
	device := &home.Device{Title: "Larder sensor", Hardware: "s1", Description: thing.Description{Properties: []thing.Property{
		{Name: "battery", Title: "Battery", Role: thing.RoleBattery, Type: thing.TypeNumber, Unit: "%", Maximum: 100},
		{Name: "reception", Title: "Reception", Role: thing.RoleReception, Type: thing.TypeNumber, Unit: "%", Maximum: 100},
		{Name: "brightness", Title: "Brightness", Role: thing.RoleBrightness, Type: thing.TypeNumber, Unit: "%", Maximum: 100, Writable: true},
	}}}
	definitions := docs.NewSet()
	definitions.Put(docs.KindDevice, sensor, 3, device)
	e := engine.New(1, 1)
	e.Handle(at, engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: sensor, Thing: device})
	e.Handle(at, engine.Input{Kind: engine.InputStart})
	k, l = &kept{titles: map[string]string{sensor: device.Title}, projections: map[string]battery.Projection{}}, &links{}
	report = func(name string, v float64) {
		e.Handle(at, engine.Input{Kind: engine.InputReport, Device: sensor, Name: name, Value: thing.Number(v)})
	}
	return &Reader{Engine: e, Definitions: &definitions, Links: l, Kept: k, Now: func() time.Time { return at }}, report, k, l
}

// needs returns the kinds of what the sensor needs, the most urgent first.
func needs(r *Reader) (kinds []string) {
	for _, a := range r.Device(sensor).Care.Attention {
		kinds = append(kinds, a.Kind)
	}
	return kinds
}

func TestWhatADeviceNeeds(t *testing.T) {
	r, report, k, l := newHome(t)
	report("battery", batteryLow+1)
	report("reception", signalWeak)
	assert.Empty(t, needs(r), "just above its limits it needs nothing")

	report("battery", batteryLow)
	report("reception", signalWeak-1)
	assert.Equal(t, []string{"weak", "battery"}, needs(r))
	assert.Equal(t, UrgencySoon, r.Condition(sensor, r.Definitions.Device(sensor)).Attention[0].Urgency)

	l.left = "Its gateway Rosehip no longer lists it."
	assert.Equal(t, []string{"left", "weak", "battery"}, needs(r), "what does not work now comes first")
	l.unreached = "Its connection is paused."
	assert.Equal(t, []string{"unreached", "weak", "battery"}, needs(r), "what cannot be reached may still be listed")

	report("battery", 80)
	report("reception", 90)
	*l = links{}
	k.projections[sensor] = battery.Projection{EmptyAt: at.Add(batterySoon)}
	assert.Empty(t, needs(r))
	k.projections[sensor] = battery.Projection{EmptyAt: at.Add(batterySoon - time.Hour)}
	require.Equal(t, []string{"battery"}, needs(r))
	care := r.Device(sensor).Care
	assert.Equal(t, "Its battery will be empty in about 14 days.", care.Attention[0].Text)
	assert.Equal(t, UrgencySoon, care.Urgency())
	assert.Equal(t, "4.1", care.Firmware)
	assert.Equal(t, Urgency(0), (&Care{}).Urgency())
}

func TestWhoHoldsAPropertyIsToldInTheirOrder(t *testing.T) {
	r, report, k, _ := newHome(t)
	report("brightness", 10)
	e := r.Engine.(*engine.Engine)
	e.Handle(at, engine.Input{
		Kind: engine.InputKeep, Device: sensor, Name: "brightness", Value: thing.Number(40), Until: at.Add(time.Hour),
		Doer: cause.By{Who: cause.Person, Via: cause.ViaPage},
	})
	k.titles[sensor] = "Larder lamp"
	view := r.Device(sensor)
	require.Len(t, view.States, 3)
	brightness := view.States[2]
	require.Len(t, brightness.Holders, 2)
	assert.True(t, brightness.Holders[0].InEffect)
	assert.Equal(t, "hand", brightness.Holders[0].Kind)
	assert.Equal(t, "40 %", brightness.Holders[0].Text)
	assert.False(t, brightness.Holders[1].InEffect, "the base waits below")
	assert.Equal(t, 2, brightness.Place())
	assert.Empty(t, view.States[0].Holders, "nobody holds what cannot be set")
}

func TestACalendarShowsWhatIsNotOver(t *testing.T) {
	r, _, k, _ := newHome(t)
	r.Definitions.Put(docs.KindCalendar, "calendar-bins", 1, &home.Calendar{Title: "Bins"})
	for i := range nextEntries + 3 {
		start := at.Add(time.Duration(i-1) * time.Hour)
		k.read.Entries = append(k.read.Entries, entryOf(start))
	}
	next := r.Calendar("calendar-bins").Next
	require.Len(t, next, nextEntries)
	assert.Equal(t, at, next[0].Begin, "one that ends now is over")
}

func TestByHowMuchTheClockWasSetIsSaidShort(t *testing.T) {
	for seconds, want := range map[float64]string{
		3:               "forward by 3 s",
		-5400:           "back by 1 h 30 min",
		2*86400 + 3600:  "forward by 2 d 1 h",
		-(86400 * 1000): "back by 1000 d",
	} {
		assert.Equal(t, "The clock of this machine was set "+want, clockSet(seconds))
	}
}

func entryOf(start time.Time) almanac.Entry {
	return almanac.Entry{Begin: start, End: start.Add(time.Hour)}
}

func TestWhatASceneMakesOfLamps(t *testing.T) {
	r, _, _, _ := newHome(t)
	e := r.Engine.(*engine.Engine)
	put := func(id string, d *home.Device) {
		r.Definitions.Put(docs.KindDevice, id, 1, d)
		e.Handle(at, engine.Input{Kind: engine.InputDefine, Definition: engine.KindDevice, ID: id, Thing: d})
	}
	property := func(name string, role thing.Role, of thing.Type) thing.Property {
		return thing.Property{Name: name, Title: name, Role: role, Type: of, Maximum: 10000, Writable: true}
	}
	put("lamp", &home.Device{Title: "Lamp", Description: thing.Description{Properties: []thing.Property{
		property("level", thing.RoleBrightness, thing.TypeNumber), property("white", thing.RoleColorTemperature, thing.TypeNumber),
	}}})
	put("bulb", &home.Device{Title: "Bulb", Lamp: true, Description: thing.Description{Properties: []thing.Property{property("power", thing.RolePower, thing.TypeBoolean)}}})
	put("kiln", &home.Device{Title: "Kiln", Description: thing.Description{Properties: []thing.Property{property("power", thing.RolePower, thing.TypeBoolean)}}})
	r.Definitions.Put(docs.KindScene, "scene", 1, &light.Scene{Title: "Supper", Targets: []light.Target{
		{Device: "lamp", Property: "white", Value: thing.Number(2400)}, {Device: "kiln", Property: "power", Value: thing.Boolean(true)},
		{Device: "bulb", Property: "power", Value: thing.Boolean(true)}, {Device: "lamp", Property: "level", Value: thing.Number(40)},
		{Device: "gone", Property: "level", Value: thing.Number(40)},
	}})
	assert.Equal(t, []SceneLight{
		{Device: "lamp", On: true, Level: 40, Swatch: Swatch(e.Property("lamp", "white"), thing.Number(2400))},
		{Device: "bulb", On: true, Level: 100},
	}, r.Scene("scene").Lights)

	r.Definitions.Put(docs.KindScene, "dark", 1, &light.Scene{Title: "Dark", Targets: []light.Target{
		{Device: "bulb", Property: "power", Value: thing.Boolean(false)}, {Device: "lamp", Property: "level", Value: thing.Number(0)},
	}})
	assert.Equal(t, []SceneLight{{Device: "bulb"}, {Device: "lamp"}}, r.Scene("dark").Lights)
}

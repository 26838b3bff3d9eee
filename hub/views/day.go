package views

import (
	"time"

	"amvek/core/almanac"
	"amvek/core/cause"
)

// Mark is something on the day line.
type Mark struct {
	At   time.Time `json:"at"`
	Text string    `json:"text"`
	Tone string    `json:"tone" enum:"plain,hand,automation,fault,planned"`
	// Entry is the journal entry of what happened; Schedule the id of what is planned.
	Entry    cause.ID `json:"entry,omitempty"`
	Schedule string   `json:"schedule,omitempty"`
	Rule     string   `json:"rule,omitempty" doc:"Id of the rule that acted."`
	Person   string   `json:"person,omitempty" doc:"Id of the person who did it, whose color the mark has."`
}

// Stretch is a part of the day with one kind of light.
type Stretch struct {
	From  time.Time `json:"from"`
	To    time.Time `json:"to"`
	Light string    `json:"light" enum:"night,twilight,day"`
}

// Day is one day at the house.
type Day struct {
	From      time.Time     `json:"from"`
	To        time.Time     `json:"to"`
	Now       time.Time     `json:"now"`
	Rise      time.Time     `json:"rise,omitzero"`
	Set       time.Time     `json:"set,omitzero"`
	Polar     almanac.Polar `json:"polar,omitempty" enum:"day,night"`
	Stretches []Stretch     `json:"stretches"`
	Marks     []Mark        `json:"marks"`
}

// Light returns what of a day does not change with what happens in it.
func (d Day) Light() DayLight {
	return DayLight{From: d.From, To: d.To, Rise: d.Rise, Set: d.Set, Polar: d.Polar, Stretches: d.Stretches}
}

// MarkOf is the mark of an entry of the journal.
func MarkOf(e EntryView) Mark {
	m := Mark{At: e.At, Text: e.Text, Tone: e.Tone, Entry: e.ID, Rule: e.Rule}
	if e.By.Who == cause.Person {
		m.Person = e.By.ID
	}
	return m
}

// Today returns when the day that now belongs to begins and ends at the house.
func (r *Reader) Today() (from, to time.Time) {
	zone := r.Engine.Moment().Location()
	y, m, d := r.Now().In(zone).Date()
	return almanac.WallClock(y, m, d, 0, 0, zone), almanac.WallClock(y, m, d+1, 0, 0, zone)
}

// Day returns the light of today and what is planned; what happened is in the journal.
func (r *Reader) Day() Day {
	doc := r.Definitions.House()
	from, to := r.Today()
	now := r.Now().In(from.Location())
	day := Day{From: from, To: to, Now: now, Marks: []Mark{}}
	sun := almanac.Place{Latitude: doc.Latitude, Longitude: doc.Longitude}.On(now)
	day.Rise, day.Set, day.Polar = sun.Rise, sun.Set, sun.Polar
	day.Stretches = stretches(day.From, day.To, sun)
	for _, id := range r.Definitions.Schedules.IDs() {
		state, _, _ := r.Engine.ScheduleView(id)
		if !state.Next.IsZero() && state.Next.Before(day.To) {
			day.Marks = append(day.Marks, Mark{At: state.Next, Text: r.Title(id), Tone: "planned", Schedule: id})
		}
	}
	return day
}

func stretches(from, to time.Time, sun almanac.Sun) []Stretch {
	type edge struct {
		at   time.Time
		then string
	}
	light := "night"
	if sun.Polar == almanac.PolarDay {
		light = "day"
	}
	var list []Stretch
	for _, e := range []edge{{sun.Dawn, "twilight"}, {sun.Rise, "day"}, {sun.Set, "twilight"}, {sun.Dusk, "night"}} {
		if e.at.IsZero() {
			continue
		}
		at := e.at
		if at.Before(from) {
			at = from
		}
		if at.After(to) {
			at = to
		}
		if at.After(from) {
			list = append(list, Stretch{from, at, light})
		}
		from, light = at, e.then
	}
	return append(list, Stretch{from, to, light})
}

// DayLight is the light of a day.
type DayLight struct {
	From      time.Time     `json:"from"`
	To        time.Time     `json:"to"`
	Rise      time.Time     `json:"rise,omitzero"`
	Set       time.Time     `json:"set,omitzero"`
	Polar     almanac.Polar `json:"polar,omitempty" enum:"day,night"`
	Stretches []Stretch     `json:"stretches"`
}

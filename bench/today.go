package main

import (
	"context"
	"fmt"
	"net/url"
	"time"

	"amvek/core/cause"
	"amvek/core/home"
	"amvek/core/rule"
	"amvek/core/thing"
	"amvek/hub"
	"amvek/hub/docs"
	"amvek/store"
)

const (
	todayRooms    = 60
	todayLamps    = 4 // in each room
	todayRules    = 300
	todayRunsADay = 500
	todayDays     = 365
	todayRuns     = 9
)

// measureToday measures what Today asks for in a home of 60 rooms with a year's journal: what happened in the last two weeks, where
// hands correct rules, and the lines of all temperatures.
func measureToday(ctx context.Context) ([]figure, error) {
	devices := map[string]home.Device{}
	lines := url.Values{}
	for room := range todayRooms {
		for lamp := range todayLamps {
			id := lampOf(room*todayLamps + lamp)
			devices[id] = home.Device{Title: id, Connection: hub.GatewaysID, Hardware: id, Description: thing.Description{Properties: []thing.Property{
				{Name: "brightness", Title: "Brightness", Role: thing.RoleBrightness, Type: thing.TypeNumber, Maximum: 100, Resolution: 1, Writable: true},
			}}}
		}
		id := fmt.Sprintf("thermometer-%02d", room)
		devices[id] = home.Device{Title: id, Connection: hub.GatewaysID, Hardware: id, Description: thing.Description{Properties: []thing.Property{
			{Name: "temperature", Title: "Temperature", Role: thing.RoleTemperature, Type: thing.TypeNumber, Resolution: 0.1},
		}}}
		lines.Add("of", id+"~temperature")
	}
	made, err := newHouseWith(ctx, devices, func(string, []byte) {})
	if err != nil {
		return nil, err
	}
	defer made.close()
	rules := make([]hub.New, todayRules)
	for i := range rules {
		rules[i] = hub.New{Kind: docs.KindRule, ID: fmt.Sprintf("rule-%03d", i), Document: &rule.Rule{
			Title: fmt.Sprintf("Rule %03d", i), Enabled: true, When: []rule.Trigger{{Kind: rule.OnPhrase, Words: fmt.Sprintf("rule %d", i)}},
			Do: []rule.Step{{Kind: rule.StepSet, Device: lampOf(i % (todayRooms * todayLamps)), Property: "brightness", Value: thing.Number(60)}},
		}}
	}
	if _, err := made.hub.SaveAll(ctx, rules); err != nil {
		return nil, err
	}
	now := time.Now()
	entries, err := liveThrough(ctx, made.store, now)
	if err != nil {
		return nil, err
	}
	s, err := made.serve()
	if err != nil {
		return nil, err
	}
	defer s.close()
	since := "/api/since?from=" + url.QueryEscape(now.AddDate(0, 0, -14).Format(time.RFC3339))
	year := "/api/since?from=" + url.QueryEscape(now.AddDate(-1, 0, 0).Format(time.RFC3339))
	two, err := median(todayRuns, func() error { return s.get(ctx, since) })
	if err != nil {
		return nil, err
	}
	whole, err := median(todayRuns, func() error { return s.get(ctx, year) })
	if err != nil {
		return nil, err
	}
	warm, err := median(todayRuns, func() error { return s.get(ctx, "/api/lines?"+lines.Encode()) })
	return []figure{
		{Name: "today_ms", Value: two + warm, Unit: "ms"},
		{Name: "today_since_ms", Value: two, Unit: "ms"},
		{Name: "today_lines_ms", Value: warm, Unit: "ms"},
		{Name: "today_since_a_year_ms", Value: whole, Unit: "ms"},
		{Name: "today_entries", Value: float64(entries), Unit: "entries"},
	}, err
}

func lampOf(n int) string { return fmt.Sprintf("lamp-%03d", n) }

// liveThrough writes the journal of a year: rules that set lamps, of which every tenth is corrected by a hand; and the
// temperatures of the last day.
func liveThrough(ctx context.Context, kept *store.Store, now time.Time) (int, error) {
	id, _, err := kept.LastEntry(ctx)
	if err != nil {
		return 0, err
	}
	first := id
	add := func(e cause.Entry) cause.ID {
		id++
		e.ID = id
		kept.AddEntry(e)
		return id
	}
	for day := range todayDays {
		for run := range todayRunsADay {
			at := now.AddDate(0, 0, day-todayDays).Add(time.Duration(run) * 24 * time.Hour / todayRunsADay)
			n := (day*todayRunsADay + run) % todayRules
			lamp := lampOf(n % (todayRooms * todayLamps))
			report := add(cause.Entry{Kind: cause.Said, At: at, Note: "now"})
			ran := add(cause.Entry{Kind: cause.Ran, Parent: report, At: at, Rule: fmt.Sprintf("rule-%03d", n)})
			commanded := add(cause.Entry{Kind: cause.Commanded, Parent: ran, At: at, Device: lamp, Name: "brightness", Value: thing.Number(60)})
			add(cause.Entry{Kind: cause.Confirmed, Parent: commanded, At: at, Device: lamp, Name: "brightness", Value: thing.Number(60)})
			if run%10 == 0 {
				add(cause.Entry{Kind: cause.Written, At: at.Add(time.Minute), Device: lamp, Name: "brightness", Value: thing.Number(30)})
			}
		}
		if err := kept.Flush(ctx); err != nil {
			return 0, err
		}
	}
	for room := range todayRooms {
		for minute := 0; minute < 24*60; minute += 3 {
			at := now.Add(-time.Duration(minute) * time.Minute)
			kept.AddSample(fmt.Sprintf("thermometer-%02d", room), "temperature", store.Sample{At: at, Value: 19 + float64(minute%7)/10})
		}
	}
	return int(id - first), kept.Flush(ctx)
}

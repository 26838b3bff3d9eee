package hub

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"amvek/core/almanac"
	"amvek/core/check"
	"amvek/core/home"
	"amvek/core/light"
	"amvek/hub/docs"
	"amvek/hub/views"
)

// Devices returns all devices, by name.
func (h *Hub) Devices(ctx context.Context) ([]views.DeviceView, error) {
	return listed(ctx, h, docs.KindDevice, h.reader.Device, func(v *views.DeviceView) string { return v.Title + v.ID })
}

// listed returns the views of all definitions of a kind, by name.
func listed[T any](ctx context.Context, h *Hub, kind docs.Kind, view func(id string) T, title func(*T) string) ([]T, error) {
	views := []T{}
	err := h.do(ctx, func() {
		traits, _ := docs.Of(kind)
		for _, id := range traits.IDs(&h.definitions) {
			views = append(views, view(id))
		}
	})
	return byTitle(views, title), err
}

// Device returns one device.
func (h *Hub) Device(ctx context.Context, id string) (view views.DeviceView, err error) {
	err = Absent("There is no such device.")
	failed := h.do(ctx, func() {
		if h.definitions.Device(id) != nil {
			view, err = h.reader.Device(id), nil
		}
	})
	return view, errors.Join(failed, err)
}

// Scenes returns all scenes, by name.
func (h *Hub) Scenes(ctx context.Context) ([]views.SceneView, error) {
	return listed(ctx, h, docs.KindScene, h.reader.Scene, func(v *views.SceneView) string { return v.Title })
}

// Capture returns the present values of the lights of devices as a scene's targets, and of others what a scene may take.
func (h *Hub) Capture(ctx context.Context, devices, others []string) (targets []light.Target, err error) {
	targets = []light.Target{}
	err = h.do(ctx, func() {
		all := slices.Compact(slices.Sorted(slices.Values(slices.Concat(devices, others))))
		for _, t := range h.engine.Capture(all) {
			d, p := h.definitions.Device(t.Device), h.engine.Property(t.Device, t.Property)
			switch {
			case d == nil || p == nil:
			case d.InLight(p), slices.Contains(others, t.Device) && d.InScene(p):
				targets = append(targets, t)
			}
		}
	})
	return targets, err
}

// findingsOf returns what is found in a rule, worked out again only where that may have become different. It runs in the loop.
func (h *Hub) findingsOf(id string) []check.Finding {
	findings, known := h.findings[id]
	if doc := h.definitions.Rules[id].Doc; !known && doc != nil {
		findings = check.Rule(doc, h.engine)
		h.findings[id] = findings
	}
	return findings
}

// Rules returns all rules, by name.
func (h *Hub) Rules(ctx context.Context) ([]views.RuleView, error) {
	return listed(ctx, h, docs.KindRule, h.reader.Rule, func(v *views.RuleView) string { return v.Title })
}

// Schedules returns all schedules, by name.
func (h *Hub) Schedules(ctx context.Context) ([]views.ScheduleView, error) {
	return listed(ctx, h, docs.KindSchedule, h.reader.Schedule, func(v *views.ScheduleView) string { return v.Title })
}

// NextDates returns the next dates of a daily time that need not be saved.
func (h *Hub) NextDates(ctx context.Context, at almanac.Daily) (dates []time.Time, err error) {
	if err := at.Check(); err != nil {
		return nil, placed(err)
	}
	err = h.do(ctx, func() { dates = h.engine.Next(at, views.UpcomingDates) })
	return dates, err
}

// Home returns the house with its rooms in the owner's order.
func (h *Hub) Home(ctx context.Context) (view views.HomeView, err error) {
	err = h.do(ctx, func() { view = h.reader.Home() })
	return view, err
}

// byTitle returns views in the order of their titles, whatever their case; those of one title stay as they stand.
func byTitle[T any](views []T, title func(*T) string) []T {
	type place struct {
		title string
		at    int
	}
	order := make([]place, len(views))
	for i := range views {
		order[i] = place{strings.ToLower(title(&views[i])), i}
	}
	slices.SortFunc(order, func(a, b place) int { return cmp.Or(strings.Compare(a.title, b.title), cmp.Compare(a.at, b.at)) })
	sorted := make([]T, len(views))
	for i, p := range order {
		sorted[i] = views[p.at]
	}
	return sorted
}

// Sequences returns all sequences, by name.
func (h *Hub) Sequences(ctx context.Context) ([]views.SequenceView, error) {
	return listed(ctx, h, docs.KindSequence, h.reader.Sequence, func(v *views.SequenceView) string { return v.Title })
}

// Groups returns all groups, by name.
func (h *Hub) Groups(ctx context.Context) ([]views.GroupView, error) {
	return listed(ctx, h, docs.KindGroup, h.reader.Group, func(v *views.GroupView) string { return v.Title })
}

// Modes returns the household's modes.
func (h *Hub) Modes(ctx context.Context) (view views.ModesView, err error) {
	err = h.do(ctx, func() { view = h.reader.Modes() })
	return view, err
}

// Calendars returns all calendars, by name.
func (h *Hub) Calendars(ctx context.Context) ([]views.CalendarView, error) {
	return listed(ctx, h, docs.KindCalendar, h.reader.Calendar, func(v *views.CalendarView) string { return v.Title })
}

// CareSheet returns how all devices are doing as comma-separated values (RFC 4180), what needs attention first.
func (h *Hub) CareSheet(ctx context.Context) ([][]string, error) {
	var devices []views.DeviceHead
	var rooms map[string]*home.Room
	err := h.do(ctx, func() {
		for _, id := range h.definitions.Devices.IDs() {
			if id != docs.OwnID {
				devices = append(devices, h.reader.DeviceHead(id))
			}
		}
		rooms = h.definitions.Rooms.Documents()
	})
	return views.CareSheet(devices, func(id string) string {
		if room := rooms[id]; room != nil {
			return room.Title
		}
		return ""
	}), err
}

package hub

import (
	"maps"
	"slices"
	"time"

	"amvek/core/battery"
	"amvek/core/check"
	"amvek/core/home"
	"amvek/hub/docs"
	"amvek/hub/views"
)

// reached tells the reader how devices are reached. It is used in the loop.
type reached struct{ h *Hub }

// Unreached implements [views.Links].
func (r reached) Unreached(d *home.Device) (unreached bool, reason string) {
	l := r.h.links[d.Connection]
	switch {
	case d.Hardware == docs.OwnID && d.Connection == "":
		return false, ""
	case l == nil:
		return r.h.linked, "Its connection was removed."
	}
	return l.Unreached(d.Hardware)
}

// LeftBy implements [views.Links].
func (r reached) LeftBy(d *home.Device) string {
	if l := r.h.links[d.Connection]; l != nil {
		return l.LeftBy(d.Hardware)
	}
	return ""
}

// Firmware implements [views.Links].
func (r reached) Firmware(d *home.Device) string {
	if l := r.h.links[d.Connection]; l != nil {
		a, _ := l.Announced(d.Hardware)
		return a.Firmware
	}
	return ""
}

// ConnectionTitle implements [views.Links].
func (r reached) ConnectionTitle(id string) string {
	if l := r.h.links[id]; l != nil {
		return l.Definition.Title
	}
	return ""
}

// kept gives the reader what the hub keeps beside the definitions. It is used in the loop.
type kept struct{ *Hub }

// TitleOf implements [views.Kept].
func (k kept) TitleOf(id string) string { return k.titles[id] }

// Undone implements [views.Kept].
func (k kept) Undone(device string) []views.Undone {
	var all []views.Undone
	for _, name := range slices.Sorted(maps.Keys(k.undone[device])) {
		all = append(all, k.undone[device][name])
	}
	return all
}

// AddedAt implements [views.Kept].
func (k kept) AddedAt(device string) time.Time { return k.added[device] }

// Projected implements [views.Kept].
func (k kept) Projected(device string) (battery.Projection, bool) {
	projection, known := k.projections[device]
	return projection, known
}

// FindingsOf implements [views.Kept].
func (k kept) FindingsOf(rule string) []check.Finding { return k.findingsOf(rule) }

// DraftOf implements [views.Kept].
func (k kept) DraftOf(rule string) *views.DraftNote { return k.draftNote(rule) }

// ReadOf implements [views.Kept].
func (k kept) ReadOf(calendar string) views.CalendarRead {
	state := k.calendars[calendar]
	if state == nil {
		return views.CalendarRead{}
	}
	return views.CalendarRead{At: state.ReadAt, Failed: state.Failed, Skipped: state.Skipped, Entries: state.Entries}
}

// makeReader makes what views are computed on. The engine is given to it when there is one.
func (h *Hub) makeReader() {
	h.reader = &views.Reader{Definitions: &h.definitions, Links: reached{h}, Kept: kept{h}, Now: h.clock.Now}
}

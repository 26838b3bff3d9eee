package hub

import (
	"context"
	"time"

	"amvek/core/almanac"
	"amvek/core/light"
	"amvek/hub/views"
)

// CurveDay returns what a day curve says on a day, be it saved or not; of today where the day is "".
func (h *Hub) CurveDay(ctx context.Context, doc light.DayCurve, day string) (v views.CurveDay, err error) {
	if doc.Title == "" {
		doc.Title = "New" // what it is called makes no difference here
	}
	if err := doc.Check(); err != nil {
		return v, placed(err)
	}
	var house struct {
		zone  *time.Location
		place almanac.Place
		now   time.Time
	}
	failed := h.do(ctx, func() {
		home := h.definitions.House()
		house.zone, err = time.LoadLocation(home.Zone)
		house.place, house.now = almanac.Place{Latitude: home.Latitude, Longitude: home.Longitude}, h.clock.Now()
	})
	if failed != nil || err != nil {
		return v, failed
	}
	now := house.now.In(house.zone)
	on := now
	if day != "" {
		if on, err = time.ParseInLocation(time.DateOnly, day, house.zone); err != nil {
			return v, Invalid("day", "A day is written like 2026-06-21.")
		}
	}
	return views.CurveOn(&doc, on, now, house.place), nil
}
